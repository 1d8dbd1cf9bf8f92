using Ratiogon.Core.Sketches;
using Ratiogon.Core.Tools;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Tools;

public class SnapperTests
{
    private static readonly Sketch Drawn = Of([
        P("a", 10, 10),
        P("b", 50, 10),
        L("m", "a", "b"),
        P("c", 80, 40),
        new CircleEntity("k", "c", 10),
        P("d", 0, 60),
        P("e", 20, 60),
        P("f", 0, 80),
        new ArcEntity("r", "d", "e", "f", 20),
    ]);

    private static Place At(double x, double y, bool suppress = false) =>
        Snapper.Snap(Drawn, new ToolInput(InputKind.Move, new Vec2(x, y), 1) { Suppress = suppress });

    [Theory]
    [InlineData(10.4, 10.4, "point", "a")]
    [InlineData(30.3, 10.4, "midpoint", "m")]
    [InlineData(40, 10.6, "on-curve", "m")]
    [InlineData(90.5, 40, "quadrant", "k")]
    [InlineData(87, 47.4, "on-curve", "k")]
    [InlineData(80.3, 39.8, "point", "c")]
    [InlineData(14.5, 74.2, "on-curve", "r")]
    [InlineData(0.3, -0.3, "point", "origin")]
    [InlineData(70, 0.4, "on-curve", "x-axis")]
    [InlineData(0.4, 40.2, "on-curve", "y-axis")]
    [InlineData(33, 33, "free", "")]
    [InlineData(-14.2, 45.8, "extension", "r")]
    [InlineData(62, 10.3, "line-up", "a")]
    [InlineData(-33, -33, "free", "")]
    public void The_pointer_is_drawn_to_what_is_near(double x, double y, string kind, string entity)
    {
        var place = At(x, y);
        (place.Mark.Kind, place.Mark.Entity).ShouldBe((kind, entity));
    }

    [Fact]
    public void Snapped_places_lie_exactly_on_what_they_are_tied_to()
    {
        At(40, 10.6).At.ShouldBe(new Vec2(40, 10));
        At(87.2, 47.2).At.DistanceTo(new Vec2(80, 40)).ShouldBe(10, 1e-12);
        At(10.4, 10.4).Existing.ShouldBe("a");
        At(30.3, 10.4).Ties.Single().Kind.ShouldBe("midpoint");
    }

    [Theory]
    [InlineData(60.3, 30.4, 60, 60, "perpendicular", "n")]
    [InlineData(82.5, 30.5, 0, 10, "tangent", "k")]
    public void A_line_under_way_meets_curves_squarely_and_tangentially(
        double x,
        double y,
        double fromX,
        double fromY,
        string kind,
        string entity
    )
    {
        var sketch = Drawn with { Entities = [.. Drawn.Entities, P("n1", 30, 30), P("n2", 75, 30), L("n", "n1", "n2")] };
        var from = Place.Free(new Vec2(fromX, fromY));
        var place = Snapper.Snap(sketch, new ToolInput(InputKind.Move, new Vec2(x, y), 1), from);
        place.Mark.Kind.ShouldBe(kind);
        place.Mark.Entity.ShouldBe(entity);
        place.Arriving!.Kind.ShouldBe(kind);
        var along = (place.At - from.At).Unit;
        if (kind == "tangent")
        {
            along.Dot((place.At - sketch.At("c")).Unit).ShouldBe(0, 1e-12);
        }
        else
        {
            along.X.ShouldBe(0, 1e-12);
        }
    }

    [Fact]
    public void Two_lines_meet_in_a_crossing_and_a_point_lines_up_with_two_others()
    {
        var sketch = Of([P("a", 0, 0), P("b", 40, 20), L("m", "a", "b"), P("c", 0, 20), P("d", 40, 1), L("n", "c", "d")]);
        var crossing = Snapper.Snap(sketch, new ToolInput(InputKind.Move, new Vec2(20.7, 10.4), 1));
        crossing.Mark.Kind.ShouldBe("crossing");
        crossing.Ties.Single().With.Order().ToArray().ShouldBe(["m", "n"]);
        var both = Snapper.Snap(Of([P("a", -30, 12), P("b", 33, -20)]), new ToolInput(InputKind.Move, new Vec2(33.3, 12.3), 1));
        both.At.ShouldBe(new Vec2(33, 12));
        both.Ties.Select(t => t.Kind).ShouldBe(["horizontal", "vertical"]);
    }

    [Fact]
    public void A_held_key_leaves_the_pointer_alone() => At(10.4, 10.4, suppress: true).ShouldBe(Place.Free(new Vec2(10.4, 10.4)));

    [Fact]
    public void Drawn_things_come_before_the_axes_that_they_lie_on()
    {
        var sketch = Of([P("p", -20, 0), P("q", 20, 0), L("on", "p", "q")]);
        Snapper.Under(sketch, new Vec2(7, 0.2), 1).ShouldBe("on");
        Snapper.Under(sketch, new Vec2(70, 0.2), 1).ShouldBe("x-axis");
        Snapper.Under(sketch, new Vec2(70, 9), 1).ShouldBeNull();
    }
}
