using System.Collections.Immutable;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Solids;

/// <summary>Paths as the C ABI takes them.</summary>
internal static class PathNumbers
{
    public static (int[] Kinds, double[] Numbers) Of(CurvePath path)
    {
        var (kinds, numbers) = (new List<int>(), new List<double>());
        foreach (var curve in path.Curves)
        {
            switch (curve.Plain())
            {
                case SegmentCurve s:
                    kinds.Add(0);
                    Put(numbers, s.A, s.B);
                    break;
                case RoundCurve r:
                    kinds.Add(1);
                    Put(numbers, r.Centre, r.U, r.V);
                    numbers.AddRange([r.Start, r.End]);
                    break;
                case BSplineCurve b:
                    kinds.Add(2);
                    numbers.AddRange([b.Degree, b.Poles.Length, b.Weights.IsEmpty ? 0 : 1]);
                    numbers.AddRange(b.Knots);
                    Put(numbers, b.Poles.AsSpan());
                    numbers.AddRange(b.Weights);
                    break;
                default:
                    throw new InvalidOperationException($"no path of {curve.GetType().Name}");
            }
        }

        return ([.. kinds], [.. numbers]);
    }

    private static void Put(List<double> numbers, params ReadOnlySpan<Vec3> points)
    {
        foreach (var p in points)
        {
            numbers.AddRange([p.X, p.Y, p.Z]);
        }
    }
}
