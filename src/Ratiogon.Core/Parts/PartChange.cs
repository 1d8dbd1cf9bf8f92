using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Ratiogon.Core.Parts;

/// <summary>What an edit changed: rows before and after. Turned round, it takes the edit back.</summary>
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
    public bool Nothing => Before is null && StepsBefore.IsEmpty && StepsAfter.IsEmpty;

    public static PartChange Between(Part before, Part after)
    {
        var (headBefore, headAfter) = (Head(before), Head(after));
        var same = headBefore.Equals(headAfter);
        return new PartChange(
            same ? null : headBefore,
            same ? null : headAfter,
            [.. before.Steps.Where(s => !(after.Find(s.Id) is { } now && now.Equals(s)))],
            [.. after.Steps.Where(s => !(before.Find(s.Id) is { } was && was.Equals(s)))]
        );
    }

    public PartChange Reversed() => new(After, Before, StepsAfter, StepsBefore);

    /// <summary>The part with the change made.</summary>
    public Part Apply(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var gone = StepsBefore.Concat(StepsAfter).Select(s => s.Id).ToHashSet(StringComparer.Ordinal);
        var steps = part.Steps.Where(s => !gone.Contains(s.Id)).Concat(StepsAfter).OrderBy(s => s.Number);
        return (After ?? part) with { Steps = [.. steps] };
    }

    public static Part Head(Part part) => part with { Steps = [] };

    public string ToJson() => JsonSerializer.Serialize(this, PartJson.Compact);

    public static PartChange FromJson(string json) => JsonSerializer.Deserialize<PartChange>(json, PartJson.Compact)!;
}
