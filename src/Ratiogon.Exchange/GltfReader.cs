using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;

namespace Ratiogon.Exchange;

/// <summary>glTF 2.0 (ISO/IEC 12113), binary or as text with its data inside: the triangles of the scene, in metres with y up. Lines
/// and points, skins and shapes to blend are left out and counted; compressed data and other files beside it are refused.</summary>
internal sealed class GltfReader
{
    private const uint Magic = 0x46546C67,
        JsonChunk = 0x4E4F534A,
        BinaryChunk = 0x004E4942;
    private const int Triangles = 4,
        Strip = 5,
        Fan = 6,
        Deepest = 64;

    private readonly JsonElement root;
    private readonly List<byte[]> buffers = [];
    private readonly TriangleSoup soup = new();
    private int lines;

    private GltfReader(JsonElement root) => this.root = root;

    public static Outcome<ReadMesh> Read(ReadOnlyMemory<byte> file)
    {
        try
        {
            var (json, binary) = Chunks(file);
            using var document = JsonDocument.Parse(json);
            return new GltfReader(document.RootElement).Read(binary);
        }
        catch (JsonException e)
        {
            return new Refusal("mesh.json", $"The glTF file is no sound JSON: line {e.LineNumber + 1}, place {e.BytePositionInLine + 1}.");
        }
        catch (FormatException e)
        {
            return new Refusal("mesh.gltf", $"The glTF file cannot be read: {e.Message}");
        }
        catch (Exception e)
            when (e
                    is InvalidOperationException
                        or KeyNotFoundException
                        or ArgumentOutOfRangeException
                        or IndexOutOfRangeException
                        or OverflowException
            )
        {
            return new Refusal(
                "mesh.gltf",
                "The glTF file cannot be read: something that the standard asks for is missing or of another kind."
            );
        }
    }

    private static (ReadOnlyMemory<byte> Json, byte[]? Binary) Chunks(ReadOnlyMemory<byte> file)
    {
        var bytes = file.Span;
        if (bytes.Length < 12 || BinaryPrimitives.ReadUInt32LittleEndian(bytes) != Magic)
        {
            return (file, null);
        }

        var (version, length) = (BinaryPrimitives.ReadUInt32LittleEndian(bytes[4..]), BinaryPrimitives.ReadUInt32LittleEndian(bytes[8..]));
        if (version != 2 || length > bytes.Length)
        {
            throw new FormatException(
                version != 2 ? $"it is of version {version}; 2 is read." : $"it is cut after {bytes.Length:N0} of {length:N0} bytes."
            );
        }

        ReadOnlyMemory<byte> json = default;
        byte[]? binary = null;
        for (long at = 12; at + 8 <= length; )
        {
            var (size, kind) = (
                BinaryPrimitives.ReadUInt32LittleEndian(bytes[(int)at..]),
                BinaryPrimitives.ReadUInt32LittleEndian(bytes[(int)(at + 4)..])
            );
            if (at + 8 + size > length)
            {
                throw new FormatException("a chunk of it reaches beyond its end.");
            }

            var chunk = file.Slice((int)at + 8, (int)size);
            (json, binary) =
                kind == JsonChunk && json.IsEmpty ? (chunk, binary)
                : kind == BinaryChunk && binary is null ? (json, chunk.ToArray())
                : (json, binary);
            at += 8 + size;
        }

        return json.IsEmpty ? throw new FormatException("it has no JSON chunk.") : (json, binary);
    }

