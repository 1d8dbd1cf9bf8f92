using System.Collections.Immutable;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>A parameter with its present value.</summary>
public sealed record ParameterView(string Name, string Value, string Note, string Shown);

/// <summary>A size that is edited in place.</summary>
public sealed record SizeView(string Field, string Formula, string Shown);

/// <summary>A row of the build sheet; its parents are the ids of the steps that it stands on.</summary>
public sealed record StepView(
    string Id,
    int Number,
    string Kind,
    string Name,
    bool Suppressed,
    bool? Hidden,
    string? Group,
    string Summary,
    ImmutableArray<SizeView> Sizes,
    ImmutableArray<string> Parents,
    Step Step,
    SketchView? Sketch
);

/// <summary>The part as a browser shows it. What the model looks like comes over the live link.</summary>
public sealed record PartSnapshot(
    Guid Id,
    long Revision,
    string Name,
    LengthUnit Units,
    Material Material,
    ImmutableArray<Material> Materials,
    DateTimeOffset Changed,
    ImmutableArray<ParameterView> Parameters,
    ImmutableArray<StepView> Steps,
    int? StopLine,
    string? Undo,
    string? Redo,
    string? Said = null
)
{
    /// <param name="stored">As kept.</param>
    /// <param name="present">As it stands with what its sketches copy from the model; null for as kept.</param>
    public static PartSnapshot Of(StoredPart stored, Part? present = null)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var part = present ?? stored.Part;
        var values = part.Values;
        return new PartSnapshot(
            stored.Id,
            stored.Revision,
            part.Name,
            part.Units,
            part.Material,
            part.Materials,
            stored.Changed,
            [
                .. part.Parameters.Select(p => new ParameterView(
                    p.Name,
                    p.Value,
                    p.Note,
                    values.Of(p.Name) is { Done: true } v ? Shown(v.Value, part) : "?"
                )),
            ],
            [.. part.Steps.Select(s => View(part, values, s))],
            part.StopLine,
            stored.Undo.IsEmpty ? null : stored.Undo.Peek().Words,
            stored.Redo.IsEmpty ? null : stored.Redo.Peek().Words
        );
    }

    private static StepView View(Part part, ParameterValues values, Step step) =>
        new(
            step.Id,
            step.Number,
            step.Kind,
            step.Name,
            step.Suppressed,
            step.Hidden,
            step.Group,
            StepSummary.Of(step, r => r),
            [
                .. step.Sizes.Select(z => new SizeView(
                    z.Field,
                    z.Formula,
                    Formula.Parse(z.Formula).Then(f => f.Evaluate(values.Of)) is { Done: true } v ? Shown(v.Value, part) : "?"
                )),
            ],
            [.. step.References.Select(World.StepOf).Distinct()],
            step switch
            {
                SketchStep s => s with { Sketch = Core.Sketches.Sketch.Empty },
                ImportStep i => i with { Content = "" },
                MeshStep m => m with { Content = "" },
                UnreadStep u => u with { Content = "" },
                _ => step,
            },
            step is SketchStep sketch ? SketchView.Of(sketch.Sketch, part.Units) : null
        );

    private static string Shown(Quantity value, Part part) => Core.Quantities.Units.Show(value, part.Units, 4);
}
