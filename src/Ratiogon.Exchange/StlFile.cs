using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace Ratiogon.Exchange;

/// <summary>Triangles as STL, in millimetres: 80 bytes of heading and 50 bytes for each, or as text.</summary>
public static class StlFile
{
    private const int Head = 80,
        Each = 50;

    public static FileFormat Format { get; } =
        FileFormat.OfTriangles("stl", "model/stl", "STL", "triangles, binary or text", "triangles, for printing", (name, bodies, options) =>
            options.Text ? Text(name, bodies) : Binary(bodies)
        ) with
        {
            Choices = FormatChoices.Deviation | FormatChoices.Text,
        };

    public static byte[] Binary(IReadOnlyList<MeshBody> bodies)
    {
        ArgumentNullException.ThrowIfNull(bodies);
        var real = bodies.Select(b => b.Mesh.Real()).ToList();
        var count = real.Sum(r => r.Count);
        var file = new byte[Head + 4 + (Each * count)];
        Encoding.ASCII.GetBytes("binary STL, millimetres").CopyTo(file, 0);
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(Head), count);
        var at = Head + 4;
        foreach (var (body, triangles) in bodies.Zip(real))
        {
            var places = body.Mesh.Places();
            var corners = body.Mesh.Corners();
            foreach (var t in triangles)
            {
                var into = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(file.AsSpan(at, 48));
                var (a, b, c) = ((int)corners[t], (int)corners[t + 1], (int)corners[t + 2]);
                (into[0], into[1], into[2]) = MeshReading.Normal(places, a, b, c);
                places.Slice(3 * a, 3).CopyTo(into[3..]);
                places.Slice(3 * b, 3).CopyTo(into[6..]);
                places.Slice(3 * c, 3).CopyTo(into[9..]);
                at += Each;
            }
        }

        return file;
    }

    public static byte[] Text(string name, IReadOnlyList<MeshBody> bodies)
    {
        ArgumentNullException.ThrowIfNull(bodies);
        var text = new StringBuilder();
        var plain = string.Concat((name ?? "").Where(c => c is >= ' ' and < (char)127));
        text.Append(CultureInfo.InvariantCulture, $"solid {plain}\n");
        foreach (var body in bodies)
        {
            var places = body.Mesh.Places();
            var corners = body.Mesh.Corners();
            foreach (var t in body.Mesh.Real())
            {
                var (x, y, z) = MeshReading.Normal(places, (int)corners[t], (int)corners[t + 1], (int)corners[t + 2]);
                text.Append(CultureInfo.InvariantCulture, $"facet normal {x:R} {y:R} {z:R}\nouter loop\n");
                for (var k = 0; k < 3; k++)
                {
                    var p = places.Slice(3 * (int)corners[t + k], 3);
                    text.Append(CultureInfo.InvariantCulture, $"vertex {p[0]:R} {p[1]:R} {p[2]:R}\n");
                }

                text.Append("endloop\nendfacet\n");
            }
        }

        return Encoding.ASCII.GetBytes(text.Append(CultureInfo.InvariantCulture, $"endsolid {plain}\n").ToString());
    }
}
