using System.Globalization;
using Ratiogon.Core;

namespace Ratiogon.Exchange;

/// <summary>Numbers as SVG writes them: nothing need stand between two that can be told apart by a sign or a second point.</summary>
internal sealed class SvgNumbers(string text)
{
    private const double Largest = 1e12;
    private int at;

    /// <summary>How far it has read.</summary>
    public int Place => at;

    public bool More
    {
        get
        {
            Skip();
            return at < text.Length;
        }
    }

    public static List<double> All(string? text)
    {
        var (numbers, all) = (new SvgNumbers(text ?? ""), new List<double>());
        while (numbers.More)
        {
            all.Add(numbers.Number());
        }

        return all;
    }

    /// <summary>One number; throws <see cref="FormatException"/> for anything else.</summary>
    public static double One(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) && Math.Abs(v) < Largest
            ? v
            : throw new FormatException($"'{Ids.Shorten(text)}' is no number.");

    /// <summary>The letter of a command of path data, or null where a number follows.</summary>
    public char? Command()
    {
        Skip();
        return at < text.Length && char.IsAsciiLetter(text[at]) && text[at] is not ('e' or 'E') ? text[at++] : null;
    }

    public bool Flag()
    {
        Skip();
        return at < text.Length && text[at] is '0' or '1'
            ? text[at++] == '1'
            : throw new FormatException("a flag of an arc is neither 0 nor 1.");
    }

    public double Number()
    {
        Skip();
        var from = at;
        if (at < text.Length && text[at] is '+' or '-')
        {
            at++;
        }

        var point = false;
        while (at < text.Length && (char.IsAsciiDigit(text[at]) || (text[at] == '.' && !point)))
        {
            point |= text[at++] == '.';
        }

        // An exponent has digits: 'e' may also begin a unit.
        if (at < text.Length && text[at] is 'e' or 'E')
        {
            var end = at + 1;
            if (end < text.Length && text[end] is '+' or '-')
            {
                end++;
            }

            if (end < text.Length && char.IsAsciiDigit(text[end]))
            {
                at = end;
                while (at < text.Length && char.IsAsciiDigit(text[at]))
                {
                    at++;
                }
            }
        }

        return from == at
            ? throw new FormatException($"'{Ids.Shorten(text[at..Math.Min(text.Length, at + 12)])}' is no number.")
            : One(text[from..at]);
    }

    private void Skip()
    {
        while (at < text.Length && (char.IsWhiteSpace(text[at]) || text[at] == ','))
        {
            at++;
        }
    }
}
