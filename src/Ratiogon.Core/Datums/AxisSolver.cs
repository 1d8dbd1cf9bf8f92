using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>
/// Axes from conditions. A line is (u, m) in Plücker coordinates with |u| = 1 and u . m = 0 (Pottmann and Wallner,
/// "Computational Line Geometry", chapter 2); conditions are linear in it. What the rows leave is cut with the two
/// quadrics: in closed form where one or two directions are left, by Newton from fixed starts where more are.
/// </summary>
internal static class AxisSolver
{
    /// <summary>Added to squared slopes, that a system of two equations is not singular where one of them is met for all ways.</summary>
    private const double Ridge = 1e-14;

    /// <summary>A row shorter than this says nothing: what rounding leaves of none.</summary>
    private const double NoRow = 1e-8;

    /// <summary>How near to length one a direction is, and to zero what has to be zero.</summary>
    private const double Unit = 1e-9;

    private const int MostCombinations = 64;
    private const int Starts = 24;

    public static Determination Solve(IReadOnlyList<Condition> conditions)
    {
        var cases = Combinations.Write<AxisCase>(conditions);
        if (!cases.Done)
        {
            return Determination.None(cases.Refusal!);
        }

        var scale = Scaling.Of([.. conditions.SelectMany(c => c.Of).Select(t => t.Anchor)]);
        var found = new List<(string Label, Line3 Line, List<string> Also)>();
        var (free, left, miss, redundant, any) = (0, ImmutableArray<string>.Empty, default(Affine), false, false);
        foreach (var combination in Combinations.Of(cases.Value, MostCombinations))
        {
            var system = Linear(combination, scale);
            redundant |= system.Redundant;
            if (system.Contradiction)
            {
                miss = Reasons.Nearer(miss, system);
                continue;
            }

            any = true;
            var label = string.Join(' ', combination.Select(c => c.Label).Where(l => l.Length > 0));
            var homogeneous = combination.All(c => c.Rows.All(r => r.C == 0));
            var (some, freedom) = Reach(system, homogeneous);
            if (freedom > 0)
            {
                (free, left) = (freedom, Words(system));
            }

            foreach (var (root, v) in freedom > 0 ? some.Take(1) : some)
            {
                var line = Oriented(Line(v, scale), combination, conditions);
                var (name, same) = (
                    string.Join(' ', new[] { label, root }.Where(l => l.Length > 0)),
                    found.FindIndex(f => Same(f.Line, line, scale))
                );
                if (same < 0)
                {
                    found.Add((name, line, []));
                }
                else
                {
                    found[same].Also.Add(name);
                }
            }
        }

        return found.Count > 0 || free > 0
            ? new Determination(
                free,
                left,
                [.. found.Select(f => new DatumSolution(f.Label, FrameOf(f.Line, conditions)) { Also = [.. f.Also] })]
            )
            {
                Redundant = redundant,
            }
            : Determination.None(
                Reasons.Of(DatumKind.Axis, conditions)
                    ?? new Refusal("datum.none", any ? "No axis meets all of these at once." : Reasons.Missed(miss, scale))
            ) with
            {
                Redundant = redundant,
            };
    }

    private static Affine Linear(IReadOnlyList<AxisCase> combination, Scaling scale)
    {
        var system = new Affine(6);
        Span<double> row = stackalloc double[6];
        foreach (var r in combination.SelectMany(c => c.Rows))
        {
            // m = size m' + centre x u, and b . (c x u) = u . (b x c).
            var (u, m) = (r.U + r.M.Cross(scale.Centre), r.M * scale.Size);
            (row[0], row[1], row[2], row[3], row[4], row[5]) = (u.X, u.Y, u.Z, m.X, m.Y, m.Z);
            system.Add(row, r.C, turning: r.M == Vec3.Zero);
        }

        return system;
    }

    private static (List<(string Label, double[] V)> Found, int Freedom) Reach(Affine system, bool homogeneous)
    {
        var directions = system.Directions();
        var place = system.Place;
        if (directions.Length == 0)
        {
            return (Good(place) ? [("", place)] : [], 0);
        }

        if (homogeneous && directions.Length <= 2)
        {
            return directions.Length == 1 ? (Good(Scaled(directions[0])) ? [("", Scaled(directions[0]))] : [], 0) : Pencil(directions);
        }

        if (directions.Length == 1)
        {
            return (Cut(place, directions[0]), 0);
        }

        var found = Newton(place, directions);
        var freedom = found.Count > 0 ? directions.Length - Rank(found[0], directions) : 0;
        return (freedom > 0 ? [("", found[0])] : [.. found.Select((v, i) => ($"#{i + 1}", v))], freedom);
    }

