using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>A chain drawn again at a distance: pick a curve of it, then the side and distance.</summary>
public sealed class OffsetTool : StagedTool
{
    private Sketches.Sketch? drawn;

    private protected override string What => "offset";

    private protected override ImmutableArray<DrawingWay> Ways =>
        [
            new(
                "offset",
                "offset",
                [
                    new("Pick a curve of the chain to offset") { PicksCurve = true },
                    new("Click on the side and as far away as it goes, or type the distance")
                    {
                        Fields = [new("distance", "distance", Dimension.OfLength, Far)],
                    },
                ]
            ),
        ];

    private double Far(Vec2 p)
    {
        if (
            drawn is null
            || Places.Count == 0
            || drawn.Find(Places[0].Curve ?? "") is not { } entity
            || SketchCurve.Of(drawn, entity) is not { } curve
        )
        {
            return 1;
        }

        return Math.Max(Tolerances.SmallestSize * 10, curve.At(curve.Nearest(p)).DistanceTo(p));
    }

    private protected override ImmutableArray<PreviewCurve> Preview(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        drawn = context.Sketch;
        if (at.Count == 1)
        {
            return
                at[0].Curve is { } curve
                && context.Sketch.Find(curve) is { } e
                && !Sketches.Sketch.IsBuiltIn(curve)
                && Sketches.Curves.Ends(e) is not null
                ?
                [
                    .. Offsetting
                        .Chain(context.Sketch, curve)
                        .Select(id => PreviewCurves.Of(context.Sketch, context.Sketch.Find(id)!))
                        .OfType<PreviewCurve>()
                        .Select(c => c with { Role = "guide" }),
                ]
                : [];
        }

        return base.Preview(context, input, at);
    }

    private protected override Outcome<SketchEdit> Make(ToolContext context, ToolInput input, IReadOnlyList<Place> at)
    {
        drawn = context.Sketch;
        var distance = Number("distance", Far(input.At));
        return Offsetting.Of(
            context.Sketch,
            at[0].Curve!,
            distance,
            input.At,
            Typed.Text("distance") ?? Units.Show(Quantity.Length(distance), context.Part.Units, 2)
        );
    }
}
