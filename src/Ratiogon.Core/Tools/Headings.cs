using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Typed headings of lines as rules.</summary>
internal static class Headings
{
    /// <summary>Whether an edit keeps a typed heading: by an angle, or as level or upright.</summary>
    public static bool Kept(SketchEdit edit, double radians) =>
        Math.Abs(Math.Sin(2 * radians)) < Tolerances.Angle
            ? edit.Tie.Any(t => t.Kind is "horizontal" or "vertical")
            : edit.Size.Any(d => d.Kind == "angle" && d.Of[0] == Sketch.XAxis);

    /// <summary>Keeps a line at a typed angle from the x axis: level or upright where it is, a dimension otherwise.</summary>
    public static void Keep(Draft draft, string line, string text, double radians)
    {
        var turned = Math.IEEERemainder(radians, 2 * Math.PI);
        if (Math.Abs(Math.Sin(turned)) < Tolerances.Angle)
        {
            draft.Tie("horizontal", line);
        }
        else if (Math.Abs(Math.Cos(turned)) < Tolerances.Angle)
        {
            draft.Tie("vertical", line);
        }
        else
        {
            draft.Size(
                "angle",
                turned == radians && turned > 0 ? text : $"{Math.Abs(turned) * 180 / Math.PI:0.######} deg",
                Sketch.XAxis,
                line
            );
        }
    }
}
