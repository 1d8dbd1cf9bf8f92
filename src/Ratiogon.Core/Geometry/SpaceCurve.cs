using System.Collections.Immutable;

namespace Ratiogon.Core.Geometry;

/// <summary>A curve in space with a parameter range; lengths in millimetres.</summary>
public abstract record SpaceCurve
{
    /// <summary>A step smaller than this share of the curve changes nothing.</summary>
    private const double Grain = 1e-15;

    private const int Samples = 16;
    private readonly Memo memo;

    protected SpaceCurve() => memo = new Memo();

    /// <summary>A changed copy works out its lengths anew.</summary>
    protected SpaceCurve(SpaceCurve original) => memo = new Memo();

    public abstract double From { get; }

    public abstract double To { get; }

    /// <summary>Whether it ends where it begins.</summary>
    public bool Closed => At(From).DistanceTo(At(To)) < Tolerances.Length;

    /// <summary>Parameters between which its shape is smooth, the ends with them.</summary>
    protected virtual IReadOnlyList<double> Breaks => [From, To];

    public abstract Vec3 At(double t);

    /// <summary>First derivative by the parameter.</summary>
    public abstract Vec3 Slope(double t);

    /// <summary>Second derivative by the parameter.</summary>
    public abstract Vec3 Bend(double t);

    /// <summary>The unit tangent.</summary>
    public Vec3 Tangent(double t) => Slope(t).Unit;

    /// <summary>Curvature in 1/mm.</summary>
    public double Curvature(double t) => Slope(t).Cross(Bend(t)).Length / Math.Max(Math.Pow(Slope(t).Length, 3), Tolerances.Vanishing);

    /// <summary>The same curve run through the other way.</summary>
    public SpaceCurve Reversed() => this is ReversedCurve r ? r.Curve : new ReversedCurve(this);

    /// <summary>Parameters close enough together that nothing of the shape lies between two of them.</summary>
    public IReadOnlyList<double> Steps()
    {
        var breaks = Breaks;
        var steps = new List<double> { breaks[0] };
        for (var i = 0; i + 1 < breaks.Count; i++)
        {
            for (var k = 1; k <= Samples; k++)
            {
                steps.Add(k == Samples ? breaks[i + 1] : breaks[i] + ((breaks[i + 1] - breaks[i]) * k / Samples));
            }
        }

        return steps;
    }

    /// <summary>The parameter of the place nearest to a point.</summary>
    public virtual double Nearest(Vec3 p)
    {
        var steps = Steps();
        var best = 0;
        for (var i = 1; i < steps.Count; i++)
        {
            best = At(steps[i]).DistanceTo(p) < At(steps[best]).DistanceTo(p) ? i : best;
        }

        var (t, step) = (steps[best], (To - From) / (steps.Count - 1));
        for (var i = 0; i < 60; i++)
        {
            var (gap, d) = (At(t) - p, Slope(t));
            var second = d.Dot(d) + gap.Dot(Bend(t));
            var move = second > 0 ? Math.Clamp(-gap.Dot(d) / second, -step, step) : -Math.Sign(gap.Dot(d)) * step / 4;
            var next =
                Closed && (t + move < From || t + move > To)
                    ? t + move + (t + move < From ? To - From : From - To)
                    : Math.Clamp(t + move, From, To);
            if (Math.Abs(next - t) < Grain * (To - From))
            {
                return next;
            }

            t = next;
        }

        return t;
    }

    /// <summary>Length of the stretch up to a parameter, by Gauss-Legendre with eight points on each step.</summary>
    public virtual double LengthTo(double t)
    {
        var (steps, lengths) = Lengths();
        var i = StepBefore(steps, t);
        return lengths[i] + Gauss(steps[i], Math.Min(t, To));
    }

    /// <summary>The whole length.</summary>
    public double Length => LengthTo(To);

