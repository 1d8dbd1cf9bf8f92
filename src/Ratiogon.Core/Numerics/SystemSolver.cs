namespace Ratiogon.Core.Numerics;

/// <summary>What solving a system came to.</summary>
/// <param name="X">All unknowns, at the best place found.</param>
/// <param name="Steps">Newton steps taken in all blocks.</param>
/// <param name="Blocks">Blocks that were solved on their own.</param>
internal readonly record struct SystemSolution(double[] X, int Steps, int Blocks);

/// <summary>
/// Solves a compiled system component by component: the well-determined blocks one after the other, then whatever is left
/// free by least movement, together with what is joined to it by nothing but lengths that should stay.
/// </summary>
internal sealed class SystemSolver
{
    private const int RigidSteps = 25;

    /// <summary>How much what is drawn weighs against what is asked, where it only chooses among solutions.</summary>
    private const double Lightly = 1e-6;

    private readonly EquationSystem system;
    private readonly double[] x;
    private readonly double[] drawn;
    private readonly List<Part> parts = [];
    private int steps;
    private int blocks;

    private SystemSolver(EquationSystem system, double[] drawn)
    {
        (this.system, this.drawn) = (system, drawn);
        x = (double[])system.Start.Clone();
    }

    /// <summary>What of a component is free to move.</summary>
    /// <param name="Equations">To be met by moving the unknowns.</param>
    /// <param name="Unknowns">Those that may move.</param>
    /// <param name="Open">Whether its equations are still to be met.</param>
    private sealed record Part(int[] Equations, int[] Unknowns, bool Open);

    /// <param name="system">From its start.</param>
    public static SystemSolution Solve(EquationSystem system)
    {
        var solver = new SystemSolver(system, system.Start);
        var components = Components.Of(system);
        var met = components.ConvertAll(c => system.Meets(c.Equations, solver.x));
        if (!system.Jumped && met.TrueForAll(m => m))
        {
            return new SystemSolution(solver.x, 0, 0);
        }

        for (var c = 0; c < components.Count; c++)
        {
            solver.SolveBlocks(components[c].Equations, components[c].Unknowns, met[c]);
        }

        solver.Settle();
        return new SystemSolution(solver.x, solver.steps, solver.blocks);
    }

    /// <summary>The well-determined blocks of a component; what is free in it is kept for later.</summary>
    private void SolveBlocks(List<int> equations, List<int> unknowns, bool met)
    {
        if (met && system.Soft.Length == 0)
        {
            return;
        }

        var structure = ComponentStructure.Of(system, equations, unknowns).Parts;
        int[] All(int[] places, List<int> of) => Array.ConvertAll(places, p => of[p]);
        if (met)
        {
            AddPart(All(structure.Under, equations), All(structure.UnderUnknowns, unknowns), open: false);
            return;
        }

        blocks += structure.Blocks.Count;
        var solved = structure.Over.Length == 0;
        for (var b = 0; b < structure.Blocks.Count && solved; b++)
        {
            // A change of one size re-solves only the blocks behind it.
            var (places, columns) = structure.Blocks[b];
            solved = SolveBlock(All(places, equations), All(columns, unknowns));
        }

        if (solved)
        {
            AddPart(All(structure.Under, equations), All(structure.UnderUnknowns, unknowns), open: true);
            return;
        }

        // Equations that depend on each other upset the blocks; the component is taken as a whole, from where it stood.
        PutBack(unknowns);
        AddPart([.. equations], [.. unknowns], open: true);
    }

    private void AddPart(int[] equations, int[] unknowns, bool open)
    {
        if (unknowns.Length > 0)
        {
            parts.Add(new Part(equations, unknowns, open));
        }
    }

    private bool SolveBlock(int[] equations, int[] unknowns)
    {
        if (system.Meets(equations, x))
        {
            return true;
        }

        var mine = unknowns.Length > 8 ? unknowns.ToHashSet() : null;
        var carried = BlockStart.Carry(system, equations, u => mine?.Contains(u) ?? Array.IndexOf(unknowns, u) >= 0, x);
        if (Newton(equations, unknowns))
        {
            return true;
        }

        if (carried)
        {
            PutBack(unknowns);
            return Newton(equations, unknowns);
        }

        return false;
    }

    private bool Newton(int[] equations, int[] unknowns) =>
        (
            equations.Length <= DenseNewton.LargestBlock
                ? DenseNewton.Solve(system, equations, unknowns, x, ref steps)
                : new MinimumNorm(system, equations, unknowns, x).Solve(x, system.Weights, ref steps)
        ) && Array.TrueForAll(equations, e => system.OnSameSide(e, x));

    /// <summary>Puts unknowns where they were drawn.</summary>
    private void PutBack(IEnumerable<int> unknowns)
    {
        foreach (var u in unknowns)
        {
            x[u] = drawn[u];
        }
    }

    /// <summary>Puts unknowns to values kept before.</summary>
    private void PutBack(int[] unknowns, double[] values)
    {
        for (var i = 0; i < unknowns.Length; i++)
        {
            x[unknowns[i]] = values[i];
        }
    }

    /// <summary>Least movement of what is free: parts that soft equations join move together.</summary>
    private void Settle()
    {
        var disturbed = Disturbed();
        if (disturbed.Count == 0)
        {
            foreach (var part in parts.Where(p => p.Open && p.Equations.Length > 0))
            {
                Least(part.Equations, part.Unknowns, []);
            }

            return;
        }

        foreach (var (equations, unknowns, soft) in Clusters(disturbed))
        {
            Least(equations, unknowns, soft);
        }
    }

