using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Two points made one, and one parted again.</summary>
public static class Merging
{
    /// <summary>Why points cannot become one, or null.</summary>
    public static Refusal? Check(Sketch sketch, IReadOnlyDictionary<string, string> merge)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(merge);
        foreach (var (gone, kept) in merge)
        {
            if (sketch.Find(gone) is not PointEntity || sketch.Find(kept) is not PointEntity || gone == kept)
            {
                return new Refusal("merge.points", $"'{Ids.Shorten(gone)}' and '{Ids.Shorten(kept)}' are not two points of the sketch.");
            }

            if (Sketch.IsBuiltIn(gone))
            {
                return new Refusal("merge.built-in", "The origin stays; merge the other point into it.");
            }

            if (sketch.Entities.FirstOrDefault(e => e.Points.Contains(gone) && e.Points.Contains(kept)) is { } both)
            {
                return new Refusal("merge.collapses", $"{both.Word} {both.Id} goes through both points: it would vanish.", both.Id);
            }

            if (sketch.Dimensions.FirstOrDefault(d => d.Of.Contains(gone) && d.Of.Contains(kept)) is { } apart)
            {
                return new Refusal(
                    "merge.apart",
                    $"{apart.Kind} {apart.Value} ({apart.Id}) keeps the points apart: remove it first.",
                    apart.Id
                )
                {
                    Involved = [apart.Id],
                };
            }
        }

        return null;
    }

    /// <summary>Every mention of a point becomes one of another; rules that then say nothing go.</summary>
    public static Sketch Of(Sketch sketch, IReadOnlyDictionary<string, string> merge)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(merge);
        if (merge.Count == 0)
        {
            return sketch;
        }

        string Name(string id) => merge.GetValueOrDefault(id, id);
        var entities = sketch.Entities.Where(e => !merge.ContainsKey(e.Id)).Select(e => Renaming.WithPoints(e, Name)).ToImmutableArray();
        var drawn = sketch with { Entities = entities };
        return drawn with
        {
            Constraints = [.. sketch.Constraints.Select(c => Renamed(drawn, c, Name)).OfType<SketchConstraint>()],
            Dimensions = [.. sketch.Dimensions.Select(d => d with { Of = [.. d.Of.Select(Name)] })],
            Shapes = sketch.Shapes.RemoveAll(s =>
                merge.Keys.Any(gone => gone.StartsWith(s.Id + ".", StringComparison.Ordinal)) && s.Count is not null
            ),
        };
    }

    /// <summary>A constraint with its mentions renamed; null where it holds of itself then.</summary>
    private static SketchConstraint? Renamed(Sketch drawn, SketchConstraint constraint, Func<string, string> name)
    {
        var of = constraint.Of.Select(name).ToImmutableArray();
        if (of.SequenceEqual(constraint.Of))
        {
            return StillSays(drawn, constraint) ? constraint : null;
        }

        var renamed = constraint with { Of = ConstraintCatalog.Find(constraint.Kind) is CopyRule ? of : [.. of.Distinct()] };
        return StillSays(drawn, renamed) && SketchCheck.CheckConstraint(drawn, renamed) is null ? renamed : null;
    }

    /// <summary>A point that became an end of a curve lies on it already.</summary>
    private static bool StillSays(Sketch drawn, SketchConstraint constraint) =>
        !(
            constraint.Kind is "on-curve" or "midpoint"
            && constraint.Of.Length == 2
            && constraint.Of.Any(a => constraint.Of.Any(b => drawn.Find(b) is { } e && e is not PointEntity && e.Points.Contains(a)))
        );

    /// <summary>Parts a point: every curve but the first gets a point of its own there, tied to nothing.</summary>
    public static Outcome<SketchEdit> Part(Sketch sketch, string point)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var users = sketch.Entities.Where(e => e.Points.Contains(point)).ToList();
        if (sketch.Find(point) is not PointEntity || users.Count < 2)
        {
            return new Refusal("merge.alone", $"{Ids.Shorten(point)} belongs to one curve only: there is nothing to part.", point);
        }

        var draft = new Draft(sketch);
        foreach (var user in users.Skip(1))
        {
            var own = draft.NewPoint(sketch.At(point));
            draft.Redraw(Renaming.WithPoints(user, id => id == point ? own : id));
        }

        return draft.Edit;
    }
}
