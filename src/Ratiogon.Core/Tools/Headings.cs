using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Typed headings of lines as rules.</summary>
internal static class Headings
{
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
            draft.Size("angle", turned == radians && turned > 0 ? text : $"{Math.Abs(turned) * 180 / Math.PI:0.######} deg", Sketch.XAxis, line);
        }
    }
}
