namespace Ratiogon.Core.Numerics;

/// <summary>
/// Up-looking LDL' factorisation of a sparse symmetric matrix without pivoting (Davis, "Algorithm 849: a concise sparse
/// Cholesky factorization package", 2005). Pivots may be negative, as in saddle point systems (Vanderbei, "Symmetric
/// quasidefinite matrices", 1995). The pattern is analysed once and factored many times.
/// </summary>
internal sealed class SparseLdl
{
    /// <summary>Columns between two looks at the clock.</summary>
    private const int Glance = 128;
    private readonly int n;
    private readonly int[] columnStart;
    private readonly int[] rowIndex;
    private readonly int[] parent;
    private readonly int[] lStart;
    private readonly int[] lRow;
    private readonly double[] lValue;
    private readonly double[] d;
    private readonly double[] y;
    private readonly int[] pattern;
    private readonly int[] flag;
    private readonly int[] count;

    /// <param name="columnStart">Starts of the columns of the upper triangle, diagonal included.</param>
    /// <param name="rowIndex">Row of each entry.</param>
    public SparseLdl(int[] columnStart, int[] rowIndex)
    {
        n = columnStart.Length - 1;
        (this.columnStart, this.rowIndex) = (columnStart, rowIndex);
        parent = new int[n];
        flag = new int[n];
        count = new int[n];
        for (var k = 0; k < n; k++)
        {
            parent[k] = -1;
            flag[k] = k;
            for (var p = columnStart[k]; p < columnStart[k + 1]; p++)
            {
                for (var i = rowIndex[p]; i < k && flag[i] != k; i = parent[i])
                {
                    if (parent[i] < 0)
                    {
                        parent[i] = k;
                    }

                    count[i]++;
                    flag[i] = k;
                }
            }
        }

        lStart = new int[n + 1];
        for (var k = 0; k < n; k++)
        {
            lStart[k + 1] = lStart[k] + count[k];
        }

        lRow = new int[lStart[n]];
        lValue = new double[lStart[n]];
        d = new double[n];
        y = new double[n];
        pattern = new int[n];
    }

    /// <summary>Entries of the factor below its diagonal.</summary>
    public int Fill => lRow.Length;

    /// <summary>The least pivot of the last factor, in absolute value, of those that were kept; infinite when there is none.</summary>
    public double LeastPivot => d.Select(Math.Abs).DefaultIfEmpty(double.PositiveInfinity).Min();

