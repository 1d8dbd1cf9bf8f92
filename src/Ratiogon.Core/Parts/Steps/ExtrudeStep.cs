using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>Whether a form adds or takes material.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FormOperation>))]
public enum FormOperation
{
    [JsonStringEnumMemberName("join")]
    Join,

    [JsonStringEnumMemberName("cut")]
    Cut,
}

/// <summary>How far an extrude goes.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ExtrudeExtent>))]
public enum ExtrudeExtent
{
    /// <summary>A length to one side.</summary>
    [JsonStringEnumMemberName("length")]
    Length,

    /// <summary>The length shared out to both sides.</summary>
    [JsonStringEnumMemberName("symmetric")]
    Symmetric,

    /// <summary>Through all there is, to both sides.</summary>
    [JsonStringEnumMemberName("through-all")]
    ThroughAll,
}

/// <summary>Regions of a sketch pushed along its normal.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Sketch">Id of the sketch step.</param>
public sealed record ExtrudeStep(string Id, int Number, string Name, string Sketch) : Step(Id, Number, Name)
{
    /// <summary>Keys of the chosen regions; none chooses all that are material by even-odd.</summary>
    public ImmutableArray<string> Regions { get; init; } = [];

    public ExtrudeExtent Extent { get; init; }

    /// <summary>A formula; not used by through all.</summary>
    public string Length { get; init; } = "10 mm";

    /// <summary>Whether it goes against the sketch's normal.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    public FormOperation Operation { get; init; }

    public override string Kind => "extrude";

    public override IReadOnlyList<string> References => [Sketch];

    public override IReadOnlyList<StepSize> Sizes => Extent == ExtrudeExtent.ThroughAll ? [] : [new StepSize("length", Length, Dimension.OfLength)];

    public override Step WithSize(string field, string formula) => this with { Length = formula };

    public override Refusal? Check() =>
        Extent == ExtrudeExtent.ThroughAll && Operation == FormOperation.Join
            ? new Refusal("extrude.through-join", "Through all can only cut: a join needs a length.", "extent")
            : null;

    public bool Equals(ExtrudeStep? other) => other is not null && base.Equals(other) && Sketch == other.Sketch && Regions.SequenceEqual(other.Regions)
        && Extent == other.Extent && Length == other.Length && Flip == other.Flip && Operation == other.Operation;

    public override int GetHashCode() => HashCode.Combine(Id, Sketch, Extent, Length, Flip, Operation);
}
