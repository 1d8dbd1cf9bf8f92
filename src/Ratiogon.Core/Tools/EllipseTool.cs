using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Ellipses by centre and two semi-axes, whole or from one place to another.</summary>
public sealed class EllipseTool : StagedTool
{
    private protected override string What => Way == "whole" ? "ellipse" : "elliptic arc";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new("whole", "whole", [.. Axes]),
            new("arc", "arc", [.. Axes, new("Click where the arc begins"), new("Click where it ends, counterclockwise")]),
        ];

    private ImmutableArray<Stage> Axes =>
        [
            new("Click the centre of the ellipse, or type x, y"),
            new("Click the end of its first semi-axis, or type its length and angle")
            {
                Fields =
                [
                    new("first", "semi-axis", Dimension.OfLength, p => p.DistanceTo(Places[0].At)),
                    new("angle", "angle", Dimension.OfAngle, p => (p - Places[0].At).Angle),
                ],
                Adjust = First,
            },
            new("Click how far the second semi-axis reaches, or type its length")
            {
                Fields = [new("second", "semi-axis", Dimension.OfLength, p => Math.Abs(Across(p)))],
                Adjust = p =>
                    Typed.Value("second") is { } s
                        ? Place.Free(Places[0].At + ((Places[1].At - Places[0].At).Unit.Left * (Across(p.At) < 0 ? -s : s)))
                        : p,
            },
        ];

    private Place First(Place place) => Polar(Places[0].At, place, Typed.Value("first"), Typed.Value("angle"));

    private double Across(Vec2 p) => (Places[1].At - Places[0].At).Unit.Cross(p - Places[0].At);

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place) =>
        before.Count switch
        {
            2 when Math.Abs(Across(place.At)) < Tolerances.SmallestSize => new Refusal(
                "tool.no-size",
                "The second semi-axis needs a length: click off the first one, or type it."
            ),
            4 when OnEllipse(before, before[3].At).DistanceTo(OnEllipse(before, place.At)) < Tolerances.SmallestSize => new Refusal(
                "tool.no-size",
                "An elliptic arc begins and ends in two places."
            ),
            _ => null,
        };

    private static (Vec2 Centre, Vec2 U, Vec2 V) Shape(IReadOnlyList<Place> at)
    {
        var u = at[1].At - at[0].At;
        var across = u.Unit.Cross(at[2].At - at[0].At);
        return (at[0].At, u, u.Unit.Left * across);
    }

    private static Vec2 OnEllipse(IReadOnlyList<Place> at, Vec2 p)
    {
        var (c, u, v) = Shape(at);
        var t = EllipseCurve.InnerAngle(c, u, v, p);
        return c + (u * Math.Cos(t)) + (v * Math.Sin(t));
    }

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        switch (at.Count)
        {
            case 2:
                return [Line(at[0].At, at[1].At) with { Role = "guide" }];
            case 3 or 4 when Math.Abs(Shape(at).V.Length) > Tolerances.SmallestSize:
                var (c, u, v) = Shape(at);
                return
                [
                    PreviewCurves.Of(
                        new Sketches.SketchCurve("", default, default, default, 0, 0, 0)
                        {
                            Free = new EllipseCurve(c, u, v, 0, 2 * Math.PI),
                        },
                        0,
                        2 * Math.PI
                    ),
                    .. at.Count == 4 ? new[] { Point(OnEllipse(at, at[3].At)) } : [],
                ];
            default:
                return base.Preview(context, input, at);
        }
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var (c, u, v) = Shape(at);
        if (v.Length < Tolerances.SmallestSize || u.Length < Tolerances.SmallestSize)
        {
            return NoSize;
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("e");
        var (centre, first) = (draft.PointAt(at[0]), draft.PointAt(at[1]));
        var second = draft.NewPoint(c + v);
        if (Way == "whole")
        {
            draft.Add(new EllipseEntity(id, centre, first, second));
        }
        else
        {
            var (from, to) = (OnEllipse(at, at[3].At), OnEllipse(at, at[4].At));
            var (a, b) = (draft.PointAt(at[3].MovedTo(from)), draft.PointAt(at[4].MovedTo(to)));
            draft.Add(new EllipticArcEntity(id, centre, first, second, a, b));
        }

        if (Typed.Text("first") is { } f)
        {
            draft.Size("first-semi-axis", f, id);
        }

        if (Typed.Text("second") is { } s)
        {
            draft.Size("second-semi-axis", s, id);
        }

        if (Typed.Value("angle") is { } angle && Typed.Text("angle") is { } heading)
        {
            var axis = draft.NewId("l");
            draft.Add(new LineEntity(axis, centre, first) { Construction = true });
            Headings.Keep(draft, axis, heading, angle);
        }

        return draft.Edit;
    }
}
