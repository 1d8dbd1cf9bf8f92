namespace Ratiogon.Core.Numerics;

/// <summary>
/// Brings equations with more unknowns than they need to zero, moving as little as possible. The steps are those of
/// Levenberg and Marquardt with Nielsen's damping (Madsen, Nielsen and Tingleff, "Methods for non-linear least squares
/// problems", 2004, algorithm 3.16), each the one of least weighed length that meets the damped linearised equations:
/// the saddle point system [W J'; J -C]. Soft equations, such as lengths that nobody sized, stand in it with a
/// compliance: they bend where they must, and less than places shift.
/// </summary>
internal sealed class MinimumNorm
{
    /// <summary>A step that promises less than this share of the squared residual promises nothing: rounding is larger.</summary>
    private const double NoGain = 1e-24;

    /// <summary>A step is taken if it gains this share of what it promised; Nocedal and Wright (2006), algorithm 4.1.</summary>
    private const double Gains = 1e-4;

    /// <summary>Damping begins with this much, as a share of the diagonal.</summary>
    private const double FirstDamping = 1e-6;

    /// <summary>A step shorter than this share of the size leads nowhere.</summary>
    private const double NoStep = 1e-9;

    private const int MostSteps = 200;
    private const int MostPulls = 14;
    private const int MostHalvings = 6;
    private const int RestoringSteps = 10;

    /// <summary>How near, as a share of the size, the nearest solution is found: it is drawn, not built on.</summary>
    private const double NearEnough = 1e-7;

    /// <summary>The least damping, as a share of the diagonal: rounding of a factor is about as large.</summary>
    private const double LeastDamping = 1e-13;

    /// <summary>Entries of a row larger than this share of its largest couple what they belong to.</summary>
    private const double Strong = 1e-3;

    /// <summary>A slope of the squared residual below this share of the residual is of a place where nothing leads on.</summary>
    private const double Stationary = 1e-9;

    /// <summary>A step that gains less than this share of the residual is idle.</summary>
    private const double Idle = 1e-7;

    private const int MostIdle = 3;
    private const int MostPolish = 12;
    private const double Shrunk = 0.7;

    /// <summary>A last step longer than this share of the size tells of a solution that is approached slowly.</summary>
    private const double Blunt = 1e-6;

    private readonly EquationSystem system;
    private readonly int[] hard;
    private readonly int[] soft;
    private readonly int[] unknowns;
    private readonly SaddlePattern pattern;
    private readonly SparseLdl factor;
    private readonly int[] jStart;
    private readonly int[] jColumn;
    private readonly double[] j;
    private readonly double[] r;
    private readonly double[] values;
    private readonly double[] b;
    private readonly double[] saved;
    private readonly double[] solved;
    private readonly double[] slopes;

    /// <param name="system">The whole system.</param>
    /// <param name="hard">The equations to meet; ~s for a soft one that is to be met as well.</param>
    /// <param name="unknowns">The unknowns that may move; all others stay as they are.</param>
    /// <param name="soft">Soft equations, by their places in <see cref="EquationSystem.Soft"/>.</param>
    /// <param name="x">Where it begins: the pattern is chosen so that no pivot vanishes there.</param>
    public MinimumNorm(EquationSystem system, int[] hard, int[] unknowns, double[] x, int[]? soft = null)
    {
        (this.system, this.hard, this.unknowns) = (system, hard, unknowns);
        this.soft = soft ?? [];
        var local = new int[system.UnknownCount];
        Array.Fill(local, -1);
        for (var i = 0; i < unknowns.Length; i++)
        {
            local[unknowns[i]] = i;
        }

        var m = hard.Length + this.soft.Length;
        var rows = new int[m][];
        jStart = new int[m + 1];
        for (var i = 0; i < m; i++)
        {
            jStart[i + 1] = jStart[i] + ColumnsOf(i).Length;
            rows[i] = [.. ColumnsOf(i).Select(c => local[c]).Where(c => c >= 0)];
        }

        jColumn = new int[jStart[m]];
        for (var i = 0; i < m; i++)
        {
            var columns = ColumnsOf(i);
            for (var k = 0; k < columns.Length; k++)
            {
                jColumn[jStart[i] + k] = local[columns[k]];
            }
        }

        j = new double[jColumn.Length];
        r = new double[m];
        Linearise(x);
        pattern = SaddlePattern.Of(rows, unknowns.Length, StrongOnes());
        factor = new SparseLdl(pattern.ColumnStarts, pattern.RowIndex);
        values = new double[pattern.RowIndex.Length];
        b = new double[pattern.PlaceOf.Length];
        saved = new double[unknowns.Length];
        solved = new double[unknowns.Length];
        slopes = new double[unknowns.Length];
    }

