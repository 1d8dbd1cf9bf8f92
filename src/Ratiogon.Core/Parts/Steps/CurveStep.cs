using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Steps;

/// <summary>What a 3D curve is.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<CurveShape>))]
public enum CurveShape
{
    [JsonStringEnumMemberName("line")]
    Line,

    [JsonStringEnumMemberName("spline")]
    Spline,

    [JsonStringEnumMemberName("circle")]
    Circle,

    [JsonStringEnumMemberName("arc")]
    Arc,
}

/// <summary>A curve in space on datums: a path, an axis or a reference for what comes after it.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Shape">What it is.</param>
/// <param name="Points">References to points: two of a line, two or more of a spline, the centre of a circle or arc.</param>
[Kind("curve")]
public sealed record CurveStep(string Id, int Number, string Name, CurveShape Shape, ImmutableArray<string> Points) : Step(Id, Number, Name)
{
    /// <summary>Of a line: how far it goes on before its first point, or null.</summary>
    public string? Before { get; init; }

    /// <summary>Of a line: how far it goes on past its second point, or null.</summary>
    public string? After { get; init; }

    /// <summary>Of a circle or arc: the plane, planar face or frame that it is parallel to.</summary>
    public string? Support { get; init; }

    /// <summary>Of a circle or arc; or <see cref="Diameter"/>.</summary>
    public string? Radius { get; init; }

    public string? Diameter { get; init; }

    /// <summary>Of an arc: where it begins, counted from the support's x axis.</summary>
    public string? From { get; init; }

    /// <summary>Of an arc: where it ends, counterclockwise.</summary>
    public string? To { get; init; }

    public override string Kind => "curve";

    public override IReadOnlyList<string> References => [.. Points, .. Support is null ? [] : new[] { Support }];

    public override IReadOnlyList<StepSize> Sizes =>
        [
            .. Given("radius", Radius, Dimension.OfLength, false),
            .. Given("diameter", Diameter, Dimension.OfLength, false),
            .. Given("before", Before, Dimension.OfLength, true),
            .. Given("after", After, Dimension.OfLength, true),
            .. Given("from", From, Dimension.OfAngle, true),
            .. Given("to", To, Dimension.OfAngle, true),
        ];

    private bool Round => Shape is CurveShape.Circle or CurveShape.Arc;

    public override Step WithSize(string field, string formula) =>
        field switch
        {
            "radius" => this with { Radius = formula },
            "diameter" => this with { Diameter = formula },
            "before" => this with { Before = formula },
            "after" => this with { After = formula },
            "from" => this with { From = formula },
            _ => this with { To = formula },
        };

    public override Refusal? Check() =>
        Points.IsDefault
        || (
            Round ? Points.Length != 1
            : Shape == CurveShape.Line ? Points.Length != 2
            : Points.Length < 2
        )
            ? new Refusal(
                "curve.points",
                Shape switch
                {
                    CurveShape.Line => "A line needs two points.",
                    CurveShape.Spline => "A spline needs two points or more.",
                    _ => "A circle or arc needs one centre.",
                },
                "points"
            )
        : Round && string.IsNullOrWhiteSpace(Support)
            ? new Refusal("curve.support", "A circle or arc needs a plane, a planar face or a frame that it is parallel to.", "support")
        : Round && (Radius is null) == (Diameter is null)
            ? new Refusal("curve.radius", "A circle or arc needs a radius or a diameter, not both.", "radius")
        : Shape == CurveShape.Arc && (From is null || To is null)
            ? new Refusal("curve.angles", "An arc needs the angles where it begins and ends.", "from")
        : null;

    private static IEnumerable<StepSize> Given(string field, string? formula, Dimension kind, bool negative) =>
        formula is null ? [] : [new StepSize(field, formula, kind, negative)];

    public bool Equals(CurveStep? other) =>
        other is not null
        && base.Equals(other)
        && Shape == other.Shape
        && Points.AsSpan().SequenceEqual(other.Points.AsSpan())
        && (Before, After, Support, Radius, Diameter, From, To)
            == (other.Before, other.After, other.Support, other.Radius, other.Diameter, other.From, other.To);

    public override int GetHashCode() => HashCode.Combine(Id, Shape, Points.Length, Support, Radius, Diameter);
}
