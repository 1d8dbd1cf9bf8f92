using Ratiogon.Core;

namespace Ratiogon.Exchange;

/// <summary>The affine map of an SVG transform: x' = a x + c y + e, y' = b x + d y + f.</summary>
internal readonly record struct SvgMatrix(double A, double B, double C, double D, double E, double F)
{
    public static readonly SvgMatrix None = new(1, 0, 0, 1, 0, 0);

    public Vec2 Apply(Vec2 p) => new((A * p.X) + (C * p.Y) + E, (B * p.X) + (D * p.Y) + F);

    /// <summary>This after the other.</summary>
    public SvgMatrix Times(SvgMatrix o) =>
        new(
            (A * o.A) + (C * o.B),
            (B * o.A) + (D * o.B),
            (A * o.C) + (C * o.D),
            (B * o.C) + (D * o.D),
            (A * o.E) + (C * o.F) + E,
            (B * o.E) + (D * o.F) + F
        );

    /// <summary>A map of directions alone.</summary>
    public Vec2 Turn(Vec2 v) => new((A * v.X) + (C * v.Y), (B * v.X) + (D * v.Y));

    /// <summary>Style sheets write px and deg where attributes have plain numbers.</summary>
    private static string Unitless(string text) =>
        text.Replace("px", "", StringComparison.Ordinal).Replace("deg", "", StringComparison.Ordinal);

    /// <summary>A list of transforms as SVG writes it.</summary>
    public static SvgMatrix Of(string? text)
    {
        var all = None;
        foreach (
            var part in (text is "none" ? "" : text ?? "").Split(
                ')',
                StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
            )
        )
        {
            var open = part.IndexOf('(', StringComparison.Ordinal);
            if (open < 0)
            {
                throw new FormatException("a transform is not closed.");
            }

            var n = SvgNumbers.All(Unitless(part[(open + 1)..]));
            double N(int i, double otherwise = 0) => i < n.Count ? n[i] : otherwise;
            var turn = N(0) * Math.PI / 180;
            all = all.Times(
                part[..open].Trim(' ', ',', '\n', '\t', '\r') switch
                {
                    "matrix" when n.Count == 6 => new SvgMatrix(n[0], n[1], n[2], n[3], n[4], n[5]),
                    "translate" => None with { E = N(0), F = N(1) },
                    "scale" => new SvgMatrix(N(0, 1), 0, 0, N(1, N(0, 1)), 0, 0),
                    "rotate" => (None with { E = N(1), F = N(2) })
                        .Times(new SvgMatrix(Math.Cos(turn), Math.Sin(turn), -Math.Sin(turn), Math.Cos(turn), 0, 0))
                        .Times(None with { E = -N(1), F = -N(2) }),
                    "translateX" => None with { E = N(0) },
                    "translateY" => None with { F = N(0) },
                    "scaleX" => None with { A = N(0, 1) },
                    "scaleY" => None with { D = N(0, 1) },
                    "skewX" => None with { C = Math.Tan(turn) },
                    "skewY" => None with { B = Math.Tan(turn) },
                    var other => throw new FormatException($"'{Core.Ids.Shorten(other)}' is no transform of SVG."),
                }
            );
        }

        return all;
    }
}

/// <summary>A piece of an SVG shape.</summary>
internal abstract record SvgCurve
{
    /// <summary>Lengths and places nearer than this, as a share of their size, are the same.</summary>
    protected const double Alike = 1e-9;

    public Vec2 Start => At(0);

    public Vec2 End => At(1);

    /// <summary>A place on it, from 0 to 1.</summary>
    public abstract Vec2 At(double t);

    /// <summary>The piece between two of these places.</summary>
    public abstract SvgCurve Between(double from, double to);

    /// <summary>Where a transform puts it.</summary>
    public abstract SvgCurve Moved(SvgMatrix by);
}

internal sealed record SvgLine(Vec2 From, Vec2 To) : SvgCurve
{
    public override Vec2 At(double t) => From + ((To - From) * t);

    public override SvgCurve Between(double from, double to) => new SvgLine(At(from), At(to));

    public override SvgCurve Moved(SvgMatrix by) => new SvgLine(by.Apply(From), by.Apply(To));
}

/// <summary>An arc of a circle or an ellipse.</summary>
/// <param name="Centre">Its centre.</param>
/// <param name="Rx">One semi-axis.</param>
/// <param name="Ry">The other.</param>
/// <param name="Tilt">From x to the first semi-axis, in radians.</param>
/// <param name="Begin">The parameter where it begins.</param>
/// <param name="Sweep">How far the parameter goes, negative backwards.</param>
internal sealed record SvgRound(Vec2 Centre, double Rx, double Ry, double Tilt, double Begin, double Sweep) : SvgCurve
{
    public bool Full => Math.Abs(Sweep) >= (2 * Math.PI) - Tolerances.Angle;

    public bool Circular => Math.Abs(Rx - Ry) <= Alike * Math.Max(Rx, Ry);

