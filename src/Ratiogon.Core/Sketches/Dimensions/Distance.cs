using System.Collections.Immutable;
using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>True distance: along a line, between two points, from a point to a line, between parallel lines. Circles
/// and arcs serve by their centres.</summary>
internal sealed class Distance : DimensionKind
{
    public override string Name => "distance";

    /// <summary>From a line to something beside it square to the line, else straight across.</summary>
    public override MeasuredSpan Span(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        if (of.Count == 1 || of.OfType<LineEntity>().OrderBy(l => Sketch.IsBuiltIn(l.Id) ? 0 : 1).FirstOrDefault() is not { } line)
        {
            return base.Span(sketch, of);
        }

        var a = PlaceOf(sketch, of.First(e => e != line));
        var b = a.FootOn(sketch.At(line.From), sketch.At(line.To));
        return a.DistanceTo(b) < Tolerances.Length ? new(a, b, (sketch.At(line.To) - sketch.At(line.From)).Unit.Left) : Between(a, b);
    }

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "a line, two points, a point and a line, or two parallel lines";

    public override bool FitsAnywhere(Sketch sketch, ImmutableArray<string> of) =>
        !(of.Length == 2 && sketch.Find(of[0]) is LineEntity && sketch.Find(of[1]) is LineEntity);

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var (point, line) = Split(of);
        if (line is null)
        {
            var (a, b) = Pair(of);
            return sketch.At(a).DistanceTo(sketch.At(b));
        }

        var (from, to) = (sketch.At(line.From), sketch.At(line.To));
        return Math.Abs((to - from).Unit.Cross(sketch.At(point!) - from));
    }

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var (point, line) = Split(of);
        if (line is null)
        {
            var (a, b) = Pair(of);
            WriteBetween(writer, writer.PointIndex(a), writer.PointIndex(b), value);
            return;
        }

        var e = writer.EndsOf(line);
        var p = writer.PointIndex(point!);
        if (writer.Same(e[1], e[3]))
        {
            AxisDistance.WriteSigned(writer, e[1], p + 1, value);
        }
        else if (writer.Same(e[0], e[2]))
        {
            AxisDistance.WriteSigned(writer, e[0], p, value);
        }
        else
        {
            var from = new Vec2(writer.Start[e[0]], writer.Start[e[1]]);
            var to = new Vec2(writer.Start[e[2]], writer.Start[e[3]]);
            var side = (to - from).Cross(new Vec2(writer.Start[p], writer.Start[p + 1]) - from) < 0 ? -1 : 1;
            writer.Add(new LineDistance(p, p + 1, e[0], e[1], e[2], e[3], side * value));
        }
    }

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var lines = of.Count(e => e is LineEntity);
        if (!(of.Count is 1 or 2) || (of.Count == 1 && lines == 0) || of.Any(e => e is SplineEntity))
        {
            return DoesNotFit(of);
        }

        if (lines == 2)
        {
            var (a, b) = ((LineEntity)of[0], (LineEntity)of[1]);
            var (u, v) = ((sketch.At(a.To) - sketch.At(a.From)).Unit, (sketch.At(b.To) - sketch.At(b.From)).Unit);
            var off = Math.Asin(Math.Clamp(Math.Abs(u.Cross(v)), 0, 1)) * 180 / Math.PI;
            return off < 0.01
                ? null
                : new Refusal(
                    "dimension.not-parallel",
                    $"Lines {a.Id} and {b.Id} have no one distance: they are {off:0.##} deg from parallel. Dimension the angle, or "
                        + "make them parallel first."
                );
        }

        return null;
    }

    /// <summary>Two points at a distance, by their first unknowns.</summary>
    internal static void WriteBetween(SystemWriter writer, int a, int b, double value)
    {
        if (writer.Same(a + 1, b + 1))
        {
            AxisDistance.WriteSigned(writer, a, b, value);
        }
        else if (writer.Same(a, b))
        {
            AxisDistance.WriteSigned(writer, a + 1, b + 1, value);
        }
        else
        {
            writer.Add(new PointDistance(a, a + 1, b, b + 1, value));
        }
    }

    /// <summary>The point and the line of a distance to a line; no line for a distance between points.</summary>
    private static (string? Point, LineEntity? Line) Split(IReadOnlyList<SketchEntity> of)
    {
        if (of.Count == 1 || of.All(e => e is not LineEntity))
        {
            return (null, null);
        }

        // Between two lines, the sketch's own axis (or else the first) is the base, and the other's first end is measured.
        var line = of.OfType<LineEntity>().OrderBy(l => Sketch.IsBuiltIn(l.Id) ? 0 : 1).First();
        var other = of.First(e => e != line);
        return (PointId(other), line);
    }

    private static (string A, string B) Pair(IReadOnlyList<SketchEntity> of) =>
        of[0] is LineEntity line ? (line.From, line.To) : (PointId(of[0]), PointId(of[1]));

    internal static string PointId(SketchEntity entity) =>
        entity switch
        {
            PointEntity p => p.Id,
            LineEntity l => l.From,
            _ => Curves.Centre(entity) ?? throw new InvalidOperationException($"{entity.Word} has no single point"),
        };
}

/// <summary>Distance along one axis of the sketch.</summary>
internal sealed class AxisDistance(string name, int axis) : DimensionKind
{
    public override string Name => name;

    protected override MeasuredSpan Between(Vec2 a, Vec2 b) => new(a, b, axis == 0 ? new Vec2(1, 0) : new Vec2(0, 1));

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "a line, or two points (a line beside a point serves by its first end)";

    public override bool FitsAnywhere(Sketch sketch, ImmutableArray<string> of) => true;

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var (a, b) = Ends(of);
        var d = sketch.At(b) - sketch.At(a);
        return Math.Abs(axis == 0 ? d.X : d.Y);
    }

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var (a, b) = Ends(of);
        WriteSigned(writer, writer.PointIndex(a) + axis, writer.PointIndex(b) + axis, value);
    }

    /// <summary>Keeps the second unknown on the side of the first where it is now.</summary>
    internal static void WriteSigned(SystemWriter writer, int a, int b, double value) =>
        writer.Identify(a, b, writer.Start[b] < writer.Start[a] ? -value : value);

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        (of.Count == 1 && of[0] is LineEntity) || (of.Count == 2 && of.Count(e => e is LineEntity) < 2 && !of.Any(e => e is SplineEntity))
            ? null
            : DoesNotFit(of);

    /// <summary>0 along x, 1 along y.</summary>
    internal int Axis => axis;

    internal static (string A, string B) Ends(IReadOnlyList<SketchEntity> of) =>
        of.Count == 1 ? (((LineEntity)of[0]).From, ((LineEntity)of[0]).To) : (Distance.PointId(of[0]), Distance.PointId(of[1]));
}