    /// <summary>Soft equations that do not hold where things stand now, and could.</summary>
    private HashSet<int> Disturbed()
    {
        var found = new HashSet<int>();
        for (var s = 0; s < system.FirstCarrying; s++)
        {
            if (system.SoftColumns[s].Length > 0 && Math.Abs(system.SoftResidual(s, x)) > Tolerances.Length)
            {
                found.Add(s);
            }
        }

        // An open part will disturb the lengths in it, and what was moved carries others along.
        var open = parts
            .Where(p => p.Open && p.Equations.Length > 0 && !system.Meets(p.Equations, x))
            .SelectMany(p => p.Unknowns)
            .ToHashSet();
        for (var s = 0; s < system.Soft.Length && open.Count > 0; s++)
        {
            if (Array.Exists(system.SoftColumns[s], open.Contains))
            {
                found.Add(s);
            }
        }

        return found;
    }

    /// <summary>What moves together: parts and free unknowns joined by soft equations, where anything in them is to be done.</summary>
    private IEnumerable<(int[] Equations, int[] Unknowns, int[] Soft)> Clusters(HashSet<int> disturbed)
    {
        var partOf = new int[system.UnknownCount];
        Array.Fill(partOf, -1);
        var touched = new bool[system.UnknownCount];
        foreach (var columns in system.Columns)
        {
            foreach (var c in columns)
            {
                touched[c] = true;
            }
        }

        for (var p = 0; p < parts.Count; p++)
        {
            foreach (var u in parts[p].Unknowns)
            {
                partOf[u] = p;
            }
        }

        // Nodes: parts, then unknowns that no equation touches. What is set is no node and joins nothing.
        int Node(int u) =>
            partOf[u] >= 0 ? partOf[u]
            : touched[u] ? -1
            : parts.Count + u;
        var sets = new DisjointSets(parts.Count + system.UnknownCount);
        var at = new int[system.Soft.Length];
        for (var s = 0; s < at.Length; s++)
        {
            at[s] = -1;
            foreach (var node in system.SoftColumns[s].Select(Node).Where(n => n >= 0))
            {
                at[s] = at[s] < 0 ? node : at[s];
                sets.Join(node, at[s]);
            }
        }

        var wanted = disturbed
            .Where(s => at[s] >= 0)
            .Select(s => sets.Of(at[s]))
            .Concat(Enumerable.Range(0, parts.Count).Where(p => parts[p].Open && parts[p].Equations.Length > 0).Select(sets.Of))
            .ToHashSet();
        var found = wanted.ToDictionary(r => r, _ => (Equations: new List<int>(), Unknowns: new List<int>(), Soft: new List<int>()));
        for (var p = 0; p < parts.Count; p++)
        {
            if (found.TryGetValue(sets.Of(p), out var cluster))
            {
                cluster.Equations.AddRange(parts[p].Equations);
                cluster.Unknowns.AddRange(parts[p].Unknowns);
            }
        }

        for (var u = 0; u < system.UnknownCount; u++)
        {
            if (Node(u) is var node && node >= parts.Count && found.TryGetValue(sets.Of(node), out var cluster))
            {
                cluster.Unknowns.Add(u);
            }
        }

        for (var s = 0; s < at.Length; s++)
        {
            if (at[s] >= 0 && found.TryGetValue(sets.Of(at[s]), out var cluster))
            {
                cluster.Soft.Add(s);
            }
        }

        return found.OrderBy(f => f.Key).Select(f => (f.Value.Equations.ToArray(), f.Value.Unknowns.ToArray(), f.Value.Soft.ToArray()));
    }

    private void Least(int[] equations, int[] unknowns, int[] soft)
    {
        blocks++;
        var before = Array.ConvertAll(unknowns, u => x[u]);
        var (holding, carrying) = (Array.FindAll(soft, s => s < system.FirstCarrying), Array.FindAll(soft, s => s >= system.FirstCarrying));
        if (carrying.Length > 0 && system.Jumped)
        {
            // Reduction put things in one place that were drawn apart: what belongs to them comes along before lengths are held.
            new MinimumNorm(system, [], unknowns, x, carrying).Pull(
                x,
                drawn,
                Array.ConvertAll(system.Weights, w => w * Lightly),
                ref steps
            );
        }

        if (holding.Length > 0 && Rigidly(equations, unknowns, holding))
        {
            return;
        }

        var least = new MinimumNorm(system, equations, unknowns, x, holding);
        if (holding.Length > 0)
        {
            least.Pull(x, drawn, system.Weights, ref steps);
        }

        if (least.Solve(x, system.Weights, ref steps))
        {
            return;
        }

        // What resists much makes narrow valleys; without any of it there may be a way.
        PutBack(unknowns, before);
        var alike = new double[system.UnknownCount];
        Array.Fill(alike, 1);
        new MinimumNorm(system, equations, unknowns, x).Solve(x, alike, ref steps);
    }

    /// <summary>Tries to keep all lengths and radii exactly, moving things as little as that allows. False where they must give way;
    /// x is then as it was.</summary>
    private bool Rigidly(int[] equations, int[] unknowns, int[] holding)
    {
        var before = Array.ConvertAll(unknowns, u => x[u]);
        var moving = Array.FindAll(unknowns, u => system.Weights[u] < EquationSystem.Stiff || system.IsCoordinate(u));
        int[] all = [.. equations, .. holding.Select(s => ~s)];
        var least = new MinimumNorm(system, all, moving, x);
        if (least.Solve(x, system.Weights, ref steps, RigidSteps))
        {
            least.Pull(x, drawn, system.Weights, ref steps);
            if (least.Solve(x, system.Weights, ref steps, RigidSteps))
            {
                return true;
            }
        }

        PutBack(unknowns, before);
        return false;
    }
}
