using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>A parameter with its present value.</summary>
/// <param name="Name">Of the parameter.</param>
/// <param name="Value">Its formula.</param>
/// <param name="Note">What it is for.</param>
/// <param name="Shown">What it is now, with its unit.</param>
/// <param name="Least">The least that it may be, or null.</param>
/// <param name="Most">The most.</param>
/// <param name="Stride">What it goes by.</param>
/// <param name="Group">The heading that it stands under.</param>
/// <param name="Tolerance">How far it may be off, as it was written; or null.</param>
/// <param name="Share">Where it stands in its range, from 0 to 1; null without one, or where its value is a formula of others.</param>
/// <param name="UsedBy">Ids of the steps that use it.</param>
public sealed record ParameterView(
    string Name,
    string Value,
    string Note,
    string Shown,
    string? Least,
    string? Most,
    string? Stride,
    string? Group,
    string? Tolerance,
    double? Share,
    ImmutableArray<string> UsedBy
);

/// <summary>A size that is edited in place.</summary>
/// <param name="Field">By which it is changed.</param>
/// <param name="Formula">As it was written.</param>
/// <param name="Shown">What it is now, with its unit.</param>
/// <param name="Tolerance">How far it may be off, as it was written; or null.</param>
/// <param name="Written">The same as a drawing has it.</param>
public sealed record SizeView(string Field, string Formula, string Shown, string? Tolerance = null, string? Written = null);

/// <summary>A row of the build sheet; its parents are the ids of the steps that it stands on, a form makes or changes bodies.</summary>
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
    SketchView? Sketch,
    bool Form
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
    GeneralTolerance? General,
    ImmutableArray<Variant> Variants,
    string? Variant,
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
            [.. part.Parameters.Select(p => View(part, values, p))],
            [.. part.Steps.Select(s => View(part, values, s))],
            part.General,
            part.Variants,
            part.Variants.FirstOrDefault(v => v.Fits(part))?.Name,
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
            [.. step.Sizes.Select(z => View(part, values, step, z))],
            [.. step.References.Select(World.StepOf).Distinct()],
            step switch
            {
                SketchStep s => s with { Sketch = Core.Sketches.Sketch.Empty },
                ImportStep i => i with { Content = "" },
                MeshStep m => m with { Content = "" },
                UnreadStep u => u with { Content = "" },
                _ => step,
            },
            step is SketchStep sketch ? SketchView.Of(sketch.Sketch, part.Units) : null,
            step is FormStep
        );

    private static ParameterView View(Part part, ParameterValues values, Parameter p)
    {
        var value = values.Of(p.Name);
        var (least, most) = p.Range;
        var own = Formula.Parse(p.Value) is { Done: true } formula && !formula.Value.Names.Any();
        return new ParameterView(
            p.Name,
            p.Value,
            p.Note,
            value.Done ? Shown(value.Value, part) : "?",
            p.Least,
            p.Most,
            p.Stride,
            p.Group,
            part.Tolerances.FirstOrDefault(t => t.Step.Length == 0 && t.Name == p.Name)?.Text,
            own && value.Done && double.IsFinite(most - least) ? Math.Clamp((value.Value.Value - least) / (most - least), 0, 1) : null,
            [.. part.Steps.Where(s => s.NamesUsed().Contains(p.Name)).Select(s => s.Id)]
        );
    }

    private static SizeView View(Part part, ParameterValues values, Step step, StepSize size)
    {
        var value = Formula.Parse(size.Formula).Then(f => f.Evaluate(values.Of));
        var tolerance = part.Tolerances.FirstOrDefault(t => t.Step == step.Id && t.Name == size.Field)?.Text;
        return new SizeView(
            size.Field,
            size.Formula,
            value.Done ? Shown(value.Value, part) : "?",
            tolerance,
            tolerance is not null && value.Then(v => Tolerance.Parse(tolerance, v, part.Units)) is { Done: true, Value: var zone }
                ? Tolerance.Written(tolerance, zone, value.Value.Dimension, part.Units)
                : null
        );
    }

    private static string Shown(Quantity value, Part part) => Core.Quantities.Units.Show(value, part.Units, 4);
}
