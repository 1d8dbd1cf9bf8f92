namespace Ratiogon.Core.Tools.Datums;

/// <summary>Places along a path that a dragged point stays at: ends, middle, thirds and quarters.</summary>
internal static class Detents
{
    private static readonly double[] Fractions = [0, 0.25, 1.0 / 3, 0.5, 2.0 / 3, 0.75, 1];

    /// <summary>The detent nearest to a fraction, where it is within reach; otherwise the fraction.</summary>
    public static double Near(double fraction, double reach)
    {
        var nearest = Fractions.MinBy(d => Math.Abs(d - fraction));
        return Math.Abs(nearest - fraction) <= reach ? nearest : fraction;
    }

    /// <summary>As a formula: thirds stay thirds.</summary>
    public static string Text(double fraction) =>
        Math.Abs(fraction - (1.0 / 3)) < Tolerances.Rounding ? "1/3"
        : Math.Abs(fraction - (2.0 / 3)) < Tolerances.Rounding ? "2/3"
        : Math.Round(fraction, 4).ToString("0.####");
}
