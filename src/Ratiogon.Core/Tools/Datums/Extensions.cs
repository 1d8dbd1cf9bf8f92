using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Tools.Datums;

/// <summary>Where faces and edges are taken as going on beyond their rims and ends, to be drawn: never silently.</summary>
internal static class Extensions
{
    /// <summary>How far off a line, as a share of the distances about, is still on it.</summary>
    private const double OnIt = 1e-6;

    /// <returns>Pairs of places.</returns>
    public static ImmutableArray<Vec3> Of(DatumKind kind, Frame datum, IReadOnlyList<Thing> things)
    {
        var pairs = ImmutableArray.CreateBuilder<Vec3>();
        foreach (var thing in things)
        {
            if (thing is { Line: { } line, Path: { } path } && kind is DatumKind.Point or DatumKind.Axis)
            {
                var target = kind == DatumKind.Point ? datum.Origin : line.Nearest(new Line3(datum.Origin, datum.X)).Here;
                var along = line.Along(target) - line.Along(path.Start);
                if (
                    line.DistanceTo(target) < OnIt * Math.Max(1, path.Length)
                    && (along < -Tolerances.Length || along > path.Length + Tolerances.Length)
                )
                {
                    pairs.AddRange(along < 0 ? path.Start : path.End, target);
                }
            }
            else if (thing is { Plane: { } plane, Middle: { } middle } && kind is DatumKind.Point or DatumKind.Axis)
            {
                var target = kind == DatumKind.Point ? datum.Origin : new Line3(datum.Origin, datum.X).Foot(middle);
                if (Math.Abs(Plane3.Of(plane).Side(target)) < OnIt * Math.Max(1, middle.DistanceTo(target)))
                {
                    pairs.AddRange(middle, target);
                }
            }
        }

        return pairs.ToImmutable();
    }
}
