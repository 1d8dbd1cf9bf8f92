namespace Ratiogon.Core.Geometry;

/// <summary>A curve of the sketch plane that is neither straight nor round, with a parameter from 0 to <see cref="End"/>.</summary>
public abstract class PlaneCurve
{
    /// <summary>A step smaller than this share of the curve changes nothing.</summary>
    private const double Grain = 1e-15;

    private const int Samples = 24;

    /// <summary>The end of the parameter's range.</summary>
    public abstract double End { get; }

    /// <summary>Whether it ends where it begins, without a corner.</summary>
    public virtual bool Closed => false;

    /// <summary>How many pieces it has between which its shape changes: where sampling must not skip.</summary>
    protected abstract int Pieces { get; }

    public abstract Vec2 At(double t);

    /// <summary>First derivative by the parameter.</summary>
    public abstract Vec2 Slope(double t);

    /// <summary>Second derivative by the parameter.</summary>
    public abstract Vec2 Bend(double t);

    /// <summary>Signed curvature in 1/mm, positive where it bends to the left.</summary>
    public double Curvature(double t)
    {
        var (d, b) = (Slope(t), Bend(t));
        return d.Cross(b) / Math.Max(Math.Pow(d.Length, 3), Tolerances.Vanishing);
    }

    /// <summary>Parameters close enough together that nothing of the shape lies between two of them.</summary>
    public IReadOnlyList<double> Steps()
    {
        var n = Pieces * Samples;
        return [.. Enumerable.Range(0, n + 1).Select(i => i == n ? End : End * i / n)];
    }

    /// <summary>The parameter of the place nearest to a point.</summary>
    public double Nearest(Vec2 p)
    {
        var steps = Steps();
        var best = 0;
        for (var i = 1; i < steps.Count; i++)
        {
            best = At(steps[i]).DistanceTo(p) < At(steps[best]).DistanceTo(p) ? i : best;
        }

        var (t, step) = (steps[best], End / (steps.Count - 1));
        for (var i = 0; i < 40; i++)
        {
            var (gap, d, b) = (At(t) - p, Slope(t), Bend(t));
            var second = d.Dot(d) + gap.Dot(b);
            var move = second > 0 ? Math.Clamp(-gap.Dot(d) / second, -step, step) : -Math.Sign(gap.Dot(d)) * step / 4;
            var next = Closed ? Wrapped(t + move) : Math.Clamp(t + move, 0, End);
            if (Math.Abs(next - t) < Grain * End)
            {
                return next;
            }

            t = next;
        }

        return t;
    }

    /// <summary>Integral of a function over a stretch of the parameter, by Gauss-Legendre with five points on each step.</summary>
    public double Integral(double from, double to, Func<double, double> f)
    {
        ReadOnlySpan<double> nodes = [0, 0.5384693101056831, -0.5384693101056831, 0.9061798459386640, -0.9061798459386640];
        ReadOnlySpan<double> shares = [0.5688888888888889, 0.4786286704993665, 0.4786286704993665, 0.2369268850561891, 0.2369268850561891];
        var cuts = Steps()
            .Where(t => t > Math.Min(from, to) && t < Math.Max(from, to))
            .Prepend(Math.Min(from, to))
            .Append(Math.Max(from, to))
            .ToList();
        var sum = 0.0;
        for (var i = 0; i + 1 < cuts.Count; i++)
        {
            var (mid, half) = ((cuts[i] + cuts[i + 1]) / 2, (cuts[i + 1] - cuts[i]) / 2);
            for (var k = 0; k < nodes.Length; k++)
            {
                sum += half * shares[k] * f(mid + (half * nodes[k]));
            }
        }

        return from <= to ? sum : -sum;
    }

    /// <summary>Length of a stretch, in millimetres.</summary>
    public double Length(double from, double to) => Math.Abs(Integral(from, to, t => Slope(t).Length));

    /// <summary>A parameter brought into the range of a closed curve.</summary>
    public double Wrapped(double t) => t - (Math.Floor(t / End) * End);
}

/// <summary>A stretch of an ellipse, counterclockwise; the whole of it when the sweep is a full turn.</summary>
/// <param name="centre">Its centre.</param>
/// <param name="u">The semi-axis where the inner angle is zero.</param>
/// <param name="v">The semi-axis a quarter turn to the left of <paramref name="u"/>.</param>
/// <param name="start">Inner angle where it begins, in radians.</param>
/// <param name="sweep">How far it goes, in (0, 2 pi].</param>
public sealed class EllipseCurve(Vec2 centre, Vec2 u, Vec2 v, double start, double sweep) : PlaneCurve
{
    public Vec2 Centre => centre;

    public Vec2 U => u;

    public Vec2 V => v;

    public double Start => start;

    public override double End => sweep;

    public override bool Closed => sweep >= (2 * Math.PI) - Tolerances.WholeTurn;

    protected override int Pieces => 4;

    public override Vec2 At(double t) => centre + (u * Math.Cos(start + t)) + (v * Math.Sin(start + t));

    public override Vec2 Slope(double t) => (u * -Math.Sin(start + t)) + (v * Math.Cos(start + t));

    public override Vec2 Bend(double t) => centre - At(t);

    /// <summary>The inner angle of a point on the ellipse of these semi-axes, in radians.</summary>
    public static double InnerAngle(Vec2 centre, Vec2 u, Vec2 v, Vec2 p)
    {
        var w = p - centre;
        var det = u.Cross(v);
        return Math.Abs(det) < Tolerances.Vanishing ? 0 : Math.Atan2(u.Cross(w) / det, w.Cross(v) / det);
    }
}

