using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class DiagnosisTests
{
    private static Sketch Rectangle()
    {
        var edit = ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(80, 50)).With(ShapeCatalog.Placed("r", "r.p1", Vec2.Zero));
        return Edit(Sketch.Empty, edit with { Size = [ShapeCatalog.Width("r", "80 mm")] }).Value;
    }

    [Fact]
    public void A_second_width_that_agrees_is_redundant_with_the_smallest_set()
    {
        var refused = Edit(Rectangle(), new SketchEdit { Size = [D("again", "distance", "80 mm", "r.top")] }).Refusal!;
        refused.Code.ShouldBe("sketch.redundant");
        refused.Involved.ShouldBe(["r.width", "r.upright1", "r.upright2"], ignoreOrder: true);
        refused.Message.ShouldContain("reference dimension");
    }

    [Fact]
    public void A_second_width_that_differs_clashes_with_the_same_set()
    {
        var refused = Edit(Rectangle(), new SketchEdit { Size = [D("other", "distance", "90 mm", "r.top")] }).Refusal!;
        refused.Code.ShouldBe("sketch.clash");
        refused.Involved.ShouldContain("r.width");
        refused.Involved.ShouldNotContain("r.level1");
    }

    [Fact]
    public void What_was_redundant_can_be_kept_as_a_reference() =>
        Edit(Rectangle(), new SketchEdit { Size = [D("again", "distance", null, "r.top")] }).Value.Dimensions.Length.ShouldBe(2);

    [Fact]
    public void Inferred_constraints_that_say_nothing_new_are_left_out()
    {
        var done = Edit(Rectangle(), new SketchEdit { Tie = [K("i", "parallel", "r.top", "r.bottom")], Inferred = ["i"] });
        done.Value.Constraints.ShouldNotContain(c => c.Id == "i");
    }

    [Fact]
    public void A_triangle_that_cannot_close_names_its_sides()
    {
        var two = Edit(
            Triangle(),
            new SketchEdit { Size = [D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "10 mm", "bc")] }
        ).Value;
        var refused = Edit(two, new SketchEdit { Size = [D("d3", "distance", "30 mm", "ca")] }).Refusal!;
        refused.Code.ShouldBe("sketch.clash");
        refused.Involved.ShouldBe(["d1", "d2"], ignoreOrder: true);
    }

    [Fact]
    public void Things_that_only_happen_to_line_up_are_not_redundant()
    {
        // The line is drawn level by chance; saying so takes a freedom.
        var done = Edit(Of([P("a", 0, 0), P("b", 10, 0), L("m", "a", "b")]), new SketchEdit { Tie = [K("h", "horizontal", "m")] });
        done.Done.ShouldBeTrue();
        Core.Sketches.Solving.Freedoms.Of(done.Value).Count.ShouldBe(3);
    }

    [Fact]
    public void A_change_that_is_refused_leaves_the_sketch_alone()
    {
        var sketch = Rectangle();
        Edit(sketch, new SketchEdit { Size = [D("other", "distance", "90 mm", "r.top")] }).Done.ShouldBeFalse();
        sketch.ShouldBe(Rectangle());
    }

    [Theory]
    [InlineData("0 mm", "dimension.value")]
    [InlineData("-5 mm", "dimension.value")]
    [InlineData("1e300 mm", "dimension.value")]
    [InlineData("30 deg", "formula.kind")]
    [InlineData("3 +", "formula.syntax")]
    public void Values_that_cannot_drive_a_size_are_refused_where_they_are(string value, string code)
    {
        var refused = Edit(Rectangle(), new SketchEdit { Size = [D("h", "distance", value, "r.left")] }).Refusal!;
        refused.Code.ShouldBe(code);
        refused.Where.ShouldBe("h");
    }

    [Fact]
    public void Unknown_ids_and_kinds_are_named()
    {
        Edit(Rectangle(), new SketchEdit { Tie = [K("k", "horizontal", "nothing")] }).Refusal!.Code.ShouldBe("sketch.unknown-id");
        Edit(Rectangle(), new SketchEdit { Tie = [K("k", "glued", "r.top")] }).Refusal!.Code.ShouldBe("sketch.unknown-constraint");
        Edit(Rectangle(), new SketchEdit { Remove = ["origin"] }).Refusal!.Message.ShouldContain("stays");
    }

    [Fact]
    public void The_axes_alone_have_no_size_and_take_no_constraint()
    {
        Edit(Rectangle(), new SketchEdit { Size = [D("d", "distance", "90 mm", "y-axis")] }).Refusal!.Code.ShouldBe("dimension.built-in");
        Edit(Rectangle(), new SketchEdit { Tie = [K("k", "perpendicular", "x-axis", "y-axis")] })
            .Refusal!.Code.ShouldBe("constraint.built-in");
    }
}
