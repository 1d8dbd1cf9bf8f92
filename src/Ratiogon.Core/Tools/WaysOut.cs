using System.Collections.Immutable;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tools;

/// <summary>One way out of a refusal.</summary>
/// <param name="Words">What it does.</param>
/// <param name="Command">What a press sends.</param>
/// <param name="After">The sketch as it would be.</param>
public sealed record WayOut(string Words, EditSketch Command, Sketch After);

/// <summary>What could be done where a rule was refused for being too much or for clashing: every way is tried before it is
/// offered, so that each of them works.</summary>
public static class WaysOut
{
    private const int Most = 8;

    /// <param name="part">The part as it is.</param>
    /// <param name="refused">The command that was refused.</param>
    /// <param name="refusal">Why.</param>
    public static ImmutableArray<WayOut> Of(Part part, PartCommand refused, Refusal refusal)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(refusal);
        if (
            AsEdit(part, refused) is not { } command
            || part.Find(command.Step) is not SketchStep { Sketch: var sketch }
            || refusal.Code is not ("sketch.redundant" or "sketch.clash" or "dimension.value")
        )
        {
            return [];
        }

        var ways = new List<WayOut>();
        foreach (var (words, edit) in Candidates(part, command, sketch, refusal))
        {
            var way = new EditSketch(command.Step, edit, command.What);
            if (ways.Count < Most && way.Apply(part) is { Done: true } applied && applied.Value.Find(command.Step) is SketchStep after)
            {
                ways.Add(new WayOut(words, way, after.Sketch));
            }
        }

        return [.. ways];
    }

    private static EditSketch? AsEdit(Part part, PartCommand refused) =>
        refused switch
        {
            EditSketch edit => edit,
            SetSize set
                when part.Find(set.Step) is SketchStep { Sketch: var sketch }
                    && sketch.Dimensions.FirstOrDefault(d => d.Id == set.Field) is { } dimension => new EditSketch(
                set.Step,
                new SketchEdit { Size = [dimension with { Value = set.Value }] },
                set.Words
            ),
            _ => null,
        };

    private static IEnumerable<(string Words, SketchEdit Edit)> Candidates(Part part, EditSketch command, Sketch sketch, Refusal refusal)
    {
        var edit = command.Edit;
        if (refusal.Code == "dimension.value")
        {
            if (
                edit.Size is [{ Driving: true } zero]
                && Formula.Parse(zero.Value).Then(f => f.Evaluate(part.Values.Of)) is { Done: true, Value.Value: 0 }
                && Together(sketch, zero) is { } tie
            )
            {
                yield return (
                    $"tie them: {SketchWords.Describe(sketch with { Constraints = [tie] }, new Owner(OwnerKind.Constraint, tie.Id))}",
                    edit with
                    {
                        Size = [],
                        Tie = edit.Tie.Add(tie),
                        Remove = sketch.Dimensions.Any(d => d.Id == zero.Id) ? edit.Remove.Add(zero.Id) : edit.Remove,
                    }
                );
            }

            yield break;
        }

        if (edit.Size is [{ Driving: true } own])
        {
            yield return ("keep this size as a reference", edit with { Size = [own with { Value = null }] });
        }

        foreach (var id in refusal.Involved.Distinct())
        {
            if (sketch.Dimensions.FirstOrDefault(d => d.Id == id && d.Driving) is { } dimension)
            {
                var released = edit with { Size = edit.Size.Add(dimension with { Value = null }) };
                if (refusal.Code == "sketch.clash" && ValueThen(part, command, released, dimension) is { } value)
                {
                    var changed = edit with { Size = edit.Size.Add(dimension with { Value = value }) };
                    var works = new EditSketch(command.Step, changed).Apply(part).Done;

                    // Where the other size then says all, the new one can only read it.
                    yield return works || edit.Size is not [{ } read]
                        ? ($"change {Words(sketch, OwnerKind.Dimension, id)} to {value}", changed)
                        : (
                            $"change {Words(sketch, OwnerKind.Dimension, id)} to {value}, this one only reads",
                            edit with
                            {
                                Size = [read with { Value = null }, dimension with { Value = value }],
                            }
                        );
                }

                yield return ($"make {Words(sketch, OwnerKind.Dimension, id)} a reference", released);
            }
            else if (sketch.Constraints.Any(c => c.Id == id))
            {
                yield return ($"remove {Words(sketch, OwnerKind.Constraint, id)}", edit with { Remove = edit.Remove.Add(id) });
            }
        }
    }

    /// <summary>The tie that says what a distance of nothing means; null where nothing could lie in one place.</summary>
    private static SketchConstraint? Together(Sketch sketch, SketchDimension zero)
    {
        var of = sketch.FindAll(zero.Of);
        var kind = zero.Kind switch
        {
            "horizontal-distance" => "vertical",
            "vertical-distance" => "horizontal",
            "distance" when of is { Count: 2 } => of.Any(e => e is LineEntity)
                ? of.All(e => e is LineEntity)
                    ? "collinear"
                    : "on-curve"
                : "coincident",
            _ => null,
        };
        var tie = kind is null ? null : new SketchConstraint(Ids.Next("k", sketch.UsedIds()), kind, zero.Of);
        return tie is not null && SketchCheck.CheckConstraint(sketch, tie) is null ? tie : null;
    }

    /// <summary>What a dimension would read if it were let go.</summary>
    private static string? ValueThen(Part part, EditSketch command, SketchEdit released, SketchDimension dimension) =>
        new EditSketch(command.Step, released).Apply(part) is { Done: true } applied
        && applied.Value.Find(command.Step) is SketchStep after
        && after.Sketch.Dimensions.FirstOrDefault(d => d.Id == dimension.Id) is { } then
        && DimensionCatalog.Measure(after.Sketch, then) is { } reads
        && DimensionCatalog.Find(dimension.Kind)!.CheckValue(reads) is null
            ? Units.Show(new Quantity(reads, DimensionCatalog.Find(dimension.Kind)!.Of), part.Units, 9)
            : null;

    private static string Words(Sketch sketch, OwnerKind kind, string id) => SketchWords.Describe(sketch, new Owner(kind, id));
}
