namespace Ratiogon.Core.Numerics.Equations;

/// <summary>
/// A place on a curve, written as sums of the sketch's unknowns with factors that depend on one parameter:
/// x = sum of wx(t) v, y = sum of wy(t) v. Lines, circles, ellipses and spans of splines all have this form, and so
/// have their derivatives by t; every rule between curves is then one of a few equations.
/// </summary>
internal abstract class CurveForm(int[] variables, int parameter, double fixedAt)
{
    /// <summary>The most unknowns of one place.</summary>
    public const int Most = 8;

    /// <summary>Raw unknowns.</summary>
    public int[] Variables => variables;

    /// <summary>Raw unknown of the parameter, or -1 where the place is an end that stays one.</summary>
    public int Parameter => parameter;

    /// <summary>Writes the factors of the place (order 0) or of its first, second or third derivative by the parameter.</summary>
    public abstract void Weights(double t, int order, Span<double> wx, Span<double> wy);

    /// <summary>Unknowns of this place with its parameter, if that is one.</summary>
    public IEnumerable<int> All => parameter < 0 ? variables : variables.Append(parameter);

    /// <summary>Value of a derivative, and its own derivatives by everything in <see cref="All"/>.</summary>
    public (double X, double Y) Evaluate(ReadOnlySpan<double> v, int order, Span<double> dx, Span<double> dy)
    {
        var t = parameter < 0 ? fixedAt : v[variables.Length];
        Weights(t, order, dx, dy);
        var (x, y) = Sum(v, dx, dy);
        if (parameter >= 0)
        {
            Span<double> nx = stackalloc double[Most];
            Span<double> ny = stackalloc double[Most];
            Weights(t, order + 1, nx, ny);
            (dx[variables.Length], dy[variables.Length]) = Sum(v, nx, ny);
        }

        return (x, y);
    }

    public int Count => variables.Length + (parameter < 0 ? 0 : 1);

    private (double X, double Y) Sum(ReadOnlySpan<double> v, ReadOnlySpan<double> wx, ReadOnlySpan<double> wy)
    {
        var (x, y) = (0.0, 0.0);
        for (var i = 0; i < variables.Length; i++)
        {
            x += wx[i] * v[i];
            y += wy[i] * v[i];
        }

        return (x, y);
    }

    /// <summary>Puts one factor on x of a point and the same on y of it; <paramref name="k"/> is where its x stands.</summary>
    protected static void Put(Span<double> wx, Span<double> wy, int k, double factor) =>
        (wx[k], wx[k + 1], wy[k], wy[k + 1]) = (factor, 0, 0, factor);
}

/// <summary>Along a line from a (t = 0) to b (t = 1).</summary>
internal sealed class LineForm(int[] ends, int parameter, double fixedAt = 0) : CurveForm(ends, parameter, fixedAt)
{
    public override void Weights(double t, int order, Span<double> wx, Span<double> wy)
    {
        Put(
            wx,
            wy,
            0,
            order == 0 ? 1 - t
                : order == 1 ? -1
                : 0
        );
        Put(
            wx,
            wy,
            2,
            order == 0 ? t
                : order == 1 ? 1
                : 0
        );
    }
}

/// <summary>On a circle, at an angle in radians: unknowns centre x, centre y, radius.</summary>
internal sealed class CircleForm(int cx, int radius, int parameter) : CurveForm([cx, cx + 1, radius], parameter, 0)
{
    public override void Weights(double t, int order, Span<double> wx, Span<double> wy)
    {
        Put(wx, wy, 0, order == 0 ? 1 : 0);
        var turned = t + (order * Math.PI / 2);
        (wx[2], wy[2]) = (Math.Cos(turned), Math.Sin(turned));
    }
}

/// <summary>On a circle, where a known point of it is; the parameter is the angle and never unknown. Only for directions.</summary>
internal sealed class RimForm(int px, int cx) : CurveForm([px, px + 1, cx, cx + 1], -1, 0)
{
    public override void Weights(double t, int order, Span<double> wx, Span<double> wy)
    {
        if (order == 0)
        {
            Put(wx, wy, 0, 1);
            Put(wx, wy, 2, 0);
        }
        else if (order == 1)
        {
            // A quarter turn of p - c.
            (wx[0], wx[1], wx[2], wx[3]) = (0, -1, 0, 1);
            (wy[0], wy[1], wy[2], wy[3]) = (1, 0, -1, 0);
        }
        else
        {
            Put(wx, wy, 0, -1);
            Put(wx, wy, 2, 1);
        }
    }
}

/// <summary>On an ellipse, at an inner angle: unknowns centre, end of the first semi-axis, end of the second.
/// <paramref name="hand"/> is -1 where the second lies to the right of the first.</summary>
internal sealed class EllipseForm(int cx, int fx, int sx, double hand, int parameter)
    : CurveForm([cx, cx + 1, fx, fx + 1, sx, sx + 1], parameter, 0)
{
    public override void Weights(double t, int order, Span<double> wx, Span<double> wy)
    {
        var turned = t + (order * Math.PI / 2);
        var (cos, sin) = (Math.Cos(turned), hand * Math.Sin(turned));
        Put(wx, wy, 0, (order == 0 ? 1 : 0) - cos - sin);
        Put(wx, wy, 2, cos);
        Put(wx, wy, 4, sin);
    }
}

/// <summary>On one span of a spline in Hermite form: two points and the slopes there. The parameter runs along the whole spline.</summary>
internal sealed class SpanForm(int px, int qx, int mx, int nx, double knot, double length, int parameter, double fixedAt = 0)
    : CurveForm([px, px + 1, qx, qx + 1, mx, mx + 1, nx, nx + 1], parameter, fixedAt)
{
    public override void Weights(double t, int order, Span<double> wx, Span<double> wy)
    {
        var (s, h) = ((t - knot) / length, length);
        var (a, b, c, d) = order switch
        {
            0 => ((1 + (2 * s)) * (1 - s) * (1 - s), h * s * (1 - s) * (1 - s), s * s * (3 - (2 * s)), h * s * s * (s - 1)),
            1 => (((6 * s * s) - (6 * s)) / h, (1 - s) * (1 - (3 * s)), ((6 * s) - (6 * s * s)) / h, s * ((3 * s) - 2)),
            2 => (((12 * s) - 6) / (h * h), ((6 * s) - 4) / h, (6 - (12 * s)) / (h * h), ((6 * s) - 2) / h),
            3 => (12 / (h * h * h), 6 / (h * h), -12 / (h * h * h), 6 / (h * h)),
            _ => (0.0, 0.0, 0.0, 0.0),
        };
        Put(wx, wy, 0, a);
        Put(wx, wy, 2, c);
        Put(wx, wy, 4, b);
        Put(wx, wy, 6, d);
    }
}
