using Ratiogon.Core;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Bench;

/// <summary>Sketches to measure on.</summary>
internal static class Chains
{
    /// <summary>Rectangles in a row, sized and hung on the one before by a distance and a height; free as a whole.</summary>
    public static Sketch Rectangles(int count, bool obliqueOnly = false)
    {
        var edit = new SketchEdit();
        for (var i = 0; i < count; i++)
        {
            edit = edit.With(
                ShapeCatalog.RectangleByCorners($"r{i}", new Vec2(30 * i, 5 * (i % 3)), new Vec2((30 * i) + 20, (5 * (i % 3)) + 10))
            );
            edit = edit with { Size = [.. edit.Size, ShapeCatalog.Width($"r{i}", "20 mm"), ShapeCatalog.Height($"r{i}", "10 mm")] };
            if (i > 0)
            {
                edit = edit with { Size = edit.Size.Add(new SketchDimension($"x{i}", "distance", [$"r{i - 1}.p1", $"r{i}.p1"], "32 mm")) };
                edit = obliqueOnly
                    ? edit
                    : edit with
                    {
                        Size = edit.Size.Add(new SketchDimension($"y{i}", "vertical-distance", [$"r{i - 1}.p1", $"r{i}.p1"], "4 mm")),
                    };
            }
        }

        var sketch = new Sketch
        {
            Entities = edit.Add,
            Constraints = edit.Tie,
            Dimensions = edit.Size,
            Shapes = edit.Shapes,
        };
        return SketchSolver.Solve(sketch, Values(sketch)) is { Solved: true } solved
            ? solved.Sketch
            : throw new InvalidOperationException("the chain does not solve");
    }

    public static IReadOnlyDictionary<string, double> Values(Sketch sketch) => SketchValues.Of(sketch, ParameterValues.None).Value;

    public static double Percentile(List<double> times, double share)
    {
        times.Sort();
        return times[Math.Min(times.Count - 1, (int)(share * times.Count))];
    }
}