    /// <summary>Walks x onto the equations. False when it ends at a place that cannot be bettered, or after too many steps;
    /// x is then the best place found.</summary>
    /// <param name="x">All unknowns of the system.</param>
    /// <param name="weights">How much each unknown of the system resists moving, above zero.</param>
    /// <param name="steps">Counted up.</param>
    /// <param name="most">The bound on steps.</param>
    /// <param name="tolerance">The largest residual that counts as met; the system's own by default.</param>
    public bool Solve(double[] x, double[] weights, ref int steps, int most = MostSteps, double? tolerance = null)
    {
        var (damping, growth, goal) = (LeastDamping, 2.0, tolerance ?? system.Tolerance);
        var (norm, largest) = Linearise(x);
        var (idle, polish, last, shrinks) = (0, 0, 0.0, true);
        for (var step = 0; step < most; step++)
        {
            Patience.Look();
            // A long last step tells of a solution that is approached slowly, from where the residual is small already.
            if (largest <= goal && (last <= Blunt * Math.Min(1, system.Size) || largest == 0 || !shrinks || polish++ == MostPolish))
            {
                return true;
            }

            steps++;
            if (!double.IsFinite(norm) || Slope() <= Stationary * Math.Sqrt(norm) || !Step(weights, damping, x, null))
            {
                return largest <= goal;
            }

            var (predicted, length) = (norm - PredictedNorm(), LargestStep());
            if (!(predicted > NoGain * norm) || !(length > 0))
            {
                return largest <= goal;
            }

            Keep(x, saved);
            Read(solved);
            Move(x, saved, solved, 1);
            var next = NormAt(x);
            var gain = (norm - next) / predicted;
            if (gain > Gains)
            {
                // At a place that cannot be bettered the sum of squares no longer falls to speak of.
                idle = norm - next < Idle * norm ? idle + 1 : 0;
                (shrinks, last) = (last == 0 || length < Shrunk * last, length);
                (norm, largest) = Linearise(x);
                if (idle >= MostIdle)
                {
                    break;
                }

                damping = Math.Max(LeastDamping, damping * Math.Max(1 / 30.0, 1 - Math.Pow((2 * gain) - 1, 3)));
                growth = 2;
            }
            else
            {
                Put(x, saved);
                (norm, largest) = Linearise(x);
                if (damping > 1e10)
                {
                    return largest <= goal;
                }

                damping = Math.Max(damping * growth, FirstDamping);
                growth *= 2;
            }
        }

        return largest <= goal;
    }

