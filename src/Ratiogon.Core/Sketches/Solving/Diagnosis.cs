using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Whether a new constraint or dimension says something new.</summary>
public enum Novelty
{
    /// <summary>It takes at least one freedom.</summary>
    Independent,

    /// <summary>It follows from others and agrees with them.</summary>
    Redundant,

    /// <summary>It cannot hold together with others: that was shown.</summary>
    Clash,

    /// <summary>No way was found from the drawn position to meet it; that there is none was not shown.</summary>
    NoWay,
}

/// <summary>The answer about one rule.</summary>
/// <param name="Novelty">The verdict.</param>
/// <param name="Others">The smallest set of others that it depends on or clashes with; without a way, those that were not met.</param>
/// <param name="Report">How solving with it ended.</param>
/// <param name="Note">What limits the answer, in words; null where nothing does.</param>
public sealed record Finding(Novelty Novelty, IReadOnlyList<Owner> Others, SolveReport Report, string? Note = null);

/// <summary>
/// Dependence between rules, read from the Jacobian over the raw unknowns, at a witness so that lucky positions do not
/// count. A rule that follows is one whose row depends on others there and which they meet already; which others is read from
/// the one combination of independent rows. What cannot hold together is found by <see cref="Conflicts"/>.
/// </summary>
public static class Diagnosis
{
    /// <summary>A scaled residual below which a rule that follows from others agrees with them as drawn.</summary>
    private const double Agrees = 1e-6;

    private const int MostByAdding = 400;

    /// <summary>Judges a rule that is already in the sketch, with the rest of the sketch solvable without it.</summary>
    /// <param name="sketch">The sketch, the rule included, at positions that meet the others.</param>
    /// <param name="rule">The rule in question.</param>
    /// <param name="values">Driving values, the rule's included.</param>
    public static Finding Judge(Sketch sketch, Owner rule, IReadOnlyDictionary<string, double> values)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var (dependsOn, drawn) = Dependence(sketch, rule);
        var report = SketchSolver.Solve(sketch, values, null, new HashSet<Owner> { rule });
        if (report.Solved)
        {
            // What follows from the others holds already where they hold; what had to move things took a freedom.
            return dependsOn is null || !Holds(sketch, rule, values)
                ? new Finding(Novelty.Independent, [], report)
                : new Finding(Novelty.Redundant, dependsOn, report, drawn ? "judged at the drawn position only" : null);
        }

