using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>A new sketch on a face is turned by quarters so that its axes stand as upright in the world as they can, as the face
/// lies now: an angle that is kept with the sketch from then on, while its axes follow what made the face.</summary>
public static class UprightSketches
{
    /// <summary>The part after a change, with the sketches turned that were added without an angle.</summary>
    /// <param name="before">The part before the change.</param>
    /// <param name="after">The part after it.</param>
    /// <param name="built">How it was built last.</param>
    public static Part Of(Part before, Part after, RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        if (!after.Steps.Any(s => New(s, before)))
        {
            return after;
        }

        var model = Model.Of(before, built);
        return after with
        {
            Steps =
            [
                .. after.Steps.Select(s =>
                    New(s, before) && Quarters(model, ((SketchStep)s).On) is { } turn ? (SketchStep)s with { Turn = turn } : s
                ),
            ],
        };
    }

    private static bool New(Step step, Part before) =>
        step is SketchStep { Turn: null, ShiftX: null, ShiftY: null } sketch
        && sketch.On.Contains('/', StringComparison.Ordinal)
        && before.Find(step.Id) is null;

    private static string? Quarters(Model model, string on)
    {
        // Planes and frames have the axes that were chosen for them; only faces have a middle.
        if (model.Find(on) is not { Done: true, Value: { Plane: { } plane, Middle: not null } })
        {
            return null;
        }

        var wanted = Frame.Facing(plane.Origin, plane.Z).X;
        var quarters = (int)Math.Round(Math.Atan2(wanted.Dot(plane.Y), wanted.Dot(plane.X)) / (Math.PI / 2));
        return quarters == 0 ? null : $"{(quarters == -2 ? 2 : quarters) * 90} deg";
    }
}
