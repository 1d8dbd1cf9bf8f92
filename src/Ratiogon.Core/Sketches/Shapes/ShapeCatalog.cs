using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>Shapes: entities made together with the fewest constraints that keep them what they are.</summary>
public static class ShapeCatalog
{
    /// <summary>Names of the shapes; files may hold rectangles and circles in short form.</summary>
    public static IReadOnlyList<string> All { get; } =
    ["rectangle", "circle", "rounded-rectangle", "slot", "arc-slot", "polygon", "ring", "grid"];

    /// <summary>A rectangle by two opposite corners, its sides along the sketch's axes: 4 freedoms.</summary>
    public static SketchEdit RectangleByCorners(string id, Vec2 a, Vec2 b)
    {
        var (low, high) = (new Vec2(Math.Min(a.X, b.X), Math.Min(a.Y, b.Y)), new Vec2(Math.Max(a.X, b.X), Math.Max(a.Y, b.Y)));
        return new SketchEdit
        {
            Add =
            [
                new PointEntity($"{id}.p1", low),
                new PointEntity($"{id}.p2", new Vec2(high.X, low.Y)),
                new PointEntity($"{id}.p3", high),
                new PointEntity($"{id}.p4", new Vec2(low.X, high.Y)),
                new LineEntity($"{id}.bottom", $"{id}.p1", $"{id}.p2"),
                new LineEntity($"{id}.right", $"{id}.p2", $"{id}.p3"),
                new LineEntity($"{id}.top", $"{id}.p3", $"{id}.p4"),
                new LineEntity($"{id}.left", $"{id}.p4", $"{id}.p1"),
            ],
            Tie =
            [
                new SketchConstraint($"{id}.level1", "horizontal", [$"{id}.bottom"]),
                new SketchConstraint($"{id}.upright1", "vertical", [$"{id}.right"]),
                new SketchConstraint($"{id}.level2", "horizontal", [$"{id}.top"]),
                new SketchConstraint($"{id}.upright2", "vertical", [$"{id}.left"]),
            ],
            Shapes = [new SketchShape(id, "rectangle")],
        };
    }

    /// <summary>A rectangle by its centre and a corner, with the centre kept as a point: 4 freedoms.</summary>
    public static SketchEdit RectangleByCentre(string id, Vec2 centre, Vec2 corner)
    {
        var half = new Vec2(Math.Abs(corner.X - centre.X), Math.Abs(corner.Y - centre.Y));
        var edit = RectangleByCorners(id, centre - half, centre + half);
        return edit with
        {
            Add = edit.Add.Add(new PointEntity($"{id}.centre", centre) { Construction = true }),
            Tie = edit.Tie.Add(new SketchConstraint($"{id}.middle", "midpoint", [$"{id}.centre", $"{id}.p1", $"{id}.p3"])),
        };
    }

    /// <summary>The dimension of a rectangle's width, in a shape's own ids.</summary>
    public static SketchDimension Width(string id, string value) => new($"{id}.width", "distance", [$"{id}.bottom"], value);

    /// <summary>The dimension of a rectangle's height.</summary>
    public static SketchDimension Height(string id, string value) => new($"{id}.height", "distance", [$"{id}.right"], value);

    /// <summary>What places a point where it is drawn, by numbers from the origin: coincident where it is the origin.</summary>
    /// <param name="stem">What its rules are called after.</param>
    /// <param name="point">The point.</param>
    /// <param name="at">Where it is drawn.</param>
    /// <param name="x">The formula of its distance from the y axis, with its sign; by default the number.</param>
    /// <param name="y">The formula of its height, likewise.</param>
    public static SketchEdit Placed(string stem, string point, Vec2 at, string? x = null, string? y = null)
    {
        if (at == Vec2.Zero)
        {
            return new SketchEdit { Tie = [new SketchConstraint($"{stem}.place", "coincident", [Sketch.Origin, point])] };
        }

        var edit = new SketchEdit();
        edit =
            at.X == 0
                ? edit with
                {
                    Tie = edit.Tie.Add(new SketchConstraint($"{stem}.placex", "vertical", [Sketch.Origin, point])),
                }
                : edit with
                {
                    Size = edit.Size.Add(
                        new SketchDimension($"{stem}.atx", "horizontal-distance", [Sketch.Origin, point], Unsigned(at.X, x))
                    ),
                };
        return at.Y == 0
            ? edit with
            {
                Tie = edit.Tie.Add(new SketchConstraint($"{stem}.placey", "horizontal", [Sketch.Origin, point])),
            }
            : edit with
            {
                Size = edit.Size.Add(new SketchDimension($"{stem}.aty", "vertical-distance", [Sketch.Origin, point], Unsigned(at.Y, y))),
            };
    }

    /// <summary>Whether an edit places a point so, under the point's own name.</summary>
    public static bool Places(SketchEdit edit, string point)
    {
        ArgumentNullException.ThrowIfNull(edit);
        return edit.Size.Any(d => d.Id == $"{point}.atx" || d.Id == $"{point}.aty")
            || edit.Tie.Any(t => t.Id.StartsWith($"{point}.place", StringComparison.Ordinal));
    }

    /// <summary>The formula of a length as it is shown: the side is told by the drawing.</summary>
    private static string Unsigned(double value, string? text) =>
        text is null ? $"{Math.Abs(value):0.######} mm"
        : value > 0 ? text
        : OtherSides.Negated(text);
}
