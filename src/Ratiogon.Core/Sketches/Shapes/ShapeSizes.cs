namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>The sizes that a shop would give a shape, without values.</summary>
internal static class ShapeSizes
{
    public static IReadOnlyList<SketchDimension> Of(SketchShape shape) =>
        shape.Kind switch
        {
            "rectangle" => [ShapeCatalog.Width(shape.Id, ""), ShapeCatalog.Height(shape.Id, "")],
            "rounded-rectangle" =>
            [
                Rectangles.RoundedWidth(shape.Id, ""),
                Rectangles.RoundedHeight(shape.Id, ""),
                Rectangles.CornerRadius(shape.Id, ""),
            ],
            "slot" => [Slots.Centres(shape.Id, ""), Slots.Width(shape.Id, "")],
            "arc-slot" => [Slots.Radius(shape.Id, ""), Slots.Sweep(shape.Id, ""), Slots.ArcWidth(shape.Id, "")],
            "polygon" => [Polygons.Across(shape.Id, "")],
            _ => [],
        };
}
