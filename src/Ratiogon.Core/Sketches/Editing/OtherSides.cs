using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>A negative value typed for a horizontal or vertical distance means the other side: what it measures is put there,
/// and the size is kept as the length that the drawing shows.</summary>
internal static class OtherSides
{
    /// <param name="sketch">With the sizes in place.</param>
    /// <param name="edit">The edit that brings them.</param>
    /// <param name="parameters">Their values.</param>
    public static Outcome<(Sketch Sketch, SketchEdit Edit)> Of(Sketch sketch, SketchEdit edit, ParameterValues parameters)
    {
        foreach (var size in edit.Size)
        {
            if (
                !size.Driving
                || DimensionCatalog.Find(size.Kind) is not AxisDistance kind
                || sketch.FindAll(size.Of) is not { } of
                || kind.Check(sketch, of) is not null
                || !(Formula.Parse(size.Value).Then(f => f.Evaluate(parameters.Of)) is { Done: true, Value: var value })
                || value.Dimension != kind.Of
                || !(value.Value < 0)
            )
            {
                continue;
            }

            var (from, to) = AxisDistance.Ends(of);
            if (Sketch.IsBuiltIn(to))
            {
                (from, to) = (to, from);
            }

            var (a, b) = (sketch.At(from), sketch.At(to));
            var over = b + (kind.Axis == 0 ? new Vec2(2 * (a.X - b.X), 0) : new Vec2(0, 2 * (a.Y - b.Y)));
            var kept = size with { Value = Negated(size.Value!) };
            edit = edit with { Size = edit.Size.Replace(size, kept) };
            sketch = sketch with
            {
                Entities = [.. sketch.Entities.Select(e => e is PointEntity p && p.Id == to ? p with { At = over } : e)],
                Dimensions = [.. sketch.Dimensions.Select(d => d.Id == kept.Id ? kept : d)],
            };
        }

        return (sketch, edit);
    }

    /// <summary>The formula of the opposite of a value.</summary>
    internal static string Negated(string formula) => formula.Trim() is var text && Plain(text) ? text[1..].TrimStart() : $"-({text})";

    /// <summary>A minus and one quantity behind it: <c>-30 mm</c>, not <c>-30 mm + w</c>.</summary>
    private static bool Plain(string text) => text.StartsWith('-') && !text.AsSpan(1).ContainsAny('+', '-', '(');
}
