using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;
using Ratiogon.Core.Solving;

namespace Ratiogon.Core.Tools;

/// <summary>What a change of a curve would let go besides what it is asked to: said before it is done.</summary>
internal static class Losses
{
    private const int MostNamed = 3;

    /// <summary>In words, the rules that would be gone; null where there are none, or where the change would be refused.</summary>
    public static string? Of(Sketch sketch, SketchEdit edit, ParameterValues values)
    {
        if (SketchEditor.Apply(sketch, edit, values) is not { Done: true, Value: var after })
        {
            return null;
        }

        var rules = after.Constraints.Select(c => c.Id).Concat(after.Dimensions.Where(d => d.Driving).Select(d => d.Id)).ToHashSet(StringComparer.Ordinal);
        var gone = sketch.Constraints.Where(c => !rules.Contains(c.Id) && !Said(after, c)).Select(c => new Owner(OwnerKind.Constraint, c.Id))
            .Concat(sketch.Dimensions.Where(d => d.Driving && !rules.Contains(d.Id)).Select(d => new Owner(OwnerKind.Dimension, d.Id))).ToList();
        var copies = sketch.Constraints.Where(c => rules.Contains(c.Id) && ConstraintCatalog.Find(c.Kind) is CopyRule && after.Constraints.First(a => a.Id == c.Id).Of.Length < c.Of.Length).Select(c => c.Id).ToList();
        var words = gone.Take(MostNamed).Select(o => SketchWords.Describe(sketch, o)).Concat(gone.Count > MostNamed ? [$"{gone.Count - MostNamed} more"] : [])
            .Concat(copies.Select(id => $"one copy of {id}")).ToList();
        return words.Count == 0 ? null : $"Lets go: {string.Join("; ", words)}";
    }

    /// <summary>Whether what a rule said follows from what is left: then nothing is lost with it.</summary>
    private static bool Said(Sketch after, SketchConstraint rule) =>
        after.FindAll(rule.Of) is { } of && ConstraintCatalog.Find(rule.Kind)!.Check(of) is null
        && Diagnosis.DependsOn(after with { Constraints = after.Constraints.Add(rule) }, new Owner(OwnerKind.Constraint, rule.Id)) is not null;
}
