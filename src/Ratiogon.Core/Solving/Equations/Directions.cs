namespace Ratiogon.Core.Solving.Equations;

/// <summary>
/// Two lines a-b and c-d at a signed angle: cross(u, v) cos t - dot(u, v) sin t = 0, divided by the product of the
/// lengths when written. Polynomial, at the price of also being met at t + pi; <see cref="OnSameSide"/> tells the
/// two apart.
/// </summary>
internal sealed class LinesAtAngle(int[] abcd, double angle, double scale) : Equation(abcd)
{
    private readonly double cos = Math.Cos(angle);
    private readonly double sin = Math.Sin(angle);

    internal override (string Name, double[] Constants)? Plain => ("lines-at-angle", [cos, sin, scale]);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (ux, uy, wx, wy) = (v[2] - v[0], v[3] - v[1], v[6] - v[4], v[7] - v[5]);
        var dux = ((wy * cos) - (wx * sin)) / scale;
        var duy = ((-wx * cos) - (wy * sin)) / scale;
        var dwx = ((-uy * cos) - (ux * sin)) / scale;
        var dwy = ((ux * cos) - (uy * sin)) / scale;
        (d[0], d[1], d[2], d[3]) = (-dux, -duy, dux, duy);
        (d[4], d[5], d[6], d[7]) = (-dwx, -dwy, dwx, dwy);
        return ((((ux * wy) - (uy * wx)) * cos) - (((ux * wx) + (uy * wy)) * sin)) / scale;
    }

    public override bool OnSameSide(ReadOnlySpan<double> v)
    {
        var (ux, uy, wx, wy) = (v[2] - v[0], v[3] - v[1], v[6] - v[4], v[7] - v[5]);
        return (((ux * wx) + (uy * wy)) * cos) + (((ux * wy) - (uy * wx)) * sin) > 0;
    }
}
