using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>
/// A second opinion on sketches, that shares nothing with the solver: residuals written from the meaning of each rule,
/// numeric derivatives, dense Levenberg-Marquardt from many starts, and ranks by singular values.
/// </summary>
internal sealed class Independent
{
    private readonly Sketch sketch;
    private readonly Dictionary<string, int> first = new(StringComparer.Ordinal);
    private readonly List<Func<double[], double>> residuals = [];
    private readonly List<string> ownerOf = [];
    private readonly double[] drawn;

    /// <param name="sketch">Points, lines, circles and arcs under the common rules.</param>
    /// <param name="values">Of its driving sizes, in mm and rad; a size that is missing is left out.</param>
    public Independent(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        this.sketch = sketch;
        var start = new List<double>();
        foreach (var entity in Sketch.BuiltIns.Concat(sketch.Entities))
        {
            first[entity.Id] = start.Count;
            if (entity is PointEntity p)
            {
                start.AddRange([p.At.X, p.At.Y]);
            }
            else if (entity is CircleEntity or ArcEntity)
            {
                start.Add(entity is CircleEntity c ? c.Radius : ((ArcEntity)entity).Radius);
            }
        }

        drawn = [.. start];
        foreach (var arc in sketch.Entities.OfType<ArcEntity>())
        {
            Add(arc.Id, x => (At(x, arc.From) - At(x, arc.Centre)).Length - R(x, arc));
            Add(arc.Id, x => (At(x, arc.To) - At(x, arc.Centre)).Length - R(x, arc));
        }

        foreach (var tie in sketch.Constraints)
        {
            Tie(tie);
        }

        foreach (var size in sketch.Dimensions.Where(d => d.Driving && values.ContainsKey(d.Id)))
        {
            Size(size, values[size.Id]);
        }
    }

    private static int Fixed => 2 * Sketch.BuiltIns.Count(e => e is PointEntity);

    /// <summary>Whether the rules could be written at all.</summary>
    public bool Speaks { get; private set; } = true;

    /// <summary>The largest residual as drawn, in mm and rad times length.</summary>
    public double Drawn => residuals.Count == 0 ? 0 : residuals.Max(r => Math.Abs(r(drawn)));

    /// <summary>The largest residual of one rule as drawn.</summary>
    public double DrawnOf(string rule) =>
        residuals.Where((_, i) => ownerOf[i] == rule).Select(r => Math.Abs(r(drawn))).DefaultIfEmpty(0).Max();