    /// <summary>Factors the matrix of these values. False when a pivot is zero or not a number.</summary>
    /// <param name="values">One for each entry of the pattern.</param>
    /// <param name="dropped">Where given: a pivot no larger than <paramref name="tiny"/> takes its row and column out of the
    /// matrix, as if they were not there, and is noted here.</param>
    /// <param name="tiny">The size at which each pivot counts as zero; empty for zero itself.</param>
    public bool Factor(ReadOnlySpan<double> values, ICollection<int>? dropped = null, ReadOnlySpan<double> tiny = default)
    {
        for (var k = 0; k < n; k++)
        {
            if (k % Glance == 0)
            {
                Patience.Look();
            }

            y[k] = 0;
            var top = n;
            flag[k] = k;
            count[k] = 0;
            for (var p = columnStart[k]; p < columnStart[k + 1]; p++)
            {
                var i = rowIndex[p];
                y[i] += values[p];
                var length = 0;
                for (; flag[i] != k; i = parent[i])
                {
                    pattern[length++] = i;
                    flag[i] = k;
                }

                while (length > 0)
                {
                    pattern[--top] = pattern[--length];
                }
            }

            d[k] = y[k];
            y[k] = 0;
            for (; top < n; top++)
            {
                var i = pattern[top];
                var yi = y[i];
                y[i] = 0;
                var end = lStart[i] + count[i];
                for (var p = lStart[i]; p < end; p++)
                {
                    y[lRow[p]] -= lValue[p] * yi;
                }

                var lki = yi / d[i];
                d[k] -= lki * yi;
                lRow[end] = k;
                lValue[end] = lki;
                count[i]++;
            }

            if (dropped is not null && Math.Abs(d[k]) <= (tiny.IsEmpty ? 0 : tiny[k]))
            {
                dropped.Add(k);
                d[k] = double.PositiveInfinity;
                Forget(k);
            }
            else if (d[k] == 0 || !double.IsFinite(d[k]))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Solves in place with the last factors; what was dropped comes out as zero.</summary>
    public void Solve(Span<double> b)
    {
        for (var j = 0; j < n; j++)
        {
            var bj = b[j];
            if (bj != 0)
            {
                var end = lStart[j] + count[j];
                for (var p = lStart[j]; p < end; p++)
                {
                    b[lRow[p]] -= lValue[p] * bj;
                }
            }
        }

        for (var j = n - 1; j >= 0; j--)
        {
            var bj = b[j] / d[j];
            var end = lStart[j] + count[j];
            for (var p = lStart[j]; p < end; p++)
            {
                bj -= lValue[p] * b[lRow[p]];
            }

            b[j] = bj;
        }
    }

    /// <summary>The entries of the inverse where the factor has entries: the diagonal, and those below it column by column
    /// (Takahashi, Fagan and Chin, "Formation of a sparse bus impedance matrix", 1973).</summary>
    public SparseInverse Inverse()
    {
        var below = new double[lRow.Length];
        var diagonal = new double[n];
        var z = new double[n];
        var inColumn = new int[n];
        for (var j = n - 1; j >= 0; j--)
        {
            var end = lStart[j] + count[j];
            for (var p = lStart[j]; p < end; p++)
            {
                inColumn[lRow[p]] = p + 1;
            }

            for (var p = lStart[j]; p < end; p++)
            {
                var (k, l) = (lRow[p], lValue[p]);
                z[k] -= l * diagonal[k];
                for (var q = lStart[k]; q < lStart[k] + count[k]; q++)
                {
                    if (inColumn[lRow[q]] is var at and > 0)
                    {
                        z[lRow[q]] -= l * below[q];
                        z[k] -= lValue[at - 1] * below[q];
                    }
                }
            }

            var sum = 1 / d[j];
            for (var p = lStart[j]; p < end; p++)
            {
                below[p] = z[lRow[p]];
                sum -= lValue[p] * below[p];
                z[lRow[p]] = 0;
                inColumn[lRow[p]] = 0;
            }

            diagonal[j] = sum;
        }

        return new SparseInverse(lStart, count, lRow, below, diagonal);
    }

    /// <summary>Takes the row that was just put in out again.</summary>
    private void Forget(int k)
    {
        for (var p = columnStart[k]; p < columnStart[k + 1]; p++)
        {
            for (var i = rowIndex[p]; i != -1 && i < k; i = parent[i])
            {
                var last = lStart[i] + count[i] - 1;
                if (count[i] > 0 && lRow[last] == k)
                {
                    lValue[last] = 0;
                }
            }
        }
    }
}

/// <summary>Entries of an inverse, in the pattern of a factor.</summary>
/// <param name="Start">Where each column begins.</param>
/// <param name="Count">How many entries it has below the diagonal.</param>
/// <param name="Row">Their rows, ascending.</param>
/// <param name="Below">Their values.</param>
/// <param name="Diagonal">The diagonal.</param>
internal sealed record SparseInverse(int[] Start, int[] Count, int[] Row, double[] Below, double[] Diagonal)
{
    /// <summary>One entry; zero where the pattern has none.</summary>
    public double At(int i, int j)
    {
        if (i == j)
        {
            return Diagonal[i];
        }

        var (row, column) = (Math.Max(i, j), Math.Min(i, j));
        var at = Array.BinarySearch(Row, Start[column], Count[column], row);
        return at >= 0 ? Below[at] : 0;
    }
}
