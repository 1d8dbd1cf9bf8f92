using System.Text.Json.Serialization;

namespace Ratiogon.Core.Quantities;

/// <summary>The unit lengths are shown in, and that a bare number typed for a length means.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<LengthUnit>))]
public enum LengthUnit
{
    [JsonStringEnumMemberName("mm")]
    Millimetre,

    [JsonStringEnumMemberName("in")]
    Inch,
}

/// <summary>The units that formulas know, and how values are written for people.</summary>
public static class Units
{
    /// <summary>By definition, since 1959.</summary>
    public const double MillimetresPerInch = 25.4;

    private static readonly Dictionary<string, Quantity> Known = new(StringComparer.Ordinal)
    {
        ["mm"] = Quantity.Length(1),
        ["cm"] = Quantity.Length(10),
        ["m"] = Quantity.Length(1000),
        ["um"] = Quantity.Length(0.001),
        ["in"] = Quantity.Length(MillimetresPerInch),
        ["ft"] = Quantity.Length(304.8),
        ["deg"] = Quantity.Angle(Math.PI / 180),
        ["rad"] = Quantity.Angle(1),
        ["g"] = new(1, Dimension.OfMass),
        ["kg"] = new(1000, Dimension.OfMass),
    };

    /// <summary>Every unit name, for the catalogue and for messages.</summary>
    public static IReadOnlyCollection<string> Names => Known.Keys;

    public static bool TryGet(string name, out Quantity one) => Known.TryGetValue(name, out one);

    /// <summary>The name of the unit a bare number takes in a field of the given kind, or null where it takes none.</summary>
    public static string? Default(Dimension dimension, LengthUnit unit) =>
        dimension == Dimension.OfLength ? (unit == LengthUnit.Inch ? "in" : "mm")
        : dimension == Dimension.OfAngle ? "deg"
        : null;

    /// <summary>A value as people read it: <c>12.5 mm</c>, <c>30 deg</c>, <c>0.492 in</c>.</summary>
    /// <param name="quantity">In millimetres, radians and grams.</param>
    /// <param name="unit">How lengths, areas and volumes are shown.</param>
    /// <param name="digits">Most digits after the point for lengths in millimetres.</param>
    public static string Show(Quantity quantity, LengthUnit unit = LengthUnit.Millimetre, int digits = 3)
    {
        var (value, dim) = quantity;
        if (dim == Dimension.OfAngle)
        {
            return $"{Figures(value * 180 / Math.PI, digits)} deg";
        }

        if (dim == Dimension.OfMass)
        {
            return $"{Figures(value, digits)} g";
        }

        if (dim.Length is >= 1 and <= 3 && dim.Angle == 0 && dim.Mass == 0)
        {
            var inches = unit == LengthUnit.Inch;
            var shown = inches ? value / Math.Pow(MillimetresPerInch, dim.Length) : value;
            var power = dim.Length switch
            {
                2 => "²",
                3 => "³",
                _ => "",
            };
            return $"{Figures(shown, inches ? digits + 1 : digits)} {(inches ? "in" : "mm")}{power}";
        }

        return dim == new Dimension(2, 0, 1) ? $"{Figures(value, digits)} g·mm²" : Figures(value, digits + 3);
    }

    private static string Figures(double value, int digits)
    {
        var rounded = Math.Round(value, digits);
        return (rounded == 0 ? 0 : rounded).ToString("0." + new string('#', digits));
    }
}
