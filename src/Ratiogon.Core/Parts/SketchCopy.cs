using System.Collections.Immutable;
using System.Text.Json.Serialization;

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

    public bool Equals(SketchCopy? other) => other is not null && How == other.How && Of == other.Of && Choice == other.Choice && Entities.AsSpan().SequenceEqual(other.Entities.AsSpan());

    public override int GetHashCode() => HashCode.Combine(How, Of, Choice, Entities.Length);
}

/// <summary>Something that meets a place of a sketch only as seen from the view.</summary>
/// <param name="Words">What is wrong, with the gap.</param>
/// <param name="Here">The place on the sketch plane.</param>
/// <param name="There">The place on the thing.</param>
/// <param name="Crossing">Takes the point where it does meet the plane; null where it does not.</param>
/// <param name="Copy">Takes a copy of it as seen square onto the plane; null where it cannot.</param>
/// <param name="WhyNoCrossing">Why there is no crossing.</param>
public sealed record SeenOnly(string Words, Geometry.Vec3 Here, Geometry.Vec3 There, Commands.PartCommand? Crossing, Commands.PartCommand? Copy, string? WhyNoCrossing);
