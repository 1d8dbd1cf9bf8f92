using System.Text.Json.Serialization;

namespace Ratiogon.Core.Meshes;

/// <summary>What the numbers of a file of triangles mean; some formats do not say.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<MeshUnit>))]
public enum MeshUnit
{
    [JsonStringEnumMemberName("mm")]
    Millimetre,

    [JsonStringEnumMemberName("cm")]
    Centimetre,

    [JsonStringEnumMemberName("m")]
    Metre,

    [JsonStringEnumMemberName("in")]
    Inch,

    [JsonStringEnumMemberName("ft")]
    Foot,

    /// <summary>A thousandth of a millimetre.</summary>
    [JsonStringEnumMemberName("um")]
    Micrometre,
}

/// <summary>Units by the symbols that files and people use.</summary>
public static class MeshUnits
{
    /// <summary>Symbol, unit and millimetres, as they are offered.</summary>
    public static IReadOnlyList<MeshUnitSize> All { get; } =
    [
        new MeshUnitSize("mm", MeshUnit.Millimetre, 1),
        new MeshUnitSize("cm", MeshUnit.Centimetre, 10),
        new MeshUnitSize("m", MeshUnit.Metre, 1000),
        new MeshUnitSize("in", MeshUnit.Inch, 25.4),
        new MeshUnitSize("ft", MeshUnit.Foot, 304.8),
        new MeshUnitSize("um", MeshUnit.Micrometre, 1e-3),
    ];

    public static double Millimetres(this MeshUnit unit) => All.Single(u => u.Unit == unit).Millimetres;

    /// <summary>As it is written; '?' for none of them.</summary>
    public static string Symbol(this MeshUnit unit) => All.FirstOrDefault(u => u.Unit == unit).Symbol ?? "?";

    /// <summary>The unit of a symbol; refused where there is none.</summary>
    public static Outcome<MeshUnit> Of(string symbol) =>
        All.FirstOrDefault(u => u.Symbol == symbol) is { Symbol: not null } found
            ? found.Unit
            : new Refusal("mesh.unit", $"'{Ids.Shorten(symbol ?? "")}' is no unit of a mesh: use mm, cm, m, in, ft or um.", "unit");
}

/// <summary>A unit of files of triangles.</summary>
/// <param name="Symbol">As written.</param>
/// <param name="Unit">The unit.</param>
/// <param name="Millimetres">How long one is.</param>
public readonly record struct MeshUnitSize(string Symbol, MeshUnit Unit, double Millimetres);
