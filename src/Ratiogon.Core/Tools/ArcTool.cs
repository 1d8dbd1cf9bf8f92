using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Arcs by centre, start and end; through three points; by the ends and then the size or a point; tangent from an
/// end of a line or arc.</summary>
public sealed class ArcTool : StagedTool
{
    private readonly Turning turning = new();

    private protected override string What => "arc";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "centre",
                "centre and ends",
                [
                    new("Click the centre of the arc, or type x, y"),
                    new("Click where it begins, or type the radius")
                    {
                        Fields = [new("radius", "radius", Dimension.OfLength, p => p.DistanceTo(Places[0].At))],
                        Adjust = p => Typed.Value("radius") is { } r ? Place.Free(Places[0].At + ((p.At - Places[0].At).Unit * r)) : p,
                    },
                    new("Click where it ends, or type the sweep; move the way it goes round")
                    {
                        Fields = [new("sweep", "sweep", Dimension.OfAngle, p => turning.To(Places[0].At, Places[1].At, p))],
                        Adjust = p => Typed.Value("sweep") is { } s ? Place.Free(turning.At(Places[0].At, Places[1].At, s)) : p,
                    },
                ]
            ),
            new(
                "three",
                "three points",
                [
                    new("Click where the arc begins, or type x, y"),
                    new("Click a point that it goes through, or type x, y"),
                    new("Click where it ends, or type x, y"),
                ]
            ),
            new(
                "ends",
                "ends first",
                [
                    new("Click where the arc begins, or type x, y"),
                    new("Click where it ends, or type x, y"),
                    new("Click a point that it goes through, or type the radius")
                    {
                        Fields =
                        [
                            new("radius", "radius", Dimension.OfLength, p =>
                                Rounds.Through(Places[0].At, Places[1].At, p)?.DistanceTo(p) ?? 0
                            ),
                        ],
                    },
                ]
            ),
            new("tangent", "tangent", [new("Click the end of a line or arc to go on from"), new("Click where the arc ends, or type x, y")]),
        ];

    private protected override bool NeedsPoints => Way == "tangent";

    private protected override void Reset()
    {
        base.Reset();
        turning.Clear();
    }

    private protected override Refusal? CheckTyped(string field) =>
        field == "sweep" && Typed.Value("sweep") is not (> 0 and < 2 * Math.PI)
            ? new Refusal("size.out-of-range", "The sweep of an arc lies between 0 and 360 deg.", field)
        : field == "radius" && Way == "ends" && Typed.Value("radius") is { } r && 2 * r < Places[0].At.DistanceTo(Places[1].At)
            ? new Refusal(
                "size.too-small",
                $"The ends lie {Places[0].At.DistanceTo(Places[1].At):0.###} mm apart: the radius is at least half of that.",
                field
            )
        : null;

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place)
    {
        if (Way == "tangent" && before.Count == 0)
        {
            return place.Existing is { } p && Leaving(context.Sketch, p) is not null
                ? null
                : new Refusal("tool.no-tangent", "A tangent arc goes on from the end of a line or arc: click one.");
        }

        return before.Count == 2 && Way == "centre" && place.At.DistanceTo(before[0].At) < Tolerances.SmallestSize ? NoSize : null;
    }

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        if (at.Count == 3 && Way == "centre")
        {
            turning.Follow(at[0].At, at[1].At, input.At);
        }

        return at.Count == 2 && Way == "centre" ? [Circle(at[0].At, Math.Max(Tolerances.SmallestSize, at[1].At.DistanceTo(at[0].At)))]
            : at.Count == 2 && Way is "three" or "ends" && at.Count == 2 ? [Line(at[0].At, at[1].At) with { Role = "guide" }]
            : base.Preview(context, input, at);
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var draft = new Draft(context.Sketch);
        var arc = draft.NewId("a");
        switch (Way)
        {
            case "centre":
                var radius = at[1].At.DistanceTo(at[0].At);
                var end = at[2].MovedTo(at[0].At + ((at[2].At - at[0].At).Unit * radius));
                var (c, a, b) = (draft.PointAt(at[0]), draft.PointAt(at[1]), draft.PointAt(end));
                draft.Add(turning.Clockwise ? new ArcEntity(arc, c, b, a, radius) : new ArcEntity(arc, c, a, b, radius));
                if (Typed.Text("sweep") is { } sweep)
                {
                    draft.Size("sweep", sweep, arc);
                }

                break;
            case "three":
                if (Rounds.Through(at[0].At, at[1].At, at[2].At) is not { } centre)
                {
                    return OnALine;
                }

                Add(draft, arc, centre, draft.PointAt(at[0]), draft.PointAt(at[2]), at[1].At);
                if (at[1].Existing is not null || at[1].Typed is not null)
                {
                    draft.Infer("on-curve", draft.PointAt(at[1]), arc);
                }

                break;
            case "ends":
                var bulge = (at[1].At - at[0].At).Cross(at[2].At - at[0].At) < 0 ? 1 : -1;
                var middle = Typed.Value("radius") is { } r
                    ? Rounds.OfRadius(at[0].At, at[1].At, bulge * r)
                    : Rounds.Through(at[0].At, at[1].At, at[2].At);
                if (middle is not { } m)
                {
                    return OnALine;
                }

                // Of a typed radius the smaller arc is meant, on the pointer's side.
                var along = Typed.Value("radius") is { } typed ? m + ((((at[0].At + at[1].At) / 2) - m).Unit * typed) : at[2].At;
                Add(draft, arc, m, draft.PointAt(at[0]), draft.PointAt(at[1]), along);
                if (Typed.Text("radius") is null && (at[2].Existing is not null || at[2].Typed is not null))
                {
                    draft.Infer("on-curve", draft.PointAt(at[2]), arc);
                }

                break;
            default:
                var (curve, direction) = Leaving(context.Sketch, at[0].Existing!)!.Value;
                if (Rounds.Leaving(at[0].At, direction, at[1].At) is not { } about)
                {
                    return new Refusal("tool.straight-on", "The end lies straight ahead: an arc would be a line.");
                }

                var (from, to) = (at[0].Existing!, draft.PointAt(at[1]));
                var left = direction.Left.Dot(about - at[0].At) > 0;
                draft.Add(new ArcEntity(arc, draft.NewPoint(about), left ? from : to, left ? to : from, about.DistanceTo(at[0].At)));
                draft.Tie("tangent", curve, arc);
                break;
        }

        if (Typed.Text("radius") is { } text)
        {
            draft.Size("radius", text, arc);
        }

        return draft.Edit;
    }

    private static Refusal OnALine { get; } = new("tool.on-a-line", "The three points lie on one line: no arc goes through them.");

    private static void Add(Draft draft, string id, Vec2 centre, string from, string to, Vec2 through)
    {
        var (a, b) = (draft.At(from), draft.At(to));
        var counterclockwise = (through - a).Cross(b - through) > 0;
        draft.Add(
            new ArcEntity(id, draft.NewPoint(centre), counterclockwise ? from : to, counterclockwise ? to : from, centre.DistanceTo(a))
        );
    }

    /// <summary>The curve that ends at a point, and the direction in which it goes on from there.</summary>
    internal static (string Curve, Vec2 Direction)? Leaving(Sketch sketch, string point)
    {
        foreach (var entity in sketch.Entities.Reverse())
        {
            if (
                Curves.Ends(entity) is var (from, to)
                && (from == point || to == point)
                && Sketches.SketchCurve.Of(sketch, entity) is { } curve
            )
            {
                return (entity.Id, to == point ? curve.Slope(curve.End).Unit : -curve.Slope(0).Unit);
            }
        }

        return null;
    }
}
