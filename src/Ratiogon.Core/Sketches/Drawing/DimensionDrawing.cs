using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Drawing;

/// <summary>How a dimension is drawn, in the manner of ISO 129-1: extension lines, a dimension line with an arrow at
/// each end, text beside it. On the sketch plane, in millimetres.</summary>
/// <param name="Lines">x1 y1 x2 y2 for each thin line.</param>
/// <param name="Arrows">x y dx dy for each arrow: its tip and the way it points.</param>
/// <param name="Arc">cx cy r start sweep of the dimension line of an angle; empty for others.</param>
/// <param name="TextAt">Where the text stands.</param>
public sealed record DimensionDrawing(ImmutableArray<double> Lines, ImmutableArray<double> Arrows, ImmutableArray<double> Arc, Vec2 TextAt)
{
    private const double Gap = 0.012;
    private const double Default = 0.1;
    private const double Further = 0.055;
    private const int Tries = 9;

    /// <summary>Draws one dimension; null where it hangs in the air.</summary>
    /// <param name="sketch">What is drawn.</param>
    /// <param name="dimension">The dimension.</param>
    /// <param name="text">As written beside it.</param>
    /// <param name="size">Size of the sketch in millimetres: default places keep off the geometry by a share of it.</param>
    /// <param name="room">Where texts may stand; a text that was placed by hand stays where it is.</param>
    internal static DimensionDrawing? Of(Sketch sketch, SketchDimension dimension, string text, double size, TextRoom room)
    {
        if (sketch.FindAll(dimension.Of) is not { } of || DimensionCatalog.Find(dimension.Kind)?.Check(sketch, of) is not null)
        {
            return null;
        }

        Vec2 Place(IEnumerable<Vec2> places)
        {
            if (dimension.TextAt is { } at)
            {
                room.Take(at, text);
                return at;
            }

            return room.First(places, text);
        }

        var kind = DimensionCatalog.Find(dimension.Kind)!;
        switch (kind.Look)
        {
            case DimensionLook.Radius or DimensionLook.Diameter:
                return Round(sketch, of[0], kind.Look == DimensionLook.Diameter, size, Place);
            case DimensionLook.Angle or DimensionLook.OtherAngle:
                return Angle(sketch, of, kind.Look == DimensionLook.OtherAngle, dimension.TextAt, size, Place);
            case DimensionLook.Arc:
                return AlongArc(sketch, (ArcEntity)of[0], size, Place);
            default:
                return Straight(kind.Span(sketch, of), Middle(sketch), size, Place);
        }
    }

