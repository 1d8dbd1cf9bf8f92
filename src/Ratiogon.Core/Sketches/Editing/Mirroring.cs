using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Mirror images that follow their originals. What lies on the axis is shared.</summary>
public static class Mirroring
{
    /// <param name="sketch">Where.</param>
    /// <param name="ids">What is mirrored.</param>
    /// <param name="axis">A line.</param>
    public static Outcome<SketchEdit> Of(Sketch sketch, ImmutableArray<string> ids, string axis)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (sketch.Find(axis) is not LineEntity line)
        {
            return new Refusal("mirror.axis", $"'{Ids.Shorten(axis)}' is no line: a mirror needs a straight axis.", axis);
        }

        var of = Copying.Whole(sketch, ids.Remove(axis));
        if (of.IsEmpty)
        {
            return new Refusal("mirror.nothing", "Pick what to mirror first.");
        }

        var contacts = SketchContacts.Of(sketch);
        bool OnAxis(SketchEntity e) => e is PointEntity && (line.Points.Contains(e.Id) || contacts.IsOn(e.Id, line));
        var draft = new Draft(sketch);
        var names = of.ToDictionary(e => e.Id, e => OnAxis(e) ? e.Id : draft.NewId(Stem(e)), StringComparer.Ordinal);

        // A curve all of whose points lie on the axis is its own image.
        foreach (
            var own in of.Where(e => e is not PointEntity and not CircleEntity && e.Points.All(p => names.GetValueOrDefault(p, p) == p))
        )
        {
            names[own.Id] = own.Id;
        }

        var images = Copying.Of(
            of.Where(e => !(e is CircleEntity c && names.GetValueOrDefault(c.Centre, c.Centre) == c.Centre)),
            id => names.GetValueOrDefault(id, id),
            p => Symmetric.Mirrored(sketch, line, p),
            1,
            mirrored: true
        );
        if (images.IsEmpty)
        {
            return new Refusal("mirror.on-axis", $"All of it lies on {axis}: it is its own mirror image.", axis);
        }

        draft.Add([.. images]);
        draft.Tie(
            "mirror-image",
            [axis, .. of.Where(e => images.Any(i => i.Id == names[e.Id])).SelectMany(e => new[] { e.Id, names[e.Id] })]
        );
        return draft.Edit;
    }

    internal static string Stem(SketchEntity entity) =>
        entity switch
        {
            PointEntity => "p",
            LineEntity => "l",
            CircleEntity => "c",
            ArcEntity => "a",
            SplineEntity => "s",
            _ => "e",
        };
}
