using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Shouldly;
using Xunit;

namespace Ratiogon.Solids.Tests;

/// <summary>Datums on faces and edges of real bodies.</summary>
public sealed class DatumPartTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private RebuildResult Built(Part part)
    {
        var result = rebuilder.Rebuild(part, withMesh: false);
        result.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty();
        return result;
    }

    private static Part Set(Part part, string name, string value)
    {
        var next = new SetParameter(name, value).Apply(part);
        next.Refusal?.Message.ShouldBeNull();
        return next.Value;
    }

    [Fact]
    public void The_rotor_hub_stands_and_flexes()
    {
        var part = RotorHub.Build();
        Built(part).Bodies.Single().Mass.Volume.ShouldBe(RotorHub.VolumeByHand(), 1e-6 * RotorHub.VolumeByHand());
        part = Set(Set(Set(part, "hub_d", "30 mm"), "bore", "12 mm"), "key_top", "8 mm");
        Built(part)
            .Bodies.Single()
            .Mass.Volume.ShouldBe(
                RotorHub.VolumeByHand(hub: 30, bore: 12, top: 8),
                5e-6 * RotorHub.VolumeByHand(),
                "where two cylinders meet the kernel's curve is an approximation"
            );
    }

    [Fact]
    public void The_cross_hole_stays_on_its_side_while_its_angle_and_the_hub_sweep()
    {
        var part = RotorHub.Build();
        Vec3? before = null;
        for (var lean = 20; lean <= 160; lean += 10)
        {
            var seat = Built(Set(Set(part, "lean", $"{lean} deg"), "hub_d", $"{20 + (lean / 20)} mm")).Step("seat")!.Frame!.Value;
            seat.Origin.Length.ShouldBeGreaterThan(9);
            before?.AngleTo(seat.Z).ShouldBe(10 * Math.PI / 180, 1e-6);
            before = seat.Z;
        }
    }

    [Fact]
    public void The_inlet_block_stands_and_flexes()
    {
        var part = InletBlock.Build();
        var built = Built(part);
        built.Bodies.Single().Mass.Volume.ShouldBe(InletBlock.VolumeByHand(), 1e-6 * InletBlock.VolumeByHand());
        built.Step("meeting")!.Frame!.Value.Origin.DistanceTo(new Vec3(0, 0, 28 - InletBlock.MeetingByHand())).ShouldBe(0, 1e-6);
        built = Built(Set(part, "lean", "30 deg"));
        built.Bodies.Single().Mass.Volume.ShouldBe(InletBlock.VolumeByHand(), 1e-6 * InletBlock.VolumeByHand());
        built.Step("meeting")!.Frame!.Value.Origin.Z.ShouldBe(28 - InletBlock.MeetingByHand(lean: Math.PI / 6), 1e-6);
    }

    [Fact]
    public void The_hose_guide_stands_and_its_clip_follows_the_end_of_the_hose()
    {
        var part = HoseGuide.Build();
        Built(part)
            .Bodies.Single()
            .Mass.Volume.ShouldBe(
                HoseGuide.VolumeByHand(HoseGuide.LengthByHand()),
                1e-6 * HoseGuide.VolumeByHand(HoseGuide.LengthByHand())
            );
        var built = Built(Set(part, "rise", "80 mm"));
        var body = built.Bodies.Single();
        var rim = body.Topology.Edges[body.Names.Find("clip_e/end^clip_e/side/outer")!.Value.Index];
        (rim.Centre - (built.Step("end_plane")!.Frame!.Value.Z * 6)).DistanceTo(new Vec3(65, 80, 80)).ShouldBe(0, 1e-6);
        built.Step("clip_s")!.Frame!.Value.Z.AngleTo(built.Step("end_plane")!.Frame!.Value.Z).ShouldBe(0, 1e-12);
    }

    [Fact]
    public void Losing_a_face_fails_the_datum_with_candidates_and_its_children_wait()
    {
        var part = RotorHub.Build();
        part = new SuppressStep("hub", true).Apply(part).Value;
        var result = rebuilder.Rebuild(part, withMesh: false);
        result.Step("seat")!.State.ShouldBe(StepState.Waiting);
        result.Step("seat")!.Message.ShouldContain("suppressed");
        result.Step("drilling")!.State.ShouldBe(StepState.Waiting);

        var seat = (PlaneStep)part.Find("seat")!;
        part = new SuppressStep("hub", false).Apply(part).Value;
        part = new ReplaceStep(seat with { Conditions = seat.Conditions.SetItem(0, new DatumCondition("tangent", ["hub/side/hub.rip"])) })
            .Apply(part)
            .Value;
        result = rebuilder.Rebuild(part, withMesh: false);
        result.Step("seat")!.State.ShouldBe(StepState.Failed);
        result.Step("seat")!.Lost.ShouldContain("hub/side/hub.rim");
        result.Step("seat")!.Message.ShouldContain("is gone from the body. The closest now: the round side");
        result.Step("screw_s")!.State.ShouldBe(StepState.Waiting);
    }

    [Fact]
    public void A_datum_is_drawn_as_large_as_what_uses_it()
    {
        var built = Built(RotorHub.Build());
        built.Step("seat")!.Extent.ShouldBeInRange(2, 6, "its sketch holds a hole of 4 mm");
        built.Step("shaft")!.Extent.ShouldBeGreaterThan(10, "nothing uses it, so it is as large as the body asks for");
    }

    [Fact]
    public void A_section_of_the_body_follows_its_sizes_and_a_face_that_is_missed_says_so()
    {
        var part = RotorHub.Build();
        part = new AddStep(new SketchStep("cut", 0, "", World.Xz, Sketch.Empty)).Apply(part).Value;
        Model Model()
        {
            var result = Built(part);
            var model = Core.Building.Model.Of(part, result);
            model.Section = plane =>
                rebuilder
                    .Section(part, plane)
                    .Map(c =>
                        System.Collections.Immutable.ImmutableArray.CreateRange(c, e => new SectionCurve(
                            e.Face,
                            Core.Kernel.ShapeNumbers.CurveOf(e.Curve)!
                        ))
                    );
            return model;
        }

        var whole = SketchCopies.Take(Model(), (SketchStep)part.Find("cut")!, CopyHow.Section, "disc");
        whole.Refusal?.Message.ShouldBeNull();
        part = whole.Value.Apply(part).Value;
        var sketch = ((SketchStep)part.Find("cut")!).Sketch;
        sketch.Entities.OfType<PointEntity>().Max(p => p.At.X).ShouldBe(30, 1e-9);
        sketch.Entities.OfType<PointEntity>().Max(p => p.At.Y).ShouldBe(28, 1e-9);

        // Both sides of the disc and of the hub are there, though one runs along the seam of its face.
        double[] Upright() =>
            [
                .. sketch
                    .Entities.OfType<LineEntity>()
                    .Select(l => (A: sketch.At(l.From), B: sketch.At(l.To)))
                    .Where(l => Math.Abs(l.A.X - l.B.X) < 1e-6)
                    .Select(l => Math.Round(l.A.X, 6))
                    .Order(),
            ];
        Upright().ShouldContain(-30);
        Upright().ShouldContain(30);
        Upright().ShouldContain(12);
        Upright().ShouldContain(-12);

        part = Set(part, "disc_d", "70 mm");
        var followed = Built(part).Step("cut")!.Followed()!;
        followed.Entities.OfType<PointEntity>().Max(p => p.At.X).ShouldBe(35, 1e-9);
        SketchCopies
            .Take(Model(), new SketchStep("far", 0, "", World.Xz, Sketch.Empty) { ShiftX = "1 mm" }, CopyHow.Section, "disc/start")
            .Done.ShouldBeTrue();
        var high = new AddStep(PlaneStep.Offset("high", 0, "", World.Xy, "200 mm")).Apply(part).Value;
        part = new AddStep(new SketchStep("far", 0, "", "high", Sketch.Empty)).Apply(high).Value;
        SketchCopies.Take(Model(), (SketchStep)part.Find("far")!, CopyHow.Section, "disc").Refusal!.Message.ShouldContain("misses");
        SketchCopies.Take(Model(), (SketchStep)part.Find("far")!, CopyHow.Section, "hub/end").Refusal!.Message.ShouldContain("172 mm off");
    }

    [Fact]
    public void Edges_run_the_same_way_however_often_the_body_is_built()
    {
        var part = InletBlock.Build();
        var edge = "block/end^block/side/box.bottom";
        var way = Core.Building.Model.Of(part, Built(part)).Find(edge).Value.Line!.Value.Direction;
        foreach (var width in new[] { 40, 90, 61 })
        {
            var changed = Set(part, "block_w", $"{width} mm");
            Core.Building.Model.Of(changed, Built(changed)).Find(edge).Value.Line!.Value.Direction.DistanceTo(way).ShouldBe(0, 1e-12);
        }
    }

    [Theory]
    [InlineData("hub/side/hub.rim", "cylinder")]
    [InlineData("disc/end", "plane")]
    public void Faces_say_what_they_lie_on_with_their_normals_out_of_the_material(string face, string word)
    {
        var part = RotorHub.Build();
        var thing = Core.Building.Model.Of(part, Built(part)).Find(face).Value;
        (thing.Surface?.Word ?? "plane").ShouldBe(word);
        var outward = thing.Outward!(new Vec3(20, 1, 20));
        (word == "plane" ? outward.Z : outward.Dot(new Vec3(20, 1, 0).Unit)).ShouldBe(1, 1e-9);
        var bore = Core.Building.Model.Of(part, Built(part)).Find("boring/side/bore.rim").Value;
        bore.Outward!(new Vec3(3, 0, 4)).X.ShouldBe(-1, 1e-9, "out of the material is into the bore");
    }
}
