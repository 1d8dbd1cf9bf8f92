using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Ratiogon.Exchange;

/// <summary>Triangles as binary glTF 2.0 (ISO/IEC 12113), in metres with y up as it asks: a node, a mesh and a material for
/// each body.</summary>
public static class GlbFile
{
    private const int Float = 5126,
        Whole = 5125,
        Vertices = 34962,
        Indices = 34963;

    public static FileFormat Format { get; } =
        FileFormat.OfTriangles(
            "glb",
            "model/gltf-binary",
            "glTF",
            "triangles with names and colours, ISO/IEC 12113",
            "triangles with names and colours, for the web and for pictures",
            (name, bodies, _) => Write(name, bodies)
        );

    public static byte[] Write(string name, IReadOnlyList<MeshBody> bodies)
    {
        ArgumentNullException.ThrowIfNull(bodies);
        using var binary = new MemoryStream();
        var (views, accessors, meshes, nodes, materials) = (
            new JsonArray(),
            new JsonArray(),
            new JsonArray(),
            new JsonArray(),
            new JsonArray()
        );
        int View(ReadOnlySpan<byte> bytes, int target)
        {
            views.Add(
                new JsonObject
                {
                    ["buffer"] = 0,
                    ["byteOffset"] = binary.Length,
                    ["byteLength"] = bytes.Length,
                    ["target"] = target,
                }
            );
            binary.Write(bytes);
            return views.Count - 1;
        }

        int Accessor(int view, int kind, int count, string type, float[]? low = null, float[]? high = null)
        {
            var made = new JsonObject
            {
                ["bufferView"] = view,
                ["componentType"] = kind,
                ["count"] = count,
                ["type"] = type,
            };
            if (low is not null)
            {
                (made["min"], made["max"]) = (Numbers(low), Numbers(high!));
            }

            accessors.Add(made);
            return accessors.Count - 1;
        }

        foreach (var body in bodies)
        {
            var (places, low, high) = Metres(body.Mesh.Places());
            var count = places.Length / 12;
            materials.Add(
                new JsonObject
                {
                    ["name"] = body.Name,
                    ["pbrMetallicRoughness"] = new JsonObject
                    {
                        ["baseColorFactor"] = Linear(body.Colour),
                        ["metallicFactor"] = 0.1,
                        ["roughnessFactor"] = 0.6,
                    },
                }
            );
            meshes.Add(
                new JsonObject
                {
                    ["name"] = body.Name,
                    ["primitives"] = new JsonArray(
                        new JsonObject
                        {
                            ["attributes"] = new JsonObject
                            {
                                ["POSITION"] = Accessor(View(places, Vertices), Float, count, "VEC3", low, high),
                                ["NORMAL"] = Accessor(View(Units(body.Mesh.Normals), Vertices), Float, count, "VEC3"),
                            },
                            ["indices"] = Accessor(View(body.Mesh.Triangles, Indices), Whole, body.Mesh.Triangles.Length / 4, "SCALAR"),
                            ["material"] = materials.Count - 1,
                        }
                    ),
                }
            );

            // The part's z is up; glTF's is y.
            nodes.Add(
                new JsonObject
                {
                    ["name"] = body.Name,
                    ["mesh"] = meshes.Count - 1,
                    ["rotation"] = Numbers([-MathF.Sqrt(0.5f), 0, 0, MathF.Sqrt(0.5f)]),
                }
            );
        }

        var json = new JsonObject
        {
            ["asset"] = new JsonObject { ["version"] = "2.0", ["generator"] = "Ratiogon" },
            ["scene"] = 0,
            ["scenes"] = new JsonArray(
                new JsonObject
                {
                    ["name"] = name,
                    ["nodes"] = new JsonArray([.. Enumerable.Range(0, nodes.Count).Select(i => (JsonNode)JsonValue.Create(i))]),
                }
            ),
            ["nodes"] = nodes,
            ["meshes"] = meshes,
            ["materials"] = materials,
            ["accessors"] = accessors,
            ["bufferViews"] = views,
            ["buffers"] = new JsonArray(new JsonObject { ["byteLength"] = binary.Length }),
        };
        return Packed(JsonSerializer.SerializeToUtf8Bytes(json), binary.ToArray());
    }

    private static byte[] Packed(byte[] json, byte[] binary)
    {
        static int Padded(int n) => (n + 3) / 4 * 4;
        var file = new byte[12 + 8 + Padded(json.Length) + 8 + Padded(binary.Length)];
        "glTF"u8.CopyTo(file);
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(4), 2);
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(8), file.Length);
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(12), Padded(json.Length));
        "JSON"u8.CopyTo(file.AsSpan(16));
        json.CopyTo(file, 20);
        file.AsSpan(20 + json.Length, Padded(json.Length) - json.Length).Fill((byte)' ');
        var at = 20 + Padded(json.Length);
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(at), Padded(binary.Length));
        "BIN\0"u8.CopyTo(file.AsSpan(at + 4));
        binary.CopyTo(file, at + 8);
        return file;
    }

    private static (byte[] Places, float[] Low, float[] High) Metres(ReadOnlySpan<float> millimetres)
    {
        var places = new byte[millimetres.Length * 4];
        var into = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(places.AsSpan());
        float[] low = [float.MaxValue, float.MaxValue, float.MaxValue],
            high = [float.MinValue, float.MinValue, float.MinValue];
        for (var i = 0; i < millimetres.Length; i++)
        {
            var v = into[i] = millimetres[i] / 1000;
            (low[i % 3], high[i % 3]) = (Math.Min(low[i % 3], v), Math.Max(high[i % 3], v));
        }

        return (places, low, high);
    }

    /// <summary>Normals of length one; upwards where a degenerate place has none.</summary>
    private static byte[] Units(byte[] normals)
    {
        var made = (byte[])normals.Clone();
        var n = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(made.AsSpan());
        for (var i = 0; i + 2 < n.Length; i += 3)
        {
            var length = MathF.Sqrt((n[i] * n[i]) + (n[i + 1] * n[i + 1]) + (n[i + 2] * n[i + 2]));
            (n[i], n[i + 1], n[i + 2]) = length > 1e-6f ? (n[i] / length, n[i + 1] / length, n[i + 2] / length) : (0, 0, 1);
        }

        return made;
    }

    /// <summary>#rrggbb (sRGB) as linear red, green, blue and full opacity.</summary>
    private static JsonArray Linear(string colour)
    {
        float Part(int at)
        {
            var s = int.Parse(colour.AsSpan(at, 2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) / 255f;
            return s <= 0.04045f ? s / 12.92f : MathF.Pow((s + 0.055f) / 1.055f, 2.4f);
        }

        return Numbers([Part(1), Part(3), Part(5), 1]);
    }

    private static JsonArray Numbers(float[] values) => new([.. values.Select(v => (JsonNode)JsonValue.Create(v))]);
}
