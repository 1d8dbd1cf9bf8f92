namespace Ratiogon.Core.Geometry;

/// <summary>B-spline basis functions with derivatives: Piegl and Tiller, "The NURBS Book", algorithms A2.1 and A2.3.</summary>
internal static class BSplineBasis
{
    /// <summary>The knot span that a parameter lies in; knots with repetitions, clamped at both ends.</summary>
    public static int Span(IReadOnlyList<double> knots, int degree, double t)
    {
        var last = knots.Count - degree - 2;
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
    public static double[,] Derivatives(IReadOnlyList<double> knots, int degree, int span, double t, int order)
    {
        var (p, n) = (degree, order);
        var table = new double[p + 1, p + 1];
        var (left, right) = (new double[p + 1], new double[p + 1]);
        table[0, 0] = 1;
        for (var j = 1; j <= p; j++)
        {
            left[j] = t - knots[span + 1 - j];
            right[j] = knots[span + j] - t;
            var saved = 0.0;
            for (var r = 0; r < j; r++)
            {
                table[j, r] = right[r + 1] + left[j - r];
                var part = table[r, j - 1] / table[j, r];
                table[r, j] = saved + (right[r + 1] * part);
                saved = left[j - r] * part;
            }

            table[j, j] = saved;
        }

        var ders = new double[n + 1, p + 1];
        for (var j = 0; j <= p; j++)
        {
            ders[0, j] = table[j, p];
        }

        for (var r = 0; r <= p; r++)
        {
            var a = new double[2, p + 1];
            var (s1, s2) = (0, 1);
            a[0, 0] = 1;
            for (var k = 1; k <= Math.Min(n, p); k++)
            {
                var (d, rk, pk) = (0.0, r - k, p - k);
                if (r >= k)
                {
                    a[s2, 0] = a[s1, 0] / table[pk + 1, rk];
                    d = a[s2, 0] * table[rk, pk];
                }

                var (from, to) = (rk >= -1 ? 1 : -rk, r - 1 <= pk ? k - 1 : p - r);
                for (var j = from; j <= to; j++)
                {
                    a[s2, j] = (a[s1, j] - a[s1, j - 1]) / table[pk + 1, rk + j];
                    d += a[s2, j] * table[rk + j, pk];
                }

                if (r <= pk)
                {
                    a[s2, k] = -a[s1, k - 1] / table[pk + 1, r];
                    d += a[s2, k] * table[r, pk];
                }

                ders[k, r] = d;
                (s1, s2) = (s2, s1);
            }
        }

        var factor = (double)p;
        for (var k = 1; k <= Math.Min(n, p); k++)
        {
            for (var j = 0; j <= p; j++)
            {
                ders[k, j] *= factor;
            }

            factor *= p - k;
        }

        return ders;
    }
}
