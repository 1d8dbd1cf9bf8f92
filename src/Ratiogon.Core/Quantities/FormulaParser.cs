using System.Globalization;

namespace Ratiogon.Core.Quantities;

/// <summary>
/// Recursive descent over
/// <code>
/// sum      = product (('+' | '-') product)*
/// product  = signed (('*' | '/') signed)*
/// signed   = '-' signed | '+' signed | power
/// power    = primary ('^' signed)?
/// primary  = number measure? | fraction unit | name | function '(' sum (',' sum)* ')' | '(' sum ')' measure?
/// measure  = unit ('^' signed)?                   the power is the unit's: 100 mm^2 is a hundred square millimetres
/// fraction = (whole)? whole '/' whole        as shops write inches: 1/2 in, 1 3/8 in
/// </code>
/// Hand-written rather than generated, so that each refusal says what was expected and where.
/// </summary>
internal sealed class FormulaParser(string text)
{
    private const int DeepestNesting = 64;
    private int at;
    private int depth;
    private bool fractions = true;

    public static Outcome<Expression> Parse(string text)
    {
        var parser = new FormulaParser(text);
        try
        {
            var expression = parser.Sum();
            parser.SkipSpace();
            return parser.at < text.Length ? parser.Unexpected("an operator").Refusal : expression;
        }
        catch (ParseFailure failure)
        {
            return failure.Refusal;
        }
    }

    private Expression Sum()
    {
        var left = Product();
        while (Take("+-") is { } op)
        {
            left = new Expression.Binary(op, left, Product());
        }

        return left;
    }

    private Expression Product()
    {
        var left = Signed();
        while (Take("*/") is { } op)
        {
            left = new Expression.Binary(op, left, Signed());
        }

        return left;
    }

    private Expression Signed()
    {
        if (++depth > DeepestNesting)
        {
            throw new ParseFailure(new Refusal("formula.too-deep", $"The formula is nested more than {DeepestNesting} deep."));
        }

        Expression result = Take("+-") switch
        {
            '-' => new Expression.Negation(Signed()),
            '+' => Signed(),
            _ => Power(),
        };
        depth--;
        return result;
    }

    private Expression Power()
    {
        var left = Primary();
        return Take("^") is null ? left : new Expression.Binary('^', left, Exponent());
    }

    private Expression Primary()
    {
        SkipSpace();
        if (at >= text.Length)
        {
            throw Unexpected("a value");
        }

        if (Take("(") is not null)
        {
            var outside = fractions;
            fractions = true;
            var inner = Sum();
            fractions = outside;
            Expect(')');
            return UnitAhead() is not { } unit ? inner
                : Raised(unit.One) is { } measure ? new Expression.Binary('*', inner, measure)
                : new Expression.WithUnit(inner, unit.Name, unit.One);
        }

        if (char.IsAsciiDigit(text[at]) || text[at] == '.')
        {
            return Number();
        }

        return char.IsLetter(text[at]) || text[at] == '_' ? NameOrCall() : throw Unexpected("a value");
    }

    private Expression Number()
    {
        var value = (fractions ? Fraction() : null) ?? PlainNumber();
        if (UnitAhead() is not { } unit)
        {
            return new Expression.Literal(Quantity.Number(value));
        }

        return Raised(unit.One) is { } measure
            ? new Expression.Binary('*', new Expression.Literal(Quantity.Number(value)), measure)
            : new Expression.Literal(new Quantity(value * unit.One.Value, unit.One.Dimension));
    }

    /// <summary>A unit with the power behind it; null where none follows.</summary>
    private Expression.Binary? Raised(Quantity unit) =>
        Take("^") is null ? null : new Expression.Binary('^', new Expression.Literal(unit), Exponent());

    /// <summary>What stands behind a power: a number there is never the beginning of a shop fraction, as in <c>6 mm^2/2 mm</c>.</summary>
    private Expression Exponent()
    {
        fractions = false;
        var exponent = Signed();
        fractions = true;
        return exponent;
    }

