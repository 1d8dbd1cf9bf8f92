using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>Regular polygons: every corner is the first one turned about the centre, which is exact and linear, and a
/// construction circle through the corners or along the flats carries the size. 4 freedoms.</summary>
public static class Polygons
{
    public const int Fewest = 3;

    public const int Most = 200;

    /// <param name="id">Of the shape.</param>
    /// <param name="centre">Its centre.</param>
    /// <param name="at">A corner, or the middle of a flat.</param>
    /// <param name="sides">How many.</param>
    /// <param name="byFlat">Which of the two.</param>
    /// <param name="count">The formula of the number.</param>
    public static SketchEdit Regular(string id, Vec2 centre, Vec2 at, int sides, bool byFlat, string count)
    {
        var heading = (at - centre).Angle - (byFlat ? Math.PI / sides : 0);
        var reach = at.DistanceTo(centre) / (byFlat ? Math.Cos(Math.PI / sides) : 1);
        var (entities, copies) = Corners(id, centre, centre + Vec2.Polar(heading, reach), sides);
        return new SketchEdit
        {
            Add =
            [
                new PointEntity($"{id}.centre", centre),
                .. entities,
                new CircleEntity($"{id}.round", $"{id}.centre", at.DistanceTo(centre)) { Construction = true },
            ],
            Tie =
            [
                copies,
                byFlat
                    ? new SketchConstraint($"{id}.flat", "tangent", [$"{id}.round", $"{id}.s1"])
                    : new SketchConstraint($"{id}.corner", "on-curve", [$"{id}.p1", $"{id}.round"]),
            ],
            Shapes = [new SketchShape(id, "polygon") { Count = count }],
        };
    }

    /// <summary>Across corners or across flats, as it was made.</summary>
    public static SketchDimension Across(string id, string value) => new($"{id}.across", "diameter", [$"{id}.round"], value);

    /// <summary>The same polygon with another number of sides; what hung on corners and sides that are gone goes with them.</summary>
    internal static Sketch WithSides(Sketch sketch, SketchShape shape, int sides)
    {
        var id = shape.Id;
        var (entities, copies) = Corners(id, sketch.At($"{id}.centre"), sketch.At($"{id}.p1"), sides);
        var made = entities.ToDictionary(e => e.Id, e => e with { Construction = sketch.Find(e.Id)?.Construction ?? false });
        var gone = sketch.Entities.Select(e => e.Id).Where(e => IsCornerOrSide(id, e) && !made.ContainsKey(e)).ToImmutableArray();

        // The last side is led to its new corner before the corners that are too many go.
        var led = sketch with
        {
            Entities =
            [
                .. sketch.Entities.Select(e => made.Remove(e.Id, out var now) ? now : e),
                .. entities.Where(e => made.ContainsKey(e.Id)),
            ],
            Constraints = sketch.Constraints.RemoveAll(c => c.Id == copies.Id),
        };
        var kept = Removal.Without(led, gone);
        return kept with { Constraints = kept.Constraints.Add(copies), Shapes = sketch.Shapes };
    }

    private static bool IsCornerOrSide(string id, string entity) =>
        entity.StartsWith(id + ".", StringComparison.Ordinal)
        && entity[id.Length + 1] is 'p' or 's'
        && int.TryParse(entity.AsSpan(id.Length + 2), out _);

    private static (ImmutableArray<SketchEntity> Entities, SketchConstraint Copies) Corners(string id, Vec2 centre, Vec2 first, int sides)
    {
        var step = 360.0 / sides;
        var points = Enumerable
            .Range(0, sides)
            .Select(k =>
                (SketchEntity)
                    new PointEntity(
                        $"{id}.p{k + 1}",
                        k == 0 ? first : centre + Vec2.Polar((first - centre).Angle + (k * step * Math.PI / 180), first.DistanceTo(centre))
                    )
            );
        var lines = Enumerable
            .Range(0, sides)
            .Select(k => (SketchEntity)new LineEntity($"{id}.s{k + 1}", $"{id}.p{k + 1}", $"{id}.p{((k + 1) % sides) + 1}"));
        return (
            [.. points, .. lines],
            new SketchConstraint($"{id}.copies", "turned-copies", [$"{id}.centre", .. Enumerable.Range(1, sides).Select(k => $"{id}.p{k}")])
            {
                Each = 1,
                Step = step,
            }
        );
    }
}