    private Outcome<ReadMesh> Read(byte[]? binary)
    {
        if (
            root.ValueKind != JsonValueKind.Object
            || !root.TryGetProperty("asset", out var asset)
            || asset.GetProperty("version").GetString() is not { } version
            || !version.StartsWith("2.", StringComparison.Ordinal)
        )
        {
            return new Refusal("mesh.gltf", "The file is no glTF 2: it names no such version.");
        }

        if (
            root.TryGetProperty("extensionsRequired", out var required)
            && required
                .EnumerateArray()
                .Select(e => e.GetString()!)
                .Where(e => e.Contains("compression", StringComparison.Ordinal) || e.Contains("quantization", StringComparison.Ordinal))
                .ToList()
                is { Count: > 0 } packed
        )
        {
            return new Refusal(
                "mesh.compressed",
                $"The glTF file needs {string.Join(", ", packed)}, which is not read here: write it without."
            );
        }

        foreach (var (buffer, i) in Items("buffers").Select((b, i) => (b, i)))
        {
            buffers.Add(
                buffer.TryGetProperty("uri", out var uri) ? Inside(uri.GetString() ?? "", i)
                : i == 0 && binary is not null ? binary
                : throw new FormatException($"buffer {i} has no data.")
            );
        }

        var scenes = Items("scenes");
        var nodes = Items("nodes");
        var scene = root.TryGetProperty("scene", out var named) ? named.GetInt32() : 0;
        IEnumerable<int> tops =
            scenes.Length > 0
                ? Numbers(scenes[scene], "nodes")
                : Enumerable.Range(0, nodes.Length).Except(nodes.SelectMany(n => Numbers(n, "children")));
        foreach (var top in tops)
        {
            Node(nodes, top, Placing.None, 0);
        }

        if (soup.Count > TriangleMesh.MostTriangles)
        {
            return MeshFile.TooMany(soup.Count);
        }

        var name = Items("meshes")
            .Concat(nodes)
            .Select(m => m.TryGetProperty("name", out var n) ? n.GetString() : null)
            .FirstOrDefault(n => !string.IsNullOrWhiteSpace(n))
            ?? "";
        return new ReadMesh(
            soup.Mesh(),
            MeshUnit.Metre,
            name.Length > 80 ? name[..80] : name,
            lines > 0 ? [$"{lines} sets of lines or points left out"] : []
        );
    }

    private void Node(JsonElement[] nodes, int index, Placing above, int depth)
    {
        if (depth > Deepest)
        {
            throw new FormatException($"node {index} is part of itself, or more than {Deepest} deep.");
        }

        var node = nodes[index];
        var at = Place(node).Then(above);
        if (node.TryGetProperty("mesh", out var mesh))
        {
            foreach (var primitive in Items("meshes")[mesh.GetInt32()].GetProperty("primitives").EnumerateArray())
            {
                Primitive(primitive, at);
            }
        }

        foreach (var child in Numbers(node, "children"))
        {
            Node(nodes, child, at, depth + 1);
        }
    }

    private void Primitive(JsonElement primitive, Placing at)
    {
        var mode = primitive.TryGetProperty("mode", out var m) ? m.GetInt32() : Triangles;
        if (mode is not (Triangles or Strip or Fan))
        {
            lines++;
            return;
        }

        var places = Floats(primitive.GetProperty("attributes").GetProperty("POSITION").GetInt32());
        var order = primitive.TryGetProperty("indices", out var indices)
            ? Whole(indices.GetInt32())
            : [.. Enumerable.Range(0, places.Length / 3)];
        var count = mode == Triangles ? order.Length / 3 : Math.Max(0, order.Length - 2);
        if (soup.Count + count > TriangleMesh.MostTriangles)
        {
            throw new FormatException($"it holds more than {TriangleMesh.MostTriangles:N0} triangles.");
        }

        for (var t = 0; t < count; t++)
        {
            var (a, b, c) = mode switch
            {
                Triangles => (order[3 * t], order[(3 * t) + 1], order[(3 * t) + 2]),
                Strip => t % 2 == 0 ? (order[t], order[t + 1], order[t + 2]) : (order[t + 1], order[t], order[t + 2]),
                _ => (order[0], order[t + 1], order[t + 2]),
            };
            foreach (var i in at.Mirrors ? new[] { c, b, a } : [a, b, c])
            {
                if (i < 0 || i >= places.Length / 3)
                {
                    throw new FormatException($"a triangle names corner {i:N0} of {places.Length / 3:N0}.");
                }

                // y up becomes z up.
                var p = at.Apply(new Vec3(places[3 * i], places[(3 * i) + 1], places[(3 * i) + 2]));
                if (!soup.Add(new Vec3(p.X, -p.Z, p.Y)))
                {
                    throw new FormatException("a corner is no place: one of its numbers is not finite.");
                }
            }
        }
    }

