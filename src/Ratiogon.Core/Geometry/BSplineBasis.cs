namespace Ratiogon.Core.Geometry;

/// <summary>B-spline basis functions with derivatives: Piegl and Tiller, "The NURBS Book", algorithms A2.1 and A2.3.</summary>
internal static class BSplineBasis
{
    /// <summary>The knot span that a parameter lies in; knots with repetitions, clamped at both ends.</summary>
    public static int Span(ReadOnlySpan<double> knots, int degree, double t)
    {
        var last = knots.Length - degree - 2;
        if (t >= knots[last + 1])
        {
            return last;
        }

        var (low, high) = (degree, last + 1);
        while (high - low > 1)
        {
            var middle = (low + high) / 2;
            (low, high) = t < knots[middle] ? (low, middle) : (middle, high);
        }

        return low;
    }

    /// <summary>Values (row 0) and derivatives up to <paramref name="order"/> of the degree + 1 functions that are not zero in the
    /// span.</summary>
    /// <param name="knots">With repetitions, clamped at both ends.</param>
    /// <param name="degree">One or more.</param>
    /// <param name="span">As <see cref="Span"/> tells it.</param>
    /// <param name="t">In the span.</param>
    /// <param name="order">The highest derivative.</param>
    /// <param name="ders">Filled row by row: (order + 1) x (degree + 1).</param>
    public static void Derivatives(ReadOnlySpan<double> knots, int degree, int span, double t, int order, Span<double> ders)
    {
        var (p, n, wide) = (degree, order, degree + 1);
        Span<double> table = stackalloc double[wide * wide];
        Span<double> left = stackalloc double[wide];
        Span<double> right = stackalloc double[wide];
        table[0] = 1;
        for (var j = 1; j <= p; j++)
        {
            left[j] = t - knots[span + 1 - j];
            right[j] = knots[span + j] - t;
            var saved = 0.0;
            for (var r = 0; r < j; r++)
            {
                table[(j * wide) + r] = right[r + 1] + left[j - r];
                var part = table[(r * wide) + j - 1] / table[(j * wide) + r];
                table[(r * wide) + j] = saved + (right[r + 1] * part);
                saved = left[j - r] * part;
            }

            table[(j * wide) + j] = saved;
        }

        ders[..((n + 1) * wide)].Clear();
        for (var j = 0; j <= p; j++)
        {
            ders[j] = table[(j * wide) + p];
        }

        Span<double> a = stackalloc double[wide];
        Span<double> b = stackalloc double[wide];
        for (var r = 0; r <= p && n > 0; r++)
        {
            a.Clear();
            a[0] = 1;
            for (var k = 1; k <= Math.Min(n, p); k++)
            {
                b.Clear();
                var (d, rk, pk) = (0.0, r - k, p - k);
                if (r >= k)
                {
                    b[0] = a[0] / table[((pk + 1) * wide) + rk];
                    d = b[0] * table[(rk * wide) + pk];
                }

                var (from, to) = (rk >= -1 ? 1 : -rk, r - 1 <= pk ? k - 1 : p - r);
                for (var j = from; j <= to; j++)
                {
                    b[j] = (a[j] - a[j - 1]) / table[((pk + 1) * wide) + rk + j];
                    d += b[j] * table[((rk + j) * wide) + pk];
                }

                if (r <= pk)
                {
                    b[k] = -a[k - 1] / table[((pk + 1) * wide) + r];
                    d += b[k] * table[(r * wide) + pk];
                }

                ders[(k * wide) + r] = d;
                b.CopyTo(a);
            }
        }

        var factor = (double)p;
        for (var k = 1; k <= Math.Min(n, p); k++)
        {
            for (var j = 0; j <= p; j++)
            {
                ders[(k * wide) + j] *= factor;
            }

            factor *= p - k;
        }
    }
}
