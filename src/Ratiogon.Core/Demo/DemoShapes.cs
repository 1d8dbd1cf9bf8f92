using System.Collections.Immutable;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Demo;

/// <summary>Shapes that several demo parts draw.</summary>
internal static class DemoShapes
{
    /// <summary>A circle tied to a place; sized by its diameter where one is given.</summary>
    public static SketchEdit Round(string id, Vec2 at, double radius, string? diameter = null)
    {
        var edit = new SketchEdit
        {
            Add = [new PointEntity($"{id}.centre", at), new CircleEntity($"{id}.rim", $"{id}.centre", radius)],
            Shapes = ImmutableArray.Create(new SketchShape(id, "circle")),
        }.With(ShapeCatalog.Placed(id, $"{id}.centre", at));
        return diameter is null
            ? edit
            : edit with
            {
                Size = edit.Size.Add(new SketchDimension($"{id}.d", "diameter", [$"{id}.rim"], diameter)),
            };
    }
}
