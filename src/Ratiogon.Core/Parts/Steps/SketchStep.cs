using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Parts;

/// <summary>A sketch on a plane or a planar face.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="On">A world plane, a plane step or a face.</param>
/// <param name="Sketch">What is drawn.</param>
public sealed record SketchStep(string Id, int Number, string Name, string On, Sketch Sketch) : Step(Id, Number, Name)
{
    public override string Kind => "sketch";

    public override IReadOnlyList<string> References => [On];

    public override IReadOnlyList<StepSize> Sizes =>
        [.. Sketch.Dimensions.Where(d => d.Driving).Select(d => new StepSize(d.Id, d.Value!, DimensionCatalog.Find(d.Kind)!.Of)), .. Sketch.Shapes.SelectMany(CountsOf)];

    public override Step WithSize(string field, string formula) => this with
    {
        Sketch = Sketch with
        {
            Dimensions = [.. Sketch.Dimensions.Select(d => d.Id == field ? d with { Value = formula } : d)],
            Shapes = [.. Sketch.Shapes.Select(s => field == CountField(s) ? s with { Count = formula } : field == RowsField(s) ? s with { Rows = formula } : s)],
        },
    };

    private static string CountField(SketchShape shape) => $"{shape.Id}.count";

    private static string RowsField(SketchShape shape) => $"{shape.Id}.rows";

    private static IEnumerable<StepSize> CountsOf(SketchShape shape)
    {
        if (shape.Count is { } count)
        {
            yield return new StepSize(CountField(shape), count, Quantities.Dimension.None);
        }

        if (shape.Rows is { } rows)
        {
            yield return new StepSize(RowsField(shape), rows, Quantities.Dimension.None);
        }
    }

    public override Refusal? Check() => string.IsNullOrWhiteSpace(On) ? new Refusal("step.reference", "A sketch needs a plane or a planar face to lie on.", "on") : SketchCheck.Check(Sketch);
}
