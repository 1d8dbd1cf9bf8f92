namespace Ratiogon.Core.Numerics.Equations;

/// <summary>A coordinate of a point equals that of a place on a curve.</summary>
internal sealed class PointAtForm(int point, CurveForm form, int axis) : Equation([point, .. form.All])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        Span<double> dx = stackalloc double[CurveForm.Most + 1];
        Span<double> dy = stackalloc double[CurveForm.Most + 1];
        var (x, y) = form.Evaluate(v[1..], 0, dx, dy);
        d[0] = 1;
        for (var i = 0; i < form.Count; i++)
        {
            d[i + 1] = axis == 0 ? -dx[i] : -dy[i];
        }

        return v[0] - (axis == 0 ? x : y);
    }
}

/// <summary>A coordinate of a place on one curve equals that of a place on another.</summary>
internal sealed class FormsMeet(CurveForm f, CurveForm g, int axis) : Equation([.. f.All, .. g.All])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        Span<double> fx = stackalloc double[CurveForm.Most + 1];
        Span<double> fy = stackalloc double[CurveForm.Most + 1];
        Span<double> gx = stackalloc double[CurveForm.Most + 1];
        Span<double> gy = stackalloc double[CurveForm.Most + 1];
        var (ax, ay) = f.Evaluate(v, 0, fx, fy);
        var (bx, by) = g.Evaluate(v[f.Count..], 0, gx, gy);
        for (var i = 0; i < f.Count; i++)
        {
            d[i] = axis == 0 ? fx[i] : fy[i];
        }

        for (var i = 0; i < g.Count; i++)
        {
            d[f.Count + i] = -(axis == 0 ? gx[i] : gy[i]);
        }

        return axis == 0 ? ax - bx : ay - by;
    }
}

/// <summary>Two curves go the same way where they meet: the cross product of their derivatives, divided by their
/// lengths when written.</summary>
/// <param name="f">A place on the one.</param>
/// <param name="g">A place on the other.</param>
/// <param name="scale">Product of the lengths of the derivatives when written.</param>
/// <param name="way">1 when they go the same way, -1 when opposite ways: which of the two is kept.</param>
internal sealed class SameDirection(CurveForm f, CurveForm g, double scale, int way) : Equation([.. f.All, .. g.All])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        Span<double> fx = stackalloc double[CurveForm.Most + 1];
        Span<double> fy = stackalloc double[CurveForm.Most + 1];
        Span<double> gx = stackalloc double[CurveForm.Most + 1];
        Span<double> gy = stackalloc double[CurveForm.Most + 1];
        var (ax, ay) = f.Evaluate(v, 1, fx, fy);
        var (bx, by) = g.Evaluate(v[f.Count..], 1, gx, gy);
        for (var i = 0; i < f.Count; i++)
        {
            d[i] = ((fx[i] * by) - (fy[i] * bx)) / scale;
        }

        for (var i = 0; i < g.Count; i++)
        {
            d[f.Count + i] = ((ax * gy[i]) - (ay * gx[i])) / scale;
        }

        return ((ax * by) - (ay * bx)) / scale;
    }

    public override bool OnSameSide(ReadOnlySpan<double> v)
    {
        Span<double> wx = stackalloc double[CurveForm.Most + 1];
        Span<double> wy = stackalloc double[CurveForm.Most + 1];
        var (ax, ay) = f.Evaluate(v, 1, wx, wy);
        var (bx, by) = g.Evaluate(v[f.Count..], 1, wx, wy);
        return ((ax * bx) + (ay * by)) * way > 0;
    }
}

/// <summary>Two curves bend alike where they meet: the difference of their curvatures times a length.</summary>
/// <param name="f">A place on the one.</param>
/// <param name="g">A place on the other.</param>
/// <param name="way">-1 when the curves run opposite ways there.</param>
/// <param name="scale">A length of the size of the curves, in millimetres.</param>
internal sealed class SameBend(CurveForm f, CurveForm g, int way, double scale) : Equation([.. f.All, .. g.All])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var a = Curvature(f, v, d, scale);
        var b = Curvature(g, v[f.Count..], d[f.Count..], -way * scale);
        return a + b;
    }

    private static double Curvature(CurveForm form, ReadOnlySpan<double> v, Span<double> d, double times)
    {
        Span<double> sx = stackalloc double[CurveForm.Most + 1];
        Span<double> sy = stackalloc double[CurveForm.Most + 1];
        Span<double> bx = stackalloc double[CurveForm.Most + 1];
        Span<double> by = stackalloc double[CurveForm.Most + 1];
        var (dx, dy) = form.Evaluate(v, 1, sx, sy);
        var (ex, ey) = form.Evaluate(v, 2, bx, by);
        var squared = (dx * dx) + (dy * dy);
        var cube = squared * Math.Sqrt(squared);
        var k = ((dx * ey) - (dy * ex)) / cube;
        for (var i = 0; i < form.Count; i++)
        {
            var cross = (sx[i] * ey) + (dx * by[i]) - (sy[i] * ex) - (dy * bx[i]);
            var along = (dx * sx[i]) + (dy * sy[i]);
            d[i] = times * ((cross / cube) - (3 * k * along / squared));
        }

        return times * k;
    }
}

