using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Forms;

/// <summary>
/// What the outline alone says of the solids that are made straight from it: the area times the height of a prism, the first
/// moment times the turn of a revolved body (Pappus). A solid that comes out otherwise is refused.
/// </summary>
internal static class ProfileMoments
{
    /// <summary>How far, as a share, a volume may be off what Pappus says it is.</summary>
    private const double Agrees = 1e-6;

    /// <summary>In mm².</summary>
    public static double Area(Profile profile) => profile.Regions.Sum(r => r.Area);

    /// <summary>The integral of the distance from a line over the area, in mm³; positive to the left of the line.</summary>
    /// <param name="profile">A profile.</param>
    /// <param name="foot">A place on the line, in the profile's plane.</param>
    /// <param name="direction">The line's direction there, of length one.</param>
    public static double First(Profile profile, Vec2 foot, Vec2 direction)
    {
        // With u along the line and s to its left: the integral of s over the area is the contour integral of -s²/2 du.
        (double U, double S) In(Vec2 p) => ((p - foot).Dot(direction), direction.Cross(p - foot));
        var sum = 0.0;
        foreach (var edge in profile.Edges)
        {
            if (!edge.Round && edge.Free is null)
            {
                var ((u, s), (v, t)) = (In(edge.From), In(edge.To));
                sum -= (v - u) * ((s * s) + (s * t) + (t * t)) / 6;
                continue;
            }

            const int Pieces = 32;
            for (var i = 0; i < Pieces; i++)
            {
                sum -= Gauss(i / (double)Pieces, (i + 1) / (double)Pieces);
            }

            double Gauss(double from, double to)
            {
                ReadOnlySpan<double> at = [0.0694318442029737, 0.3300094782075719, 0.6699905217924281, 0.9305681557970263];
                ReadOnlySpan<double> weight = [0.1739274225687269, 0.3260725774312731, 0.3260725774312731, 0.1739274225687269];
                var part = 0.0;
                for (var k = 0; k < 4; k++)
                {
                    var share = from + ((to - from) * at[k]);
                    var s = In(edge.Inside(share)).S;
                    part += weight[k] * s * s / 2 * Slope(edge, share).Dot(direction);
                }

                return part * (to - from);
            }
        }

        return sum;
    }

    /// <summary>The result, where its volume is positive, finite and what the outline says; a refusal otherwise.</summary>
    /// <param name="kernel">Measures.</param>
    /// <param name="made">The solid.</param>
    /// <param name="expected">The volume that the outline gives it, in mm³.</param>
    /// <param name="what">The form's name, for the code of a refusal.</param>
    public static Outcome<SolidResult> Checked(ISolidKernel kernel, SolidResult made, double expected, string what)
    {
        var volume = kernel.Mass(made.Solid).Volume;
        return double.IsFinite(volume) && volume > 0 && Math.Abs(volume - expected) <= Agrees * expected
            ? made
            : new Refusal(
                $"{what}.volume",
                $"The solid came out with {volume:0.####} mm³ where its outline makes {expected:0.####} mm³: it is not kept. "
                    + "Where outlines touch or nearly touch, draw them apart or let them cross.",
                "sketch"
            );
    }

    /// <summary>The derivative of <see cref="ProfileEdge.Inside"/> by the share.</summary>
    private static Vec2 Slope(ProfileEdge edge, double share) =>
        edge.Free is { } free
            ? free.Slope(edge.Stretch.From + ((edge.Stretch.To - edge.Stretch.From) * share)) * (edge.Stretch.To - edge.Stretch.From)
            : (edge.Inside(share) - edge.Centre).Left * edge.Turn;
}
