using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Solids.Tests;

/// <summary>The demo's six parts stand, and flex by their main sizes.</summary>
public sealed class DemoTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private double Volume(Part part)
    {
        var result = rebuilder.Rebuild(part, withMesh: false);
        result.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty();
        return result.Bodies.Single().Mass.Volume;
    }

    private static Part With(Part part, string parameter, string value)
    {
        var next = new SetParameter(parameter, value).Apply(part);
        next.Refusal?.Message.ShouldBeNull();
        return next.Value;
    }

    [Fact]
    public void There_are_six_and_all_stand()
    {
        DemoParts.All.Count.ShouldBe(6);
        foreach (var (_, build) in DemoParts.All)
        {
            Volume(build()).ShouldBeGreaterThan(100);
        }
    }

    [Fact]
    public void The_spout_has_the_volume_worked_out_by_hand_whatever_its_sizes()
    {
        Volume(Spout.Build()).ShouldBe(Spout.VolumeByHand(), Spout.VolumeByHand() * 1e-6);
        Volume(With(Spout.Build(), "aside", "25 mm")).ShouldBe(Spout.VolumeByHand(), Spout.VolumeByHand() * 1e-6);
        Volume(With(With(Spout.Build(), "tall", "60 mm"), "flange_w", "60 mm"))
            .ShouldBe(Spout.VolumeByHand(w: 60, tall: 60), Spout.VolumeByHand() * 1e-6);
        Volume(With(With(Spout.Build(), "wide", "24 mm"), "wall", "1.5 mm"))
            .ShouldBe(Spout.VolumeByHand(wide: 24, wall: 1.5), Spout.VolumeByHand() * 1e-6);
    }

    [Fact]
    public void The_hose_guide_follows_its_rise_and_its_hose()
    {
        foreach (var rise in new[] { 20, 45, 70 })
        {
            var expected = HoseGuide.VolumeByHand(HoseGuide.LengthByHand(rise));
            Volume(With(HoseGuide.Build(), "rise", $"{rise} mm")).ShouldBe(expected, expected * 1e-6);
        }

        var thin = HoseGuide.VolumeByHand(HoseGuide.LengthByHand(), hose: 6);
        Volume(With(HoseGuide.Build(), "hose", "6 mm")).ShouldBe(thin, thin * 1e-6);
    }

    [Fact]
    public void The_motor_plate_the_rotor_hub_and_the_inlet_block_flex()
    {
        Volume(With(With(MotorPlate.Build(), "plate_w", "120 mm"), "thick", "8 mm"))
            .ShouldBe(MotorPlate.VolumeByHand(w: 120, t: 8), 1e-6 * MotorPlate.VolumeByHand());
        Volume(With(With(RotorHub.Build(), "hub_d", "28 mm"), "screw", "5 mm"))
            .ShouldBe(RotorHub.VolumeByHand(hub: 28, screw: 5), RotorHub.VolumeByHand() * 1e-6);
        Volume(With(With(InletBlock.Build(), "port", "8 mm"), "lean", "10 deg"))
            .ShouldBe(InletBlock.VolumeByHand(port: 8), 1e-6 * InletBlock.VolumeByHand());
    }

    [Fact]
    public void A_guide_too_thick_for_its_bends_says_where_and_by_how_much()
    {
        var result = rebuilder.Rebuild(With(With(HoseGuide.Build(), "tube", "120 mm"), "clip", "130 mm"), withMesh: false);
        var step = result.Step("tube_e")!;
        step.State.ShouldBe(StepState.Failed);
        step.Message.ShouldContain("too tight at");
        result.Bodies.ShouldNotBeEmpty();
    }
}
