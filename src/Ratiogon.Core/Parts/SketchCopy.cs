using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;

namespace Ratiogon.Core.Parts;

/// <summary>How something of the model comes into a sketch.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<CopyHow>))]
public enum CopyHow
{
    /// <summary>Seen square onto the sketch plane.</summary>
    [JsonStringEnumMemberName("copy")]
    Copy,

    /// <summary>Where a face of the body meets the sketch plane.</summary>
    [JsonStringEnumMemberName("section")]
    Section,

    /// <summary>The point where a curve meets the sketch plane.</summary>
    [JsonStringEnumMemberName("crossing")]
    Crossing,
}

/// <summary>A live copy in a sketch: fixed entities that follow what they were taken from.</summary>
/// <param name="How">What of it.</param>
/// <param name="Of">The reference.</param>
/// <param name="Entities">The entities it keeps, in the order they are drawn, points first.</param>
public sealed record SketchCopy(CopyHow How, string Of, ImmutableArray<string> Entities)
{
    /// <summary>Which of several crossings: the label of the point.</summary>
    public string? Choice { get; init; }

    /// <summary>Copies whose entities are all there still and still fixed; others were let go.</summary>
    public static ImmutableArray<SketchCopy> Living(Sketch sketch, ImmutableArray<SketchCopy> copies)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var held = sketch.Constraints.Where(c => c.Kind == "fixed").SelectMany(c => c.Of).ToHashSet(StringComparer.Ordinal);
        return copies.All(Lives) ? copies : [.. copies.Where(Lives)];
        bool Lives(SketchCopy c) => c.Entities.All(id => sketch.Find(id) is { } e && (e is not PointEntity || held.Contains(id)));
    }

    public bool Equals(SketchCopy? other) =>
        other is not null
        && How == other.How
        && Of == other.Of
        && Choice == other.Choice
        && Entities.AsSpan().SequenceEqual(other.Entities.AsSpan());

    public override int GetHashCode() => HashCode.Combine(How, Of, Choice, Entities.Length);
}
