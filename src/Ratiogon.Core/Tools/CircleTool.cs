using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Circles by centre and size, by the ends of a diameter, through three points, touching two curves with a size,
/// touching three curves.</summary>
public sealed class CircleTool : StagedTool
{
    private string note = "";

    private protected override string What => "circle";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "centre",
                "centre",
                [
                    new("Click the centre of the circle, or type x, y"),
                    new("Click a point of its rim, or type the diameter or radius")
                    {
                        Fields = Sizes(p => p.DistanceTo(Places[0].At)),
                        Adjust = Rim,
                    },
                ]
            ),
            new(
                "diameter",
                "ends of a diameter",
                [
                    new("Click one end of a diameter, or type x, y"),
                    new("Click the other end, or type the diameter")
                    {
                        Fields = [new("diameter", "diameter", Dimension.OfLength, p => p.DistanceTo(Places[0].At))],
                        Adjust = p => Typed.Value("diameter") is { } d ? Place.Free(Places[0].At + ((p.At - Places[0].At).Unit * d)) : p,
                    },
                ]
            ),
            new(
                "three",
                "three points",
                [
                    new("Click a first point of the rim, or type x, y"),
                    new("Click a second point of the rim, or type x, y"),
                    new("Click a third point of the rim, or type x, y"),
                ]
            ),
            new(
                "touch-two",
                "touching two",
                [
                    new("Pick the first curve to touch") { PicksCurve = true },
                    new("Pick the second curve to touch") { PicksCurve = true },
                    new("Click how large, or type the diameter or radius; n: next solution") { Fields = Sizes(p => RadiusNear(p)) },
                ]
            ),
            new(
                "touch-three",
                "touching three",
                [
                    new("Pick the first curve to touch") { PicksCurve = true },
                    new("Pick the second curve to touch") { PicksCurve = true },
                    new("Pick the third curve to touch; n: next solution") { PicksCurve = true },
                    new("Click or Enter to take this one; n: next solution"),
                ]
            ),
        ];

    /// <summary>A diameter typed after a radius, or a radius after a diameter, takes its place.</summary>
    private protected override Refusal? CheckTyped(string field)
    {
        if (field is "diameter" or "radius" && Typed.Text(field) is not null)
        {
            Typed.Drop(field == "radius" ? "diameter" : "radius");
        }

        return null;
    }

    private Sketch? drawn;

    private ImmutableArray<StageField> Sizes(Func<Vec2, double> radius) =>
        [
            new("diameter", "diameter", Dimension.OfLength, p => 2 * Size(radius(p))),
            new("radius", "radius", Dimension.OfLength, p => Size(radius(p))),
        ];

    private double Size(double otherwise) =>
        Typed.Value("diameter") / 2 ?? Typed.Value("radius") ?? Math.Max(Tolerances.SmallestSize, otherwise);

    private Place Rim(Place place) =>
        Typed.Value("diameter") is null && Typed.Value("radius") is null
            ? place
            : Place.Free(Places[0].At + (Way2(place.At - Places[0].At) * Size(0)));

    private static Vec2 Way2(Vec2 d) => d.Length > 0 ? d.Unit : new Vec2(1, 0);

    private double RadiusNear(Vec2 p)
    {
        if (drawn is null || Places.Count < 2)
        {
            return 1;
        }

        return Places
            .Take(2)
            .Average(place =>
                TouchedOf(drawn, place.Curve!) is { } t ? Math.Abs(t.Straight ? (p - t.A).Dot(t.Normal) : p.DistanceTo(t.A) - t.Radius) : 1
            );
    }

    private protected override string PromptNow(ToolContext context)
    {
        drawn = context.Sketch;
        return note.Length > 0 && Places.Count >= 2 ? $"{base.PromptNow(context)} — {note}" : base.PromptNow(context);
    }

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place)
    {
        drawn = context.Sketch;
        if (place.Curve is not { } curve)
        {
            return Way == "three" && before.Count == 2 && Rounds.Through(before[0].At, before[1].At, place.At) is null
                ? new Refusal("tool.on-a-line", "The three points lie on one line: no circle goes through them.")
                : null;
        }

        if (TouchedOf(context.Sketch, curve) is null)
        {
            return new Refusal(
                "tool.not-touchable",
                $"{context.Sketch.Find(curve)!.Word} {curve} is neither straight nor round; pick a line, circle or arc."
            );
        }

        return before.Any(b => b.Curve == curve) ? new Refusal("tool.same-twice", $"{curve} is picked already; pick another curve.") : null;
    }

    private protected override int Solutions(ToolContext context, IReadOnlyList<Place> at) => Found(context, at).Count;

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        note = "";
        if (!Way.StartsWith("touch", StringComparison.Ordinal))
        {
            return Way == "three" && at.Count == 2 ? [Line(at[0].At, at[1].At) with { Role = "guide" }] : base.Preview(context, input, at);
        }

        var found = Found(context, at);
        if (found.Count == 0)
        {
            return [];
        }

        var chosen = Chosen(found);
        note = $"⌀ {context.Show(2 * chosen.Radius)}, {IndexIn(found.Count) + 1} of {found.Count}";
        return
        [
            Circle(chosen.Centre, chosen.Radius),
            .. found.Where(f => f != chosen).Select(f => Circle(f.Centre, f.Radius) with { Role = "guide" }),
        ];
    }

    private int IndexIn(int count) => ((Solution % count) + count) % count;

    private RoundOutline Chosen(List<RoundOutline> found) => found[IndexIn(found.Count)];

    /// <summary>All solutions for the curves picked so far, the nearest to the picks first.</summary>
    private List<RoundOutline> Found(ToolContext context, IReadOnlyList<Place> at)
    {
        drawn = context.Sketch;
        var picks = at.Where(p => p.Curve is not null).ToList();
        var touched = picks.Select(p => TouchedOf(context.Sketch, p.Curve!)).ToList();
        if (touched.Contains(null) || picks.Count != (Way == "touch-two" ? 2 : 3))
        {
            return [];
        }

        var radius = Size(RadiusNear(at[^1].At));
        IEnumerable<RoundOutline> all =
            picks.Count == 2
                ? Touching.Two(touched[0]!.Value, touched[1]!.Value, radius).Select(c => new RoundOutline(c, radius))
                : Touching.Three(touched[0]!.Value, touched[1]!.Value, touched[2]!.Value);
        return
        [
            .. all.OrderBy(s =>
                picks.Zip(touched, (p, t) => p.At.DistanceTo(t!.Value.At(s.Centre, s.Radius))).Sum()
                + (picks.Count == 2 ? s.Centre.DistanceTo(at[^1].At) : 0)
            ),
        ];
    }

    private static Touched? TouchedOf(Sketch sketch, string curve) =>
        sketch.Find(curve) switch
        {
            LineEntity l => Touched.Line(sketch.At(l.From), sketch.At(l.To)),
            CircleEntity c => Touched.Circle(sketch.At(c.Centre), c.Radius),
            ArcEntity a => Touched.Circle(sketch.At(a.Centre), a.Radius),
            _ => null,
        };

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var draft = new Draft(context.Sketch);
        var circle = draft.NewId("c");
        switch (Way)
        {
            case "centre":
                var radius = at[1].At.DistanceTo(at[0].At);
                if (radius < Tolerances.SmallestSize)
                {
                    return new Refusal("tool.no-size", "A circle needs a size: click away from its centre or type the diameter.");
                }

                var middle = draft.PointAt(at[0]);
                draft.Add(new CircleEntity(circle, middle, radius));
                if (!Sized(draft, circle))
                {
                    Through(draft, circle, at[1], middle);
                }

                break;
            case "diameter":
                var (a, b) = (draft.PointAt(at[0]), draft.PointAt(at[1]));
                var centre = draft.NewPoint((at[0].At + at[1].At) / 2);
                draft.Add(new CircleEntity(circle, centre, at[0].At.DistanceTo(at[1].At) / 2));
                draft.Tie("midpoint", centre, a, b);
                draft.Tie("on-curve", a, circle);
                Sized(draft, circle);
                break;
            case "three":
                if (Rounds.Through(at[0].At, at[1].At, at[2].At) is not { } through)
                {
                    return new Refusal("tool.on-a-line", "The three points lie on one line: no circle goes through them.");
                }

                var c = draft.NewPoint(through);
                draft.Add(new CircleEntity(circle, c, through.DistanceTo(at[0].At)));
                foreach (var place in at)
                {
                    Through(draft, circle, place, c);
                }

                break;
            default:
                var found = Found(context, at);
                if (found.Count == 0)
                {
                    return new Refusal(
                        "tool.no-circle",
                        $"No circle{(Way == "touch-two" ? $" of ⌀ {context.Show(2 * Size(RadiusNear(at[^1].At)))}" : "")} touches "
                            + $"{string.Join(" and ", at.Select(p => p.Curve).OfType<string>())}."
                    );
                }

                var chosen = Chosen(found);
                draft.Add(new CircleEntity(circle, draft.NewPoint(chosen.Centre), chosen.Radius));
                foreach (var curve in at.Select(p => p.Curve).OfType<string>())
                {
                    draft.Tie("tangent", circle, curve);
                }

                if (Way == "touch-two")
                {
                    Sized(draft, circle);
                }

                note = "";
                break;
        }

        return draft.Edit;
    }

    /// <summary>Rim points that mean something put the circle through them.</summary>
    private static void Through(Draft draft, string circle, Place place, string centre)
    {
        if (place.Existing is { } point && point != centre)
        {
            draft.Infer("on-curve", point, circle);
        }
        else if (place.Existing is null && place.Typed is not null)
        {
            draft.Tie("on-curve", draft.PointAt(place), circle);
        }
        else if (
            place.Existing is null
            && place.Mark.Kind is "on-curve" or "crossing" or "midpoint" or "quadrant"
            && !Sketch.IsBuiltIn(place.Mark.Entity)
        )
        {
            draft.Infer("on-curve", draft.PointAt(place), circle);
        }
    }

    private bool Sized(Draft draft, string circle)
    {
        if (Typed.Text("diameter") is { } diameter)
        {
            draft.Size("diameter", diameter, circle);
            return true;
        }

        if (Typed.Text("radius") is { } radius)
        {
            draft.Size("radius", radius, circle);
            return true;
        }

        return false;
    }
}
