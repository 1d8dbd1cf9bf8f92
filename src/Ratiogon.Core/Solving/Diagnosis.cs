using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>Whether a new constraint or dimension says something new.</summary>
public enum Novelty
{
    /// <summary>It takes at least one freedom.</summary>
    Independent,

    /// <summary>It follows from others and agrees with them.</summary>
    Redundant,

    /// <summary>It cannot hold together with others.</summary>
    Clash,
}

/// <summary>The answer about one rule.</summary>
/// <param name="Novelty">The verdict.</param>
/// <param name="Others">The smallest set of others that it depends on or clashes with.</param>
public sealed record Finding(Novelty Novelty, IReadOnlyList<Owner> Others);

/// <summary>
/// Dependence between constraints, read from the Jacobian over the raw unknowns, at a witness so that lucky positions
/// do not count. A set that cannot be met without being dependent (a triangle whose sides do not reach) is found by
/// leaving members out one at a time while the rest still fails.
/// </summary>
public static class Diagnosis
{
    private const int MostTrials = 60;

    /// <summary>Judges a rule that is already in the sketch, with the rest of the sketch solvable without it.</summary>
    /// <param name="sketch">The sketch, the rule included, at positions that meet the others.</param>
    /// <param name="rule">The rule in question.</param>
    /// <param name="values">Driving values, the rule's included.</param>
    public static Finding Judge(Sketch sketch, Owner rule, IReadOnlyDictionary<string, double> values)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var dependsOn = DependsOn(sketch, rule);
        var report = SketchSolver.Solve(sketch, values);
        if (dependsOn is not null)
        {
            return new Finding(report.Solved ? Novelty.Redundant : Novelty.Clash, dependsOn);
        }

