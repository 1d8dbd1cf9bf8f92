using System.Collections.Immutable;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Entities made again elsewhere, with their points.</summary>
public static class Copying
{
    /// <summary>The picked entities with the points they need, each once, points first.</summary>
    public static ImmutableArray<SketchEntity> Closure(Sketch sketch, IEnumerable<string> ids)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var all = ids.Select(sketch.Find).OfType<SketchEntity>().Where(e => !Sketch.IsBuiltIn(e.Id)).ToList();
        var points = all.SelectMany(e => e.Points)
            .Concat(all.Where(e => e is PointEntity).Select(e => e.Id))
            .Distinct()
            .Where(p => !Sketch.IsBuiltIn(p));
        return [.. points.Select(p => sketch.Find(p)!), .. all.Where(e => e is not PointEntity).Distinct()];
    }

    /// <summary>The same, with the sketch's own points that the picks hang on: a copy of a circle about the origin has a centre of its
    /// own.</summary>
    public static ImmutableArray<SketchEntity> Whole(Sketch sketch, IEnumerable<string> ids)
    {
        var of = Closure(sketch, ids);
        return [.. of.SelectMany(e => e.Points).Where(Sketch.IsBuiltIn).Distinct().Select(p => sketch.Find(p)!), .. of];
    }

    /// <summary>Copies of entities.</summary>
    /// <param name="of">What is copied; every point it needs must be among it or be given by <paramref name="idOf"/>.</param>
    /// <param name="idOf">The id of each copy, also of points that are shared and not copied (those of an unchanged id).</param>
    /// <param name="move">Where a place goes.</param>
    /// <param name="scale">By how much radii grow.</param>
    /// <param name="mirrored">Whether left and right change places, so that arcs run the other way.</param>
    public static ImmutableArray<SketchEntity> Of(
        IEnumerable<SketchEntity> of,
        Func<string, string> idOf,
        Func<Vec2, Vec2> move,
        double scale = 1,
        bool mirrored = false
    )
    {
        ArgumentNullException.ThrowIfNull(of);
        return [.. of.Where(e => idOf(e.Id) != e.Id).Select(e => One(e, idOf, move, scale, mirrored))];
    }

    /// <summary>One of them, whatever its id becomes: in another sketch the same id may be free.</summary>
    internal static SketchEntity One(
        SketchEntity entity,
        Func<string, string> idOf,
        Func<Vec2, Vec2> move,
        double scale,
        bool mirrored = false
    )
    {
        var id = idOf(entity.Id);
        (string, string) Ends(string from, string to) => mirrored ? (idOf(to), idOf(from)) : (idOf(from), idOf(to));
        switch (entity)
        {
            case PointEntity p:
                return p with { Id = id, At = move(p.At) };
            case LineEntity l:
                return l with { Id = id, From = idOf(l.From), To = idOf(l.To) };
            case CircleEntity c:
                return c with { Id = id, Centre = idOf(c.Centre), Radius = c.Radius * scale };
            case ArcEntity a:
                var (from, to) = Ends(a.From, a.To);
                return a with { Id = id, Centre = idOf(a.Centre), From = from, To = to, Radius = a.Radius * scale };
            case EllipseEntity e:
                return e with { Id = id, Centre = idOf(e.Centre), First = idOf(e.First), Second = idOf(e.Second) };
            case EllipticArcEntity e:
                var (begin, end) = Ends(e.From, e.To);
                return e with { Id = id, Centre = idOf(e.Centre), First = idOf(e.First), Second = idOf(e.Second), From = begin, To = end };
            case SplineEntity s:
                return s with
                {
                    Id = id,
                    Through = [.. s.Through.Select(idOf)],
                    FromHandle = s.FromHandle is { } f ? idOf(f) : null,
                    ToHandle = s.ToHandle is { } t ? idOf(t) : null,
                };
            default:
                throw new InvalidOperationException($"{entity.Word} cannot be copied");
        }
    }
}
