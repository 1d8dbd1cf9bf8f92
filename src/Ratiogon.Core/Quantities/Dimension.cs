namespace Ratiogon.Core.Quantities;

/// <summary>The kind of a quantity, as exponents of length, angle and mass.</summary>
public readonly record struct Dimension(int Length, int Angle, int Mass)
{
    public static readonly Dimension None;
    public static readonly Dimension OfLength = new(1, 0, 0);
    public static readonly Dimension OfAngle = new(0, 1, 0);
    public static readonly Dimension OfArea = new(2, 0, 0);
    public static readonly Dimension OfVolume = new(3, 0, 0);
    public static readonly Dimension OfMass = new(0, 0, 1);

    public static Dimension operator +(Dimension a, Dimension b) => new(a.Length + b.Length, a.Angle + b.Angle, a.Mass + b.Mass);

    public static Dimension operator -(Dimension a, Dimension b) => new(a.Length - b.Length, a.Angle - b.Angle, a.Mass - b.Mass);

    public static Dimension operator *(Dimension a, int n) => new(a.Length * n, a.Angle * n, a.Mass * n);

    /// <summary>The kind in words, for messages.</summary>
    public string Words =>
        this switch
        {
            (0, 0, 0) => "a plain number",
            (1, 0, 0) => "a length",
            (0, 1, 0) => "an angle",
            (2, 0, 0) => "an area",
            (3, 0, 0) => "a volume",
            (0, 0, 1) => "a mass",
            _ => $"a quantity in {Unit}",
        };

    /// <summary>The core's own unit of this kind, as in <c>rad</c> and <c>mm^5 g</c>; empty for a plain number.</summary>
    public string Unit =>
        string.Join(
            ' ',
            new (string Name, int Power)[] { ("mm", Length), ("rad", Angle), ("g", Mass) }
                .Where(u => u.Power != 0)
                .Select(u => u.Power == 1 ? u.Name : $"{u.Name}^{u.Power}")
        );
}

/// <summary>A value in the core's own units (millimetres, radians, grams) with its kind.</summary>
public readonly record struct Quantity(double Value, Dimension Dimension)
{
    public static Quantity Number(double value) => new(value, Dimension.None);

    public static Quantity Length(double millimetres) => new(millimetres, Dimension.OfLength);

    public static Quantity Angle(double radians) => new(radians, Dimension.OfAngle);
}
