using System.Collections.Immutable;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Rules that cannot hold together.</summary>
/// <param name="Rules">Alone they fail from wherever they are started; without any one of them the rest holds.</param>
/// <param name="Note">Where the search was cut short: that and why, in words; the set is then true but may not be the smallest.</param>
public sealed record Conflict(IReadOnlyList<Owner> Rules, string? Note = null);

/// <summary>
/// The smallest set of rules that cannot hold together, by divide and conquer (Junker, "QuickXplain: preferred explanations
/// and relaxations for over-constrained problems", AAAI 2004). The rules that pull against each other where the sum of
/// squares is least are a set that fails by itself as a rule, and a small one: it is tried first, and only where it holds
/// from somewhere are all rules of the component searched. Nothing is called a conflict that some start could meet.
/// </summary>
public static class Conflicts
{
    /// <summary>A rule whose residual is above this share of the largest takes part in the conflict.</summary>
    private const double Pulls = 1e-4;

    /// <summary>The work that a search may take, in rules solved.</summary>
    private const int MostWork = 40_000;
    private const int FewStarts = 6;
    private const int ManyStarts = 60;
    private const int ManyRules = 60;

    /// <param name="sketch">A sketch that does not solve.</param>
    /// <param name="values">Its driving values, in mm and rad.</param>
    /// <param name="rule">A rule without which the sketch does solve; null where none is known.</param>
    /// <param name="cancel">Stops the search; the answer then says so.</param>
    /// <returns>The set, or null when everything can hold together from some start, or nothing could be shown.</returns>
    public static Conflict? Find(
        Sketch sketch,
        IReadOnlyDictionary<string, double> values,
        Owner? rule = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(values);
        var pool = Related(sketch, values, rule);
        var search = new Search(sketch, values, cancel);
        foreach (var suspects in new[] { Pulling(sketch, values), Crossed(sketch, values), pool })
        {
            var set = (rule is { } r && !suspects.Contains(r) ? suspects.Append(r) : suspects).Where(pool.Contains).ToList();
            if (set.Count == 0 || search.Holds(set, FewStarts))
            {
                continue;
            }

            // A few starts lead to the set, many decide whether it is one; where they meet it, many are tried from the first.
            foreach (var starts in new[] { FewStarts, ManyStarts })
            {
                var found = search.Smallest(set, rule, starts);
                if (!search.Holds(found.Rules, ManyStarts))
                {
                    return found;
                }

                if (search.Holds(set, ManyStarts))
                {
                    break;
                }
            }
        }

        return null;
    }

    /// <summary>Rules whose equations stay unmet where the sum of all squares is least: to first order they fail by themselves.</summary>
    private static List<Owner> Pulling(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        var system = SystemReduction.Of(SketchCompiler.Write(sketch, values, reducing: false));
        var x = (double[])system.Start.Clone();
        var steps = 0;
        foreach (var (equations, unknowns) in Components.Of(system))
        {
            new MinimumNorm(system, [.. equations], [.. unknowns], x).Solve(x, system.Weights, ref steps);
        }

        var residuals = Enumerable.Range(0, system.Equations.Length).Select(e => Math.Abs(system.Residual(e, x))).ToList();
        var largest = residuals.DefaultIfEmpty(0).Max();
        return double.IsFinite(largest) && largest > system.Tolerance
            ?
            [
                .. residuals
                    .Select((r, e) => (r, system.Equations[e].Owner))
                    .Where(p => p.r > Pulls * largest && p.Owner.Kind != OwnerKind.Entity)
                    .Select(p => p.Owner)
                    .Distinct(),
            ]
            : [];
    }

    /// <summary>Rules that contradict each other already where they only identify unknowns.</summary>
    private static List<Owner> Crossed(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        var writer = SketchCompiler.Write(sketch, values, reducing: true);
        var crossed = writer.ClashingReductions.Where(o => o.Kind != OwnerKind.Entity).Distinct().ToList();
        if (crossed.Count == 0)
        {
            return [];
        }

        // Whatever else only identifies unknowns may have a part in it.
        var reducing = Diagnosis
            .RulesOf(sketch)
            .Where(o =>
                o.Kind == OwnerKind.Dimension || ConstraintCatalog.Find(sketch.Constraints.First(c => c.Id == o.Id).Kind)!.Turn == 0
            );
        return [.. reducing.Union(crossed)];
    }

