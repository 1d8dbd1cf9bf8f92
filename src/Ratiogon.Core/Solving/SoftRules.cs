using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Solving.Equations;

namespace Ratiogon.Core.Solving;

/// <summary>What stays as it is though nobody said so: lines keep their lengths and circles their radii before they keep
/// their places, so that what has to give way turns and shifts rather than shrinks.</summary>
internal static class SoftRules
{
    /// <summary>How much a radius resists changing, beside a coordinate's 1.</summary>
    public const double OfRadius = 100;

    /// <summary>How much a length resists changing, beside a coordinate's 1.</summary>
    public const double OfLength = 100;

    /// <summary>How much those unknowns resist that follow from coordinates: slopes of splines, places on curves.</summary>
    public const double OfFollowers = 1e-3;

    public static void Write(SystemWriter writer)
    {
        var sized = writer.Equations.OfType<PointDistance>().Select(e => Pair(e.RawVariables[0], e.RawVariables[2])).ToHashSet();
        foreach (var entity in writer.Sketch.Entities)
        {
            if (entity is LineEntity line && writer.EndsOf(line) is var e && sized.Add(Pair(e[0], e[2])))
            {
                var length = new Vec2(writer.Start[e[2]] - writer.Start[e[0]], writer.Start[e[3]] - writer.Start[e[1]]).Length;
                writer.AddSoft(new PointDistance(e[0], e[1], e[2], e[3], length), OfLength);
            }
        }
    }

    private static (int Low, int High) Pair(int a, int b) => (Math.Min(a, b), Math.Max(a, b));
}