    /// <summary>A fraction of whole numbers followed by a unit; anything else leaves the place as it was.</summary>
    private double? Fraction()
    {
        var start = at;
        if (Whole() is { } first)
        {
            double? second = null;
            SkipSpace();
            if (at < text.Length && char.IsAsciiDigit(text[at]))
            {
                second = Whole();
                SkipSpace();
            }

            if (at < text.Length && text[at] == '/')
            {
                at++;
                SkipSpace();
                if (Whole() is { } below && below > 0)
                {
                    var mark = at;
                    if (UnitAhead() is not null)
                    {
                        at = mark;
                        return second is { } above ? first + (above / below) : first / below;
                    }
                }
            }
        }

        at = start;
        return null;
    }

    private double? Whole()
    {
        var start = at;
        while (at < text.Length && char.IsAsciiDigit(text[at]))
        {
            at++;
        }

        return at > start && at - start < 10 && (at >= text.Length || (text[at] != '.' && text[at] != 'e' && text[at] != 'E'))
            ? double.Parse(text.AsSpan(start, at - start), CultureInfo.InvariantCulture)
            : null;
    }

    private double PlainNumber()
    {
        var start = at;
        while (at < text.Length && (char.IsAsciiDigit(text[at]) || text[at] == '.'))
        {
            at++;
        }

        if (at < text.Length && text[at] is 'e' or 'E')
        {
            var mark = at++;
            if (at < text.Length && text[at] is '+' or '-')
            {
                at++;
            }

            if (at >= text.Length || !char.IsAsciiDigit(text[at]))
            {
                at = mark;
            }

            while (at < text.Length && char.IsAsciiDigit(text[at]))
            {
                at++;
            }
        }

        var span = text.AsSpan(start, at - start);
        return double.TryParse(span, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value)
            ? value
            : throw new ParseFailure(new Refusal("formula.number", $"'{span}' is not a number that can be used."));
    }

    private Expression NameOrCall()
    {
        var name = Word();
        SkipSpace();
        if (at < text.Length && text[at] == '(')
        {
            return Call(name);
        }

        return name == "pi" ? new Expression.Literal(Quantity.Number(Math.PI)) : new Expression.Name(name);
    }

    private Expression.Call Call(string name)
    {
        if (!Function.All.TryGetValue(name, out var function))
        {
            throw new ParseFailure(
                new Refusal("formula.unknown-function", $"There is no function '{name}'. Known: {string.Join(", ", Function.All.Keys)}.")
            );
        }

        Expect('(');
        List<Expression> arguments = [Sum()];
        while (Take(",") is not null)
        {
            arguments.Add(Sum());
        }

        Expect(')');
        return arguments.Count >= function.Least && arguments.Count <= function.Most
            ? new Expression.Call(function, arguments)
            : throw new ParseFailure(
                new Refusal(
                    "formula.arguments",
                    $"{name} takes {function.Least}{(function.Most > function.Least ? " or more" : "")} value(s), not {arguments.Count}."
                )
            );
    }

    private (string Name, Quantity One)? UnitAhead()
    {
        var mark = at;
        SkipSpace();
        if (at < text.Length && char.IsLetter(text[at]))
        {
            var word = Word();
            if (Units.TryGet(word, out var one))
            {
                return (word, one);
            }
        }

        at = mark;
        return null;
    }

    private string Word()
    {
        var start = at;
        while (at < text.Length && (char.IsLetterOrDigit(text[at]) || text[at] == '_'))
        {
            at++;
        }

        return text[start..at];
    }

    private char? Take(string any)
    {
        SkipSpace();
        return at < text.Length && any.Contains(text[at], StringComparison.Ordinal) ? text[at++] : null;
    }

    private void Expect(char c)
    {
        if (Take(c.ToString()) is null)
        {
            throw Unexpected($"'{c}'");
        }
    }

    private void SkipSpace()
    {
        while (at < text.Length && char.IsWhiteSpace(text[at]))
        {
            at++;
        }
    }

    private ParseFailure Unexpected(string expected)
    {
        SkipSpace();
        var found = at < text.Length ? $"'{text[at]}' at character {at + 1}" : "the end";
        return new ParseFailure(new Refusal("formula.syntax", $"Expected {expected}, found {found}."));
    }

    /// <summary>Carries a refusal out of the descent; never leaves <see cref="Parse"/>.</summary>
    private sealed class ParseFailure(Refusal refusal) : Exception(refusal.Message)
    {
        public Refusal Refusal { get; } = refusal;
    }
}
