using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.KnownAnswers;

/// <summary>Figures whose answers are known in closed form, and theorems that make rules follow from others.</summary>
public class FiguresTests
{
    [Fact]
    public void A_heptagon_from_equal_sides_and_angles_is_regular()
    {
        const int N = 7;
        var entities = new List<SketchEntity>();
        for (var i = 0; i < N; i++)
        {
            var at = Vec2.Polar((2 * Math.PI * i / N) + (0.05 * Math.Sin(5 * i)), 10 + Math.Cos(3 * i));
            entities.Add(P($"p{i}", at.X, at.Y));
        }

        entities.AddRange(Enumerable.Range(0, N).Select(i => L($"l{i}", $"p{i}", $"p{(i + 1) % N}")));
        var ties = Enumerable.Range(1, N - 1).Select(i => K($"e{i}", "equal", "l0", $"l{i}"));
        var sizes = Enumerable
            .Range(0, N - 3)
            .Select(i => D($"a{i}", "angle", "360 deg / 7", $"l{i}", $"l{i + 1}"))
            .Append(D("s", "distance", "10 mm", "l0"));
        var solved = Solved(Of(entities, ties, sizes));
        var centre = Enumerable.Range(0, N).Aggregate(Vec2.Zero, (sum, i) => sum + solved.At($"p{i}")) / N;
        var round = 5 / Math.Sin(Math.PI / N);
        Enumerable.Range(0, N).ShouldAllBe(i => Math.Abs(solved.At($"p{i}").DistanceTo(centre) - round) < 1e-9);
    }

    [Fact]
    public void A_four_bar_linkage_goes_round_on_one_side()
    {
        const double A = 20,
            B = 50,
            C = 40,
            G = 55;
        Sketch Drawn(double crank)
        {
            var p = Vec2.Polar(crank, A);
            var (q, _) = Meet(p, B, new Vec2(G, 0), C);
            return Of(
                [
                    P("o", 0, 0),
                    P("g", G, 0),
                    P("p", p.X, p.Y),
                    P("q", q.X, q.Y),
                    L("crank", "o", "p"),
                    L("rod", "p", "q"),
                    L("rocker", "g", "q"),
                    L("ground", "o", "g"),
                ],
                [K("f", "fixed", "o", "g")],
                [
                    D("a", "distance", $"{A} mm", "crank"),
                    D("b", "distance", $"{B} mm", "rod"),
                    D("c", "distance", $"{C} mm", "rocker"),
                    D("t", "horizontal-distance", $"{Math.Abs(p.X)} mm", "o", "p"),
                ]
            );
        }

        var sketch = Drawn(0.3);
        var drag = new DragSession(
            sketch,
            SketchValues
                .Of(sketch with { Dimensions = sketch.Dimensions.RemoveAll(d => d.Id == "t") }, Core.Quantities.ParameterValues.None)
                .Value,
            "p",
            sketch.At("p")
        );
        for (var i = 1; i <= 360; i++)
        {
            var at = Vec2.Polar(0.3 + (2 * Math.PI * i / 360), A);
            drag.MoveTo(at).ShouldBeTrue();
            var now = drag.Current();
            now.At("p").DistanceTo(at).ShouldBeLessThan(1e-4);
            var (q, _) = Meet(now.At("p"), B, new Vec2(G, 0), C);
            now.At("q").DistanceTo(q).ShouldBeLessThan(1e-8, "the rocker stays on its side over a full turn");
        }
    }

    private static (Vec2 Above, Vec2 Below) Meet(Vec2 a, double r, Vec2 b, double s)
    {
        var d = b - a;
        var along = ((r * r) - (s * s) + d.Dot(d)) / (2 * d.Length);
        var foot = a + (d.Unit * along);
        var up = d.Unit.Left * Math.Sqrt((r * r) - (along * along));
        return (foot + up, foot - up);
    }

    [Fact]
    public void A_slider_crank_follows_its_angle_over_a_full_turn()
    {
        const double R = 15,
            L0 = 40;
        var start = R * Math.Cos(0.2) + Math.Sqrt((L0 * L0) - Math.Pow(R * Math.Sin(0.2), 2));
        var sketch = Of(
            [P("o", 0, 0), P("p", R * Math.Cos(0.2), R * Math.Sin(0.2)), P("s", start, 0), L("crank", "o", "p"), L("rod", "p", "s")],
            [K("f", "coincident", "origin", "o"), K("h", "on-curve", "s", "x-axis")],
            [D("r", "distance", $"{R} mm", "crank"), D("l", "distance", $"{L0} mm", "rod")]
        );
        var drag = new DragSession(sketch, SketchValues.Of(sketch, Core.Quantities.ParameterValues.None).Value, "p", sketch.At("p"));
        for (var i = 1; i <= 180; i++)
        {
            var t = 0.2 + (2 * Math.PI * i / 180);
            drag.MoveTo(Vec2.Polar(t, R)).ShouldBeTrue();
            var now = drag.Current();
            var crank = now.At("p");
            now.At("s").X.ShouldBe(crank.X + Math.Sqrt((L0 * L0) - (crank.Y * crank.Y)), 1e-9);
        }
    }

