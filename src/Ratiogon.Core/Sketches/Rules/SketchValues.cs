using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Sketches.Rules;

/// <summary>The values of a sketch's driving dimensions.</summary>
public static class SketchValues
{
    /// <summary>Millimetres and radians by dimension id, or the first dimension whose formula or value cannot drive it.</summary>
    public static Outcome<IReadOnlyDictionary<string, double>> Of(Sketch sketch, ParameterValues parameters)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var values = new Dictionary<string, double>(StringComparer.Ordinal);
        foreach (var dimension in sketch.Dimensions.Where(d => d.Driving))
        {
            var value = Value(dimension, parameters);
            if (!value.Done)
            {
                return value.Refusal!.At(dimension.Id);
            }

            values[dimension.Id] = value.Value;
        }

        return values;
    }

    private static Outcome<double> Value(SketchDimension dimension, ParameterValues parameters)
    {
        var kind = DimensionCatalog.Find(dimension.Kind)!;
        return Formula
            .Parse(dimension.Value)
            .Then(f => f.Evaluate(parameters.Of))
            .Then<double>(q =>
                q.Dimension != kind.Of
                    ? new Refusal("formula.kind", $"{dimension.Kind} needs {kind.Of.Words}; '{dimension.Value}' is {q.Dimension.Words}.")
                : kind.CheckValue(q.Value) is { } wrong ? wrong
                : q.Value
            );
    }
}
