using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>Mirror images about a line, kept live.</summary>
public sealed class MirrorTool : StagedTool
{
    private protected override string What => "mirror";

    private protected override string? PicksFor => "what to mirror";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [new("mirror", "mirror", [new("Pick the line to mirror about") { PicksCurve = true }])];

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at) =>
        Mirroring.Of(context.Sketch, Picks, at[0].Curve!);
}

/// <summary>Copies about a point, kept live; the number is a formula.</summary>
public sealed class RingTool : StagedTool
{
    /// <summary>A turn of less than this is none.</summary>
    private const double NoTurn = 1e-6;

    private string count = "4";

    private protected override string What => "circular pattern";

    private protected override string? PicksFor => "what to repeat";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "ring",
                "ring",
                [
                    new("Click the centre, or type the number; without an angle between them they fill the circle")
                    {
                        Fields =
                        [
                            new("count", "number", Dimension.None, _ => 4) { Default = count },
                            new("step", "angle between", Dimension.OfAngle, _ => 0) { Default = "" },
                        ],
                    },
                ]
            ),
        ];

    private protected override Refusal? CheckTyped(string field) =>
        field == "count" ? CheckCount(field, 2, Patterns.Most, t => count = t)
        : field == "step" && Typed.Value("step") is { } step && Math.Abs(step) < NoTurn
            ? new Refusal("size.too-small", "The angle between the instances must not be zero.", field)
        : null;

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at) =>
        Counts
            .Read(count, 2, Patterns.Most, context.Values)
            .Then<SketchEdit>(n =>
            {
                var draft = new Draft(context.Sketch);
                var centre = draft.PointAt(at[0]);
                var with = context.Sketch with { Entities = context.Sketch.Entities.AddRange(draft.Edit.Add) };
                var step = Typed.Value("step") is { } s ? s * 180 / Math.PI : 360.0 / n;
                var of = Copying.Whole(context.Sketch, Picks).RemoveAll(e => e.Id == centre);
                if (of.IsEmpty)
                {
                    return new Refusal("pattern.nothing", "Nothing but the centre is picked: pick what to repeat.");
                }

                draft.Add(Patterns.Ring(draft.NewId("ring"), with, of, centre, n, step, count));
                return draft.Edit;
            });
}

/// <summary>Copies in a row or a grid, kept live; the numbers are formulas.</summary>
public sealed class GridTool : StagedTool
{
    private string columns = "3";
    private string rows = "1";
    private Vec2? lead;

    private protected override string What => "linear pattern";