    /// <summary>All rules that hang together with a rule, or with any rule that is not met: those least near first.</summary>
    private static List<Owner> Related(Sketch sketch, IReadOnlyDictionary<string, double> values, Owner? rule)
    {
        var rules = Diagnosis.RulesOf(sketch).ToList();
        var touched = rules.ToDictionary(r => r, r => Touched(sketch, r));
        var rulesOf = touched.SelectMany(t => t.Value.Select(id => (id, t.Key))).ToLookup(p => p.id, p => p.Key);
        var joined = sketch
            .Entities.SelectMany(e => e.Points.SelectMany(p => new[] { (e.Id, p), (p, e.Id) }))
            .ToLookup(p => p.Item1, p => p.Item2);
        var open = new Queue<string>();
        var (seen, order) = (new HashSet<string>(StringComparer.Ordinal), new List<Owner>());
        var inOrder = new HashSet<Owner>();
        foreach (var first in rule is { } r ? [r] : Unmet(sketch, values))
        {
            Reach(first);
        }

        while (open.TryDequeue(out var id))
        {
            foreach (var next in rulesOf[id])
            {
                Reach(next);
            }

            foreach (var other in joined[id].Where(o => !Sketch.IsBuiltIn(o) && seen.Add(o)))
            {
                open.Enqueue(other);
            }
        }

        order.Reverse();
        return order;

        void Reach(Owner next)
        {
            if (inOrder.Add(next))
            {
                order.Add(next);
                foreach (var id in touched[next].Where(seen.Add))
                {
                    open.Enqueue(id);
                }
            }
        }
    }

    private static List<Owner> Unmet(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        var report = SketchSolver.Solve(sketch, values);
        var unmet = report.Unmet.Where(o => o.Kind != OwnerKind.Entity).ToList();
        return unmet.Count > 0 ? unmet : [.. Diagnosis.RulesOf(sketch)];
    }

    private static string[] Touched(Sketch sketch, Owner rule)
    {
        var of =
            rule.Kind == OwnerKind.Constraint
                ? sketch.Constraints.First(c => c.Id == rule.Id).Of
                : sketch.Dimensions.First(d => d.Id == rule.Id).Of;
        return [.. of.Concat(of.SelectMany(id => sketch.Find(id)!.Points)).Where(id => !Sketch.IsBuiltIn(id)).Distinct()];
    }

    /// <summary>Sets of rules tried by themselves, within a bound on the work.</summary>
    private sealed class Search(Sketch sketch, IReadOnlyDictionary<string, double> values, CancellationToken cancel)
    {
        private readonly Dictionary<string, SketchConstraint> constraints = sketch.Constraints.ToDictionary(c => c.Id);
        private readonly Dictionary<string, SketchDimension> dimensions = sketch.Dimensions.ToDictionary(d => d.Id);
        private int work;

        private bool Over => work > MostWork || cancel.IsCancellationRequested;

        /// <summary>Whether these rules can hold together, all others left out, from some start.</summary>
        public bool Holds(IReadOnlyCollection<Owner> rules, int starts)
        {
            work += rules.Count + 4;
            var alone = Only(rules);
            return SketchSolver.AnySolution(
                alone,
                alone.Dimensions.ToDictionary(d => d.Id, d => values[d.Id]),
                rules.Count > ManyRules ? Math.Min(starts, FewStarts) : starts
            )
                is not null;
        }

        /// <summary>A smallest failing part of a failing set; a rule that is known to be part of it is not tried.</summary>
        public Conflict Smallest(List<Owner> set, Owner? known, int starts)
        {
            var first = known is { } k ? ImmutableList.Create(k) : [];
            var rest = set.Where(r => r != known).ToList();
            var found =
                rest.Count == 0 || (first.Count > 0 && !Holds(first, starts))
                    ? first
                    : first.AddRange(Explain(first, first.Count > 0, rest, starts));
            return new Conflict(
                [.. found.Distinct()],
                Over ? $"among these {found.Count}: the search for fewer was cut short after {work} rules tried" : null
            );
        }

        private List<Owner> Explain(ImmutableList<Owner> background, bool grown, List<Owner> rules, int starts)
        {
            if (Over)
            {
                return rules;
            }

            if (grown && background.Count > 1 && !Holds(background, starts))
            {
                return [];
            }

            if (rules.Count <= 1)
            {
                return rules;
            }

            var half = rules.Count / 2;
            var (near, far) = (rules[half..], rules[..half]);
            var ofFar = Explain(background.AddRange(near), near.Count > 0, far, starts);
            var ofNear = Explain(background.AddRange(ofFar), ofFar.Count > 0, near, starts);
            return [.. ofFar, .. ofNear];
        }

        private Sketch Only(IReadOnlyCollection<Owner> rules)
        {
            var keep = new HashSet<string>(StringComparer.Ordinal);
            foreach (var id in rules.SelectMany(r => r.Kind == OwnerKind.Constraint ? constraints[r.Id].Of : dimensions[r.Id].Of))
            {
                keep.Add(id);
                keep.UnionWith(sketch.Find(id)!.Points);
            }

            return sketch with
            {
                // Curves between these points belong to it: they must not vanish either.
                Entities = [.. sketch.Entities.Where(e => keep.Contains(e.Id) || (e.Points.Count > 0 && e.Points.All(keep.Contains)))],
                Constraints = [.. rules.Where(r => r.Kind == OwnerKind.Constraint).Select(r => constraints[r.Id])],
                Dimensions = [.. rules.Where(r => r.Kind == OwnerKind.Dimension).Select(r => dimensions[r.Id])],
                Shapes = [],
            };
        }
    }
}
