using System.Collections.Immutable;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;

namespace Ratiogon.Exchange;

/// <summary>What a file of triangles holds.</summary>
/// <param name="Mesh">In the file's own unit.</param>
/// <param name="Unit">What its numbers mean; null where the format does not say.</param>
/// <param name="Name">The name in it, or empty.</param>
/// <param name="Said">What of it was left out.</param>
public sealed record ReadMesh(TriangleMesh Mesh, MeshUnit? Unit, string Name, ImmutableArray<string> Said);

/// <summary>Reads triangles: STL as text or binary, 3MF and glTF. Every object of a file, where it is placed, becomes part of one
/// mesh.</summary>
public static class MeshFile
{
    /// <summary>The largest file that is read.</summary>
    public const int LargestBytes = 128 * 1024 * 1024;

    private static readonly Dictionary<string, Func<ReadOnlyMemory<byte>, Outcome<ReadMesh>>> Readers = new(
        StringComparer.OrdinalIgnoreCase
    )
    {
        [".stl"] = file => StlReader.Read(file.Span),
        [".3mf"] = ThreeMfReader.Read,
        [".glb"] = GltfReader.Read,
        [".gltf"] = GltfReader.Read,
    };

    /// <summary>The endings of files that are read.</summary>
    public static IReadOnlyCollection<string> Endings => Readers.Keys;

    /// <summary>Whether a file's ending says that it holds triangles.</summary>
    public static bool Is(string name) => Readers.ContainsKey(Path.GetExtension(name));

    /// <summary>Whether the format leaves open what its numbers mean.</summary>
    public static bool HasNoUnit(string name) => Path.GetExtension(name).Equals(".stl", StringComparison.OrdinalIgnoreCase);

    /// <summary>What a file of triangles holds, or why it is not read.</summary>
    /// <param name="name">Its ending says the format.</param>
    /// <param name="file">All of it.</param>
    public static Outcome<ReadMesh> Read(string name, ReadOnlyMemory<byte> file)
    {
        ArgumentNullException.ThrowIfNull(name);
        var ending = Path.GetExtension(name);
        var read = Readers.TryGetValue(ending, out var reader)
            ? reader(file)
            : new Refusal(
                "import.format",
                $"'{Ids.Shorten(ending)}' files hold no triangles that are read here: use {string.Join(", ", Endings)}.",
                "name"
            );
        return read.Then<ReadMesh>(r => r.Mesh.Count == 0 ? new Refusal("mesh.empty", "The file holds no triangle that has an area.") : r);
    }

    internal static Refusal TooMany(long count) =>
        new("mesh.too-many", $"The file holds {count:N0} triangles; up to {TriangleMesh.MostTriangles:N0} are read.");
}

/// <summary>Collects triangles with their places; says where a number is none.</summary>
internal sealed class TriangleSoup(int expected = 0)
{
    private readonly List<Vec3> corners = new(3 * Math.Min(expected, TriangleMesh.MostTriangles));

    public int Count => corners.Count / 3;

    /// <summary>Adds a corner; false where a coordinate is no finite number.</summary>
    public bool Add(Vec3 p)
    {
        corners.Add(p);
        return p.IsFinite;
    }

    public TriangleMesh Mesh() => TriangleMesh.Welded(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(corners));
}
