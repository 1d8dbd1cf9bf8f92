using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>The angle between two lines' directions, from 0 to 180 degrees, or what is left of 180 degrees: the two
/// sizes of the four sectors between lines.</summary>
internal sealed class AngleSize(string name, bool other) : DimensionKind
{
    public override string Name => name;

    public override DimensionLook Look => other ? DimensionLook.OtherAngle : DimensionLook.Angle;

    public override Dimension Of => Dimension.OfAngle;

    public override string Needs => "two lines that are not parallel";

    public override bool FitsAnywhere(Sketch sketch, ImmutableArray<string> of) => true;

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var (u, v) = (Direction(sketch, of[0]), Direction(sketch, of[1]));
        var angle = Math.Abs(Math.Atan2(u.Cross(v), u.Dot(v)));
        return other ? Math.PI - angle : angle;
    }

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var (a, b) = (writer.EndsOf(of[0]), writer.EndsOf(of[1]));
        var sign = AngledLines.Between(writer, a, b) < 0 ? -1 : 1;
        AngledLines.WriteSigned(writer, a, b, sign * (other ? Math.PI - value : value));
    }

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count == 2 && of.All(e => e is LineEntity) ? null : DoesNotFit(of);

    private static Vec2 Direction(Sketch sketch, SketchEntity entity) =>
        entity is LineEntity l ? sketch.At(l.To) - sketch.At(l.From) : Vec2.Zero;
}

/// <summary>The radius or diameter of a circle or arc.</summary>
internal sealed class RadiusSize(string name, double times) : DimensionKind
{
    public override string Name => name;

    public override DimensionLook Look => times > 1 ? DimensionLook.Diameter : DimensionLook.Radius;

    public override string Sign => times > 1 ? "⌀ " : "R ";

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "one circle or arc";

    protected override bool Apart => false;

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        times * (of[0] is CircleEntity c ? c.Radius : ((ArcEntity)of[0]).Radius);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value) =>
        writer.Fix(writer.RadiusOf(of[0]), value / times);

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count == 1 && of[0] is CircleEntity or ArcEntity ? null : DoesNotFit(of);
}
