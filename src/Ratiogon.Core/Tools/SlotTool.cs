using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>Slots: straight by the centres of their ends, by their overall ends or from the middle; along an arc by three
/// points of the centre line, or by its centre and ends. The width is clicked or typed last.</summary>
public sealed class SlotTool : StagedTool
{
    private readonly Turning turning = new();

    private protected override string What => "slot";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "centres",
                "end centres",
                [
                    new("Click the centre of one end, or type x, y"),
                    Second("Click the centre of the other end, or type their distance and angle", "centre distance", 1),
                    Wide,
                ]
            ),
            new(
                "overall",
                "overall ends",
                [
                    new("Click where the slot begins, or type x, y"),
                    Second("Click where it ends, or type the overall length and angle", "overall length", 1),
                    Wide,
                ]
            ),
            new(
                "middle",
                "from the middle",
                [
                    new("Click the middle of the slot, or type x, y"),
                    Second("Click the centre of one end, or type the centre distance and angle", "centre distance", 0.5),
                    Wide,
                ]
            ),
            new(
                "arc-three",
                "arc, three points",
                [
                    new("Click where the centre line begins, or type x, y"),
                    new("Click a point that the centre line goes through, or type x, y"),
                    new("Click where the centre line ends, or type x, y"),
                    Wide,
                ]
            ),
            new(
                "arc-centre",
                "arc, centre and ends",
                [
                    new("Click the centre of the arc, or type x, y"),
                    new("Click where the centre line begins, or type its radius")
                    {
                        Fields = [new("radius", "radius", Dimension.OfLength, p => p.DistanceTo(Places[0].At))],
                        Adjust = p => Typed.Value("radius") is { } r ? Place.Free(Places[0].At + ((p.At - Places[0].At).Unit * r)) : p,
                    },
                    new("Click where the centre line ends, or type the sweep; move the way it goes round")
                    {
                        Fields = [new("sweep", "sweep", Dimension.OfAngle, p => turning.To(Places[0].At, Places[1].At, p))],
                        Adjust = p => Typed.Value("sweep") is { } s ? Place.Free(turning.At(Places[0].At, Places[1].At, s)) : p,
                    },
                    Wide,
                ]
            ),
        ];

    private Stage Wide =>
        new("Click how wide, or type the width") { Fields = [new("width", "width", Dimension.OfLength, p => 2 * HalfWidth(p))] };

    private bool Round => Way.StartsWith("arc", StringComparison.Ordinal);

    private Stage Second(string prompt, string label, double share) =>
        new(prompt)
        {
            Fields =
            [
                new("length", label, Dimension.OfLength, p => p.DistanceTo(Places[0].At) / share),
                new("angle", "angle", Dimension.OfAngle, p => (p - Places[0].At).Angle),
            ],
            Adjust = p => Polar(Places[0].At, p, Typed.Value("length") * share, Typed.Value("angle")),
        };

    private protected override void Reset()
    {
        base.Reset();
        turning.Clear();
    }

    private double HalfWidth(Vec2 p)
    {
        if (Typed.Value("width") is { } width)
        {
            return width / 2;
        }

        if (Round && Line(Places) is var (centre, from, _))
        {
            var r = centre.DistanceTo(from);
            return Math.Clamp(Math.Abs(p.DistanceTo(centre) - r), r * 0.01, r * 0.95);
        }

        var foot = p.FootOn(Places[0].At, Places[1].At);
        return Math.Max(p.DistanceTo(foot), Tolerances.SmallestSize * 10);
    }

    /// <summary>Centre and ends of an arc slot's centre line, counterclockwise.</summary>
    private (Vec2 Centre, Vec2 From, Vec2 To)? Line(IReadOnlyList<Place> at)
    {
        if (Way == "arc-three")
        {
            return Rounds.Through(at[0].At, at[1].At, at[2].At) is not { } c ? null
                : (at[1].At - at[0].At).Cross(at[2].At - at[1].At) > 0 ? (c, at[0].At, at[2].At)
                : (c, at[2].At, at[0].At);
        }

        var to = at[0].At + ((at[2].At - at[0].At).Unit * at[1].At.DistanceTo(at[0].At));
        return turning.Clockwise ? (at[0].At, to, at[1].At) : (at[0].At, at[1].At, to);
    }

    private protected override Refusal? CheckTyped(string field) =>
        field == "sweep" && Typed.Value("sweep") is not (> 0 and < 2 * Math.PI)
            ? new Refusal("size.out-of-range", "The sweep of a slot lies between 0 and 360 deg.", field)
            : null;

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place) =>
        Way == "arc-three" && before.Count == 2 && Rounds.Through(before[0].At, before[1].At, place.At) is null
            ? new Refusal("tool.on-a-line", "The three points lie on one line: take a straight slot.")
            : null;

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        if (Way == "arc-centre" && at.Count == 3)
        {
            turning.Follow(at[0].At, at[1].At, input.At);
        }

        if (at.Count < 4 && Round)
        {
            return at.Count == 3 && Line(at) is var (c, from, to) ? [Arc(c, from, to) with { Role = "guide" }]
                : at.Count > 1
                    ?
                    [
                        Way == "arc-centre"
                            ? Circle(at[0].At, at[0].At.DistanceTo(at[1].At)) with
                            {
                                Role = "guide",
                            }
                            : Line(at[0].At, at[1].At) with
                            {
                                Role = "guide",
                            },
                    ]
                : base.Preview(context, input, at);
        }

        return at.Count == 2 ? [Line(at[0].At, at[1].At) with { Role = "guide" }] : base.Preview(context, input, at);
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var draft = new Draft(context.Sketch);
        var id = draft.NewId("slot");
        var half = HalfWidth(at[^1].At);
        return Round ? AlongArc(context, draft, id, at, half) : Straight(context, draft, id, at, half);
    }

    private Outcome<SketchEdit> Straight(ToolContext context, Draft draft, string id, IReadOnlyList<Place> at, double half)
    {
        var (a, b) = (at[0].At, at[1].At);
        switch (Way)
        {
            case "overall":
                if (a.DistanceTo(b) <= (2 * half) + Tolerances.SmallestSize)
                {
                    return new Refusal(
                        "tool.too-wide",
                        $"A slot of {context.Show(a.DistanceTo(b))} over all cannot be {context.Show(2 * half)} wide: its ends would meet.",
                        "width"
                    );
                }

                var inset = (b - a).Unit * half;
                draft.Add(Slots.Straight(id, a + inset, b - inset, half));
                OnEnd(draft, at[0], id, 1);
                OnEnd(draft, at[1], id, 2);
                break;
            case "middle":
                draft.Add(Slots.Straight(id, (a * 2) - b, b, half));
                draft.Add(new PointEntity($"{id}.centre", a) { Construction = true });
                draft.Change(e =>
                    e with
                    {
                        Tie = e.Tie.Add(new SketchConstraint($"{id}.middle", "midpoint", [$"{id}.centre", $"{id}.axis"])),
                    }
                );
                draft.Attach($"{id}.centre", at[0]);
                draft.Attach($"{id}.c2", at[1]);
                break;
            default:
                draft.Add(Slots.Straight(id, a, b, half));
                draft.Attach($"{id}.c1", at[0]);
                draft.Attach($"{id}.c2", at[1]);
                break;
        }

        Sized(draft, "length", t => Way == "overall" ? Slots.Overall(id, t) : Slots.Centres(id, t));
        Sized(draft, "width", t => Slots.Width(id, t));
        if (Typed.Text("angle") is { } text && Typed.Value("angle") is { } angle)
        {
            Headings.Keep(draft, $"{id}.axis", text, angle);
        }
        else if (Math.Abs((b - a).Y) < Tolerances.Length || Math.Abs((b - a).X) < Tolerances.Length)
        {
            draft.Infer(Math.Abs((b - a).Y) < Tolerances.Length ? "horizontal" : "vertical", $"{id}.axis");
        }

        return draft.Edit;
    }

    private static void OnEnd(Draft draft, Place place, string id, int end)
    {
        if (place.Existing is { } point)
        {
            draft.Infer("on-curve", point, $"{id}.end{end}");
        }
        else if (place.Typed is not null)
        {
            // A typed place is the tip: on the round end, and straight ahead of the slot.
            var tip = draft.PointAt(place);
            draft.Tie("on-curve", tip, $"{id}.end{end}");
            draft.Tie("on-curve", tip, $"{id}.axis");
        }
    }

    private Outcome<SketchEdit> AlongArc(ToolContext context, Draft draft, string id, IReadOnlyList<Place> at, double half)
    {
        if (Line(at) is not var (centre, from, to))
        {
            return new Refusal("tool.on-a-line", "The three points lie on one line: take a straight slot.");
        }

        var r = centre.DistanceTo(from);
        if (half >= r - Tolerances.SmallestSize)
        {
            return new Refusal(
                "tool.too-wide",
                $"A slot about a radius of {context.Show(r)} must be less than {context.Show(2 * r)} wide, not {context.Show(2 * half)}.",
                "width"
            );
        }

        draft.Add(Slots.AlongArc(id, centre, from, to, half));
        var (first, last) = Way == "arc-three" ? (at[0], at[2]) : (at[1], at[2]);
        if (Way == "arc-centre")
        {
            draft.Attach($"{id}.centre", at[0]);
        }

        draft.Attach(first.At.DistanceTo(from) < Tolerances.Length ? $"{id}.c1" : $"{id}.c2", first);
        if (last.Existing is not null || last.Typed is not null)
        {
            draft.Attach(first.At.DistanceTo(from) < Tolerances.Length ? $"{id}.c2" : $"{id}.c1", last);
        }

        Sized(draft, "radius", t => Slots.Radius(id, t));
        Sized(draft, "sweep", t => Slots.Sweep(id, t));
        Sized(draft, "width", t => Slots.ArcWidth(id, t));
        return draft.Edit;
    }
}
