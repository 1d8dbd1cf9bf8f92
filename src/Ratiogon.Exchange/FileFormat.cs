using Ratiogon.Core;
using Ratiogon.Core.Gauging;

namespace Ratiogon.Exchange;

/// <summary>What can be chosen of a file that is written, besides its format.</summary>
[Flags]
public enum FormatChoices
{
    None = 0,

    /// <summary>How far triangles may stray from the faces: <see cref="ExportOptions.Deviation"/>.</summary>
    Deviation = 1,

    /// <summary>Text rather than binary: <see cref="ExportOptions.Text"/>.</summary>
    Text = 2,

    /// <summary>AP242 rather than AP214: <see cref="ExportOptions.Ap242"/>.</summary>
    Ap242 = 4,

    /// <summary>Which sketch or planar face: <see cref="ExportOptions.Of"/>.</summary>
    Of = 8,
}

/// <summary>A format that a part can be written in.</summary>
/// <param name="Endings">Of its files; the first is the usual one.</param>
/// <param name="Type">Its media type.</param>
/// <param name="Label">Its short name, as shown.</param>
/// <param name="Words">What it holds, with its standard.</param>
/// <param name="Purpose">What it is good for, as shown.</param>
/// <param name="Write">Writes the part, or says why not.</param>
public sealed record FileFormat(
    IReadOnlyList<string> Endings,
    string Type,
    string Label,
    string Words,
    string Purpose,
    Func<GaugeSite, ExportOptions, Outcome<byte[]>> Write
)
{
    public string Ending => Endings[0];

    public FormatChoices Choices { get; init; }

    /// <summary>Whether lengths in it are in the part's own unit.</summary>
    public bool InUnitsOfPart { get; init; }

    /// <summary>Packs triangles into a file; null where it holds none.</summary>
    public Func<string, IReadOnlyList<MeshBody>, ExportOptions, byte[]>? Pack { get; init; }

    /// <summary>A format of triangles.</summary>
    /// <param name="ending">Of its files.</param>
    /// <param name="type">Its media type.</param>
    /// <param name="label">Its short name.</param>
    /// <param name="words">What it holds.</param>
    /// <param name="purpose">What it is good for.</param>
    /// <param name="pack">Makes the file of the part's name and its bodies.</param>
    public static FileFormat OfTriangles(
        string ending,
        string type,
        string label,
        string words,
        string purpose,
        Func<string, IReadOnlyList<MeshBody>, ExportOptions, byte[]> pack
    ) =>
        new([ending], type, label, words, purpose, (site, options) =>
            Exporter.Meshes(site, options).Map(m => pack(site.Part.Name, m, options))
        )
        {
            Pack = pack,
            Choices = FormatChoices.Deviation,
        };
}
