using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Tools;

/// <summary>Lines from point to point, chained until Escape; length and angle may be typed.</summary>
public sealed class LineTool : SketchTool
{
    private readonly TypedFields typed = new();
    private Place? start;
    private Place? pending;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        // The end of the last line becomes a point of the sketch once that line is there.
        if (pending is not null && Snapper.Under(context.Sketch, pending.At, Tolerances.SmallestSize) is { } made && context.Sketch.Find(made) is PointEntity)
        {
            start = pending with { Existing = made };
        }

        pending = null;
        if (input.Kind == InputKind.Cancel)
        {
            var leave = start is null;
            start = null;
            typed.Clear();
            return Prompt(context, input) with { Leave = leave };
        }

        if (input.Kind == InputKind.Typed)
        {
            return Typed(context, input);
        }

        if (start is null)
        {
            var first = Snapper.Snap(context.Sketch, input);
            if (input.Kind == InputKind.Click)
            {
                start = first;
            }

            return Prompt(context, input) with { Snap = first.Mark, Inferred = first.Words is { } w ? [w] : [], Preview = [Point(first.At)] };
        }

        var end = End(context, input, out var direction);
        if (input.Kind is InputKind.Click or InputKind.Accept)
        {
            return Finish(context, input, end, direction);
        }

        return Prompt(context, input) with
        {
            Preview = [Line(start.At, end.At)],
            Snap = end.Mark,
            Inferred = [.. new[] { end.Words, direction }.OfType<string>()],
        };
    }

    private ToolAnswer Typed(ToolContext context, ToolInput input)
    {
        if (Coordinates(context, input.Text) is { } coordinates)
        {
            if (!coordinates.Done)
            {
                return Prompt(context, input) with { Refusal = coordinates.Refusal };
            }

            var place = Snapper.Snap(context.Sketch, input with { At = coordinates.Value, Reach = Tolerances.Length });
            if (start is null)
            {
                start = place;
                return Prompt(context, input);
            }

            return Finish(context, input, place, null);
        }

        if (start is null)
        {
            return Prompt(context, input) with { Refusal = new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", "point") };
        }

        var refusal = typed.Take(context, input, input.Field == "angle" ? Dimension.OfAngle : Dimension.OfLength);
        var end = End(context, input, out _);
        return Prompt(context, input) with { Refusal = refusal, Preview = [Line(start.At, end.At)] };
    }

    /// <summary>Where the line would end: snapped, levelled, or as typed.</summary>
    private Place End(ToolContext context, ToolInput input, out string? direction)
    {
        direction = null;
        var place = Snapper.Snap(context.Sketch, input);
        var (length, angle) = (typed.Value("length"), typed.Value("angle"));
        var toPointer = input.At - start!.At;
        if (length is null && angle is null && (place.Existing is not null || input.Suppress))
        {
            return place;
        }

        if (angle is null && !input.Suppress && toPointer.Length > input.Reach)
        {
            // Nearly level or upright lines are taken to be meant so.
            if (Math.Abs(toPointer.Y) <= Math.Min(input.Reach, 0.12 * toPointer.Length))
            {
                (direction, angle) = ("horizontal", toPointer.X > 0 ? 0 : Math.PI);
            }
            else if (Math.Abs(toPointer.X) <= Math.Min(input.Reach, 0.12 * toPointer.Length))
            {
                (direction, angle) = ("vertical", toPointer.Y > 0 ? Math.PI / 2 : -Math.PI / 2);
            }
        }

        if (length is null && angle is null)
        {
            return place;
        }

        var heading = angle ?? toPointer.Angle;
        var at = start.At + Vec2.Polar(heading, length ?? Math.Max(0, toPointer.Dot(Vec2.Polar(heading))));
        return Snapper.Free(at) with { Mark = new SnapMark(direction is "horizontal" ? "level" : direction is "vertical" ? "upright" : "free", at, "") };
    }

    private ToolAnswer Finish(ToolContext context, ToolInput input, Place end, string? direction)
    {
        if (end.At.DistanceTo(start!.At) < Tolerances.SmallestSize || (end.Existing is not null && end.Existing == start.Existing))
        {
            return Prompt(context, input) with { Refusal = new Refusal("tool.no-length", "A line needs two different points.") };
        }

        var draft = new Draft(context.Sketch);
        var (from, to) = (draft.PointAt(start), draft.PointAt(end));
        var line = draft.NewId("l");
        draft.Add(new LineEntity(line, from, to));
        var closes = end.Existing is not null;
        if (direction is not null)
        {
            draft.Infer(direction, line);
        }

        if (typed.Text("length") is { } length)
        {
            draft.Size("distance", length, line);
        }

        if (typed.Text("angle") is { } angle && typed.Value("angle") is { } radians)
        {
            Turned(draft, line, angle, radians);
        }

        typed.Clear();
        (start, pending) = closes ? (null, null) : (end, end);
        return Prompt(context, input) with { Command = Edit(context, draft.Edit, "line") };
    }

    private static void Turned(Draft draft, string line, string text, double radians)
    {
        var turned = Math.IEEERemainder(radians, 2 * Math.PI);
        if (Math.Abs(Math.Sin(turned)) < Tolerances.Angle)
        {
            draft.Tie("horizontal", line);
        }
        else if (Math.Abs(Math.Cos(turned)) < Tolerances.Angle)
        {
            draft.Tie("vertical", line);
        }
        else
        {
            draft.Size("angle", turned == radians && turned > 0 ? text : $"{Math.Abs(turned) * 180 / Math.PI:0.######} deg", Sketch.XAxis, line);
        }
    }

    private ToolAnswer Prompt(ToolContext context, ToolInput input)
    {
        if (start is null)
        {
            return new ToolAnswer { Prompt = "Click where the line begins, or type x, y", Fields = TypedFields.Point };
        }

        var d = input.At - start.At;
        return new ToolAnswer
        {
            Prompt = "Click where it ends, or type length and angle; Escape ends the chain",
            Fields = [typed.Field("length", "length", context.Show(d.Length)), typed.Field("angle", "angle", $"{d.Angle * 180 / Math.PI:0.#} deg")],
        };
    }
}
