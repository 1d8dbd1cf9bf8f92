namespace Ratiogon.Core.Solving;

/// <summary>
/// Up-looking LDL' factorisation of a sparse symmetric matrix (Davis, "Algorithm 849: a concise sparse Cholesky
/// factorization package", 2005). The pattern is analysed once and factored many times.
/// </summary>
internal sealed class SparseLdl
{
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

    /// <summary>Factors the matrix of these values. False when a pivot is not positive.</summary>
    public bool Factor(ReadOnlySpan<double> values)
    {
        for (var k = 0; k < n; k++)
        {
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

            if (!(d[k] > 0))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Solves in place with the last factors.</summary>
    public void Solve(Span<double> b)
    {
        for (var j = 0; j < n; j++)
        {
            for (var p = lStart[j]; p < lStart[j] + count[j]; p++)
            {
                b[lRow[p]] -= lValue[p] * b[j];
            }
        }

        for (var j = n - 1; j >= 0; j--)
        {
            b[j] /= d[j];
            for (var p = lStart[j]; p < lStart[j] + count[j]; p++)
            {
                b[j] -= lValue[p] * b[lRow[p]];
            }
        }
    }
}