    [Fact]
    public void The_middles_of_a_quadrilateral_make_a_parallel_redundant()
    {
        // Varignon: the middles of the sides of any quadrilateral are a parallelogram.
        var quad = Of(
            [
                P("a", 0, 0),
                P("b", 21, 3),
                P("c", 17, 19),
                P("d", -4, 13),
                L("ab", "a", "b"),
                L("bc", "b", "c"),
                L("cd", "c", "d"),
                L("da", "d", "a"),
                P("k", 10.5, 1.5),
                P("l", 19, 11),
                P("m", 6.5, 16),
                P("n", -2, 6.5),
                L("kl", "k", "l"),
                L("mn", "m", "n"),
            ],
            [
                K("1", "midpoint", "k", "ab"),
                K("2", "midpoint", "l", "bc"),
                K("3", "midpoint", "m", "cd"),
                K("4", "midpoint", "n", "da"),
                K("5", "parallel", "kl", "mn"),
            ]
        );
        Diagnosis.DependsOn(quad, new Owner(OwnerKind.Constraint, "5"))!.Select(o => o.Id).Order().ShouldBe(["1", "2", "3", "4"]);
        Freedoms.Of(quad).Count.ShouldBe(8);
    }

    [Fact]
    public void The_third_altitude_goes_through_the_meeting_of_the_others()
    {
        var (a, b, c) = (new Vec2(0, 0), new Vec2(20, 2), new Vec2(7, 15));
        var h = Meeting(a, c - b, b, c - a);
        var sketch = Of(
            [
                P("a", a.X, a.Y),
                P("b", b.X, b.Y),
                P("c", c.X, c.Y),
                P("h", h.X, h.Y),
                L("ab", "a", "b"),
                L("bc", "b", "c"),
                L("ca", "c", "a"),
                L("ha", "a", "h"),
                L("hb", "b", "h"),
                L("hc", "c", "h"),
            ],
            [K("1", "perpendicular", "ha", "bc"), K("2", "perpendicular", "hb", "ca"), K("3", "perpendicular", "hc", "ab")]
        );
        Diagnosis.DependsOn(sketch, new Owner(OwnerKind.Constraint, "3"))!.Select(o => o.Id).Order().ShouldBe(["1", "2"]);
        Freedoms.Of(sketch).Count.ShouldBe(6);

        static Vec2 Meeting(Vec2 p, Vec2 normal, Vec2 q, Vec2 other)
        {
            var (u, v) = (normal.Left, other.Left);
            return p + (u * ((q - p).Cross(v) / u.Cross(v)));
        }
    }

    [Fact]
    public void The_diagonals_of_a_rhombus_are_square_to_each_other_already()
    {
        var rhombus = Of(
            [
                P("a", 0, 0),
                P("b", 10, 2),
                P("c", 12, 12),
                P("d", 2, 10),
                L("ab", "a", "b"),
                L("bc", "b", "c"),
                L("cd", "c", "d"),
                L("da", "d", "a"),
                L("ac", "a", "c"),
                L("bd", "b", "d"),
            ],
            [K("1", "equal", "ab", "bc", "cd", "da"), K("2", "perpendicular", "ac", "bd")]
        );
        Diagnosis.DependsOn(rhombus, new Owner(OwnerKind.Constraint, "2"))!.Select(o => o.Id).ShouldBe(["1"]);
        var refused = Edit(
            Diagnosis.Without(rhombus, new Owner(OwnerKind.Constraint, "2")),
            new Core.Sketches.Editing.SketchEdit { Tie = [K("2", "perpendicular", "ac", "bd")] }
        );
        refused.Refusal!.Code.ShouldBe("sketch.redundant");
        refused.Refusal.Involved.ShouldBe(["1"]);
    }

    [Fact]
    public void A_truss_of_500_triangles_is_solved_and_set()
    {
        const int N = 500;
        var entities = new List<SketchEntity>();
        var sizes = new List<SketchDimension>();
        var noise = new Random(5);
        for (var i = 0; i < N + 2; i++)
        {
            entities.Add(P($"p{i}", (5 * i) + noise.NextDouble(), (i % 2 == 0 ? 0 : 8) + noise.NextDouble()));
        }

        for (var i = 0; i < N + 1; i++)
        {
            entities.Add(L($"n{i}", $"p{i}", $"p{i + 1}"));
            sizes.Add(D($"dn{i}", "distance", $"{Math.Sqrt(89):r} mm", $"n{i}"));
            if (i < N)
            {
                entities.Add(L($"s{i}", $"p{i}", $"p{i + 2}"));
                sizes.Add(D($"ds{i}", "distance", "10 mm", $"s{i}"));
            }
        }

        var truss = Of(entities, [K("o", "coincident", "origin", "p0"), K("h", "horizontal", "p0", "p2")], sizes);
        var solved = Solved(truss);
        solved.At($"p{N}").DistanceTo(new Vec2(5 * N, N % 2 == 0 ? 0 : 8)).ShouldBeLessThan(1e-6);
        Freedoms.Of(solved).Count.ShouldBe(0);
    }

    [Fact]
    public void A_chain_of_2000_rectangles_follows_one_changed_size()
    {
        var solved = Solved(Chain(2000, placed: true));
        Freedoms.Of(solved, 0).Count.ShouldBe(0);
        var changed = solved with
        {
            Dimensions = [.. solved.Dimensions.Select(d => d.Id == "r700.width" ? d with { Value = "25 mm" } : d)],
        };
        var again = Solved(changed);
        again.At("r700.p2").DistanceTo(again.At("r700.p1")).ShouldBe(25, 1e-9);
        again.At("r1999.p1").DistanceTo(solved.At("r1999.p1")).ShouldBe(0, 1e-9, "what does not depend on it does not move");
    }
}