    /// <summary>Two directions of a homogeneous system: u . m = 0 is a quadratic form in them with two roots at most; where
    /// it vanishes altogether, a pencil of lines is left.</summary>
    private static (List<(string Label, double[] V)> Found, int Freedom) Pencil(double[][] w)
    {
        double Form(double[] a, double[] b) => (U(a).Dot(M(b)) + U(b).Dot(M(a))) / 2;
        var (a, b, c) = (Form(w[0], w[0]), Form(w[0], w[1]), Form(w[1], w[1]));
        if (Math.Abs(a) + Math.Abs(b) + Math.Abs(c) < Unit)
        {
            var some = U(w[0]).Length >= U(w[1]).Length ? w[0] : w[1];

            // The direction alone is fixed by a system whose second direction only shifts the line.
            return ([("", Scaled(some))], U(w[0]).Length + U(w[1]).Length < Unit ? 0 : 1);
        }

        double Value(double t) => (a * Math.Cos(t) * Math.Cos(t)) + (2 * b * Math.Cos(t) * Math.Sin(t)) + (c * Math.Sin(t) * Math.Sin(t));
        var disc = (b * b) - (a * c);
        if (disc < -Unit)
        {
            return ([], 0);
        }

        var root = Math.Sqrt(Math.Max(disc, 0));

        // a cos^2 + 2 b cos sin + c sin^2: directions (-b -+ root, a) or, better where a is small, (c, -b -+ root).
        double[] Angles() =>
            Math.Abs(a) > Math.Abs(c)
                ? [Math.Atan2(a, -b + root), Math.Atan2(a, -b - root)]
                : [Math.Atan2(-b + root, c), Math.Atan2(-b - root, c)];
        var turns = Angles().Select(t => t - (Math.Floor(t / Math.PI) * Math.PI)).Order().ToList();
        if (disc <= Unit)
        {
            turns = [turns[0]];
        }

        return (
            [
                .. Labels
                    .ByCrossing(turns, Value, Math.PI)
                    .Select(r => (r.Label, V: (double[])[.. w[0].Zip(w[1], (x, y) => (Math.Cos(r.T) * x) + (Math.Sin(r.T) * y))]))
                    .Where(r => U(r.V).Length > Tolerances.DatumAngle)
                    .Select(r => (r.Label, Scaled(r.V))),
            ],
            0
        );
    }

    /// <summary>One direction left from a place: |u| = 1 gives two lines at most, or, where u is fixed, u . m = 0 gives one.</summary>
    private static List<(string Label, double[] V)> Cut(double[] place, double[] w)
    {
        double[] At(double t) => [.. place.Zip(w, (p, d) => p + (t * d))];
        var (n, d) = (U(place), U(w));
        if (d.Length < Unit)
        {
            var slope = n.Dot(M(w));
            return Math.Abs(slope) < Unit ? [] : [.. new[] { ("", At(-n.Dot(M(place)) / slope)) }.Where(r => Good(r.Item2))];
        }

        var (a, b, c) = (d.Dot(d), n.Dot(d), n.Dot(n) - 1);
        var disc = (b * b) - (a * c);
        if (disc < -Unit * a)
        {
            return [];
        }

        var root = Math.Sqrt(Math.Max(disc, 0));
        (string, double[])[] both = [("a", At((-b + root) / a)), ("b", At((-b - root) / a))];
        return [.. both.Take(disc > Unit * a ? 2 : 1).Where(r => Good(r.Item2))];
    }

