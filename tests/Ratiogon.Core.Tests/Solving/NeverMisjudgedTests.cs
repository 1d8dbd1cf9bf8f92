using System.Diagnostics;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>Cases with answers in closed form: what ties move, freedoms in special positions, sets that are the smallest, chains from
/// rough drawings.</summary>
public class NeverMisjudgedTests
{
    private static double Length(Sketch s, string line) =>
        s.At(((LineEntity)s.Find(line)!).From).DistanceTo(s.At(((LineEntity)s.Find(line)!).To));

    [Theory]
    [InlineData("parallel")]
    [InlineData("perpendicular")]
    [InlineData("horizontal")]
    [InlineData("vertical")]
    public void A_direction_turns_lines_and_shrinks_none(string kind)
    {
        for (var deg = 3; deg < 360; deg += 7)
        {
            var to = Vec2.Polar(deg * Math.PI / 180, 100);
            var sketch = Of(
                [P("a", 0, 0), P("b", 14, 0), P("c", 5, 30), P("d", 5 + to.X, 30 + to.Y), L("m", "a", "b"), L("n", "c", "d")],
                [K("h", "horizontal", "m")]
            );
            var done = Edit(sketch, new SketchEdit { Tie = [K("k", kind, kind is "parallel" or "perpendicular" ? ["m", "n"] : ["n"])] });
            done.Refusal?.Message.ShouldBeNull($"{kind} at {deg} deg");
            Length(done.Value, "m").ShouldBe(14, 1e-6, $"{kind} at {deg} deg");
            Length(done.Value, "n").ShouldBe(100, 1e-6, $"{kind} at {deg} deg");
        }
    }

    [Fact]
    public void A_slots_free_axis_is_levelled_from_any_heading()
    {
        for (var deg = 2; deg < 360; deg += 8)
        {
            var slot = Slots.Straight("s", Vec2.Zero, Vec2.Polar(deg * Math.PI / 180, 30), 4);
            var sketch = Edit(Sketch.Empty, slot).Value;
            var axis = sketch.Entities.OfType<LineEntity>().First(l => l.Construction);
            var done = Edit(sketch, new SketchEdit { Tie = [K("k", "horizontal", axis.Id)] });
            done.Refusal?.Message.ShouldBeNull($"at {deg} deg");
            Length(done.Value, axis.Id).ShouldBe(30, 1e-5, $"at {deg} deg");
            done.Value.Entities.OfType<ArcEntity>().ShouldAllBe(a => Math.Abs(a.Radius - 4) < 1e-5);
        }
    }

    [Fact]
    public void Symmetry_as_the_first_rule_is_taken_for_any_lines()
    {
        var (random, far) = (new Random(5), 0);
        for (var n = 0; n < 300; n++)
        {
            Vec2 At() => new((random.NextDouble() * 100) - 50, (random.NextDouble() * 80) - 40);
            var points = Enumerable.Range(0, 6).Select(i => (SketchEntity)new PointEntity($"p{i}", At())).ToList();
            var sketch = Of([
                .. points,
                L("l", "p0", "p1"),
                L("m", "p2", "p3"),
                new LineEntity("axis", "p4", "p5") { Construction = true },
            ]);
            var lengths = new[] { Length(sketch, "l"), Length(sketch, "m") };
            var done = Edit(sketch, new SketchEdit { Tie = [K("k", "symmetric", "l", "m", "axis")] });
            done.Refusal?.Message.ShouldBeNull($"{n}");

            // Both must become one length, between what they were or near it; a few stretch further.
            far += Length(done.Value, "l") > 0.5 * lengths.Min() && Length(done.Value, "l") < 1.3 * lengths.Max() ? 0 : 1;
        }

        far.ShouldBeLessThan(9);
    }

    [Fact]
    public void What_is_bound_stays_and_what_is_loose_comes()
    {
        var rectangle = ShapeCatalog
            .RectangleByCorners("r", new Vec2(10, 10), new Vec2(50, 40))
            .With(ShapeCatalog.Placed("r", "r.p1", new Vec2(10, 10)));
        var sketch = Edit(
            Sketch.Empty,
            rectangle with
            {
                Add = [.. rectangle.Add, P("c", 80, 70), new CircleEntity("k", "c", 5), P("a", 60, 5), P("b", 90, -5), L("m", "a", "b")],
            }
        ).Value;
        var done = Edit(sketch, new SketchEdit { Tie = [K("t", "coincident", "c", "r.p3")] }).Value;
        done.At("r.p3").DistanceTo(sketch.At("r.p3")).ShouldBeLessThan(0.05);
        var joined = Edit(sketch, new SketchEdit { Tie = [K("t", "coincident", "a", "r.p2")] }).Value;
        joined.At("r.p2").DistanceTo(sketch.At("r.p2")).ShouldBeLessThan(0.05);
        Length(joined, "m").ShouldBe(Length(sketch, "m"), 1e-6);
    }

