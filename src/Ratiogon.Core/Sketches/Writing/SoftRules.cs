using Ratiogon.Core.Numerics;
using Ratiogon.Core.Numerics.Equations;

namespace Ratiogon.Core.Sketches.Writing;

/// <summary>What stays as it is though nobody said so: lines keep their lengths and circles their radii before they keep
/// their places, so that what has to give way turns and shifts rather than shrinks.</summary>
internal static class SoftRules
{
    /// <summary>How much a radius resists changing, beside a coordinate's 1: it gives way only where nothing else can.</summary>
    public const double OfRadius = EquationSystem.Stiff;

    /// <summary>How much a length resists changing, beside a coordinate's 1.</summary>
    public const double OfLength = 1e6;

    /// <summary>How much the way from one end of a line to the other resists, where things are first carried along with what was
    /// moved.</summary>
    public const double OfCarrying = 1e3;

    /// <summary>How much those unknowns resist that follow from coordinates: slopes of splines, places on curves.</summary>
    public const double OfFollowers = 1e-3;

    /// <summary>Equations that rather hold, with how much each resists.</summary>
    public static List<(Equation Equation, double Stiffness)> Holding(SystemWriter writer)
    {
        var soft = new List<(Equation, double)>();
        var sized = Distances(writer);
        foreach (var (from, to) in writer.Lines)
        {
            if ((writer.Tied(from, to) && writer.Tied(from + 1, to + 1)) || !sized.Add(Pair(from, to)))
            {
                continue;
            }

            int[] e = [from, from + 1, to, to + 1];

            // What lies along an axis keeps its side as well.
            var (dx, dy) = Way(writer, e);
            var length = new Vec2(dx, dy).Length;
            var (level, upright) = (writer.Same(e[1], e[3]), writer.Same(e[0], e[2]));
            soft.Add(
                (
                    level ? new Linear([e[0], e[2]], [-1, 1], dx < 0 ? -length : length)
                    : upright ? new Linear([e[1], e[3]], [-1, 1], dy < 0 ? -length : length)
                    : new PointDistance(e[0], e[1], e[2], e[3], length),
                    OfLength
                )
            );
        }

        return soft;
    }

    /// <summary>Equations that let one end of a length follow the other where that is moved.</summary>
    public static List<(Equation Equation, double Stiffness)> Carrying(SystemWriter writer)
    {
        var soft = new List<(Equation, double)>();
        foreach (
            var (from, to) in writer
                .Equations.OfType<PointDistance>()
                .Select(d => (d.RawVariables[0], d.RawVariables[2]))
                .Concat(writer.Lines)
        )
        {
            for (var axis = 0; axis < 2; axis++)
            {
                var (a, b) = (from + axis, to + axis);
                if (!writer.Tied(a, b))
                {
                    soft.Add((new Linear([a, b], [-1, 1], writer.Start[b] - writer.Start[a]), OfCarrying));
                }
            }
        }

        return soft;
    }

    private static HashSet<(int, int)> Distances(SystemWriter writer) =>
        [.. writer.Equations.OfType<PointDistance>().Select(d => Pair(d.RawVariables[0], d.RawVariables[2]))];

    /// <summary>The way from one end to the other as drawn.</summary>
    private static (double X, double Y) Way(SystemWriter writer, int[] ends) =>
        (writer.Start[ends[2]] - writer.Start[ends[0]], writer.Start[ends[3]] - writer.Start[ends[1]]);

    private static (int Low, int High) Pair(int a, int b) => (Math.Min(a, b), Math.Max(a, b));
}
