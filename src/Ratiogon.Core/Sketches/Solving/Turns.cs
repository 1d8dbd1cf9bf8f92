using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Dimensions;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>What the eye sees of a chain of lines: which way it turns at each corner, and how far round each arc goes.</summary>
internal static class Turns
{
    /// <summary>Corners flatter than this, in radians, turn neither way.</summary>
    private const double TooFlat = 0.02;

    /// <summary>Whether some corner turns the other way, or an arc has jumped from nearly nothing to nearly a full turn.</summary>
    /// <param name="before">A sketch.</param>
    /// <param name="after">The same at other positions.</param>
    public static bool Changed(Sketch before, Sketch after)
    {
        var (was, now) = (before.Entities, after.Entities);
        bool Stands(int place) => place < 0 || ReferenceEquals(was[place], now[place]);
        foreach (var (a, corner, b) in before.Index.Corners)
        {
            if (
                !(Stands(a) && Stands(corner) && Stands(b))
                && Cross(before, a, corner, b) * Cross(after, a, corner, b) < 0
                && TurnedOver(Turn(before.At(a), before.At(corner), before.At(b)), Turn(after.At(a), after.At(corner), after.At(b)))
            )
            {
                return true;
            }
        }

        return Nested(before)
                .Any(n =>
                    Math.Sign(Radius(before, n.Outer) - Radius(before, n.Inner))
                    != Math.Sign(Radius(after, n.Outer) - Radius(after, n.Inner))
                ) || before.Entities.OfType<ArcEntity>().Any(arc => Math.Abs(Arcs.Sweep(before, arc) - Arcs.Sweep(after, arc)) > Math.PI);
    }

    /// <summary>In words, the corners of two lines that a change turned the other way; null where it turned none.</summary>
    /// <param name="before">A sketch.</param>
    /// <param name="after">What an edit made of it.</param>
    public static string? Said(Sketch before, Sketch after)
    {
        var over = SketchIndex
            .CornersOf(after.Entities)
            .Where(c =>
                before.Find(c.A) is PointEntity a
                && before.Find(c.Corner) is PointEntity at
                && before.Find(c.B) is PointEntity b
                && TurnedOver(Turn(a.At, at.At, b.At), Turn(after.At(c.A), after.At(c.Corner), after.At(c.B)))
            )
            .Select(c => c.Corner)
            .ToList();
        return over.Count == 0
            ? null
            : $"Nothing else was found: it turned the {(over.Count == 1 ? "corner" : "corners")} at "
                + $"{string.Join(", ", over.Take(4))}{(over.Count > 4 ? $" and {over.Count - 4} more" : "")} over.";
    }

    private static double Cross(Sketch sketch, int a, int corner, int b) =>
        (sketch.At(corner) - sketch.At(a)).Cross(sketch.At(b) - sketch.At(corner));

    /// <summary>Whether a corner turns the other way without having been flat.</summary>
    public static bool TurnedOver(double was, double now) =>
        Math.Abs(was) > TooFlat && Math.Abs(now) > TooFlat && Math.Sign(was) != Math.Sign(now);

    /// <summary>Which way, and how much, two lines turn where they meet: the sine, positive to the left.</summary>
    public static double Turn(Vec2 a, Vec2 corner, Vec2 b) => (corner - a).Unit.Cross((b - corner).Unit);

    /// <summary>Round curves about one centre of which one lies within the other, as something says that belongs to both: the sides of an
    /// arc slot, a curve and its offset.</summary>
    public static IEnumerable<(string Outer, string Inner)> Nested(Sketch sketch) =>
        sketch
            .Constraints.Where(c => c.Kind == EndCap.KindName)
            .Select(c => (c.Of[1], c.Of[2]))
            .Distinct()
            .Concat(
                sketch
                    .Dimensions.Where(d => d.Kind == OffsetSize.KindName)
                    .SelectMany(d => d.Of.Chunk(2).Select(p => (p[0], p[1])))
                    .Where(p => sketch.Find(p.Item1) is CircleEntity or ArcEntity)
            );

    private static double Radius(Sketch sketch, string id) => RimDistance.RadiusOf(sketch.Find(id)!);
}
