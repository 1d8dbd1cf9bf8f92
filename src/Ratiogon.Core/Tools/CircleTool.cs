using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>Circles by centre and a point of the rim, or a typed diameter.</summary>
public sealed class CircleTool : SketchTool
{
    private readonly TypedFields typed = new();
    private Place? centre;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var place = Snapper.Snap(context.Sketch, input);
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = centre is null;
                centre = null;
                typed.Clear();
                return Prompt(context, input) with { Leave = leave };
            case InputKind.Typed when centre is null:
                if (Coordinates(context, input.Text) is not { } at)
                {
                    return Prompt(context, input) with { Refusal = new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", "point") };
                }

                centre = at.Done ? Snapper.Snap(context.Sketch, input with { At = at.Value, Reach = Tolerances.Length }) : null;
                return Prompt(context, input) with { Refusal = at.Refusal };
            case InputKind.Typed:
                var refusal = typed.Take(context, input, Dimension.OfLength);
                return Prompt(context, input) with { Refusal = refusal, Preview = [Circle(centre.At, RadiusAt(input))] };
            case InputKind.Click when centre is null:
                centre = place;
                return Prompt(context, input) with { Snap = place.Mark };
            case InputKind.Click or InputKind.Accept when centre is not null:
                return Finish(context, input, place);
            default:
                return Prompt(context, input) with
                {
                    Snap = place.Mark,
                    Preview = centre is null ? [Point(place.At)] : [Circle(centre.At, RadiusAt(input))],
                    Inferred = place.Words is { } w && centre is null ? [w] : [],
                };
        }
    }

    private double RadiusAt(ToolInput input) => typed.Value("diameter") / 2 ?? Math.Max(Tolerances.SmallestSize, input.At.DistanceTo(centre!.At));

    private ToolAnswer Finish(ToolContext context, ToolInput input, Place rim)
    {
        var radius = typed.Value("diameter") / 2 ?? rim.At.DistanceTo(centre!.At);
        if (radius < Tolerances.SmallestSize)
        {
            return Prompt(context, input) with { Refusal = new Refusal("tool.no-size", "A circle needs a size: click away from its centre or type the diameter.") };
        }

        var draft = new Draft(context.Sketch);
        var middle = draft.PointAt(centre!);
        var circle = draft.NewId("c");
        draft.Add(new CircleEntity(circle, middle, radius));
        if (typed.Text("diameter") is { } diameter)
        {
            draft.Size("diameter", diameter, circle);
        }
        else if (rim.Existing is not null && rim.Existing != middle)
        {
            draft.Infer("on-curve", rim.Existing, circle);
        }

        typed.Clear();
        centre = null;
        return Prompt(context, input) with { Command = Edit(context, draft.Edit, "circle") };
    }

    private ToolAnswer Prompt(ToolContext context, ToolInput input) => centre is null
        ? new ToolAnswer { Prompt = "Click the centre of the circle, or type x, y", Fields = TypedFields.Point }
        : new ToolAnswer { Prompt = "Click a point of its rim, or type the diameter", Fields = [typed.Field("diameter", "diameter", context.Show(2 * RadiusAt(input)))] };
}
