using System.Buffers.Binary;
using System.Numerics;
using System.Runtime.InteropServices;

namespace Ratiogon.Core.Kernel;

/// <summary>Triangles whose corners are shared by those that meet there.</summary>
/// <param name="Places">Of the corners.</param>
/// <param name="Corners">Three numbers of places for each triangle, anticlockwise seen from outside.</param>
public sealed record TriangleMesh(Vec3[] Places, int[] Corners)
{
    /// <summary>The most triangles of one reference.</summary>
    public const int MostTriangles = 2_000_000;

    /// <summary>Odd, so that different keys stay different.</summary>
    private const ulong Spread = 0x9E3779B97F4A7C15;

    private const uint Mark = 0x314D4752;
    private const int Head = 12,
        PlaceBytes = 24,
        CornerBytes = 12;

    private int[]? across;

    public int Count => Corners.Length / 3;

    public Vec3 Corner(int triangle, int k) => Places[Corners[(3 * triangle) + k]];

    /// <summary>Twice the area, along the normal by the corners' order.</summary>
    public Vec3 Span(int triangle)
    {
        var a = Corner(triangle, 0);
        return (Corner(triangle, 1) - a).Cross(Corner(triangle, 2) - a);
    }

    public Vec3 Middle(int triangle) => (Corner(triangle, 0) + Corner(triangle, 1) + Corner(triangle, 2)) / 3;

    /// <summary>Triangles that share nothing yet: corners in one place become one; those of no area go.</summary>
    /// <param name="soup">Three places for each triangle.</param>
    public static TriangleMesh Welded(ReadOnlySpan<Vec3> soup)
    {
        // Numbers of places by where they are; an open table, for millions of them.
        var table = new int[(int)BitOperations.RoundUpToPowerOf2((uint)Math.Max(16, soup.Length * 3L / 2))];
        var (places, corners, filled) = (new List<Vec3>(soup.Length / 4), new int[soup.Length], 0);
        for (var t = 0; t + 2 < soup.Length; t += 3)
        {
            var (a, b, c) = (At(soup[t]), At(soup[t + 1]), At(soup[t + 2]));
            if (a != b && b != c && c != a)
            {
                (corners[filled], corners[filled + 1], corners[filled + 2]) = (a, b, c);
                filled += 3;
            }
        }

        return new TriangleMesh([.. places], corners[..filled]);

        int At(Vec3 p)
        {
            // Adding zero makes one of the two zeros.
            p = new Vec3(p.X + 0.0, p.Y + 0.0, p.Z + 0.0);
            for (var slot = Slot(p, table.Length); ; slot = (slot + 1) & (table.Length - 1))
            {
                if (table[slot] == 0)
                {
                    places.Add(p);
                    table[slot] = places.Count;
                }

                if (places[table[slot] - 1] == p)
                {
                    return table[slot] - 1;
                }
            }
        }
    }

    private static int Slot(Vec3 p, int of)
    {
        var bits = (ulong)BitConverter.DoubleToInt64Bits(p.X);
        bits = (BitOperations.RotateLeft(bits, 21) * Spread) ^ (ulong)BitConverter.DoubleToInt64Bits(p.Y);
        bits = (BitOperations.RotateLeft(bits, 21) * Spread) ^ (ulong)BitConverter.DoubleToInt64Bits(p.Z);
        bits *= Spread;
        return (int)(bits >> 32) & (of - 1);
    }

    /// <summary>For each side of each triangle, the triangle on the other side; -1 where there is none, or more than one.</summary>
    public int[] Across => across ??= FindAcross();

