using System.Globalization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Whether a profile can go along a path, found out before it is tried: the reach of the profile towards the inside
/// of each bend against its radius, breaks of the tangent, and places where the path comes back to itself.</summary>
public static class SweepCheck
{
    /// <summary>A curvature, in 1/mm, below which a path is straight.</summary>
    private const double Straight = 1e-9;

    /// <summary>How near the profile may come to the centre of curvature, as a share of the radius.</summary>
    private const double Cusp = 1e-6;

    private const int Places = 240;
    private const double Kink = 0.002;

    /// <returns>Why it cannot, with the place, the radius there and the largest profile that fits; null where it can.</returns>
    public static Refusal? Of(FormSite site, Profile profile, CurvePath path, SweepKeep keep)
    {
        ArgumentNullException.ThrowIfNull(site);
        ArgumentNullException.ThrowIfNull(profile);
        ArgumentNullException.ThrowIfNull(path);
        return Kinked(site, path, keep)
            ?? Slanted(profile, path)
            ?? (keep == SweepKeep.Parallel ? Parallel(site, profile, path) : Tight(site, profile, path));
    }

    /// <summary>How far a profile lies beside the beginning of its path: 0 where that runs through its outline or its plane
    /// there.</summary>
    public static double Aside(Profile profile, CurvePath path)
    {
        ArgumentNullException.ThrowIfNull(profile);
        ArgumentNullException.ThrowIfNull(path);
        var start = path.Start;
        var at = profile.Plane.ToPlane(start);
        var drawn = profile.Regions.SelectMany(r => r.Outer).SelectMany(e => e.Drawn()).ToList();
        var (low, high) = (new Vec2(drawn.Min(p => p.X), drawn.Min(p => p.Y)), new Vec2(drawn.Max(p => p.X), drawn.Max(p => p.Y)));
        var off = new Vec2(Math.Max(0, Math.Max(low.X - at.X, at.X - high.X)), Math.Max(0, Math.Max(low.Y - at.Y, at.Y - high.Y))).Length;
        return off < Tolerances.Length ? 0 : off;
    }

    private static Refusal? Kinked(FormSite site, CurvePath path, SweepKeep keep)
    {
        for (var i = 0; i < path.Curves.Length && keep != SweepKeep.Parallel; i++)
        {
            if (i == 0 && !path.Closed)
            {
                continue;
            }

            var (before, here) = (path.Curves[(i + path.Curves.Length - 1) % path.Curves.Length], path.Curves[i]);
            var turn = before.Tangent(before.To).AngleTo(here.Tangent(here.From));
            if (turn > Kink)
            {
                return new Refusal(
                    "sweep.kink",
                    $"The path has a kink of {FormSite.Degrees(turn)} at {site.Show(here.At(here.From))}. Round it there, or keep the "
                        + "profile parallel to itself.",
                    "path"
                )
                {
                    Places = [here.At(here.From)],
                };
            }
        }

        return null;
    }

    private static Refusal? Slanted(Profile profile, CurvePath path)
    {
        var lean = Math.Abs(path.AtLength(0).Tangent.Dot(profile.Plane.Z));
        return lean < 0.02
            ? new Refusal(
                "sweep.flat",
                $"The path begins in the plane of the profile (within {FormSite.Degrees(Math.Asin(lean))}): it would sweep "
                    + "nothing. Put the profile across the path.",
                "path"
            )
            : null;
    }

    private static Refusal? Parallel(FormSite site, Profile profile, CurvePath path)
    {
        var way = Math.Sign(path.AtLength(0).Tangent.Dot(profile.Plane.Z));
        for (var i = 0; i <= Places; i++)
        {
            var (at, tangent) = path.AtLength(path.Length * i / Places);
            if (tangent.Dot(profile.Plane.Z) * way < 0.01)
            {
                return new Refusal(
                    "sweep.turns-back",
                    $"Kept parallel to itself, the profile would go through itself at {site.Show(at)}, where the path runs along its "
                        + "plane. Keep it square to the path.",
                    "keep"
                )
                {
                    Places = [at],
                };
            }
        }

        return null;
    }

    private static Refusal? Tight(FormSite site, Profile profile, CurvePath path)
    {
        var frames = MovingFrames.Along(path, profile.Plane.X, Places + 1);
        var first = frames[0];
        var across = first.Tangent.Cross(first.Normal);
        var reach = profile
            .Edges.SelectMany(e => e.Drawn(Math.PI / 36))
            .Select(p => profile.Plane.ToWorld(p) - first.At)
            .Select(v => new Vec2(v.Dot(first.Normal), v.Dot(across)))
            .ToList();
        var (worst, place, radius, towards) = (0.0, Vec3.Zero, 0.0, 0.0);
        foreach (var (f, at) in frames.Select((f, i) => (f, path.Length * i / Places)))
        {
            var bend = path.BendAt(at);
            var curvature = bend.Length;
            if (curvature < Straight)
            {
                continue;
            }

            var inwards = new Vec2(bend.Dot(f.Normal), bend.Dot(f.Tangent.Cross(f.Normal))) / curvature;
            var most = reach.Max(p => p.Dot(inwards));
            if (most * curvature > worst)
            {
                (worst, place, radius, towards) = (most * curvature, f.At, 1 / curvature, most);
            }
        }

        if (worst > 1 - Cusp)
        {
            if (Aside(profile, path) is var aside && aside > 0)
            {
                return new Refusal(
                    "sweep.aside",
                    $"The profile lies {site.Show(aside)} beside the beginning of the path, at {site.Show(first.At)}; from there it "
                        + $"would run through itself in the bend at {site.Show(place)}. Bring it to the path, or draw it there.",
                    "brought"
                )
                {
                    Places = [first.At, place],
                };
            }

            var scale = 0.99 / worst;
            return new Refusal(
                "sweep.tight",
                $"The path is too tight at {site.Show(place)}: its radius there is {site.Show(radius)}, and the profile reaches "
                    + $"{site.Show(towards)} inwards. The largest that fits is {scale * 100:0} % of this profile, reaching "
                    + $"{site.Show(towards * scale)}.",
                "path"
            )
            {
                Places = [place],
                Fits = new Fitting("", scale.ToString("R", CultureInfo.InvariantCulture)),
            };
        }

        return Near(site, path, frames, reach.Max(p => p.Length));
    }

    private static Refusal? Near(FormSite site, CurvePath path, IReadOnlyList<MovingFrame> frames, double reach)
    {
        var step = path.Length / Places;
        var apart = (int)Math.Ceiling(Math.PI * reach / step) + 1;
        var nearest = (Gap: double.MaxValue, At: Vec3.Zero);
        for (var i = 0; i < frames.Count; i++)
        {
            for (var j = i + apart; j < frames.Count; j++)
            {
                if (path.Closed && frames.Count - 1 - (j - i) < apart)
                {
                    break;
                }

                var gap = frames[i].At.DistanceTo(frames[j].At);
                nearest = gap < nearest.Gap ? (gap, (frames[i].At + frames[j].At) / 2) : nearest;
            }
        }

        return nearest.Gap < reach * 2 * 0.98
            ? new Refusal(
                "sweep.itself",
                $"The path comes within {site.Show(nearest.Gap)} of itself at {site.Show(nearest.At)}; the profile, which reaches "
                    + $"{site.Show(reach)}, would run into itself. Half that gap is the largest reach that fits.",
                "path"
            )
            {
                Places = [nearest.At],
            }
            : null;
    }
}
