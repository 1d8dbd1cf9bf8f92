using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>Origin and axes of a plane by a rule that moves with what it stands on and never jumps: axes of a plane it is
/// parallel to, or x along the first straight thing that it runs along; the world's axes only where there is neither.</summary>
internal static class PlaneFrames
{
    public static Frame Of(Plane3 plane, IReadOnlyList<Condition> conditions)
    {
        var things = conditions.SelectMany(c => c.Of).ToList();
        var origin = plane.Foot(things.Count == 0 ? Vec3.Zero : things[0].Plane?.Origin ?? things[0].Place ?? things[0].Anchor);
        foreach (var t in things)
        {
            if (t.Plane is { } parent && parent.Z.Cross(plane.Normal).Length < 1e-9)
            {
                return Frame.OfAxes(origin, plane.Normal, parent.X);
            }

            if (t.Straight is { } line && Math.Abs(line.Direction.Dot(plane.Normal)) < 1e-9)
            {
                return Frame.OfAxes(origin, plane.Normal, line.Direction);
            }
        }

        return Frame.Facing(origin, plane.Normal);
    }
}
