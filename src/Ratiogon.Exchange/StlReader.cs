using System.Buffers.Binary;
using System.Buffers.Text;
using System.Text;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Exchange;

/// <summary>STL as text or binary. The format has no unit; its normals are worked out from the corners instead.</summary>
internal static class StlReader
{
    private const int Head = 80,
        Each = 50;

    public static Outcome<ReadMesh> Read(ReadOnlySpan<byte> file)
    {
        if (file.Length >= Head + 4)
        {
            var count = BinaryPrimitives.ReadUInt32LittleEndian(file[Head..]);
            var needs = Head + 4 + ((long)count * Each);

            // Binary files may begin with "solid" as well: their length tells. Some have a few bytes behind.
            if (needs == file.Length || (!IsText(file) && needs <= file.Length && file.Length < needs + Each))
            {
                return Binary(file, count);
            }

            if (!IsText(file))
            {
                return new Refusal(
                    "mesh.cut",
                    $"The STL file says that it holds {count:N0} triangles, but it is "
                        + $"{(file.Length < needs ? $"cut after {(file.Length - Head - 4) / Each:N0}" : "longer than that")}."
                );
            }
        }

        return IsText(file) ? Text(file) : new Refusal("mesh.no-stl", "The file is no STL: it has neither the text nor the length of one.");
    }

    private static bool IsText(ReadOnlySpan<byte> file)
    {
        var start = file[..Math.Min(file.Length, 512)].TrimStart(" \t\r\n\uFEFF"u8);
        return start.Length >= 5 && Ascii(start[..5], "solid") && !file[..Math.Min(file.Length, 2048)].Contains((byte)0);
    }

    private static bool Ascii(ReadOnlySpan<byte> text, string word) => System.Text.Ascii.EqualsIgnoreCase(text, word);

    private static Outcome<ReadMesh> Binary(ReadOnlySpan<byte> file, uint count)
    {
        if (count > TriangleMesh.MostTriangles)
        {
            return MeshFile.TooMany(count);
        }

        var soup = new TriangleSoup((int)count);
        for (var t = 0; t < count; t++)
        {
            var at = file.Slice(Head + 4 + (t * Each) + 12, 36);
            for (var k = 0; k < 3; k++)
            {
                float Number(ReadOnlySpan<byte> of, int i) => BinaryPrimitives.ReadSingleLittleEndian(of[((12 * k) + (4 * i))..]);
                if (!soup.Add(new Vec3(Number(at, 0), Number(at, 1), Number(at, 2))))
                {
                    return new Refusal("mesh.number", $"A corner of triangle {t + 1:N0} is no place: one of its numbers is not finite.");
                }
            }
        }

        return new ReadMesh(soup.Mesh(), null, "", []);
    }

    private static Outcome<ReadMesh> Text(ReadOnlySpan<byte> file)
    {
        var (soup, line, inLoop, name) = (new TriangleSoup(), 0, 0, "");
        var (open, solids) = (false, 0);
        while (!file.IsEmpty)
        {
            var end = file.IndexOf((byte)'\n');
            var text = (end < 0 ? file : file[..end]).Trim(" \t\r\uFEFF"u8);
            file = end < 0 ? [] : file[(end + 1)..];
            line++;
            var word = Word(ref text);
            if (Ascii(word, "vertex"))
            {
                if (++inLoop > 3)
                {
                    return new Refusal("mesh.text", $"Line {line:N0} of the STL file is a fourth corner of a triangle.");
                }

                var (x, y, z) = (Number(ref text), Number(ref text), Number(ref text));
                if (!soup.Add(new Vec3(x, y, z)))
                {
                    return new Refusal("mesh.number", $"Line {line:N0} of the STL file is no corner: 'vertex' wants three numbers.");
                }

                if (soup.Count > TriangleMesh.MostTriangles)
                {
                    return MeshFile.TooMany(soup.Count);
                }
            }
            else if (Ascii(word, "endloop"))
            {
                if (inLoop != 3)
                {
                    return new Refusal("mesh.text", $"The triangle that ends in line {line:N0} of the STL file has {inLoop} corners.");
                }

                inLoop = 0;
            }
            else if (Ascii(word, "solid"))
            {
                name = name.Length > 0 ? name : Encoding.UTF8.GetString(text).Trim();
                (open, solids) = (true, solids + 1);
            }
            else if (Ascii(word, "endsolid"))
            {
                open = false;
            }
        }

        return open || inLoop != 0
            ? new Refusal("mesh.cut", $"The STL file ends within a body, after line {line:N0}: it is cut.")
            : new ReadMesh(soup.Mesh(), null, name.Length > 80 ? name[..80] : name, solids > 1 ? [$"{solids} bodies as one"] : []);
    }

    private static ReadOnlySpan<byte> Word(ref ReadOnlySpan<byte> text)
    {
        text = text.TrimStart(" \t"u8);
        var end = text.IndexOfAny((byte)' ', (byte)'\t');
        var word = end < 0 ? text : text[..end];
        text = end < 0 ? [] : text[end..];
        return word;
    }

    private static double Number(ref ReadOnlySpan<byte> text)
    {
        var word = Word(ref text);
        return
            Utf8Parser.TryParse(word.StartsWith("+"u8) ? word[1..] : word, out double value, out var used)
            && used == word.Length - (word.StartsWith("+"u8) ? 1 : 0)
            ? value
            : double.NaN;
    }
}
