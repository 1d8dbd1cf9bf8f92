namespace Ratiogon.Core.Forms;

/// <summary>How large a size may be that was refused: found by halving what lies between nothing and it.</summary>
internal static class LargestThatFits
{
    /// <param name="refused">What does not fit.</param>
    /// <param name="fits">Tries one, as costly as the form itself.</param>
    /// <param name="tries">How many are tried; each halves what is not known.</param>
    /// <returns>The largest that was seen to fit, rounded down to three digits where that fits too; 0 where none did.</returns>
    public static double Below(double refused, Func<double, bool> fits, int tries = 10)
    {
        var (low, high) = (0.0, refused);
        for (var i = 0; i < tries; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = fits(middle) ? (middle, high) : (low, middle);
        }

        var plain = Down(low);
        return low > 0 && fits(plain) ? plain : low;
    }

    private static double Down(double value)
    {
        if (!(value > 0))
        {
            return 0;
        }

        var digit = Math.Pow(10, Math.Floor(Math.Log10(value)) - 2);
        return Math.Round(Math.Floor(value / digit * (1 + Tolerances.Rounding)) * digit, 12);
    }
}
