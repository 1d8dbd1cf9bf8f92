namespace Ratiogon.Core.Solving.Equations;

/// <summary>Two points at a distance: (|b - a|² - d²) / 2d, about the error in length and free of square roots.</summary>
internal sealed class PointDistance(int ax, int ay, int bx, int by, double distance) : Equation([ax, ay, bx, by])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (x, y) = (v[2] - v[0], v[3] - v[1]);
        (d[0], d[1], d[2], d[3]) = (-x / distance, -y / distance, x / distance, y / distance);
        return ((x * x) + (y * y) - (distance * distance)) / (2 * distance);
    }
}

/// <summary>A point on a circle of unknown radius: (|p - c|² - r²) / 2s, with s the radius when written.</summary>
internal sealed class OnCircle(int px, int py, int cx, int cy, int radius, double scale) : Equation([px, py, cx, cy, radius])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (x, y, r) = (v[0] - v[2], v[1] - v[3], v[4]);
        (d[0], d[1], d[2], d[3], d[4]) = (x / scale, y / scale, -x / scale, -y / scale, -r / scale);
        return ((x * x) + (y * y) - (r * r)) / (2 * scale);
    }
}

/// <summary>Two segments of equal length: (|b - a|² - |d - c|²) / 2s.</summary>
internal sealed class EqualLengths(int[] abcd, double scale) : Equation(abcd)
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (x, y, z, w) = (v[2] - v[0], v[3] - v[1], v[6] - v[4], v[7] - v[5]);
        (d[0], d[1], d[2], d[3]) = (-x / scale, -y / scale, x / scale, y / scale);
        (d[4], d[5], d[6], d[7]) = (z / scale, w / scale, -z / scale, -w / scale);
        return ((x * x) + (y * y) - (z * z) - (w * w)) / (2 * scale);
    }
}

/// <summary>The signed distance of a point from the line through a and b (positive to the left of a to b) equals a
/// constant. Zero puts the point on the line.</summary>
internal sealed class LineDistance(int px, int py, int ax, int ay, int bx, int by, double signedDistance) : Equation([px, py, ax, ay, bx, by])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (ux, uy) = (v[4] - v[2], v[5] - v[3]);
        var (wx, wy) = (v[0] - v[2], v[1] - v[3]);
        var length = Math.Sqrt((ux * ux) + (uy * uy));
        if (length < 1e-12)
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
