using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Fillets and chamfers of corners, one click each; the size stays for the next corner, and further corners become
/// equal to the first.</summary>
public sealed class CornerTool : SketchTool
{
    private readonly TypedFields typed = new();
    private readonly Losses losses = new();
    private bool chamfer;
    private string? first;
    private string? pending;

    private static ImmutableArray<ToolWay> Ways { get; } = [new("fillet", "fillet"), new("chamfer", "chamfer")];

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        if (pending is not null)
        {
            first = context.Sketch.Find(pending) is ArcEntity ? pending : first;
            pending = null;
        }

        first = first is not null && context.Sketch.Find(first) is null ? null : first;
        switch (input.Kind)
        {
            case InputKind.Cancel:
                return Prompt(context) with { Leave = true };
            case InputKind.Way:
                chamfer = input.Text.Length > 0 ? input.Text == "chamfer" : !chamfer;
                first = null;
                return Prompt(context);
            case InputKind.Typed:
                var refusal = typed.Take(context, input, Dimension.OfLength);
                first = null;
                return Prompt(context) with { Refusal = refusal };
        }

        var corner = CornerUnder(context.Sketch, input);
        if (corner is null)
        {
            return Prompt(context) with
            {
                Refusal =
                    input.Kind == InputKind.Click
                        ? new Refusal("corner.nothing-here", "There is no corner here: click a point where two lines or arcs meet.")
                        : null,
            };
        }

        var made = Make(context, corner);
        if (input.Kind is not InputKind.Click)
        {
            return Prompt(context) with
            {
                Hover = corner,
                Preview = made.Done ? Shown(context.Sketch, made.Value) : [],
                Note = made.Done ? losses.Of(context.Sketch, made.Value, context.Values) : null,
            };
        }

        if (!made.Done)
        {
            return Prompt(context) with { Refusal = made.Refusal };
        }

        pending = made.Value.Add.OfType<ArcEntity>().FirstOrDefault()?.Id;
        return Prompt(context) with
        {
            Command = Edit(context, input with { Construction = false }, made.Value, chamfer ? "chamfer" : "fillet"),
        };
    }

    private static ImmutableArray<PreviewCurve> Shown(Sketch sketch, SketchEdit edit)
    {
        var after = sketch with { Entities = sketch.Entities.AddRange(edit.Add) };
        return [.. edit.Add.Where(e => e is not PointEntity).Select(e => PreviewCurves.Of(after, e)).OfType<PreviewCurve>()];
    }

    /// <summary>The corner under the pointer; a little farther away than other picks reach, since it is all that is asked for.</summary>
    private static string? CornerUnder(Sketch sketch, ToolInput input) =>
        sketch
            .Entities.OfType<PointEntity>()
            .Where(p => p.At.DistanceTo(input.At) <= 1.5 * input.Reach)
            .OrderBy(p => p.At.DistanceTo(input.At))
            .FirstOrDefault(p => Corners.At(sketch, p.Id).Done)
            ?.Id;

    private double SizeOf(ToolContext context) => typed.Value("size") ?? (context.Part.Units == LengthUnit.Inch ? 25.4 / 8 : 3);

    private Outcome<SketchEdit> Make(ToolContext context, string corner)
    {
        var size = SizeOf(context);
        var text = typed.Text("size") ?? context.Show(size);
        return chamfer
            ? Corners.Chamfer(context.Sketch, corner, size, typed.Value("other") ?? size, text, typed.Text("other"))
            : Corners.Fillet(context.Sketch, corner, size, text, first);
    }

    private ToolAnswer Prompt(ToolContext context) =>
        new()
        {
            Prompt =
                chamfer ? "Click a corner to chamfer; the sizes may be typed"
                : first is null ? "Click a corner to round; the radius may be typed"
                : $"Click another corner to round equal to {first}, or type another radius",
            Fields = chamfer
                ? [typed.Field("size", "size", context.Show(SizeOf(context))), typed.Field("other", "other side", "")]
                : [typed.Field("size", "radius", context.Show(SizeOf(context)))],
            Ways = Ways,
            Way = chamfer ? "chamfer" : "fillet",
        };
}
