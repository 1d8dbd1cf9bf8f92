using System.Collections.Immutable;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tools;

/// <summary>The values typed while a tool is at one stage.</summary>
internal sealed class TypedFields
{
    private readonly Dictionary<string, ReadValue> typed = new(StringComparer.Ordinal);

    public bool Any => typed.Count > 0;

    public void Clear() => typed.Clear();

    public double? Value(string field) => typed.TryGetValue(field, out var t) ? t.Value : null;

    public string? Text(string field) => typed.TryGetValue(field, out var t) ? t.Text : null;

    /// <summary>All of them: the field, the formula, and its value in millimetres, radians or as a plain number.</summary>
    public IEnumerable<(string Field, string Text, double Value)> All => typed.Select(t => (t.Key, t.Value.Text, t.Value.Value));

    /// <summary>Why a place cannot be typed as well, or null: one of these fields settles it already.</summary>
    /// <param name="fields">Fields with their labels.</param>
    /// <param name="where">The field that the place was typed into.</param>
    public Refusal? Twice(IEnumerable<(string Name, string Label)> fields, string where) =>
        fields
            .Where(f => typed.ContainsKey(f.Name))
            .Select(f => new Refusal(
                "tool.typed-twice",
                $"The {f.Label} is typed already ({Text(f.Name)}): empty that field first, or leave the place to it.",
                where
            ))
            .FirstOrDefault();

    /// <summary>Lets a value go for which another was typed.</summary>
    public void Drop(string field) => typed.Remove(field);

    /// <summary>Takes a typed text; an empty one lets the field go again. Answers why it cannot be used, or null.</summary>
    public Refusal? Take(ToolContext context, ToolInput input, Dimension kind, bool mayBeNegative = false)
    {
        if (string.IsNullOrWhiteSpace(input.Text))
        {
            typed.Remove(input.Field);
            return null;
        }

        var read = context.Read(input.Text, kind);
        if (!read.Done)
        {
            return read.Refusal! with { Where = input.Field };
        }

        if (kind == Dimension.OfLength && !mayBeNegative && read.Value.Value < Tolerances.SmallestSize)
        {
            return new Refusal(
                "size.too-small",
                $"{input.Field} must be more than zero, not {context.Show(read.Value.Value)}.",
                input.Field
            );
        }

        if (kind == Dimension.OfLength && Math.Abs(read.Value.Value) > Tolerances.LargestSize)
        {
            return new Refusal("size.too-large", $"{input.Field} may be up to {context.Show(Tolerances.LargestSize)}.", input.Field);
        }

        typed[input.Field] = read.Value;
        return null;
    }

    /// <summary>Lets a value go that turned out not to fit.</summary>
    public void Forget(string field, Refusal refusal)
    {
        if (refusal.Where == field)
        {
            typed.Remove(field);
        }
    }

    /// <summary>A field as shown: what was typed, or the value under the pointer.</summary>
    public ToolField Field(string name, string label, string underPointer) =>
        typed.TryGetValue(name, out var t) ? new ToolField(name, label, t.Text, true) : new ToolField(name, label, underPointer, false);

    public static ImmutableArray<ToolField> Point { get; } = [new ToolField("point", "x, y", "", false)];
}
