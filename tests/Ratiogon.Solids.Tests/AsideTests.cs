using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Solids.Tests;

/// <summary>Holes whose axis runs beside the part, and profiles beside their path.</summary>
public sealed class AsideTests : BuildTest
{
    private RebuildResult Of(params PartCommand[] commands) => Tried(Parts.Of(commands));

    [Theory]
    [InlineData(2.0, "8 mm", 8)]
    [InlineData(4.5, "30 mm", 20)]
    [InlineData(0.0, "8 mm", 8)]
    public void A_hole_whose_axis_runs_just_outside_cuts_with_its_wall(double off, string depth, double cut)
    {
        // Drilled from above, from a plane that stands 7 mm off the top.
        var part = Parts.Of([
            .. Parts.Block(60, 40, 20),
            new AddStep(PlaneStep.Offset("over", 0, "", World.Xy, "27 mm")),
            .. Parts.Sketched("h", "over", Parts.Circle("c", 30 + off, 0, 2)),
            new AddStep(
                new HoleStep("hole", 0, "", ["h/c"])
                {
                    Diameter = "10 mm",
                    Depth = depth,
                    Point = "180 deg",
                }
            ),
        ]);
        var built = Tried(part);
        built.Step("hole")!.State.ShouldBe(StepState.Built, built.Step("hole")!.Message);
        var segment = (25 * Math.Acos(off / 5)) - (off * Math.Sqrt(25 - (off * off)));
        built.Bodies.Single().Mass.Volume.ShouldBe((60 * 40 * 20) - (segment * cut), 1e-4);
        if (off > 0)
        {
            built.Step("hole")!.Message.ShouldContain("only its wall cuts");
            HoleTable.Of(part, built).Single().Depth.ShouldBe(depth[..^3]);
        }
    }

    [Fact]
    public void A_hole_that_misses_all_of_it_is_refused_with_the_gap()
    {
        var built = Of([
            .. Parts.Block(60, 40, 20),
            .. Parts.Sketched("h", "e/end", Parts.Circle("c", 36, 0, 2)),
            new AddStep(new HoleStep("hole", 0, "", ["h/c"]) { Diameter = "10 mm", Depth = "8 mm" }),
        ]);
        built.Step("hole")!.Message.ShouldContain("its axis passes 6 mm beside");
    }

    [Fact]
    public void A_profile_beside_its_path_says_so_and_can_be_brought_there()
    {
        PartCommand[] drawn =
        [
            .. Parts.Sketched("path", World.Xy, Parts.Bend(30, 12)),
            .. Parts.Sketched("s", World.Yz, Parts.Circle("c", 25, 4, 3)),
        ];
        Core.Refs refs = ["path/a", "path/bend", "path/b"];
        var refused = Of([.. drawn, new AddStep(new SweepStep("k", 0, "", refs) { Sketch = "s" })]).Step("k")!;
        refused.State.ShouldBe(StepState.Failed);
        refused.Message.ShouldContain("beside the beginning of the path");

        var brought = Of([.. drawn, new AddStep(new SweepStep("k", 0, "", refs) { Sketch = "s", Brought = true })]);
        brought.Step("k")!.State.ShouldBe(StepState.Built, brought.Step("k")!.Message);
        brought.Bodies.Single().Mass.Volume.ShouldBe(Math.PI * 9 * (60 + (Math.PI * 6)), 1e-3);

        // On the outside of the bend it goes round as drawn, and says how far beside.
        var beside = Of([
                .. drawn[..2],
                .. Parts.Sketched("s", World.Yz, Parts.Circle("c", -25, 0, 3)),
                new AddStep(new SweepStep("k", 0, "", refs) { Sketch = "s" }),
            ])
            .Step("k")!;
        beside.State.ShouldBe(StepState.Built, beside.Message);
        beside.Message.ShouldContain("runs 22 mm beside the path");
    }
}
