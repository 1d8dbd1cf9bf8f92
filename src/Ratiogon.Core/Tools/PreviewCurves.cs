using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Tools;

/// <summary>Entities, and stretches of them, as preview curves.</summary>
internal static class PreviewCurves
{
    /// <summary>A whole entity.</summary>
    public static PreviewCurve? Of(Sketch sketch, SketchEntity entity) =>
        entity is PointEntity p ? new PreviewCurve("point", [p.At.X, p.At.Y])
        : SketchCurve.Of(sketch, entity) is { } curve ? Of(curve, 0, curve.End)
        : null;

    /// <summary>A stretch of a curve; past the end of a closed one it goes on from the beginning.</summary>
    public static PreviewCurve Of(SketchCurve curve, double from, double to)
    {
        if (curve.Free is not null)
        {
            return new PreviewCurve("path", [.. curve.Drawn(from, to).SelectMany(p => new[] { p.X, p.Y })]);
        }

        if (curve.Round)
        {
            return new PreviewCurve(
                curve.Full && to - from >= curve.End ? "circle" : "arc",
                curve.Full && to - from >= curve.End
                    ? [curve.Centre.X, curve.Centre.Y, curve.Radius]
                    : [curve.Centre.X, curve.Centre.Y, curve.Radius, curve.StartAngle + from, to - from]
            );
        }

        var (a, b) = (curve.At(from), curve.At(to));
        return new PreviewCurve("line", [a.X, a.Y, b.X, b.Y]);
    }
}
