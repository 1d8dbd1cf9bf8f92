namespace Ratiogon.Core.Numerics.Equations;

/// <summary>Lengths of vectors and their derivatives.</summary>
internal static class Norm
{
    /// <summary>A length whose square still is a number; below it has no direction.</summary>
    private const double NoLength = 1e-150;

    /// <summary>The length of (x, y) and its direction. Nothing has no direction: it is given one, so that what lies in one place can
    /// come apart.</summary>
    public static (double Length, double X, double Y) Of(double x, double y)
    {
        var length = Math.Sqrt((x * x) + (y * y));
        return length > NoLength ? (length, x / length, y / length) : (length, 1, 0);
    }
}

/// <summary>Two points at a distance: |b - a| - d.</summary>
internal sealed class PointDistance(int ax, int ay, int bx, int by, double distance) : Equation([ax, ay, bx, by])
{
    internal override (string Name, double[] Constants)? Plain => ("point-distance", [distance]);

    /// <summary>Whether it holds the distance of these two points, by their first unknowns.</summary>
    internal bool Between(int p, int q) => (p == ax && q == bx) || (p == bx && q == ax);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, x, y) = Norm.Of(v[2] - v[0], v[3] - v[1]);
        (d[0], d[1], d[2], d[3]) = (-x, -y, x, y);
        return length - distance;
    }
}

/// <summary>A point on a circle of unknown radius: |p - c| - r.</summary>
internal sealed class OnCircle(int px, int py, int cx, int cy, int radius) : Equation([px, py, cx, cy, radius])
{
    internal override (string Name, double[] Constants)? Plain => ("on-circle", []);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, x, y) = Norm.Of(v[0] - v[2], v[1] - v[3]);
        (d[0], d[1], d[2], d[3], d[4]) = (x, y, -x, -y, -1);
        return length - v[4];
    }
}

/// <summary>Two segments of equal length: |b - a| - |d - c|.</summary>
internal sealed class EqualLengths(int[] abcd) : Equation(abcd)
{
    internal override (string Name, double[] Constants)? Plain => ("equal-lengths", []);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, x, y) = Norm.Of(v[2] - v[0], v[3] - v[1]);
        var (other, z, w) = Norm.Of(v[6] - v[4], v[7] - v[5]);
        (d[0], d[1], d[2], d[3]) = (-x, -y, x, y);
        (d[4], d[5], d[6], d[7]) = (z, w, -z, -w);
        return length - other;
    }
}

/// <summary>The signed distance of a point from the line through a and b (positive to the left of a to b) equals a
/// constant. Zero puts the point on the line.</summary>
internal sealed class LineDistance(int px, int py, int ax, int ay, int bx, int by, double signedDistance)
    : Equation([px, py, ax, ay, bx, by])
{
    /// <summary>Points nearer than this, in millimetres, have no direction from one to the other.</summary>
    private const double TooNear = 1e-12;

    internal override (string Name, double[] Constants)? Plain => ("line-distance", [signedDistance]);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (ux, uy) = (v[4] - v[2], v[5] - v[3]);
        var (wx, wy) = (v[0] - v[2], v[1] - v[3]);
        var length = Math.Sqrt((ux * ux) + (uy * uy));
        if (length < TooNear)
        {
            d[..6].Clear();
            return double.NaN;
        }

        // h = cross(u, w) / |u|
        var h = ((ux * wy) - (uy * wx)) / length;
        d[0] = -uy / length;
        d[1] = ux / length;
        d[4] = (wy / length) - (h * ux / (length * length));
        d[5] = (-wx / length) - (h * uy / (length * length));
        d[2] = -d[0] - d[4];
        d[3] = -d[1] - d[5];
        return h - signedDistance;
    }
}

/// <summary>Two centres whose distance is a value less (side +1) or plus (side -1) the radii: |d| - (value - side * sum of
/// radii).</summary>
internal sealed class RimToRim(int ax, int bx, int[] radii, int side, double value) : Equation([ax, ax + 1, bx, bx + 1, .. radii])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, x, y) = Norm.Of(v[2] - v[0], v[3] - v[1]);
        (d[0], d[1], d[2], d[3]) = (-x, -y, x, y);
        var sum = value;
        for (var i = 0; i < radii.Length; i++)
        {
            sum -= side * v[4 + i];
            d[4 + i] = side;
        }

        return length - sum;
    }
}

/// <summary>The near or far side of a circle at a distance from a line.</summary>
internal sealed class RimFromLine(int cx, int cy, int[] ends, int radius, int left, int side, double value)
    : Equation([cx, cy, .. ends, radius])
{
    private readonly LineDistance distance = new(cx, cy, ends[0], ends[1], ends[2], ends[3], 0);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var h = distance.Evaluate(v[..6], d);
        d[6] = left * side;
        return h - (left * (value - (side * v[6])));
    }
}

/// <summary>The length of an arc: radius times sweep.</summary>
internal sealed class LengthOfArc(int cx, int from, int to, int radius, double value, double sweepNow)
    : Equation([cx, cx + 1, from, from + 1, to, to + 1, radius])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (fx, fy, tx, ty, r) = (v[2] - v[0], v[3] - v[1], v[4] - v[0], v[5] - v[1], v[6]);
        var sweep = Math.Atan2((fx * ty) - (fy * tx), (fx * tx) + (fy * ty));
        sweep += 2 * Math.PI * Math.Round((sweepNow - sweep) / (2 * Math.PI));
        var (ff, tt) = ((fx * fx) + (fy * fy), (tx * tx) + (ty * ty));
        (d[2], d[3]) = (r * fy / ff, -r * fx / ff);
        (d[4], d[5]) = (-r * ty / tt, r * tx / tt);
        (d[0], d[1], d[6]) = (-d[2] - d[4], -d[3] - d[5], sweep);
        return (r * sweep) - value;
    }
}
