using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>Builds the curve of a curve step.</summary>
internal static class SpaceCurves
{
    public static Outcome<CurvePath> Make(Model model, CurveStep step)
    {
        if (step.Check() is { } wrong)
        {
            return wrong;
        }

        var points = new List<Vec3>();
        foreach (var reference in step.Points)
        {
            var found = model.Find(reference);
            if (!found.Done)
            {
                return found.Refusal!;
            }

            if (found.Value.Place is not { } p)
            {
                return new Refusal("curve.no-point", $"{found.Value.Words} is no point and has no centre.", reference);
            }

            points.Add(p);
        }

        for (var i = 1; i < points.Count; i++)
        {
            if (points[i].DistanceTo(points[i - 1]) < Tolerances.SmallestSize)
            {
                return new Refusal("curve.same-point", $"Points {i} and {i + 1} are the same place.", step.Points[i]);
            }
        }

        return step.Shape switch
        {
            CurveShape.Line => Line(model, step, points),
            CurveShape.Spline => CurvePath.Of(BSplineCurve.Through(points)),
            _ => Round(model, step, points[0]),
        };
    }

    private static Outcome<CurvePath> Line(Model model, CurveStep step, List<Vec3> points) =>
        Value(model, step.Before, Dimension.OfLength)
            .Then(before =>
                Value(model, step.After, Dimension.OfLength)
                    .Then(after =>
                    {
                        var line = Line3.Through(points[0], points[1]);
                        var length = points[0].DistanceTo(points[1]);
                        return length + before + after < Tolerances.SmallestSize
                            ? new Refusal(
                                "curve.no-length",
                                $"Nothing is left of the line: it is {length:0.###} mm long and shortened by {-(before + after):0.###} mm."
                            )
                            : CurvePath.Of(new SegmentCurve(line.At(-before), line.At(length + after)));
                    })
            );

    private static Outcome<CurvePath> Round(Model model, CurveStep step, Vec3 centre) =>
        model
            .PlaneOf(step.Support!)
            .Then(support =>
                Value(model, step.Radius ?? step.Diameter, Dimension.OfLength)
                    .Then(size =>
                        Value(model, step.From, Dimension.OfAngle)
                            .Then(from =>
                                Value(model, step.To, Dimension.OfAngle)
                                    .Then(to =>
                                    {
                                        var radius = step.Radius is null ? size / 2 : size;
                                        var sweep =
                                            step.Shape == CurveShape.Circle
                                                ? 2 * Math.PI
                                                : to - from - (Math.Floor((to - from) / (2 * Math.PI)) * 2 * Math.PI);
                                        return radius < Tolerances.SmallestSize
                                            ? new Refusal("curve.radius", $"The radius must be more than zero, not {radius:0.####} mm.")
                                            : CurvePath.Of(
                                                new RoundCurve(
                                                    centre,
                                                    support.X * radius,
                                                    support.Y * radius,
                                                    from,
                                                    from + (sweep <= Tolerances.WholeTurn ? 2 * Math.PI : sweep)
                                                )
                                            );
                                    })
                            )
                    )
            );

    private static Outcome<double> Value(Model model, string? formula, Dimension kind) =>
        formula is null
            ? 0.0
            : Formula
                .Parse(formula)
                .Then(f => f.Evaluate(model.Values.Of))
                .Then<double>(q =>
                    q.Dimension == kind
                        ? q.Value
                        : new Refusal("formula.kind", $"{kind.Words} is needed; '{formula}' is {q.Dimension.Words}.")
                );
}
