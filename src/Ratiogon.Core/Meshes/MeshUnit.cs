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
    public static IReadOnlyList<(string Symbol, MeshUnit Unit, double Millimetres)> All { get; } =
    [
        ("mm", MeshUnit.Millimetre, 1),
        ("cm", MeshUnit.Centimetre, 10),
        ("m", MeshUnit.Metre, 1000),
        ("in", MeshUnit.Inch, 25.4),
        ("ft", MeshUnit.Foot, 304.8),
        ("um", MeshUnit.Micrometre, 1e-3),
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
