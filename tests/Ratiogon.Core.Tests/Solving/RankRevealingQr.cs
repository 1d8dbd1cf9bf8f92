namespace Ratiogon.Core.Tests.Solving;

/// <summary>
/// Householder QR with column pivoting (Businger and Golub, 1965) of a small dense matrix: its numerical rank, and
/// how far the first dropped diagonal lies from the last kept one.
/// </summary>
internal static class RankRevealingQr
{
    /// <summary>The rank of a row-major matrix, which is overwritten.</summary>
    public static int Rank(Span<double> a, int rows, int columns, double tolerance)
    {
        var norms = new double[columns];
        for (var c = 0; c < columns; c++)
        {
            norms[c] = ColumnNorm(a, rows, columns, 0, c);
        }

        var steps = Math.Min(rows, columns);
        var first = 0.0;
        for (var k = 0; k < steps; k++)
        {
            var p = k;
            for (var c = k; c < columns; c++)
            {
                norms[c] = ColumnNorm(a, rows, columns, k, c);
                if (norms[c] > norms[p])
                {
                    p = c;
                }
            }

            if (p != k)
            {
                for (var i = 0; i < rows; i++)
                {
                    (a[(i * columns) + k], a[(i * columns) + p]) = (a[(i * columns) + p], a[(i * columns) + k]);
                }

                (norms[k], norms[p]) = (norms[p], norms[k]);
            }

            first = k == 0 ? norms[0] : first;
            if (!(norms[k] > tolerance * Math.Max(first, 1e-300)))
            {
                return k;
            }

            Reflect(a, rows, columns, k, norms[k]);
        }

        return steps;
    }

    private static void Reflect(Span<double> a, int rows, int columns, int k, double norm)
    {
        var head = a[(k * columns) + k];
        var alpha = head > 0 ? -norm : norm;
        var v0 = head - alpha;
        var squared = v0 * v0;
        for (var i = k + 1; i < rows; i++)
        {
            squared += a[(i * columns) + k] * a[(i * columns) + k];
        }

        for (var c = k + 1; c < columns; c++)
        {
            var dot = v0 * a[(k * columns) + c];
            for (var i = k + 1; i < rows; i++)
            {
                dot += a[(i * columns) + k] * a[(i * columns) + c];
            }

            var f = 2 * dot / squared;
            a[(k * columns) + c] -= f * v0;
            for (var i = k + 1; i < rows; i++)
            {
                a[(i * columns) + c] -= f * a[(i * columns) + k];
            }
        }

        a[(k * columns) + k] = alpha;
        for (var i = k + 1; i < rows; i++)
        {
            a[(i * columns) + k] = 0;
        }
    }

    private static double ColumnNorm(Span<double> a, int rows, int columns, int from, int c)
    {
        var sum = 0.0;
        for (var i = from; i < rows; i++)
        {
            sum += a[(i * columns) + c] * a[(i * columns) + c];
        }

        return Math.Sqrt(sum);
    }
}
