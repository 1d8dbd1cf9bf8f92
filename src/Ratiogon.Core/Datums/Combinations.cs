using System.Collections.Immutable;

namespace Ratiogon.Core.Datums;

/// <summary>Every choice of one case for each condition.</summary>
internal static class Combinations
{
    /// <summary>The cases of each condition, or the first refusal.</summary>
    public static Outcome<IReadOnlyList<ImmutableArray<T>>> Write<T>(IReadOnlyList<Condition> conditions)
    {
        var all = new List<ImmutableArray<T>>();
        foreach (var condition in conditions)
        {
            var cases = ((Relation<T>)condition.Relation).Write(condition.Of, [.. condition.Values]);
            if (!cases.Done)
            {
                return cases.Refusal!;
            }

            all.Add(cases.Value);
        }

        return all;
    }

    public static IEnumerable<IReadOnlyList<T>> Of<T>(IReadOnlyList<ImmutableArray<T>> cases, int most)
    {
        var (counts, at) = (cases.Select(c => c.Length).ToArray(), new int[cases.Count]);
        for (var n = 0; n < most; n++)
        {
            yield return [.. cases.Select((c, i) => c[at[i]])];
            var k = cases.Count - 1;
            while (k >= 0 && ++at[k] == counts[k])
            {
                at[k--] = 0;
            }

            if (k < 0)
            {
                yield break;
            }
        }
    }
}

/// <summary>Labels of roots that survive changes of size.</summary>
internal static class Labels
{
    /// <summary>How far beside a root it is looked whether values rise, as a share of the range.</summary>
    private const double Aside = 1e-6;

    /// <summary>Roots told apart by which way the function crosses zero there; those of one way are counted.</summary>
    public static IEnumerable<(string Label, double T)> ByCrossing(IReadOnlyList<double> roots, Func<double, double> f, double range)
    {
        var (up, down) = (0, 0);
        foreach (var t in roots)
        {
            var rising = f(t + (Aside * range)) >= f(t - (Aside * range));
            var n = rising ? ++up : ++down;
            yield return ($"{(rising ? "in" : "out")}{(n > 1 ? n.ToString(System.Globalization.CultureInfo.InvariantCulture) : "")}", t);
        }
    }
}
