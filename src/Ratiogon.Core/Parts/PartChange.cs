using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Ratiogon.Core.Parts;

/// <summary>What an edit changed: rows before and after. Turned round, it takes the edit back. What is large in a row and stays as it is,
/// such as the file that a body was read from, is not written again: it is taken from the part that the change is made to.</summary>
/// <param name="Before">The part without steps, when that changed.</param>
/// <param name="After">The same afterwards.</param>
/// <param name="StepsBefore">Changed and removed steps.</param>
/// <param name="StepsAfter">Changed and added steps.</param>
public sealed record PartChange(
    [property: JsonIgnore(Condition = JsonIgnoreCondition.Never)] Part? Before,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.Never)] Part? After,
    ImmutableArray<Step> StepsBefore,
    ImmutableArray<Step> StepsAfter
)
{
    /// <summary>Stands for a bulk that stays: no file is packed into this.</summary>
    private const string Stays = "=";

    public bool Nothing => Before is null && StepsBefore.IsEmpty && StepsAfter.IsEmpty;

    public static PartChange Between(Part before, Part after)
    {
        var (headBefore, headAfter) = (Head(before), Head(after));
        var same = headBefore.Equals(headAfter);
        return new PartChange(
            same ? null : headBefore,
            same ? null : headAfter,
            [.. before.Steps.Where(s => !(after.Find(s.Id) is { } now && now.Equals(s))).Select(s => Light(s, after))],
            [.. after.Steps.Where(s => !(before.Find(s.Id) is { } was && was.Equals(s))).Select(s => Light(s, before))]
        );
    }

    private static Step Light(Step step, Part other) =>
        step.Bulk is { Length: > 0 } bulk && other.Find(step.Id) is { } same && same.GetType() == step.GetType() && same.Bulk == bulk
            ? step.WithBulk(Stays)
            : step;

    private static Step Whole(Step step, Part part) =>
        step.Bulk == Stays && part.Find(step.Id)?.Bulk is { } bulk ? step.WithBulk(bulk) : step;

    public PartChange Reversed() => new(After, Before, StepsAfter, StepsBefore);

    /// <summary>The part with the change made.</summary>
    public Part Apply(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var gone = StepsBefore.Concat(StepsAfter).Select(s => s.Id).ToHashSet(StringComparer.Ordinal);
        var steps = part.Steps.Where(s => !gone.Contains(s.Id)).Concat(StepsAfter.Select(s => Whole(s, part))).OrderBy(s => s.Number);
        return (After ?? part) with { Steps = [.. steps] };
    }

    public static Part Head(Part part) => part with { Steps = [] };

    public string ToJson() => JsonSerializer.Serialize(this, PartJson.Compact);

    public static PartChange FromJson(string json) => JsonSerializer.Deserialize<PartChange>(json, PartJson.Compact)!;
}