    private (ReadOnlyMemory<byte> Bytes, int Stride, int Count, int Kind) Accessor(int index, string type, int parts)
    {
        var accessor = Items("accessors")[index];
        if (accessor.TryGetProperty("sparse", out _) || accessor.GetProperty("type").GetString() != type)
        {
            throw new FormatException($"accessor {index} is sparse, or no {type}.");
        }

        var kind = accessor.GetProperty("componentType").GetInt32();
        var size = kind switch
        {
            5120 or 5121 => 1,
            5122 or 5123 => 2,
            5125 or 5126 => 4,
            _ => throw new FormatException($"accessor {index} has numbers of kind {kind}."),
        };
        var count = accessor.GetProperty("count").GetInt32();
        var view = Items("bufferViews")[accessor.GetProperty("bufferView").GetInt32()];
        var stride = view.TryGetProperty("byteStride", out var s) ? s.GetInt32() : size * parts;
        var start = (long)Offset(view) + Offset(accessor);
        var buffer = buffers[view.GetProperty("buffer").GetInt32()];
        if (count < 1 || stride < size * parts || start + ((long)stride * (count - 1)) + (size * parts) > buffer.Length)
        {
            throw new FormatException($"accessor {index} reaches beyond its data.");
        }

        return (buffer.AsMemory((int)start), stride, count, kind);
    }

    private float[] Floats(int index)
    {
        var (bytes, stride, count, kind) = Accessor(index, "VEC3", 3);
        if (kind != 5126)
        {
            throw new FormatException($"the places of accessor {index} are no floating numbers.");
        }

        var all = new float[3 * count];
        for (var i = 0; i < count; i++)
        {
            for (var k = 0; k < 3; k++)
            {
                all[(3 * i) + k] = BinaryPrimitives.ReadSingleLittleEndian(bytes.Span[((stride * i) + (4 * k))..]);
            }
        }

        return all;
    }

    private int[] Whole(int index)
    {
        var (bytes, stride, count, kind) = Accessor(index, "SCALAR", 1);
        var all = new int[count];
        for (var i = 0; i < count; i++)
        {
            var at = bytes.Span[(stride * i)..];
            all[i] = kind switch
            {
                5121 => at[0],
                5123 => BinaryPrimitives.ReadUInt16LittleEndian(at),
                5125 => checked((int)BinaryPrimitives.ReadUInt32LittleEndian(at)),
                _ => throw new FormatException($"the indices of accessor {index} are no whole numbers."),
            };
        }

        return all;
    }

    private static byte[] Inside(string uri, int index)
    {
        var comma = uri.IndexOf(',', StringComparison.Ordinal);
        return uri.StartsWith("data:", StringComparison.Ordinal) && comma > 0 && uri[..comma].EndsWith(";base64", StringComparison.Ordinal)
            ? Convert.FromBase64String(uri[(comma + 1)..])
            : throw new FormatException($"buffer {index} lies in another file ('{Ids.Shorten(uri)}'): write it as one file, .glb.");
    }

    private static Placing Place(JsonElement node)
    {
        if (node.TryGetProperty("matrix", out var matrix))
        {
            var m = matrix.EnumerateArray().Select(e => e.GetDouble()).ToArray();
            return new Placing(new(m[0], m[1], m[2]), new(m[4], m[5], m[6]), new(m[8], m[9], m[10]), new(m[12], m[13], m[14]));
        }

        Vec3 Three(string name, double otherwise) =>
            node.TryGetProperty(name, out var v)
                ? new(v[0].GetDouble(), v[1].GetDouble(), v[2].GetDouble())
                : new(otherwise, otherwise, otherwise);
        var (moved, scaled) = (Three("translation", 0), Three("scale", 1));
        var (x, y, z, w) = node.TryGetProperty("rotation", out var q)
            ? (q[0].GetDouble(), q[1].GetDouble(), q[2].GetDouble(), q[3].GetDouble())
            : (0, 0, 0, 1);
        return new Placing(
            new Vec3(1 - (2 * ((y * y) + (z * z))), 2 * ((x * y) + (z * w)), 2 * ((x * z) - (y * w))) * scaled.X,
            new Vec3(2 * ((x * y) - (z * w)), 1 - (2 * ((x * x) + (z * z))), 2 * ((y * z) + (x * w))) * scaled.Y,
            new Vec3(2 * ((x * z) + (y * w)), 2 * ((y * z) - (x * w)), 1 - (2 * ((x * x) + (y * y)))) * scaled.Z,
            moved
        );
    }

    private static int Offset(JsonElement of) => of.TryGetProperty("byteOffset", out var offset) ? offset.GetInt32() : 0;

    private JsonElement[] Items(string name) => root.TryGetProperty(name, out var all) ? [.. all.EnumerateArray()] : [];

    private static ImmutableArray<int> Numbers(JsonElement of, string name) =>
        of.TryGetProperty(name, out var all) ? [.. all.EnumerateArray().Select(e => e.GetInt32())] : [];
}