    /// <summary>Gauss-Newton with the shortest steps along the free directions from fixed starts, for |u| = 1 and u . m = 0.</summary>
    private static List<double[]> Newton(double[] place, double[][] w)
    {
        var found = new List<double[]>();
        for (var start = 0; start < Starts; start++)
        {
            var v = (double[])place.Clone();
            for (var k = 0; k < w.Length; k++)
            {
                Move(v, w[k], 1.7 * Math.Sin((2.3 * start * (k + 1)) + k + 0.4));
            }

            for (var step = 0; step < 40 && !Good(v); step++)
            {
                var (u, m) = (U(v), M(v));
                var (f1, f2) = (u.Dot(u) - 1, u.Dot(m));
                var g1 = w.Select(d => 2 * u.Dot(U(d))).ToArray();
                var g2 = w.Select(d => U(d).Dot(m) + u.Dot(M(d))).ToArray();
                var (a, b, c) = (Affine.Dot(g1, g1) + Ridge, Affine.Dot(g1, g2), Affine.Dot(g2, g2) + Ridge);
                var det = (a * c) - (b * b);
                var (x, y) = (((-c * f1) + (b * f2)) / det, ((b * f1) - (a * f2)) / det);
                for (var k = 0; k < w.Length; k++)
                {
                    Move(v, w[k], (g1[k] * x) + (g2[k] * y));
                }
            }

            if (
                Good(v)
                && !found.Any(o =>
                    U(o).Cross(U(v)).Length < Tolerances.DatumAngle
                    && (M(o) - (M(v) * Math.Sign(U(o).Dot(U(v))))).Length < Tolerances.DatumAngle
                )
            )
            {
                found.Add(v);
            }
        }

        return found;
    }

    private static int Rank(double[] v, double[][] w)
    {
        var (u, m) = (U(v), M(v));
        var g1 = w.Select(d => 2 * u.Dot(U(d))).ToArray();
        var g2 = w.Select(d => U(d).Dot(m) + u.Dot(M(d))).ToArray();
        var system = new Affine(w.Length);
        system.Add(Dust(g1), 0);
        system.Add(Dust(g2), 0);
        return system.Rank;
    }

    private static double[] Dust(double[] row) => Math.Sqrt(Affine.Dot(row, row)) < NoRow ? new double[row.Length] : row;

    private static ImmutableArray<string> Words(Affine system)
    {
        // What the free directions do to the line's direction is turning; the rest is sliding.
        var turning = new Affine(3);
        foreach (var w in system.Directions())
        {
            turning.Add([w[0], w[1], w[2]], 0);
        }

        return turning.Rank > 1
            ? ["it can still turn: a direction or another point takes that"]
            : ["it can still shift sideways: a point takes that"];
    }

    private static Line3 Oriented(Line3 line, IReadOnlyList<AxisCase> combination, IReadOnlyList<Condition> conditions)
    {
        var way = combination.Select(c => c.Way).FirstOrDefault(w => w is { } v && Math.Abs(v.Dot(line.Direction)) > Tolerances.DrawnAngle);
        if (way is null && conditions.SelectMany(c => c.Of).Select(t => t.Place).OfType<Vec3>().ToList() is [var a, var b, ..])
        {
            way = b - a;
        }

        return way is { } forward && forward.Dot(line.Direction) < 0 ? line with { Direction = -line.Direction } : line;
    }

    private static Frame FrameOf(Line3 line, IReadOnlyList<Condition> conditions)
    {
        // Its origin is the foot of what was picked first, so that it moves with that.
        var things = conditions.SelectMany(c => c.Of).ToList();
        var origin = line.Foot(
            things.Count == 0 ? Vec3.Zero : things.Select(t => t.Place).FirstOrDefault(p => p is not null) ?? things[0].Anchor
        );
        var guide = AxisGuide.First(things.Select(t => t.Guide));
        return new Frame(origin, line.Direction, guide.Given ? guide.Zero(line) : line.Direction.Across().A);
    }

    private static bool Good(double[] v) => Math.Abs(U(v).Length - 1) < Unit && Math.Abs(U(v).Dot(M(v))) < Unit;

    private static double[] Scaled(double[] v) => U(v).Length is var l && l > 0 ? [.. v.Select(x => x / l)] : v;

    private static void Move(double[] v, double[] along, double by)
    {
        for (var i = 0; i < v.Length; i++)
        {
            v[i] += by * along[i];
        }
    }

    private static Line3 Line(double[] v, Scaling scale)
    {
        var u = U(v).Unit;
        return new Line3(scale.Centre + (u.Cross(M(v)) * scale.Size), u);
    }

    private static bool Same(Line3 a, Line3 b, Scaling scale) =>
        a.Direction.Cross(b.Direction).Length < Tolerances.DatumAngle
        && b.DistanceTo(a.Foot(scale.Centre)) < Tolerances.DatumAngle * scale.Size;

    private static Vec3 U(double[] v) => new(v[0], v[1], v[2]);

    private static Vec3 M(double[] v) => new(v[3], v[4], v[5]);
}
