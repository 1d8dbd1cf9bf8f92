using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Sketching;

public sealed class OpenWallsTests
{
    private static Sketch Of(params SketchEntity[] entities) => new() { Entities = [.. entities] };

    private static readonly Sketch Corner = Of(
        new PointEntity("a", Vec2.Zero),
        new PointEntity("b", new Vec2(30, 0)),
        new PointEntity("c", new Vec2(30, 20)),
        new LineEntity("u", "a", "b"),
        new LineEntity("v", "b", "c")
    );

    [Theory]
    [InlineData(2, 0, (28 * 2) + (20 * 2))]
    [InlineData(0, 2, (32 * 2) + (20 * 2))]
    [InlineData(1, 1, 50 * 2)]
    public void Walls_to_either_side_keep_their_thickness_round_a_corner(double left, double right, double area)
    {
        var wall = OpenWalls.Of(Corner, left, right).Value.Single();
        wall.Area.ShouldBe(area, 1e-9);
        wall.Outer.Select(e => e.Entity).Order().ShouldBe(["tip1", "tip2", "u", "u.back", "v", "v.back"]);
    }

    [Fact]
    public void Arcs_stay_arcs_with_other_radii()
    {
        var half = Of(
            new PointEntity("m", Vec2.Zero),
            new PointEntity("a", new Vec2(10, 0)),
            new PointEntity("b", new Vec2(-10, 0)),
            new ArcEntity("k", "m", "a", "b", 10)
        );
        var wall = OpenWalls.Of(half, 3, 1).Value.Single();
        wall.Area.ShouldBe(Math.PI * ((11 * 11) - (7 * 7)) / 2, 1e-9);
        wall.Outer.Where(e => e.Round).Select(e => e.Radius).Order().ShouldBe([7, 11]);
    }

    [Fact]
    public void Chains_that_do_not_hang_together_are_walls_of_their_own()
    {
        var two = Corner with
        {
            Entities =
            [
                .. Corner.Entities,
                new PointEntity("x", new Vec2(0, 40)),
                new PointEntity("y", new Vec2(10, 40)),
                new LineEntity("w", "x", "y"),
            ],
        };
        OpenWalls.Of(two, 1, 0).Value.Length.ShouldBe(2);
    }

    [Fact]
    public void Construction_lines_are_no_walls()
    {
        var drawn = Corner with
        {
            Entities =
            [
                .. Corner.Entities,
                new PointEntity("x", new Vec2(0, 40)),
                new PointEntity("y", new Vec2(10, 40)),
                new LineEntity("w", "x", "y") { Construction = true },
            ],
        };
        OpenWalls.Of(drawn, 1, 0).Value.Length.ShouldBe(1);
    }

    [Fact]
    public void What_cannot_be_thickened_says_why()
    {
        var tight = Of(
            new PointEntity("m", Vec2.Zero),
            new PointEntity("a", new Vec2(2, 0)),
            new PointEntity("b", new Vec2(-2, 0)),
            new ArcEntity("k", "m", "a", "b", 2)
        );
        OpenWalls.Of(tight, 3, 0).Refusal!.Message.ShouldContain("radius of 2 mm");
        var free = Of(new PointEntity("a", Vec2.Zero), new PointEntity("b", new Vec2(10, 5)), new SplineEntity("s", ["a", "b"], [1]));
        OpenWalls.Of(free, 1, 0).Refusal!.Message.ShouldContain("free-form");
        var hook = Of(
            new PointEntity("a", Vec2.Zero),
            new PointEntity("b", new Vec2(30, 0)),
            new PointEntity("c", new Vec2(30, 3)),
            new PointEntity("d", new Vec2(0, 3)),
            new LineEntity("u", "a", "b"),
            new LineEntity("v", "b", "c"),
            new LineEntity("w", "c", "d")
        );
        OpenWalls.Of(hook, 2, 0).Done.ShouldBeFalse();
    }
}
