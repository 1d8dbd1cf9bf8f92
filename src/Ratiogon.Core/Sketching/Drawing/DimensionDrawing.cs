using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketching.Drawing;

/// <summary>How a dimension is drawn, in the manner of ISO 129-1: extension lines, a dimension line with an arrow at
/// each end, text beside it. On the sketch plane, in millimetres.</summary>
/// <param name="Lines">x1 y1 x2 y2 for each thin line.</param>
/// <param name="Arrows">x y dx dy for each arrow: its tip and the way it points.</param>
/// <param name="Arc">cx cy r start sweep of the dimension line of an angle; empty for others.</param>
/// <param name="TextAt">Where the text stands.</param>
public sealed record DimensionDrawing(ImmutableArray<double> Lines, ImmutableArray<double> Arrows, ImmutableArray<double> Arc, Vec2 TextAt)
{
    private const double Gap = 0.012;
    private const double Default = 0.11;

    /// <summary>Draws one dimension; null where it hangs in the air.</summary>
    /// <param name="sketch">What is drawn.</param>
    /// <param name="dimension">The dimension.</param>
    /// <param name="size">Size of the sketch in millimetres: default places keep off the geometry by a share of it.</param>
    /// <param name="rank">How many dimensions were placed by default before this one: they stand one outside the other.</param>
    public static DimensionDrawing? Of(Sketch sketch, SketchDimension dimension, double size, int rank)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(dimension);
        if (sketch.FindAll(dimension.Of) is not { } of || DimensionCatalog.Find(dimension.Kind)?.Check(sketch, of) is not null)
        {
            return null;
        }

