namespace Ratiogon.Core;

/// <summary>The tolerances that more than one place uses. What only one algorithm needs stands there, as a constant with its reason; a bare
/// number is nowhere (a test looks for them). Lengths in millimetres, angles in radians.</summary>
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

    /// <summary>Directions of what is drawn, or picked to be cut, that lean against each other by less than this are parallel: they would
    /// meet
    /// a million times further off than they are long.</summary>
    public const double DrawnAngle = 1e-6;

    /// <summary>Directions of datums nearer than this are parallel, and datums nearer than this share of the size of what they hang on are
    /// one.
    /// Their equations are solved to about 1e-13; solutions where two of them nearly coincide lose half of the digits.</summary>
    public const double DatumAngle = 1e-7;

    /// <summary>Solutions nearer than this share of the size are one and the same, found twice.</summary>
    public const double OneSolution = 1e-8;

    /// <summary>A sweep this near to a whole turn is one: what rounding leaves of it.</summary>
    public const double WholeTurn = 1e-12;

    /// <summary>What rounding may leave between two lengths that should be equal, where sizes are of a part.</summary>
    public const double Apart = 1e-9;

    /// <summary>What the solid kernel may leave between two places that should be one: ten times its own tolerance of points.</summary>
    public const double KernelLength = 1e-6;

    /// <summary>What a few operations may lose by rounding, as a share of the value.</summary>
    public const double Rounding = 1e-12;

    /// <summary>A number this near to a whole one is it.</summary>
    public const double WholeNumber = 1e-9;

    /// <summary>Kept from a divisor that may be nothing, where what is divided is nothing as well. No value of a part comes near
    /// it.</summary>
    public const double Vanishing = 1e-300;

    /// <summary>The shortest line and the smallest radius a sketch may hold.</summary>
    public const double SmallestSize = 1e-4;

    /// <summary>The largest coordinate or length anywhere: one kilometre.</summary>
    public const double LargestSize = 1e6;

    /// <summary>How far a curve and its drawn chords may lie apart, as a fraction of the part's size.</summary>
    public const double DrawnDeviation = 1e-3;
}
