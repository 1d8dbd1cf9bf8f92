using Ratiogon.Core.Numerics;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tools;

/// <summary>What a change of a curve would let go besides what it is asked to: said before it is done. The edit is tried for that;
/// while the
/// pointer moves over what would be the same edit, once is enough.</summary>
internal sealed class Losses
{
    private const int MostNamed = 3;
    private (Sketch Sketch, string Edit, string? Words)? last;

    /// <summary>In words, the rules that would be gone; null where there are none, or where the change would be refused.</summary>
    public string? Of(Sketch sketch, SketchEdit edit, ParameterValues values)
    {
        // What goes depends on which things are changed and how they hang together, not on where new points lie.
        string[] shape =
        [
            .. edit.Remove,
            "|",
            .. edit.Replace.SelectMany(e => e.Points.Prepend(e.Id)),
            "|",
            .. edit.Retie.SelectMany(c => c.Of.Prepend(c.Id)),
            "|",
            .. edit.Size.SelectMany(d => d.Of.Prepend(d.Id)),
            "|",
            .. edit.Add.Select(e => e.Id),
        ];
        var key = string.Join(' ', shape);
        if (last is not var (known, same, words) || !ReferenceEquals(known, sketch) || same != key)
        {
            last = (sketch, key, words = Tried(sketch, edit, values));
        }

        return words;
    }

    private static string? Tried(Sketch sketch, SketchEdit edit, ParameterValues values)
    {
        if (SketchEditor.Apply(sketch, edit, values) is not { Done: true, Value: var after })
        {
            return null;
        }

        var left = after.Constraints.ToDictionary(c => c.Id);
        var driving = after.Dimensions.Where(d => d.Driving).Select(d => d.Id).ToHashSet(StringComparer.Ordinal);
        var gone = sketch
            .Constraints.Where(c => !left.ContainsKey(c.Id) && !Said(after, c))
            .Select(c => new Owner(OwnerKind.Constraint, c.Id))
            .Concat(sketch.Dimensions.Where(d => d.Driving && !driving.Contains(d.Id)).Select(d => new Owner(OwnerKind.Dimension, d.Id)))
            .ToList();
        var copies = sketch.Constraints.Where(c =>
            ConstraintCatalog.Find(c.Kind) is CopyRule && left.TryGetValue(c.Id, out var now) && now.Of.Length < c.Of.Length
        );
        string[] words =
        [
            .. gone.Take(MostNamed).Select(o => SketchWords.Describe(sketch, o)),
            .. gone.Count > MostNamed ? [$"{gone.Count - MostNamed} more"] : Array.Empty<string>(),
            .. copies.Select(c => $"one copy of {c.Id}"),
        ];
        return words.Length == 0 ? null : $"Lets go: {string.Join("; ", words)}";
    }

    /// <summary>Whether what a rule said follows from what is left: then nothing is lost with it.</summary>
    private static bool Said(Sketch after, SketchConstraint rule) =>
        after.FindAll(rule.Of) is { } of
        && ConstraintCatalog.Find(rule.Kind)!.Check(of) is null
        && Diagnosis.DependsOn(after with { Constraints = after.Constraints.Add(rule) }, new Owner(OwnerKind.Constraint, rule.Id))
            is not null;
}
