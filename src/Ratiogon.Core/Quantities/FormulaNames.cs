using System.Text.RegularExpressions;

namespace Ratiogon.Core.Quantities;

/// <summary>Names within formulas.</summary>
public static class FormulaNames
{
    /// <summary>A formula in which one name is written as another; everything else stays to the letter.</summary>
    /// <param name="formula">The formula.</param>
    /// <param name="from">A name that it may use.</param>
    /// <param name="to">What that is called now.</param>
    public static string Renamed(string formula, string from, string to) =>
        Regex.Replace(
            formula,
            $@"(?<![\w.]){Regex.Escape(from)}(?!\w)",
            to.Replace("$", "$$", StringComparison.Ordinal),
            RegexOptions.None,
            TimeSpan.FromSeconds(1)
        );
}
