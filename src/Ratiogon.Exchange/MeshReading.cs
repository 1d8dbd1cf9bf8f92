using System.Runtime.InteropServices;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Exchange;

/// <summary>The arrays of a mesh as numbers.</summary>
internal static class MeshReading
{
    /// <summary>x, y, z of every corner.</summary>
    public static ReadOnlySpan<float> Places(this SolidMesh mesh) => MemoryMarshal.Cast<byte, float>(mesh.Positions);

    /// <summary>Three corners for every triangle.</summary>
    public static ReadOnlySpan<uint> Corners(this SolidMesh mesh) => MemoryMarshal.Cast<byte, uint>(mesh.Triangles);

    /// <summary>The numbers, in <see cref="Corners"/>, of the first corners of triangles whose corners lie in three places. Where a face
    /// closes on itself two of them may come to lie in one; without those nothing is open.</summary>
    public static List<int> Real(this SolidMesh mesh)
    {
        var places = mesh.Places();
        var corners = mesh.Corners();
        var real = new List<int>(corners.Length / 3);
        for (var t = 0; t < corners.Length; t += 3)
        {
            var a = places.Slice(3 * (int)corners[t], 3);
            var b = places.Slice(3 * (int)corners[t + 1], 3);
            var c = places.Slice(3 * (int)corners[t + 2], 3);
            if (!a.SequenceEqual(b) && !b.SequenceEqual(c) && !c.SequenceEqual(a))
            {
                real.Add(t);
            }
        }

        return real;
    }

    /// <summary>The triangle's unit normal by its corners; nothing for one without area.</summary>
    public static (float X, float Y, float Z) Normal(ReadOnlySpan<float> p, int a, int b, int c)
    {
        var (ux, uy, uz) = (p[3 * b] - p[3 * a], p[(3 * b) + 1] - p[(3 * a) + 1], p[(3 * b) + 2] - p[(3 * a) + 2]);
        var (vx, vy, vz) = (p[3 * c] - p[3 * a], p[(3 * c) + 1] - p[(3 * a) + 1], p[(3 * c) + 2] - p[(3 * a) + 2]);
        var (x, y, z) = ((uy * vz) - (uz * vy), (uz * vx) - (ux * vz), (ux * vy) - (uy * vx));
        var length = MathF.Sqrt((x * x) + (y * y) + (z * z));
        return length > 0 ? (x / length, y / length, z / length) : (0, 0, 0);
    }
}