    public Vec2 FirstAxis => new Vec2(Math.Cos(Tilt), Math.Sin(Tilt)) * Rx;

    public Vec2 SecondAxis => new Vec2(-Math.Sin(Tilt), Math.Cos(Tilt)) * Ry;

    /// <summary>The ellipse of two conjugate semi-diameters, by its axes.</summary>
    public static SvgRound Of(Vec2 centre, Vec2 u, Vec2 v, double begin, double sweep)
    {
        var turned = Math.Atan2(2 * u.Dot(v), u.Dot(u) - v.Dot(v)) / 2;
        turned = Math.Abs(u.Dot(v)) < Alike * u.Length * v.Length ? 0 : turned;
        var (p, q) = ((u * Math.Cos(turned)) + (v * Math.Sin(turned)), (v * Math.Cos(turned)) - (u * Math.Sin(turned)));
        var ahead = p.Cross(q) >= 0;
        return new SvgRound(centre, p.Length, q.Length, p.Angle, ahead ? begin - turned : turned - begin, ahead ? sweep : -sweep);
    }

    public override Vec2 At(double t) =>
        Centre + (FirstAxis * Math.Cos(Begin + (Sweep * t))) + (SecondAxis * Math.Sin(Begin + (Sweep * t)));

    public override SvgCurve Between(double from, double to) => this with { Begin = Begin + (Sweep * from), Sweep = Sweep * (to - from) };

    public override SvgCurve Moved(SvgMatrix by) => Of(by.Apply(Centre), by.Turn(FirstAxis), by.Turn(SecondAxis), Begin, Sweep);
}

/// <summary>A cubic Bézier curve.</summary>
internal sealed record SvgCubic(Vec2 P0, Vec2 P1, Vec2 P2, Vec2 P3) : SvgCurve
{
    public double Longest => Math.Max(P0.DistanceTo(P3), Math.Max(P0.DistanceTo(P1), P0.DistanceTo(P2)));

    public bool Straight
    {
        get
        {
            var along = P3 - P0;
            var reach = along.Length;
            return reach > 0
                && new[] { P1, P2 }.All(p =>
                    Math.Abs(along.Cross(p - P0)) < Alike * reach * Math.Max(reach, 1)
                    && (p - P0).Dot(along) is var d
                    && d >= -Alike
                    && d <= (reach * reach) + Alike
                );
        }
    }

    public override Vec2 At(double t)
    {
        var s = 1 - t;
        return (P0 * (s * s * s)) + (P1 * (3 * s * s * t)) + (P2 * (3 * s * t * t)) + (P3 * (t * t * t));
    }

    public override SvgCurve Between(double from, double to)
    {
        Vec2 Slope(double t) => ((P1 - P0) * (3 * (1 - t) * (1 - t))) + ((P2 - P1) * (6 * (1 - t) * t)) + ((P3 - P2) * (3 * t * t));
        var third = (to - from) / 3;
        return new SvgCubic(At(from), At(from) + (Slope(from) * third), At(to) - (Slope(to) * third), At(to));
    }

    public override SvgCurve Moved(SvgMatrix by) => new SvgCubic(by.Apply(P0), by.Apply(P1), by.Apply(P2), by.Apply(P3));

    /// <summary>The arc through its ends and its middle, if the curve keeps to it.</summary>
    /// <param name="within">How far it may stray.</param>
    public SvgRound? AsArc(double within)
    {
        var (a, b, c) = (P0, At(0.5), P3);
        var turn = 2 * (b - a).Cross(c - a);
        if (Math.Abs(turn) < Tolerances.Rounding * Math.Max(1, Longest * Longest) || a.DistanceTo(c) < Alike)
        {
            return null;
        }

        var (u, v) = (b - a, c - a);
        var centre = a + (new Vec2((v.Y * u.Dot(u)) - (u.Y * v.Dot(v)), (u.X * v.Dot(v)) - (v.X * u.Dot(u))) / turn);
        var radius = centre.DistanceTo(a);
        if (
            !(radius < Core.Tolerances.LargestSize / 2)
            || Enumerable.Range(1, 15).Any(i => Math.Abs(centre.DistanceTo(At(i / 16.0)) - radius) > within)
            || new[] { (P1 - P0, a), (P3 - P2, c) }.Any(t =>
                t.Item1.Length > 0 && Math.Abs(t.Item1.Unit.Dot((t.Item2 - centre).Unit)) > 0.01
            )
        )
        {
            return null;
        }

        var (start, middle, end) = ((a - centre).Angle, (b - centre).Angle, (c - centre).Angle);
        double Positive(double angle) => angle - (Math.Floor(angle / (2 * Math.PI)) * 2 * Math.PI);
        var forward = Positive(middle - start) < Positive(end - start);
        return new SvgRound(centre, radius, radius, 0, start, forward ? Positive(end - start) : -Positive(start - end));
    }
}
