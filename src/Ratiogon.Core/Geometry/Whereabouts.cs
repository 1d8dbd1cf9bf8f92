using System.Collections.Immutable;
using System.Globalization;

namespace Ratiogon.Core.Geometry;

/// <summary>
/// Tells things of one kind apart by where they are, as people do: left and right, upper and lower, and only where that does not
/// do, by a number in reading order.
/// </summary>
public static class Whereabouts
{
    /// <summary>Places nearer than this share of their spread count as level with each other.</summary>
    private const double Level = 0.05;

    private static readonly string[] Across = ["left", "middle", "right"];
    private static readonly string[] Along = ["front", "middle", "back"];
    private static readonly string[] Up = ["lower", "middle", "upper"];

    /// <summary>For each place, words that no other place has; a single place has none.</summary>
    /// <param name="places">On a sheet that is looked at: x to the right, y upwards.</param>
    public static ImmutableArray<string> Of(IReadOnlyList<Vec2> places)
    {
        ArgumentNullException.ThrowIfNull(places);
        return Told([.. places.Select(p => p.Y)], Up, [.. places.Select(p => p.X)], Across);
    }

    /// <summary>The same in space: z upwards, seen from the front (from -y).</summary>
    /// <param name="places">In millimetres.</param>
    public static ImmutableArray<string> Of(IReadOnlyList<Vec3> places)
    {
        ArgumentNullException.ThrowIfNull(places);
        double[] x = [.. places.Select(p => p.X)];
        double[] y = [.. places.Select(p => p.Y)];
        double[] z = [.. places.Select(p => p.Z)];

        // The two directions in which they lie furthest apart, the vertical one said first.
        var byDepth = new[] { (Values: z, Words: Up), (Values: x, Words: Across), (Values: y, Words: Along) }
            .Select((axis, place) => (axis.Values, axis.Words, Place: place))
            .OrderByDescending(axis => axis.Values.Length == 0 ? 0 : axis.Values.Max() - axis.Values.Min())
            .Take(2)
            .OrderBy(axis => axis.Place)
            .ToArray();
        return Told(byDepth[0].Values, byDepth[0].Words, byDepth[1].Values, byDepth[1].Words);
    }

    /// <summary>Words with where a thing is: before them, or as a number behind them; as they are where nothing needs to be said.</summary>
    /// <param name="words">What it is.</param>
    /// <param name="where">As <see cref="Of(IReadOnlyList{Vec2})"/> answers it.</param>
    public static string Placed(string words, string where)
    {
        ArgumentNullException.ThrowIfNull(where);
        return where.Length == 0 ? words
            : char.IsAsciiDigit(where[0]) ? $"{words} ({where})"
            : $"{where} {words}";
    }

    private static ImmutableArray<string> Told(double[] first, string[] firstWords, double[] second, string[] secondWords)
    {
        var n = first.Length;
        if (n < 2)
        {
            return [.. Enumerable.Repeat("", n)];
        }

        var spread = Math.Max(first.Max() - first.Min(), second.Max() - second.Min());
        var (a, b) = (Steps(first, spread), Steps(second, spread));
        string[] one = [.. a.Select(s => Word(s, a.Max(), firstWords))];
        string[] other = [.. b.Select(s => Word(s, b.Max(), secondWords))];
        foreach (var told in new[] { other, one, [.. one.Zip(other, Both)] })
        {
            if (told.All(t => t.Length > 0) && told.Distinct().Count() == n)
            {
                return [.. told];
            }
        }

        // In reading order: from above to below, and from the left in each row.
        var ordered = Enumerable.Range(0, n).OrderByDescending(i => a[i]).ThenBy(i => b[i]).ToList();
        var words = new string[n];
        for (var k = 0; k < n; k++)
        {
            words[ordered[k]] = string.Create(CultureInfo.InvariantCulture, $"{k + 1} of {n}");
        }

        return [.. words];
    }

    private static string Both(string first, string second) =>
        first == "middle" && second == "middle" ? "middle"
        : first.Length == 0 ? second
        : second.Length == 0 ? first
        : $"{first} {second}";

    /// <summary>The row or column of each value, counted from the lowest.</summary>
    private static int[] Steps(double[] values, double spread)
    {
        var ordered = values.Order().ToList();
        var starts = new List<double> { ordered[0] };
        for (var i = 1; i < ordered.Count; i++)
        {
            if (ordered[i] - ordered[i - 1] > Level * spread)
            {
                starts.Add(ordered[i]);
            }
        }

        return [.. values.Select(v => starts.FindLastIndex(s => s <= v))];
    }

    /// <summary>Empty where all are level, or where there are more rows than words.</summary>
    private static string Word(int step, int last, string[] words) =>
        last switch
        {
            0 => "",
            1 => words[step == 0 ? 0 : 2],
            2 => words[step],
            _ => "",
        };
}
