using Ratiogon.Exchange;

namespace Ratiogon.Server.Parts;

/// <summary>A file format that a part can be written in, as listed for the interface.</summary>
/// <param name="Ending">Of its files.</param>
/// <param name="Label">Its short name.</param>
/// <param name="Purpose">What it is good for.</param>
/// <param name="InUnitsOfPart">Whether lengths in it are in the part's own unit.</param>
/// <param name="Deviation">Whether it holds triangles, whose deviation can be chosen.</param>
/// <param name="Text">Whether it can be text rather than binary.</param>
/// <param name="Ap242">Whether AP242 can be chosen.</param>
/// <param name="Of">Whether it is of one sketch or planar face.</param>
public sealed record FormatView(
    string Ending,
    string Label,
    string Purpose,
    bool InUnitsOfPart,
    bool Deviation,
    bool Text,
    bool Ap242,
    bool Of
)
{
    /// <summary>Every format, in the order in which they are shown.</summary>
    public static FormatView[] All { get; } =
    [
        .. Exporter.Formats.Select(f => new FormatView(
            f.Ending,
            f.Label,
            f.Purpose,
            f.InUnitsOfPart,
            f.Choices.HasFlag(FormatChoices.Deviation),
            f.Choices.HasFlag(FormatChoices.Text),
            f.Choices.HasFlag(FormatChoices.Ap242),
            f.Choices.HasFlag(FormatChoices.Of)
        )),
    ];
}
