using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>
/// Planes from conditions. Rows linear in (n, d) are solved for every combination of signs; what is left is cut with
/// |n| = 1, so each combination gives two planes at most. Tangency to a torus is one more equation along the family of
/// planes that is left; to a free-form face it is solved for the place where the plane touches.
/// </summary>
internal static class PlaneSolver
{
    /// <summary>How far apart differences on a surface are taken, as a share of its range.</summary>
    private const double Aside = 1e-6;

    /// <summary>A residual of rows of length one this small is met.</summary>
    private const double Solved = 1e-12;

    /// <summary>A determinant of squared slopes this small is of a place where nothing changes.</summary>
    private const double NoSlope = 1e-30;

    /// <summary>How near to length one a normal is, and to zero what has to be zero; of places as a share of the size.</summary>
    private const double Unit = 1e-9;

    private const int FamilySamples = 72;
    private const int Grid = 10;
    private const int MostCombinations = 512;

    public static Determination Solve(IReadOnlyList<Condition> conditions)
    {
        var cases = Combinations.Write<PlaneCase>(conditions);
        if (!cases.Done)
        {
            return Determination.None(cases.Refusal!);
        }

        var scale = Scaling.Of([.. conditions.SelectMany(c => c.Of).Select(t => t.Anchor)]);
        var found = new List<(string Label, Plane3 Plane)>();
        var (free, left, miss, redundant, any) = (-1, ImmutableArray<string>.Empty, default(Affine), false, false);
        foreach (var combination in Combinations.Of(WithoutMirrors(cases.Value), MostCombinations))
        {
            var system = Linear(combination, scale);
            redundant |= system.Redundant;
            if (system.Contradiction)
            {
                miss = Reasons.Nearer(miss, system);
                continue;
            }

            var label = string.Join(' ', combination.Select(c => c.Label).Where(l => l.Length > 0));
            var reached = Complete(combination, system, scale, label);
            any = true;
            if (reached.Free > 0 && found.Count == 0)
            {
                (free, left) = (reached.Free, reached.Left);
            }

            var way = combination.Select(c => c.Way).FirstOrDefault(w => w is not null);
            found.AddRange(
                reached.Found.Select(f =>
                    way is { } side && side.Dot(f.Item2.Normal) < 0 ? (f.Item1, new Plane3(-f.Item2.Normal, -f.Item2.Offset)) : f
                )
            );
        }

        var distinct = Distinct(found, scale);
        return distinct.Count > 0 || free > 0
            ? new Determination(
                Math.Max(free, 0),
                left,
                [.. distinct.Select(f => new DatumSolution(f.Label, PlaneFrames.Of(f.Plane, conditions)) { Also = [.. f.Also] })]
            )
            {
                Redundant = redundant,
            }
            : Determination.None(
                Reasons.Of(DatumKind.Plane, conditions)
                    ?? new Refusal("datum.none", any ? "No plane meets all of these at once." : Reasons.Missed(miss, scale))
            ) with
            {
                Redundant = redundant,
            };
    }

    /// <summary>Where every condition holds for a plane and its back alike, the first needs only half of its cases.</summary>
    private static IReadOnlyList<ImmutableArray<PlaneCase>> WithoutMirrors(IReadOnlyList<ImmutableArray<PlaneCase>> cases)
    {
        static bool TurnsRound(ImmutableArray<PlaneCase> c) =>
            c.Any(o => o.Mirrored) || c.All(o => o.Rows.All(r => r.C == 0) && o.Touch is null);
        var first = cases.Select((c, i) => (c, i)).FirstOrDefault(p => p.c.Any(o => o.Mirrored), (default, -1)).Item2;
        return first < 0 || !cases.All(TurnsRound) ? cases : [.. cases.Select((c, i) => i == first ? c.RemoveAll(o => o.Mirrored) : c)];
    }

