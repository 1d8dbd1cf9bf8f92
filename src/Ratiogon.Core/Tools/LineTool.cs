using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Lines from point to point, chained until Escape; length and angle may be typed, and how far a line reaches past
/// either place. A tangent arc out of the last line or arc is another way of the same chain.</summary>
public sealed class LineTool : SketchTool
{
    private readonly TypedFields typed = new();
    private Place? start;
    private Place? pending;
    private bool arc;

    /// <summary>The fields that settle where the line ends, as a place does.</summary>
    private static readonly (string Name, string Label)[] Settling =
    [
        ("length", "length"),
        ("angle", "angle"),
        ("radius", "radius"),
        ("sweep", "sweep"),
    ];

    private static ImmutableArray<ToolWay> Ways { get; } = [new("line", "line"), new("arc", "tangent arc")];

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);

        // The end of the last line becomes a point of the sketch once that line is there.
        if (
            pending is not null
            && Snapper.Under(context.Sketch, pending.At, Tolerances.SmallestSize) is { } made
            && context.Sketch.Find(made) is PointEntity
        )
        {
            start = pending with { Existing = made };
        }

        pending = null;
        start = start?.In(context.Sketch);
        if (arc && !(start?.Existing is { } from && ArcTool.Leaving(context.Sketch, from) is not null))
        {
            // What it left from was taken away meanwhile: what was typed for the arc has no place any more.
            arc = false;
            typed.Clear();
        }

        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = start is null;
                (start, arc) = (null, false);
                typed.Clear();
                return Prompt(context, input) with { Leave = leave };
            case InputKind.Way:
                return Switch(context, input);
            case InputKind.Typed:
                return Typed(context, input);
        }

        if (start is null)
        {
            var first = Snapper.Snap(context.Sketch, input);
            if (input.Kind == InputKind.Click)
            {
                start = first;
            }

            return Prompt(context, input) with
            {
                Snap = first.Mark,
                Inferred = [.. first.Words],
                Preview = [Point(first.At)],
            };
        }

        var end = End(context, input, out var direction);
        if (input.Kind is InputKind.Click or InputKind.Accept)
        {
            return Finish(context, input, end, direction);
        }

        return Prompt(context, input) with
        {
            Preview = Preview(context, end),
            Snap = end.Mark,
            Inferred = [.. end.Words, .. new[] { direction }.OfType<string>()],
        };
    }

    private ToolAnswer Switch(ToolContext context, ToolInput input)
    {
        var wanted = input.Text == "arc" || (input.Text != "line" && !arc);
        if (wanted && (start?.Existing is null || ArcTool.Leaving(context.Sketch, start.Existing) is null))
        {
            return Prompt(context, input) with
            {
                Refusal = new Refusal(
                    "tool.no-tangent",
                    "A tangent arc goes on from the end of a line or arc: draw one, or begin at the end of one."
                ),
            };
        }

        arc = wanted;
        typed.Clear();
        return Prompt(context, input);
    }

    private ImmutableArray<PreviewCurve> Preview(ToolContext context, Place end)
    {
        if (!arc)
        {
            var (a, b) = Lengthened(end.At);
            return [Line(a, b)];
        }

        var made = TangentArc(context, end);
        return made.Done ? Drawn(context.Sketch, made.Value) : [Line(start!.At, end.At) with { Role = "guide" }];
    }

    private (Vec2 A, Vec2 B) Lengthened(Vec2 end)
    {
        var u = (end - start!.At).Unit;
        return (start.At - (u * (typed.Value("before") ?? 0)), end + (u * (typed.Value("beyond") ?? 0)));
    }

    private ToolAnswer Typed(ToolContext context, ToolInput input)
    {
        if (Coordinates(context, input.Text) is { } coordinates)
        {
            if (!coordinates.Done)
            {
                return Prompt(context, input) with { Refusal = coordinates.Refusal };
            }

            if (start is not null && typed.Twice(Settling, input.Field) is { } twice)
            {
                return Prompt(context, input) with { Refusal = twice };
            }

            var place = Snapper.Typed(context.Sketch, coordinates.Value);
            if (start is null)
            {
                start = place;
                return Prompt(context, input);
            }

            return Finish(context, input, place, null);
        }

        if (start is null)
        {
            return Prompt(context, input) with
            {
                Refusal = new Refusal("tool.coordinates", "Type two lengths separated by a comma, such as 20, 10.", "point"),
            };
        }

        if (Prompt(context, input) is var now && now.Fields.All(f => f.Name != input.Field))
        {
            return now with
            {
                Refusal = new Refusal(
                    "tool.no-field",
                    arc
                        ? $"A tangent arc has no {input.Field}: type a radius or a sweep."
                        : $"What the arc left from is gone, so this is a line again, which has no {input.Field}.",
                    input.Field
                ),
            };
        }

        var refusal = typed.Take(context, input, input.Field is "angle" or "sweep" ? Dimension.OfAngle : Dimension.OfLength);
        return Prompt(context, input) with { Refusal = refusal, Preview = Preview(context, End(context, input, out _)) };
    }

    /// <summary>Where the line would end: snapped, levelled, or as typed.</summary>
    private Place End(ToolContext context, ToolInput input, out string? direction)
    {
        direction = null;
        var place = Snapper.Snap(context.Sketch, input, start);
        if (arc)
        {
            return Rounded(context, place with { Arriving = null });
        }

        var (length, angle) = (typed.Value("length"), typed.Value("angle"));
        var toPointer = input.At - start!.At;
        if (
            length is null
            && angle is null
            && (
                place.Existing is not null
                || input.Suppress
                || place.Mark.Kind is "crossing" or "midpoint" or "quadrant" or "tangent" or "perpendicular"
            )
        )
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
        if (length is null && direction is { } level && place.Mark.Kind is "line-up" or "on-curve" && length is null)
        {
            // A level line may still end upright of another point, or on a curve.
            at = level == "horizontal" ? new Vec2(place.At.X, start.At.Y) : new Vec2(start.At.X, place.At.Y);
            var ties = place.Ties.Where(t => t.Kind != level).ToImmutableArray();
            if (place.Mark.Kind == "line-up" && ties.Length > 0)
            {
                return place with { At = at, Mark = place.Mark with { At = at }, Ties = ties };
            }

            if (place.Mark.Kind == "on-curve" && OnCurve(context, place.Mark.Entity, at, level) is { } met)
            {
                return place with { At = met, Mark = place.Mark with { At = met } };
            }

            at = start.At + Vec2.Polar(heading, Math.Max(0, toPointer.Dot(Vec2.Polar(heading))));
        }

        return Place.Free(at) with
        {
            Mark = new SnapMark(
                direction is "horizontal" ? "level"
                    : direction is "vertical" ? "upright"
                    : "free",
                at,
                ""
            ),
        };
    }

    /// <summary>Where a level or upright line meets a curve near a place.</summary>
    private Vec2? OnCurve(ToolContext context, string id, Vec2 near, string direction)
    {
        if (context.Sketch.Find(id) is not { } entity || Sketches.SketchCurve.Of(context.Sketch, entity) is not { } curve)
        {
            return null;
        }

        var along = direction == "horizontal" ? new Vec2(1, 0) : new Vec2(0, 1);
        if (entity is LineEntity && Math.Abs((curve.To - curve.From).Unit.Cross(along)) < Tolerances.DrawnAngle)
        {
            return null;
        }

        var reach = near.DistanceTo(start!.At) + curve.Size;
        var ray = new Sketches.SketchCurve("", near - (along * reach), near + (along * reach), default, 0, 0, 0);
        if (Sketch.IsBuiltIn(id))
        {
            curve = curve with { From = curve.To * -Tolerances.LargestSize, To = curve.To * Tolerances.LargestSize };
        }

        var met = Sketches.Regions.Crossings.Of(ray, curve);
        return met.Count == 0 ? null : met.MinBy(p => p.DistanceTo(near));
    }

    /// <summary>The end of a tangent arc, with its typed radius and sweep.</summary>
    private Place Rounded(ToolContext context, Place place)
    {
        var (radius, sweep) = (typed.Value("radius"), typed.Value("sweep"));
        if ((radius is null && sweep is null) || ArcTool.Leaving(context.Sketch, start!.Existing!) is not var (_, direction))
        {
            return place;
        }

        var left = direction.Cross(place.At - start.At) >= 0 ? 1 : -1;
        var r = radius ?? Rounds.Leaving(start.At, direction, place.At)?.DistanceTo(start.At) ?? place.At.DistanceTo(start.At);
        var centre = start.At + (direction.Left * (left * r));
        var turn = sweep ?? Turning.Sweep(centre, start.At, place.At, left < 0);
        return Place.Free(centre + Vec2.Polar((start.At - centre).Angle + (left * turn), r));
    }

    private Outcome<SketchEdit> TangentArc(ToolContext context, Place end)
    {
        var (curve, direction) = ArcTool.Leaving(context.Sketch, start!.Existing!)!.Value;
        if (Rounds.Leaving(start.At, direction, end.At) is not { } centre)
        {
            return new Refusal("tool.straight-on", "The end lies straight ahead: an arc would be a line.");
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("a");
        var (from, to) = (start.Existing!, draft.PointAt(end));
        var left = direction.Left.Dot(centre - start.At) > 0;
        draft.Add(new ArcEntity(id, draft.NewPoint(centre), left ? from : to, left ? to : from, centre.DistanceTo(start.At)));
        draft.Tie("tangent", curve, id);
        if (typed.Text("radius") is { } radius)
        {
            draft.Size("radius", radius, id);
        }

        if (typed.Text("sweep") is { } sweep)
        {
            draft.Size("sweep", sweep, id);
        }

        return draft.Edit;
    }

    private ToolAnswer Finish(ToolContext context, ToolInput input, Place end, string? direction)
    {
        if (end.At.DistanceTo(start!.At) < Tolerances.SmallestSize || (end.Existing is not null && end.Existing == start.Existing))
        {
            return Prompt(context, input) with { Refusal = new Refusal("tool.no-length", "A line needs two different points.") };
        }

        var made = arc ? TangentArc(context, end) : Straight(context, end, direction);
        if (!made.Done)
        {
            return Prompt(context, input) with { Refusal = made.Refusal };
        }

        var what = arc ? "tangent arc" : "line";
        var stays = end.Existing is not null && !arc;
        (start, pending) = stays || typed.Value("beyond") is not null ? (null, null) : (end with { Existing = end.Existing }, end);
        arc = false;
        typed.Clear();
        return Prompt(context, input) with { Command = Edit(context, input, made.Value, what) };
    }

    private Outcome<SketchEdit> Straight(ToolContext context, Place end, string? direction)
    {
        var draft = new Draft(context.Sketch);
        var (a, b) = Lengthened(end.At);
        var (own, other) = (draft.PointAt(start!), draft.PointAt(end));
        var (before, beyond) = (typed.Text("before"), typed.Text("beyond"));
        var (from, to) = (before is null ? own : draft.NewPoint(a), beyond is null ? other : draft.NewPoint(b));
        var line = draft.NewId("l");
        draft.Add(new LineEntity(line, from, to));
        Past(own, from, before);
        Past(other, to, beyond);
        if (direction is not null)
        {
            draft.Infer(direction, line);
        }

        if (end.Arriving is { } arriving && typed.Value("length") is null && typed.Value("angle") is null)
        {
            draft.Infer(arriving.Kind, [line, .. arriving.With]);
        }

        if (typed.Text("length") is { } length)
        {
            if (before is null && beyond is null)
            {
                draft.Size("distance", length, line);
            }
            else
            {
                draft.Size("distance", length, own, other);
            }
        }

        if (typed.Text("angle") is { } angle && typed.Value("angle") is { } radians)
        {
            Headings.Keep(draft, line, angle, radians);
        }

        return draft.Edit;

        void Past(string place, string tip, string? by)
        {
            if (by is not null)
            {
                draft.Tie("on-curve", place, line);
                draft.Size("distance", by, place, tip);
            }
        }
    }

    private ToolAnswer Prompt(ToolContext context, ToolInput input)
    {
        if (start is null)
        {
            return new ToolAnswer { Prompt = "Click where the line begins, or type x, y", Fields = TypedFields.Point };
        }

        var answer = new ToolAnswer
        {
            Prompt = "Click where it ends, or type length and angle; v: tangent arc; Escape ends the chain",
            Ways = Ways,
            Way = arc ? "arc" : "line",
        };
        var d = input.At - start.At;
        if (arc)
        {
            var centre = ArcTool.Leaving(context.Sketch, start.Existing ?? "") is var (_, way)
                ? Rounds.Leaving(start.At, way, input.At)
                : null;
            return answer with
            {
                Prompt = "Click where the tangent arc ends, or type radius and sweep; v: back to a line",
                Fields =
                [
                    typed.Field("radius", "radius", centre is { } c ? context.Show(c.DistanceTo(start.At)) : "straight"),
                    typed.Field("sweep", "sweep", ""),
                ],
            };
        }

        return answer with
        {
            Fields =
            [
                typed.Field("length", "length", context.Show(d.Length)),
                typed.Field("angle", "angle", $"{d.Angle * 180 / Math.PI:0.#} deg"),
                typed.Field("before", "before", ""),
                typed.Field("beyond", "beyond", ""),
            ],
        };
    }
}
