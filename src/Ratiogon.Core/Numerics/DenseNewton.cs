using System.Buffers;

namespace Ratiogon.Core.Numerics;

/// <summary>Damped Newton on a small square block: dense LU with partial pivoting, step halved while the residual
/// does not fall. Works in rented memory and allocates nothing.</summary>
internal static class DenseNewton
{
    /// <summary>Blocks up to this size are solved here; larger ones go to <see cref="MinimumNorm"/>, which is sparse.</summary>
    public const int LargestBlock = 48;
    private const int MostSteps = 60;
    private const int MostHalvings = 30;
    private const int MostPolish = 12;

    /// <summary>A last step longer than this share of the size tells of a solution that is approached slowly.</summary>
    private const double Blunt = 1e-6;

    /// <summary>A pivot smaller than this share of the largest entry is none.</summary>
    private const double Singular = 1e-13;

    /// <summary>Solves the block in place. False when it is singular or does not converge; x is then anywhere.</summary>
    public static bool Solve(EquationSystem system, int[] equations, int[] unknowns, double[] x, ref int steps)
    {
        var n = equations.Length;
        var size = (n * n) + (3 * n);
        var rented = ArrayPool<double>.Shared.Rent(size);
        var columnOf = ArrayPool<int>.Shared.Rent(system.UnknownCount);
        try
        {
            for (var c = 0; c < n; c++)
            {
                columnOf[unknowns[c]] = c;
            }

            var a = rented.AsSpan(0, n * n);
            var r = rented.AsSpan(n * n, n);
            var saved = rented.AsSpan((n * n) + n, n);
            var trial = rented.AsSpan((n * n) + (2 * n), n);
            var (length, polish) = (0.0, 0);
            for (var step = 0; step < MostSteps; step++)
            {
                Patience.Look();
                var (norm, largest) = Linearise(system, equations, unknowns, columnOf, x, a, r);

                // A long last step tells of a solution that is approached slowly, from where the residual is small already.
                if (largest <= system.Tolerance && (length <= Blunt * Math.Min(1, system.Size) || largest == 0 || polish++ == MostPolish))
                {
                    return true;
                }

                steps++;
                if (!double.IsFinite(norm) || !SolveInPlace(a, r, n))
                {
                    return false;
                }

                for (var c = 0; c < n; c++)
                {
                    saved[c] = x[unknowns[c]];
                }

                if (!StepDown(system, equations, unknowns, x, r, saved, trial, norm))
                {
                    return Largest(system, equations, x) <= system.Tolerance;
                }

                length = 0;
                for (var c = 0; c < n; c++)
                {
                    length = Math.Max(length, Math.Abs(x[unknowns[c]] - saved[c]));
                }
            }

            return false;
        }
        finally
        {
            ArrayPool<double>.Shared.Return(rented);
            ArrayPool<int>.Shared.Return(columnOf);
        }
    }

    private static (double Norm, double Largest) Linearise(
        EquationSystem system,
        int[] equations,
        int[] unknowns,
        int[] columnOf,
        double[] x,
        Span<double> a,
        Span<double> r
    )
    {
        var n = equations.Length;
        Span<double> row = stackalloc double[Equation.MostVariables];
        a.Clear();
        var (norm, largest) = (0.0, 0.0);
        for (var i = 0; i < n; i++)
        {
            var residual = system.Evaluate(equations[i], x, row);
            var columns = system.Columns[equations[i]];
            for (var k = 0; k < columns.Length; k++)
            {
                var c = columnOf[columns[k]];
                if ((uint)c < (uint)n && unknowns[c] == columns[k])
                {
                    a[(i * n) + c] = row[k];
                }
            }

            r[i] = -residual;
            norm += residual * residual;
            largest = Math.Max(largest, Math.Abs(residual));
        }

        return (norm, double.IsNaN(norm) ? double.PositiveInfinity : largest);
    }

    private static bool StepDown(
        EquationSystem system,
        int[] equations,
        int[] unknowns,
        double[] x,
        Span<double> dx,
        Span<double> saved,
        Span<double> trial,
        double norm
    )
    {
        var scale = 1.0;
        for (var halving = 0; halving < MostHalvings; halving++, scale /= 2)
        {
            for (var c = 0; c < unknowns.Length; c++)
            {
                x[unknowns[c]] = trial[c] = saved[c] + (scale * dx[c]);
            }

            var next = 0.0;
            foreach (var e in equations)
            {
                var residual = system.Residual(e, x);
                next += residual * residual;
            }

            if (next < norm)
            {
                return true;
            }
        }

        for (var c = 0; c < unknowns.Length; c++)
        {
            x[unknowns[c]] = saved[c];
        }

        return false;
    }

    private static double Largest(EquationSystem system, int[] equations, double[] x)
    {
        var largest = 0.0;
        foreach (var e in equations)
        {
            largest = Math.Max(largest, Math.Abs(system.Residual(e, x)));
        }

        return largest;
    }

    /// <summary>Gaussian elimination with partial pivoting; the solution replaces b. False when singular.</summary>
    private static bool SolveInPlace(Span<double> a, Span<double> b, int n)
    {
        var largest = 0.0;
        foreach (var v in a)
        {
            largest = Math.Max(largest, Math.Abs(v));
        }

        for (var k = 0; k < n; k++)
        {
            Patience.Look();
            var p = k;
            for (var i = k + 1; i < n; i++)
            {
                if (Math.Abs(a[(i * n) + k]) > Math.Abs(a[(p * n) + k]))
                {
                    p = i;
                }
            }

            var pivot = a[(p * n) + k];
            if (!(Math.Abs(pivot) > Singular * largest))
            {
                return false;
            }

            if (p != k)
            {
                for (var j = k; j < n; j++)
                {
                    (a[(k * n) + j], a[(p * n) + j]) = (a[(p * n) + j], a[(k * n) + j]);
                }

                (b[k], b[p]) = (b[p], b[k]);
            }

            for (var i = k + 1; i < n; i++)
            {
                var f = a[(i * n) + k] / pivot;
                if (f != 0)
                {
                    for (var j = k + 1; j < n; j++)
                    {
                        a[(i * n) + j] -= f * a[(k * n) + j];
                    }

                    b[i] -= f * b[k];
                }
            }
        }

        for (var i = n - 1; i >= 0; i--)
        {
            var sum = b[i];
            for (var j = i + 1; j < n; j++)
            {
                sum -= a[(i * n) + j] * b[j];
            }

            b[i] = sum / a[(i * n) + i];
        }

        return true;
    }
}
