namespace Ratiogon.Core.Numerics.Equations;

/// <summary>
/// Two lines a-b and c-d at a signed angle: how far the second line's direction is turned past that angle from the
/// first, times a length. Lengths do not enter, so a line is turned to meet it and never shrunk, and the opposite
/// direction does not meet it.
/// </summary>
/// <param name="abcd">Raw unknowns of the four ends, x and y.</param>
/// <param name="angle">From the first direction to the second, in radians, counterclockwise.</param>
/// <param name="scale">A length of the size of the lines, in mm: what a radian counts for.</param>
internal sealed class LinesAtAngle(int[] abcd, double angle, double scale) : Equation(abcd)
{
    internal override (string Name, double[] Constants)? Plain => ("lines-at-angle", [angle, scale]);

    public override double Evaluate(ReadOnlySpan<double> v, Span<double> d)
    {
        var (ux, uy, wx, wy) = (v[2] - v[0], v[3] - v[1], v[6] - v[4], v[7] - v[5]);
        var (uu, ww) = ((ux * ux) + (uy * uy), (wx * wx) + (wy * wy));
        if (!(uu > 0) || !(ww > 0))
        {
            d[..8].Clear();
            return double.NaN;
        }

        var turned = Math.Atan2((ux * wy) - (uy * wx), (ux * wx) + (uy * wy));
        var (ax, ay, bx, by) = (scale * uy / uu, -scale * ux / uu, -scale * wy / ww, scale * wx / ww);
        (d[0], d[1], d[2], d[3]) = (-ax, -ay, ax, ay);
        (d[4], d[5], d[6], d[7]) = (-bx, -by, bx, by);
        return scale * Math.IEEERemainder(turned - angle, 2 * Math.PI);
    }

    /// <summary>Exactly opposite directions lie as near to the angle on either way round.</summary>
    public override bool OnSameSide(ReadOnlySpan<double> v)
    {
        var (ux, uy, wx, wy) = (v[2] - v[0], v[3] - v[1], v[6] - v[4], v[7] - v[5]);
        var (sin, cos) = Math.SinCos(angle);
        return (((ux * wx) + (uy * wy)) * cos) + (((ux * wy) - (uy * wx)) * sin) > 0;
    }
}
