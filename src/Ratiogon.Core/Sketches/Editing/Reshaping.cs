using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>What becomes of the rules on a curve whose ends change: those about where it lies stay, those about its length
/// go to the old ends where these stay, or are let go.</summary>
internal static class Reshaping
{
    /// <summary>Adds to a draft what follows from drawing a curve anew under its own id.</summary>
    /// <param name="draft">The change so far; its new ties may name the curve.</param>
    /// <param name="old">The curve as it was.</param>
    /// <param name="now">The same id with other ends, or another kind.</param>
    /// <param name="rest">Another piece of the same curve: its points stay what they are.</param>
    /// <param name="but">An offset that is seen to already.</param>
    public static void Note(Draft draft, SketchEntity old, SketchEntity now, SketchEntity? rest = null, string? but = null)
    {
        var sketch = draft.Sketch;
        var lost = old.Points.Except(now.Points).ToHashSet(StringComparer.Ordinal);
        var cut = lost.Except(rest?.Points ?? []).ToList();
        draft.Redraw(now);
        var remove = ImmutableArray.CreateBuilder<string>();
        var whole = lost.All(p => rest?.Points.Contains(p) == true || UsedElsewhere(sketch, p, old.Id, [.. sketch.Constraints], null))
            ? Whole(draft, old)
            : [];
        var contacts = new Lazy<Sketches.Writing.Contacts>(() => SketchContacts.Of(sketch));
        foreach (var constraint in sketch.Constraints.Where(c => c.Of.Contains(old.Id) && !whole.Contains(c.Id)))
        {
            if (
                rest is not null
                && constraint.Of.Length == 2
                && ConstraintCatalog.Find(constraint.Kind)!.HasJoint
                && TouchesAt(sketch, contacts.Value, constraint, old) is { } joint
                && IsOf(rest, joint)
                && !IsOf(now, joint)
            )
            {
                // The piece that has the place where they meet is the one that goes on with the rule; of the other, the same would be
                // said twice there.
                draft.Retie(new HashSet<string> { constraint.Id }, latest => latest with { Of = latest.Of.Replace(old.Id, rest.Id) });
                continue;
            }

            if (ConstraintCatalog.Find(constraint.Kind)!.Reshaped(sketch, constraint, old, now) is not { } other)
            {
                remove.Add(constraint.Id);
            }
            else if (!other.Equals(constraint))
            {
                draft.Retie(new HashSet<string> { constraint.Id }, latest =>
                    ConstraintCatalog.Find(latest.Kind)!.Reshaped(sketch, latest, old, now) ?? latest
                );
            }
        }

        bool IsOf(SketchEntity piece, string joint) => piece.Points.Any(p => contacts.Value.Root(p) == contacts.Value.Root(joint));
        foreach (var offset in sketch.Dimensions.Where(d => d.Kind == OffsetSize.KindName && d.Id != but && d.Of.Contains(old.Id)))
        {
            OffsetPairs.Follow(draft, offset, old, now, rest);
        }

        var kept = sketch.Constraints.Where(c => !remove.Contains(c.Id)).ToList();
        foreach (var dimension in sketch.Dimensions.Where(d => d.Of.Contains(old.Id) && OfLength(d, old)))
        {
            // The length between the old ends is still there while both are.
            if (old is LineEntity line && lost.All(p => UsedElsewhere(sketch, p, old.Id, kept, dimension.Id)))
            {
                draft.Resize(dimension with { Of = [line.From, line.To] });
            }
            else
            {
                remove.Add(dimension.Id);
            }
        }

        foreach (var point in cut.Where(p => !Sketch.IsBuiltIn(p)))
        {
            if (UsedElsewhere(sketch, point, old.Id, kept, null))
            {
                // It stays where the curve would have ended: a change of ends frees nothing.
                if (old is LineEntity || Curves.Centre(old) is not null)
                {
                    draft.Infer("on-curve", point, old.Id);
                }
            }
            else
            {
                remove.Add(point);
            }
        }

        draft.Change(e => e with { Remove = e.Remove.AddRange(remove) });
    }

    /// <summary>The point where a curve is known to meet the other of a rule; null where none is.</summary>
    private static string? TouchesAt(Sketch sketch, Sketches.Writing.Contacts contacts, SketchConstraint rule, SketchEntity curve) =>
        rule.Of.FirstOrDefault(o => o != curve.Id) is { } id && sketch.Find(id) is { } other
            ? contacts.Shared(curve, other)?.OnFirst
            : null;

    /// <summary>Rules about a whole line go to a construction line from end to end, where both ends stay: equal, middle,
    /// symmetric.</summary>
    /// <returns>The ids of those that went.</returns>
    internal static HashSet<string> Whole(Draft draft, SketchEntity old)
    {
        var sketch = draft.Sketch;
        var about = sketch
            .Constraints.Where(c => c.Of.Contains(old.Id) && ConstraintCatalog.Find(c.Kind)!.IsOfWhole(sketch, c, old.Id))
            .Select(c => c.Id)
            .ToHashSet(StringComparer.Ordinal);
        if (old is not LineEntity line || about.Count == 0)
        {
            return [];
        }

        var whole = draft.NewId("l");
        draft.Add(new LineEntity(whole, line.From, line.To) { Construction = true });
        draft.Retie(about, c => c with { Of = c.Of.Replace(old.Id, whole) });
        return about;
    }

    private static bool OfLength(SketchDimension dimension, SketchEntity old) =>
        dimension.Kind is "sweep" or "arc-length" || (old is LineEntity && dimension.Of.Length == 1);

    private static bool UsedElsewhere(Sketch sketch, string point, string curve, List<SketchConstraint> kept, string? butDimension) =>
        sketch.Entities.Any(e => e.Id != curve && e.Points.Contains(point))
        || kept.Exists(c => c.Of.Contains(point) && !c.Of.Contains(curve))
        || sketch.Dimensions.Any(d => d.Id != butDimension && d.Of.Contains(point));
}