    private int[] FindAcross()
    {
        var (low, high) = (new int[Corners.Length], new int[Corners.Length]);
        for (var side = 0; side < Corners.Length; side++)
        {
            var (a, b) = Ends(side);
            (low[side], high[side]) = (Math.Min(a, b), Math.Max(a, b));
        }

        // By both ends, so that the sides of one edge follow each other.
        var order = Counted(Counted(null, high, Places.Length), low, Places.Length);
        var across = new int[Corners.Length];
        Array.Fill(across, -1);
        for (var first = 0; first < order.Length; )
        {
            var next = first + 1;
            while (next < order.Length && low[order[next]] == low[order[first]] && high[order[next]] == high[order[first]])
            {
                next++;
            }

            // Where a third triangle stands at an edge none of them is the other side.
            if (next - first == 2)
            {
                (across[order[first]], across[order[first + 1]]) = (order[first + 1] / 3, order[first] / 3);
            }

            first = next;
        }

        return across;
    }

    /// <summary>Numbers in the order of their keys, those of one key as they stood: a counting sort.</summary>
    private static int[] Counted(int[]? numbers, int[] keys, int most)
    {
        var from = new int[most + 1];
        foreach (var key in keys)
        {
            from[key + 1]++;
        }

        for (var i = 0; i < most; i++)
        {
            from[i + 1] += from[i];
        }

        var sorted = new int[keys.Length];
        for (var i = 0; i < keys.Length; i++)
        {
            var number = numbers is null ? i : numbers[i];
            sorted[from[keys[number]]++] = number;
        }

        return sorted;
    }

    /// <summary>The places that a side runs between: side 3 t + k of triangle t from its corner k.</summary>
    public SideEnds Ends(int side)
    {
        return new SideEnds(Corners[side], Corners[side % 3 == 2 ? side - 2 : side + 1]);
    }

    /// <summary>As it is kept: a mark, the counts, the places as float64 and the corners as int32, all little-endian.</summary>
    public byte[] ToBytes()
    {
        var bytes = new byte[Head + (Places.Length * PlaceBytes) + (Corners.Length * 4)];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, Mark);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4), Places.Length);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(8), Count);
        MemoryMarshal.AsBytes<Vec3>(Places).CopyTo(bytes.AsSpan(Head));
        MemoryMarshal.AsBytes<int>(Corners).CopyTo(bytes.AsSpan(Head + (Places.Length * PlaceBytes)));
        return bytes;
    }

    /// <summary>What was kept; refused where it is damaged.</summary>
    /// <param name="kept">As <see cref="ToBytes"/> gives it.</param>
    /// <param name="scale">Millimetres of its unit.</param>
    public static Outcome<TriangleMesh> Of(ReadOnlySpan<byte> kept, double scale)
    {
        var damaged = new Refusal("mesh.damaged", "The kept triangles are damaged.", "content");
        if (kept.Length < Head || BinaryPrimitives.ReadUInt32LittleEndian(kept) != Mark)
        {
            return damaged;
        }

        var (places, count) = (BinaryPrimitives.ReadInt32LittleEndian(kept[4..]), BinaryPrimitives.ReadInt32LittleEndian(kept[8..]));
        if (
            places < 0
            || count is < 0 or > MostTriangles
            || kept.Length != Head + ((long)places * PlaceBytes) + ((long)count * CornerBytes)
        )
        {
            return damaged;
        }

        var at = MemoryMarshal.Cast<byte, Vec3>(kept.Slice(Head, places * PlaceBytes)).ToArray();
        var corners = MemoryMarshal.Cast<byte, int>(kept[(Head + (places * PlaceBytes))..]).ToArray();
        for (var i = 0; i < places; i++)
        {
            at[i] *= scale;
        }

        var limit = Tolerances.LargestSize * 10;
        return
            corners.Any(c => c < 0 || c >= places)
            || at.Any(p => !(Math.Abs(p.X) < limit && Math.Abs(p.Y) < limit && Math.Abs(p.Z) < limit))
            ? damaged
            : new TriangleMesh(at, corners);
    }

    /// <summary>Along the world axes.</summary>
    public Box Box => Box.About(Places);
}

/// <summary>The two corners of a side.</summary>
/// <param name="A">The corner where it begins.</param>
/// <param name="B">Where it ends.</param>
public readonly record struct SideEnds(int A, int B);
