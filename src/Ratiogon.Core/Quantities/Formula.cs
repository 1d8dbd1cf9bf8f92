using System.Collections.Concurrent;

namespace Ratiogon.Core.Quantities;

/// <summary>A formula as the user wrote it, parsed once.</summary>
public sealed class Formula
{
    private const int Longest = 500,
        MostKept = 4096;

    /// <summary>Formulas never change: what was read once is kept, the same text for every part, until there are too many.</summary>
    private static readonly ConcurrentDictionary<string, Outcome<Formula>> Kept = new(StringComparer.Ordinal);

    private readonly Expression root;

    private Formula(string text, Expression root)
    {
        Text = text;
        this.root = root;
        var names = new SortedSet<string>(StringComparer.Ordinal);
        root.CollectNames(names);
        Names = [.. names];
    }

    /// <summary>As written, trimmed.</summary>
    public string Text { get; }

    /// <summary>The parameters it reads.</summary>
    public IReadOnlyList<string> Names { get; }

    /// <summary>Reads a formula. Refuses with <c>formula.*</c> codes.</summary>
    public static Outcome<Formula> Parse(string? text)
    {
        var trimmed = text?.Trim() ?? "";
        if (trimmed.Length == 0)
        {
            return new Refusal("formula.empty", "A value is needed here.");
        }

        if (trimmed.Length > Longest)
        {
            return new Refusal("formula.too-long", $"A formula may have {Longest} characters; this one has {trimmed.Length}.");
        }

        if (Kept.TryGetValue(trimmed, out var known))
        {
            return known;
        }

        if (Kept.Count >= MostKept)
        {
            Kept.Clear();
        }

        return Kept[trimmed] = FormulaParser.Parse(trimmed).Map(root => new Formula(trimmed, root));
    }

    /// <summary>The value, in millimetres, radians and grams.</summary>
    public Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp) =>
        root.Evaluate(lookUp)
            .Then<Quantity>(q => double.IsFinite(q.Value) ? q : new Refusal("formula.not-finite", $"'{Text}' has no finite value."));

    /// <summary>Reads a value typed into a field of a known kind: a bare number takes the field's default unit, and
    /// the text that comes back says so (<c>80</c> becomes <c>80 mm</c>), so that a later change of the display
    /// unit does not change the part.</summary>
    public static Outcome<Formula> ForField(string? text, Dimension kind, LengthUnit unit, Func<string, Outcome<Quantity>> lookUp) =>
        Parse(text)
            .Then<Formula>(formula =>
                formula
                    .Evaluate(lookUp)
                    .Then<Formula>(q =>
                    {
                        if (q.Dimension == kind)
                        {
                            return formula;
                        }

                        return q.Dimension == Dimension.None && Units.Default(kind, unit) is { } name
                            ? Parse(IsPlain(formula) ? $"{formula.Text} {name}" : $"({formula.Text}) {name}")
                            : new Refusal(
                                "formula.kind",
                                $"{char.ToUpperInvariant(kind.Words[0])}{kind.Words[1..]} is needed here; "
                                    + $"'{formula.Text}' is {q.Dimension.Words}."
                            );
                    })
            );

    private static bool IsPlain(Formula formula) => formula.root is Expression.Literal or Expression.Negation { Inner: Expression.Literal };

    public override string ToString() => Text;
}
