using System.Collections.Immutable;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>A measurement kept as a step. Later steps may use it in their formulas, by its name.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown; one that could name a parameter can be used in formulas.</param>
/// <param name="What">A name of <see cref="ReadingCatalog"/>.</param>
/// <param name="Of">What it is taken of, as <see cref="Spot"/> reads it; none for readings of the whole part.</param>
[Kind("reading")]
public sealed record ReadingStep(string Id, int Number, string Name, string What, ImmutableArray<string> Of) : Step(Id, Number, Name)
{
    /// <summary>A direction, as <see cref="Way"/> reads it.</summary>
    public string? Along { get; init; }

    /// <summary>A frame to measure in; none for the world's.</summary>
    public string? In { get; init; }

    /// <summary>The least that passes, a formula.</summary>
    public string? Least { get; init; }

    /// <summary>The most that passes, a formula.</summary>
    public string? Most { get; init; }

    public override string Kind => "reading";

    public override IReadOnlyList<string> References =>
        [
            .. Of.Concat(Along is null ? [] : Along.Split(" & "))
                .Select(Spot.Parse)
                .Where(s => s.Done)
                .SelectMany(s => s.Value.Of)
                .Concat(In is null ? [] : [In])
                .Where(IsReference)
                .SelectMany(World.Single),
        ];

    public override IReadOnlyList<StepSize> Sizes =>
        ReadingCatalog.Find(What) is not { Kind: var kind }
            ? []
            :
            [
                .. new (string Field, string? Formula)[] { ("least", Least), ("most", Most) }
                    .Where(l => !string.IsNullOrWhiteSpace(l.Formula))
                    .Select(l => new StepSize(l.Field, l.Formula!, kind, true)),
            ];

    public override Step WithSize(string field, string formula) =>
        field == "least" ? this with { Least = formula } : this with { Most = formula };

    public override Refusal? Check() => ReadingCatalog.Check(What, Of, Along);

    /// <summary>Whether formulas may use its value by its name.</summary>
    public bool Named => Parameter.CheckName(Name) is null;

    public override string? ValueName => Named ? Name : null;

    /// <summary>A name that formulas can use and that nothing else of the part has: distance, distance_2 …</summary>
    public override string FirstName(Part part, string id)
    {
        ArgumentNullException.ThrowIfNull(part);
        var stem = What.Replace('-', '_');
        var taken = part.Steps.Select(s => s.Name).Concat(part.Parameters.Select(p => p.Name)).ToHashSet(StringComparer.Ordinal);
        return Ids.Free(stem, "_", taken);
    }

    public bool Equals(ReadingStep? other) =>
        other is not null
        && base.Equals(other)
        && What == other.What
        && Along == other.Along
        && In == other.In
        && Least == other.Least
        && Most == other.Most
        && Of.SequenceEqual(other.Of);

    public override int GetHashCode() => HashCode.Combine(Id, What, Of.Length);

    /// <summary>Not the numbers of a direction.</summary>
    private static bool IsReference(string text) => text.Length > 0 && !(text[0] is '-' or '.' || char.IsAsciiDigit(text[0]));
}
