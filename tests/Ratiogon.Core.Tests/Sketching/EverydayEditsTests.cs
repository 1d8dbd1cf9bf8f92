using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;
using Ratiogon.Core.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>Moves of every day that must neither be refused nor lose or move what they should not.</summary>
public class EverydayEditsTests
{
    [Theory]
    [InlineData("r1.bottom")]
    [InlineData("r1.p2")]
    [InlineData("r1.level1")]
    public void After_a_side_is_deleted_the_next_rectangle_can_be_drawn(string gone)
    {
        var sketch = Applied(Core.Sketching.Sketch.Empty, ShapeCatalog.RectangleByCorners(new Draft(Core.Sketching.Sketch.Empty).NewId("r"), Vec2.Zero, new Vec2(30, 20)));
        sketch = Applied(sketch, new SketchEdit { Remove = [gone] });
        for (var i = 0; i < 3; i++)
        {
            sketch = Applied(sketch, ShapeCatalog.RectangleByCorners(new Draft(sketch).NewId("r"), new Vec2(40, 0), new Vec2(60, 20)));
        }

        SketchCheck.Check(sketch).ShouldBeNull();
    }

    [Fact]
    public void Every_corner_of_a_square_can_be_rounded_or_cut()
    {
        foreach (var round in new[] { true, false })
        {
            var sketch = Applied(Core.Sketching.Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(30, 30)));
            sketch = Applied(sketch, new SketchEdit { Tie = [new SketchConstraint("e", "equal", ["r.bottom", "r.right"])], Size = [ShapeCatalog.Width("r", "30 mm")] });
            var free = Freedoms.Of(sketch).Count;
            foreach (var corner in new[] { "r.p1", "r.p2", "r.p3", "r.p4" })
            {
                sketch = Applied(sketch, (round ? Corners.Fillet(sketch, corner, 4, "4 mm") : Corners.Chamfer(sketch, corner, 4, 4, "4 mm", null)).Value);
            }

            Freedoms.Of(sketch).Count.ShouldBe(free);
            var wider = Applied(sketch, new SketchEdit { Size = [sketch.Dimensions.Single(d => d.Value == "30 mm") with { Value = "36 mm" }] });
            wider.At("r.p3").DistanceTo(wider.At("r.p2")).ShouldBe(36, 1e-7, "it is still square");
        }
    }

    [Fact]
    public void Equal_sides_stay_equal_when_one_is_cut_in_two()
    {
        var sketch = Applied(Core.Sketching.Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(30, 30)));
        sketch = Applied(sketch, new SketchEdit { Tie = [new SketchConstraint("e", "equal", ["r.bottom", "r.right"])], Size = [ShapeCatalog.Width("r", "30 mm")] });
        var free = Freedoms.Of(sketch).Count;
        sketch = Applied(sketch, Trimming.Split(sketch, "r.bottom", new Vec2(12, 0)).Value);
        Freedoms.Of(sketch).Count.ShouldBe(free + 1, "where the cut is");
        var wider = Applied(sketch, new SketchEdit { Size = [sketch.Dimensions.Single(d => d.Value == "30 mm") with { Value = "36 mm" }] });
        wider.At("r.p3").DistanceTo(wider.At("r.p2")).ShouldBe(36, 1e-7);
    }

    private static Sketch Row(int columns = 4, int rows = 2)
    {
        var sketch = Applied(Core.Sketching.Sketch.Empty, new SketchEdit { Add = [new PointEntity("c", Vec2.Zero), new CircleEntity("k", "c", 3)] });
        return Applied(sketch, Patterns.Grid("g", [sketch.Find("c")!, sketch.Find("k")!], columns, new Vec2(10, 1), rows, new Vec2(0, 12), $"{columns}", $"{rows}"));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(4)]
    [InlineData(7)]
    public void One_copy_can_go_and_the_others_stay_in_step(int copy)
    {
        var row = Row();
        var free = Freedoms.Of(row).Count;
        var fewer = Applied(row, new SketchEdit { Remove = [Patterns.CopyId("g", copy, 1)] });
        fewer.Entities.OfType<CircleEntity>().Count().ShouldBe(7);
        Freedoms.Of(fewer).Count.ShouldBe(free);
        fewer.Shapes.ShouldContain(s => s.Id == "g");

        // With other numbers it stays left out, and all others stand where they would.
        var more = Applied(fewer with { Shapes = [fewer.Shapes.Single() with { Count = "5" }] }, new SketchEdit { ToggleConstruction = ["k"] });
        more.Entities.OfType<CircleEntity>().Count().ShouldBe(9);
        Freedoms.Of(more).Count.ShouldBe(free);
    }

    [Fact]
    public void A_copy_that_is_cut_goes_its_own_way_and_the_others_stay()
    {
        var row = Row(4, 1);
        var crossed = Applied(row, new SketchEdit { Add = [new PointEntity("a", new Vec2(20, -9)), new PointEntity("b", new Vec2(20, 20)), new LineEntity("l", "a", "b")] });
        var free = Freedoms.Of(crossed).Count;
        var cut = Applied(crossed, Trimming.Trim(crossed, Patterns.CopyId("g", 2, 1), new Vec2(22.9, 2)).Value);
        Freedoms.Of(cut).Count.ShouldBeLessThanOrEqualTo(free + 3, "the centre and the radius of the one that was cut");
        var moved = Applied(cut, new SketchEdit { Resize = cut.Entities.OfType<CircleEntity>().Take(1).ToDictionary(c => c.Id, _ => 2.0).ToImmutableDictionary() });
        moved.Entities.OfType<CircleEntity>().Select(c => c.Radius).Distinct().Count().ShouldBe(1, "copies have one size");
    }

    [Fact]
    public void An_arc_whose_end_is_clicked_on_a_corner_it_cannot_reach_leaves_the_corner_where_it_is()
    {
        var part = new AddStep(new SketchStep("s", 0, "", World.Xy, Core.Sketching.Sketch.Empty)).Apply(new Part()).Value;
        part = new EditSketch("s", ShapeCatalog.RectangleByCorners("r", new Vec2(20, 10), new Vec2(50, 40))).Apply(part).Value;
        var tool = Core.Tools.ToolCatalog.Find("arc")!.Make();
        Core.Tools.ToolAnswer answer = null!;
        foreach (var at in new[] { Vec2.Zero, new Vec2(15, 0), new Vec2(20, 10) })
        {
            var step = (SketchStep)part.Find("s")!;
            tool.Handle(new(part, step), new(Core.Tools.InputKind.Move, at, 0.5));
            answer = tool.Handle(new(part, step), new(Core.Tools.InputKind.Click, at, 0.5));
        }

        answer.Note.ShouldNotBeNull().ShouldContain("Not joined to r.p1");
        var after = ((SketchStep)answer.Command!.Apply(part).Value.Find("s")!).Sketch;
        after.At("r.p1").ShouldBe(new Vec2(20, 10));
        after.Entities.OfType<ArcEntity>().Single().Radius.ShouldBe(15, 1e-9);
    }

    [Fact]
    public void A_command_that_meets_a_defect_reports_it_and_changes_nothing()
    {
        var refusal = new Broken().Apply(new Part()).Refusal!;
        refusal.Code.ShouldBe(PartCommand.Defect);
        refusal.Message.ShouldContain("nothing was changed");
        refusal.Message.ShouldContain("a bolt fell out");
    }

    private sealed record Broken : PartCommand
    {
        public override string Words => "break";

        protected override Outcome<Part> Make(Part part) => throw new InvalidOperationException("a bolt fell out");
    }
}