    private protected override string? PicksFor => "what to repeat";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "grid",
                "row or grid",
                [
                    new("Click where the first copy goes, or type numbers and steps")
                    {
                        Fields =
                        [
                            new("columns", "number", Dimension.None, _ => 3) { Default = columns },
                            new("step", "step", Dimension.OfLength, p => lead is { } l ? p.DistanceTo(l) : 0),
                            new("angle", "angle", Dimension.OfAngle, p => lead is { } l ? (p - l).Angle : 0),
                            new("rows", "rows", Dimension.None, _ => 1) { Default = rows },
                            new("up", "row step", Dimension.OfLength, p => lead is { } l ? p.DistanceTo(l) : 0),
                        ],
                        Adjust = Stepped,
                        AcceptsPointer = true,
                    },
                ]
            ),
        ];

    private Place Stepped(Place place)
    {
        if (lead is not { } from || (Typed.Value("step") is null && Typed.Value("angle") is null))
        {
            return place;
        }

        var d = place.At - from;
        return Place.Free(from + Vec2.Polar(Typed.Value("angle") ?? d.Angle, Typed.Value("step") ?? d.Length));
    }

    private protected override Refusal? CheckTyped(string field) =>
        field switch
        {
            "columns" => CheckCount(field, 1, Patterns.Most, t => columns = t),
            "rows" => CheckCount(field, 1, Patterns.Most, t => rows = t),
            _ => null,
        };

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var made = Make(context, input, at);
        return made.Done ? Drawn(context.Sketch, made.Value) : [];
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var of = Copying.Whole(context.Sketch, Picks);
        if (of.IsEmpty)
        {
            return new Refusal("pattern.nothing", "Pick what to repeat: the origin and the axes cannot be.");
        }

        var first = LinearCopies.Lead(of[0]);
        lead = context.Sketch.At(first);
        var (across, up) = (Counts.Read(columns, 1, Patterns.Most, context.Values), Counts.Read(rows, 1, Patterns.Most, context.Values));
        if ((across.Refusal ?? up.Refusal) is { } refusal)
        {
            return refusal;
        }

        if (across.Value * up.Value is < 2 or > Patterns.Most)
        {
            return new Refusal(
                "count.range",
                $"A pattern has between 2 and {Patterns.Most} instances, not {across.Value * up.Value}.",
                "columns"
            );
        }

        var step = Stepped(at[0]).At - lead.Value;
        if (step.Length < Tolerances.SmallestSize)
        {
            return NoSize;
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("grid");
        draft.Add(Patterns.Grid(id, of, across.Value, step, up.Value, step.Unit.Left * Number("up", step.Length), columns, rows));
        var level = Math.Abs(step.Y) < Tolerances.Length;
        var upright = Math.Abs(step.X) < Tolerances.Length;
        GridSteps.Keep(
            draft,
            id,
            first,
            across.Value,
            up.Value,
            Typed.Text("step"),
            Typed.Text("up"),
            level ? "horizontal"
                : upright ? "vertical"
                : null,
            level ? "vertical"
                : upright ? "horizontal"
                : null,
            upright
        );
        return draft.Edit;
    }
}

/// <summary>Moves, copies, turns and scales what is picked.</summary>
public sealed class MoveTool : StagedTool
{
    /// <summary>The smallest scale that can be drawn.</summary>
    private const double LeastScale = 1e-3;

    /// <summary>How near a point has to come to where it was to go, as a share of its distance from the origin.</summary>
    private const double Followed = 1e-6;

    private Vec2? lead;

    private protected override string What => Way;

    private protected override string? PicksFor => "what to move";