    /// <summary>Brings what is soft and what is drawn as near as the equations allow: Gauss-Newton steps on the soft residuals and
    /// on the way from <paramref name="drawn"/>, each within the linearised equations and then back onto them (gradient
    /// projection with restoration; Rosen, 1961). <see cref="Solve"/> has the last word.</summary>
    /// <param name="x">All unknowns of the system.</param>
    /// <param name="drawn">Where they should rather stay.</param>
    /// <param name="weights">How much each resists moving.</param>
    /// <param name="steps">Counted up.</param>
    public void Pull(double[] x, double[] drawn, double[] weights, ref int steps)
    {
        var near = Math.Max(system.Tolerance, NearEnough * system.Size);
        var (place, step) = (new double[unknowns.Length], new double[unknowns.Length]);
        Keep(x, place);
        if (hard.Length > 0 && !Solve(x, weights, ref steps, RestoringSteps, near))
        {
            Put(x, place);
            return;
        }

        var energy = Energy(x, drawn, weights);
        for (var pull = 0; pull < MostPulls; pull++)
        {
            var (norm, _) = Linearise(x);
            steps++;
            if (!double.IsFinite(norm) || !Step(weights, LeastDamping, x, drawn))
            {
                return;
            }

            Read(step);
            Keep(x, place);
            var (share, better, length) = (1.0, false, LargestStep());
            for (var halving = 0; halving < MostHalvings && !better; halving++, share /= 2)
            {
                Move(x, place, step, share);
                if (hard.Length == 0 || Solve(x, weights, ref steps, RestoringSteps, near))
                {
                    var next = Energy(x, drawn, weights);
                    better = next < energy;
                    energy = better ? next : energy;
                }
            }

            if (!better)
            {
                Put(x, place);
                return;
            }

            if (length <= NoStep * (1 + system.Size))
            {
                return;
            }
        }
    }

    /// <summary>What the residuals of the hard equations are to be, in their order, in place of zero; null for zero.</summary>
    public double[]? Goals { get; set; }

    private int[] ColumnsOf(int i) =>
        i >= hard.Length ? system.SoftColumns[soft[i - hard.Length]]
        : hard[i] >= 0 ? system.Columns[hard[i]]
        : system.SoftColumns[~hard[i]];

    /// <summary>Residuals and coefficients at x; the norm and the largest of the hard residuals.</summary>
    private (double Squared, double Largest) Linearise(double[] x)
    {
        var (norm, largest) = (0.0, 0.0);
        for (var i = 0; i < r.Length; i++)
        {
            var row = j.AsSpan(jStart[i], jStart[i + 1] - jStart[i]);
            if (i < hard.Length)
            {
                r[i] = (hard[i] >= 0 ? system.Evaluate(hard[i], x, row) : system.EvaluateSoft(~hard[i], x, row)) - (Goals?[i] ?? 0);
                norm += r[i] * r[i];
                largest = Math.Max(largest, Math.Abs(r[i]));
            }
            else
            {
                r[i] = system.EvaluateSoft(soft[i - hard.Length], x, row);
            }
        }

        return (norm, double.IsFinite(norm) ? largest : double.PositiveInfinity);
    }

    /// <summary>Which coefficients an equation may be matched on: not those that happen to be nothing here.</summary>
    private bool[] StrongOnes()
    {
        var strong = new List<bool>(j.Length);
        for (var i = 0; i < r.Length; i++)
        {
            var largest = 0.0;
            for (var p = jStart[i]; p < jStart[i + 1]; p++)
            {
                largest = jColumn[p] >= 0 ? Math.Max(largest, Math.Abs(j[p])) : largest;
            }

            for (var p = jStart[i]; p < jStart[i + 1]; p++)
            {
                if (jColumn[p] >= 0)
                {
                    // Soft equations have a pivot of their own and leave the unknowns to the hard ones.
                    strong.Add(i < hard.Length && Math.Abs(j[p]) > Strong * largest);
                }
            }
        }

        return [.. strong];
    }

