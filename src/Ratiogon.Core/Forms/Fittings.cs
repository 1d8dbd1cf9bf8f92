using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Which holes and drawn threads are on a body: those whose wall is one of its round faces.</summary>
internal static class Fittings
{
    /// <summary>How near, in millimetres and as a sine, a wall has to lie to the tool that made it: the kernel fits some of its
    /// surfaces.</summary>
    private const double Same = 1e-5;

    public static bool Has(FormBody body, HoleRow hole) => Has(body, new Line3(hole.At, hole.Direction), hole.Diameter / 2, 0);

    /// <param name="body">The body.</param>
    /// <param name="axis">Of the wall.</param>
    /// <param name="radius">Of the wall, or of what is drawn just off it.</param>
    /// <param name="off">How far off as a share of the radius.</param>
    public static bool Has(FormBody body, Line3 axis, double radius, double off) =>
        body.Topology.Faces.Any(f =>
            f.Surface == "cylinder"
            && ShapeNumbers.SurfaceOf(f) is CylinderSurface wall
            && Math.Abs(wall.Radius - radius) <= Same + (off * radius)
            && wall.Axis.Direction.Cross(axis.Direction).Length < Same
            && wall.Axis.DistanceTo(axis.Origin) < Same
        );
}
