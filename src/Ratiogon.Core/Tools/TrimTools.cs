using System.Collections.Immutable;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>A tool that changes the curve under the pointer with one click, and shows before what it would do.</summary>
public abstract class CurveTool : SketchTool
{
    private readonly Losses losses = new();

    private protected abstract string What { get; }

    private protected abstract string Prompt { get; }

    /// <summary>Ways in which it can be done; none where there is but one.</summary>
    private protected virtual ImmutableArray<ToolWay> Ways => [];

    /// <summary>The way taken up.</summary>
    private protected string Way { get; private set; } = "";

    private protected abstract ImmutableArray<PreviewCurve> Preview(Sketch sketch, string curve, Vec2 at);

    private protected abstract Outcome<SketchEdit> Make(Sketch sketch, string curve, Vec2 at);

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        var curve = Snapper.CurveUnder(context.Sketch, input.At, input.Reach);
        if (input.Kind == InputKind.Way && Ways.Length > 0)
        {
            Way = Ways.Any(w => w.Name == input.Text)
                ? input.Text
                : Ways[(Ways.ToList().FindIndex(w => w.Name == Way) + 1) % Ways.Length].Name;
        }

        Way = Way.Length == 0 && Ways.Length > 0 ? Ways[0].Name : Way;
        var answer = new ToolAnswer
        {
            Prompt = Prompt,
            Hover = curve ?? "",
            Ways = Ways,
            Way = Way,
        };
        switch (input.Kind)
        {
            case InputKind.Cancel:
                return answer with { Leave = true };
            case InputKind.Click when curve is null || Sketch.IsBuiltIn(curve):
                return answer with { Refusal = new Refusal("tool.nothing-here", "There is no drawn curve here.") };
            case InputKind.Click:
                var made = Make(context.Sketch, curve, input.At);
                return made.Done
                    ? answer with
                    {
                        Command = Edit(context, input with { Construction = false }, made.Value, $"{What} {curve}"),
                        Hover = "",
                    }
                    : answer with
                    {
                        Refusal = made.Refusal,
                    };
            default:
                return curve is null || Sketch.IsBuiltIn(curve)
                    ? answer with
                    {
                        Hover = "",
                    }
                    : answer with
                    {
                        Hover = "",
                        Preview = Preview(context.Sketch, curve, input.At),
                        Note = Make(context.Sketch, curve, input.At) is { Done: true } would
                            ? losses.Of(context.Sketch, would.Value, context.Values)
                            : null,
                    };
        }
    }
}

/// <summary>Takes the stretch under the pointer, up to the nearest crossings.</summary>
public sealed class TrimTool : CurveTool
{
    private const string Keep = "keep";

    private protected override string What => "trim";

    private protected override string Prompt =>
        Way == Keep
            ? "Click the stretch that is to go; the whole curve stays as construction, with every rule about it"
            : "Click the stretch that is to go; it goes up to the nearest crossings";

    private protected override ImmutableArray<ToolWay> Ways { get; } = [new("away", "take away"), new(Keep, "keep as construction")];

    private protected override ImmutableArray<PreviewCurve> Preview(Sketch sketch, string curve, Vec2 at) =>
        Trimming.Stretch(sketch, curve, at) is var (drawn, from, to) ? [PreviewCurves.Of(drawn, from, to) with { Role = "gone" }] : [];

    private protected override Outcome<SketchEdit> Make(Sketch sketch, string curve, Vec2 at) =>
        Way == Keep ? Trimming.TrimKeeping(sketch, curve, at) : Trimming.Trim(sketch, curve, at);
}

/// <summary>Leads the nearer end of a curve on to the next curve.</summary>
public sealed class ExtendTool : CurveTool
{
    private protected override string What => "extend";

    private protected override string Prompt => "Click near the end that is to reach the next curve";

    private protected override ImmutableArray<PreviewCurve> Preview(Sketch sketch, string curve, Vec2 at)
    {
        if (Trimming.Ahead(sketch, curve, at) is not var (from, to, _, start))
        {
            return [];
        }

        return sketch.Find(curve) is ArcEntity arc
            ? [start ? Arc(sketch.At(arc.Centre), to, from) : Arc(sketch.At(arc.Centre), from, to)]
            : [Line(from, to)];
    }

    private protected override Outcome<SketchEdit> Make(Sketch sketch, string curve, Vec2 at) => Trimming.Extend(sketch, curve, at);
}

/// <summary>Cuts a curve in two.</summary>
public sealed class SplitTool : CurveTool
{
    private protected override string What => "split";

    private protected override string Prompt => "Click where the curve is to be cut in two";

    private protected override ImmutableArray<PreviewCurve> Preview(Sketch sketch, string curve, Vec2 at) =>
        SketchCurve.Of(sketch, sketch.Find(curve)!) is { } drawn ? [Point(drawn.At(drawn.Nearest(at)))] : [];

    private protected override Outcome<SketchEdit> Make(Sketch sketch, string curve, Vec2 at) => Trimming.Split(sketch, curve, at);
}