    private protected override bool KeepsTyped => false;

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new("move", "move", [From, To]),
            new("copy", "copy", [From, To]),
            new(
                "turn",
                "turn",
                [
                    new("Click the centre of the turn, or type x, y"),
                    new("Click the heading, or type the angle")
                    {
                        Fields = [new("angle", "angle", Dimension.OfAngle, p => (p - Places[0].At).Angle)],
                    },
                ]
            ),
            new(
                "scale",
                "scale",
                [
                    new("Click the place that stays, or type x, y"),
                    new("Click how large, or type the factor") { Fields = [new("factor", "factor", Dimension.None, Factor)] },
                ]
            ),
        ];

    private static Stage From => new("Click a place to move from, or type x, y");

    private Stage To =>
        new("Click where it goes, or type how far across and up")
        {
            Fields =
            [
                new("across", "across", Dimension.OfLength, p => (p - Places[0].At).X) { Signed = true },
                new("up", "up", Dimension.OfLength, p => (p - Places[0].At).Y) { Signed = true },
            ],
            Adjust = p =>
                Typed.Value("across") is null && Typed.Value("up") is null
                    ? p
                    : Place.Free(Places[0].At + new Vec2(Typed.Value("across") ?? 0, Typed.Value("up") ?? 0)),
        };

    private double Factor(Vec2 p) =>
        lead is { } l && Places.Count > 0 && l.DistanceTo(Places[0].At) > Tolerances.SmallestSize
            ? Math.Max(LeastScale, p.DistanceTo(Places[0].At) / l.DistanceTo(Places[0].At))
            : 1;

    private protected override Refusal? CheckTyped(string field) =>
        field == "factor" && Typed.Value("factor") is not (> 0 and <= 1e4)
            ? new Refusal("size.out-of-range", "The factor lies between 0 and 10000.", field)
            : null;

    private Similarity Motion(IReadOnlyList<Place> at, ToolInput input) =>
        Way switch
        {
            "turn" => new Similarity(at[0].At, Vec2.Zero, Typed.Value("angle") ?? (input.At - at[0].At).Angle, 1),
            "scale" => new Similarity(at[0].At, Vec2.Zero, 0, Typed.Value("factor") ?? Factor(input.At)),
            _ => new Similarity(Vec2.Zero, at[1].At - at[0].At, 0, 1),
        };

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var of = Way == "copy" ? Copying.Whole(context.Sketch, Picks) : Copying.Closure(context.Sketch, Picks);
        lead = of.OfType<PointEntity>().FirstOrDefault()?.At;
        if (at.Count < 2)
        {
            return [Point(at[0].At)];
        }

        var motion = Motion(at, input);
        var inside = of.Select(e => e.Id).ToHashSet(StringComparer.Ordinal);
        var moved = new Sketch { Entities = Copying.Of(of, id => inside.Contains(id) ? id + "'" : id, motion.Apply, motion.Scale) };
        return
        [
            .. moved
                .Entities.Where(e => e is not PointEntity || of.Length == 1)
                .Select(e => PreviewCurves.Of(moved, e))
                .OfType<PreviewCurve>(),
        ];
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var motion = Motion(at, input);
        if (Way == "copy")
        {
            return Moving.Copy(context.Sketch, Picks, motion);
        }

        return Moving.Move(context.Sketch, Picks, motion).Then(edit => Lands(context, edit));
    }

    /// <summary>Refuses a move that the constraints do not let happen, with what holds it.</summary>
    private static Outcome<SketchEdit> Lands(ToolContext context, SketchEdit edit)
    {
        var after = SketchEditor.Apply(context.Sketch, edit, context.Values);
        if (!after.Done)
        {
            return after.Refusal!;
        }

        foreach (var (point, to) in edit.Move)
        {
            if (after.Value.At(point).DistanceTo(to) > Followed * Math.Max(1, to.Length))
            {
                return new Refusal("move.held", $"{point} cannot go there: {SelectTool.Holding(context.Sketch, point)}.", point);
            }
        }

        return edit;
    }
}

/// <summary>Two points made one.</summary>
public sealed class MergeTool : SketchTool
{
    private string? first;

    public override ToolAnswer Handle(ToolContext context, ToolInput input)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(input);
        var under = Snapper.Under(context.Sketch, input.At, input.Reach);
        var point = under is not null && context.Sketch.Find(under) is PointEntity ? under : null;
        var answer = new ToolAnswer
        {
            Prompt = first is null ? "Pick the point that goes" : $"Pick the point that {first} becomes one with",
            Hover = point ?? "",
            Picks = first is null ? [] : [first],
        };
        switch (input.Kind)
        {
            case InputKind.Cancel:
                var leave = first is null;
                first = null;
                return answer with { Leave = leave, Picks = [] };
            case InputKind.Click when point is null:
                return answer with { Refusal = new Refusal("merge.no-point", "There is no point here.") };
            case InputKind.Click when first is null:
                first = point;
                return answer with { Picks = [first], Prompt = $"Pick the point that {first} becomes one with" };
            case InputKind.Click:
                var (gone, kept) = Sketch.IsBuiltIn(first) ? (point, first) : (first, point);
                first = null;
                return answer with
                {
                    Command = Edit(
                        context,
                        input,
                        new SketchEdit { Merge = ImmutableDictionary<string, string>.Empty.Add(gone, kept) },
                        $"merge {gone} into {kept}"
                    ),
                    Picks = [],
                };
            default:
                return answer;
        }
    }
}
