using System.Collections.Immutable;

namespace Ratiogon.Core.Parts;

/// <summary>What a part is made of.</summary>
/// <param name="Name">For example <c>aluminium 6082</c>.</param>
/// <param name="Density">In grams per cubic centimetre.</param>
public sealed record Material(string Name, double Density)
{
    public static readonly Material Default = new("aluminium", 2.7);

    /// <summary>How it looks, as #rrggbb; null for the plain colour of bodies.</summary>
    public string? Colour { get; init; }

    /// <summary>What is wrong with it, or null.</summary>
    public Refusal? Check() =>
        Part.CheckName(Name)
        ?? (
            !(Density > 0 && Density < 100)
                ? new Refusal("material.density", $"A density lies between 0 and 100 g/cm³, not at {Density:g4}.", "density")
            : Colour is { } c && !(c.Length == 7 && c[0] == '#' && c.Skip(1).All(char.IsAsciiHexDigit))
                ? new Refusal("material.colour", "A colour is written as #rrggbb.", "colour")
            : null
        );
}

/// <summary>Common materials with their usual densities at room temperature.</summary>
public static class Materials
{
    public static ImmutableArray<Material> All { get; } =
    [
        Of("aluminium", 2.7, "#c9ccd0"),
        Of("aluminium 6082", 2.71, "#c9ccd0"),
        Of("aluminium 7075", 2.81, "#c4c8cd"),
        Of("steel", 7.85, "#9aa0a6"),
        Of("stainless steel 1.4301", 7.9, "#b4b9bd"),
        Of("cast iron", 7.2, "#6f7275"),
        Of("brass", 8.5, "#cbb26a"),
        Of("bronze", 8.8, "#b48a4e"),
        Of("copper", 8.96, "#c27a55"),
        Of("titanium grade 5", 4.43, "#a5a6a4"),
        Of("magnesium AZ31", 1.77, "#b9bcbb"),
        Of("acetal", 1.41, "#e6e3da"),
        Of("polyamide", 1.14, "#e9e4d2"),
        Of("polypropylene", 0.91, "#e4e8ea"),
        Of("polycarbonate", 1.2, "#cfdbe0"),
        Of("ABS", 1.05, "#d9d5c9"),
        Of("PLA", 1.24, "#dcd8c4"),
        Of("PEEK", 1.32, "#c3ac82"),
        Of("PTFE", 2.16, "#f0f0ec"),
        Of("silicone", 1.15, "#cfd6d4"),
        Of("rubber NBR", 1.2, "#45453f"),
        Of("plywood", 0.65, "#d2b487"),
        Of("oak", 0.72, "#b98f5c"),
        Of("glass", 2.5, "#c8dcd8"),
    ];

    private static Material Of(string name, double density, string colour) => new(name, density) { Colour = colour };
}
