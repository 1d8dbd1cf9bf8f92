using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Tests.Rig;

/// <summary>What must be true after every input, whatever it was.</summary>
internal static class Invariants
{
    private static readonly string[] Malformed =
    [
        "sketch.duplicate-id",
        "sketch.unknown-id",
        "sketch.unknown-constraint",
        "sketch.unknown-dimension",
        "constraint.instances",
        "id.malformed",
        "defect",
    ];

    /// <summary>What is wrong, beginning with the name of the class of wrong; null where nothing is.</summary>
    public static string? Broken(SketchUser user)
    {
        if (user.Refused is { } refusal && Malformed.Contains(refusal.Code))
        {
            return $"malformed: {refusal.Code} {refusal.Message}";
        }

        if (user.Last is not { } change)
        {
            return null;
        }

        return Sound(user, change)
            ?? (
                change.Command is EditSketch edit
                    ? Untouched(change, edit.Edit) ?? Drawn(change, edit.Edit) ?? TypedHolds(user, change, edit.Edit)
                    : null
            );
    }

    private static string? Sound(SketchUser user, SketchUser.Change change)
    {
        if (SketchCheck.Check(change.After) is { } wrong)
        {
            return $"unsound: {wrong.Code} {wrong.Message}";
        }

        var values = SketchValues.Of(change.After, user.Part.Values);
        if (!values.Done)
        {
            return $"values: {values.Refusal!.Message}";
        }

        var system = SystemReduction.Of(SketchCompiler.Write(change.After, values.Value, reducing: false));
        var size = change.After.Entities.OfType<PointEntity>().Select(p => p.At.Length).DefaultIfEmpty(0).Max();
        for (var e = 0; e < system.Equations.Length; e++)
        {
            var residual = Math.Abs(system.Residual(e, system.Start));
            if (!(residual <= Math.Max(1e-7, 1e-12 * size)))
            {
                return $"unmet: {residual:0.0e+0} {SketchWords.Describe(change.After, system.Equations[e].Owner)}";
            }
        }

        if (
            change
                .After.Entities.OfType<ArcEntity>()
                .FirstOrDefault(a =>
                    a.Points.Skip(1)
                        .Any(p =>
                            Math.Abs(change.After.At(p).DistanceTo(change.After.At(a.Centre)) - a.Radius) > Math.Max(1e-7, 1e-12 * size)
                        )
                ) is
            { } off
        )
        {
            return $"unmet: an end of arc {off.Id} is not on it";
        }

        // A tie by hand may say what an older one said; what a tool or an edit writes does not.
        if (
            !change.Tool.StartsWith("tie-", StringComparison.Ordinal)
            && Diagnosis.AllRedundant(change.After) is [var first, ..]
            && Diagnosis.AllRedundant(change.Before).Count == 0
        )
        {
            return $"redundant: {SketchWords.Describe(change.After, first.Rule)} beside {SketchWords.List(change.After, first.Others)}";
        }

        if (Solving.KeptSystemTests.Differs(change.After, values.Value, new Random(change.After.Entities.Length)) is { } differs)
        {
            return $"kept: the kept system is not the one written anew: {differs}";
        }

        var kept = PartChange.FromJson(PartChange.Between(change.Was, user.Part).ToJson());
        if (!kept.Apply(change.Was).Equals(user.Part) || !kept.Reversed().Apply(user.Part).Equals(change.Was))
        {
            return "undo: taken back and done again, the part is another";
        }

        var text = System.Text.Json.JsonSerializer.Serialize(user.Part, PartJson.Compact);
        return System.Text.Json.JsonSerializer.Deserialize<Part>(text, PartJson.Compact)!.Equals(user.Part)
            ? null
            : "file: what is read is not what was written";
    }

