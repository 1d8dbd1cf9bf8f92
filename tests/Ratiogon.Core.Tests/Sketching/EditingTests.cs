using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

public class RemovalTests
{
    private static Core.Sketches.Sketch Rectangle()
    {
        var edit = ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(80, 50));
        return Edit(Core.Sketches.Sketch.Empty, edit with { Size = [ShapeCatalog.Width("r", "80 mm")] }).Value;
    }

    [Fact]
    public void A_line_goes_with_its_rules_but_leaves_shared_corners()
    {
        var left = Edit(Rectangle(), new SketchEdit { Remove = ["r.bottom"] }).Value;
        left.Entities.Count(e => e is LineEntity).ShouldBe(3);
        left.Entities.Count(e => e is PointEntity).ShouldBe(4);
        left.Dimensions.ShouldBeEmpty();
        left.Constraints.Select(c => c.Id).ShouldBe(["r.upright1", "r.level2", "r.upright2"]);
        left.Shapes.ShouldBeEmpty("three sides are just lines");
    }

    [Fact]
    public void A_shape_goes_as_a_whole() =>
        Edit(Rectangle(), new SketchEdit { Remove = ["r"] }).Value.ShouldBe(Core.Sketches.Sketch.Empty);

    [Fact]
    public void A_point_takes_the_curves_through_it_along()
    {
        var gone = Removal.Gone(Rectangle(), ["r.p1"]);
        gone.ShouldContain("r.bottom");
        gone.ShouldContain("r.left");
        gone.ShouldNotContain("r.p2");
    }

    [Fact]
    public void Construction_turns_over_and_back()
    {
        var once = Edit(Rectangle(), new SketchEdit { ToggleConstruction = ["r.top"] }).Value;
        once.Find("r.top")!.Construction.ShouldBeTrue();
        Edit(once, new SketchEdit { ToggleConstruction = ["r.top"] }).Value.ShouldBe(Rectangle());
    }
}

public class ShortFormTests
{
    private static Outcome<Core.Sketches.Sketch> Expand(params SketchShape[] shapes) =>
        ShortForms.Expand(new Core.Sketches.Sketch { Shapes = [.. shapes] }, ParameterValues.None);

    [Fact]
    public void A_rectangle_by_its_corner_is_placed_and_set()
    {
        var solved = Solved(
            Expand(
                new SketchShape("r", "rectangle")
                {
                    Corner = new Vec2(-10, 0),
                    Width = "30 mm",
                    Height = "1 in",
                }
            ).Value
        );
        solved.At("r.p3").DistanceTo(new Vec2(20, 25.4)).ShouldBeLessThan(1e-9);
        Core.Sketches.Solving.Freedoms.Of(solved).Count.ShouldBe(0);
    }

    [Theory]
    [InlineData("rectangle", null, "20 mm")]
    [InlineData("star", "20 mm", "20 mm")]
    [InlineData("rectangle", "20 deg", "20 mm")]
    [InlineData("rectangle", "-1 mm", "20 mm")]
    [InlineData("rectangle", "nothing", "20 mm")]
    public void What_is_incomplete_or_makes_no_sense_is_refused_with_its_id(string kind, string? width, string? height) =>
        Expand(
            new SketchShape("s", kind)
            {
                Centre = Vec2.Zero,
                Width = width,
                Height = height,
            }
        )
            .Refusal!.Where!.ShouldStartWith("s");
}

public class DimensionDrawingTests
{
    private static DimensionDrawing Draw(Core.Sketches.Sketch sketch, SketchDimension dimension) =>
        DimensionDrawing.Of(sketch, dimension, "40 mm", 50, new TextRoom(sketch, 50))!;

    [Fact]
    public void A_length_is_drawn_outside_the_geometry_with_arrows_at_its_ends()
    {
        var sketch = Triangular(0, 0, 40, 0, 40, 20);
        var drawing = Draw(sketch, D("d", "distance", "40 mm", "ab"));
        drawing.TextAt.Y.ShouldBeLessThan(0, "the triangle lies above");
        drawing.Arrows.Length.ShouldBe(8);
        drawing.Arrows[0].ShouldBe(0, 1e-9);
        drawing.Arrows[4].ShouldBe(40, 1e-9);
        drawing.Arrows[1].ShouldBe(drawing.TextAt.Y, 1e-9);
    }

