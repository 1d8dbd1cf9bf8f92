using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>Points: one by one, on a bolt circle, in a grid.</summary>
public sealed class PointTool : StagedTool
{
    private string count = "6";
    private string columns = "3";
    private string rows = "2";

    private protected override string What =>
        Way == "one" ? "point"
        : Way == "bolts" ? "bolt circle"
        : "grid of points";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new("one", "single", [new("Click where the point goes, or type x, y")]),
            new(
                "bolts",
                "bolt circle",
                [
                    new("Click the centre of the bolt circle, or type x, y"),
                    new("Click the first point, or type the number and the diameter")
                    {
                        Fields =
                        [
                            new("diameter", "diameter", Dimension.OfLength, p => 2 * p.DistanceTo(Places[0].At)),
                            new("count", "number", Dimension.None, _ => 6) { Default = count },
                        ],
                        Adjust = p =>
                            Typed.Value("diameter") is { } d
                                ? Place.Free(
                                    Places[0].At
                                        + (((p.At - Places[0].At) is var way && way.Length > 0 ? way.Unit : new Vec2(1, 0)) * (d / 2))
                                )
                                : p,
                    },
                ]
            ),
            new(
                "grid",
                "grid",
                [
                    new("Click the first point of the grid, or type x, y"),
                    new("Click the next point across and up, or type numbers and steps")
                    {
                        Fields =
                        [
                            new("across", "step across", Dimension.OfLength, p => Math.Abs(p.X - Places[0].At.X)),
                            new("columns", "columns", Dimension.None, _ => 3) { Default = columns },
                            new("up", "step up", Dimension.OfLength, p => Math.Abs(p.Y - Places[0].At.Y)),
                            new("rows", "rows", Dimension.None, _ => 2) { Default = rows },
                        ],
                        Adjust = Stepped,
                    },
                ]
            ),
        ];

    private Place Stepped(Place place)
    {
        var d = place.At - Places[0].At;
        double Step(double along, double? typed) => typed is { } t ? (along < 0 ? -t : t) : along;
        return Typed.Value("across") is null && Typed.Value("up") is null
            ? place
            : Place.Free(Places[0].At + new Vec2(Step(d.X, Typed.Value("across")), Step(d.Y, Typed.Value("up"))));
    }

    private protected override Refusal? CheckTyped(string field) =>
        field switch
        {
            "count" => CheckCount(field, 2, Patterns.Most, t => count = t),
            "columns" => CheckCount(field, 1, Patterns.Most, t => columns = t),
            "rows" => CheckCount(field, 1, Patterns.Most, t => rows = t),
            _ => null,
        };

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place) =>
        Way == "one" && place.Existing is { } there ? new Refusal("tool.point-there", $"There is already a point here: {there}.") : null;

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var draft = new Draft(context.Sketch);
        return Way switch
        {
            "one" => One(draft, at[0]),
            "bolts" => Bolts(context, draft, at),
            _ => Grid(context, draft, at),
        };
    }

    private static SketchEdit One(Draft draft, Place at)
    {
        draft.PointAt(at);
        return draft.Edit;
    }

    private Outcome<SketchEdit> Bolts(ToolContext context, Draft draft, IReadOnlyList<Place> at) =>
        Counts
            .Read(count, 2, Patterns.Most, context.Values)
            .Then<SketchEdit>(n =>
            {
                var radius = at[0].At.DistanceTo(at[1].At);
                if (radius < Tolerances.SmallestSize)
                {
                    return NoSize;
                }

                var id = draft.NewId("b");
                var (centre, first) = (draft.PointAt(at[0]), draft.PointAt(at[1]));
                draft.Add(new CircleEntity($"{id}.round", centre, radius) { Construction = true });
                draft.Tie("on-curve", first, $"{id}.round");
                var with = context.Sketch with { Entities = context.Sketch.Entities.AddRange(draft.Edit.Add) };
                draft.Add(Patterns.Ring(id, with, [with.Find(first)!], centre, n, 360.0 / n, count));
                Sized(draft, "diameter", t => new SketchDimension($"{id}.diameter", "diameter", [$"{id}.round"], t));
                return draft.Edit;
            });

    private Outcome<SketchEdit> Grid(ToolContext context, Draft draft, IReadOnlyList<Place> at)
    {
        var (across, up) = (Counts.Read(columns, 1, Patterns.Most, context.Values), Counts.Read(rows, 1, Patterns.Most, context.Values));
        if ((across.Refusal ?? up.Refusal) is { } refusal)
        {
            return refusal;
        }

        var d = at[1].At - at[0].At;
        if (across.Value * up.Value is < 2 or > Patterns.Most)
        {
            return new Refusal(
                "count.range",
                $"A grid has between 2 and {Patterns.Most} points, not {across.Value * up.Value}.",
                "columns"
            );
        }

        if ((across.Value > 1 && Math.Abs(d.X) < Tolerances.SmallestSize) || (up.Value > 1 && Math.Abs(d.Y) < Tolerances.SmallestSize))
        {
            return NoSize;
        }

        var id = draft.NewId("g");
        var first = draft.PointAt(at[0]);
        var with = context.Sketch with { Entities = context.Sketch.Entities.AddRange(draft.Edit.Add) };
        draft.Add(Patterns.Grid(id, [with.Find(first)!], across.Value, new Vec2(d.X, 0), up.Value, new Vec2(0, d.Y), columns, rows));
        GridSteps.Keep(draft, id, first, across.Value, up.Value, Typed.Text("across"), Typed.Text("up"), "horizontal", "vertical");
        return draft.Edit;
    }
}

/// <summary>The steps of a grid as rules: its rows and columns along the axes, and the typed distances.</summary>
internal static class GridSteps
{
    public static void Keep(
        Draft draft,
        string id,
        string lead,
        int columns,
        int rows,
        string? across,
        string? up,
        string? level,
        string? upright,
        bool turned = false
    )
    {
        if (columns > 1)
        {
            Step(Patterns.CopyId(id, 1, 0), level, across, turned ? "vertical-distance" : "horizontal-distance");
        }

        if (rows > 1)
        {
            Step(Patterns.CopyId(id, columns, 0), upright, up, turned ? "horizontal-distance" : "vertical-distance");
        }

        void Step(string copy, string? along, string? size, string kind)
        {
            if (along is not null)
            {
                draft.Tie(along, lead, copy);
            }

            if (size is not null)
            {
                draft.Size(along is null ? "distance" : kind, size, lead, copy);
            }
        }
    }
}
