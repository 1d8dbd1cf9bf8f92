using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tools;

/// <summary>Regular polygons by centre and a corner, or by centre and the middle of a flat; the number of sides and the
/// size across may be typed, and both stay editable.</summary>
public sealed class PolygonTool : StagedTool
{
    private string sides = "6";

    private protected override string What => "polygon";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "corner",
                "by corner",
                [
                    new("Click the centre of the polygon, or type x, y"),
                    Reach("Click a corner, or type the number of sides and the size across corners", "across corners"),
                ]
            ),
            new(
                "flat",
                "by flat",
                [
                    new("Click the centre of the polygon, or type x, y"),
                    Reach("Click the middle of a flat, or type the number of sides and the size across flats", "across flats"),
                ]
            ),
        ];

    private Stage Reach(string prompt, string label) =>
        new(prompt)
        {
            Fields =
            [
                new("across", label, Dimension.OfLength, p => 2 * p.DistanceTo(Places[0].At)),
                new("sides", "sides", Dimension.None, _ => 6) { Default = sides },
            ],
            Adjust = p =>
                Typed.Value("across") is { } across
                    ? Place.Free(Places[0].At + ((p.At - Places[0].At) is var d && d.Length > 0 ? d.Unit : new Vec2(1, 0)) * (across / 2))
                    : p,
        };

    private protected override Refusal? CheckTyped(string field) =>
        field == "sides" ? CheckCount(field, Polygons.Fewest, Polygons.Most, t => sides = t) : null;

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        if (at[0].At.DistanceTo(at[1].At) < Tolerances.SmallestSize)
        {
            return NoSize;
        }

        var n = Counts.Read(sides, Polygons.Fewest, Polygons.Most, context.Values);
        if (!n.Done)
        {
            return n.Refusal! with { Where = "sides" };
        }

        var draft = new Draft(context.Sketch);
        var id = draft.NewId("g");
        draft.Add(Polygons.Regular(id, at[0].At, at[1].At, n.Value, Way == "flat", sides));
        draft.Attach($"{id}.centre", at[0]);
        Sized(draft, "across", t => Polygons.Across(id, t));
        if (Way == "corner" && Typed.Text("across") is null)
        {
            draft.Attach($"{id}.p1", at[1]);
        }

        return draft.Edit;
    }
}