    private static Affine Linear(IReadOnlyList<PlaneCase> combination, Scaling scale)
    {
        var system = new Affine(4);
        Span<double> row = stackalloc double[4];
        foreach (var c in combination)
        {
            foreach (var r in c.Rows)
            {
                // With n.p + d = size (n.p' + d') for p = centre + size p'.
                var a = r.A - (scale.Centre * r.B);
                (row[0], row[1], row[2], row[3]) = (a.X, a.Y, a.Z, r.B * scale.Size);
                system.Add(row, r.C, turning: r.B == 0);
            }
        }

        return system;
    }

    private static (int Free, ImmutableArray<string> Left, List<(string, Plane3)> Found) Complete(
        IReadOnlyList<PlaneCase> combination,
        Affine system,
        Scaling scale,
        string label
    )
    {
        var directions = system.Directions();
        var (place, touching) = (system.Place, combination.Where(c => c.Touch is not null).ToList());
        if (combination.FirstOrDefault(c => c.Free is not null) is { Free: { } surface } && 4 - system.Rank == 2 && touching.Count == 0)
        {
            return (0, [], Free(surface, combination, scale, label));
        }

        if (directions.Length == 0)
        {
            var only = Plane(place, scale);
            return (
                0,
                [],
                Math.Abs(Normal(place).Length - 1) < Unit && touching.All(t => Math.Abs(t.Touch!(only)) < Unit * scale.Size)
                    ? [(label, only)]
                    : []
            );
        }

        // Which of the free directions turn the normal, and which only slide the plane.
        var slides = directions.Length == 1 ? Normal(directions[0]).Length < Unit : CanSlide(directions);
        var turning = directions.Length - (slides ? 1 : 0);
        var freedom = Math.Max(0, turning - 1) + (slides ? 1 : 0) - touching.Count - combination.Count(c => c.Free is not null);
        if (turning == 0 && Math.Abs(Normal(place).Length - 1) > Unit)
        {
            return (0, [], []);
        }

        if (touching.Count == 1 && freedom == 0)
        {
            return (
                0,
                [],
                slides
                    ? Slid(place, directions, touching[0].Touch!, scale, label)
                    : Family(place, directions, touching[0].Touch!, scale, label)
            );
        }

        if (directions.Length == 1 && turning == 1)
        {
            return (
                0,
                [],
                [
                    .. Cut(place, directions[0])
                        .Where(r => touching.All(t => Math.Abs(t.Touch!(Plane(r.V, scale))) < Unit * scale.Size))
                        .Select(r => (Join(label, r.Label), Plane(r.V, scale))),
                ]
            );
        }

        var shown = Some(place, directions, scale);
        return (Math.Max(freedom, 1), Words(turning - 1, slides), shown is { } p ? [(label, p)] : []);
    }

    /// <summary>Both places where a line of (n, d) meets |n| = 1.</summary>
    private static IEnumerable<(string Label, double[] V)> Cut(double[] place, double[] along)
    {
        var (n, w) = (Normal(place), Normal(along));
        var (a, b, c) = (w.Dot(w), n.Dot(w), n.Dot(n) - 1);
        var disc = (b * b) - (a * c);
        if (disc < -Unit * a)
        {
            yield break;
        }

        var root = Math.Sqrt(Math.Max(disc, 0));
        double[] At(double t) => [.. place.Zip(along, (p, d) => p + (t * d))];

        // Homogeneous conditions find every plane twice, once for each normal: the first is kept.
        yield return ("a", At((-b + root) / a));
        if (disc > Unit * a)
        {
            yield return ("b", At((-b - root) / a));
        }
    }

    private static bool CanSlide(double[][] directions)
    {
        // Pure sliding, (0, 0, 0, 1), lies in the span of the directions when its share in them has length one.
        var share = directions.Sum(w => w[3] * w[3]);
        return share > 1 - Tolerances.Rounding;
    }

