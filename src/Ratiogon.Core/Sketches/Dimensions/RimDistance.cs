using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>Distance to the near or the far sides of circles and arcs: between two of them, or from one to a point or line.</summary>
internal sealed class RimDistance(string name, int side) : DimensionKind
{
    public override string Name => name;

    public override MeasuredSpan Span(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var (p, q) = Ends(sketch, of);
        var (round, otherRound) = of[0] is LineEntity ? (of[1], of[0]) : (of[0], of[1]);
        var outwards = (q - p).Unit * -side;
        return new(p + (outwards * RadiusOf(round)), q - (outwards * RadiusOf(otherRound)), (q - p).Unit);
    }

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "two circles or arcs, or one of them and a point or line";

    /// <summary>+1 adds the radii to the distance of the centres, -1 takes them off.</summary>
    public int Side => side;

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        var (a, b) = Ends(sketch, of);
        var sum = of.Sum(RadiusOf);
        return Math.Abs(a.DistanceTo(b) + (side * sum));
    }

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var rounds = of.Where(IsRound).ToList();
        var radii = rounds.ConvertAll(writer.RadiusOf);
        if (of.FirstOrDefault(e => e is LineEntity) is { } line)
        {
            var (e, (cx, cy)) = (writer.EndsOf(line), writer.PointOf(rounds[0]));
            var (from, to) = (writer.ValueOf((e[0], e[1])), writer.ValueOf((e[2], e[3])));
            var left = (to - from).Cross(writer.ValueOf((cx, cy)) - from) < 0 ? -1 : 1;
            writer.Add(new RimFromLine(cx, cy, e, radii[0], left, side, value));
            return;
        }

        var (a, b) = (writer.PointOf(of[0]), writer.PointOf(of[1]));
        if (writer.Same(a.Y, b.Y) || writer.Same(a.X, b.X))
        {
            // Along one axis everything is linear.
            var (p, q) = writer.Same(a.Y, b.Y) ? (a.X, b.X) : (a.Y, b.Y);
            var sign = writer.Start[q] < writer.Start[p] ? -1 : 1;
            writer.Add(new Linear([p, q, .. radii], [-sign, sign, .. radii.Select(_ => (double)side)], value));
        }
        else
        {
            writer.Add(new RimToRim(a.X, b.X, [.. radii], side, value));
        }
    }

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        if (of.Count != 2 || !of.Any(IsRound) || !of.All(e => IsRound(e) || e is PointEntity or LineEntity))
        {
            return DoesNotFit(of);
        }

        var (a, b) = Ends(sketch, of);
        return a.DistanceTo(b) > Tolerances.SmallestSize
            ? null
            : new Refusal("dimension.one-centre", $"{of[0].Id} and {of[1].Id} have one centre: dimension their radii.");
    }

    /// <summary>The centres, or a centre and the foot on a line.</summary>
    internal static (Vec2 A, Vec2 B) Ends(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        if (of.OfType<LineEntity>().FirstOrDefault() is { } line)
        {
            var c = PointAt(sketch, of.First(e => e != line));
            return (c, c.FootOn(sketch.At(line.From), sketch.At(line.To)));
        }

        return (PointAt(sketch, of[0]), PointAt(sketch, of[1]));
    }

    internal static double RadiusOf(SketchEntity e) =>
        e switch
        {
            CircleEntity c => c.Radius,
            ArcEntity a => a.Radius,
            _ => 0,
        };

    private static bool IsRound(SketchEntity e) => e is CircleEntity or ArcEntity;
}