    /// <summary>Solves for the step at the present linearisation; it is left in b. With <paramref name="drawn"/> it is drawn there
    /// and to where the soft equations hold, else they only resist.</summary>
    private bool Step(double[] weights, double damping, double[] x, double[]? drawn)
    {
        Array.Clear(values);
        var n = unknowns.Length;
        for (var i = 0; i < n; i++)
        {
            values[pattern.Diagonal[i]] = weights[unknowns[i]];
            b[pattern.PlaceOf[i]] = drawn is null ? 0 : weights[unknowns[i]] * (drawn[unknowns[i]] - x[unknowns[i]]);
        }

        var at = 0;
        for (var i = 0; i < r.Length; i++)
        {
            var scale = 0.0;
            for (var p = jStart[i]; p < jStart[i + 1]; p++)
            {
                if (jColumn[p] >= 0)
                {
                    values[pattern.EntryOf[at++]] = j[p];
                    scale += j[p] * j[p] / weights[unknowns[jColumn[p]]];
                }
            }

            var isHard = i < hard.Length;
            values[pattern.Diagonal[n + i]] = isHard
                ? -Math.Max(damping * scale, Tolerances.Vanishing)
                : -1 / (system.Stiffness[soft[i - hard.Length]]);
            b[pattern.PlaceOf[n + i]] = isHard || drawn is not null ? -r[i] : 0;
        }

        if (!factor.Factor(values))
        {
            return false;
        }

        factor.Solve(b);
        return true;
    }

    /// <summary>The square norm of the hard residuals that the linearised equations promise after the whole step.</summary>
    private double PredictedNorm()
    {
        var sum = 0.0;
        for (var i = 0; i < hard.Length; i++)
        {
            var left = r[i];
            for (var p = jStart[i]; p < jStart[i + 1]; p++)
            {
                if (jColumn[p] >= 0)
                {
                    left += j[p] * b[pattern.PlaceOf[jColumn[p]]];
                }
            }

            sum += left * left;
        }

        return sum;
    }

    private double LargestStep()
    {
        var largest = 0.0;
        for (var i = 0; i < unknowns.Length; i++)
        {
            largest = Math.Max(largest, Math.Abs(b[pattern.PlaceOf[i]]));
        }

        return largest;
    }

    private double NormAt(double[] x)
    {
        var sum = 0.0;
        for (var i = 0; i < hard.Length; i++)
        {
            var residual = (hard[i] >= 0 ? system.Residual(hard[i], x) : system.SoftResidual(~hard[i], x)) - (Goals?[i] ?? 0);
            sum += residual * residual;
        }

        return double.IsNaN(sum) ? double.PositiveInfinity : sum;
    }

    /// <summary>The largest slope of half the sum of squares by an unknown: zero where it cannot be bettered.</summary>
    private double Slope()
    {
        Array.Clear(slopes);
        for (var i = 0; i < hard.Length; i++)
        {
            for (var p = jStart[i]; p < jStart[i + 1]; p++)
            {
                if (jColumn[p] >= 0)
                {
                    slopes[jColumn[p]] += j[p] * r[i];
                }
            }
        }

        var largest = 0.0;
        foreach (var s in slopes)
        {
            largest = Math.Max(largest, Math.Abs(s));
        }

        return largest;
    }

    /// <summary>What a pull is to make smaller: soft residuals and ways, weighed.</summary>
    private double Energy(double[] x, double[] drawn, double[] weights)
    {
        var sum = 0.0;
        foreach (var s in soft)
        {
            var residual = system.SoftResidual(s, x);
            sum += system.Stiffness[s] * residual * residual;
        }

        foreach (var u in unknowns)
        {
            var way = x[u] - drawn[u];
            sum += weights[u] * way * way;
        }

        return double.IsNaN(sum) ? double.PositiveInfinity : sum;
    }

    private void Keep(double[] x, double[] place)
    {
        for (var i = 0; i < unknowns.Length; i++)
        {
            place[i] = x[unknowns[i]];
        }
    }

    private void Put(double[] x, double[] place)
    {
        for (var i = 0; i < unknowns.Length; i++)
        {
            x[unknowns[i]] = place[i];
        }
    }

    /// <summary>Reads the step that was solved for last.</summary>
    private void Read(double[] step)
    {
        for (var i = 0; i < unknowns.Length; i++)
        {
            step[i] = b[pattern.PlaceOf[i]];
        }
    }

    private void Move(double[] x, double[] from, double[] step, double share)
    {
        for (var i = 0; i < unknowns.Length; i++)
        {
            x[unknowns[i]] = from[i] + (share * step[i]);
        }
    }
}