    [Fact]
    public void Circles_about_one_centre_do_not_become_one_to_be_tangent()
    {
        var sketch = Of(
            [P("c", 0, 0), P("d", 0, 0), new CircleEntity("k", "c", 16.3), new CircleEntity("l", "d", 15.7)],
            [K("j", "coincident", "c", "d")]
        );
        var refused = Edit(sketch, new SketchEdit { Tie = [K("t", "tangent", "k", "l")] });
        refused.Done.ShouldBeFalse();
        var free = Of([P("c", 0, 0), P("d", 0.01, 0), new CircleEntity("k", "c", 16), new CircleEntity("l", "d", 9)]);
        var touched = Edit(free, new SketchEdit { Tie = [K("t", "tangent", "k", "l")] }).Value;
        touched
            .At("c")
            .DistanceTo(touched.At("d"))
            .ShouldBe(((CircleEntity)touched.Find("k")!).Radius - ((CircleEntity)touched.Find("l")!).Radius, 1e-9);
        ((CircleEntity)touched.Find("k")!).Radius.ShouldBe(16, 1e-4);
    }

    [Fact]
    public void A_middle_on_an_arc_where_the_line_is_tangent_is_met_exactly()
    {
        var sketch = Of(
            [P("c", 0, 0), new CircleEntity("k", "c", 11), P("a", -9, 9), P("b", 9, 13), L("m", "a", "b"), P("p", 0, 11)],
            [K("f", "fixed", "c"), K("mid", "midpoint", "p", "m"), K("on", "on-curve", "p", "k")]
        );
        var done = Edit(sketch, new SketchEdit { Tie = [K("t", "tangent", "m", "k")] }).Value;
        var (u, r) = ((done.At("b") - done.At("a")).Unit, ((CircleEntity)done.Find("k")!).Radius);
        Math.Abs(u.Dot(done.At("p"))).ShouldBeLessThan(1e-9);
        done.At("p").Length.ShouldBe(r, 1e-9);
    }

    [Theory]
    [InlineData(0, 1)]
    [InlineData(10_000, 1)]
    [InlineData(900_000, 1)]
    [InlineData(0, 1e-3)]
    [InlineData(0, 1e3)]
    public void A_small_circle_beside_points_in_a_row_changes_nothing_but_its_own_three(double far, double size)
    {
        SketchEntity[] row = [P("a", far, 0), P("b", far + (50 * size), 0), P("c", far + (100 * size), 0)];
        SketchDimension[] sizes =
        [
            D("d1", "distance", $"{50 * size} mm", "a", "b"),
            D("d2", "distance", $"{50 * size} mm", "b", "c"),
            D("d3", "distance", $"{100 * size} mm", "a", "c"),
        ];
        var alone = Freedoms.Of(Of(row, [], sizes));
        alone.Count.ShouldBe(3);
        alone.AtTheseSizes.ShouldBe(3);
        alone.OfDrawn.ShouldBeFalse();
        var beside = Freedoms.Of(Of([.. row, P("o", far + (20 * size), 30 * size), new CircleEntity("k", "o", size)], [], sizes));
        beside.Count.ShouldBe(6);
        beside.OfDrawn.ShouldBeFalse();
        Witness.Of(Of([.. row, P("o", far + (20 * size), 30 * size), new CircleEntity("k", "o", size)], [], sizes)).ShouldNotBeNull();
    }

    [Fact]
    public void Three_equal_cranks_move_at_these_sizes_and_could_not_in_general()
    {
        SketchEntity[] entities =
        [
            P("o1", 0, 0),
            P("o2", 30, 0),
            P("o3", 60, 0),
            P("a", 6, 8),
            P("b", 36, 8),
            P("c", 66, 8),
            L("k1", "o1", "a"),
            L("k2", "o2", "b"),
            L("k3", "o3", "c"),
            L("bar", "a", "c"),
        ];
        var sketch = Of(
            entities,
            [K("f", "fixed", "o1", "o2", "o3"), K("on", "on-curve", "b", "bar")],
            [
                D("d1", "distance", "10 mm", "k1"),
                D("d2", "distance", "10 mm", "k2"),
                D("d3", "distance", "10 mm", "k3"),
                D("d4", "distance", "30 mm", "a", "b"),
                D("d5", "distance", "60 mm", "bar"),
            ]
        );
        var freedoms = Freedoms.Of(sketch);
        freedoms.Count.ShouldBe(0);
        freedoms.AtTheseSizes.ShouldBe(1);
        freedoms.OfEntity["bar"].ShouldBe(1);
        freedoms.Remark!.ShouldStartWith("Could not move in general");
        var other = sketch with { Dimensions = [.. sketch.Dimensions.Select(d => d.Id == "d2" ? d with { Value = "10.4 mm" } : d)] };
        if (Solve(other) is { Solved: true } solved)
        {
            Freedoms.Of(solved.Sketch).AtTheseSizes.ShouldBe(0);
        }
    }

