using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using Ratiogon.Core.Numerics;

namespace Ratiogon.Core.Tests.House;

/// <summary>How the core stands: each namespace uses only those before it, and files do not hang together in circles.</summary>
public class LayerTests
{
    private const string Root = "Ratiogon.Core";

    /// <summary>The most files in one circle: a few that make up one thing.</summary>
    private const int MostInCircle = 5;

    /// <summary>From the ground up; the first is what has no namespace of its own.</summary>
    private static readonly string[] Layers =
    [
        "",
        "Geometry",
        "Quantities",
        "Numerics",
        "Numerics.Equations",
        "Sketches",
        "Sketches.Writing",
        "Sketches.Constraints",
        "Sketches.Dimensions",
        "Sketches.Rules",
        "Sketches.Regions",
        "Sketches.Editing",
        "Sketches.Shapes",
        "Sketches.Solving",
        "Sketches.Applying",
        "Sketches.Drawing",
        "Kernel",
        "Meshes",
        "Datums",
        "Parts",
        "Parts.Steps",
        "Parts.Commands",
        "Forms",
        "Gauging",
        "Building",
        "Asking",
        "Tools",
        "Tools.Datums",
        "Tools.Forms",
        "Tools.Gauges",
        "Tools.Picks",
        "Demo",
    ];

    private static readonly Architecture Core = new ArchLoader().LoadAssembly(typeof(Outcome<>).Assembly).Build();

    private static readonly IType[] Types = [.. Core.Types.Where(t => LayerOf(t) is not null)];

    [Fact]
    public void Every_namespace_has_its_layer() =>
        Core
            .Types.Select(t => t.Namespace.FullName)
            .Where(n => n.StartsWith(Root, StringComparison.Ordinal) && !Layers.Contains(n[Root.Length..].TrimStart('.')))
            .Distinct()
            .ShouldBeEmpty();

    [Fact]
    public void A_layer_uses_only_those_below()
    {
        var upwards = Types
            .SelectMany(t => Uses(t).Where(u => LayerOf(u) > LayerOf(t)).Select(u => $"{t.FullName} uses {u.FullName}"))
            .Distinct()
            .Order();
        upwards.ShouldBeEmpty();
    }

    [Fact]
    public void No_circle_of_files_is_large()
    {
        var files = Types.Select(FileOf).Distinct().ToArray();
        var number = files.Select((f, i) => (f, i)).ToDictionary(f => f.f, f => f.i);
        var uses = new HashSet<int>[files.Length];
        for (var i = 0; i < files.Length; i++)
        {
            uses[i] = [];
        }

        foreach (var type in Types)
        {
            uses[number[FileOf(type)]].UnionWith(Uses(type).Select(FileOf).Where(number.ContainsKey).Select(f => number[f]));
        }

        var circles = StronglyConnected
            .Of(files.Length, Enumerable.Range(0, files.Length), i => uses[i])
            .Where(c => c.Count > MostInCircle)
            .Select(c => $"{c.Count}: {string.Join(", ", c.Select(i => files[i]).Order())}");
        circles.ShouldBeEmpty();
    }

    /// <summary>Kinds are found wherever they stand; nobody lists them.</summary>
    private static IEnumerable<IType> Uses(IType type) =>
        type.Dependencies.Select(d => d.Target).Where(u => u != type && LayerOf(u) is not null);

    private static int? LayerOf(IType type)
    {
        var space = type.Namespace?.FullName ?? "";
        var layer =
            space == Root ? 0
            : space.StartsWith(Root + ".", StringComparison.Ordinal) ? Array.IndexOf(Layers, space[(Root.Length + 1)..])
            : -1;
        return layer < 0 ? null : layer;
    }

    /// <summary>The outermost type, by which the file is called.</summary>
    private static string FileOf(IType type) => type.FullName.Split('+', '`', '<')[0];
}
