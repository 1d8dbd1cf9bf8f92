using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Gauging;

/// <summary>Mass from volume.</summary>
public static class Mass
{
    /// <param name="volume">In mm³.</param>
    /// <param name="material">Density in g/cm³.</param>
    /// <returns>Grams.</returns>
    public static double Grams(double volume, Material material) => volume / 1000 * material.Density;
}
