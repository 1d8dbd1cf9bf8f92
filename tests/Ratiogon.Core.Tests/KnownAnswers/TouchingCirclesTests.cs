using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Tests.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.KnownAnswers;

/// <summary>Circles that touch circles and lines, against closed forms.</summary>
public class TouchingCirclesTests
{
    private static void ShouldTouch(Touched of, Vec2 centre, double radius)
    {
        var d = of.Straight ? Math.Abs((centre - of.A).Dot(of.Normal)) : centre.DistanceTo(of.A);
        var gap =
            of.Straight ? d - radius
            : Math.Abs(d - (radius + of.Radius)) < Math.Abs(d - Math.Abs(radius - of.Radius)) ? d - (radius + of.Radius)
            : d - Math.Abs(radius - of.Radius);
        Math.Abs(gap).ShouldBeLessThan(1e-9 * (1 + radius + of.Radius));
    }

    [Fact]
    public void Three_circles_apart_have_all_eight_in_any_position()
    {
        var random = new Random(4711);
        for (var n = 0; n < 200; n++)
        {
            var (turn, scale, shift) = (
                random.NextDouble() * 7,
                Math.Pow(10, (random.NextDouble() * 4) - 2),
                new Vec2(random.NextDouble() - 0.5, random.NextDouble() - 0.5) * 100
            );
            Touched[] of =
            [
                .. new[] { (0.0, 0.0, 8.0), (60.0, 5.0, 10.0), (25.0, 55.0, 12.0) }.Select(c =>
                    Touched.Circle(
                        (Vec2.Polar(new Vec2(c.Item1, c.Item2).Angle + turn, new Vec2(c.Item1, c.Item2).Length) * scale) + shift,
                        c.Item3 * scale
                    )
                ),
            ];
            var found = Touching.Three(of[0], of[1], of[2]);
            found.Count.ShouldBe(8);
            foreach (var (centre, radius) in found)
            {
                foreach (var t in of)
                {
                    ShouldTouch(t, centre, radius);
                }
            }
        }
    }

    [Fact]
    public void Three_lines_have_the_incircle_and_three_excircles()
    {
        var (a, b, c) = (new Vec2(0, 0), new Vec2(14, 0), new Vec2(5, 12));
        var (ab, bc, ca) = (a.DistanceTo(b), b.DistanceTo(c), c.DistanceTo(a));
        var area = (b - a).Cross(c - a) / 2;
        var s = (ab + bc + ca) / 2;
        double[] expected = [area / s, area / (s - ab), area / (s - bc), area / (s - ca)];
        var found = Touching.Three(Touched.Line(a, b), Touched.Line(b, c), Touched.Line(c, a));
        found.Select(f => f.Radius).Order().Zip(expected.Order()).ShouldAllBe(p => Math.Abs(p.First - p.Second) < 1e-9);
        found.Count.ShouldBe(4);
    }

    [Theory]
    [InlineData(2, 1, 8)]
    [InlineData(1, 2, 8)]
    public void Lines_and_circles_mixed_have_as_many_as_the_count_says(int lines, int circles, int expected)
    {
        // All choices of sides are met where one circle holds the crossing of two lines, or two circles lie beside one line.
        List<Touched> of = [];
        of.Add(Touched.Line(new Vec2(-50, 0), new Vec2(50, 0)));
        if (lines > 1)
        {
            of.Add(Touched.Line(new Vec2(-50, -40), new Vec2(50, 70)));
        }

        of.Add(lines > 1 ? Touched.Circle(new Vec2(-12, 2), 10) : Touched.Circle(new Vec2(30, 20), 3));
        if (circles > 1)
        {
            of.Add(Touched.Circle(new Vec2(8, 15), 4));
        }

        var found = Touching.Three(of[0], of[1], of[2]);
        found.Count.ShouldBe(expected);
        foreach (var (centre, radius) in found)
        {
            of.ForEach(t => ShouldTouch(t, centre, radius));
        }
    }

