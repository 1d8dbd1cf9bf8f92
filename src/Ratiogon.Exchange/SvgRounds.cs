using Ratiogon.Core;

namespace Ratiogon.Exchange;

/// <summary>Brings round things in round: cubic curves that keep to an arc, four that drawing programs write for a circle or an
/// ellipse, and arcs of one circle that follow each other.</summary>
internal static class SvgRounds
{
    /// <summary>Arcs that are a turn together to within this, in radians, are a circle: files are written with few digits.</summary>
    private const double WholeTurn = 1e-4;

    /// <summary>The share of the radius at which programs put the handles of a quarter of a circle lies between these.</summary>
    private const double LeastHandle = 0.545,
        MostHandle = 0.56;

    /// <summary>How far such a quarter may be off, over the radius: the last digit that a program writes of small drawings.</summary>
    private const double Written = 2e-3;

    /// <param name="shape">The pieces of one shape, in order.</param>
    /// <param name="within">How far a curve may stray from an arc and still be one, in millimetres.</param>
    public static List<SvgCurve> Of(IReadOnlyList<SvgCurve> shape, double within)
    {
        var made = new List<SvgCurve>();
        for (var i = 0; i < shape.Count; i++)
        {
            if (i + 4 <= shape.Count && Whole(shape, i) is { } whole)
            {
                made.Add(whole);
                i += 3;
                continue;
            }

            var next = shape[i] is SvgCubic cubic
                ? cubic.Straight
                    ? new SvgLine(cubic.P0, cubic.P3)
                    : cubic.AsArc(within) ?? (SvgCurve)cubic
                : shape[i];
            if (next is SvgRound round && made.Count > 0 && made[^1] is SvgRound before && Joined(before, round, within) is { } one)
            {
                made[^1] = one;
            }
            else
            {
                made.Add(next);
            }
        }

        return made;
    }

    private static SvgRound? Joined(SvgRound a, SvgRound b, double within)
    {
        var alike =
            a.Centre.DistanceTo(b.Centre) <= within
            && Math.Abs(a.Rx - b.Rx) <= within
            && Math.Abs(a.Ry - b.Ry) <= within
            && a.End.DistanceTo(b.Start) <= within
            && a.Sweep > 0 == b.Sweep > 0
            && (a.Circular || Math.Abs(Math.Sin(a.Tilt - b.Tilt)) < Tolerances.DrawnAngle);
        return !alike || Math.Abs(a.Sweep + b.Sweep) > (2 * Math.PI) + WholeTurn ? null
            : Math.Abs(a.Sweep + b.Sweep) > (2 * Math.PI) - WholeTurn && a.Start.DistanceTo(b.End) <= within
                ? a with
                {
                    Sweep = 2 * Math.PI * Math.Sign(a.Sweep),
                }
            : a with { Sweep = a.Sweep + b.Sweep };
    }

    /// <summary>Four quarters that close, with handles as they are written for a circle or an ellipse.</summary>
    private static SvgRound? Whole(IReadOnlyList<SvgCurve> shape, int at)
    {
        if (
            shape[at] is not SvgCubic a
            || shape[at + 1] is not SvgCubic b
            || shape[at + 2] is not SvgCubic c
            || shape[at + 3] is not SvgCubic d
        )
        {
            return null;
        }

        var centre = (a.P0 + b.P0 + c.P0 + d.P0) / 4;
        var (u, v) = (a.P0 - centre, b.P0 - centre);
        var near = Written * Math.Max(u.Length, v.Length);
        if (near == 0 || Math.Abs(u.Cross(v)) < Tolerances.DrawnAngle * u.Length * v.Length)
        {
            return null;
        }

        SvgCubic[] all = [a, b, c, d];
        Vec2[] corners = [u, v, -u, -v];
        for (var i = 0; i < 4; i++)
        {
            var (from, to, piece) = (corners[i], corners[(i + 1) % 4], all[i]);
            var (leaves, comes) = ((piece.P1 - piece.P0).Dot(to) / to.Dot(to), (piece.P2 - piece.P3).Dot(from) / from.Dot(from));
            if (
                piece.P0.DistanceTo(centre + from) > near
                || piece.P3.DistanceTo(centre + to) > near
                || leaves is < LeastHandle or > MostHandle
                || comes is < LeastHandle or > MostHandle
                || (piece.P1 - piece.P0).DistanceTo(to * leaves) > near
                || (piece.P2 - piece.P3).DistanceTo(from * comes) > near
            )
            {
                return null;
            }
        }

        return SvgRound.Of(centre, (a.P0 - c.P0) / 2, (b.P0 - d.P0) / 2, 0, 2 * Math.PI);
    }
}
