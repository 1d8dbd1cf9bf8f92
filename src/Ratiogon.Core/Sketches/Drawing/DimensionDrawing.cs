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

        switch (dimension.Kind)
        {
            case "radius" or "diameter":
                return Round(sketch, of[0], dimension.Kind == "diameter", size, Place);
            case "angle" or "other-angle":
                return Angle(sketch, of, dimension.Kind == "other-angle", dimension.TextAt, size, Place);
            case "sweep" or "arc-length":
                return AlongArc(sketch, (ArcEntity)of[0], size, Place);
            default:
                var (a, b, along) = Ends(sketch, of, dimension.Kind);
                return Straight(a, b, along, Middle(sketch), size, Place);
        }
    }

    private static DimensionDrawing Straight(Vec2 a, Vec2 b, Vec2 along, Vec2 middle, double size, Func<IEnumerable<Vec2>, Vec2> place)
    {
        var across = along.Left;
        var centre = (a + b) / 2;
        var outward = (centre - middle).Dot(across) < 0 ? -1 : 1;
        double Reach(int side) => side > 0 ? Math.Max(a.Dot(across), b.Dot(across)) : Math.Min(a.Dot(across), b.Dot(across));
        var text = place(
            from k in Enumerable.Range(0, Tries)
            from side in new[] { outward, -outward }
            select (along * centre.Dot(along)) + (across * (Reach(side) + (side * size * (Default + (Further * k))))));
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

    private static DimensionDrawing Round(Sketch sketch, SketchEntity entity, bool diameter, double size, Func<IEnumerable<Vec2>, Vec2> place)
    {
        var (centre, radius) = (sketch.At(Curves.Centre(entity)!), RimDistance.RadiusOf(entity));
        var heading = entity is ArcEntity arc ? Arcs.Start(sketch, arc) + (Arcs.Sweep(sketch, arc) / 2) : Math.PI / 4;
        var spread = entity is ArcEntity a ? Arcs.Sweep(sketch, a) / 3 : Math.PI / 2;
        var text = place(
            from k in Enumerable.Range(0, 4)
            from turn in new[] { 0, 0.5, -0.5, 1, -1, 2 }
            select centre + Vec2.Polar(heading + (spread * turn * (entity is ArcEntity && Math.Abs(turn) > 1 ? 0.3 : 1)), radius + (size * ((Default * 0.7) + (Further * k)))));
        var way = (text - centre).Length > Tolerances.Length ? (text - centre).Unit : Vec2.Polar(heading);
        var rim = centre + (way * radius);
        var lines = new List<double>();
        Add(lines, diameter ? centre - (way * radius) : centre, (text - centre).Length > radius ? text : rim);
        return diameter
            ? new DimensionDrawing([.. lines], [rim.X, rim.Y, way.X, way.Y, centre.X - (way.X * radius), centre.Y - (way.Y * radius), -way.X, -way.Y], [], text)
            : new DimensionDrawing([.. lines], [rim.X, rim.Y, way.X, way.Y], [], text);
    }

    private static DimensionDrawing? Angle(Sketch sketch, IReadOnlyList<SketchEntity> of, bool other, Vec2? textAt, double size, Func<IEnumerable<Vec2>, Vec2> place)
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
        var text = place(from k in Enumerable.Range(0, Tries) from share in new[] { 0.5, 0.3, 0.7 } select apex + Vec2.Polar(start + (turn * share), size * (0.16 + (0.05 * k))));
        return Arched(apex, start, turn, Math.Max(text.DistanceTo(apex), size * 0.02), text, []);
    }

    private static DimensionDrawing AlongArc(Sketch sketch, ArcEntity arc, double size, Func<IEnumerable<Vec2>, Vec2> place)
    {
        var (centre, start, sweep) = (sketch.At(arc.Centre), Arcs.Start(sketch, arc), Arcs.Sweep(sketch, arc));
        var text = place(from k in Enumerable.Range(0, Tries) select centre + Vec2.Polar(start + (sweep / 2), arc.Radius + (size * ((Default * 0.8) + (Further * k)))));
        var r = Math.Max(text.DistanceTo(centre), size * 0.02);
        var lines = new List<double>();
        foreach (var heading in new[] { start, start + sweep })
        {
            var way = r > arc.Radius ? 1 : -1;
            if (Math.Abs(r - arc.Radius) > size * Gap)
            {
                Add(lines, centre + Vec2.Polar(heading, arc.Radius + (way * size * Gap)), centre + Vec2.Polar(heading, r + (way * size * Gap)));
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

    /// <summary>The two measured places and the direction of the dimension line.</summary>
    private static (Vec2 A, Vec2 B, Vec2 Along) Ends(Sketch sketch, IReadOnlyList<SketchEntity> of, string kind)
    {
        Vec2 At(SketchEntity e) => e switch { PointEntity p => p.At, LineEntity l => sketch.At(l.From), _ => sketch.At(Curves.Centre(e)!) };
        switch (kind)
        {
            case "near-distance" or "far-distance":
                var (p, q) = RimDistance.Ends(sketch, of);
                var (round, otherRound) = of[0] is LineEntity ? (of[1], of[0]) : (of[0], of[1]);
                var out1 = (q - p).Unit * (kind == "far-distance" ? -1 : 1);
                return (p + (out1 * RimDistance.RadiusOf(round)), q - (out1 * RimDistance.RadiusOf(otherRound)), (q - p).Unit);
            case "first-semi-axis" or "second-semi-axis":
                return Toward(At(of[0]), sketch.At(of[0].Points[kind == "first-semi-axis" ? 1 : 2]));
            case "offset" when of[0] is LineEntity l:
                var m = (sketch.At(l.From) + sketch.At(l.To)) / 2;
                return Toward(m, m.FootOn(sketch.At(of[1].Points[0]), sketch.At(of[1].Points[1])));
            case "offset":
                var c = At(of[0]);
                var heading = of[0] is ArcEntity arc ? Arcs.Start(sketch, arc) + (Arcs.Sweep(sketch, arc) / 2) : Math.PI / 4;
                return Toward(c + Vec2.Polar(heading, RimDistance.RadiusOf(of[0])), c + Vec2.Polar(heading, RimDistance.RadiusOf(of[1])));
            case "across-axis":
                var ordered = AcrossAxis.Ordered(of);
                var (axis, measured) = ((LineEntity)ordered[0], At(ordered[1]));
                return Toward(measured, Symmetric.Mirrored(sketch, axis, measured));
        }

        if (of.Count == 1 && of[0] is LineEntity own)
        {
            return Along(sketch.At(own.From), sketch.At(own.To), kind);
        }

        if (kind == "distance" && of.OfType<LineEntity>().OrderBy(l => Sketch.IsBuiltIn(l.Id) ? 0 : 1).FirstOrDefault() is { } line)
        {
            var a = At(of.First(e => e != line));
            var b = a.FootOn(sketch.At(line.From), sketch.At(line.To));
            return a.DistanceTo(b) < Tolerances.Length ? (a, b, (sketch.At(line.To) - sketch.At(line.From)).Unit.Left) : Along(a, b, kind);
        }

        return Along(At(of[0]), At(of[1]), kind);
    }

    private static (Vec2 A, Vec2 B, Vec2 Along) Along(Vec2 a, Vec2 b, string kind) =>
        kind switch { "horizontal-distance" => (a, b, new Vec2(1, 0)), "vertical-distance" => (a, b, new Vec2(0, 1)), _ => Toward(a, b) };

    private static (Vec2 A, Vec2 B, Vec2 Along) Toward(Vec2 a, Vec2 b) => (a, b, (b - a).Unit is var u && u != Vec2.Zero ? u : new Vec2(1, 0));

    private static Vec2 Middle(Sketch sketch)
    {
        var points = sketch.Entities.OfType<PointEntity>().Select(p => p.At).ToList();
        return points.Count == 0 ? Vec2.Zero : new Vec2((points.Min(p => p.X) + points.Max(p => p.X)) / 2, (points.Min(p => p.Y) + points.Max(p => p.Y)) / 2);
    }

    private static void Add(List<double> lines, Vec2 a, Vec2 b) => lines.AddRange([a.X, a.Y, b.X, b.Y]);
}
