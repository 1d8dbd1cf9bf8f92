namespace Ratiogon.Core.Numerics;

/// <summary>
/// Questions to the rows of a sparse matrix J that may depend on one another: one factor of the quasidefinite matrix
/// [dI J'; J -dI] serves them all, and proximal iteration takes away what the d leaves (Friedlander and Orban, "A primal-dual
/// regularized interior-point method for convex quadratic programs", 2012, section 3).
/// </summary>
internal sealed class ProximalRows
{
    /// <summary>What stands on the diagonal: small beside the coefficients, large beside their rounding.</summary>
    private const double Proximity = 1e-5;

    /// <summary>What is left of a vector, as a share of it, when it counts as reached.</summary>
    private const double Reached = 1e-12;

    /// <summary>What may be left where rounding allows no more.</summary>
    private const double NearlyReached = 1e-9;

    private const int MostRounds = 30;

    private readonly int[][] columns;
    private readonly double[][] values;
    private readonly int count;
    private readonly SaddlePattern pattern;
    private readonly SparseLdl factor;

    /// <param name="columns">For each row, the columns that it touches.</param>
    /// <param name="values">Its coefficients there.</param>
    /// <param name="count">How many columns there are.</param>
    public ProximalRows(int[][] columns, double[][] values, int count)
    {
        (this.columns, this.values, this.count) = (columns, values, count);
        pattern = SaddlePattern.Of(columns, count);
        factor = new SparseLdl(pattern.ColumnStarts, pattern.RowIndex);
        var entries = new double[pattern.RowIndex.Length];
        for (var i = 0; i < pattern.Diagonal.Length; i++)
        {
            entries[pattern.Diagonal[i]] = i < count ? Proximity : -Proximity;
        }

        var k = 0;
        foreach (var value in values.SelectMany(row => row))
        {
            entries[pattern.EntryOf[k++]] = value;
        }

        Usable = factor.Factor(entries);
    }

    /// <summary>Whether there is a factor; nothing can be asked without.</summary>
    public bool Usable { get; }

    /// <summary>How much of each row makes up a vector over the columns; null where it is no sum of rows.</summary>
    public double[]? Combine(double[] vector)
    {
        var (weights, left) = (new double[columns.Length], (double[])vector.Clone());
        var (whole, last) = (Norm(vector), double.PositiveInfinity);
        for (var round = 0; round < MostRounds; round++)
        {
            var size = Norm(left);
            if (size <= Reached * whole)
            {
                return weights;
            }

            if (!(size < last / 2))
            {
                break;
            }

            last = size;
            var step = Solved(left, over: true);
            for (var e = 0; e < columns.Length; e++)
            {
                var of = step[pattern.PlaceOf[count + e]];
                weights[e] += of;
                for (var i = 0; i < columns[e].Length; i++)
                {
                    left[columns[e][i]] -= values[e][i] * of;
                }
            }
        }

        return Norm(left) <= NearlyReached * whole ? weights : null;
    }

    /// <summary>The part of a vector over the rows that no movement of the columns brings about: what would have to stay as it is for
    /// rows that depend on one another to go on holding together.</summary>
    public double[] Bound(double[] vector)
    {
        var left = (double[])vector.Clone();
        var last = double.PositiveInfinity;
        for (var round = 0; round < MostRounds; round++)
        {
            var step = Solved(left, over: false);
            var moved = 0.0;
            for (var e = 0; e < columns.Length; e++)
            {
                var by = 0.0;
                for (var i = 0; i < columns[e].Length; i++)
                {
                    by += values[e][i] * step[pattern.PlaceOf[columns[e][i]]];
                }

                left[e] -= by;
                moved += by * by;
            }

            if (!(moved < last / 4) || moved <= Reached * Reached * Norm(vector) * Norm(vector))
            {
                break;
            }

            last = moved;
        }

        return left;
    }

    private double[] Solved(double[] right, bool over)
    {
        var b = new double[pattern.PlaceOf.Length];
        for (var i = 0; i < right.Length; i++)
        {
            b[pattern.PlaceOf[over ? i : count + i]] = right[i];
        }

        factor.Solve(b);
        return b;
    }

    private static double Norm(double[] vector) => Math.Sqrt(vector.Sum(v => v * v));
}