    [Fact]
    public void Kissing_circles_follow_the_curvature_theorem()
    {
        // Descartes: k4 = k1 + k2 + k3 +- 2 sqrt(k1 k2 + k2 k3 + k3 k1).
        var (k1, k2, k3) = (1 / 3.0, 1 / 4.0, 1 / 5.0);
        var root = 2 * Math.Sqrt((k1 * k2) + (k2 * k3) + (k3 * k1));
        var (inner, outer) = (1 / (k1 + k2 + k3 + root), -1 / (k1 + k2 + k3 - root));
        Vec2 a = new(0, 0),
            b = new(7, 0);
        var x = ((8 * 8) - (9 * 9) + (7 * 7)) / (2 * 7.0);
        var c = new Vec2(x, Math.Sqrt(64 - (x * x)));
        var found = Touching.Three(Touched.Circle(a, 3), Touched.Circle(b, 4), Touched.Circle(c, 5));
        found.ShouldContain(f => Math.Abs(f.Radius - inner) < 1e-9);
        found.ShouldContain(f => Math.Abs(f.Radius - outer) < 1e-9);
    }

    [Fact]
    public void The_solver_finds_the_kissing_circle_from_a_rough_drawing()
    {
        var (k1, k2, k3) = (1 / 3.0, 1 / 4.0, 1 / 5.0);
        var inner = 1 / (k1 + k2 + k3 + (2 * Math.Sqrt((k1 * k2) + (k2 * k3) + (k3 * k1))));
        var sketch = Of(
            [
                P("a", 0, 0),
                P("b", 7.2, 0.3),
                P("c", 2.4, 7.9),
                P("d", 2.9, 2.4),
                new CircleEntity("ka", "a", 3),
                new CircleEntity("kb", "b", 4),
                new CircleEntity("kc", "c", 5),
                new CircleEntity("kd", "d", 0.6),
            ],
            [
                K("t1", "tangent", "ka", "kb"),
                K("t2", "tangent", "kb", "kc"),
                K("t3", "tangent", "kc", "ka"),
                K("t4", "tangent", "kd", "ka"),
                K("t5", "tangent", "kd", "kb"),
                K("t6", "tangent", "kd", "kc"),
            ],
            [D("r1", "radius", "3 mm", "ka"), D("r2", "radius", "4 mm", "kb"), D("r3", "radius", "5 mm", "kc")]
        );
        ((CircleEntity)Solved(sketch).Find("kd")!).Radius.ShouldBe(inner, 1e-9);
    }

    [Theory]
    [InlineData(6)]
    [InlineData(7)]
    public void The_two_chains_of_a_steiner_porism_close(int n)
    {
        // Concentric case: n circles between two, rho = (R - r) / (R + r) = sin(pi / n).
        var sine = Math.Sin(Math.PI / n);
        const double Inner = 10;
        var outer = Inner * (1 + sine) / (1 - sine);
        var (middle, size) = ((Inner + outer) / 2, (outer - Inner) / 2);
        foreach (var offset in new[] { 0.0, 0.4 })
        {
            var points = new List<SketchEntity>
            {
                P("o", 0, 0),
                new CircleEntity("in", "o", Inner),
                new CircleEntity("out", "o", outer * 1.04),
            };
            var ties = new List<SketchConstraint> { K("f", "coincident", "origin", "o") };
            for (var i = 0; i < n; i++)
            {
                var at = Vec2.Polar(offset + (2 * Math.PI * i / n) + (0.01 * Math.Sin(3 * i)), middle * 1.01);
                points.AddRange([P($"p{i}", at.X, at.Y), new CircleEntity($"c{i}", $"p{i}", size * 0.97)]);
                ties.AddRange([K($"i{i}", "tangent", $"c{i}", "in"), K($"u{i}", "tangent", $"c{i}", "out")]);
                if (i > 0)
                {
                    ties.Add(K($"n{i}", "tangent", $"c{i - 1}", $"c{i}"));
                }
            }

            ties.Add(K("close", "tangent", $"c{n - 1}", "c0"));
            var solved = Solved(Of(points, ties, [D("r", "radius", $"{Inner} mm", "in")]));
            ((CircleEntity)solved.Find("out")!).Radius.ShouldBe(outer, 1e-9);
            Enumerable.Range(0, n).ShouldAllBe(i => Math.Abs(((CircleEntity)solved.Find($"c{i}")!).Radius - size) < 1e-9);
            Core.Sketches.Solving.Freedoms.Of(solved).Count.ShouldBe(1, "the chain can be turned: that is the porism");
        }
    }
}