    /// <summary>What has nothing to do with a change is to the bit as it was.</summary>
    private static string? Untouched(SketchUser.Change change, SketchEdit edit)
    {
        var (before, after) = (change.Before, change.After);
        var seeds = edit
            .Move.Keys.Concat(edit.Resize.Keys)
            .Concat(edit.Merge.Keys)
            .Concat(edit.Merge.Values)
            .ToHashSet(StringComparer.Ordinal);
        foreach (var (now, other) in new[] { (after, before), (before, after) })
        {
            seeds.UnionWith(
                now.Entities.Where(e => other.Find(e.Id) is not { } o || Shape(o) != Shape(e)).SelectMany(e => e.Points.Append(e.Id))
            );
            seeds.UnionWith(now.Constraints.Where(c => !other.Constraints.Contains(c)).SelectMany(c => c.Of));
            seeds.UnionWith(now.Dimensions.Where(d => !other.Dimensions.Contains(d)).SelectMany(d => d.Of));
        }

        var reached = new HashSet<string>(seeds.Where(s => !Sketch.IsBuiltIn(s)), StringComparer.Ordinal);
        var links = before
            .Entities.Concat(after.Entities)
            .Select(e => e.Points.Append(e.Id))
            .Concat(before.Constraints.Concat(after.Constraints).Select(c => (IEnumerable<string>)c.Of))
            .Concat(before.Dimensions.Concat(after.Dimensions).Select(d => (IEnumerable<string>)d.Of))
            .Select(l => l.Where(id => !Sketch.IsBuiltIn(id)).ToArray())
            .ToList();
        for (var grown = true; grown; )
        {
            grown = false;
            foreach (var link in links.Where(l => l.Any(reached.Contains)))
            {
                foreach (var id in link)
                {
                    grown |= reached.Add(id);
                }
            }
        }

        var moved = before.Entities.FirstOrDefault(e =>
            !reached.Contains(e.Id) && after.Find(e.Id) is { } now && !(now with { Construction = e.Construction }).Equals(e)
        );
        return moved is null ? null : $"untouched moved: {moved} is {after.Find(moved.Id)}";
    }

    /// <summary>An entity without its positions.</summary>
    private static string Shape(SketchEntity e) => $"{e.Word} {string.Join(",", e.Points)}";

    /// <summary>What is drawn moves nothing that was there.</summary>
    private static string? Drawn(SketchUser.Change change, SketchEdit edit)
    {
        if (!edit.Draws || edit.Add.IsEmpty || !edit.Replace.IsEmpty || !edit.Remove.IsEmpty || !edit.Merge.IsEmpty || !edit.Move.IsEmpty)
        {
            return null;
        }

        // What an edit turns into construction or out of it is the same but for that.
        SketchEntity? Now(SketchEntity e) =>
            change.After.Find(e.Id) is { } now && edit.ToggleConstruction.Contains(e.Id)
                ? now with
                {
                    Construction = e.Construction,
                }
                : change.After.Find(e.Id);
        var moved = change.Before.Entities.FirstOrDefault(e => !e.Equals(Now(e)));
        return moved is null ? null : $"drawing moved: {moved} is {change.After.Find(moved.Id)}";
    }

    /// <summary>Every value typed while drawing became a size that holds, and every place is exact and set.</summary>
    private static string? TypedHolds(SketchUser user, SketchUser.Change change, SketchEdit edit)
    {
        if (change.Typed.IsEmpty || change.Tool is "move" or "select" or "mirror" or "dimension")
        {
            return null;
        }

        var freedoms = Freedoms.Of(change.After);
        foreach (var (field, text) in change.Typed)
        {
            if (field == "point")
            {
                var numbers = text.Split(',')
                    .Select(t => Formula.Parse(t).Then(f => f.Evaluate(user.Part.Values.Of)).Value.Value)
                    .ToArray();
                var at = new Vec2(numbers[0], numbers[1]);
                if (
                    change
                        .After.Entities.OfType<PointEntity>()
                        .Append((PointEntity)change.After.Find(Sketch.Origin)!)
                        .Where(p => p.At.DistanceTo(at) <= 1e-9 * Math.Max(1, at.Length))
                        .ToList()
                    is not { Count: > 0 } there
                )
                {
                    return $"typed place: nothing is at {text}";
                }

                if (
                    !there.Exists(p =>
                        Sketch.IsBuiltIn(p.Id) || freedoms.OfEntity.GetValueOrDefault(p.Id) == 0 || change.Before.Find(p.Id) is not null
                    )
                )
                {
                    return $"typed place free: {there[0].Id} at {text} can move";
                }

                continue;
            }

            var value = Formula.Parse(text).Then(f => f.Evaluate(user.Part.Values.Of)).Value;
            var kept =
                edit.Size.Any(d =>
                    d.Value is { } v
                    && Formula.Parse(v).Then(f => f.Evaluate(user.Part.Values.Of)) is { Done: true, Value: var q }
                    && q.Dimension == value.Dimension
                    && Near(q, value)
                )
                || edit.Shapes.Any(s => s.Count == text || s.Rows == text)
                || (
                    (field == "angle" || value.Dimension == Dimension.OfAngle)
                    && (edit.Tie.Any(t => t.Kind is "horizontal" or "vertical") || Math.Abs(Math.Sin(2 * value.Value)) < 1e-9)
                );
            if (!kept)
            {
                return $"typed value: {field} '{text}' became no size";
            }
        }

        return null;
    }

    private static bool Near(Quantity a, Quantity b) =>
        Math.Abs(a.Value - b.Value) <= 1e-9 * Math.Max(1, Math.Abs(b.Value))
        || (a.Dimension == Dimension.OfAngle && Math.Abs(Math.Abs(Math.IEEERemainder(b.Value, 2 * Math.PI)) - a.Value) < 1e-8);
}