        var middle = Middle(sketch);
        switch (dimension.Kind)
        {
            case "radius" or "diameter":
                return Round(sketch, of[0], dimension, size);
            case "angle":
                return Angle(sketch, of, dimension, size);
            default:
                var (a, b, along) = Ends(sketch, of, dimension.Kind);
                return Straight(a, b, along, dimension.TextAt, middle, size, rank);
        }
    }

    private static DimensionDrawing Straight(Vec2 a, Vec2 b, Vec2 along, Vec2? textAt, Vec2 middle, double size, int rank)
    {
        var across = along.Left;
        var centre = (a + b) / 2;
        var outward = (centre - middle).Dot(across) < 0 ? -1 : 1;
        var reach = outward > 0 ? Math.Max(a.Dot(across), b.Dot(across)) : Math.Min(a.Dot(across), b.Dot(across));
        var text = textAt ?? (along * centre.Dot(along)) + (across * (reach + (outward * size * (Default + (0.06 * rank)))));
        var level = text.Dot(across);
        Vec2 On(Vec2 p) => (along * p.Dot(along)) + (across * level);
        var (p, q) = (On(a), On(b));
        var lines = new List<double>();
        foreach (var (from, to) in new[] { (a, p), (b, q) })
        {
            var d = to - from;
            if (d.Length > size * Gap)
            {
                Add(lines, from + (d.Unit * size * Gap), to + (d.Unit * size * Gap));
            }
        }

        Add(lines, p, q);
        var (low, high) = p.Dot(along) < q.Dot(along) ? (p, q) : (q, p);
        var t = text.Dot(along);
        if (t < low.Dot(along) || t > high.Dot(along))
        {
            Add(lines, t < low.Dot(along) ? low : high, text);
        }

        return new DimensionDrawing([.. lines], [low.X, low.Y, -along.X, -along.Y, high.X, high.Y, along.X, along.Y], [], text);
    }

    private static DimensionDrawing Round(Sketch sketch, SketchEntity entity, SketchDimension dimension, double size)
    {
        var (centre, radius) = entity is CircleEntity c ? (sketch.At(c.Centre), c.Radius) : (sketch.At(((ArcEntity)entity).Centre), ((ArcEntity)entity).Radius);
        var heading = entity is ArcEntity arc ? Arcs.Start(sketch, arc) + (Arcs.Sweep(sketch, arc) / 2) : Math.PI / 4;
        var text = dimension.TextAt ?? centre + Vec2.Polar(heading, radius + (size * Default * 0.7));
        var way = (text - centre).Length > Tolerances.Length ? (text - centre).Unit : Vec2.Polar(heading);
        var rim = centre + (way * radius);
        var lines = new List<double>();
        Add(lines, dimension.Kind == "diameter" ? centre - (way * radius) : centre, (text - centre).Length > radius ? text : rim);
        return dimension.Kind == "diameter"
            ? new DimensionDrawing([.. lines], [rim.X, rim.Y, way.X, way.Y, centre.X - (way.X * radius), centre.Y - (way.Y * radius), -way.X, -way.Y], [], text)
            : new DimensionDrawing([.. lines], [rim.X, rim.Y, way.X, way.Y], [], text);
    }

    private static DimensionDrawing? Angle(Sketch sketch, IReadOnlyList<SketchEntity> of, SketchDimension dimension, double size)
    {
        if (of[0] is not LineEntity m || of[1] is not LineEntity n)
        {
            return null;
        }

        var (a, u) = (sketch.At(m.From), (sketch.At(m.To) - sketch.At(m.From)).Unit);
        var (b, v) = (sketch.At(n.From), (sketch.At(n.To) - sketch.At(n.From)).Unit);
        var cross = u.Cross(v);
        var apex = Math.Abs(cross) < Tolerances.Angle ? b : a + (u * ((b - a).Cross(v) / cross));
        var sweep = Math.Atan2(cross, u.Dot(v));
        var (start, turn) = sweep < 0 ? (v.Angle, -sweep) : (u.Angle, sweep);
        var text = dimension.TextAt ?? apex + Vec2.Polar(start + (turn / 2), size * 0.2);
        var radius = Math.Max(text.DistanceTo(apex), size * 0.02);
        var (p, q) = (apex + Vec2.Polar(start, radius), apex + Vec2.Polar(start + turn, radius));
        var (tp, tq) = (-Vec2.Polar(start).Left, Vec2.Polar(start + turn).Left);
        return new DimensionDrawing([], [p.X, p.Y, tp.X, tp.Y, q.X, q.Y, tq.X, tq.Y], [apex.X, apex.Y, radius, start, turn], text);
    }

    /// <summary>The two measured places and the direction of the dimension line.</summary>
    private static (Vec2 A, Vec2 B, Vec2 Along) Ends(Sketch sketch, IReadOnlyList<SketchEntity> of, string kind)
    {
        Vec2 At(SketchEntity e) => e switch { PointEntity p => p.At, CircleEntity c => sketch.At(c.Centre), ArcEntity r => sketch.At(r.Centre), LineEntity l => sketch.At(l.From), _ => default };
        Vec2 a, b;
        if (of.Count == 1 && of[0] is LineEntity own)
        {
            (a, b) = (sketch.At(own.From), sketch.At(own.To));
        }
        else if (kind == "distance" && of.OfType<LineEntity>().OrderBy(l => Sketch.IsBuiltIn(l.Id) ? 0 : 1).FirstOrDefault() is { } line)
        {
            a = At(of.First(e => e != line));
            b = a.FootOn(sketch.At(line.From), sketch.At(line.To));
            if (a.DistanceTo(b) < Tolerances.Length)
            {
                return (a, b, (sketch.At(line.To) - sketch.At(line.From)).Unit.Left);
            }
        }
        else
        {
            (a, b) = (At(of[0]), At(of[1]));
        }

        return (a, b, kind switch { "horizontal-distance" => new Vec2(1, 0), "vertical-distance" => new Vec2(0, 1), _ => (b - a).Unit is var u && u != Vec2.Zero ? u : new Vec2(1, 0) });
    }

    private static Vec2 Middle(Sketch sketch)
    {
        var points = sketch.Entities.OfType<PointEntity>().Select(p => p.At).ToList();
        return points.Count == 0 ? Vec2.Zero : new Vec2((points.Min(p => p.X) + points.Max(p => p.X)) / 2, (points.Min(p => p.Y) + points.Max(p => p.Y)) / 2);
    }

    private static void Add(List<double> lines, Vec2 a, Vec2 b) => lines.AddRange([a.X, a.Y, b.X, b.Y]);
}