    /// <summary>The parameter where a length from the start is reached; beyond the ends, the ends.</summary>
    public virtual double AtLength(double length)
    {
        var (steps, lengths) = Lengths();
        if (length <= 0 || length >= lengths[^1])
        {
            return length <= 0 ? From : To;
        }

        var i = StepBefore(lengths, length);
        var (low, high) = (steps[i], steps[i + 1]);
        var t = low + ((high - low) * (length - lengths[i]) / (lengths[i + 1] - lengths[i]));
        var moved = double.PositiveInfinity;
        for (var step = 0; step < 80; step++)
        {
            var off = lengths[i] + Gauss(steps[i], t) - length;
            (low, high) = off > 0 ? (low, t) : (t, high);
            var next = t - (off / Math.Max(Slope(t).Length, Tolerances.Vanishing));
            next = next >= low && next <= high ? next : (low + high) / 2;

            // Near the end the steps no longer shrink: they are what rounding leaves.
            var moves = Math.Abs(next - t);
            if (moves <= Grain * (To - From) || (moves <= Tolerances.Rounding * (To - From) && moves >= moved))
            {
                return next;
            }

            (t, moved) = (next, moves);
        }

        return t;
    }

    private double Gauss(double from, double to)
    {
        var (sum, mid, half) = (0.0, (from + to) / 2, (to - from) / 2);
        for (var k = 0; k < Nodes.Length; k++)
        {
            sum += half * Shares[k] * (Slope(mid + (half * Nodes[k])).Length + Slope(mid - (half * Nodes[k])).Length);
        }

        return sum;
    }

    /// <summary>The steps with the lengths up to them, worked out once.</summary>
    private (double[] Steps, double[] Lengths) Lengths()
    {
        if (memo.Lengths is { } known)
        {
            return known;
        }

        double[] steps = [.. Steps()];
        var lengths = new double[steps.Length];
        for (var i = 1; i < steps.Length; i++)
        {
            lengths[i] = lengths[i - 1] + Gauss(steps[i - 1], steps[i]);
        }

        memo.Lengths = (steps, lengths);
        return (steps, lengths);
    }

    private static int StepBefore(double[] rising, double value)
    {
        var at = Array.BinarySearch(rising, value);
        return Math.Clamp(at >= 0 ? at : ~at - 1, 0, rising.Length - 2);
    }

    /// <summary>What was worked out before; no part of what the curve is.</summary>
    private sealed class Memo
    {
        public (double[] Steps, double[] Lengths)? Lengths { get; set; }

        public override bool Equals(object? obj) => obj is Memo;

        public override int GetHashCode() => 0;
    }

    /// <summary>The same curve, run the same way, as one of the plain kinds: segment, round or B-spline.</summary>
    public SpaceCurve Plain() =>
        this is not ReversedCurve { Curve: var c }
            ? this
            : c.Plain() switch
            {
                SegmentCurve s => new SegmentCurve(s.B, s.A),
                RoundCurve r => new RoundCurve(r.Centre, r.U, -r.V, -r.End, -r.Start),
                BSplineCurve b => new BSplineCurve(
                    b.Degree,
                    [.. b.Knots.Reverse().Select(k => -k)],
                    [.. b.Poles.Reverse()],
                    b.Weights.IsEmpty ? [] : [.. b.Weights.Reverse()]
                ),
                var other => throw new InvalidOperationException($"no plain form of {other.GetType().Name}"),
            };

    private static ReadOnlySpan<double> Nodes => [0.1834346424956498, 0.5255324099163290, 0.7966664774136267, 0.9602898564975363];

    private static ReadOnlySpan<double> Shares => [0.3626837833783620, 0.3137066458778873, 0.2223810344533745, 0.1012285362903763];

    private sealed record ReversedCurve(SpaceCurve Curve) : SpaceCurve
    {
        public override double From => -Curve.To;

        public override double To => -Curve.From;

