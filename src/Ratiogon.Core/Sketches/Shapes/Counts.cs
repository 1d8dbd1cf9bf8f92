using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>The numbers of polygons and patterns: formulas like every size, whole and within bounds.</summary>
public static class Counts
{
    /// <summary>The value of a number's formula, or why it cannot be one.</summary>
    public static Outcome<int> Read(string text, int fewest, int most, ParameterValues parameters)
    {
        ArgumentNullException.ThrowIfNull(parameters);
        return Formula
            .Parse(text)
            .Then(f => f.Evaluate(parameters.Of))
            .Then<int>(q =>
                q.Dimension != Dimension.None ? new Refusal("count.kind", $"A number is needed here; '{text}' is {q.Dimension.Words}.")
                : Math.Abs(q.Value - Math.Round(q.Value)) > Tolerances.WholeNumber
                    ? new Refusal("count.whole", $"A whole number is needed here, not {q.Value:0.###}.")
                : q.Value < fewest || q.Value > most
                    ? new Refusal("count.range", $"The number lies between {fewest} and {most}, not at {q.Value:0}.")
                : (int)Math.Round(q.Value)
            );
    }

    /// <summary>The sketch with as many sides and instances as its formulas say now.</summary>
    public static Outcome<Sketch> Refresh(Sketch sketch, ParameterValues parameters)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        foreach (var shape in sketch.Shapes.Where(s => s.Count is not null))
        {
            var (fewest, most) = Bounds(shape);
            var count = Read(shape.Count!, fewest, most, parameters);
            var rows = shape.Rows is { } r ? Read(r, 1, Patterns.Most, parameters) : 1;
            if ((count.Refusal ?? rows.Refusal) is { } refusal)
            {
                return refusal.At($"{shape.Id}.count");
            }

            if (count.Value * rows.Value > Patterns.Most)
            {
                return new Refusal(
                    "count.range",
                    $"{count.Value} x {rows.Value} are more than the {Patterns.Most} instances that a pattern may have.",
                    $"{shape.Id}.count"
                );
            }

            if (
                sketch.Constraints.FirstOrDefault(c => c.Id == $"{shape.Id}.copies") is { Out.IsDefaultOrEmpty: false } sparse
                && Enumerable.Range(1, (count.Value * rows.Value) - 1).All(sparse.Leaves)
            )
            {
                return new Refusal(
                    "count.range",
                    $"Every copy among the first {count.Value * rows.Value} of {shape.Id} is left out: take more, or remove the pattern.",
                    $"{shape.Id}.count"
                );
            }

            if (
                sketch.Constraints.FirstOrDefault(c => c.Id == $"{shape.Id}.copies") is { } rule
                && !Stands(shape, rule, count.Value, rows.Value)
            )
            {
                sketch =
                    shape.Kind == "polygon"
                        ? Polygons.WithSides(sketch, shape, count.Value)
                        : Patterns.WithCounts(sketch, shape, count.Value, rows.Value);
            }
        }

        return sketch;
    }

    /// <summary>Whether a rule holds as many instances as that, besides those that are left out.</summary>
    private static bool Stands(SketchShape shape, SketchConstraint rule, int count, int rows) =>
        (shape.Rows is null || Math.Max(1, rule.Columns) == count)
        && (rule.Of.Length - (rule.Kind == "turned-copies" ? 1 : 0)) / Math.Max(1, rule.Each)
            == Enumerable.Range(0, count * rows).Count(n => !rule.Leaves(n));

    private static (int Fewest, int Most) Bounds(SketchShape shape) =>
        shape.Kind switch
        {
            "polygon" => (Polygons.Fewest, Polygons.Most),
            "ring" => (2, Patterns.Most),
            _ => (shape.Rows is null ? 2 : 1, Patterns.Most),
        };
}