        var clash = Conflicts.Find(sketch, values, rule);
        return clash is null
            ? new Finding(Novelty.NoWay, report.Unmet, report)
            : new Finding(Novelty.Clash, [.. clash.Rules.Where(r => r != rule)], report, clash.Note);
    }

    /// <summary>The rules that a rule depends on, or null when it says something new.</summary>
    public static IReadOnlyList<Owner>? DependsOn(Sketch sketch, Owner rule) => Dependence(sketch, rule).On;

    private static (IReadOnlyList<Owner>? On, bool Drawn) Dependence(Sketch sketch, Owner rule)
    {
        // The rule itself must not shape the witness: it is let go with the dimensions.
        var without = Without(sketch, rule);
        var at = Witness.Of(without);
        var rows = Rows.Of(sketch with { Entities = (at ?? without).Entities });
        var own = Enumerable.Range(0, rows.Count).Where(e => rows.Owner(e) == rule).ToList();
        var others = Enumerable.Range(0, rows.Count).Where(e => rows.Owner(e) != rule).ToList();
        var space = new RowDependence([.. others.Select(e => rows[e])], rows.ColumnCount);

        // Rows that only settle what the rule brought along for itself say nothing of the sketch.
        var (owners, news) = (new List<Owner>(), 0);
        foreach (var e in own)
        {
            if (space.Depends(rows[e].Columns, rows[e].Values, others.Count + e) is { } made)
            {
                owners.AddRange(made.Keys.Where(k => k < others.Count).Select(k => rows.Owner(others[k])).Where(o => o != rule));
            }
            else if (++news > rows.OwnUnknowns(rule))
            {
                return (null, at is null);
            }
        }

        return ([.. owners.Distinct()], at is null);
    }

    /// <summary>Whether a rule holds at the drawn positions.</summary>
    private static bool Holds(Sketch sketch, Owner rule, IReadOnlyDictionary<string, double> values)
    {
        var system = SystemReduction.Of(SketchCompiler.Write(sketch, values, reducing: false));
        return Enumerable
            .Range(0, system.Equations.Length)
            .Where(e => system.Equations[e].Owner == rule)
            .All(e => Math.Abs(system.Residual(e, system.Start)) <= Math.Max(Agrees, system.Tolerance));
    }

    /// <summary>Whether any of these rules, all in the sketch, says nothing new beside the others.</summary>
    public static bool AnyDependent(Sketch sketch, IReadOnlyCollection<Owner> rules)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(rules);
        var rows = Rows.Of(Witness.Of(sketch) ?? sketch);
        var fresh = rules as IReadOnlySet<Owner> ?? rules.ToHashSet();
        var mine = Enumerable.Range(0, rows.Count).Where(e => fresh.Contains(rows.Owner(e))).ToList();
        var many = mine.Count > MostByAdding;
        var first = many
            ? [.. Enumerable.Range(0, rows.Count)]
            : Enumerable.Range(0, rows.Count).Where(e => !fresh.Contains(rows.Owner(e))).ToList();
        var space = new RowDependence([.. first.Select(e => rows[e])], rows.ColumnCount);
        if (many)
        {
            return space.Dependent.Any(d => d.Value.Keys.Append(d.Key).Any(e => fresh.Contains(rows.Owner(e))));
        }

        var news = fresh.ToDictionary(o => o, _ => 0);
        foreach (var e in mine)
        {
            news[rows.Owner(e)] += space.Add(rows[e].Columns, rows[e].Values, rows.Count + e) ? 1 : 0;
        }

        return news.Any(n => n.Value <= rows.OwnUnknowns(n.Key));
    }

    /// <summary>Rules of a sketch, the later ones first, that follow from the others that are left.</summary>
    /// <param name="sketch">The sketch.</param>
    /// <param name="order">The order that counts; by default constraints, then dimensions, as they stand in the sketch.</param>
    public static IReadOnlyList<Redundancy> AllRedundant(Sketch sketch, IEnumerable<Owner>? order = null)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var found = new List<Redundancy>();
        var place = (order ?? RulesOf(sketch)).Select((r, i) => (r, i)).ToDictionary(p => p.r, p => p.i);
        for (var left = sketch; ; )
        {
            var rows = Rows.Of(Witness.Of(left) ?? left);
            var space = new RowDependence([.. Enumerable.Range(0, rows.Count).Select(e => rows[e])], rows.ColumnCount);
            var suspects = space
                .Dependent.SelectMany(d => d.Value.Keys.Append(d.Key))
                .Select(rows.Owner)
                .Where(place.ContainsKey)
                .Distinct()
                .OrderByDescending(o => place[o])
                .ToList();
            var before = found.Count;
            foreach (var suspect in suspects)
            {
                if (DependsOn(left, suspect) is { } others)
                {
                    found.Add(new Redundancy(suspect, others));
                    left = Without(left, suspect);
                    break;
                }
            }

            if (found.Count == before)
            {
                return found;
            }
        }
    }

    /// <summary>All constraints and driving dimensions, in their order.</summary>
    internal static IEnumerable<Owner> RulesOf(Sketch sketch) =>
        sketch
            .Constraints.Select(c => new Owner(OwnerKind.Constraint, c.Id))
            .Concat(sketch.Dimensions.Where(d => d.Driving).Select(d => new Owner(OwnerKind.Dimension, d.Id)));

    /// <summary>The sketch without one rule.</summary>
    public static Sketch Without(Sketch sketch, Owner rule) =>
        rule.Kind switch
        {
            OwnerKind.Constraint => sketch with { Constraints = sketch.Constraints.RemoveAll(c => c.Id == rule.Id) },
            OwnerKind.Dimension => sketch with { Dimensions = sketch.Dimensions.RemoveAll(d => d.Id == rule.Id) },
            _ => sketch,
        };

    /// <summary>The rows of all rules of a sketch over its raw unknowns, where it stands, each column in the size of what it belongs
    /// to.</summary>
    private sealed class Rows
    {
        private readonly SystemWriter writer;
        private readonly EquationSystem system;
        private readonly double[] size;
        private readonly Dictionary<int, (int[] Columns, double[] Values)> known = [];

        private Rows(Sketch sketch)
        {
            writer = SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: false);
            system = SystemReduction.Of(writer);
            var sizes = writer.Sizes(Scales.Of(sketch));
            size = new double[system.UnknownCount];
            Array.Fill(size, 1);
            for (var raw = 0; raw < sizes.Length; raw++)
            {
                if (system.UnknownOf(raw) is var u and >= 0)
                {
                    size[u] = sizes[raw];
                }
            }
        }

        public int Count => system.Equations.Length;

        public int ColumnCount => system.UnknownCount;

        public static Rows Of(Sketch sketch) => new(sketch);

        public Owner Owner(int e) => system.Equations[e].Owner;

        public int OwnUnknowns(Owner of) => writer.OwnUnknowns(of);

        public (int[] Columns, double[] Values) this[int e]
        {
            get
            {
                if (!known.TryGetValue(e, out var row))
                {
                    var values = new double[Equation.MostVariables];
                    system.Evaluate(e, system.Start, values);
                    var columns = system.Columns[e];
                    known[e] = row = (columns, [.. columns.Select((c, i) => values[i] * size[c])]);
                }

                return row;
            }
        }
    }
}

/// <summary>A rule that follows from others.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Others">What it follows from.</param>
public readonly record struct Redundancy(Owner Rule, IReadOnlyList<Owner> Others);
