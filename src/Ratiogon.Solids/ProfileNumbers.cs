using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Solids;

/// <summary>Profiles as the C ABI takes them.</summary>
internal static class ProfileNumbers
{
    public static ProfileHandle Make(Profile profile)
    {
        var loops = profile.Regions.SelectMany(r => new[] { r.Outer }.Concat(r.Holes)).ToList();
        var (edges, extra) = (new List<double>(), new List<double>());
        foreach (var e in loops.SelectMany(l => l))
        {
            if (e.Free is { } free)
            {
                AddFree(edges, extra, e, free);
                continue;
            }

            edges.AddRange([
                e.Full ? 2
                : e.Round ? 1
                : 0,
                e.From.X,
                e.From.Y,
                e.To.X,
                e.To.Y,
                e.Centre.X,
                e.Centre.Y,
                e.Radius,
                e.Counterclockwise ? 1 : 0,
            ]);
        }

        var p = profile.Plane;
        double[] plane = [p.Origin.X, p.Origin.Y, p.Origin.Z, p.X.X, p.X.Y, p.X.Z, p.Y.X, p.Y.Y, p.Y.Z];
        var done = Native.ProfileMake(
            plane,
            edges.ToArray(),
            extra.ToArray(),
            [.. loops.Select(l => l.Length)],
            [.. profile.Regions.Select(r => 1 + r.Holes.Length)],
            profile.Regions.Length,
            0,
            out var made
        );
        return done == 0 ? made : throw new InvalidOperationException(Native.Error());
    }

    /// <summary>Ellipses go over as they are, splines as the poles of their cubic pieces.</summary>
    private static void AddFree(List<double> edges, List<double> extra, ProfileEdge e, PlaneCurve curve)
    {
        if (curve is EllipseCurve ellipse)
        {
            edges.AddRange([4, e.From.X, e.From.Y, e.To.X, e.To.Y, ellipse.Centre.X, ellipse.Centre.Y, 0, e.Forward ? 1 : 0]);
            extra.AddRange([ellipse.U.X, ellipse.U.Y, ellipse.V.X, ellipse.V.Y]);
            return;
        }

        var (from, to) = (Math.Min(e.Stretch.From, e.Stretch.To), Math.Max(e.Stretch.From, e.Stretch.To));
        var poles = ((SplineCurve)curve).Beziers(from, to);
        poles = e.Stretch.From <= e.Stretch.To ? poles : [.. poles.Reverse()];
        edges.AddRange([3, e.From.X, e.From.Y, e.To.X, e.To.Y, poles.Count, 0, 0, 0]);
        extra.AddRange(poles.SelectMany(p => new[] { p.X, p.Y }));
    }
}
