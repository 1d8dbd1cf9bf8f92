using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>Four-sided shapes other than those along the axes: corners p1 to p4 counterclockwise or clockwise as drawn,
/// sides bottom, right, top and left as seen from the first.</summary>
public static class Rectangles
{
    /// <summary>A rectangle on a side, as deep as the third place lies off it: 5 freedoms.</summary>
    public static SketchEdit OnSide(string id, Vec2 a, Vec2 b, Vec2 depth)
    {
        var across = (b - a).Unit.Left;
        var d = across * (depth - b).Dot(across);
        return FourSides(id, a, b, b + d, a + d) with
        {
            Tie =
            [
                new SketchConstraint($"{id}.square", "perpendicular", [$"{id}.bottom", $"{id}.right"]),
                new SketchConstraint($"{id}.even1", "parallel", [$"{id}.bottom", $"{id}.top"]),
                new SketchConstraint($"{id}.even2", "parallel", [$"{id}.right", $"{id}.left"]),
            ],
        };
    }

    /// <summary>A rectangle about a centre: the middle of its right side, and how far that side reaches: 5 freedoms.</summary>
    public static SketchEdit AboutCentre(string id, Vec2 centre, Vec2 middle, Vec2 reach)
    {
        var u = middle - centre;
        var across = u.Unit.Left;
        var half = across * (reach - middle).Dot(across);
        var edit = OnSide(id, centre - u - half, centre + u - half, centre + u + half);
        return edit with
        {
            Add = edit.Add.Add(new PointEntity($"{id}.centre", centre) { Construction = true }),
            Tie = edit.Tie.Add(new SketchConstraint($"{id}.middle", "midpoint", [$"{id}.centre", $"{id}.p1", $"{id}.p3"])),
        };
    }

    /// <summary>A parallelogram by three corners: 6 freedoms.</summary>
    public static SketchEdit Parallelogram(string id, Vec2 a, Vec2 b, Vec2 c) =>
        FourSides(id, a, b, c, a + c - b) with
        {
            Tie =
            [
                new SketchConstraint($"{id}.even1", "parallel", [$"{id}.bottom", $"{id}.top"]),
                new SketchConstraint($"{id}.even2", "parallel", [$"{id}.right", $"{id}.left"]),
            ],
        };

    /// <summary>A rectangle along the axes with rounded corners of one radius: 5 freedoms.</summary>
    public static SketchEdit Rounded(string id, Vec2 a, Vec2 b, double radius)
    {
        var (low, high) = (new Vec2(Math.Min(a.X, b.X), Math.Min(a.Y, b.Y)), new Vec2(Math.Max(a.X, b.X), Math.Max(a.Y, b.Y)));
        var r = radius;
        Vec2[] centres = [new(low.X + r, low.Y + r), new(high.X - r, low.Y + r), new(high.X - r, high.Y - r), new(low.X + r, high.Y - r)];
        var edit = new SketchEdit { Shapes = [new SketchShape(id, "rounded-rectangle")] };
        for (var i = 0; i < 4; i++)
        {
            var start = Math.PI + (i * Math.PI / 2);
            edit = edit with
            {
                Add = edit.Add.AddRange(
                    new PointEntity($"{id}.m{i + 1}", centres[i]),
                    new PointEntity($"{id}.a{i + 1}", centres[i] + Square(start, r)),
                    new PointEntity($"{id}.b{i + 1}", centres[i] + Square(start + (Math.PI / 2), r))
                ),
            };
        }

        string[] sides = ["bottom", "right", "top", "left"];
        for (var i = 0; i < 4; i++)
        {
            var (own, next) = (i + 1, ((i + 1) % 4) + 1);
            edit = edit with
            {
                Add = edit.Add.AddRange(
                    new ArcEntity($"{id}.corner{own}", $"{id}.m{own}", $"{id}.a{own}", $"{id}.b{own}", r),
                    new LineEntity($"{id}.{sides[i]}", $"{id}.b{own}", $"{id}.a{next}")
                ),
                Tie = edit.Tie.AddRange(
                    new SketchConstraint(
                        $"{id}.{(i % 2 == 0 ? "level" : "upright")}{own}",
                        i % 2 == 0 ? "horizontal" : "vertical",
                        [$"{id}.{sides[i]}"]
                    ),
                    new SketchConstraint($"{id}.out{own}", "tangent", [$"{id}.corner{own}", $"{id}.{sides[i]}"]),
                    new SketchConstraint($"{id}.in{next}", "tangent", [$"{id}.{sides[i]}", $"{id}.corner{next}"])
                ),
            };
        }

        return edit with
        {
            Tie = edit.Tie.Add(
                new SketchConstraint($"{id}.equal", "equal", [$"{id}.corner1", $"{id}.corner2", $"{id}.corner3", $"{id}.corner4"])
            ),
        };
    }

    /// <summary>Its width, in the shape's own ids.</summary>
    public static SketchDimension RoundedWidth(string id, string value) =>
        new($"{id}.width", "distance", [$"{id}.left", $"{id}.right"], value);

    /// <summary>Its height.</summary>
    public static SketchDimension RoundedHeight(string id, string value) =>
        new($"{id}.height", "distance", [$"{id}.bottom", $"{id}.top"], value);

    /// <summary>The radius of its corners.</summary>
    public static SketchDimension CornerRadius(string id, string value) => new($"{id}.radius", "radius", [$"{id}.corner1"], value);

    private static SketchEdit FourSides(string id, Vec2 a, Vec2 b, Vec2 c, Vec2 d) =>
        new()
        {
            Add =
            [
                new PointEntity($"{id}.p1", a),
                new PointEntity($"{id}.p2", b),
                new PointEntity($"{id}.p3", c),
                new PointEntity($"{id}.p4", d),
                new LineEntity($"{id}.bottom", $"{id}.p1", $"{id}.p2"),
                new LineEntity($"{id}.right", $"{id}.p2", $"{id}.p3"),
                new LineEntity($"{id}.top", $"{id}.p3", $"{id}.p4"),
                new LineEntity($"{id}.left", $"{id}.p4", $"{id}.p1"),
            ],
            Shapes = [new SketchShape(id, "rectangle")],
        };

    /// <summary>A quarter direction without the last digits of sine and cosine.</summary>
    private static Vec2 Square(double angle, double r) => new(Math.Round(Math.Cos(angle)) * r, Math.Round(Math.Sin(angle)) * r);
}