    /// <summary>Whether some start leads to all rules, no line or radius changing by more than a factor of what is drawn.</summary>
    public bool CanMeet(Random random, int starts, double factor)
    {
        for (var s = 0; s < starts; s++)
        {
            var x = (double[])drawn.Clone();
            var share = s == 0 ? 0 : 0.05 * Math.Pow(1.5, s % 10);
            for (var i = Fixed; i < x.Length; i++)
            {
                x[i] += (random.NextDouble() - 0.5) * 2 * share * Scale;
            }

            foreach (var entity in sketch.Entities.Where(e => e is CircleEntity or ArcEntity))
            {
                x[first[entity.Id]] = drawn[first[entity.Id]] * Math.Pow(2, (random.NextDouble() - 0.5) * (s == 0 ? 0 : 1));
            }

            if (Solve(x) && WithinFactor(x, factor))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Freedoms as drawn, and by singular values at places around that meet the geometric rules: the least of some.</summary>
    public int Freedoms(Random random, int places)
    {
        var least = int.MaxValue;
        for (var p = 0; p < places; p++)
        {
            var x = (double[])drawn.Clone();
            for (var i = Fixed; i < x.Length; i++)
            {
                x[i] += (random.NextDouble() - 0.5) * 0.1 * ScaleOf(i);
            }

            if (Solve(x))
            {
                least = Math.Min(least, x.Length - Fixed - Rank(x));
            }
        }

        return least;
    }

    public int FreedomsAsDrawn => drawn.Length - Fixed - Rank(drawn);

    private double Scale =>
        Math.Max(
            1e-6,
            sketch
                .Entities.OfType<LineEntity>()
                .Select(l => sketch.At(l.From).DistanceTo(sketch.At(l.To)))
                .Concat(sketch.Entities.OfType<CircleEntity>().Select(c => c.Radius))
                .DefaultIfEmpty(10)
                .Average()
        );

    private double ScaleOf(int i)
    {
        var id = first.Where(f => f.Value <= i && sketch.Find(f.Key) is PointEntity or CircleEntity or ArcEntity).MaxBy(f => f.Value).Key;
        return sketch.Find(id) is CircleEntity c
            ? c.Radius
            : sketch
                .Entities.Where(e => e.Points.Contains(id))
                .Select(e =>
                    e is LineEntity l ? sketch.At(l.From).DistanceTo(sketch.At(l.To))
                    : e is CircleEntity k ? k.Radius
                    : Scale
                )
                .DefaultIfEmpty(Scale)
                .Min();
    }

    private bool WithinFactor(double[] x, double factor)
    {
        bool Near(double now, double was) => now > was / factor && now < was * factor;
        return sketch.Entities.All(e =>
            e switch
            {
                LineEntity l => Near((At(x, l.To) - At(x, l.From)).Length, sketch.At(l.From).DistanceTo(sketch.At(l.To))),
                CircleEntity c => Near(R(x, c), c.Radius),
                ArcEntity a => Near(R(x, a), a.Radius),
                _ => true,
            }
        );
    }

    private bool Solve(double[] x)
    {
        var (mu, m, n) = (1e-6, residuals.Count, x.Length - Fixed);
        var r = Residuals(x);
        var norm = r.Sum(v => v * v);
        for (var step = 0; step < 120 && m > 0; step++)
        {
            if (r.All(v => Math.Abs(v) < 1e-9 * Math.Max(1, Scale)))
            {
                return true;
            }

            var j = Jacobian(x);
            var a = new double[n, n];
            var g = new double[n];
            for (var i = 0; i < n; i++)
            {
                for (var k = 0; k < n; k++)
                {
                    for (var e = 0; e < m; e++)
                    {
                        a[i, k] += j[e, i] * j[e, k];
                    }
                }

                a[i, i] += mu;
                g[i] = -Enumerable.Range(0, m).Sum(e => j[e, i] * r[e]);
            }

            var dx = MathNet
                .Numerics.LinearAlgebra.Double.DenseMatrix.OfArray(a)
                .Solve(MathNet.Numerics.LinearAlgebra.Double.DenseVector.OfArray(g));
            var next = (double[])x.Clone();
            for (var i = 0; i < n; i++)
            {
                next[Fixed + i] += dx[i];
            }

            var then = Residuals(next);
            var sum = then.Sum(v => v * v);
            if (sum < norm)
            {
                Array.Copy(next, x, x.Length);
                (r, norm, mu) = (then, sum, Math.Max(mu / 5, 1e-14));
            }
            else if ((mu *= 6) > 1e8)
            {
                return false;
            }
        }

        return m == 0 || r.All(v => Math.Abs(v) < 1e-8 * Math.Max(1, Scale));
    }

    private double[] Residuals(double[] x) => [.. residuals.Select(r => r(x))];

    private double[,] Jacobian(double[] x)
    {
        var j = new double[residuals.Count, x.Length - Fixed];
        for (var i = Fixed; i < x.Length; i++)
        {
            var h = 1e-5 * Math.Max(1e-3, ScaleOf(i));
            var was = x[i];
            x[i] = was + h;
            var up = Residuals(x);
            x[i] = was - h;
            var down = Residuals(x);
            x[i] = was;
            for (var e = 0; e < residuals.Count; e++)
            {
                j[e, i - Fixed] = (up[e] - down[e]) / (2 * h);
            }
        }

        return j;
    }

    private int Rank(double[] x)
    {
        if (residuals.Count == 0)
        {
            return 0;
        }

        var j = Jacobian(x);
        for (var e = 0; e < j.GetLength(0); e++)
        {
            var length = 0.0;
            for (var i = 0; i < j.GetLength(1); i++)
            {
                j[e, i] *= ScaleOf(Fixed + i);
                length += j[e, i] * j[e, i];
            }

            for (var i = 0; i < j.GetLength(1) && length > 0; i++)
            {
                j[e, i] /= Math.Sqrt(length);
            }
        }

        var s = MathNet.Numerics.LinearAlgebra.Double.DenseMatrix.OfArray(j).Svd(false).S;
        return s.Count(v => v > 1e-6);
    }

    private Vec2 At(double[] x, string point) => new(x[first[point]], x[first[point] + 1]);

    private double R(double[] x, SketchEntity e) => x[first[e.Id]];

    private Vec2 Middle(double[] x, SketchEntity e) => At(x, e is PointEntity ? e.Id : Curves.Centre(e)!);

    private (Vec2 A, Vec2 B) Ends(double[] x, SketchEntity l) => (At(x, ((LineEntity)l).From), At(x, ((LineEntity)l).To));

    private static double Off(Vec2 p, (Vec2 A, Vec2 B) line) => (line.B - line.A).Unit.Cross(p - line.A);

    private void Add(string owner, Func<double[], double> residual)
    {
        residuals.Add(residual);
        ownerOf.Add(owner);
    }

    private void Tie(SketchConstraint tie)
    {
        var of = sketch.FindAll(tie.Of)!;
        var id = tie.Id;
        switch (tie.Kind)
        {
            case "coincident" or "concentric":
                foreach (var other in of.Skip(1))
                {
                    Add(id, x => Middle(x, of[0]).X - Middle(x, other).X);
                    Add(id, x => Middle(x, of[0]).Y - Middle(x, other).Y);
                }

                break;
            case "horizontal" or "vertical":
                double Along(Vec2 v) => tie.Kind == "horizontal" ? v.Y : v.X;
                if (of[0] is LineEntity)
                {
                    foreach (var l in of)
                    {
                        Add(id, x => Along(Ends(x, l).B - Ends(x, l).A));
                    }
                }
                else
                {
                    foreach (var other in of.Skip(1))
                    {
                        Add(id, x => Along(Middle(x, other) - Middle(x, of[0])));
                    }
                }

                break;
            case "parallel" or "perpendicular":
                foreach (var l in of.Skip(1))
                {
                    Add(id, x =>
                    {
                        var ((a, b), (c, d)) = (Ends(x, of[0]), Ends(x, l));
                        var (u, v) = ((b - a).Unit, (d - c).Unit);
                        return Scale * (tie.Kind == "parallel" ? u.Cross(v) : u.Dot(v));
                    });
                }

                break;
            case "equal":
                foreach (var other in of.Skip(1))
                {
                    Add(
                        id,
                        of[0] is LineEntity
                            ? x => (Ends(x, of[0]).B - Ends(x, of[0]).A).Length - (Ends(x, other).B - Ends(x, other).A).Length
                            : x => R(x, of[0]) - R(x, other)
                    );
                }

                break;
            case "midpoint" when of.Count == 2 && of.FirstOrDefault(e => e is LineEntity) is { } line:
                var middle = of.First(e => e != line);
                Add(id, x => Middle(x, middle).X - ((Ends(x, line).A.X + Ends(x, line).B.X) / 2));
                Add(id, x => Middle(x, middle).Y - ((Ends(x, line).A.Y + Ends(x, line).B.Y) / 2));
                break;
            case "midpoint":
                Add(id, x => Middle(x, of[0]).X - ((Middle(x, of[1]).X + Middle(x, of[2]).X) / 2));
                Add(id, x => Middle(x, of[0]).Y - ((Middle(x, of[1]).Y + Middle(x, of[2]).Y) / 2));
                break;
            case "on-curve"
                when of.FirstOrDefault(e => e is PointEntity) is { } point
                    && of.First(e => e != point) is var curve
                    && curve is LineEntity or CircleEntity or ArcEntity:
                Add(
                    id,
                    curve is LineEntity
                        ? x => Off(At(x, point.Id), Ends(x, curve))
                        : x => (At(x, point.Id) - Middle(x, curve)).Length - R(x, curve)
                );
                break;
            case "tangent"
                when of.FirstOrDefault(e => e is LineEntity) is { } l
                    && of.FirstOrDefault(e => e is CircleEntity or ArcEntity) is { } round:
                Add(id, x => Math.Abs(Off(Middle(x, round), Ends(x, l))) - R(x, round));
                break;
            case "tangent" when of.All(e => e is CircleEntity or ArcEntity):
                Add(id, x =>
                {
                    var d = (Middle(x, of[0]) - Middle(x, of[1])).Length;
                    var (outer, inner) = (d - R(x, of[0]) - R(x, of[1]), d - Math.Abs(R(x, of[0]) - R(x, of[1])));
                    return Math.Abs(outer) < Math.Abs(inner) ? outer : inner;
                });
                break;
            case "symmetric" when of.All(e => e is PointEntity or LineEntity) && of.Count(e => e is PointEntity) == 2:
                var axis = of.First(e => e is LineEntity);
                var pair = of.Where(e => e != axis).ToArray();
                Add(id, x => Off((At(x, pair[0].Id) + At(x, pair[1].Id)) / 2, Ends(x, axis)));
                Add(id, x => (At(x, pair[1].Id) - At(x, pair[0].Id)).Dot((Ends(x, axis).B - Ends(x, axis).A).Unit));
                break;
            case "fixed" when of.All(e => e is PointEntity):
                foreach (var p in of)
                {
                    var at = sketch.At(p.Id);
                    Add(id, x => At(x, p.Id).X - at.X);
                    Add(id, x => At(x, p.Id).Y - at.Y);
                }

                break;
            default:
                Speaks = false;
                break;
        }
    }

    private void Size(SketchDimension size, double value)
    {
        var of = sketch.FindAll(size.Of)!;
        var id = size.Id;
        switch (size.Kind)
        {
            case "distance" when of is [LineEntity line]:
                Add(id, x => (Ends(x, line).B - Ends(x, line).A).Length - value);
                break;
            case "distance" when of.All(e => e is PointEntity or CircleEntity):
                Add(id, x => (Middle(x, of[0]) - Middle(x, of[1])).Length - value);
                break;
            case "distance" when of.Count(e => e is LineEntity) == 1:
                var (l, p) = (of.First(e => e is LineEntity), of.First(e => e is not LineEntity));
                Add(id, x => Math.Abs(Off(Middle(x, p), Ends(x, l))) - value);
                break;
            case "horizontal-distance" or "vertical-distance":
                var (a, b) = of is [LineEntity only] ? (only.From, only.To) : (PointId(of[0]), PointId(of[1]));
                Add(id, x => Math.Abs(size.Kind == "horizontal-distance" ? At(x, b).X - At(x, a).X : At(x, b).Y - At(x, a).Y) - value);
                break;
            case "radius":
                Add(id, x => R(x, of[0]) - value);
                break;
            case "diameter":
                Add(id, x => (2 * R(x, of[0])) - value);
                break;
            case "angle":
                Add(id, x =>
                {
                    var ((p0, p1), (q0, q1)) = (Ends(x, of[0]), Ends(x, of[1]));
                    return Scale * (Math.Abs(Math.Atan2((p1 - p0).Cross(q1 - q0), (p1 - p0).Dot(q1 - q0))) - value);
                });
                break;
            default:
                Speaks = false;
                break;
        }
    }

    private static string PointId(SketchEntity e) =>
        e is PointEntity ? e.Id
        : e is LineEntity l ? l.From
        : Curves.Centre(e)!;
}
