using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Tools;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Tools;

public class SnapperTests
{
    private static readonly Sketch Drawn = Of(
        [
            P("a", 10, 10), P("b", 50, 10), L("m", "a", "b"), P("c", 80, 40), new CircleEntity("k", "c", 10),
            P("d", 0, 60), P("e", 20, 60), P("f", 0, 80), new ArcEntity("r", "d", "e", "f", 20),
        ]);

    private static Place At(double x, double y, bool suppress = false) => Snapper.Snap(Drawn, new ToolInput(InputKind.Move, new Vec2(x, y), 1) { Suppress = suppress });

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
