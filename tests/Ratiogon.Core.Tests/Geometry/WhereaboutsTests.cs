using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Tests.Geometry;

public class WhereaboutsTests
{
    [Fact]
    public void One_needs_no_words_and_two_are_left_and_right()
    {
        Whereabouts.Of([new Vec2(3, 4)]).ShouldBe([""]);
        Whereabouts.Of([new Vec2(10, 0), new Vec2(-10, 1)]).ShouldBe(["right", "left"]);
        Whereabouts.Of([new Vec2(0, 0), new Vec2(0, 5)]).ShouldBe(["lower", "upper"]);
    }

    [Fact]
    public void Corners_and_grids_are_said_by_both_directions()
    {
        Whereabouts
            .Of([new Vec2(0, 0), new Vec2(9, 0), new Vec2(9, 6), new Vec2(0, 6)])
            .ShouldBe(["lower left", "lower right", "upper right", "upper left"]);
        Whereabouts.Of([new Vec2(0, 0), new Vec2(5, 0), new Vec2(10, 0)]).ShouldBe(["left", "middle", "right"]);
        var grid = Whereabouts.Of([.. from y in new[] { 0, 5, 10 } from x in new[] { 0, 5, 10 } select new Vec2(x, y)]);
        grid.ShouldBe([
            "lower left",
            "lower middle",
            "lower right",
            "middle left",
            "middle",
            "middle right",
            "upper left",
            "upper middle",
            "upper right",
        ]);
    }

    [Fact]
    public void What_cannot_be_said_is_counted_in_reading_order() =>
        Whereabouts
            .Of([new Vec2(0, 0), new Vec2(10, 5), new Vec2(20, 5), new Vec2(30, 5), new Vec2(40, 5)])
            .ShouldBe(["5 of 5", "1 of 5", "2 of 5", "3 of 5", "4 of 5"]);

    [Fact]
    public void In_space_the_two_widest_directions_are_said()
    {
        Whereabouts.Of([new Vec3(0, 0, 0), new Vec3(0, 0, 8)]).ShouldBe(["lower", "upper"]);
        Whereabouts.Of([new Vec3(0, -30, 1), new Vec3(0, 30, 1)]).ShouldBe(["front", "back"]);
        Whereabouts
            .Of([new Vec3(-40, -30, 0), new Vec3(40, -30, 0), new Vec3(40, 30, 0), new Vec3(-40, 30, 0)])
            .ShouldBe(["left front", "right front", "right back", "left back"]);
    }

    /// <summary>Whatever lies wherever: no two have the same words, and all of one place are told by numbers.</summary>
    [Fact]
    public void No_two_are_called_alike()
    {
        var random = new Random(19);
        for (var n = 0; n < 400; n++)
        {
            var places = Enumerable
                .Range(0, 1 + random.Next(12))
                .Select(_ => new Vec3(random.Next(4) * 10, random.Next(3) * Math.Pow(10, random.Next(-3, 5)), random.Next(3)))
                .ToList();
            Whereabouts.Of(places).Distinct().Count().ShouldBe(places.Count);
            Whereabouts.Of([.. places.Select(p => new Vec2(p.X, p.Y))]).Distinct().Count().ShouldBe(places.Count);
        }
    }
}
