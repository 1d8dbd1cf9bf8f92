using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>General tolerances (ISO 2768-1:1989, tables 1 to 3): what sizes without one of their own may be off by.</summary>
public static class Iso2768
{
    /// <summary>Ends of the ranges of lengths, in millimetres, each with its end.</summary>
    private static readonly double[] LengthsTo = [3, 6, 30, 120, 400, 1000, 2000, 4000];

    private const double LeastLength = 0.5;

    /// <summary>Table 1, fine to very coarse; 0 where nothing is said.</summary>
    private static readonly double[][] Lengths =
    [
        [0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, 0],
        [0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2],
        [0.2, 0.3, 0.5, 0.8, 1.2, 2, 3, 4],
        [0, 0.5, 1, 1.5, 2.5, 4, 6, 8],
    ];

    /// <summary>Table 2, outer radii and heights of chamfers: up to 3, up to 6, above.</summary>
    private static readonly double[][] Broken =
    [
        [0.2, 0.5, 1],
        [0.2, 0.5, 1],
        [0.4, 1, 2],
        [0.4, 1, 2],
    ];

    /// <summary>Table 3, angles in degrees with a shorter leg of up to 10 mm: the legs of a size are not known, so the widest.</summary>
    private static readonly double[] Angles = [1, 1, 1.5, 3];

    /// <summary>What a size may be off by to either side, in mm or rad; null where the standard says nothing of it.</summary>
    /// <param name="general">The class.</param>
    /// <param name="of">The size.</param>
    /// <param name="broken">Whether it is an outer radius or the height of a chamfer.</param>
    public static double? Of(GeneralTolerance general, Quantity of, bool broken)
    {
        if (of.Dimension == Dimension.OfAngle)
        {
            return Angles[(int)general] * Math.PI / 180;
        }

        var length = Math.Abs(of.Value);
        if (of.Dimension != Dimension.OfLength || length < LeastLength)
        {
            return null;
        }

        var range = Array.FindIndex(LengthsTo, to => length <= to);
        var off =
            range < 0 ? 0
            : broken ? Broken[(int)general][Math.Min(range, 2)]
            : Lengths[(int)general][range];
        return off > 0 ? off : null;
    }
}
