using Ratiogon.Core;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;

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

        return Solved(
            new Sketch
            {
                Entities = [.. entities],
                Dimensions = [.. sizes],
                Constraints = [new("o", "coincident", [Sketch.Origin, "p0"]), new("h", "horizontal", ["p0", "p2"])],
            }
        );
    }

    /// <summary>Rhombi of equal sides and one angle each, standing on one another.</summary>
    public static Sketch Rhombi(int count)
    {
        var (entities, ties, sizes) = (
            new List<SketchEntity>(),
            new List<SketchConstraint> { new("o", "coincident", [Sketch.Origin, "p0a"]), new("h", "horizontal", ["l0"]) },
            new List<SketchDimension>()
        );
        var (u, v) = (new Vec2(10, 0), Vec2.Polar(1.2, 10));
        for (var i = 0; i <= count; i++)
        {
            entities.AddRange([
                new PointEntity($"p{i}a", v * i),
                new PointEntity($"p{i}b", (v * i) + u),
                new LineEntity($"l{i}", $"p{i}a", $"p{i}b"),
            ]);
            if (i > 0)
            {
                entities.AddRange([new LineEntity($"a{i}", $"p{i - 1}a", $"p{i}a"), new LineEntity($"b{i}", $"p{i - 1}b", $"p{i}b")]);
                ties.Add(new SketchConstraint($"e{i}", "equal", [$"l{i - 1}", $"a{i}", $"b{i}", $"l{i}"]));
                sizes.Add(new SketchDimension($"w{i}", "angle", [$"l{i - 1}", $"a{i}"], $"{1.2 * 180 / Math.PI:r} deg"));
            }
        }

        sizes.Add(new SketchDimension("r30", "distance", ["a30"], "10 mm"));
        return Solved(
            new Sketch
            {
                Entities = [.. entities],
                Constraints = [.. ties],
                Dimensions = [.. sizes],
            }
        );
    }

    /// <summary>Circles round an inner one, each touching it and the next.</summary>
    public static Sketch Ring(int count)
    {
        const double Inner = 60;
        var (entities, ties, sizes) = (
            new List<SketchEntity> { new PointEntity("c", Vec2.Zero), new CircleEntity("in", "c", Inner) },
            new List<SketchConstraint> { new("o", "coincident", [Sketch.Origin, "c"]) },
            new List<SketchDimension> { new("in.r", "radius", ["in"], "60 mm") }
        );
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

        return Solved(
            new Sketch
            {
                Entities = [.. entities],
                Constraints = [.. ties],
                Dimensions = [.. sizes],
            }
        );
    }

    private static Sketch Solved(Sketch sketch) =>
        SketchSolver.Solve(sketch, Chains.Values(sketch)) is { Solved: true } solved
            ? solved.Sketch
            : throw new InvalidOperationException("the figure does not solve");
}
