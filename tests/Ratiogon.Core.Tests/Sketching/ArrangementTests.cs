using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Sketches.Shapes;
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
        var found = Arrangement.Of(
            Of([.. Circle("a", 0, 0, 40), .. Circle("b", 0, 0, 30), .. Circle("c", 0, 0, 20), .. Circle("d", 5, 0, 5)])
        );
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
        string[] Keys(double r) =>
            [.. Arrangement.Of(Of([.. Box("r", 0, 0, 80, 50), .. Circle("k", 40, 25, r)])).Regions.Select(x => x.Key)];
        Keys(10).ShouldBe(Keys(20));
    }

    [Fact]
    public void A_gap_is_reported_with_its_place_and_width()
    {
        var found = Arrangement.Of(
            Of([P("a", 0, 0), P("b", 10, 0), P("c", 10, 10), P("d", 0, 0.25), L("ab", "a", "b"), L("bc", "b", "c"), L("cd", "c", "d")])
        );
        found.Regions.ShouldBeEmpty();
        found.OpenEnds.Min(o => o.Gap).ShouldBe(0.25, 1e-9);
        found.Choose([]).Refusal!.Message.ShouldContain("0.25 mm");
    }

    [Fact]
    public void Construction_bounds_nothing_and_overlaps_are_told()
    {
        Arrangement.Of(Of([.. Box("r", 0, 0, 9, 9).Select(e => e with { Construction = true })])).Regions.ShouldBeEmpty();
        Arrangement
            .Of(Of([P("a", 0, 0), P("b", 10, 0), P("c", 4, 0), P("d", 20, 0), L("m", "a", "b"), L("n", "c", "d")]))
            .Overlaps.ShouldBe([new CurveMeeting("m", "n", new Vec2(7, 0))]);
    }

    [Fact]
    public void A_lost_region_names_what_there_is() =>
        Arrangement.Of(Of(Circle("a", 0, 0, 10))).Choose(["+gone"]).Refusal!.Message.ShouldContain("+a");

    [Fact]
    public void A_slot_of_lines_and_arcs_is_one_region()
    {
        var sketch = Of([
            P("a", 0, 0),
            P("b", 20, 0),
            P("p1", 0, 4),
            P("p2", 0, -4),
            P("p3", 20, -4),
            P("p4", 20, 4),
            new ArcEntity("l", "a", "p1", "p2", 4),
            new ArcEntity("r", "b", "p3", "p4", 4),
            L("m", "p2", "p3"),
            L("n", "p4", "p1"),
        ]);
        Arrangement.Of(sketch).Regions.Single().Area.ShouldBe((20 * 8) + (16 * Math.PI), 1e-9);
    }

    [Fact]
    public void An_island_in_a_hole_stays_in_the_profile()
    {
        var found = Arrangement.Of(Of([.. Box("r", -25, -25, 25, 25), .. Circle("a", 0, 0, 20), .. Circle("b", 0, 0, 8)]));
        var profile = found.Join(found.Choose([]).Value);
        profile.Sum(r => r.Area).ShouldBe(2500 - (400 * Math.PI) + (64 * Math.PI), 1e-9);
        var chosen = found.Regions.Single(r => r.Key == "+b");
        found.Join([chosen]).Single().Area.ShouldBe(64 * Math.PI, 1e-9);
        found
            .Join([found.Regions.Single(r => r.Key == "+a")])
            .Single()
            .Area.ShouldBe(336 * Math.PI, 1e-9, "a chosen region is that face alone");
    }

    [Fact]
    public void Six_nested_circles_keep_every_other_ring()
    {
        var found = Arrangement.Of(Of([.. Enumerable.Range(1, 6).SelectMany(i => Circle($"c{i}", 0, 0, 10 * i))]));
        found.Join(found.Choose([]).Value).Sum(r => r.Area).ShouldBe(Math.PI * (3600 - 2500 + 1600 - 900 + 400 - 100), 1e-8);
    }

    [Theory]
    [InlineData(40)]
    [InlineData(39.99999999)]
    public void A_hole_that_touches_the_outline_in_a_point_is_a_hole(double y)
    {
        var found = Arrangement.Of(Of([.. Box("r", 0, 0, 80, 50), .. Circle("k", 40, y, 10)]));
        found.Join(found.Choose([]).Value).Sum(r => r.Area).ShouldBe(4000 - (100 * Math.PI), 1e-6);
    }

    [Fact]
    public void A_hole_that_touches_a_corner_and_a_square_within_are_holes()
    {
        var found = Arrangement.Of(
            Of([
                .. Box("r", 0, 0, 80, 50),
                P("b", 30, 10),
                P("c", 12, 34),
                P("o", 80, 50),
                L("m", "r.p1", "b"),
                L("n", "b", "c"),
                L("q", "c", "r.p1"),
            ])
        );
        found.Join(found.Choose([]).Value).Sum(r => r.Area).ShouldBe(4000 - (((30 * 34) - (10 * 12)) / 2.0), 1e-9);
    }

    [Fact]
    public void A_circle_that_touches_an_ellipse_from_inside_is_a_hole_in_it()
    {
        SketchEntity[] ellipse = [P("e", 0, 0), P("f", 30, 0), P("g", 0, 20), new EllipseEntity("k", "e", "f", "g")];
        foreach (var r in new[] { 5.0, 12, 13 })
        {
            var found = Arrangement.Of(Of([.. ellipse, .. Circle("h", 0, 20 - r, r)]));
            found.Join(found.Choose([]).Value).Sum(x => x.Area).ShouldBe(Math.PI * (600 - (r * r)), 1e-5, $"radius {r}");
            var end = Arrangement.Of(Of([.. ellipse, .. Circle("h", 30 - r, 0, r)]));
            if (r < 400.0 / 30)
            {
                end.Join(end.Choose([]).Value).Sum(x => x.Area).ShouldBe(Math.PI * (600 - (r * r)), 1e-5, $"radius {r} at the end");
            }
        }
    }

    [Fact]
    public void Two_hundred_overlapping_circles_cover_what_their_rims_say()
    {
        var random = new Random(4);
        var circles = Enumerable
            .Range(0, 200)
            .Select(i => (At: new Vec2(random.NextDouble() * 100, random.NextDouble() * 60), R: 2 + (6 * random.NextDouble())))
            .ToList();
        var found = Arrangement.Of(Of([.. circles.SelectMany((c, i) => Circle($"c{i}", c.At.X, c.At.Y, c.R))]));

        bool Covered(Region region)
        {
            var edge = region.Outer[0];
            var beside = edge.Inside(0.5) + ((edge.Inside(0.5001) - edge.Inside(0.5)).Unit.Left * 1e-7);
            return circles.Any(c => c.At.DistanceTo(beside) < c.R);
        }

        // Every stretch of a rim outside all other circles bounds what they cover together.
        var area = 0.0;
        foreach (var (c, r) in circles)
        {
            var covered = new List<(double From, double To)>();
            foreach (var (d, s) in circles.Where(o => o.At != c))
            {
                var apart = c.DistanceTo(d);
                if (apart + r <= s)
                {
                    covered.Add((0, 2 * Math.PI));
                }
                else if (apart < r + s && apart + s > r)
                {
                    var half = Math.Acos(((r * r) + (apart * apart) - (s * s)) / (2 * r * apart));
                    var from = (d - c).Angle - half;
                    from -= 2 * Math.PI * Math.Floor(from / (2 * Math.PI));
                    covered.AddRange(
                        from + (2 * half) <= 2 * Math.PI
                            ? [(from, from + (2 * half))]
                            : new[] { (from, 2 * Math.PI), (0.0, from + (2 * half) - (2 * Math.PI)) }
                    );
                }
            }

            var at = 0.0;
            foreach (var (from, to) in covered.Order().Append((2 * Math.PI, 2 * Math.PI)))
            {
                if (from > at)
                {
                    area += ((r * r * (from - at)) + (r * c.Cross(Vec2.Polar(from, 1) - Vec2.Polar(at, 1)))) / 2;
                }

                at = Math.Max(at, to);
            }
        }

        // Faces that lie in no circle are pockets between them.
        found.Join(found.Regions.Where(Covered)).Sum(x => x.Area).ShouldBe(area, 1e-9 * area);
    }

    /// <summary>Two ellipses that cross like a plus: four ears, two and two bounded by the same sides of the same curves.</summary>
    [Fact]
    public void Regions_that_the_same_sides_bound_have_numbers_and_a_key_that_fits_several_is_refused_with_them()
    {
        var found = Arrangement.Of(
            Of([
                P("m", 0, 0),
                P("a1", 20, 0),
                P("a2", 0, 8),
                P("b1", 0, 20),
                P("b2", -8, 0),
                new EllipseEntity("a", "m", "a1", "a2"),
                new EllipseEntity("b", "m", "b1", "b2"),
            ])
        );
        found.Regions.Select(r => r.Key).ShouldBeUnique();
        found.Regions.Length.ShouldBe(5);
        foreach (var region in found.Regions)
        {
            found.Choose([region.Key]).Value.Single().ShouldBe(region);
        }

        var ears = found
            .Regions.Where(r => r.Key.EndsWith("#1", StringComparison.Ordinal) || r.Key.EndsWith("#2", StringComparison.Ordinal))
            .ToList();
        ears.Count.ShouldBe(4);
        found.Choose([ears[0].Key[..^3]]).Refusal!.Code.ShouldBe("region.several");
        var several = found.Choose(["a b"]).Refusal!;
        several.Code.ShouldBe("region.several");
        several.Message.ShouldContain(ears[0].Key);
    }

    [Fact]
    public void What_was_found_for_a_sketch_is_kept_with_it_and_read_from_many_threads()
    {
        var sketch = Of([.. Enumerable.Range(0, 12).SelectMany(i => Circle($"k{i}", 12 * i, 0, 10)), .. Box("r", -30, -4, 170, 4)]);
        var alone = Arrangement.Of(sketch with { Entities = [.. sketch.Entities] });
        var joined = alone.Join(alone.Regions).Sum(r => r.Area);
        Parallel.For(0, 64, _ =>
        {
            var found = Arrangement.Of(sketch);
            found.ShouldBeSameAs(Arrangement.Of(sketch));
            found.Join(found.Regions).Sum(r => r.Area).ShouldBe(joined, 1e-9);
        });
        Arrangement.Of(sketch with { Entities = sketch.Entities.RemoveRange(0, 2) }).Regions.Length.ShouldNotBe(alone.Regions.Length);
    }
}
