using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tests.Solving;

/// <summary>Short ways to write sketches in tests.</summary>
internal static class Sketches
{
    public static SketchEntity P(string id, double x, double y) => new PointEntity(id, new Vec2(x, y));

    public static SketchEntity L(string id, string from, string to) => new LineEntity(id, from, to);

    public static SketchConstraint K(string id, string kind, params string[] of) => new(id, kind, [.. of]);

    public static SketchDimension D(string id, string kind, string? value, params string[] of) => new(id, kind, [.. of], value);

    public static Sketch Of(
        IEnumerable<SketchEntity> entities,
        IEnumerable<SketchConstraint>? ties = null,
        IEnumerable<SketchDimension>? sizes = null
    )
    {
        var sketch = new Sketch
        {
            Entities = [.. entities],
            Constraints = [.. ties ?? []],
            Dimensions = [.. sizes ?? []],
        };
        SketchCheck.Check(sketch).ShouldBeNull();
        return sketch;
    }

    public static IReadOnlyDictionary<string, double> Values(Sketch sketch) => SketchValues.Of(sketch, ParameterValues.None).Value;

    public static SolveReport Solve(Sketch sketch) => SketchSolver.Solve(sketch, Values(sketch));

    public static Sketch Solved(Sketch sketch)
    {
        var report = Solve(sketch);
        report.Message.ShouldBe("solved");
        return report.Sketch;
    }

    public static Outcome<Sketch> Edit(Sketch sketch, SketchEdit edit) => SketchEditor.Apply(sketch, edit, ParameterValues.None);

    /// <summary>The sketch after an edit that must be taken and must leave no rule that follows from others.</summary>
    public static Sketch Applied(Sketch sketch, SketchEdit edit)
    {
        var after = Edit(sketch, edit);
        after.Refusal?.Message.ShouldBeNull();
        Diagnosis.AllRedundant(after.Value).ShouldBeEmpty();
        return after.Value;
    }

    /// <summary>A triangle of three free points.</summary>
    public static Sketch Triangle(params SketchDimension[] sizes) =>
        Of([P("a", 0, 0), P("b", 10, 1), P("c", 3, 8), L("ab", "a", "b"), L("bc", "b", "c"), L("ca", "c", "a")], [], sizes);

    /// <summary>Rectangles in a row, each hung on the one before by distances between corners.</summary>
    public static Sketch Chain(int count, bool placed)
    {
        var edit = new SketchEdit();
        for (var i = 0; i < count; i++)
        {
            edit = edit.With(
                ShapeCatalog.RectangleByCorners($"r{i}", new Vec2(30 * i, 5 * (i % 3)), new Vec2((30 * i) + 18, (5 * (i % 3)) + 12))
            );
            edit = edit with
            {
                Size =
                [
                    .. edit.Size,
                    ShapeCatalog.Width($"r{i}", "20 mm"),
                    ShapeCatalog.Height($"r{i}", "10 mm"),
                    .. i > 0
                        ? new[]
                        {
                            D($"x{i}", "distance", "32 mm", $"r{i - 1}.p1", $"r{i}.p1"),
                            D($"y{i}", "vertical-distance", "4 mm", $"r{i - 1}.p1", $"r{i}.p1"),
                        }
                        : [],
                ],
            };
        }

        if (placed)
        {
            edit = edit with { Tie = edit.Tie.Add(K("place", "coincident", "origin", "r0.p1")) };
        }

        return new Sketch
        {
            Entities = edit.Add,
            Constraints = edit.Tie,
            Dimensions = edit.Size,
            Shapes = edit.Shapes,
        };
    }

    public static ImmutableArray<string> Ids(params string[] ids) => [.. ids];
}
