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
    private readonly NormalPattern pattern;
    private readonly SparseLdl factor;
    private readonly bool[] moves;

    /// <param name="system">The whole system.</param>
    /// <param name="equations">The equations to meet.</param>
    /// <param name="unknowns">The unknowns that may move.</param>
    public MinimumNorm(EquationSystem system, int[] equations, int[] unknowns)
        : this(system, equations, unknowns, NormalPattern.Of(Array.ConvertAll(equations, e => system.Columns[e]), system.UnknownCount, unknowns))
    {
    }

    /// <param name="system">The whole system.</param>
    /// <param name="equations">The equations to meet.</param>
    /// <param name="unknowns">The unknowns that may move.</param>
    /// <param name="pattern">The pattern of these equations, known from before.</param>
    public MinimumNorm(EquationSystem system, int[] equations, int[] unknowns, NormalPattern pattern)
    {
        (this.system, this.pattern) = (system, pattern);
        moves = new bool[system.UnknownCount];
        foreach (var u in unknowns)
        {
            moves[u] = true;
        }

        this.equations = Array.ConvertAll(pattern.Order, i => equations[i]);
        var m = equations.Length;
        jStart = new int[m + 1];
        for (var i = 0; i < m; i++)
        {
            jStart[i + 1] = jStart[i] + system.Columns[this.equations[i]].Length;
        }

        jColumn = new int[jStart[m]];
        for (var i = 0; i < m; i++)
        {
            system.Columns[this.equations[i]].CopyTo(jColumn, jStart[i]);
        }

        j = new double[jColumn.Length];
        r = new double[m];
        z = new double[m];
        values = new double[pattern.RowIndex.Length];
        factor = new SparseLdl(pattern.ColumnStarts, pattern.RowIndex);
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
            foreach (var k in pattern.Diagonal)
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
        foreach (var (entry, a, b) in pattern.Products)
        {
            values[entry] += j[a] * j[b] / weights[jColumn[a]];
        }

        var largest = 0.0;
        foreach (var k in pattern.Diagonal)
        {
            largest = Math.Max(largest, values[k]);
        }

        return largest;
    }
}
