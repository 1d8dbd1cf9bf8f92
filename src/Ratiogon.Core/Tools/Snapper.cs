using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>A place chosen for a point: an existing point, or a new one with what it would be tied to.</summary>
/// <param name="At">Where.</param>
/// <param name="Existing">The point there already, or null.</param>
/// <param name="Mark">What the pointer was drawn to.</param>
/// <param name="Tie">A constraint kind for a new point, or null.</param>
/// <param name="To">What the new point is tied to.</param>
public sealed record Place(Vec2 At, string? Existing, SnapMark Mark, string? Tie = null, string? To = null)
{
    /// <summary>In words, for the list of what would be inferred.</summary>
    public string? Words => Existing is not null ? $"at {Existing}" : Tie is null ? null : $"{Tie} {To}";
}

/// <summary>Draws the pointer to what is near it.</summary>
public static class Snapper
{
    /// <summary>The nearest place that means something, or the pointer's own.</summary>
    /// <param name="sketch">What is drawn.</param>
    /// <param name="input">Pointer, reach, and whether inference is held back.</param>
    public static Place Snap(Sketch sketch, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(input);
        var (at, reach) = (input.At, input.Reach);
        if (input.Suppress)
        {
            return Free(at);
        }

        if (NearestPoint(sketch, at, reach) is { } point)
        {
            return new Place(point.At, point.Id, new SnapMark("point", point.At, point.Id));
        }

        foreach (var line in sketch.Entities.OfType<LineEntity>())
        {
            var middle = (sketch.At(line.From) + sketch.At(line.To)) / 2;
            if (middle.DistanceTo(at) <= reach)
            {
                return new Place(middle, null, new SnapMark("midpoint", middle, line.Id), "midpoint", line.Id);
            }
        }

        return NearestCurve(sketch, at, reach) is { } curve ? new Place(curve.Foot, null, new SnapMark("on-curve", curve.Foot, curve.Id), "on-curve", curve.Id) : Free(at);
    }

    public static Place Free(Vec2 at) => new(at, null, new SnapMark("free", at, ""));

    /// <summary>The entity under the pointer: a point first, then a curve; null where there is none.</summary>
    public static string? Under(Sketch sketch, Vec2 at, double reach)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return NearestPoint(sketch, at, reach)?.Id ?? NearestCurve(sketch, at, reach)?.Id;
    }

    private static PointEntity? NearestPoint(Sketch sketch, Vec2 at, double reach) =>
        Sketch.BuiltIns.Where(e => e.Id == Sketch.Origin).Concat(sketch.Entities).OfType<PointEntity>()
            .Where(p => p.At.DistanceTo(at) <= reach).MinBy(p => p.At.DistanceTo(at));

    private static (string Id, Vec2 Foot)? NearestCurve(Sketch sketch, Vec2 at, double reach)
    {
        // What was drawn comes before the axes that it may lie on.
        return NearestOf(sketch, sketch.Entities, at, reach) ?? NearestOf(sketch, Sketch.BuiltIns, at, reach);
    }

    private static (string Id, Vec2 Foot)? NearestOf(Sketch sketch, IEnumerable<SketchEntity> among, Vec2 at, double reach)
    {
        (string Id, Vec2 Foot)? best = null;
        foreach (var entity in among)
        {
            if (FootOn(sketch, entity, at) is { } foot && foot.DistanceTo(at) is var d && d <= reach && (best is null || d < best.Value.Foot.DistanceTo(at) - 1e-9))
            {
                best = (entity.Id, foot);
            }
        }

        return best;
    }

    private static Vec2? FootOn(Sketch sketch, SketchEntity entity, Vec2 at)
    {
        switch (entity)
        {
            case LineEntity line:
                var (a, b) = (sketch.At(line.From), sketch.At(line.To));
                var foot = at.FootOn(a, b);
                return Sketch.IsBuiltIn(line.Id) || (foot - a).Dot(foot - b) <= 0 ? foot : null;
            case CircleEntity circle:
                return Onto(sketch.At(circle.Centre), circle.Radius, at);
            case ArcEntity arc:
                var on = Onto(sketch.At(arc.Centre), arc.Radius, at);
                var angle = (on - sketch.At(arc.Centre)).Angle - Arcs.Start(sketch, arc);
                return angle - (Math.Floor(angle / (2 * Math.PI)) * 2 * Math.PI) <= Arcs.Sweep(sketch, arc) ? on : null;
            default:
                return null;
        }
    }

    private static Vec2 Onto(Vec2 centre, double radius, Vec2 at) => at == centre ? centre + new Vec2(radius, 0) : centre + ((at - centre).Unit * radius);
}

/// <summary>Collects what a drawing tool adds: new points where there are none, and inferred constraints.</summary>
internal sealed class Draft(Sketch sketch)
{
    private readonly HashSet<string> taken = sketch.UsedIds();
    private readonly ImmutableArray<SketchEntity>.Builder add = ImmutableArray.CreateBuilder<SketchEntity>();
    private readonly ImmutableArray<SketchConstraint>.Builder tie = ImmutableArray.CreateBuilder<SketchConstraint>();
    private readonly ImmutableArray<SketchDimension>.Builder size = ImmutableArray.CreateBuilder<SketchDimension>();
    private readonly ImmutableArray<string>.Builder inferred = ImmutableArray.CreateBuilder<string>();

    public string NewId(string stem) => Ids.Next(stem, taken);

    public void Add(SketchEntity entity) => add.Add(entity);

    /// <summary>The point at a place: the one there, or a new one tied as the place says.</summary>
    public string PointAt(Place place)
    {
        if (place.Existing is not null)
        {
            return place.Existing;
        }

        var id = NewId("p");
        add.Add(new PointEntity(id, place.At));
        Attach(id, place);
        return id;
    }

    /// <summary>Ties a point that is there already to what its place says.</summary>
    public void Attach(string point, Place place)
    {
        if (place.Existing is not null && place.Existing != point)
        {
            Infer("coincident", place.Existing, point);
        }
        else if (place.Tie is not null)
        {
            Infer(place.Tie, point, place.To!);
        }
    }

    public void Infer(string kind, params string[] of)
    {
        var id = NewId("k");
        tie.Add(new SketchConstraint(id, kind, [.. of]));
        inferred.Add(id);
    }

    public void Tie(string kind, params string[] of) => tie.Add(new SketchConstraint(NewId("k"), kind, [.. of]));

    public string Size(string kind, string value, params string[] of)
    {
        var id = NewId("d");
        size.Add(new SketchDimension(id, kind, [.. of], value));
        return id;
    }

    public Sketching.Editing.SketchEdit Edit => new()
    {
        Add = add.ToImmutable(),
        Tie = tie.ToImmutable(),
        Size = size.ToImmutable(),
        Inferred = inferred.ToImmutable(),
    };
}
