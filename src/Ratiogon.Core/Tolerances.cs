namespace Ratiogon.Core;

/// <summary>Every tolerance of the core, in one place. Lengths in millimetres, angles in radians.</summary>
public static class Tolerances
{
    /// <summary>A scaled residual at or below this counts as met.</summary>
    public const double Residual = 1e-10;

    /// <summary>What rounding leaves of a residual, as a share of the largest coordinate: some sixteen units in the last place.</summary>
    public const double Grain = 3.6e-15;

    /// <summary>A pivot smaller than this, of rows scaled to length one, counts as zero.</summary>
    public const double Rank = 1e-8;

    /// <summary>Points nearer than this are the same point.</summary>
    public const double Length = 1e-7;

    /// <summary>Directions nearer than this are parallel.</summary>
    public const double Angle = 1e-9;

    /// <summary>The shortest line and the smallest radius a sketch may hold.</summary>
    public const double SmallestSize = 1e-4;

    /// <summary>The largest coordinate or length anywhere: one kilometre.</summary>
    public const double LargestSize = 1e6;

    /// <summary>How far a curve and its drawn chords may lie apart, as a fraction of the part's size.</summary>
    public const double DrawnDeviation = 1e-3;
}
