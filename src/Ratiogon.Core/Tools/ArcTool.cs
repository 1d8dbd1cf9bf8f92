using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>Arcs by centre, start and end; the way round follows the pointer.</summary>
public sealed class ArcTool : SketchTool
{
    private readonly TypedFields typed = new();
    private Place? centre;
    private Place? from;
    private bool clockwise;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        var place = Snapper.Snap(context.Sketch, input);
        if (input.Kind == InputKind.Cancel)
        {
            var leave = centre is null;
            (centre, from) = (null, null);
            typed.Clear();
            return Prompt(context, input) with { Leave = leave };
        }

        if (input.Kind == InputKind.Typed)
        {
            if (Coordinates(context, input.Text) is { } at)
            {
                return at.Done ? Take(context, input, Snapper.Snap(context.Sketch, input with { At = at.Value, Reach = Tolerances.Length })) : Prompt(context, input) with { Refusal = at.Refusal };
            }

            var refusal = from is null && centre is not null
                ? typed.Take(context, input, Dimension.OfLength)
                : new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", input.Field);
            return Prompt(context, input) with { Refusal = refusal };
        }

        if (input.Kind == InputKind.Click)
        {
            return Take(context, input, place);
        }

        if (from is not null)
        {
            // Small steps of the pointer past the start decide which way the arc goes round.
            var turn = Math.IEEERemainder((input.At - centre!.At).Angle - (from.At - centre.At).Angle, 2 * Math.PI);
            clockwise = Math.Abs(turn) < 0.5 ? turn < 0 : clockwise;
        }

        return Prompt(context, input) with { Snap = place.Mark, Preview = Preview(place), Inferred = place.Words is { } w ? [w] : [] };
    }

    private System.Collections.Immutable.ImmutableArray<PreviewCurve> Preview(Place place)
    {
        if (centre is null)
        {
            return [Point(place.At)];
        }

        if (from is null)
        {
            return [Circle(centre.At, Math.Max(Tolerances.SmallestSize, place.At.DistanceTo(centre.At)))];
        }

        var (a, b) = ((from.At - centre.At).Angle, (place.At - centre.At).Angle);
        var (start, sweep) = clockwise ? (b, a - b) : (a, b - a);
        sweep -= Math.Floor(sweep / (2 * Math.PI)) * 2 * Math.PI;
        return [new PreviewCurve("arc", [centre.At.X, centre.At.Y, from.At.DistanceTo(centre.At), start, sweep])];
    }

    private ToolAnswer Take(ToolContext context, ToolInput input, Place place)
    {
        if (centre is null)
        {
            centre = place;
        }
        else if (place.At.DistanceTo(centre.At) < Tolerances.SmallestSize || (from is not null && place.At.DistanceTo(from.At) < Tolerances.SmallestSize))
        {
            return Prompt(context, input) with { Refusal = new Refusal("tool.no-size", "Centre, start and end of an arc are three different points.") };
        }
        else if (from is null)
        {
            from = typed.Value("radius") is { } r && place.Existing is null ? Snapper.Free(centre.At + ((place.At - centre.At).Unit * r)) : place;
        }
        else
        {
            return Finish(context, input, place);
        }

        return Prompt(context, input) with { Snap = place.Mark };
    }

    private ToolAnswer Finish(ToolContext context, ToolInput input, Place place)
    {
        var radius = from!.At.DistanceTo(centre!.At);
        var end = place.Existing is not null ? place : Snapper.Free(centre.At + ((place.At - centre.At).Unit * radius));
        var draft = new Draft(context.Sketch);
        var (c, a, b) = (draft.PointAt(centre), draft.PointAt(from), draft.PointAt(end));
        var arc = draft.NewId("a");
        draft.Add(clockwise ? new ArcEntity(arc, c, b, a, radius) : new ArcEntity(arc, c, a, b, radius));
        if (typed.Text("radius") is { } text)
        {
            draft.Size("radius", text, arc);
        }

        (centre, from, clockwise) = (null, null, false);
        typed.Clear();
        return Prompt(context, input) with { Command = Edit(context, draft.Edit, "arc") };
    }

    private ToolAnswer Prompt(ToolContext context, ToolInput input) => centre is null
        ? new ToolAnswer { Prompt = "Click the centre of the arc, or type x, y", Fields = TypedFields.Point }
        : from is null ? new ToolAnswer { Prompt = "Click where it begins; the radius may be typed", Fields = [typed.Field("radius", "radius", context.Show(input.At.DistanceTo(centre.At)))] }
        : new ToolAnswer { Prompt = "Click where it ends; move the way it goes round" };
}
