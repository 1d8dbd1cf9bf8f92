using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class DragSessionTests
{
    private static DragSession Drag(Sketch sketch, string id, double x, double y) =>
        new(sketch, SketchValues.Of(sketch, ParameterValues.None).Value, id, new Vec2(x, y));

    [Fact]
    public void A_free_corner_follows_the_pointer_and_the_rectangle_stays_one()
    {
        var sketch = Edit(Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(80, 50))).Value;
        var drag = Drag(sketch, "r.p3", 80, 50);
        drag.MoveTo(new Vec2(95, 61)).ShouldBeTrue();
        var now = drag.Current();
        now.At("r.p3").DistanceTo(new Vec2(95, 61)).ShouldBeLessThan(0.01);
        now.At("r.p2").X.ShouldBe(now.At("r.p3").X, 1e-9);
        now.At("r.p1").ShouldBe(Vec2.Zero);
    }

    [Fact]
    public void A_dragged_end_stays_at_its_length()
    {
        var sketch = Of([P("a", 0, 0), P("b", 10, 0), L("m", "a", "b")], [K("f", "fixed", "a")], [D("d", "distance", "10 mm", "m")]);
        var drag = Drag(sketch, "b", 10, 0);
        drag.MoveTo(new Vec2(0, 40)).ShouldBeTrue();
        drag.Current().At("b").Length.ShouldBe(10, 1e-9);
        (drag.Current().At("b").Angle * 180 / Math.PI).ShouldBeGreaterThan(60);
    }

    [Fact]
    public void What_is_set_says_so()
    {
        var sketch = Of([P("a", 3, 0)], [K("f", "fixed", "a")]);
        Drag(sketch, "a", 3, 0).Refusal!.Code.ShouldBe("drag.set");
    }

    [Fact]
    public void A_rim_grows_about_its_centre()
    {
        var drag = Drag(Of([P("c", 5, 5), new CircleEntity("k", "c", 3)]), "k", 8, 5);
        drag.MoveTo(new Vec2(12, 5)).ShouldBeTrue();
        ((CircleEntity)drag.Current().Find("k")!).Radius.ShouldBe(7, 1e-6);
        drag.Current().At("c").DistanceTo(new Vec2(5, 5)).ShouldBeLessThan(1e-6);
    }

    [Fact]
    public void A_dragged_line_moves_as_it_is()
    {
        var drag = Drag(Of([P("a", 0, 0), P("b", 10, 4), L("m", "a", "b")]), "m", 5, 2);
        drag.MoveTo(new Vec2(6, 12)).ShouldBeTrue();
        drag.Current().At("a").DistanceTo(new Vec2(1, 10)).ShouldBeLessThan(1e-6);
        drag.Current().At("b").DistanceTo(new Vec2(11, 14)).ShouldBeLessThan(1e-6);
    }

    [Fact]
    public void A_chain_follows_and_stays_solved()
    {
        var sketch = Solved(Chain(20, placed: false));
        var drag = Drag(sketch, "r10.p1", sketch.At("r10.p1").X, sketch.At("r10.p1").Y);
        drag.MoveTo(sketch.At("r10.p1") + new Vec2(7, -3)).ShouldBeTrue();
        Solve(drag.Current()).LargestResidual.ShouldBeLessThanOrEqualTo(1e-9);
        (drag.Current().At("r0.p1") - sketch.At("r0.p1") - new Vec2(7, -3)).Length.ShouldBeLessThan(0.05);
    }

    [Fact]
    public void Pointers_that_are_nowhere_move_nothing()
    {
        var drag = Drag(Of([P("a", 0, 0)]), "a", 0, 0);
        drag.MoveTo(new Vec2(double.NaN, 1)).ShouldBeFalse();
        drag.MoveTo(new Vec2(1e300, 1)).ShouldBeFalse();
        drag.Current().At("a").ShouldBe(Vec2.Zero);
    }
}
