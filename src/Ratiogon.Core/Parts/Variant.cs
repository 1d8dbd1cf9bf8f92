using System.Collections.Immutable;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>A value that a parameter has in a variant.</summary>
/// <param name="Name">Of the parameter.</param>
/// <param name="Value">A formula; it may use other parameters, as they are in the variant.</param>
public sealed record VariantValue(string Name, string Value);

/// <summary>A named set of values of a part's parameters, with steps that are left out and a material of its own.</summary>
/// <param name="Name">What it is called; each once.</param>
/// <param name="Values">Of the parameters that are others in it.</param>
public sealed record Variant(string Name, ImmutableArray<VariantValue> Values)
{
    /// <summary>Steps that are suppressed in it, by their ids; null where it says nothing of that.</summary>
    public ImmutableArray<string>? Suppressed { get; init; }

    /// <summary>What it is made of; null for what the part is.</summary>
    public Material? Material { get; init; }

    /// <summary>With another name for a parameter.</summary>
    internal Variant Renamed(string from, string to) =>
        this with
        {
            Values = [.. Values.Select(v => v.Name == from ? v with { Name = to } : v)],
        };

    public bool Equals(Variant? other) =>
        other is not null
        && Name == other.Name
        && Material == other.Material
        && Values.SequenceEqual(other.Values)
        && (Suppressed, other.Suppressed) switch
        {
            (null, null) => true,
            ({ } a, { } b) => a.SequenceEqual(b),
            _ => false,
        };

    public override int GetHashCode() => HashCode.Combine(Name, Values.Length);

    /// <summary>Whether a part is as the variant says.</summary>
    public bool Fits(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return Values.All(v => part.Parameters.FirstOrDefault(p => p.Name == v.Name)?.Value == v.Value)
            && (Material is null || part.Material == Material)
            && (Suppressed is not { } left || part.Steps.All(s => s.Suppressed == left.Contains(s.Id)));
    }
}