    /// <summary>Rules that have nothing to do with a triangle at the origin.</summary>
    private static SketchEdit Others(int count)
    {
        var edit = new SketchEdit();
        for (var i = 0; i < count; i++)
        {
            edit = edit.With(
                new SketchEdit
                {
                    Add = [P($"u{i}", 20 * i, 100), P($"v{i}", (20 * i) + 10, 108), L($"w{i}", $"u{i}", $"v{i}")],
                    Size = [D($"x{i}", "distance", "13 mm", $"w{i}")],
                }
            );
        }

        return edit;
    }

    [Theory]
    [InlineData(0)]
    [InlineData(64)]
    [InlineData(400)]
    public void A_triangle_that_cannot_close_names_all_its_sides_whatever_stands_beside_it(int others)
    {
        var sketch = Edit(Triangle(D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "11 mm", "bc")), Others(others)).Value;
        var watch = Stopwatch.StartNew();
        var refused = Edit(sketch, new SketchEdit { Size = [D("d3", "distance", "30 mm", "ca")] }).Refusal!;
        refused.Code.ShouldBe("sketch.clash");
        refused.Involved.ShouldBe(["d1", "d2"], ignoreOrder: true);
        watch.Elapsed.TotalSeconds.ShouldBeLessThan(5);
    }

    [Fact]
    public void Angles_that_do_not_add_up_leave_a_length_out_of_it()
    {
        var sketch = Triangle(
            D("a1", "angle", "120 deg", "ab", "bc"),
            D("a2", "angle", "120 deg", "bc", "ca"),
            D("a3", "angle", "110 deg", "ca", "ab"),
            D("d", "distance", "12 mm", "ab")
        );
        Conflicts.Find(sketch, Values(sketch))!.Rules.Select(r => r.Id).ShouldBe(["a1", "a2", "a3"], ignoreOrder: true);
    }

    [Fact]
    public void Concurrent_medians_follow_from_six_rules()
    {
        SketchEntity[] entities =
        [
            P("a", 0, 0),
            P("b", 30, 2),
            P("c", 8, 24),
            P("ma", 19, 13),
            P("mb", 4, 12),
            P("mc", 15, 1),
            L("la", "a", "ma"),
            L("lb", "b", "mb"),
            L("lc", "c", "mc"),
            P("g", 38.0 / 3, 26.0 / 3),
        ];
        SketchConstraint[] ties =
        [
            K("m1", "midpoint", "ma", "b", "c"),
            K("m2", "midpoint", "mb", "c", "a"),
            K("m3", "midpoint", "mc", "a", "b"),
            K("g1", "on-curve", "g", "la"),
            K("g2", "on-curve", "g", "lb"),
        ];
        var refused = Edit(Of(entities, ties), new SketchEdit { Tie = [K("g3", "on-curve", "g", "lc")] }).Refusal!;
        refused.Code.ShouldBe("sketch.redundant");
        refused.Involved.ShouldBe(["m1", "m2", "m3", "g1", "g2"], ignoreOrder: true);
        Diagnosis.AllRedundant(Of(entities, [.. ties, K("g3", "on-curve", "g", "lc")])).Single().Rule.Id.ShouldBe("g3");
    }

    [Fact]
    public void A_line_both_level_and_upright_names_the_two()
    {
        var sketch = Of(
            [P("a", 0, 0), P("b", 10, 1), L("m", "a", "b"), P("c", 4, 9), L("n", "b", "c")],
            [K("h", "horizontal", "m"), K("v", "vertical", "m"), K("z", "vertical", "n")]
        );
        Conflicts.Find(sketch, Values(sketch))!.Rules.Select(r => r.Id).ShouldBe(["h", "v"], ignoreOrder: true);
    }

    [Fact]
    public void Three_right_angles_of_three_lines_in_a_ring_clash()
    {
        var sketch = Of(
            [P("a", 0, 0), P("b", 10, 0.5), P("c", 9, 9), L("ab", "a", "b"), L("bc", "b", "c"), L("ca", "c", "a")],
            [K("k1", "perpendicular", "ab", "bc"), K("k2", "perpendicular", "bc", "ca"), K("k3", "perpendicular", "ca", "ab")]
        );
        var conflict = Conflicts.Find(sketch, Values(sketch))!.Rules.Select(r => r.Id).ToList();
        conflict.Count.ShouldBe(2, "two right angles in a triangle leave no third side");
    }

    [Fact]
    public void A_clash_among_a_thousand_rules_is_found_in_time()
    {
        var sketch = Edit(Triangle(D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "11 mm", "bc")), Others(330)).Value;
        var whole = sketch with
        {
            Dimensions = sketch.Dimensions.Add(D("d3", "distance", "30 mm", "ca")),
            Constraints = [.. Enumerable.Range(1, 329).Select(i => K($"j{i}", "horizontal", $"u{i - 1}", $"u{i}"))],
        };
        Conflicts.Find(whole, Values(whole));
        var watch = Stopwatch.StartNew();
        Conflicts.Find(whole, Values(whole))!.Rules.Select(r => r.Id).ShouldBe(["d1", "d2", "d3"], ignoreOrder: true);
        watch.Elapsed.TotalSeconds.ShouldBeLessThan(3);
    }

    /// <summary>Bars end to end, each by its length and its angle to the one before, drawn roughly.</summary>
    internal static Sketch Bars(int count, double turn, double rough)
    {
        var random = new Random(count);
        var (entities, sizes) = (new List<SketchEntity> { P("p0", 0, 0) }, new List<SketchDimension>());
        var (at, heading) = (Vec2.Zero, 0.0);
        for (var i = 1; i <= count; i++)
        {
            heading += i > 1 ? turn * (i % 2 == 0 ? 1 : -0.6) * (1 + (rough * (random.NextDouble() - 0.5))) : 0;
            at += Vec2.Polar(heading, 10 * (1 + (rough * (random.NextDouble() - 0.5))));
            entities.Add(P($"p{i}", at.X, at.Y));
            entities.Add(L($"l{i}", $"p{i - 1}", $"p{i}"));
            sizes.Add(D($"d{i}", "distance", "10 mm", $"l{i}"));
            if (i > 1)
            {
                sizes.Add(D($"a{i}", "angle", $"{turn * (i % 2 == 0 ? 1 : 0.6) * 180 / Math.PI:0.######} deg", $"l{i - 1}", $"l{i}"));
            }
        }

        return Of(entities, [K("f", "coincident", "origin", "p0"), K("h", "horizontal", "l1")], sizes);
    }

    [Theory]
    [InlineData(400, 0.3)]
    [InlineData(1000, 0.5)]
    [InlineData(3000, 0.3)]
    public void A_chain_of_bars_from_a_rough_drawing_is_solved(int count, double rough)
    {
        var sketch = Bars(count, 0.35, rough);
        var watch = Stopwatch.StartNew();
        var solved = Solved(sketch);
        watch.Elapsed.TotalSeconds.ShouldBeLessThan(6);
        var (at, heading) = (Vec2.Zero, (solved.At("p1") - solved.At("p0")).Angle);
        for (var i = 1; i <= count; i++)
        {
            heading += i > 1 ? 0.35 * (i % 2 == 0 ? 1 : -0.6) : 0;
            at += Vec2.Polar(heading, 10);
            solved.At($"p{i}").DistanceTo(at).ShouldBeLessThan(1e-6 * count);
        }

        Freedoms.Of(solved).Count.ShouldBe(0);
    }

    [Fact]
    public void A_chain_that_cannot_reach_is_told_quickly_with_its_set()
    {
        var entities = Enumerable.Range(0, 121).Select(i => P($"p{i}", i, 2 * Math.Sin(i))).ToList();
        var sizes = Enumerable.Range(0, 120).Select(i => D($"d{i}", "distance", "1 mm", $"p{i}", $"p{i + 1}")).ToList();
        var sketch = Of(
            entities,
            [K("f", "coincident", "origin", "p0")],
            [.. sizes, D("reach", "horizontal-distance", "150 mm", "origin", "p120")]
        );
        var watch = Stopwatch.StartNew();
        Solve(sketch).Solved.ShouldBeFalse();
        var conflict = Conflicts.Find(sketch, Values(sketch))!;
        conflict.Rules.Count.ShouldBe(122);
        watch.Elapsed.TotalSeconds.ShouldBeLessThan(30);
    }
}
