using System.Collections.Immutable;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>What can be read off a model.</summary>
/// <param name="Name">As written in files.</param>
/// <param name="Kind">The kind of value.</param>
/// <param name="Picks">How many faces, edges or vertices it needs; 0 reads the whole part.</param>
public sealed record ReadingKind(string Name, Dimension Kind, int Picks);

/// <summary>Every kind of reading.</summary>
public static class ReadingCatalog
{
    public static IReadOnlyList<ReadingKind> All { get; } =
    [
        new("volume", Dimension.OfVolume, 0), new("area", Dimension.OfArea, 0), new("mass", Dimension.OfMass, 0),
        new("face-area", Dimension.OfArea, 1), new("edge-length", Dimension.OfLength, 1), new("distance", Dimension.OfLength, 2),
    ];

    public static ReadingKind? Find(string name) => All.FirstOrDefault(k => k.Name == name);

    public static Refusal? Check(string what, ImmutableArray<string> of) =>
        Find(what) is not { } kind ? new Refusal("reading.unknown", $"There is no reading '{Ids.Shorten(what)}'. Known: {string.Join(", ", All.Select(k => k.Name))}.", "what")
        : of.IsDefault || of.Length != kind.Picks ? new Refusal("reading.picks", $"A {what} reading needs {kind.Picks} pick(s).", "of")
        : null;
}