        protected override IReadOnlyList<double> Breaks => [.. Curve.Breaks.Reverse().Select(t => -t)];

        public override Vec3 At(double t) => Curve.At(-t);

        public override Vec3 Slope(double t) => -Curve.Slope(-t);

        public override Vec3 Bend(double t) => Curve.Bend(-t);
    }
}

/// <summary>A straight stretch; its parameter is the length.</summary>
public sealed record SegmentCurve(Vec3 A, Vec3 B) : SpaceCurve
{
    public override double From => 0;

    public override double To => A.DistanceTo(B);

    public override Vec3 At(double t) => A + ((B - A).Unit * t);

    public override Vec3 Slope(double t) => (B - A).Unit;

    public override Vec3 Bend(double t) => Vec3.Zero;

    public override double Nearest(Vec3 p) => Math.Clamp((p - A).Dot((B - A).Unit), 0, To);

    public override double LengthTo(double t) => t;

    public override double AtLength(double length) => Math.Clamp(length, 0, To);
}

/// <summary>A circle, an ellipse, or an arc of one: <c>centre + u cos t + v sin t</c>.</summary>
/// <param name="Centre">In millimetres.</param>
/// <param name="U">Semi-axis where the parameter is zero.</param>
/// <param name="V">Semi-axis square to <paramref name="U"/>.</param>
/// <param name="Start">In radians.</param>
/// <param name="End">In radians, more than the start by at most a full turn.</param>
public sealed record RoundCurve(Vec3 Centre, Vec3 U, Vec3 V, double Start, double End) : SpaceCurve
{
    public bool Circular => Math.Abs(U.Length - V.Length) < Tolerances.Length;

    public double Radius => U.Length;

    /// <summary>The line through the centre, square to the plane.</summary>
    public Line3 Axis => new(Centre, U.Cross(V).Unit);

    public override double From => Start;

    public override double To => End;

    protected override IReadOnlyList<double> Breaks
    {
        get
        {
            var pieces = Math.Max(1, (int)Math.Ceiling((End - Start) / (Math.PI / 2)));
            return [.. Enumerable.Range(0, pieces + 1).Select(i => i == pieces ? End : Start + ((End - Start) * i / pieces))];
        }
    }

    public override Vec3 At(double t) => Centre + (U * Math.Cos(t)) + (V * Math.Sin(t));

    public override Vec3 Slope(double t) => (V * Math.Cos(t)) - (U * Math.Sin(t));

    public override Vec3 Bend(double t) => Centre - At(t);

    public override double LengthTo(double t) => Circular ? (t - Start) * Radius : base.LengthTo(t);

    public override double AtLength(double length) =>
        Circular ? Start + (Math.Clamp(length / Radius, 0, End - Start)) : base.AtLength(length);
}