        return report.Solved ? new Finding(Novelty.Independent, []) : new Finding(Novelty.Clash, SmallestUnsolvable(sketch, rule, values));
    }

    /// <summary>The rules that a rule depends on, or null when it says something new.</summary>
    public static IReadOnlyList<Owner>? DependsOn(Sketch sketch, Owner rule)
    {
        // The rule itself must not shape the witness: it is let go with the dimensions.
        var without = Without(sketch, rule);
        var at = Witness.Of(without) ?? without;
        var there = sketch with { Entities = at.Entities };
        var writer = SketchCompiler.Write(there, Witness.Readings(there), reducing: false);
        var system = EquationSystem.From(writer);
        var space = new RowSpace(system.UnknownCount, tracking: true);
        var row = new double[Equation.MostVariables];
        var own = new List<int>();
        for (var e = 0; e < system.Equations.Length; e++)
        {
            if (system.Equations[e].Owner == rule)
            {
                own.Add(e);
            }
            else
            {
                system.Evaluate(e, system.Start, row);
                space.Add(e, system.Columns[e], row.AsSpan(0, system.Columns[e].Length));
            }
        }

        // Rows that only settle what the rule brought along for itself say nothing of the sketch.
        var (owners, news) = (new List<Owner>(), 0);
        foreach (var e in own)
        {
            system.Evaluate(e, system.Start, row);
            if (space.Add(e, system.Columns[e], row.AsSpan(0, system.Columns[e].Length)) is not { } factors)
            {
                if (++news > writer.OwnUnknowns(rule))
                {
                    return null;
                }

                continue;
            }

            owners.AddRange(factors.Keys.Select(k => system.Equations[k].Owner).Where(o => o != rule));
        }

        return [.. owners.Distinct()];
    }

    /// <summary>Whether any of these rules, all in the sketch, says nothing new beside the others.</summary>
    public static bool AnyDependent(Sketch sketch, IReadOnlyCollection<Owner> rules)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(rules);
        var at = Witness.Of(sketch) ?? sketch;
        var writer = SketchCompiler.Write(at, Witness.Readings(at), reducing: false);
        var system = EquationSystem.From(writer);
        var space = new RowSpace(system.UnknownCount, tracking: false);
        var row = new double[Equation.MostVariables];
        var silent = rules.ToHashSet();
        var news = new Dictionary<Owner, int>();
        for (var e = 0; e < system.Equations.Length; e++)
        {
            if (!rules.Contains(system.Equations[e].Owner))
            {
                AddRow(e);
            }
        }

        for (var e = 0; e < system.Equations.Length; e++)
        {
            var owner = system.Equations[e].Owner;
            if (rules.Contains(owner) && AddRow(e) && (news[owner] = news.GetValueOrDefault(owner) + 1) > writer.OwnUnknowns(owner))
            {
                silent.Remove(owner);
            }
        }

        return silent.Count > 0;

        bool AddRow(int e)
        {
            system.Evaluate(e, system.Start, row);
            return space.Add(e, system.Columns[e], row.AsSpan(0, system.Columns[e].Length)) is null;
        }
    }

    /// <summary>Rules of a sketch, in order, that follow from those before them.</summary>
    public static IReadOnlyList<(Owner Rule, IReadOnlyList<Owner> Others)> AllRedundant(Sketch sketch)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var found = new List<(Owner, IReadOnlyList<Owner>)>();
        var left = sketch;
        var rules = sketch.Constraints.Select(c => new Owner(OwnerKind.Constraint, c.Id)).Concat(sketch.Dimensions.Where(d => d.Driving).Select(d => new Owner(OwnerKind.Dimension, d.Id))).Reverse();
        if (!HasDependence(sketch))
        {
            return found;
        }

        foreach (var rule in rules.Take(MostTrials * 10))
        {
            if (DependsOn(left, rule) is { } others)
            {
                found.Add((rule, others));
                left = Without(left, rule);
            }
        }

        return found;
    }

    /// <summary>The sketch without one rule.</summary>
    public static Sketch Without(Sketch sketch, Owner rule) => rule.Kind switch
    {
        OwnerKind.Constraint => sketch with { Constraints = sketch.Constraints.RemoveAll(c => c.Id == rule.Id) },
        OwnerKind.Dimension => sketch with { Dimensions = sketch.Dimensions.RemoveAll(d => d.Id == rule.Id) },
        _ => sketch,
    };

    /// <summary>A smallest set of other rules that cannot hold together with one: members are left out one by one as
    /// long as the rest still fails.</summary>
    public static IReadOnlyList<Owner> SmallestUnsolvable(Sketch sketch, Owner rule, IReadOnlyDictionary<string, double> values)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var rest = Near(sketch, rule).Take(MostTrials).ToList();
        var needed = new List<Owner>();
        var left = sketch;
        foreach (var candidate in rest)
        {
            var fewer = Without(left, candidate);
            if (SketchSolver.Solve(fewer, values).Solved)
            {
                needed.Add(candidate);
            }
            else
            {
                left = fewer;
            }
        }

        return needed;
    }

    /// <summary>Whether any rule depends on others: cheaper than asking for which.</summary>
    private static bool HasDependence(Sketch sketch)
    {
        var at = Witness.Of(sketch) is { } w ? w : sketch;
        var writer = SketchCompiler.Write(at, Witness.Readings(at), reducing: false);
        var system = EquationSystem.From(writer);
        var space = new RowSpace(system.UnknownCount, tracking: false);
        var row = new double[Equation.MostVariables];
        for (var e = 0; e < system.Equations.Length; e++)
        {
            system.Evaluate(e, system.Start, row);
            if (space.Add(e, system.Columns[e], row.AsSpan(0, system.Columns[e].Length)) is not null)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>The other rules, the ones that share entities with the rule last, so that they are kept.</summary>
    private static IEnumerable<Owner> Near(Sketch sketch, Owner rule)
    {
        var touched = rule.Kind == OwnerKind.Constraint
            ? sketch.Constraints.First(c => c.Id == rule.Id).Of
            : sketch.Dimensions.First(d => d.Id == rule.Id).Of;
        var own = touched.Concat(touched.SelectMany(id => sketch.Find(id)!.Points)).ToHashSet(StringComparer.Ordinal);
        int Shared(IEnumerable<string> of) => of.Sum(id => own.Contains(id) ? 2 : sketch.Find(id)!.Points.Count(own.Contains));
        return sketch.Constraints.Select(c => (Owner: new Owner(OwnerKind.Constraint, c.Id), Shared: Shared(c.Of)))
            .Concat(sketch.Dimensions.Where(d => d.Driving).Select(d => (Owner: new Owner(OwnerKind.Dimension, d.Id), Shared: Shared(d.Of))))
            .Where(p => p.Owner != rule)
            .OrderBy(p => p.Shared)
            .Select(p => p.Owner);
    }
}
