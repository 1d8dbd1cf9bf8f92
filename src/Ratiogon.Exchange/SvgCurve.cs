using Ratiogon.Core.Geometry;

namespace Ratiogon.Exchange;

/// <summary>The affine map of an SVG transform: x' = a x + c y + e, y' = b x + d y + f.</summary>
internal readonly record struct SvgMatrix(double A, double B, double C, double D, double E, double F)
{
    public static readonly SvgMatrix None = new(1, 0, 0, 1, 0, 0);

    public Vec2 Apply(Vec2 p) => new((A * p.X) + (C * p.Y) + E, (B * p.X) + (D * p.Y) + F);

    /// <summary>This after the other.</summary>
    public SvgMatrix Times(SvgMatrix o) => new((A * o.A) + (C * o.B), (B * o.A) + (D * o.B), (A * o.C) + (C * o.D), (B * o.C) + (D * o.D), (A * o.E) + (C * o.F) + E, (B * o.E) + (D * o.F) + F);

    /// <summary>Whether it keeps circles round: the same scale every way.</summary>
    public bool Even => Math.Abs(Math.Abs((A * D) - (B * C)) - ((A * A) + (B * B))) < 1e-9 * ((A * A) + (B * B)) && Math.Abs((A * C) + (B * D)) < 1e-9 * ((A * A) + (B * B));

    public double Scale => Math.Sqrt((A * A) + (B * B));

    public bool Mirrors => (A * D) - (B * C) < 0;

    /// <summary>A list of transforms as SVG writes it.</summary>
    public static SvgMatrix Of(string? text)
    {
        var all = None;
        foreach (var part in (text ?? "").Split(')', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var open = part.IndexOf('(', StringComparison.Ordinal);
            if (open < 0)
            {
                throw new FormatException("a transform is not closed.");
            }

            var n = SvgSketch.Numbers(part[(open + 1)..]);
            double N(int i, double otherwise = 0) => i < n.Count ? n[i] : otherwise;
            var turn = N(0) * Math.PI / 180;
            all = all.Times(part[..open].Trim(' ', ',', '\n', '\t', '\r') switch
            {
                "matrix" when n.Count == 6 => new SvgMatrix(n[0], n[1], n[2], n[3], n[4], n[5]),
                "translate" => None with { E = N(0), F = N(1) },
                "scale" => new SvgMatrix(N(0, 1), 0, 0, N(1, N(0, 1)), 0, 0),
                "rotate" => (None with { E = N(1), F = N(2) }).Times(new SvgMatrix(Math.Cos(turn), Math.Sin(turn), -Math.Sin(turn), Math.Cos(turn), 0, 0)).Times(None with { E = -N(1), F = -N(2) }),
                "skewX" => None with { C = Math.Tan(turn) },
                "skewY" => None with { B = Math.Tan(turn) },
                var other => throw new FormatException($"'{Core.Ids.Shorten(other)}' is no transform of SVG."),
            });
        }

        return all;
    }
}

/// <summary>A piece of an SVG shape.</summary>
internal abstract record SvgCurve
{
    /// <summary>The piece where a transform puts it, as pieces that a sketch has.</summary>
    public abstract IEnumerable<SvgCurve> Moved(SvgMatrix by);
}

internal sealed record SvgLine(Vec2 From, Vec2 To) : SvgCurve
{
    public override IEnumerable<SvgCurve> Moved(SvgMatrix by) => [new SvgLine(by.Apply(From), by.Apply(To))];
}

/// <summary>An arc of a circle or an ellipse.</summary>
internal sealed record SvgRound(Vec2 Centre, double Rx, double Ry, double Tilt, double Start, double Sweep) : SvgCurve
{
    public bool Full => Math.Abs(Sweep) >= (2 * Math.PI) - 1e-9;

    public Vec2 At(double t)
    {
        var (x, y) = (Rx * Math.Cos(t), Ry * Math.Sin(t));
        return Centre + new Vec2((x * Math.Cos(Tilt)) - (y * Math.Sin(Tilt)), (x * Math.Sin(Tilt)) + (y * Math.Cos(Tilt)));
    }

    public override IEnumerable<SvgCurve> Moved(SvgMatrix by)
    {
        if (by.Even && Math.Abs(Rx - Ry) < 1e-9 * Math.Max(Rx, 1e-300))
        {
            var centre = by.Apply(Centre);
            yield return new SvgRound(centre, Rx * by.Scale, Rx * by.Scale, 0, (by.Apply(At(Start)) - centre).Angle, by.Mirrors ? -Sweep : Sweep);
            yield break;
        }

        // An ellipse as cubic pieces of an eighth of a turn at most: their error is below a millionth of its size.
        var count = Math.Max(1, (int)Math.Ceiling(Math.Abs(Sweep) / (Math.PI / 4)));
        var step = Sweep / count;
        var k = 4.0 / 3 * Math.Tan(step / 4);
        Vec2 Slope(double t) => At(t + (Math.PI / 2)) - Centre;
        for (var i = 0; i < count; i++)
        {
            var (a, b) = (Start + (step * i), Start + (step * (i + 1)));
            yield return new SvgCubic(by.Apply(At(a)), by.Apply(At(a) + (Slope(a) * k)), by.Apply(At(b) - (Slope(b) * k)), by.Apply(At(b)));
        }
    }
}

/// <summary>A cubic Bézier curve.</summary>
internal sealed record SvgCubic(Vec2 P0, Vec2 P1, Vec2 P2, Vec2 P3) : SvgCurve
{
    /// <summary>How far a curve may stray from a circle and still be one, over its radius: what four pieces to a circle, as
    /// drawing programs write them, stray by.</summary>
    private const double Round = 4e-4;

    public double Longest => Math.Max(P0.DistanceTo(P3), Math.Max(P0.DistanceTo(P1), P0.DistanceTo(P2)));

    public Vec2 At(double t)
    {
        var s = 1 - t;
        return (P0 * (s * s * s)) + (P1 * (3 * s * s * t)) + (P2 * (3 * s * t * t)) + (P3 * (t * t * t));
    }

    public override IEnumerable<SvgCurve> Moved(SvgMatrix by)
    {
        var moved = new SvgCubic(by.Apply(P0), by.Apply(P1), by.Apply(P2), by.Apply(P3));
        yield return moved.Straight ? new SvgLine(moved.P0, moved.P3) : moved.AsArc() ?? (SvgCurve)moved;
    }

    private bool Straight
    {
        get
        {
            var along = P3 - P0;
            var reach = along.Length;
            return reach > 0 && new[] { P1, P2 }.All(p => Math.Abs(along.Cross(p - P0)) < 1e-9 * reach * Math.Max(reach, 1) && (p - P0).Dot(along) is var d && d >= -1e-9 && d <= (reach * reach) + 1e-9);
        }
    }

    /// <summary>The arc through its ends and its middle, if the curve keeps to it and to its tangents.</summary>
    private SvgRound? AsArc()
    {
        var (a, b, c) = (P0, At(0.5), P3);
        var turn = 2 * (b - a).Cross(c - a);
        if (Math.Abs(turn) < 1e-12 * Math.Max(1, Longest * Longest) || a.DistanceTo(c) < 1e-9)
        {
            return null;
        }

        var (u, v) = (b - a, c - a);
        var centre = a + (new Vec2((v.Y * u.Dot(u)) - (u.Y * v.Dot(v)), (u.X * v.Dot(v)) - (v.X * u.Dot(u))) / turn);
        var radius = centre.DistanceTo(a);
        if (Enumerable.Range(1, 15).Any(i => Math.Abs(centre.DistanceTo(At(i / 16.0)) - radius) > Round * radius) || new[] { (P1 - P0, a), (P3 - P2, c) }.Any(t => t.Item1.Length > 0 && Math.Abs(t.Item1.Unit.Dot((t.Item2 - centre).Unit)) > 0.01))
        {
            return null;
        }

        var (start, middle, end) = ((a - centre).Angle, (b - centre).Angle, (c - centre).Angle);
        double Positive(double angle) => angle - (Math.Floor(angle / (2 * Math.PI)) * 2 * Math.PI);
        var forward = Positive(middle - start) < Positive(end - start);
        return new SvgRound(centre, radius, radius, 0, start, forward ? Positive(end - start) : -Positive(start - end));
    }
}
