using System.Buffers.Binary;
using System.IO.Compression;

namespace Ratiogon.Exchange.Pictures;

/// <summary>Writes PNG (ISO/IEC 15948): eight bits of red, green and blue, rows as they are.</summary>
public static class PngFile
{
    private static readonly uint[] Sums =
    [
        .. Enumerable
            .Range(0, 256)
            .Select(n => Enumerable.Range(0, 8).Aggregate((uint)n, (c, _) => (c & 1) == 1 ? 0xEDB88320 ^ (c >> 1) : c >> 1)),
    ];

    /// <param name="width">Dots across.</param>
    /// <param name="height">Rows.</param>
    /// <param name="rgb">Three bytes for each dot, row by row from the top.</param>
    public static byte[] Write(int width, int height, ReadOnlySpan<byte> rgb)
    {
        ArgumentOutOfRangeException.ThrowIfNotEqual(rgb.Length, width * height * 3);
        using var rows = new MemoryStream();
        using (var packing = new ZLibStream(rows, CompressionLevel.Optimal, leaveOpen: true))
        {
            for (var y = 0; y < height; y++)
            {
                packing.WriteByte(0);
                packing.Write(rgb.Slice(y * width * 3, width * 3));
            }
        }

        using var file = new MemoryStream();
        file.Write([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]);
        Span<byte> head = stackalloc byte[13];
        BinaryPrimitives.WriteInt32BigEndian(head, width);
        BinaryPrimitives.WriteInt32BigEndian(head[4..], height);
        (head[8], head[9]) = (8, 2);
        Chunk(file, "IHDR"u8, head);
        Chunk(file, "IDAT"u8, rows.GetBuffer().AsSpan(0, (int)rows.Length));
        Chunk(file, "IEND"u8, []);
        return file.ToArray();
    }

    private static void Chunk(MemoryStream file, ReadOnlySpan<byte> type, ReadOnlySpan<byte> data)
    {
        Span<byte> number = stackalloc byte[4];
        BinaryPrimitives.WriteInt32BigEndian(number, data.Length);
        file.Write(number);
        file.Write(type);
        file.Write(data);
        BinaryPrimitives.WriteUInt32BigEndian(number, ~Sum(Sum(uint.MaxValue, type), data));
        file.Write(number);
    }

    /// <summary>The cyclic redundancy check of the standard, annex D.</summary>
    private static uint Sum(uint sum, ReadOnlySpan<byte> data)
    {
        foreach (var b in data)
        {
            sum = Sums[(byte)(sum ^ b)] ^ (sum >> 8);
        }

        return sum;
    }
}
