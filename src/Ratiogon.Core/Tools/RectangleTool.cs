using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>Rectangles by two corners or from the centre; width and height may be typed.</summary>
public sealed class RectangleTool(bool fromCentre) : SketchTool
{
    private readonly TypedFields typed = new();
    private Place? first;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var place = Snapper.Snap(context.Sketch, input);
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = first is null;
                first = null;
                typed.Clear();
                return Prompt(context, input) with { Leave = leave };
            case InputKind.Typed when Coordinates(context, input.Text) is { } at:
                if (!at.Done)
                {
                    return Prompt(context, input) with { Refusal = at.Refusal };
                }

                var typedPlace = Snapper.Snap(context.Sketch, input with { At = at.Value, Reach = Tolerances.Length });
                return first is null ? Begin(context, input, typedPlace) : Finish(context, input, typedPlace);
            case InputKind.Typed when first is null:
                return Prompt(context, input) with { Refusal = new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", "point") };
            case InputKind.Typed:
                var refusal = typed.Take(context, input, Dimension.OfLength);
                return Prompt(context, input) with { Refusal = refusal, Preview = Preview(Corner(input.At)) };
            case InputKind.Click when first is null:
                return Begin(context, input, place);
            case InputKind.Click or InputKind.Accept when first is not null:
                return Finish(context, input, place);
            default:
                return Prompt(context, input) with
                {
                    Snap = place.Mark,
                    Preview = first is null ? [Point(place.At)] : Preview(Corner(place.At)),
                    Inferred = place.Words is { } w ? [w] : [],
                };
        }
    }

    private ToolAnswer Begin(ToolContext context, ToolInput input, Place place)
    {
        first = place;
        return Prompt(context, input) with { Snap = place.Mark };
    }

    /// <summary>The far corner: where the pointer is, or as far as was typed on the pointer's side.</summary>
    private Vec2 Corner(Vec2 at)
    {
        var d = at - first!.At;
        var share = fromCentre ? 0.5 : 1;
        double Side(double along, double? size) => size is { } s ? (along < 0 ? -s : s) * share : along;
        return first.At + new Vec2(Side(d.X, typed.Value("width")), Side(d.Y, typed.Value("height")));
    }

    private System.Collections.Immutable.ImmutableArray<PreviewCurve> Preview(Vec2 corner)
    {
        var a = fromCentre ? (first!.At * 2) - corner : first!.At;
        var (b, d) = (new Vec2(corner.X, a.Y), new Vec2(a.X, corner.Y));
        return [Line(a, b), Line(b, corner), Line(corner, d), Line(d, a)];
    }

    private ToolAnswer Finish(ToolContext context, ToolInput input, Place place)
    {
        var corner = Corner(place.At);
        var d = corner - first!.At;
        if (Math.Abs(d.X) < Tolerances.SmallestSize || Math.Abs(d.Y) < Tolerances.SmallestSize)
        {
            return Prompt(context, input) with { Refusal = new Refusal("tool.no-size", "A rectangle needs a width and a height: click away from where it began, or type them.") };
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("r");
        var edit = fromCentre ? ShapeCatalog.RectangleByCentre(id, first.At, corner) : ShapeCatalog.RectangleByCorners(id, first.At, corner);
        draft.Attach(fromCentre ? $"{id}.centre" : CornerId(id, first.At, corner), first);
        if (!fromCentre && !typed.Any)
        {
            draft.Attach(CornerId(id, corner, first.At), place);
        }

        edit = edit.With(draft.Edit);
        edit = typed.Text("width") is { } w ? edit with { Size = edit.Size.Add(ShapeCatalog.Width(id, w)) } : edit;
        edit = typed.Text("height") is { } h ? edit with { Size = edit.Size.Add(ShapeCatalog.Height(id, h)) } : edit;
        typed.Clear();
        first = null;
        return Prompt(context, input) with { Command = Edit(context, edit, "rectangle") };
    }

    private static string CornerId(string id, Vec2 corner, Vec2 opposite) => (corner.X < opposite.X, corner.Y < opposite.Y) switch
    {
        (true, true) => $"{id}.p1",
        (false, true) => $"{id}.p2",
        (false, false) => $"{id}.p3",
        _ => $"{id}.p4",
    };

    private ToolAnswer Prompt(ToolContext context, ToolInput input)
    {
        if (first is null)
        {
            return new ToolAnswer { Prompt = fromCentre ? "Click the centre of the rectangle, or type x, y" : "Click a corner of the rectangle, or type x, y", Fields = TypedFields.Point };
        }

        var d = (Corner(input.At) - first.At) * (fromCentre ? 2 : 1);
        return new ToolAnswer
        {
            Prompt = "Click the far corner, or type width and height",
            Fields = [typed.Field("width", "width", context.Show(Math.Abs(d.X))), typed.Field("height", "height", context.Show(Math.Abs(d.Y)))],
        };
    }
}
