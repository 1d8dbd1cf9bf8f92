using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>Rectangles by corners, from the centre, on a side, about a centre; parallelograms; rounded rectangles.</summary>
public sealed class RectangleTool : StagedTool
{
    /// <param name="way">The way it begins with.</param>
    public RectangleTool(string way) => BeginWith(way);

    private protected override string What => "rectangle";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new("corners", "corners", [new("Click a corner of the rectangle, or type x, y"), FarCorner]),
            new("centre", "centre", [new("Click the centre of the rectangle, or type x, y"), FarCorner]),
            new(
                "side",
                "side and depth",
                [
                    new("Click where the first side begins, or type x, y"),
                    new("Click where it ends, or type its length and angle") { Fields = [Length, Angle], Adjust = Turned },
                    new("Click how deep it goes, or type the depth")
                    {
                        Fields = [new("depth", "depth", Dimension.OfLength, p => Math.Abs(Across(p)))],
                        Adjust = p => Deep(p, "depth", 1),
                    },
                ]
            ),
            new(
                "centre-side",
                "centre, turned",
                [
                    new("Click the centre, or type x, y"),
                    new("Click the middle of a side, or type the width and angle")
                    {
                        Fields = [new("width", "width", Dimension.OfLength, p => 2 * p.DistanceTo(Places[0].At)), Angle],
                        Adjust = TurnedFromCentre,
                    },
                    new("Click how far that side reaches, or type the height")
                    {
                        Fields = [new("height", "height", Dimension.OfLength, p => 2 * Math.Abs(Across(p)))],
                        Adjust = p => Deep(p, "height", 0.5),
                    },
                ]
            ),
            new(
                "parallelogram",
                "parallelogram",
                [
                    new("Click a corner of the parallelogram, or type x, y"),
                    new("Click where its first side ends, or type its length and angle") { Fields = [Length, Angle], Adjust = Turned },
                    new("Click the next corner, or type x, y"),
                ]
            ),
            new(
                "rounded",
                "rounded",
                [
                    new("Click a corner of the rectangle, or type x, y"),
                    FarCorner,
                    new("Click how far the rounding reaches in, or type the radius")
                    {
                        Fields = [new("radius", "radius", Dimension.OfLength, RadiusAt)],
                    },
                ]
            ),
        ];

    private Stage FarCorner =>
        new("Click the far corner, or type width and height")
        {
            Fields =
            [
                new("width", "width", Dimension.OfLength, p => Math.Abs((Corner(p) - Places[0].At).X) * Times),
                new("height", "height", Dimension.OfLength, p => Math.Abs((Corner(p) - Places[0].At).Y) * Times),
            ],
            Adjust = p => Typed.Value("width") is null && Typed.Value("height") is null ? p : Place.Free(Corner(p.At)),
        };

    private StageField Length => new("length", "length", Dimension.OfLength, p => p.DistanceTo(Places[0].At));

    private StageField Angle => new("angle", "angle", Dimension.OfAngle, p => (p - Places[0].At).Angle);

    private double Times => Way == "centre" ? 2 : 1;

    /// <summary>The far corner: where the pointer is, or as far as was typed on the pointer's side.</summary>
    private Vec2 Corner(Vec2 at)
    {
        var d = at - Places[0].At;
        double Side(double along, double? size) => size is { } s ? (along < 0 ? -s : s) / Times : along;
        return Places[0].At + new Vec2(Side(d.X, Typed.Value("width")), Side(d.Y, Typed.Value("height")));
    }

    private Place Turned(Place place) => Polar(Places[0].At, place, Typed.Value("length"), Typed.Value("angle"));

    private Place TurnedFromCentre(Place place) => Polar(Places[0].At, place, Typed.Value("width") / 2, Typed.Value("angle"));

    /// <summary>How far a place lies to the left of the side drawn first.</summary>
    private double Across(Vec2 p) => (Places[1].At - Places[0].At).Unit.Cross(p - Places[1].At);

    private Place Deep(Place place, string field, double share) =>
        Typed.Value(field) is { } depth
            ? Place.Free(Places[1].At + ((Places[1].At - Places[0].At).Unit.Left * (Across(place.At) < 0 ? -depth : depth) * share))
            : place;

    private double RadiusAt(Vec2 p)
    {
        var d = Places[1].At - Places[0].At;
        var most = Math.Min(Math.Abs(d.X), Math.Abs(d.Y)) / 2;
        var near = Math.Min(Math.Abs(p.X - Places[1].At.X), Math.Abs(p.Y - Places[1].At.Y));
        return Math.Clamp(near, Math.Min(most * 0.02, most), most * 0.95);
    }

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place)
    {
        if (before.Count == 1 && Way is "corners" or "centre" or "rounded" && before.Count == 1)
        {
            var d = place.At - before[0].At;
            return Math.Abs(d.X) < Tolerances.SmallestSize || Math.Abs(d.Y) < Tolerances.SmallestSize
                ? new Refusal("tool.no-size", "A rectangle needs a width and a height: click away from where it began, or type them.")
                : null;
        }

        return
            before.Count == 2
            && Way is not "rounded"
            && Math.Abs((before[1].At - before[0].At).Unit.Cross(place.At - before[1].At)) < Tolerances.SmallestSize
            ? new Refusal("tool.no-size", "It needs a depth: click off the first side, or type it.")
            : null;
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        var draft = new Draft(context.Sketch);
        var id = draft.NewId("r");
        var (a, b) = (at[0].At, at[1].At);
        if (at.Count == 2 && Way is "side" or "centre-side" or "parallelogram" && at.Count == 2)
        {
            return new SketchEdit { Add = [new PointEntity("from", a), new PointEntity("to", b), new LineEntity("side", "from", "to")] };
        }

        switch (Way)
        {
            case "corners" or "centre":
                draft.Add(Way == "centre" ? ShapeCatalog.RectangleByCentre(id, a, b) : ShapeCatalog.RectangleByCorners(id, a, b));
                draft.Attach(Way == "centre" ? $"{id}.centre" : CornerId(id, a, b), at[0]);
                if (Way == "corners" || at[1].Typed is not null)
                {
                    draft.Attach(CornerId(id, b, Way == "corners" ? a : (a * 2) - b), at[1]);
                }

                Sizes(draft, ("width", t => ShapeCatalog.Width(id, t)), ("height", t => ShapeCatalog.Height(id, t)));
                break;
            case "rounded":
                var r = at.Count > 2 ? Number("radius", RadiusAt(at[2].At)) : Math.Min(Math.Abs((b - a).X), Math.Abs((b - a).Y)) * 0.15;
                if (r >= (Math.Min(Math.Abs((b - a).X), Math.Abs((b - a).Y)) / 2) - Tolerances.SmallestSize)
                {
                    return new Refusal(
                        "tool.too-round",
                        $"A radius of {context.Show(r)} leaves no straight side: it must be less than "
                            + $"{context.Show(Math.Min(Math.Abs((b - a).X), Math.Abs((b - a).Y)) / 2)}.",
                        "radius"
                    );
                }

                draft.Add(Rectangles.Rounded(id, a, b, r));
                Sizes(
                    draft,
                    ("width", t => Rectangles.RoundedWidth(id, t)),
                    ("height", t => Rectangles.RoundedHeight(id, t)),
                    ("radius", t => Rectangles.CornerRadius(id, t))
                );
                break;
            case "side" or "parallelogram":
                draft.Add(Way == "side" ? Rectangles.OnSide(id, a, b, at[2].At) : Rectangles.Parallelogram(id, a, b, at[2].At));
                draft.Attach($"{id}.p1", at[0]);
                draft.Attach($"{id}.p2", at[1]);
                if (Way == "parallelogram")
                {
                    draft.Attach($"{id}.p3", at[2]);
                }

                Sizes(draft, ("length", t => ShapeCatalog.Width(id, t)), ("depth", t => ShapeCatalog.Height(id, t)));
                Turn(draft, id);
                break;
            default:
                draft.Add(Rectangles.AboutCentre(id, a, b, at[2].At));
                draft.Attach($"{id}.centre", at[0]);
                Sizes(draft, ("width", t => ShapeCatalog.Width(id, t)), ("height", t => ShapeCatalog.Height(id, t)));
                Turn(draft, id);
                break;
        }

        return draft.Edit;
    }

    private void Sizes(Draft draft, params (string Field, Func<string, SketchDimension> Make)[] sizes)
    {
        foreach (var (field, make) in sizes)
        {
            Sized(draft, field, make);
        }
    }

    private void Turn(Draft draft, string id)
    {
        if (Typed.Text("angle") is { } text && Typed.Value("angle") is { } angle)
        {
            Headings.Keep(draft, $"{id}.bottom", text, angle);
        }
    }

    private static string CornerId(string id, Vec2 corner, Vec2 opposite) =>
        (corner.X < opposite.X, corner.Y < opposite.Y) switch
        {
            (true, true) => $"{id}.p1",
            (false, true) => $"{id}.p2",
            (false, false) => $"{id}.p3",
            _ => $"{id}.p4",
        };
}
