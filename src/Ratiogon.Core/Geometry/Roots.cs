namespace Ratiogon.Core.Geometry;

/// <summary>Real roots of a smooth function of one variable.</summary>
internal static class Roots
{
    /// <summary>A bracket this narrow, as a share of the range, has one number in it.</summary>
    private const double Narrow = 1e-15;

    /// <summary>Roots nearer than this share of the range are one.</summary>
    private const double OneRoot = 1e-9;

    private const int MostSteps = 100;

    /// <summary>The spacing of numbers beside 1: a bracket narrower than this share of where it lies, or of what it was, cannot be told
    /// from a point.</summary>
    private const double Grain = 2.3e-16;

    /// <summary>Roots in a range in rising order: by sampling, then Brent's method in every bracket; places where the
    /// function touches zero without crossing it, and ends where it comes to zero, come once.</summary>
    /// <param name="f">The function.</param>
    /// <param name="from">Start of the range.</param>
    /// <param name="to">End of the range.</param>
    /// <param name="samples">How many intervals to look at.</param>
    /// <param name="zero">A value this small counts as zero where it touches.</param>
    public static IReadOnlyList<double> Find(Func<double, double> f, double from, double to, int samples, double zero)
    {
        var found = new List<double>();
        var (t, v) = (new double[samples + 1], new double[samples + 1]);
        for (var i = 0; i <= samples; i++)
        {
            t[i] = i == samples ? to : from + ((to - from) * i / samples);
            v[i] = f(t[i]);
        }

        for (var i = 0; i <= samples; i++)
        {
            if (v[i] == 0 || (i % samples == 0 && Math.Abs(v[i]) <= zero))
            {
                Add(found, t[i], to - from);
            }
            else if (i < samples && v[i] * v[i + 1] < 0)
            {
                Add(found, Brent(f, t[i], t[i + 1], v[i], v[i + 1]), to - from);
            }
            else if (
                i > 0
                && i < samples
                && v[i - 1] * v[i] > 0
                && v[i] * v[i + 1] > 0
                && Math.Abs(v[i]) <= Math.Abs(v[i - 1])
                && Math.Abs(v[i]) <= Math.Abs(v[i + 1])
            )
            {
                Touch(f, t[i - 1], t[i + 1], Math.Sign(v[i]), zero, to - from, found);
            }
        }

        found.Sort();
        return found;
    }

    /// <summary>Brent (1973), "Algorithms for Minimization without Derivatives", chapter 4.</summary>
    public static double Brent(Func<double, double> f, double a, double b, double fa, double fb)
    {
        var (c, fc, d, grain) = (a, fa, b - a, Grain * Math.Abs(b - a));
        var e = d;
        for (var step = 0; step < MostSteps; step++)
        {
            if (fb * fc > 0)
            {
                (c, fc) = (a, fa);
                d = e = b - a;
            }

            if (Math.Abs(fc) < Math.Abs(fb))
            {
                (a, b, c) = (b, c, b);
                (fa, fb, fc) = (fb, fc, fb);
            }

            var tolerance = grain + (Grain * Math.Abs(b));
            var half = (c - b) / 2;
            if (Math.Abs(half) <= tolerance || fb == 0)
            {
                return b;
            }

            if (Math.Abs(e) >= tolerance && Math.Abs(fa) > Math.Abs(fb))
            {
                var s = fb / fa;
                var (p, q) = a == c ? (2 * half * s, 1 - s) : Inverse(s, fa / fc, fb / fc, half, b - a);
                q = p > 0 ? -q : q;
                p = Math.Abs(p);
                (e, d) = 2 * p < Math.Min((3 * half * q) - Math.Abs(tolerance * q), Math.Abs(e * q)) ? (d, p / q) : (half, half);
            }
            else
            {
                d = e = half;
            }

            (a, fa) = (b, fb);
            b += Math.Abs(d) > tolerance ? d : Math.CopySign(tolerance, half);
            fb = f(b);
        }

        return b;
    }

    private static (double P, double Q) Inverse(double s, double q, double r, double half, double width) =>
        (s * ((2 * half * q * (q - r)) - (width * (r - 1))), (q - 1) * (r - 1) * (s - 1));

    /// <summary>Golden section down to the smallest value; kept when that crosses zero or touches it.</summary>
    private static void Touch(Func<double, double> f, double a, double b, int sign, double zero, double range, List<double> found)
    {
        const double Golden = 0.6180339887498949;
        var (low, high) = (a, b);
        var (p, q) = (high - (Golden * (high - low)), low + (Golden * (high - low)));
        var (fp, fq) = (sign * f(p), sign * f(q));
        for (var i = 0; i < MostSteps && high - low > Narrow * range; i++)
        {
            if (fp < fq)
            {
                (high, q, fq) = (q, p, fp);
                p = high - (Golden * (high - low));
                fp = sign * f(p);
            }
            else
            {
                (low, p, fp) = (p, q, fq);
                q = low + (Golden * (high - low));
                fq = sign * f(q);
            }

            if (Math.Min(fp, fq) < 0)
            {
                var inside = fp < fq ? p : q;
                Add(found, Brent(f, a, inside, f(a), f(inside)), range);
                Add(found, Brent(f, inside, b, f(inside), f(b)), range);
                return;
            }
        }

        if (Math.Min(fp, fq) <= zero)
        {
            Add(found, (low + high) / 2, range);
        }
    }

    private static void Add(List<double> found, double t, double range)
    {
        if (found.All(o => Math.Abs(o - t) > OneRoot * range))
        {
            found.Add(t);
        }
    }
}
