using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Regions;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

public class ArrangementTests
{
    private static SketchEntity[] Circle(string id, double x, double y, double r) => [P($"{id}c", x, y), new CircleEntity(id, $"{id}c", r)];

    private static SketchEntity[] Box(string id, double x1, double y1, double x2, double y2) =>
        [.. ShapeCatalog.RectangleByCorners(id, new Vec2(x1, y1), new Vec2(x2, y2)).Add];

    [Fact]
    public void A_rectangle_with_a_hole_is_two_regions_and_the_outer_is_material()
    {
        var found = Arrangement.Of(Of([.. Box("r", 0, 0, 80, 50), .. Circle("k", 40, 25, 10)]));
        found.Regions.Length.ShouldBe(2);
        var material = found.Choose([]).Value.Single();
        material.Area.ShouldBe(4000 - (100 * Math.PI), 1e-9);
        material.Holes.Length.ShouldBe(1);
        material.Contains(new Vec2(5, 5)).ShouldBeTrue();
        material.Contains(new Vec2(40, 25)).ShouldBeFalse();
    }

    [Fact]
    public void Even_and_odd_go_on_through_nested_outlines()
    {
        var found = Arrangement.Of(Of([.. Circle("a", 0, 0, 40), .. Circle("b", 0, 0, 30), .. Circle("c", 0, 0, 20), .. Circle("d", 5, 0, 5)]));
        found.Regions.Select(r => r.Depth).ShouldBe([0, 1, 2, 3]);
        found.Choose([]).Value.Sum(r => r.Area).ShouldBe(Math.PI * (1600 - 900 + 400 - 25), 1e-8);
    }

    [Fact]
    public void Crossing_circles_make_a_lens_and_two_crescents_with_names_of_their_own()
    {
        var found = Arrangement.Of(Of([.. Circle("a", 0, 0, 10), .. Circle("b", 12, 0, 10)]));
        found.Regions.Select(r => r.Key).ShouldBe(["+a +b", "+a -b", "+b -a"], ignoreOrder: true);
        var half = Math.Acos(0.6);
        var lens = 2 * ((100 * half) - (60 * Math.Sin(half)));
        found.Regions.Single(r => r.Key == "+a +b").Area.ShouldBe(lens, 1e-9);
        found.Join(found.Regions).Single().Area.ShouldBe((200 * Math.PI) - lens, 1e-9);
    }

    [Fact]
    public void Joining_neighbours_takes_the_wall_between_them_away()
    {
        var found = Arrangement.Of(Of([.. Box("r", 0, 0, 30, 20), P("p", 10, -5), P("q", 10, 25), L("cut", "p", "q")]));
        found.Regions.Length.ShouldBe(2);
        found.OpenEnds.Select(o => o.Entity).ShouldBe(["cut", "cut"]);
        var joined = found.Join(found.Regions).Single();
        joined.Area.ShouldBe(600, 1e-9);
        joined.Outer.ShouldNotContain(e => e.Entity == "cut");
    }

    [Fact]
    public void Regions_keep_their_names_when_sizes_change()
    {
        string[] Keys(double r) => [.. Arrangement.Of(Of([.. Box("r", 0, 0, 80, 50), .. Circle("k", 40, 25, r)])).Regions.Select(x => x.Key)];
        Keys(10).ShouldBe(Keys(20));
    }

    [Fact]
    public void A_gap_is_reported_with_its_place_and_width()
    {
        var found = Arrangement.Of(Of([P("a", 0, 0), P("b", 10, 0), P("c", 10, 10), P("d", 0, 0.25), L("ab", "a", "b"), L("bc", "b", "c"), L("cd", "c", "d")]));
        found.Regions.ShouldBeEmpty();
        found.OpenEnds.Min(o => o.Gap).ShouldBe(0.25, 1e-9);
        found.Choose([]).Refusal!.Message.ShouldContain("0.25 mm");
    }

    [Fact]
    public void Construction_bounds_nothing_and_overlaps_are_told()
    {
        Arrangement.Of(Of([.. Box("r", 0, 0, 9, 9).Select(e => e with { Construction = true })])).Regions.ShouldBeEmpty();
        Arrangement.Of(Of([P("a", 0, 0), P("b", 10, 0), P("c", 4, 0), P("d", 20, 0), L("m", "a", "b"), L("n", "c", "d")])).Overlaps.ShouldBe([("m", "n", new Vec2(7, 0))]);
    }

    [Fact]
    public void A_lost_region_names_what_there_is() =>
        Arrangement.Of(Of(Circle("a", 0, 0, 10))).Choose(["+gone"]).Refusal!.Message.ShouldContain("+a");

    [Fact]
    public void A_slot_of_lines_and_arcs_is_one_region()
    {
        var sketch = Of(
            [
                P("a", 0, 0), P("b", 20, 0), P("p1", 0, 4), P("p2", 0, -4), P("p3", 20, -4), P("p4", 20, 4),
                new ArcEntity("l", "a", "p1", "p2", 4), new ArcEntity("r", "b", "p3", "p4", 4), L("m", "p2", "p3"), L("n", "p4", "p1"),
            ]);
        Arrangement.Of(sketch).Regions.Single().Area.ShouldBe((20 * 8) + (16 * Math.PI), 1e-9);
    }
}
