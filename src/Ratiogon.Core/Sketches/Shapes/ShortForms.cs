using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>Spells out the shapes that a file holds in short form: entities, constraints, dimensions, and the sizes
/// that place them from the origin.</summary>
public static class ShortForms
{
    public static Outcome<Sketch> Expand(Sketch sketch, ParameterValues parameters)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var (done, edit) = (new List<SketchShape>(), new SketchEdit());
        foreach (var shape in sketch.Shapes)
        {
            if (Ids.Check(shape.Id) is { } badId)
            {
                return badId;
            }

            var spelled = shape switch
            {
                { Kind: "rectangle", Width: { } w, Height: { } h } when (shape.Centre ?? shape.Corner) is not null => Rectangle(
                    shape,
                    w,
                    h,
                    parameters
                ),
                { Kind: "circle", Diameter: { } d, Centre: { } at } => Circle(shape.Id, d, at, parameters),
                { Width: null, Height: null, Diameter: null, Centre: null, Corner: null } when ShapeCatalog.All.Contains(shape.Kind) =>
                    new SketchEdit { Shapes = [shape] },
                _ => new Refusal(
                    "shape.incomplete",
                    $"Shape '{shape.Id}' is not one of: rectangle with centre or corner, width and height; circle with centre and "
                        + "diameter.",
                    shape.Id
                ),
            };
            if (!spelled.Done)
            {
                return spelled.Refusal!.At(shape.Id);
            }

            edit = edit.With(spelled.Value);
            done.AddRange(spelled.Value.Shapes);
        }

        return sketch with
        {
            Entities = sketch.Entities.AddRange(edit.Add),
            Constraints = sketch.Constraints.AddRange(edit.Tie),
            Dimensions = sketch.Dimensions.AddRange(edit.Size),
            Shapes = [.. done],
        };
    }

    private static Outcome<SketchEdit> Rectangle(SketchShape shape, string width, string height, ParameterValues parameters) =>
        Size(width, parameters)
            .Then(w =>
                Size(height, parameters)
                    .Map(h =>
                    {
                        var edit = shape.Centre is { } centre
                            ? ShapeCatalog
                                .RectangleByCentre(shape.Id, centre, centre + (new Vec2(w, h) / 2))
                                .With(ShapeCatalog.Placed(shape.Id, $"{shape.Id}.centre", centre))
                            : ShapeCatalog
                                .RectangleByCorners(shape.Id, shape.Corner!.Value, shape.Corner.Value + new Vec2(w, h))
                                .With(ShapeCatalog.Placed(shape.Id, $"{shape.Id}.p1", shape.Corner.Value));
                        return edit with
                        {
                            Size = edit.Size.AddRange(ShapeCatalog.Width(shape.Id, width), ShapeCatalog.Height(shape.Id, height)),
                        };
                    })
            );

    private static Outcome<SketchEdit> Circle(string id, string diameter, Vec2 centre, ParameterValues parameters) =>
        Size(diameter, parameters)
            .Map(d =>
                new SketchEdit
                {
                    Add = [new PointEntity($"{id}.centre", centre), new CircleEntity($"{id}.rim", $"{id}.centre", d / 2)],
                    Size = [new SketchDimension($"{id}.diameter", "diameter", [$"{id}.rim"], diameter)],
                    Shapes = [new SketchShape(id, "circle")],
                }.With(ShapeCatalog.Placed(id, $"{id}.centre", centre))
            );

    private static Outcome<double> Size(string formula, ParameterValues parameters) =>
        Formula
            .Parse(formula)
            .Then(f => f.Evaluate(parameters.Of))
            .Then<double>(q =>
                q.Dimension != Dimension.OfLength ? new Refusal("formula.kind", $"A length is needed; '{formula}' is {q.Dimension.Words}.")
                : q.Value >= Tolerances.SmallestSize && q.Value <= Tolerances.LargestSize ? q.Value
                : new Refusal(
                    "size.out-of-range",
                    $"'{formula}' is {q.Value:g4} mm; a size lies between {Tolerances.SmallestSize} and {Tolerances.LargestSize:0} mm."
                )
            );
}
