using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>How large datums are drawn: as large as what uses them.</summary>
internal static class DatumExtents
{
    private const double Beyond = 1.15;

    /// <summary>Half the size of a datum, in millimetres.</summary>
    /// <param name="frame">The datum.</param>
    /// <param name="users">Places of what stands on it.</param>
    /// <param name="otherwise">Half the size where nothing does.</param>
    public static double Of(Frame frame, IReadOnlyList<Vec3> users, double otherwise) =>
        users.Count == 0 ? otherwise : Math.Max(otherwise * 0.25, Beyond * users.Max(p => p.DistanceTo(frame.Origin)));

    /// <summary>Places of a sketch that show how far it reaches.</summary>
    public static IEnumerable<Vec3> Of(Sketch sketch, Frame plane)
    {
        foreach (var entity in sketch.Entities)
        {
            if (entity is PointEntity p)
            {
                yield return plane.ToWorld(p.At);
            }
            else if (entity is CircleEntity c)
            {
                yield return plane.ToWorld(sketch.At(c.Centre) + new Vec2(c.Radius, 0));
                yield return plane.ToWorld(sketch.At(c.Centre) - new Vec2(c.Radius, 0));
            }
        }
    }
}
