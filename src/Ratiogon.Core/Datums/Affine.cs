namespace Ratiogon.Core.Datums;

/// <summary>The solutions of a few linear equations in a few unknowns: a place and the directions one may still go from it.
/// Rows are taken in order; a row that says nothing new is dropped when it agrees and marks a contradiction when not.
/// Modified Gram-Schmidt, twice for orthogonality (Giraud et al. 2005).</summary>
internal sealed class Affine
{
    /// <summary>What is left of a row of length one below this is nothing: it says what the others say, or contradicts them.</summary>
    private const double Same = 1e-9;

    private readonly int n;
    private readonly List<double[]> rows = [];

    /// <param name="unknowns">How many.</param>
    public Affine(int unknowns)
    {
        n = unknowns;
        Place = new double[unknowns];
    }

    /// <summary>The solution nearest to zero.</summary>
    public double[] Place { get; }

    /// <summary>How many rows say something new.</summary>
    public int Rank => rows.Count;

    /// <summary>Whether a row contradicted those before it.</summary>
    public bool Contradiction { get; private set; }

    /// <summary>Whether a row only repeated those before it.</summary>
    public bool Redundant { get; private set; }

    /// <summary>By how much the worst contradicting row was missed, scaled to unit rows.</summary>
    public double Miss { get; private set; }

    /// <summary>The same of the rows that only turn, in radians.</summary>
    public double Turn { get; private set; }

    /// <summary>Takes <c>row . x = value</c>. Rows may have any length but zero.</summary>
    /// <param name="row">The row.</param>
    /// <param name="value">The value.</param>
    /// <param name="turning">Whether the row is of a direction alone: its value is then the cosine or the sine of an angle.</param>
    public void Add(ReadOnlySpan<double> row, double value, bool turning = false)
    {
        var (q, norm) = (row.ToArray(), Norm(row));
        if (norm < Tolerances.Vanishing)
        {
            return;
        }

        value /= norm;
        for (var i = 0; i < n; i++)
        {
            q[i] /= norm;
        }

        // What is left of the value is taken from the place reached so far, which meets all rows before.
        Orthogonalise(q, null);
        var rest = value;
        for (var i = 0; i < n; i++)
        {
            rest -= row[i] / norm * Place[i];
        }

        var length = Norm(q);
        if (length < Same)
        {
            if (turning)
            {
                Turn = Math.Max(Turn, Math.Abs(Math.Asin(Math.Clamp(value, -1, 1)) - Math.Asin(Math.Clamp(value - rest, -1, 1))));
            }
            else
            {
                Miss = Math.Max(Miss, Math.Abs(rest));
            }

            Contradiction |= Math.Abs(rest) > Same;
            Redundant |= Math.Abs(rest) <= Same;
            return;
        }

        for (var i = 0; i < n; i++)
        {
            q[i] /= length;
            Place[i] += q[i] * (rest / length);
        }

        rows.Add(q);
    }

    /// <summary>Orthonormal directions that keep all rows, so oriented that rows and directions together turn right-handed:
    /// they follow the rows without jumping.</summary>
    public double[][] Directions()
    {
        var found = new List<double[]>(n - rows.Count);
        while (found.Count + rows.Count < n)
        {
            // The unit vector that the ones so far cover least.
            double[]? best = null;
            var bestLength = -1.0;
            for (var e = 0; e < n; e++)
            {
                var v = new double[n];
                v[e] = 1;
                Orthogonalise(v, found);
                if (Norm(v) is var length && length > bestLength + Tolerances.Rounding)
                {
                    (best, bestLength) = (v, length);
                }
            }

            for (var i = 0; i < n; i++)
            {
                best![i] /= bestLength;
            }

            found.Add(best!);
        }

        if (found.Count > 0 && Determinant(found) < 0)
        {
            var last = found[^1];
            for (var i = 0; i < n; i++)
            {
                last[i] = -last[i];
            }
        }

        return [.. found];
    }

    /// <summary>Takes away what the rows, and further directions, cover.</summary>
    private void Orthogonalise(double[] v, List<double[]>? further)
    {
        for (var pass = 0; pass < 2; pass++)
        {
            for (var k = 0; k < rows.Count + (further?.Count ?? 0); k++)
            {
                var q = k < rows.Count ? rows[k] : further![k - rows.Count];
                var share = Dot(q, v);
                for (var i = 0; i < v.Length; i++)
                {
                    v[i] -= share * q[i];
                }
            }
        }
    }

    public static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var sum = 0.0;
        for (var i = 0; i < a.Length; i++)
        {
            sum += a[i] * b[i];
        }

        return sum;
    }

    private static double Norm(ReadOnlySpan<double> a) => Math.Sqrt(Dot(a, a));

    /// <summary>Of the rows and directions together, by elimination with row exchanges.</summary>
    private double Determinant(List<double[]> directions)
    {
        Span<double> m = stackalloc double[n * n];
        for (var i = 0; i < n; i++)
        {
            (i < rows.Count ? rows[i] : directions[i - rows.Count]).CopyTo(m[(i * n)..]);
        }

        var result = 1.0;
        for (var k = 0; k < n; k++)
        {
            var pivot = k;
            for (var i = k + 1; i < n; i++)
            {
                pivot = Math.Abs(m[(i * n) + k]) > Math.Abs(m[(pivot * n) + k]) ? i : pivot;
            }

            if (pivot != k)
            {
                for (var j = 0; j < n; j++)
                {
                    (m[(k * n) + j], m[(pivot * n) + j]) = (m[(pivot * n) + j], m[(k * n) + j]);
                }

                result = -result;
            }

            var diagonal = m[(k * n) + k];
            result *= diagonal;
            for (var i = k + 1; i < n && diagonal != 0; i++)
            {
                var f = m[(i * n) + k] / diagonal;
                for (var j = k; j < n; j++)
                {
                    m[(i * n) + j] -= f * m[(k * n) + j];
                }
            }
        }

        return result;
    }
}
