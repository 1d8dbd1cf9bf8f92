using System.Collections.Immutable;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>A constraint that a new point would get: its kind, and what it is tied to besides the point.</summary>
public sealed record PlaceTie(string Kind, ImmutableArray<string> With)
{
    public override string ToString() => $"{Kind.Replace('-', ' ')} {string.Join(", ", With)}";

    public bool Equals(PlaceTie? other) => other is not null && Kind == other.Kind && With.AsSpan().SequenceEqual(other.With.AsSpan());

    public override int GetHashCode() => HashCode.Combine(Kind, With.Length);
}

/// <summary>A place chosen for a point: an existing point, or a new one with what it would be tied to.</summary>
/// <param name="At">Where, in millimetres on the sketch plane.</param>
/// <param name="Existing">The point there already, or null.</param>
/// <param name="Mark">What the pointer was drawn to.</param>
public sealed record Place(Vec2 At, string? Existing, SnapMark Mark)
{
    /// <summary>What a new point here would be tied to.</summary>
    public ImmutableArray<PlaceTie> Ties { get; init; } = [];

    /// <summary>A tie between the line that ends here and a curve: tangent or perpendicular to it.</summary>
    public PlaceTie? Arriving { get; init; }

    /// <summary>The curve the place was picked on, where a tool picks curves.</summary>
    public string? Curve { get; init; }

    /// <summary>The two numbers as typed, where the place was typed: they become sizes.</summary>
    public TypedPlace? Typed { get; init; }

    /// <summary>The same place in the sketch as it is now: where the point has gone since, or without what is not there any more. Null
    /// where it was
    /// a curve that is gone.</summary>
    public Place? In(Sketch sketch)
    {
        if (Curve is { } curve)
        {
            return sketch.Find(curve) is null ? null : this;
        }

        return Existing is null
                ? this with
                {
                    Ties = [.. Ties.Where(t => t.With.All(id => sketch.Find(id) is not null))],
                    Arriving = Arriving is { } a && a.With.All(id => sketch.Find(id) is not null) ? a : null,
                }
            : sketch.Find(Existing) is PointEntity point
                ? point.At == At ? this
                    : this with { At = point.At }
            : Free(At) with { Typed = Typed };
    }

    /// <summary>The same place a little elsewhere, where something new is to lie; what it was there for holds only where it did not
    /// have to move.</summary>
    public Place MovedTo(Vec2 at) => At.DistanceTo(at) <= Tolerances.Length ? this with { Ties = [] } : Free(at);

    /// <summary>For the list of what would be inferred.</summary>
    public IEnumerable<string> Words =>
        Existing is not null ? [$"at {Existing}"] : Ties.Select(t => t.ToString()).Concat(Arriving is null ? [] : [Arriving.ToString()]);

    public static Place Free(Vec2 at) => new(at, null, new SnapMark("free", at, ""));
}

/// <summary>Points of a draft at places.</summary>
internal static class PlaceDrafts
{
    /// <summary>The point at a place: the one there, or a new one tied as the place says.</summary>
    public static string PointAt(this Draft draft, Place place)
    {
        if (place.Existing is not null)
        {
            return place.Existing;
        }

        var id = draft.NewPoint(place.At);
        draft.Attach(id, place);
        return id;
    }

    /// <summary>Ties a point that is there already to what its place says.</summary>
    public static void Attach(this Draft draft, string point, Place place)
    {
        if (place.Existing is not null && place.Existing != point)
        {
            draft.Infer("coincident", place.Existing, point);
        }

        if (place.Existing is null && place.Typed is var (x, y))
        {
            draft.Change(e => e.With(ShapeCatalog.Placed(point, point, place.At, x, y)));
        }

        foreach (var tie in place.Existing is null ? place.Ties : [])
        {
            draft.Infer(tie.Kind, [point, .. tie.With]);
        }
    }
}

/// <summary>The numbers of a place as they were typed.</summary>
/// <param name="X">To the right.</param>
/// <param name="Y">Upwards.</param>
public readonly record struct TypedPlace(string X, string Y);
