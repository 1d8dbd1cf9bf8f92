using System.IO.Compression;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Ratiogon.Server.Live;

/// <summary>Long arrays of four-byte numbers for the wire, a fifth to a tenth of their length: all first bytes of the numbers, then all
/// second ones and so on, for neighbours are alike in them; then DEFLATE (RFC 1951). The page unpacks them to the last bit.</summary>
internal static class Packed
{
    private const int Wide = 4;

    // The same triangles go to everybody who looks at the part, and again to whoever opens it next.
    private static readonly ConditionalWeakTable<byte[], byte[]> Known = [];

    /// <summary>Numbers as they are, little-endian.</summary>
    public static byte[] Numbers(byte[] plain) => Known.GetValue(plain, p => Squeezed(p));

    /// <summary>Unsigned numbers that follow each other closely: each as its difference to the one before, modulo 2³².</summary>
    public static byte[] Rising(byte[] plain) => Known.GetValue(plain, p =>
        {
            var numbers = MemoryMarshal.Cast<byte, uint>(p);
            var steps = new byte[p.Length];
            var to = MemoryMarshal.Cast<byte, uint>(steps.AsSpan());
            for (var i = 0; i < numbers.Length; i++)
            {
                to[i] = unchecked(numbers[i] - (i > 0 ? numbers[i - 1] : 0));
            }

            return Squeezed(steps);
        });

    private static byte[] Squeezed(byte[] plain)
    {
        if (plain.Length == 0)
        {
            return [];
        }

        var (count, planes) = (plain.Length / Wide, new byte[plain.Length]);
        for (var k = 0; k < Wide; k++)
        {
            for (var i = 0; i < count; i++)
            {
                planes[(k * count) + i] = plain[(i * Wide) + k];
            }
        }

        using var packed = new MemoryStream();
        using (var deflate = new DeflateStream(packed, CompressionLevel.Fastest))
        {
            deflate.Write(planes);
        }

        return packed.ToArray();
    }
}
