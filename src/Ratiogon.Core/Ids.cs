namespace Ratiogon.Core;

/// <summary>The ids of steps, entities, constraints and dimensions: short, readable, safe in a file and in a name.</summary>
public static class Ids
{
    private const int Longest = 60;

    /// <summary>Why an id cannot be used, or null.</summary>
    public static Refusal? Check(string? id)
    {
        var good =
            !string.IsNullOrEmpty(id)
            && id.Length <= Longest
            && char.IsAsciiLetterOrDigit(id[0])
            && id.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.');
        return good
            ? null
            : new Refusal(
                "id.malformed",
                $"'{Shorten(id)}' cannot be an id: use up to {Longest} letters, digits, '.', '-' and '_', beginning with a letter or digit."
            );
    }

    /// <summary>The first of <c>stem1</c>, <c>stem2</c> … that is not taken; it is then taken.</summary>
    public static string Next(string stem, ISet<string> taken) => Next(stem, taken, 1).Id;

    /// <summary>The same from a number on, and its number.</summary>
    public static NextId Next(string stem, ISet<string> taken, int from)
    {
        for (var n = from; ; n++)
        {
            var id = $"{stem}{n}";
            if (taken.Add(id))
            {
                return new NextId(id, n);
            }
        }
    }

    /// <summary>The stem itself, or else the first of stem, joint and 2, 3 … that is not taken; it is then taken.</summary>
    public static string Free(string stem, string joint, ISet<string> taken)
    {
        ArgumentNullException.ThrowIfNull(taken);
        return taken.Add(stem) ? stem : Next(stem + joint, taken, 2).Id;
    }

    /// <summary>A text from outside cut to a length that is safe to show.</summary>
    public static string Shorten(string? text) =>
        text is null ? ""
        : text.Length > 60 ? string.Concat(text.AsSpan(0, 60), "…")
        : text;
}

/// <summary>An id that was free, and the number in it.</summary>
/// <param name="Id">The id.</param>
/// <param name="Number">Its number.</param>
public readonly record struct NextId(string Id, int Number);