/// <summary>
/// A cubic spline through points, written span by span in Hermite form; the slopes at the points come from the
/// equations of continuous second derivatives (de Boor, "A Practical Guide to Splines", chapter IV) with no curvature
/// at an end without a handle.
/// </summary>
public sealed class SplineCurve : PlaneCurve
{
    /// <summary>How near to a knot, as a share of the curve, is at it.</summary>
    private const double AtKnot = 1e-12;

    /// <summary>How far within a stretch, as a share of the curve, its slopes are taken: at a knot they jump.</summary>
    private const double Nudge = 1e-13;

    private readonly Vec2[] points;
    private readonly double[] spans;
    private readonly double[] knots;

    /// <param name="points">Two or more.</param>
    /// <param name="spans">Parameter lengths, all positive.</param>
    /// <param name="fromHandle">Inner control point of the first span, or null.</param>
    /// <param name="toHandle">Inner control point of the last span, or null.</param>
    public SplineCurve(IReadOnlyList<Vec2> points, IReadOnlyList<double> spans, Vec2? fromHandle, Vec2? toHandle)
    {
        this.points = [.. points];
        this.spans = [.. spans];
        knots = new double[points.Count];
        for (var i = 0; i < spans.Count; i++)
        {
            knots[i + 1] = knots[i] + spans[i];
        }

        Slopes = SlopesOf(this.points, this.spans, fromHandle, toHandle);
    }

    /// <summary>The derivative at each point.</summary>
    public IReadOnlyList<Vec2> Slopes { get; }

    public IReadOnlyList<Vec2> Through => points;

    public IReadOnlyList<double> Knots => knots;

    public override double End => knots[^1];

    protected override int Pieces => spans.Length;

    public override Vec2 At(double t)
    {
        var (i, s, h) = Local(t);
        return Hermite(i, h, (1 + (2 * s)) * (1 - s) * (1 - s), s * (1 - s) * (1 - s), s * s * (3 - (2 * s)), s * s * (s - 1));
    }

    public override Vec2 Slope(double t)
    {
        var (i, s, h) = Local(t);
        return Hermite(i, h, (6 * s * s) - (6 * s), (1 - s) * (1 - (3 * s)), (6 * s) - (6 * s * s), s * ((3 * s) - 2)) / h;
    }

    public override Vec2 Bend(double t)
    {
        var (i, s, h) = Local(t);
        return Hermite(i, h, (12 * s) - 6, (6 * s) - 4, 6 - (12 * s), (6 * s) - 2) / (h * h);
    }

    /// <summary>The span that a parameter lies in.</summary>
    public int SpanOf(double t)
    {
        var i = 0;
        while (i < spans.Length - 1 && t > knots[i + 1])
        {
            i++;
        }

        return i;
    }

    /// <summary>Control points of a stretch as a chain of cubic Béziers: 3n + 1 points.</summary>
    public IReadOnlyList<Vec2> Beziers(double from, double to)
    {
        var cuts = knots.Where(k => k > from + (AtKnot * End) && k < to - (AtKnot * End)).Prepend(from).Append(to).ToList();
        var poles = new List<Vec2> { At(from) };
        for (var i = 0; i + 1 < cuts.Count; i++)
        {
            // Slopes from within the span, so that its own cubic is meant at either end.
            var (h, nudge) = (cuts[i + 1] - cuts[i], Nudge * End);
            poles.AddRange([
                At(cuts[i]) + (Slope(cuts[i] + nudge) * (h / 3)),
                At(cuts[i + 1]) - (Slope(cuts[i + 1] - nudge) * (h / 3)),
                At(cuts[i + 1]),
            ]);
        }

        return poles;
    }

    private Vec2 Hermite(int i, double h, double a, double b, double c, double d) =>
        (points[i] * a) + (Slopes[i] * (h * b)) + (points[i + 1] * c) + (Slopes[i + 1] * (h * d));

    private (int Span, double S, double H) Local(double t)
    {
        var i = SpanOf(t);
        return (i, (t - knots[i]) / spans[i], spans[i]);
    }

    private static Vec2[] SlopesOf(Vec2[] p, double[] h, Vec2? fromHandle, Vec2? toHandle)
    {
        var n = p.Length;
        var (low, diagonal, high, right) = (new double[n], new double[n], new double[n], new Vec2[n]);
        for (var i = 0; i < n; i++)
        {
            (low[i], diagonal[i], high[i], right[i]) =
                i == 0
                    ? fromHandle is { } q
                        ? (0, 1, 0, (q - p[0]) * (3 / h[0]))
                        : (0, 2, 1, (p[1] - p[0]) * (3 / h[0]))
                    : i == n - 1
                        ? toHandle is { } r
                            ? (0, 1, 0, (p[i] - r) * (3 / h[i - 1]))
                            : (1, 2, 0, (p[i] - p[i - 1]) * (3 / h[i - 1]))
                        : (
                            h[i],
                            2 * (h[i - 1] + h[i]),
                            h[i - 1],
                            ((p[i] - p[i - 1]) * (3 * h[i] / h[i - 1])) + ((p[i + 1] - p[i]) * (3 * h[i - 1] / h[i]))
                        );
        }

        // Thomas' algorithm; the matrix is diagonally dominant.
        for (var i = 1; i < n; i++)
        {
            var f = low[i] / diagonal[i - 1];
            diagonal[i] -= f * high[i - 1];
            right[i] -= right[i - 1] * f;
        }

        for (var i = n - 1; i >= 0; i--)
        {
            right[i] = (right[i] - (i < n - 1 ? right[i + 1] * high[i] : Vec2.Zero)) / diagonal[i];
        }

        return right;
    }
}
