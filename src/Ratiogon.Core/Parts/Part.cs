using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>One document: parameters and the build sheet. Immutable; a command gives a new part or a refusal.</summary>
public sealed record Part
{
    /// <summary>The most steps a part may hold.</summary>
    public const int MostSteps = 2000;

    public string Name { get; init; } = "Part";

    public LengthUnit Units { get; init; }

    public Material Material { get; init; } = Material.Default;

    /// <summary>Materials that this part's list has besides the common ones.</summary>
    public ImmutableArray<Material> Materials { get; init; } = [];

    public ImmutableArray<Parameter> Parameters { get; init; } = [];

    /// <summary>How far sizes may be off, where that is said of one.</summary>
    public ImmutableArray<SizeTolerance> Tolerances { get; init; } = [];

    /// <summary>How far all other sizes may be off: a class of ISO 2768-1, or null where nothing is said.</summary>
    public GeneralTolerance? General { get; init; }

    /// <summary>Named sets of values of its parameters.</summary>
    public ImmutableArray<Variant> Variants { get; init; } = [];

    /// <summary>In order of their numbers.</summary>
    public ImmutableArray<Step> Steps { get; init; } = [];

    /// <summary>Steps with a number above this are not built; null builds all.</summary>
    public int? StopLine { get; init; }

    /// <summary>The values of its readings as last built, by the names that formulas use. Not kept, and no part of what the
    /// part is.</summary>
    [JsonIgnore]
    public ImmutableDictionary<string, Quantity> Readings { get; init; } = ImmutableDictionary<string, Quantity>.Empty;

    /// <summary>The values of the parameters, and of the readings as far as they are known.</summary>
    public ParameterValues Values =>
        Readings.Aggregate(ParameterValues.Evaluate(Parameters), (v, r) => v.Has(r.Key) ? v : v.With(r.Key, r.Value));

    /// <summary>Whether a formula of a step uses a reading that has not been taken yet, as in a part that was just read from a
    /// file: only the rebuild can tell its value.</summary>
    public bool AwaitsReading(IEnumerable<string> names)
    {
        var values = Values;
        return names.Any(name => !values.Has(name) && Steps.Any(s => s.ValueName == name));
    }

    /// <summary>Whether a step is not built: suppressed, or below the stop line.</summary>
    public bool Leaves(Step step) => step.Suppressed || step.Number > StopLine;

    public Step? Find(string id) => Steps.FirstOrDefault(s => s.Id == id);

    /// <summary>The part with one step in place of the one of the same id.</summary>
    public Part With(Step step) => this with { Steps = Steps.Replace(Steps.First(s => s.Id == step.Id), step) };

    /// <summary>The number a step would get just above the stop line, or at the end: the next ten, or one between two.</summary>
    public int NextNumber()
    {
        if (StopLine is not { } line || !Steps.Any(s => s.Number > line))
        {
            return Steps.IsEmpty ? 10 : ((Steps[^1].Number / 10) + 1) * 10;
        }

        var above = Steps.Where(s => s.Number <= line).Select(s => s.Number).DefaultIfEmpty(0).Max();
        var below = Steps.First(s => s.Number > line).Number;
        return below - above > 1 ? above + Math.Max(1, (below - above) / 2) : -1;
    }

    public bool Equals(Part? other) =>
        other is not null
        && Name == other.Name
        && Units == other.Units
        && Material == other.Material
        && StopLine == other.StopLine
        && Materials.SequenceEqual(other.Materials)
        && Parameters.SequenceEqual(other.Parameters)
        && General == other.General
        && Tolerances.SequenceEqual(other.Tolerances)
        && Variants.SequenceEqual(other.Variants)
        && Steps.SequenceEqual(other.Steps);

    public override int GetHashCode() => HashCode.Combine(Name, Units, StopLine, Steps.Length);

    /// <summary>Why a name for a part or a step cannot be used, or null. Markup is just text here, and is shown as text.</summary>
    public static Refusal? CheckName(string? name) =>
        string.IsNullOrWhiteSpace(name) ? new Refusal("name.empty", "A name is needed.", "name")
        : name.Length > 120 ? new Refusal("name.too-long", $"A name may have 120 characters; this one has {name.Length}.", "name")
        : name.Any(char.IsControl) ? new Refusal("name.control", "A name holds no line breaks or control characters.", "name")
        : null;
}