    [Fact]
    public void Text_stands_where_it_was_put() =>
        Draw(Triangular(0, 0, 40, 0, 40, 20), D("d", "horizontal-distance", "40 mm", "a", "c") with { TextAt = new Vec2(11, 33) })
            .TextAt.ShouldBe(new Vec2(11, 33));

    [Fact]
    public void An_angle_is_an_arc_about_where_the_lines_meet()
    {
        var arc = Draw(Triangular(0, 0, 40, 0, 40, 40), D("d", "angle", "45 deg", "ab", "ca")).Arc;
        arc.Length.ShouldBe(5);
        arc[0].ShouldBe(0, 1e-9);
        arc[1].ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Values_are_shown_with_the_signs_of_the_trade()
    {
        var sketch = Of(
            [P("c", 0, 0), new CircleEntity("k", "c", 5)],
            [],
            [D("d1", "diameter", "10 mm", "k"), D("d2", "radius", null, "k")]
        );
        SketchView.Of(sketch, LengthUnit.Millimetre).Dimensions.Select(d => d.Text).ShouldBe(["⌀ 10 mm", "(R 5 mm)"]);
        SketchView.Of(sketch, LengthUnit.Inch).Dimensions[0].Text.ShouldBe("⌀ 0.3937 in");
    }

    private static Core.Sketches.Sketch Triangular(double ax, double ay, double bx, double by, double cx, double cy) =>
        Of([P("a", ax, ay), P("b", bx, by), P("c", cx, cy), L("ab", "a", "b"), L("bc", "b", "c"), L("ca", "c", "a")]);
}

public class SketchViewTests
{
    [Fact]
    public void A_view_tells_freedoms_regions_motions_and_gaps()
    {
        var sketch = Of([
            P("a", 0, 0),
            P("b", 10, 0),
            P("c", 10, 10),
            P("d", 0, 0.2),
            L("ab", "a", "b"),
            L("bc", "b", "c"),
            L("cd", "c", "d"),
        ]);
        var view = SketchView.Of(sketch, LengthUnit.Millimetre);
        view.Freedoms.ShouldBe(8);
        view.Regions.ShouldBeEmpty();
        view.AtTheseSizes.ShouldBe(8);
        SketchView.MotionsOf(sketch).Length.ShouldBe(8);
        view.Issues.ShouldContain(n => n.Kind == "gap" && n.Words.Contains("0.2 mm", StringComparison.Ordinal));
        view.Entities.Single(e => e.Id == "ab").Freedoms.ShouldBe(4);
    }

    [Fact]
    public void What_a_drag_moves_is_told_by_numbers_and_makes_the_dragged_sketch()
    {
        var edit = ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(80, 50));
        var before = Edit(
            Sketch.Empty,
            edit with
            {
                Add = [.. edit.Add, new PointEntity("far", new Vec2(200, 0)), new CircleEntity("k", "far", 5)],
            }
        ).Value;
        var drag = new Core.Sketches.Solving.DragSession(
            before,
            SketchValues.Of(before, Core.Quantities.ParameterValues.None).Value,
            "r.p3",
            new Vec2(80, 50)
        );
        drag.MoveTo(new Vec2(95, 61)).ShouldBeTrue();
        var now = drag.Current();
        var moved = SketchView.MovedOf(before, now);

        var made = SketchView.EntitiesOf(before, null).ToArray();
        for (var i = 0; i < moved.Length; i += 2 + (int)moved[i + 1])
        {
            made[(int)moved[i]] = made[(int)moved[i]] with { Numbers = [.. moved.AsSpan().Slice(i + 2, (int)moved[i + 1])] };
        }

        made.Select(e => (e.Id, string.Join(' ', e.Numbers)))
            .ShouldBe(SketchView.EntitiesOf(now, null).Select(e => (e.Id, string.Join(' ', e.Numbers))));
        SketchView.MovedOf(before, before).ShouldBeEmpty();

        // The corner itself is told; what stands still is not.
        (9 * moved.Length).ShouldBeLessThan(1000);
        Enumerable.Range(0, made.Length).Where(i => made[i].Id is "k" or "far" or "r.p1").ShouldAllBe(i => !Told(moved, i));
        Told(moved, Array.FindIndex(made, e => e.Id == "r.p3")).ShouldBeTrue();
    }

    private static bool Told(System.Collections.Immutable.ImmutableArray<double> moved, int entity)
    {
        for (var i = 0; i < moved.Length; i += 2 + (int)moved[i + 1])
        {
            if ((int)moved[i] == entity)
            {
                return true;
            }
        }

        return false;
    }
}
