using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class SketchSolverTests
{
    [Fact]
    public void A_triangle_of_three_lengths_closes()
    {
        var solved = Solved(
            Triangle(D("d1", "distance", "30 mm", "ab"), D("d2", "distance", "40 mm", "bc"), D("d3", "distance", "50 mm", "ca"))
        );
        var (a, b, c) = (solved.At("a"), solved.At("b"), solved.At("c"));
        a.DistanceTo(b).ShouldBe(30, 1e-9);
        b.DistanceTo(c).ShouldBe(40, 1e-9);
        c.DistanceTo(a).ShouldBe(50, 1e-9);
        (b - a).Cross(c - a).ShouldBe(1200, 1e-6, "the corner stays on its side");
    }

    [Fact]
    public void A_triangle_that_cannot_close_leaves_the_sketch_as_it_was()
    {
        var sketch = Triangle(D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "10 mm", "bc"), D("d3", "distance", "30 mm", "ca"));
        var report = Solve(sketch);
        report.End.ShouldBe(SolveEnd.Unmet);
        report.Sketch.ShouldBe(sketch);
        report.Unmet.Select(o => o.Id).ShouldBe(["d1", "d2", "d3"], ignoreOrder: true);
    }

    [Theory]
    [InlineData("parallel", 0)]
    [InlineData("perpendicular", 90)]
    public void Directions_hold_between_oblique_lines(string kind, double degrees)
    {
        var solved = Solved(
            Of([P("a", 0, 0), P("b", 10, 3), P("c", 2, 5), P("d", 9, 12), L("m", "a", "b"), L("n", "c", "d")], [K("k", kind, "m", "n")])
        );
        var (u, v) = ((solved.At("b") - solved.At("a")).Unit, (solved.At("d") - solved.At("c")).Unit);
        (degrees == 0 ? u.Cross(v) : u.Dot(v)).ShouldBe(0, 1e-10);
    }

    [Fact]
    public void Angles_keep_the_sector_in_which_the_lines_lie()
    {
        var solved = Solved(
            Of(
                [P("a", 10, 0), P("o", 0, 0), P("b", -3, -6), L("m", "o", "a"), L("n", "o", "b")],
                [K("f", "fixed", "a", "o")],
                [D("t", "angle", "100 deg", "m", "n")]
            )
        );
        var b = solved.At("b");
        b.Y.ShouldBeLessThan(0);
        (b.Angle * 180 / Math.PI).ShouldBe(-100, 1e-8);
    }

    [Fact]
    public void Points_come_onto_circles_and_lines()
    {
        var solved = Solved(
            Of(
                [P("c", 0, 0), new CircleEntity("rim", "c", 10), P("p", 4, 5), P("q", 7, 1), P("a", -5, 2), P("b", 9, 6), L("m", "a", "b")],
                [K("k1", "on-curve", "p", "rim"), K("k2", "on-curve", "q", "m"), K("f", "fixed", "c", "a", "b")],
                [D("r", "diameter", "24 mm", "rim")]
            )
        );
        solved.At("p").DistanceTo(solved.At("c")).ShouldBe(12, 1e-9);
        solved.At("q").FootOn(solved.At("a"), solved.At("b")).DistanceTo(solved.At("q")).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Equal_and_midpoint_hold()
    {
        var solved = Solved(
            Of(
                [
                    P("a", 0, 0),
                    P("b", 9, 2),
                    P("c", 0, 9),
                    P("d", 3, 15),
                    P("m", 4, 4),
                    L("ab", "a", "b"),
                    L("cd", "c", "d"),
                    new CircleEntity("k", "m", 3),
                    P("n", 1, 1),
                    new CircleEntity("l", "n", 5),
                ],
                [K("k1", "equal", "ab", "cd"), K("k2", "midpoint", "m", "ab"), K("k3", "equal", "k", "l"), K("k4", "concentric", "k", "l")],
                [D("d1", "radius", "4 mm", "k")]
            )
        );
        solved.At("a").DistanceTo(solved.At("b")).ShouldBe(solved.At("c").DistanceTo(solved.At("d")), 1e-9);
        ((solved.At("a") + solved.At("b")) / 2).DistanceTo(solved.At("m")).ShouldBe(0, 1e-9);
        ((CircleEntity)solved.Find("l")!).Radius.ShouldBe(4);
        solved.At("m").ShouldBe(solved.At("n"));
    }

    [Fact]
    public void An_arc_keeps_its_ends_on_its_circle_and_its_sweep()
    {
        var solved = Solved(
            Of(
                [P("c", 0, 0), P("a", 10, 0), P("b", 0, 10), new ArcEntity("arc", "c", "a", "b", 10)],
                [K("f", "fixed", "c"), K("h", "horizontal", "c", "a"), K("v", "vertical", "c", "b")],
                [D("r", "radius", "7 mm", "arc")]
            )
        );
        solved.At("a").DistanceTo(new Vec2(7, 0)).ShouldBe(0, 1e-9);
        solved.At("b").DistanceTo(new Vec2(0, 7)).ShouldBe(0, 1e-9);
        Arcs.Sweep(solved, (ArcEntity)solved.Find("arc")!).ShouldBe(Math.PI / 2, 1e-9);
    }

    [Fact]
    public void A_point_keeps_its_side_of_a_line_when_the_distance_changes()
    {
        var solved = Solved(
            Of(
                [P("a", 0, 0), P("b", 10, 4), P("p", 6, -3), L("m", "a", "b")],
                [K("f", "fixed", "a", "b")],
                [D("d", "distance", "50 mm", "p", "m")]
            )
        );
        (solved.At("b") - solved.At("a")).Cross(solved.At("p")).ShouldBeLessThan(0);
    }

    [Fact]
    public void A_large_change_of_a_size_does_not_fold_a_quadrilateral()
    {
        Sketch Quad(string diagonal) =>
            Of(
                [
                    P("a", 0, 0),
                    P("b", 40, 0),
                    P("c", 45, 30),
                    P("d", -5, 28),
                    L("ab", "a", "b"),
                    L("bc", "b", "c"),
                    L("cd", "c", "d"),
                    L("da", "d", "a"),
                ],
                [K("f", "fixed", "a", "b")],
                [
                    D("d1", "distance", "30 mm", "bc"),
                    D("d2", "distance", "50 mm", "cd"),
                    D("d3", "distance", "30 mm", "da"),
                    D("d4", "distance", diagonal, "a", "c"),
                ]
            );
        var solved = Solved(Quad("66 mm"));
        foreach (var (p, q, r) in new[] { ("a", "b", "c"), ("b", "c", "d"), ("c", "d", "a"), ("d", "a", "b") })
        {
            (solved.At(q) - solved.At(p)).Cross(solved.At(r) - solved.At(q)).ShouldBeGreaterThan(0);
        }
    }

    [Fact]
    public void Parts_of_a_sketch_that_nothing_asks_to_move_stay()
    {
        var sketch = Of(
            [P("a", 0, 0), P("b", 9, 2), L("m", "a", "b"), P("c", 50, 50), P("d", 60, 52), L("n", "c", "d")],
            [],
            [D("d1", "distance", "20 mm", "m")]
        );
        var solved = Solved(sketch);
        solved.At("c").ShouldBe(new Vec2(50, 50));
        solved.At("a").DistanceTo(solved.At("b")).ShouldBe(20, 1e-9);
    }

    [Fact]
    public void Nothing_collapses_to_meet_a_constraint()
    {
        var report = Solve(Of([P("a", 0, 0), P("b", 10, 1), L("m", "a", "b")], [K("f", "fixed", "a"), K("k", "coincident", "a", "b")]));
        report.End.ShouldBe(SolveEnd.Collapsed);
        report.Sketch.At("b").ShouldBe(new Vec2(10, 1));
    }

    [Theory]
    [InlineData(5)]
    [InlineData(60)]
    public void A_chain_of_rectangles_solves_exactly(int count)
    {
        var solved = Solved(Chain(count, placed: true));
        for (var i = 1; i < count; i++)
        {
            solved.At($"r{i - 1}.p1").DistanceTo(solved.At($"r{i}.p1")).ShouldBe(32, 1e-9);
        }

        Freedoms.Of(solved).Count.ShouldBe(0);
    }

    [Fact]
    public void Random_well_constrained_chains_of_triangles_solve_to_tolerance() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[1, 25], CsCheck.Gen.Int),
            (n, seed) =>
            {
                var random = new Random(seed);
                List<SketchEntity> entities = [P("p0", 0, 0), P("p1", 10, 0)];
                List<SketchDimension> sizes = [D("d01", "distance", "10 mm", "p0", "p1")];
                for (var i = 2; i < n + 2; i++)
                {
                    var (a, b) = (((PointEntity)entities[i - 2]).At, ((PointEntity)entities[i - 1]).At);
                    var apex = ((a + b) / 2) + ((b - a).Left.Unit * ((i % 2 == 0 ? 1 : -1) * (6 + (4 * random.NextDouble()))));
                    entities.Add(P($"p{i}", apex.X, apex.Y));
                    sizes.Add(
                        D($"a{i}", "distance", $"{apex.DistanceTo(a) * (0.97 + (0.06 * random.NextDouble())):R} mm", $"p{i - 2}", $"p{i}")
                    );
                    sizes.Add(
                        D($"b{i}", "distance", $"{apex.DistanceTo(b) * (0.97 + (0.06 * random.NextDouble())):R} mm", $"p{i - 1}", $"p{i}")
                    );
                }

                var report = Solve(Of(entities, [K("f", "fixed", "p0"), K("h", "horizontal", "p0", "p1")], sizes));
                return report.Solved && report.LargestResidual <= Tolerances.Residual && Freedoms.Of(report.Sketch).Count == 0;
            },
            iter: 60
        );
}
