using System.Collections.Immutable;

namespace Ratiogon.Core.Geometry;

/// <summary>A place on a path with the direction of the path and one square to it.</summary>
public readonly record struct MovingFrame(Vec3 At, Vec3 Tangent, Vec3 Normal);

/// <summary>Frames along a path that turn about it as little as possible (double reflection: Wang, Jüttler, Zheng, Liu,
/// Computation of rotation minimizing frames, 2008).</summary>
public static class MovingFrames
{
    /// <summary>A direction across that is shorter than this tells no side.</summary>
    private const double NoSide = 1e-6;

    /// <summary>A squared step shorter than this reflects nothing.</summary>
    private const double NoStep = 1e-24;

    /// <param name="path">The path.</param>
    /// <param name="begin">A direction that the first normal is nearest to.</param>
    /// <param name="count">How many frames, both ends included, evenly by length.</param>
    public static ImmutableArray<MovingFrame> Along(CurvePath path, Vec3 begin, int count)
    {
        ArgumentNullException.ThrowIfNull(path);
        var frames = ImmutableArray.CreateBuilder<MovingFrame>(count);
        for (var i = 0; i < count; i++)
        {
            var (at, tangent) = path.AtLength(path.Length * i / (count - 1));
            if (i == 0)
            {
                var across = begin - (tangent * begin.Dot(tangent));
                frames.Add(new MovingFrame(at, tangent, across.Length > NoSide ? across.Unit : tangent.Across().A));
                continue;
            }

            var last = frames[i - 1];
            var step = at - last.At;
            var (normal, along) = (Reflected(last.Normal, step), Reflected(last.Tangent, step));
            var square = Reflected(normal, tangent - along);
            frames.Add(new MovingFrame(at, tangent, (square - (tangent * square.Dot(tangent))).Unit));
        }

        return frames.MoveToImmutable();
    }

    private static Vec3 Reflected(Vec3 v, Vec3 across) =>
        across.Dot(across) is var l && l > NoStep ? v - (across * (2 * v.Dot(across) / l)) : v;
}
