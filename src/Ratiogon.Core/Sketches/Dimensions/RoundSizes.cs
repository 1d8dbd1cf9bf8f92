using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>How far an arc goes round, in radians in (0, 2 pi).</summary>
internal sealed class SweepSize : DimensionKind
{
    public override string Name => "sweep";

    public override DimensionLook Look => DimensionLook.Arc;

    public override Dimension Of => Dimension.OfAngle;

    public override string Needs => "one arc";

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of) => Arcs.Sweep(sketch, (ArcEntity)of[0]);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var arc = (ArcEntity)of[0];
        var (c, f, t) = (writer.PointIndex(arc.Centre), writer.PointIndex(arc.From), writer.PointIndex(arc.To));
        AngledLines.WriteSigned(writer, [c, c + 1, f, f + 1], [c, c + 1, t, t + 1], value);
    }

    public override Refusal? CheckValue(double value) =>
        value > 0 && value < 2 * Math.PI
            ? null
            : new Refusal("dimension.value", $"The sweep of an arc lies between 0 and 360 deg, not at {value * 180 / Math.PI:0.###} deg.");

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count == 1 && of[0] is ArcEntity ? null : DoesNotFit(of);
}

/// <summary>The length of an arc along it.</summary>
internal sealed class ArcLength : DimensionKind
{
    public override string Name => "arc-length";

    public override DimensionLook Look => DimensionLook.Arc;

    public override string Sign => "⌒ ";

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "one arc";

    protected override bool Apart => false;

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        ((ArcEntity)of[0]).Radius * Arcs.Sweep(sketch, (ArcEntity)of[0]);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var arc = (ArcEntity)of[0];
        writer.Add(
            new LengthOfArc(
                writer.PointIndex(arc.Centre),
                writer.PointIndex(arc.From),
                writer.PointIndex(arc.To),
                writer.RadiusOf(arc),
                value,
                Arcs.Sweep(writer.Sketch, arc)
            )
        );
    }

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count == 1 && of[0] is ArcEntity ? null : DoesNotFit(of);
}

/// <summary>One semi-axis of an ellipse or elliptic arc.</summary>
internal sealed class SemiAxis(string name, int index) : DimensionKind
{
    public override string Name => name;

    public override MeasuredSpan Span(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        MeasuredSpan.Between(PlaceOf(sketch, of[0]), sketch.At(of[0].Points[index]));

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "one ellipse or elliptic arc";

    protected override bool Apart => false;

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        sketch.At(of[0].Points[0]).DistanceTo(sketch.At(of[0].Points[index]));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var (c, p) = (writer.PointIndex(of[0].Points[0]), writer.PointIndex(of[0].Points[index]));
        Distance.WriteBetween(writer, c, p, value);
    }

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count == 1 && of[0] is EllipticEntity ? null : DoesNotFit(of);
}

/// <summary>Twice the distance from a construction line: the width across it of what is mirrored there, as turned
/// parts are dimensioned.</summary>
internal sealed class AcrossAxis : DimensionKind
{
    private static readonly Distance Half = new();

    public override string Name => "across-axis";

    public override string Sign => "⌀ ";

    public override MeasuredSpan Span(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var ordered = Ordered(of);
        var measured = PlaceOf(sketch, ordered[1]);
        return MeasuredSpan.Between(measured, Symmetric.Mirrored(sketch, (LineEntity)ordered[0], measured));
    }

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "a construction line or axis, and a point, circle, arc or parallel line beside it";

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of) => 2 * Half.Measure(sketch, Ordered(of));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value) =>
        Half.Write(writer, Ordered(of), value / 2);

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count == 2 && of.Any(e => e is LineEntity { Construction: true }) && !(of.All(e => e is LineEntity { Construction: true }))
            ? Half.Check(sketch, Ordered(of)) is null
                ? null
                : DoesNotFit(of)
            : DoesNotFit(of);

    /// <summary>The axis first.</summary>
    internal static IReadOnlyList<SketchEntity> Ordered(IReadOnlyList<SketchEntity> of) =>
        [.. of.OrderBy(e => e is LineEntity { Construction: true } ? 0 : 1)];
}
