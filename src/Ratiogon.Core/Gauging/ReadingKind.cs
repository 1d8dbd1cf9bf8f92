using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>What a reading is taken of.</summary>
/// <param name="Of">Things and places.</param>
/// <param name="Along">A direction, where one is given.</param>
/// <param name="In">A frame to measure in; the world's where none is given.</param>
public sealed record GaugeAsk(ImmutableArray<Thing> Of, Heading? Along, Frame? In)
{
    public Frame Frame => In ?? Geometry.Frame.World;
}

/// <summary>What was read.</summary>
/// <param name="Value">In millimetres, radians and grams.</param>
/// <param name="Points">The two places between which it is drawn, and of a projected one where it was projected from; one, or none.</param>
/// <param name="Note">What is worth saying beside it, or empty.</param>
public sealed record GaugeValue(double Value, ImmutableArray<Vec3> Points, string Note = "");

/// <summary>Whether a reading takes a direction.</summary>
public enum WayUse
{
    None,
    Needed,
}

/// <summary>One kind of reading.</summary>
/// <param name="Name">As written in files.</param>
/// <param name="Label">In words.</param>
/// <param name="Kind">The kind of value.</param>
/// <param name="Least">The fewest picks.</param>
/// <param name="Most">The most picks.</param>
/// <param name="Read">Takes it, or says why it cannot be taken of these picks.</param>
public sealed record ReadingKind(
    string Name,
    string Label,
    Dimension Kind,
    int Least,
    int Most,
    Func<GaugeSite, GaugeAsk, Outcome<GaugeValue>> Read
)
{
    public WayUse Way { get; init; }

    /// <summary>Whether a frame may be given.</summary>
    public bool Framed { get; init; }

    /// <summary>Whether it is of whole bodies.</summary>
    public bool Whole { get; init; }
}

/// <summary>Every kind of reading.</summary>
public static class ReadingCatalog
{
    public static ImmutableArray<ReadingKind> All { get; } = [.. BetweenReadings.All, .. SingleReadings.All, .. BodyReadings.All];

    public static ReadingKind? Find(string name) => All.FirstOrDefault(k => k.Name == name);

    public static Refusal? Check(string what, ImmutableArray<string> of, string? along)
    {
        if (Find(what) is not { } kind)
        {
            return new Refusal(
                "reading.unknown",
                $"There is no reading '{Ids.Shorten(what)}'. Known: {string.Join(", ", All.Select(k => k.Name))}.",
                "what"
            );
        }

        var n = of.IsDefault ? 0 : of.Length;
        if (n < kind.Least || n > kind.Most)
        {
            var needs = kind.Least == kind.Most ? $"{kind.Least} pick(s)" : $"{kind.Least} to {kind.Most} picks";
            return new Refusal("reading.picks", $"A {what} reading needs {needs}, not {n}.", "of");
        }

        return kind.Way == WayUse.Needed && string.IsNullOrWhiteSpace(along)
                ? new Refusal("reading.along", $"A {what} reading needs a direction.", "along")
            : of.IsDefault ? null
            : of.Select(Spot.Parse).FirstOrDefault(s => !s.Done).Refusal;
    }
}
