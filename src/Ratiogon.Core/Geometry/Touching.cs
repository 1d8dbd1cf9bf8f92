namespace Ratiogon.Core.Geometry;

/// <summary>A curve that a circle is to touch: an unbounded line, a circle, or a point (a circle of radius 0).</summary>
/// <param name="A">A point of the line, or the centre.</param>
/// <param name="Normal">Unit normal of a line; zero for a circle.</param>
/// <param name="Radius">Of a circle, in millimetres.</param>
public readonly record struct Touched(Vec2 A, Vec2 Normal, double Radius)
{
    public bool Straight => Normal != Vec2.Zero;

    public static Touched Line(Vec2 a, Vec2 b) => new(a, (b - a).Unit.Left, 0);

    public static Touched Circle(Vec2 centre, double radius) => new(centre, Vec2.Zero, radius);

    /// <summary>Where a circle that touches this touches it.</summary>
    public Vec2 At(Vec2 centre, double radius)
    {
        if (Straight)
        {
            return centre - (Normal * (centre - A).Dot(Normal));
        }

        var away = (centre - A).Unit;

        // From outside between the centres; from inside beyond the smaller one.
        return centre.DistanceTo(A) >= Math.Max(radius, Radius) ? A + (away * Radius)
            : radius > Radius ? A - (away * Radius)
            : A + (away * Radius);
    }
}

/// <summary>
/// Circles that touch three curves (the problem of Apollonius) or two with a given radius: for every choice of sides the
/// conditions are linear up to one quadratic, which leaves at most two circles; all of them are found.
/// </summary>
public static class Touching
{
    /// <summary>How near a circle that was found has to touch what it is to touch, as a share of the sizes.</summary>
    private const double FitsTo = 1e-6;

    /// <summary>Circles nearer than this share of the radius are one.</summary>
    private const double OneCircle = 1e-7;

    /// <summary>How far circles may miss each other, as a share of the squared radius, and still touch.</summary>
    private const double Misses = 1e-9;

    /// <summary>The squared sine below which two planes do not meet in a line.</summary>
    private const double Parallel = 1e-18;

    /// <summary>All circles that touch three curves, at most 8, each as centre and radius in millimetres.</summary>
    public static IReadOnlyList<RoundOutline> Three(Touched a, Touched b, Touched c)
    {
        Touched[] of = [.. new[] { a, b, c }.OrderBy(t => t.Straight ? 1 : 0)];
        var found = new List<RoundOutline>();
        for (var signs = 0; signs < 8; signs++)
        {
            double Sign(int i) => (signs >> i & 1) == 0 ? 1 : -1;
            var rows = new List<double[]>();
            for (var i = of[0].Straight ? 0 : 1; i < 3; i++)
            {
                rows.Add(of[i].Straight ? LineRow(of[i], Sign(i)) : Difference(of[i], Sign(i), of[0], Sign(0)));
            }

            foreach (var (centre, radius) in of[0].Straight ? FromLines(rows) : FromCircle(rows, of[0], Sign(0)))
            {
                Keep(found, centre, radius, of);
            }
        }

        return found;
    }

    /// <summary>All circles of a radius that touch two curves, at most 8.</summary>
    public static IReadOnlyList<Vec2> Two(Touched a, Touched b, double radius)
    {
        var found = new List<RoundOutline>();
        for (var signs = 0; signs < 4; signs++)
        {
            var (s, t) = ((signs & 1) == 0 ? 1 : -1, (signs & 2) == 0 ? 1 : -1);
            foreach (var p in Meet(Shifted(a, s * radius), Shifted(b, t * radius)))
            {
                Keep(found, p, radius, [a, b]);
            }
        }

        return [.. found.Select(f => f.Centre)];
    }

    private static Touched Shifted(Touched t, double by) =>
        t.Straight ? t with { A = t.A + (t.Normal * by) } : t with { Radius = Math.Abs(t.Radius + by) };

    private static IEnumerable<Vec2> Meet(Touched a, Touched b)
    {
        if (a.Straight && b.Straight)
        {
            var cross = a.Normal.Cross(b.Normal);
            var (d, e) = (a.Normal.Dot(a.A), b.Normal.Dot(b.A));
            return Math.Abs(cross) < Tolerances.Angle
                ? []
                : [new Vec2(((d * b.Normal.Y) - (e * a.Normal.Y)) / cross, ((e * a.Normal.X) - (d * b.Normal.X)) / cross)];
        }

        if (a.Straight)
        {
            (a, b) = (b, a);
        }

        // On the circle a: against a line, or against the common chord.
        Vec2 foot,
            along;
        if (b.Straight)
        {
            foot = a.A - (b.Normal * (a.A - b.A).Dot(b.Normal));
            along = b.Normal.Left;
        }
        else
        {
            var d = b.A - a.A;
            if (d.Length < Tolerances.Length)
            {
                return [];
            }

            foot = a.A + (d * ((d.Dot(d) + (a.Radius * a.Radius) - (b.Radius * b.Radius)) / (2 * d.Dot(d))));
            along = d.Unit.Left;
        }

        var half = (a.Radius * a.Radius) - (foot - a.A).Dot(foot - a.A);
        return half < -Misses * Math.Max(1, a.Radius * a.Radius)
            ? []
            : [foot + (along * Math.Sqrt(Math.Max(0, half))), foot - (along * Math.Sqrt(Math.Max(0, half)))];
    }

