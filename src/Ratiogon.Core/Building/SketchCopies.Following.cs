using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Building;

/// <summary>Copies brought to where what they copy is now.</summary>
public static partial class SketchCopies
{
    /// <summary>The sketch with its copies where the model has them now, not solved yet; or what was lost.</summary>
    public static Outcome<Sketch> Followed(Model model, SketchStep step, Frame plane)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(step);
        var sketch = step.Sketch;
        foreach (var copy in step.Copies)
        {
            var found = model.Find(copy.Of).Then(thing => Drawn(model, thing, copy.How, plane, copy.Choice));
            if (!found.Done)
            {
                return found.Refusal!;
            }

            var draft = new Draft(Sketch.Empty);
            foreach (var piece in found.Value.Pieces)
            {
                piece.Into(draft);
            }

            var now = draft.Edit.Add.OrderBy(e => e is PointEntity ? 0 : 1).ToList();
            var kept = copy.Entities.Select(sketch.Find).ToList();
            if (now.Count != kept.Count || now.Zip(kept).Any(p => p.Second is null || p.First.GetType() != p.Second.GetType()))
            {
                return new Refusal(
                    "copy.changed",
                    $"What was copied from {copy.Of} is drawn otherwise now ({Words(now)} instead of "
                        + $"{Words(kept.OfType<SketchEntity>())}): take it into the sketch again.",
                    copy.Of
                );
            }

            var byId = now.Zip(kept).ToDictionary(p => p.Second!.Id, p => p.First);
            sketch = sketch with { Entities = [.. sketch.Entities.Select(e => byId.TryGetValue(e.Id, out var to) ? Moved(e, to) : e)] };
        }

        return sketch;
    }

    private static SketchEntity Moved(SketchEntity kept, SketchEntity to) =>
        (kept, to) switch
        {
            (PointEntity p, PointEntity q) => p with { At = q.At },
            (CircleEntity c, CircleEntity d) => c with { Radius = d.Radius },
            (ArcEntity a, ArcEntity b) => a with { Radius = b.Radius },
            (SplineEntity s, SplineEntity t) => s with { Spans = t.Spans },
            _ => kept,
        };

    private static string Words(IEnumerable<SketchEntity> of) =>
        string.Join(", ", of.Where(e => e is not PointEntity).Select(e => e.Word).DefaultIfEmpty("a point"));
}
