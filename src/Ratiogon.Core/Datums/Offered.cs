using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace Ratiogon.Core.Datums;

/// <summary>One reading of the picks: which relation each has to the datum.</summary>
/// <param name="Kind">What they determine.</param>
/// <param name="Conditions">With the values they begin with.</param>
/// <param name="Determined">What comes of it.</param>
/// <param name="Cost">How far-fetched it is.</param>
public sealed partial record Offered(DatumKind Kind, ImmutableArray<Condition> Conditions, Determination Determined, int Cost)
{
    private static readonly string[] Ordinals = ["the first", "the second", "the third", "the fourth"];

    /// <summary>What it says of the picks without their names, which stand beside it: <c>square to it</c>, <c>through the first,
    /// along the second</c>.</summary>
    /// <param name="picks">In the order picked.</param>
    public string Said(IReadOnlyList<Thing> picks)
    {
        ArgumentNullException.ThrowIfNull(picks);
        return string.Join(", ", Conditions.Select(c => Its($"{c.Relation.Words} {Called(c, picks)}".TrimEnd())));
    }

    private static string Called(Condition condition, IReadOnlyList<Thing> picks) =>
        condition.Of.Length == 0 ? ""
        : condition.Of.Length == picks.Count
            ? picks.Count == 1 ? "it"
                : "them"
        : string.Join(" and ", condition.Of.Select(t => Ordinals[Math.Max(0, Array.FindIndex([.. picks], p => ReferenceEquals(p, t)))]));

    /// <summary>The axis of it is its axis.</summary>
    private static string Its(string words) => Owned().Replace(words, "its $1");

    [GeneratedRegex(@"\bthe (\w+) of it$", RegexOptions.CultureInvariant)]
    private static partial Regex Owned();

    /// <summary>Whether it can be made as it is, without a value or a choice.</summary>
    public bool AtOnce => Determined is { Determined: true, Solutions.Length: 1 } && Conditions.All(c => c.Relation.Fields.IsEmpty);
}

/// <summary>Everything that picks determine: all readings of them are tried and the sensible ones kept.</summary>
public static class Offering
{
    private const int MostPicks = 4;
    private const int MostReadings = 600;

    /// <summary>What a reading costs that holds only as things happen to stand: more than any that needs every pick.</summary>
    private const int OfChance = 4;

    /// <summary>Readings of picks that leave nothing free, the least far-fetched first; or, where none does, the others, those
    /// that cannot hold among them, as the most natural one tells best what is missing or wrong.</summary>
    /// <param name="kind">What is wanted.</param>
    /// <param name="picks">In the order picked.</param>
    /// <param name="values">The value that a field begins with, in millimetres and radians.</param>
    /// <param name="whole">Whether those that leave something free are wanted where none is determined.</param>
    public static ImmutableArray<Offered> Of(
        DatumKind kind,
        IReadOnlyList<Thing> picks,
        Func<RelationField, double> values,
        bool whole = false
    )
    {
        ArgumentNullException.ThrowIfNull(picks);
        ArgumentNullException.ThrowIfNull(values);
        if (picks.Count is 0 or > MostPicks)
        {
            return [];
        }

        var found = new List<Offered>();
        foreach (var reading in Readings(kind, picks, 0, []).Take(MostReadings))
        {
            var conditions = reading
                .Select(r => new Condition(r.Relation, [.. r.Of], [.. r.Relation.Fields.Select(values)]))
                .ToImmutableArray();
            var determined = DatumSolver.Solve(kind, conditions);
            if (determined.Refusal is not null && !whole)
            {
                continue;
            }

            // Values count as a little trouble; several solutions too; and what holds only as things happen to stand counts more.
            var cost =
                reading.Sum(r => r.Relation.Cost + r.Relation.Fields.Length)
                + (determined.Solutions.Length > 1 ? 1 : 0)
                + (determined.Redundant ? OfChance : 0)
                + (determined.Refusal is null ? 0 : 3);
            found.Add(new Offered(kind, conditions, determined, cost));
        }

        var complete = found.Where(Complete).OrderBy(o => o.Cost).ToList();
        return complete.Count > 0 || !whole ? [.. Distinct(complete)] : [.. found.OrderBy(o => o.Cost + o.Determined.Free)];
    }

    private static bool Complete(Offered o) =>
        o.Determined.Determined || (o.Kind == DatumKind.Frame && o.Determined.Free <= 1 && o.Determined.Solutions.Length > 0);

    /// <summary>Of readings that give the same datum the least far-fetched is enough; those with values stay, as they can be
    /// changed.</summary>
    private static List<Offered> Distinct(List<Offered> found)
    {
        var kept = new List<Offered>();
        foreach (var o in found)
        {
            if (
                o.Conditions.Any(c => !c.Relation.Fields.IsEmpty)
                || !kept.Any(k => k.Determined.Solutions.Length == o.Determined.Solutions.Length && Same(k, o))
            )
            {
                kept.Add(o);
            }
        }

        return kept;
    }

    private static bool Same(Offered a, Offered b) =>
        a.Determined.Solutions.All(s =>
            b.Determined.Solutions.Any(t =>
                s.Frame.Origin.DistanceTo(t.Frame.Origin) < Tolerances.KernelLength
                && Math.Abs(s.Frame.Z.Dot(t.Frame.Z)) > 1 - Tolerances.Angle
                && Math.Abs(s.Frame.X.Dot(t.Frame.X)) > 1 - Tolerances.Angle
            )
        );

    /// <summary>Every way to share the picks out to relations of one thing or two.</summary>
    private static IEnumerable<ImmutableList<(Relation Relation, Thing[] Of)>> Readings(
        DatumKind kind,
        IReadOnlyList<Thing> picks,
        int used,
        ImmutableList<(Relation, Thing[])> sofar
    )
    {
        var first = Enumerable.Range(0, picks.Count).FirstOrDefault(i => (used & (1 << i)) == 0, -1);
        if (first < 0)
        {
            yield return sofar;
            yield break;
        }

        var options = new List<(int Used, Relation Relation, Thing[] Of)>();
        for (var second = first + 1; second < picks.Count; second++)
        {
            if ((used & (1 << second)) == 0)
            {
                var both = used | (1 << first) | (1 << second);
                options.AddRange(
                    RelationCatalog
                        .Fitting(kind, [picks[first], picks[second]])
                        .Select(r => (both, r, (Thing[])[picks[first], picks[second]]))
                );
                options.AddRange(
                    RelationCatalog
                        .Fitting(kind, [picks[second], picks[first]])
                        .Where(r => !r.Fits([picks[first], picks[second]]))
                        .Select(r => (both, r, (Thing[])[picks[second], picks[first]]))
                );
            }
        }

        options.AddRange(RelationCatalog.Fitting(kind, [picks[first]]).Select(r => (used | (1 << first), r, (Thing[])[picks[first]])));
        foreach (var option in options.OrderBy(o => o.Relation.Cost))
        {
            foreach (var reading in Readings(kind, picks, option.Used, sofar.Add((option.Relation, option.Of))))
            {
                yield return reading;
            }
        }
    }
}
