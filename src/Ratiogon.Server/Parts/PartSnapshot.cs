using System.Collections.Immutable;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching.Drawing;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>A parameter with its present value.</summary>
public sealed record ParameterView(string Name, string Value, string Note, string Shown);

/// <summary>A size that is edited in place.</summary>
public sealed record SizeView(string Field, string Formula, string Shown);

/// <summary>A row of the build sheet.</summary>
public sealed record StepView(string Id, int Number, string Kind, string Name, bool Suppressed, string Summary, ImmutableArray<SizeView> Sizes, Step Step, SketchView? Sketch);

/// <summary>The part as a browser shows it. What the model looks like comes over the live link.</summary>
public sealed record PartSnapshot(
    Guid Id, long Revision, string Name, LengthUnit Units, Material Material, DateTimeOffset Changed,
    ImmutableArray<ParameterView> Parameters, ImmutableArray<StepView> Steps, int? StopLine, string? Undo, string? Redo)
{
    public static PartSnapshot Of(StoredPart stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var part = stored.Part;
        var values = part.Values;
        return new PartSnapshot(
            stored.Id, stored.Revision, part.Name, part.Units, part.Material, stored.Changed,
            [.. part.Parameters.Select(p => new ParameterView(p.Name, p.Value, p.Note, values.Of(p.Name) is { Done: true } v ? Shown(v.Value, part) : "?"))],
            [.. part.Steps.Select(s => View(part, values, s))],
            part.StopLine,
            stored.Undo.IsEmpty ? null : stored.Undo.Peek().Words,
            stored.Redo.IsEmpty ? null : stored.Redo.Peek().Words);
    }

    private static StepView View(Part part, ParameterValues values, Step step) => new(
        step.Id, step.Number, step.Kind, step.Name, step.Suppressed, Summary(step),
        [.. step.Sizes.Select(z => new SizeView(z.Field, z.Formula, Formula.Parse(z.Formula).Then(f => f.Evaluate(values.Of)) is { Done: true } v ? Shown(v.Value, part) : "?"))],
        step is SketchStep or ImportStep ? step switch { SketchStep s => s with { Sketch = Core.Sketching.Sketch.Empty }, ImportStep i => i with { Content = "" }, _ => step } : step,
        step is SketchStep sketch ? SketchView.Of(sketch.Sketch, part.Units) : null);

    private static string Summary(Step step) => step switch
    {
        PlaneStep p => $"parallel to {p.From}",
        SketchStep s => $"on {s.On}",
        ExtrudeStep e => $"{(e.Operation == FormOperation.Cut ? "cut" : "join")} {e.Sketch}{(e.Extent == ExtrudeExtent.ThroughAll ? ", through all" : e.Extent == ExtrudeExtent.Symmetric ? ", symmetric" : "")}",
        ReadingStep r => r.Of.IsEmpty ? r.What : $"{r.What} of {string.Join(" and ", r.Of)}",
        ImportStep i => i.File,
        _ => "",
    };

    private static string Shown(Quantity value, Part part) => Core.Quantities.Units.Show(value, part.Units, 4);
}