    /// <summary>Normal fixed up to the cut with |n| = 1, offset free: touching settles it.</summary>
    private static List<(string, Plane3)> Slid(
        double[] place,
        double[][] directions,
        Func<Plane3, double> touch,
        Scaling scale,
        string label
    )
    {
        var turning = directions.Select(w => (double[])[w[0], w[1], w[2], 0]).MaxBy(w => Normal(w).Length)!;
        var normals = Normal(turning).Length < Unit ? [("", place)] : Cut([place[0], place[1], place[2], 0], turning).ToList();
        return
        [
            .. normals.Select(v =>
            {
                var n = Normal(v.Item2).Unit;

                // Touching is linear in the offset, with slope one.
                var at = new Plane3(n, 0);
                return (Join(label, v.Item1), at with { Offset = -touch(at) });
            }),
        ];
    }

    /// <summary>One turn left: touching is a root along it.</summary>
    private static List<(string, Plane3)> Family(
        double[] place,
        double[][] directions,
        Func<Plane3, double> touch,
        Scaling scale,
        string label
    )
    {
        if (directions.Length != 2)
        {
            return [];
        }

        // |n0 + N x| = 1 is an ellipse in x; by N'N = L L' it becomes a circle.
        var (a, b, n0) = (Normal(directions[0]), Normal(directions[1]), Normal(place));
        var (l11, l21) = (a.Length, a.Dot(b) / a.Length);
        var l22 = Math.Sqrt(Math.Max(b.Dot(b) - (l21 * l21), 0));
        if (l22 < Unit)
        {
            return [];
        }

        var e1 = a / l11;
        var e2 = (b - (e1 * l21)) / l22;
        var (o1, o2) = (n0.Dot(e1), n0.Dot(e2));
        var off = n0 - (e1 * o1) - (e2 * o2);
        var radius = 1 - off.Dot(off);
        if (radius <= 0)
        {
            return [];
        }

        radius = Math.Sqrt(radius);
        Plane3 At(double turn)
        {
            var (sin, cos) = Math.SinCos(turn);
            var (y1, y2) = ((radius * cos) - o1, (radius * sin) - o2);
            var x2 = y2 / l22;
            var x1 = (y1 - (l21 * x2)) / l11;
            var normal = (off + (e1 * (radius * cos)) + (e2 * (radius * sin))).Unit;
            return new Plane3(
                normal,
                (scale.Size * (place[3] + (x1 * directions[0][3]) + (x2 * directions[1][3]))) - normal.Dot(scale.Centre)
            );
        }

        double Value(double turn) => touch(At(turn));
        var roots = Roots.Find(Value, 0, 2 * Math.PI, FamilySamples, Unit * scale.Size);
        return [.. Labels.ByCrossing(roots, Value, 2 * Math.PI).Select(r => (Join(label, r.Label), At(r.T)))];
    }

