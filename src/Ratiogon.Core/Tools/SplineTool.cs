using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Splines through points, ended by Enter or by pressing the last point again; with handles at the ends, their
/// tangents can be tied and typed.</summary>
public sealed class SplineTool : StagedTool
{
    private protected override string What => "spline";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new("plain", "natural ends", [new("Click where the spline begins, or type x, y"), Next]),
            new(
                "handles",
                "end tangents",
                [
                    new("Click where the spline begins, or type x, y"),
                    Next with
                    {
                        Prompt = "Click the next point; Enter ends it",
                        Fields =
                        [
                            new("point", "x, y", Dimension.OfLength, _ => 0) { Default = "" },
                            new("start", "start angle", Dimension.OfAngle, HeadingAtStart),
                            new("end", "end angle", Dimension.OfAngle, HeadingAtEnd),
                        ],
                    },
                ]
            ),
        ];

    private static Stage Next =>
        new("Click the next point, or type x, y; Enter or the last point again ends the spline") { Repeats = true };

    private double HeadingAtStart(Vec2 p) => ((Places.Count > 1 ? Places[1].At : p) - Places[0].At).Angle;

    private double HeadingAtEnd(Vec2 p) => (p - Places[^1].At).Angle;

    private protected override Refusal? CheckPlace(ToolContext context, IReadOnlyList<Place> before, Place place) =>
        before.Count > 0 && place.Existing is { } p && before[^1].Existing == p
            ? new Refusal("tool.no-size", "A spline goes through different places.")
            : null;

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        // While drawing, the pointer's place may lie on the last one.
        var through = at.Count > 1 && at[^1].At.DistanceTo(at[^2].At) < Tolerances.SmallestSize ? at.Take(at.Count - 1).ToList() : [.. at];
        if (through.Count < 2)
        {
            return new Refusal("tool.too-few", "A spline goes through two points or more.");
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("s");
        var points = through.ConvertAll(draft.PointAt);
        if (points.Zip(points.Skip(1)).Any(p => p.First == p.Second))
        {
            return new Refusal("tool.no-size", "A spline goes through different places, one after the other.");
        }

        var places = through.ConvertAll(p => p.At);
        var spline = new SplineEntity(id, [.. points], Curves.SpansOf(places));
        if (Way == "handles")
        {
            var (a, b) = (places[1] - places[0], places[^1] - places[^2]);
            var (first, last) = (Typed.Value("start") ?? a.Angle, Typed.Value("end") ?? b.Angle);
            var (from, to) = (
                draft.NewPoint(places[0] + Vec2.Polar(first, a.Length / 3), true),
                draft.NewPoint(places[^1] - Vec2.Polar(last, b.Length / 3), true)
            );
            spline = spline with { FromHandle = from, ToHandle = to };
            var (start, end) = (draft.NewId("l"), draft.NewId("l"));
            draft.Add(
                spline,
                new LineEntity(start, points[0], from) { Construction = true },
                new LineEntity(end, to, points[^1]) { Construction = true }
            );
            if (Typed.Text("start") is { } s)
            {
                Headings.Keep(draft, start, s, first);
            }

            if (Typed.Text("end") is { } e)
            {
                Headings.Keep(draft, end, e, last);
            }
        }
        else
        {
            draft.Add(spline);
        }

        return draft.Edit;
    }
}