    /// <summary>n.p - s r = n.a as a row over x, y, r and the right side.</summary>
    private static double[] LineRow(Touched line, double sign) => [line.Normal.X, line.Normal.Y, -sign, line.Normal.Dot(line.A)];

    /// <summary>|p - c|² = (r + s R)² less the same of the base circle.</summary>
    private static double[] Difference(Touched c, double sign, Touched of, double ofSign)
    {
        static double Rest(Touched t) => t.A.Dot(t.A) - (t.Radius * t.Radius);
        double[] row = [-2 * (c.A.X - of.A.X), -2 * (c.A.Y - of.A.Y), -2 * ((sign * c.Radius) - (ofSign * of.Radius)), Rest(of) - Rest(c)];
        var size = Math.Max(Tolerances.Rounding, Math.Max(Math.Abs(row[0]), Math.Max(Math.Abs(row[1]), Math.Abs(row[2]))));
        return [.. row.Select(v => v / size)];
    }

    private static IEnumerable<(Vec2, double)> FromLines(List<double[]> m)
    {
        var det = Det(m[0], m[1], m[2], 0, 1, 2);
        if (Math.Abs(det) < Tolerances.Angle)
        {
            yield break;
        }

        yield return (
            new Vec2(Det(m[0], m[1], m[2], 3, 1, 2) / det, Det(m[0], m[1], m[2], 0, 3, 2) / det),
            Det(m[0], m[1], m[2], 0, 1, 3) / det
        );
    }

    private static double Det(double[] a, double[] b, double[] c, int i, int j, int k) =>
        (a[i] * ((b[j] * c[k]) - (b[k] * c[j]))) - (a[j] * ((b[i] * c[k]) - (b[k] * c[i]))) + (a[k] * ((b[i] * c[j]) - (b[j] * c[i])));

    private static IEnumerable<(Vec2, double)> FromCircle(List<double[]> m, Touched circle, double sign)
    {
        // Two planes in (x, y, r) meet in a line; it is cut with the cone of the base circle.
        var (a, b) = (new Vec3(m[0][0], m[0][1], m[0][2]), new Vec3(m[1][0], m[1][1], m[1][2]));
        var along = a.Cross(b);
        var squared = along.Dot(along);
        if (squared < Parallel)
        {
            yield break;
        }

        var foot = ((b.Cross(along) * m[0][3]) + (along.Cross(a) * m[1][3])) / squared;
        along /= Math.Sqrt(squared);
        var (x, y, r) = (foot.X - circle.A.X, foot.Y - circle.A.Y, foot.Z + (sign * circle.Radius));
        var qa = (along.X * along.X) + (along.Y * along.Y) - (along.Z * along.Z);
        var qb = (x * along.X) + (y * along.Y) - (r * along.Z);
        var qc = (x * x) + (y * y) - (r * r);
        foreach (var t in Roots(qa, qb, qc))
        {
            yield return (new Vec2(foot.X + (t * along.X), foot.Y + (t * along.Y)), foot.Z + (t * along.Z));
        }
    }

    /// <summary>Roots of a t² + 2 b t + c, without cancellation.</summary>
    private static IEnumerable<double> Roots(double a, double b, double c)
    {
        if (Math.Abs(a) < Tolerances.Rounding)
        {
            return Math.Abs(b) < Tolerances.Vanishing ? [] : [-c / (2 * b)];
        }

        var disc = (b * b) - (a * c);
        if (disc < -Tolerances.Rounding * b * b)
        {
            return [];
        }

        var q = -(b + (Math.Sign(b) is 0 ? 1 : Math.Sign(b)) * Math.Sqrt(Math.Max(0, disc)));
        return q == 0 ? [0] : [q / a, c / q];
    }

    private static void Keep(List<RoundOutline> found, Vec2 centre, double radius, Touched[] of)
    {
        var fits =
            radius >= Tolerances.SmallestSize
            && radius <= Tolerances.LargestSize
            && centre.IsFinite
            && centre.Length <= Tolerances.LargestSize
            && of.All(t =>
                t.Straight
                    ? Math.Abs(Math.Abs((centre - t.A).Dot(t.Normal)) - radius) < FitsTo * (1 + radius)
                    : Math.Min(
                        Math.Abs(centre.DistanceTo(t.A) - radius - t.Radius),
                        Math.Abs(centre.DistanceTo(t.A) - Math.Abs(radius - t.Radius))
                    )
                        < FitsTo * (1 + radius + t.Radius)
            );
        if (fits && !found.Exists(f => f.Centre.DistanceTo(centre) + Math.Abs(f.Radius - radius) < OneCircle * (1 + radius)))
        {
            found.Add(new RoundOutline(centre, radius));
        }
    }
}

/// <summary>A circle by its centre and radius.</summary>
/// <param name="Centre">In the plane.</param>
/// <param name="Radius">In millimetres.</param>
public readonly record struct RoundOutline(Vec2 Centre, double Radius);