    private static DimensionDrawing Straight(MeasuredSpan span, Vec2 middle, double size, Func<IEnumerable<Vec2>, Vec2> place)
    {
        var (a, b, along) = span;
        var across = along.Left;
        var centre = (a + b) / 2;
        var outward = (centre - middle).Dot(across) < 0 ? -1 : 1;
        double Reach(int side) => side > 0 ? Math.Max(a.Dot(across), b.Dot(across)) : Math.Min(a.Dot(across), b.Dot(across));
        var text = place(
            from k in Enumerable.Range(0, Tries)
            from side in new[] { outward, -outward }
            select (along * centre.Dot(along)) + (across * (Reach(side) + (side * size * (Default + (Further * k)))))
        );
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

    private static DimensionDrawing Round(
        Sketch sketch,
        SketchEntity entity,
        bool diameter,
        double size,
        Func<IEnumerable<Vec2>, Vec2> place
    )
    {
        var (centre, radius) = (sketch.At(Curves.Centre(entity)!), RimDistance.RadiusOf(entity));
        var heading = entity is ArcEntity arc ? Arcs.Start(sketch, arc) + (Arcs.Sweep(sketch, arc) / 2) : Math.PI / 4;
        var spread = entity is ArcEntity a ? Arcs.Sweep(sketch, a) / 3 : Math.PI / 2;
        var text = place(
            from k in Enumerable.Range(0, 4)
            from turn in new[] { 0, 0.5, -0.5, 1, -1, 2 }
            select centre
                + Vec2.Polar(
                    heading + (spread * turn * (entity is ArcEntity && Math.Abs(turn) > 1 ? 0.3 : 1)),
                    radius + (size * ((Default * 0.7) + (Further * k)))
                )
        );
        var way = (text - centre).Length > Tolerances.Length ? (text - centre).Unit : Vec2.Polar(heading);
        var rim = centre + (way * radius);
        var lines = new List<double>();
        Add(lines, diameter ? centre - (way * radius) : centre, (text - centre).Length > radius ? text : rim);
        return diameter
            ? new DimensionDrawing(
                [.. lines],
                [rim.X, rim.Y, way.X, way.Y, centre.X - (way.X * radius), centre.Y - (way.Y * radius), -way.X, -way.Y],
                [],
                text
            )
            : new DimensionDrawing([.. lines], [rim.X, rim.Y, way.X, way.Y], [], text);
    }

    private static DimensionDrawing? Angle(
        Sketch sketch,
        IReadOnlyList<SketchEntity> of,
        bool other,
        Vec2? textAt,
        double size,
        Func<IEnumerable<Vec2>, Vec2> place
    )
    {
        if (of[0] is not LineEntity m || of[1] is not LineEntity n)
        {
            return null;
        }

        var (a, u) = (sketch.At(m.From), (sketch.At(m.To) - sketch.At(m.From)).Unit);
        var (b, v) = (sketch.At(n.From), (sketch.At(n.To) - sketch.At(n.From)).Unit);
        v = other ? -v : v;
        var cross = u.Cross(v);
        var apex = Math.Abs(cross) < Tolerances.Angle ? b : a + (u * ((b - a).Cross(v) / cross));

        // The sector opposite is as large; a text that stands there shows it there.
        if (textAt is { } at && (at - apex).Dot(u + v) < 0)
        {
            (u, v) = (-u, -v);
        }

        var sweep = Math.Atan2(u.Cross(v), u.Dot(v));
        var (start, turn) = sweep < 0 ? (v.Angle, -sweep) : (u.Angle, sweep);
        var text = place(
            from k in Enumerable.Range(0, Tries)
            from share in new[] { 0.5, 0.3, 0.7 }
            select apex + Vec2.Polar(start + (turn * share), size * (0.16 + (0.05 * k)))
        );
        return Arched(apex, start, turn, Math.Max(text.DistanceTo(apex), size * 0.02), text, []);
    }

    private static DimensionDrawing AlongArc(Sketch sketch, ArcEntity arc, double size, Func<IEnumerable<Vec2>, Vec2> place)
    {
        var (centre, start, sweep) = (sketch.At(arc.Centre), Arcs.Start(sketch, arc), Arcs.Sweep(sketch, arc));
        var text = place(
            from k in Enumerable.Range(0, Tries)
            select centre + Vec2.Polar(start + (sweep / 2), arc.Radius + (size * ((Default * 0.8) + (Further * k))))
        );
        var r = Math.Max(text.DistanceTo(centre), size * 0.02);
        var lines = new List<double>();
        foreach (var heading in new[] { start, start + sweep })
        {
            var way = r > arc.Radius ? 1 : -1;
            if (Math.Abs(r - arc.Radius) > size * Gap)
            {
                Add(
                    lines,
                    centre + Vec2.Polar(heading, arc.Radius + (way * size * Gap)),
                    centre + Vec2.Polar(heading, r + (way * size * Gap))
                );
            }
        }

        return Arched(centre, start, sweep, r, text, lines);
    }

    private static DimensionDrawing Arched(Vec2 apex, double start, double turn, double radius, Vec2 text, List<double> lines)
    {
        var (p, q) = (apex + Vec2.Polar(start, radius), apex + Vec2.Polar(start + turn, radius));
        var (tp, tq) = (-Vec2.Polar(start).Left, Vec2.Polar(start + turn).Left);
        return new DimensionDrawing([.. lines], [p.X, p.Y, tp.X, tp.Y, q.X, q.Y, tq.X, tq.Y], [apex.X, apex.Y, radius, start, turn], text);
    }

    private static Vec2 Middle(Sketch sketch)
    {
        var points = sketch.Entities.OfType<PointEntity>().Select(p => p.At).ToList();
        return points.Count == 0
            ? Vec2.Zero
            : new Vec2((points.Min(p => p.X) + points.Max(p => p.X)) / 2, (points.Min(p => p.Y) + points.Max(p => p.Y)) / 2);
    }

    private static void Add(List<double> lines, Vec2 a, Vec2 b) => lines.AddRange([a.X, a.Y, b.X, b.Y]);
}
