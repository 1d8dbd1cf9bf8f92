using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;
using Ratiogon.Core.Solving;

namespace Ratiogon.Bench;

/// <summary>Sketches that are no chains of rectangles.</summary>
internal static class Figures
{
    /// <summary>A strip of triangles of lengths.</summary>
    public static Sketch Truss(int count)
    {
        var (entities, sizes) = (new List<SketchEntity>(), new List<SketchDimension>());
        for (var i = 0; i < count + 2; i++)
        {
            entities.Add(new PointEntity($"p{i}", new Vec2(5 * i, i % 2 == 0 ? 0 : 8)));
        }

        for (var i = 0; i < count + 1; i++)
        {
            entities.Add(new LineEntity($"n{i}l", $"p{i}", $"p{i + 1}"));
            sizes.Add(new SketchDimension($"n{i}", "distance", [$"n{i}l"], $"{Math.Sqrt(89):r} mm"));
            if (i < count)
            {
                entities.Add(new LineEntity($"s{i}l", $"p{i}", $"p{i + 2}"));
                sizes.Add(new SketchDimension($"s{i}", "distance", [$"s{i}l"], "10 mm"));
            }
        }

        return Solved(new Sketch { Entities = [.. entities], Dimensions = [.. sizes], Constraints = [new("o", "coincident", [Sketch.Origin, "p0"]), new("h", "horizontal", ["p0", "p2"])] });
    }

    /// <summary>Sized slots, each hung on the one before, all of them turned a little.</summary>
    public static Sketch Slots(int count)
    {
        var edit = new SketchEdit();
        for (var i = 0; i < count; i++)
        {
            var at = new Vec2(40 * i, 7 * i);
            edit = edit.With(Core.Sketching.Slots.Straight($"slot{i}", at, at + new Vec2(20, 3), 4));
            edit = edit with { Size = [.. edit.Size, Core.Sketching.Slots.Centres($"slot{i}", "20 mm"), Core.Sketching.Slots.Width($"slot{i}", "8 mm")] };
            if (i > 0)
            {
                edit = edit with { Size = edit.Size.Add(new SketchDimension($"x{i}", "distance", [$"slot{i - 1}.c1", $"slot{i}.c1"], "42 mm")) };
            }
        }

        return Solved(new Sketch { Entities = edit.Add, Constraints = edit.Tie, Dimensions = edit.Size, Shapes = edit.Shapes });
    }

    /// <summary>Circles round an inner one, each touching it and the next.</summary>
    public static Sketch Ring(int count)
    {
        const double Inner = 60;
        var (entities, ties, sizes) = (new List<SketchEntity> { new PointEntity("c", Vec2.Zero), new CircleEntity("in", "c", Inner) }, new List<SketchConstraint> { new("o", "coincident", [Sketch.Origin, "c"]) }, new List<SketchDimension> { new("in.r", "radius", ["in"], "60 mm") });
        var turn = 0.0;
        for (var i = 0; i < count; i++)
        {
            var at = Vec2.Polar(turn, Inner + 5);
            turn += 2 * Math.Asin(5 / (Inner + 5));
            entities.AddRange([new PointEntity($"p{i}", at), new CircleEntity($"k{i}", $"p{i}", 5)]);
            ties.Add(new SketchConstraint($"t{i}", "tangent", [$"k{i}", "in"]));
            sizes.Add(new SketchDimension($"r{i}", "radius", [$"k{i}"], "5 mm"));
            if (i > 0)
            {
                ties.Add(new SketchConstraint($"n{i}", "tangent", [$"k{i - 1}", $"k{i}"]));
            }
        }

        return Solved(new Sketch { Entities = [.. entities], Constraints = [.. ties], Dimensions = [.. sizes] });
    }

    private static Sketch Solved(Sketch sketch) => SketchSolver.Solve(sketch, Chains.Values(sketch)) is { Solved: true } solved ? solved.Sketch : throw new InvalidOperationException("the figure does not solve");
}