    /// <summary>Touching a free-form face: Newton for the place (u, v) where the tangent plane keeps the other rows.</summary>
    private static List<(string, Plane3)> Free(SplineSurface surface, IReadOnlyList<PlaneCase> combination, Scaling scale, string label)
    {
        var rows = combination.SelectMany(c => c.Rows).ToList();
        Plane3 At(double u, double v)
        {
            var (p, du, dv) = surface.At(u, v);
            return Plane3.Through(p, du.Cross(dv).Unit);
        }

        double Residual(PlaneRow r, Plane3 p) => (r.A.Dot(p.Normal) + (r.B * p.Offset) - r.C) / Math.Max(1, r.B * scale.Size);
        var (ru, rv) = (surface.RangeU, surface.RangeV);
        var (eu, ev) = ((ru.To - ru.From) * Aside, (rv.To - rv.From) * Aside);
        var found = new List<(double U, double V, Plane3 Plane)>();
        foreach (var (i, j) in from i in Enumerable.Range(0, Grid + 1) from j in Enumerable.Range(0, Grid + 1) select (i, j))
        {
            var (u, v) = (ru.From + ((ru.To - ru.From) * i / Grid), rv.From + ((rv.To - rv.From) * j / Grid));
            for (var step = 0; step < 30; step++)
            {
                var here = At(u, v);
                var f = rows.Select(r => Residual(r, here)).ToArray();
                if (f.Max(Math.Abs) < Solved)
                {
                    break;
                }

                // Central differences: the surface's second derivatives by hand would gain nothing here.
                var fu = rows.Select(r => (Residual(r, At(u + eu, v)) - Residual(r, At(u - eu, v))) / (2 * eu)).ToArray();
                var fv = rows.Select(r => (Residual(r, At(u, v + ev)) - Residual(r, At(u, v - ev))) / (2 * ev)).ToArray();
                var (a, b, c) = (Affine.Dot(fu, fu), Affine.Dot(fu, fv), Affine.Dot(fv, fv));
                var det = (a * c) - (b * b);
                if (det < NoSlope)
                {
                    break;
                }

                var (x, y) = (-Affine.Dot(fu, f), -Affine.Dot(fv, f));
                u = Math.Clamp(u + (((c * x) - (b * y)) / det), ru.From, ru.To);
                v = Math.Clamp(v + (((a * y) - (b * x)) / det), rv.From, rv.To);
            }

            var plane = At(u, v);
            if (rows.All(r => Math.Abs(Residual(r, plane)) < Unit) && !found.Any(o => Same(o.Plane, plane, scale)))
            {
                found.Add((u, v, plane));
            }
        }

        return [.. found.OrderBy(o => o.U).ThenBy(o => o.V).Select((o, i) => (Join(label, $"#{i + 1}"), o.Plane))];
    }

    /// <summary>Any plane that keeps the rows, to be shown while freedoms are left.</summary>
    private static Plane3? Some(double[] place, double[][] directions, Scaling scale)
    {
        foreach (var w in directions.OrderByDescending(w => Normal(w).Length))
        {
            if (Normal(w).Length < Unit)
            {
                return Plane(place, scale);
            }

            if (Cut(place, w).ToList() is [var (_, v), ..])
            {
                return Plane(v, scale);
            }
        }

        return null;
    }

    private static ImmutableArray<string> Words(int turns, bool slides)
    {
        var words = ImmutableArray.CreateBuilder<string>();
        if (turns > 0)
        {
            words.Add(
                turns == 1
                    ? "it can still turn about one line: a direction, a point or an angle takes that"
                    : "it can still turn every way: a plane, two directions or two more points take that"
            );
        }

        if (slides)
        {
            words.Add("it can still slide along its normal: a point or a distance takes that");
        }

        return words.ToImmutable();
    }

    private static List<(string Label, Plane3 Plane, List<string> Also)> Distinct(List<(string Label, Plane3 Plane)> found, Scaling scale)
    {
        var kept = new List<(string Label, Plane3 Plane, List<string> Also)>();
        foreach (var f in found)
        {
            var same = kept.FindIndex(k => Same(k.Plane, f.Plane, scale));
            if (same < 0)
            {
                kept.Add((f.Label, f.Plane, []));
            }
            else if (kept[same].Plane.Normal.Dot(f.Plane.Normal) > 0)
            {
                kept[same].Also.Add(f.Label);
            }
        }

        return kept;
    }

    /// <summary>The same plane, whichever way its normal points.</summary>
    private static bool Same(Plane3 a, Plane3 b, Scaling scale) =>
        a.Normal.Cross(b.Normal).Length < Tolerances.DatumAngle
        && Math.Abs(b.Side(a.Foot(scale.Centre))) < Tolerances.DatumAngle * scale.Size;

    private static Vec3 Normal(double[] v) => new(v[0], v[1], v[2]);

    private static Plane3 Plane(double[] v, Scaling scale)
    {
        var n = Normal(v);
        var unit = n.Unit;
        return new Plane3(unit, (scale.Size * v[3] / Math.Max(n.Length, Tolerances.Vanishing)) - unit.Dot(scale.Centre));
    }

    private static string Join(string a, string b) =>
        a.Length == 0 ? b
        : b.Length == 0 ? a
        : $"{a} {b}";
}
