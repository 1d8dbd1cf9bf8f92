using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Parts.Steps;

/// <summary>A sketch on a plane or a planar face.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="On">A world plane, a plane step or a face.</param>
/// <param name="Sketch">What is drawn.</param>
[Kind("sketch")]
public sealed record SketchStep(string Id, int Number, string Name, string On, Sketch Sketch) : Step(Id, Number, Name)
{
    private const string TurnField = "turn",
        XField = "shift x",
        YField = "shift y";

    /// <summary>An angle that the sketch's axes are turned by about the normal, or null.</summary>
    public string? Turn { get; init; }

    /// <summary>How far the sketch's origin is moved along its plane's x, or null.</summary>
    public string? ShiftX { get; init; }

    /// <summary>The same along y.</summary>
    public string? ShiftY { get; init; }

    /// <summary>What it copies from the model.</summary>
    public ImmutableArray<SketchCopy> Copies { get; init; } = [];

    /// <summary>The sketch that it is a live copy of, or null: whatever is drawn there is drawn here, under the same names, and what is
    /// kept in <see cref="Sketch"/> is what it was when it was looked at last.</summary>
    public string? Like { get; init; }

    public override string Kind => "sketch";

    public override IReadOnlyList<string> References =>
        Like is not null ? [On, Like]
        : Copies.IsEmpty ? [On]
        : [On, .. Copies.Select(c => c.Of)];

    /// <summary>What a live copy of a sketch shows: the same entities, all of them held, and none of the sizes, which are the
    /// original's.</summary>
    public static Sketch Held(Sketch original)
    {
        ArgumentNullException.ThrowIfNull(original);
        string[] held = [.. original.Entities.Where(e => e is PointEntity or CircleEntity && !Sketch.IsBuiltIn(e.Id)).Select(e => e.Id)];
        return new Sketch
        {
            Entities = original.Entities,
            Constraints = held.Length == 0 ? [] : [new SketchConstraint("held", "fixed", [.. held])],
        };
    }

    /// <summary>Why nothing can be drawn in it; null where it can.</summary>
    public Refusal? Bound(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return Like is null
            ? null
            : new Refusal(
                "sketch.copy",
                $"{Name} is a live copy of {part.Find(Like)?.Name ?? Like}: change it there, or make it a sketch of its own.",
                Id
            );
    }

    public override IReadOnlyList<StepSize> Sizes =>
        [
            .. Placing(TurnField, Turn, Dimension.OfAngle),
            .. Placing(XField, ShiftX, Dimension.OfLength),
            .. Placing(YField, ShiftY, Dimension.OfLength),
            .. Sketch.Dimensions.SelectMany(Driven),
            .. Sketch.Shapes.SelectMany(CountsOf),
        ];

    /// <summary>What a dimension drives; nothing for a kind that there is none of, which is refused elsewhere.</summary>
    private static IEnumerable<StepSize> Driven(SketchDimension d) =>
        d is { Driving: true, Value: { } value } && DimensionCatalog.Find(d.Kind) is { } kind ? [new StepSize(d.Id, value, kind.Of)] : [];

    /// <summary>Its dimensions are made; where it is laid in its plane, and counts, are not.</summary>
    public override SizeUse UseOf(StepSize size)
    {
        ArgumentNullException.ThrowIfNull(size);
        return (size.Kind == Dimension.OfLength || size.Kind == Dimension.OfAngle) && Sketch.Dimensions.Any(d => d.Id == size.Field)
            ? SizeUse.Made
            : SizeUse.Laid;
    }

    public override Step WithSize(string field, string formula) =>
        field == TurnField ? this with { Turn = formula }
        : field == XField ? this with { ShiftX = formula }
        : field == YField ? this with { ShiftY = formula }
        : WithSketchSize(field, formula);

    /// <summary>Where the sketch lies: the plane of what it is on, moved and turned within it.</summary>
    public Outcome<Frame> PlaneIn(IModel model)
    {
        ArgumentNullException.ThrowIfNull(model);
        Outcome<double> Value(string? formula) =>
            formula is null ? 0.0 : Formula.Parse(formula).Then(f => f.Evaluate(model.Values.Of)).Map(q => q.Value);
        return model
            .PlaneOf(On)
            .Then(plane =>
                Value(Turn)
                    .Then(turn =>
                        Value(ShiftX)
                            .Then(x =>
                                Value(ShiftY)
                                    .Map(y =>
                                    {
                                        var moved = plane with { Origin = plane.Origin + (plane.X * x) + (plane.Y * y) };
                                        return turn == 0 ? moved : moved.Turned(moved.Z, turn);
                                    })
                            )
                    )
            );
    }

    private static IEnumerable<StepSize> Placing(string field, string? formula, Dimension kind) =>
        formula is null ? [] : [new StepSize(field, formula, kind, MayBeNegative: true)];

    private SketchStep WithSketchSize(string field, string formula) =>
        this with
        {
            Sketch = Sketch with
            {
                Dimensions = [.. Sketch.Dimensions.Select(d => d.Id == field ? d with { Value = formula } : d)],
                Shapes =
                [
                    .. Sketch.Shapes.Select(s =>
                        field == CountField(s) ? s with { Count = formula }
                        : field == RowsField(s) ? s with { Rows = formula }
                        : s
                    ),
                ],
            },
        };

    private static string CountField(SketchShape shape) => $"{shape.Id}.count";

    private static string RowsField(SketchShape shape) => $"{shape.Id}.rows";

    private static IEnumerable<StepSize> CountsOf(SketchShape shape)
    {
        if (shape.Count is { } count)
        {
            yield return new StepSize(CountField(shape), count, Quantities.Dimension.None);
        }

        if (shape.Rows is { } rows)
        {
            yield return new StepSize(RowsField(shape), rows, Quantities.Dimension.None);
        }
    }

    public override Refusal? Check() =>
        string.IsNullOrWhiteSpace(On) ? new Refusal("step.reference", "A sketch needs a plane or a planar face to lie on.", "on")
        : Like is not null && !Copies.IsEmpty
            ? new Refusal("sketch.copy", "A live copy of a sketch takes nothing else from the model.", "like")
        : SketchCheck.Check(Sketch);

    public bool Equals(SketchStep? other) =>
        other is not null
        && base.Equals(other)
        && On == other.On
        && (Turn, ShiftX, ShiftY) == (other.Turn, other.ShiftX, other.ShiftY)
        && Copies.AsSpan().SequenceEqual(other.Copies.AsSpan())
        && Like == other.Like
        && Sketch.Equals(other.Sketch);

    public override int GetHashCode() => HashCode.Combine(Id, On, Sketch, Copies.Length);
}