/// <summary>A rational B-spline curve: Piegl and Tiller, "The NURBS Book", chapter 4.</summary>
/// <param name="Degree">One or more.</param>
/// <param name="Knots">Flat, with repetitions; poles + degree + 1 of them.</param>
/// <param name="Poles">Control points, in millimetres.</param>
/// <param name="Weights">One for each pole; none for a curve that is not rational.</param>
public sealed record BSplineCurve(int Degree, ImmutableArray<double> Knots, ImmutableArray<Vec3> Poles, ImmutableArray<double> Weights)
    : SpaceCurve
{
    public override double From => Knots[Degree];

    public override double To => Knots[^(Degree + 1)];

    protected override IReadOnlyList<double> Breaks => [.. Knots.Skip(Degree).Take(Knots.Length - (2 * Degree)).Distinct()];

    /// <summary>A smooth curve through points, cubic, with continuous curvature; spans as long as the square roots of the
    /// chords (centripetal, Lee 1989).</summary>
    /// <param name="points">Two or more, no two neighbours alike.</param>
    /// <param name="fromTangent">Direction at the start, or null.</param>
    /// <param name="toTangent">Direction at the end, or null.</param>
    public static BSplineCurve Through(IReadOnlyList<Vec3> points, Vec3? fromTangent = null, Vec3? toTangent = null)
    {
        ArgumentNullException.ThrowIfNull(points);
        var spans = points.Zip(points.Skip(1), (a, b) => Math.Sqrt(a.DistanceTo(b))).ToList();
        Vec3? Handle(Vec3 at, Vec3? way, double reach) => way is { } d ? at + (d.Unit * reach) : null;
        var from = Handle(points[0], fromTangent, spans[0] * spans[0] / 3);
        var to = Handle(points[^1], -toTangent, spans[^1] * spans[^1] / 3);

        // The equations hold for each coordinate by itself, so the plane's splines serve for two and one of them.
        var level = new SplineCurve(
            [.. points.Select(p => new Vec2(p.X, p.Y))],
            spans,
            from is { } f ? new Vec2(f.X, f.Y) : null,
            to is { } l ? new Vec2(l.X, l.Y) : null
        );
        var height = new SplineCurve(
            [.. points.Select(p => new Vec2(p.Z, 0))],
            spans,
            from is { } g ? new Vec2(g.Z, 0) : null,
            to is { } m ? new Vec2(m.Z, 0) : null
        );
        return OfBeziers([.. level.Beziers(0, level.End).Zip(height.Beziers(0, height.End), (p, q) => new Vec3(p.X, p.Y, q.X))], spans);
    }

    /// <summary>A chain of cubic Bézier curves: 3n + 1 poles, n spans.</summary>
    public static BSplineCurve OfBeziers(ImmutableArray<Vec3> poles, IReadOnlyList<double> spans)
    {
        ArgumentNullException.ThrowIfNull(spans);
        var knots = ImmutableArray.CreateBuilder<double>();
        var t = 0.0;
        knots.AddRange(0, 0, 0, 0);
        for (var i = 0; i < spans.Count; i++)
        {
            t += spans[i];
            knots.AddRange(t, t, t);
        }

        knots.Add(t);
        return new BSplineCurve(3, knots.ToImmutable(), poles, []);
    }

    public override Vec3 At(double t)
    {
        Span<Vec3> c = stackalloc Vec3[1];
        Derive(t, c);
        return c[0];
    }

    public override Vec3 Slope(double t)
    {
        Span<Vec3> c = stackalloc Vec3[2];
        Derive(t, c);
        return c[1];
    }

    public override Vec3 Bend(double t)
    {
        Span<Vec3> c = stackalloc Vec3[3];
        Derive(t, c);
        return c[2];
    }

    /// <summary>The place and as many derivatives as there is room for, two at most.</summary>
    private void Derive(double t, Span<Vec3> c)
    {
        var order = c.Length - 1;
        t = Math.Clamp(t, From, To);
        var knots = Knots.AsSpan();
        var span = BSplineBasis.Span(knots, Degree, t);
        Span<double> basis = stackalloc double[c.Length * (Degree + 1)];
        BSplineBasis.Derivatives(knots, Degree, span, t, order, basis);
        Span<double> w = stackalloc double[c.Length];
        for (var k = 0; k <= order; k++)
        {
            c[k] = Vec3.Zero;
            for (var j = 0; j <= Degree; j++)
            {
                var share = basis[(k * (Degree + 1)) + j] * (Weights.IsDefaultOrEmpty ? 1 : Weights[span - Degree + j]);
                c[k] += Poles[span - Degree + j] * share;
                w[k] += share;
            }
        }

        // The quotient rule, equation 4.8 there.
        c[0] /= w[0];
        if (order > 0)
        {
            c[1] = (c[1] - (c[0] * w[1])) / w[0];
        }

        if (order > 1)
        {
            c[2] = (c[2] - (c[1] * (2 * w[1])) - (c[0] * w[2])) / w[0];
        }
    }
}
