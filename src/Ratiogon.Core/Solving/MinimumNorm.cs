namespace Ratiogon.Core.Solving;

/// <summary>
/// Levenberg-Marquardt in its dual form for systems with more unknowns than equations (Madsen, Nielsen and Tingleff,
/// 2004, section 3.2, with the step written as W⁻¹J'(JW⁻¹J' + mu I)⁻¹(-r)): among the steps that meet the linearised
/// equations it takes the one that moves the unknowns least, weighed by W. The matrix is sparse and its pattern is
/// analysed once.
/// </summary>
internal sealed class MinimumNorm
{
    private const int MostSteps = 80;
    private readonly EquationSystem system;
    private readonly int[] equations;
    private readonly int[] jStart;
    private readonly int[] jColumn;
    private readonly double[] j;
    private readonly double[] r;
    private readonly double[] z;
    private readonly double[] values;
    private readonly int[] diagonal;
    private readonly (int Entry, int A, int B)[] products;
    private readonly SparseLdl factor;
    private readonly bool[] moves;

    /// <param name="system">The whole system.</param>
    /// <param name="equations">The equations to meet.</param>
    /// <param name="unknowns">The unknowns that may move.</param>
    public MinimumNorm(EquationSystem system, int[] equations, int[] unknowns)
    {
        this.system = system;
        moves = new bool[system.UnknownCount];
        foreach (var u in unknowns)
        {
            moves[u] = true;
        }

        this.equations = Ordered(system, equations);
        var m = this.equations.Length;
        jStart = new int[m + 1];
        for (var i = 0; i < m; i++)
        {
            jStart[i + 1] = jStart[i] + system.Columns[this.equations[i]].Length;
        }

        jColumn = [.. this.equations.SelectMany(e => system.Columns[e])];
        j = new double[jColumn.Length];
        r = new double[m];
        z = new double[m];

        var byColumn = new Dictionary<int, List<(int Row, int At)>>();
        for (var i = 0; i < m; i++)
        {
            for (var p = jStart[i]; p < jStart[i + 1]; p++)
            {
                if (moves[jColumn[p]])
                {
                    (byColumn.TryGetValue(jColumn[p], out var list) ? list : byColumn[jColumn[p]] = []).Add((i, p));
                }
            }
        }

        // Upper triangle by columns: entry (row i, column k) with i <= k.
        var pattern = new SortedSet<int>[m];
        for (var k = 0; k < m; k++)
        {
            pattern[k] = [k];
        }

        foreach (var list in byColumn.Values)
        {
            foreach (var (a, _) in list)
            {
                foreach (var (b, _) in list)
                {
                    if (a < b)
                    {
                        pattern[b].Add(a);
                    }
                }
            }
        }

        var starts = new int[m + 1];
        var at = new Dictionary<(int, int), int>();
        var rowIndex = new List<int>();
        diagonal = new int[m];
        for (var k = 0; k < m; k++)
        {
            foreach (var i in pattern[k])
            {
                at[(i, k)] = rowIndex.Count;
                rowIndex.Add(i);
            }

            diagonal[k] = at[(k, k)];
            starts[k + 1] = rowIndex.Count;
        }

        values = new double[rowIndex.Count];
        products = [.. byColumn.Values.SelectMany(list => from a in list from b in list where a.Row <= b.Row select (at[(a.Row, b.Row)], a.At, b.At))];
        factor = new SparseLdl(starts, [.. rowIndex]);
    }

    /// <summary>Walks x onto the equations. False when it does not converge; x is then the best place found.</summary>
    /// <param name="x">All unknowns of the system.</param>
    /// <param name="weights">How much each unknown resists moving.</param>
    /// <param name="steps">Counted up.</param>
    /// <param name="most">The bound on steps.</param>
    public bool Solve(double[] x, double[] weights, ref int steps, int most = MostSteps)
    {
        var m = equations.Length;
        var (norm, largest) = Linearise(x);
        var damping = 0.0;
        var trial = (double[])x.Clone();
        for (var step = 0; step < most; step++)
        {
            if (largest <= Tolerances.Residual)
            {
                return true;
            }

            steps++;
            var scale = Assemble(weights);
            if (!double.IsFinite(scale) || !double.IsFinite(norm))
            {
                return false;
            }

            damping = Math.Max(damping, 1e-14 * scale);
            Span<double> shifted = [.. values];
            foreach (var k in diagonal)
            {
                shifted[k] += damping;
            }

            if (!factor.Factor(shifted))
            {
                damping = Math.Max(damping * 100, 1e-12 * scale);
                continue;
            }

            for (var i = 0; i < m; i++)
            {
                z[i] = -r[i];
            }

            factor.Solve(z);
            x.CopyTo(trial, 0);
            for (var i = 0; i < m; i++)
            {
                for (var p = jStart[i]; p < jStart[i + 1]; p++)
                {
                    if (moves[jColumn[p]])
                    {
                        trial[jColumn[p]] += j[p] * z[i] / weights[jColumn[p]];
                    }
                }
            }

            var next = 0.0;
            foreach (var e in equations)
            {
                var residual = system.Residual(e, trial);
                next += residual * residual;
            }

            if (next < norm)
            {
                trial.CopyTo(x, 0);
                (norm, largest) = Linearise(x);
                damping = damping > 1e-13 * scale ? damping / 30 : 0;
            }
            else if (damping > 1e8 * scale)
            {
                return false;
            }
            else
            {
                damping = Math.Max(damping * 30, 1e-10 * scale);
            }
        }

        return largest <= Tolerances.Residual;
    }

    private (double Norm, double Largest) Linearise(double[] x)
    {
        var (norm, largest) = (0.0, 0.0);
        for (var i = 0; i < equations.Length; i++)
        {
            r[i] = system.Evaluate(equations[i], x, j.AsSpan(jStart[i], jStart[i + 1] - jStart[i]));
            norm += r[i] * r[i];
            largest = Math.Max(largest, Math.Abs(r[i]));
        }

        return (norm, double.IsFinite(norm) ? largest : double.PositiveInfinity);
    }

    private double Assemble(double[] weights)
    {
        Array.Clear(values);
        foreach (var (entry, a, b) in products)
        {
            values[entry] += j[a] * j[b] / weights[jColumn[a]];
        }

        var largest = 0.0;
        foreach (var k in diagonal)
        {
            largest = Math.Max(largest, values[k]);
        }

        return largest;
    }

    /// <summary>The equations in an order with little fill: neighbours are equations that share a moving unknown.</summary>
    private int[] Ordered(EquationSystem system, int[] equations)
    {
        var byColumn = new Dictionary<int, List<int>>();
        for (var i = 0; i < equations.Length; i++)
        {
            foreach (var c in system.Columns[equations[i]])
            {
                if (moves[c])
                {
                    (byColumn.TryGetValue(c, out var list) ? list : byColumn[c] = []).Add(i);
                }
            }
        }

        var neighbours = new HashSet<int>[equations.Length];
        for (var i = 0; i < neighbours.Length; i++)
        {
            neighbours[i] = [];
        }

        foreach (var list in byColumn.Values)
        {
            foreach (var a in list)
            {
                foreach (var b in list)
                {
                    if (a != b)
                    {
                        neighbours[a].Add(b);
                    }
                }
            }
        }

        return Array.ConvertAll(MinimumDegree.Order(neighbours), i => equations[i]);
    }
}