/// <summary>A line touches a circle: the signed distance of the centre from the line equals plus or minus the radius.</summary>
internal sealed class LineTouchesCircle(int cx, int cy, int[] ends, int radius, int side) : Equation([cx, cy, .. ends, radius])
{
    private readonly LineDistance distance = new(cx, cy, ends[0], ends[1], ends[2], ends[3], 0);

    internal override (string Name, double[] Constants)? Plain => ("line-touches-circle", [side]);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var h = distance.Evaluate(v[..6], d);
        d[6] = -side;
        return h - (side * v[6]);
    }
}

/// <summary>Two circles touch: the distance of their centres is the sum of their radii (sign +1), or their difference,
/// the larger one's first (sign -1).</summary>
/// <param name="ax">Raw unknowns of the first centre, its radius, and the same of the second.</param>
/// <param name="sign">+1 outside, -1 one inside the other.</param>
/// <param name="larger">Of two circles one in the other, +1 where the first is the larger, -1 where the second is.</param>
internal sealed class CirclesTouch(int ax, int ay, int ra, int bx, int by, int rb, int sign, int larger)
    : Equation([ax, ay, bx, by, ra, rb])
{
    private readonly int first = sign > 0 || larger >= 0 ? 1 : -1;

    internal override (string Name, double[] Constants)? Plain => ("circles-touch", [sign, first]);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, x, y) = Norm.Of(v[2] - v[0], v[3] - v[1]);
        (d[0], d[1], d[2], d[3]) = (-x, -y, x, y);
        (d[4], d[5]) = (-first, -first * sign);
        return length - (first * (v[4] + (sign * v[5])));
    }

    /// <summary>Of two circles one in the other, the larger stays the larger, and one never comes to lie on the other.</summary>
    public override bool OnSameSide(ReadOnlySpan<double> v) =>
        sign > 0 || new Vec2(v[2] - v[0], v[3] - v[1]).Length > Tolerances.Length * Math.Max(1, Math.Abs(v[4]));
}

/// <summary>Two points level with each other along a line: (q - p) . u / |u|, with u along the line.</summary>
/// <param name="ends">Raw unknowns of the line's ends.</param>
/// <param name="points">Raw unknowns of the two points.</param>
internal sealed class SquareTo(int[] ends, int[] points) : Equation([.. ends, .. points])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, ux, uy) = Norm.Of(v[2] - v[0], v[3] - v[1]);
        var (x, y) = (v[6] - v[4], v[7] - v[5]);
        var along = (x * ux) + (y * uy);
        (d[2], d[3]) = ((x - (along * ux)) / length, (y - (along * uy)) / length);
        (d[0], d[1]) = (-d[2], -d[3]);
        (d[4], d[5], d[6], d[7]) = (-ux, -uy, ux, uy);
        return along;
    }
}

/// <summary>Two points equally far on either side of a line: the distance of their middle from it.</summary>
/// <param name="points">Raw unknowns of the two points.</param>
/// <param name="ends">Raw unknowns of the line's ends.</param>
internal sealed class EvenlyBeside(int[] points, int[] ends) : Equation([.. points, .. ends])
{
    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (length, ux, uy) = Norm.Of(v[6] - v[4], v[7] - v[5]);
        var (mx, my) = (((v[0] + v[2]) / 2) - v[4], ((v[1] + v[3]) / 2) - v[5]);
        var (off, along) = ((ux * my) - (uy * mx), (ux * mx) + (uy * my));
        (d[0], d[1]) = (-uy / 2, ux / 2);
        (d[2], d[3]) = (d[0], d[1]);
        (d[6], d[7]) = (uy * along / length, -ux * along / length);
        (d[4], d[5]) = (uy - d[6], -ux - d[7]);
        return off;
    }
}
