using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Building;

/// <summary>A frame and what it holds, as things to build on.</summary>
internal static class FrameThings
{
    /// <param name="reference">Its full name.</param>
    /// <param name="owner">The frame in words.</param>
    /// <param name="frame">Where it stands.</param>
    /// <param name="member">A plane, a direction or the origin of it; null for the frame itself.</param>
    public static Thing? Of(string reference, string owner, Frame frame, string? member)
    {
        var prefix = owner == "the world" ? "" : $"{owner} ";
        if (member is null)
        {
            return new Thing(reference, owner, frame.Origin) { Frame = frame };
        }

        if (member == "origin")
        {
            return Thing.OfPoint(reference, owner == "the world" ? "the origin" : $"the origin of {owner}", frame.Origin);
        }

        return World.PlaneOf(frame, member) is { } plane ? Thing.OfPlane(reference, $"{prefix}{member.ToUpperInvariant()}", plane)
            : World.DirectionOf(frame, member) is { } direction
                ? Thing.OfLine(reference, $"{prefix}{member} axis", new Line3(frame.Origin, direction)) with
                {
                    Guide = new AxisGuide(
                        member == "x" ? frame.Y
                            : member == "y" ? -frame.X
                            : frame.X,
                        Vec3.Zero
                    ),
                }
            : null;
    }
}
