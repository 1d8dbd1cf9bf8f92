using System.Globalization;
using System.Text.RegularExpressions;

namespace Ratiogon.Core.Quantities;

/// <summary>By how much a size may be off.</summary>
/// <param name="Lower">Towards less, in mm or rad; usually negative.</param>
/// <param name="Upper">Towards more.</param>
public readonly record struct Zone(double Lower, double Upper)
{
    public double Middle => (Lower + Upper) / 2;

    public double Width => Upper - Lower;
}

/// <summary>Tolerances as people write them: <c>±0.1</c>, <c>+0.2 -0.1</c>, <c>+0.2/0</c>, <c>H7</c>, <c>g6</c>.</summary>
public static partial class Tolerance
{
    /// <summary>What a text says of a size.</summary>
    /// <param name="text">As above; numbers without a unit are in the part's unit, or degrees.</param>
    /// <param name="of">The size.</param>
    /// <param name="unit">Of lengths.</param>
    public static Outcome<Zone> Parse(string text, Quantity of, LengthUnit unit)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (of.Dimension != Dimension.OfLength && of.Dimension != Dimension.OfAngle)
        {
            return new Refusal("tolerance.kind", $"Only lengths and angles have tolerances; this is {of.Dimension.Words}.", "tolerance");
        }

        text = text.Trim().Replace('\u2212', '-');
        if (Letters().Match(text) is { Success: true } fit)
        {
            return of.Dimension == Dimension.OfLength
                ? Iso286.Of(fit.Groups["letters"].Value, int.Parse(fit.Groups["grade"].Value, CultureInfo.InvariantCulture), of.Value)
                : new Refusal("tolerance.kind", "Letters and grades are for lengths; write ±0.5 deg for an angle.", "tolerance");
        }

        var symmetric = Symmetric().Match(text);
        if (symmetric.Success)
        {
            return Amount(symmetric.Groups["value"].Value, of, unit)
                .Then<Zone>(v =>
                    v > 0 ? new Zone(-v, v) : new Refusal("tolerance.none", "A tolerance is larger than nothing.", "tolerance")
                );
        }

        var both = Both().Match(text);
        if (!both.Success)
        {
            return new Refusal(
                "tolerance.text",
                $"'{(text.Length > 40 ? text[..40] + "…" : text)}' is no tolerance: write ±0.1, +0.2 -0.1, +0.2/0, or "
                    + $"letters and grade as H7 or g6.",
                "tolerance"
            );
        }

        return Amount(both.Groups["a"].Value, of, unit)
            .Then(a => Amount(both.Groups["b"].Value, of, unit).Map(b => (A: a, B: b)))
            .Then<Zone>(z =>
                z.A == z.B
                    ? new Refusal("tolerance.none", "Both bounds are the same: nothing could be made to that.", "tolerance")
                    : new Zone(Math.Min(z.A, z.B), Math.Max(z.A, z.B))
            );
    }

    /// <summary>A deviation as it is written beside a size: without a unit, in the part's unit or in degrees.</summary>
    public static string Number(double value, Dimension of, LengthUnit unit)
    {
        var shown =
            of == Dimension.OfAngle ? value * 180 / Math.PI
            : unit == LengthUnit.Inch ? value / Units.MillimetresPerInch
            : value;
        var rounded = Math.Round(shown, unit == LengthUnit.Inch && of == Dimension.OfLength ? 5 : 4);
        return rounded.ToString("0.#####", CultureInfo.InvariantCulture) + (of == Dimension.OfAngle ? "°" : "");
    }

    /// <summary>As the standard writes it behind a size (ISO 129-1): <c>±0.1</c>, <c>+0.2 −0.1</c>, <c>H7 (+0.021 0)</c>.</summary>
    public static string Written(string text, Zone zone, Dimension of, LengthUnit unit)
    {
        ArgumentNullException.ThrowIfNull(text);
        string Signed(double v) =>
            (
                v > 0 ? "+"
                : v < 0 ? "\u2212"
                : ""
            ) + Number(Math.Abs(v), of, unit);
        var bounds = zone.Lower == -zone.Upper ? $"±{Number(zone.Upper, of, unit)}" : $"{Signed(zone.Upper)} {Signed(zone.Lower)}";
        return Letters().IsMatch(text.Trim()) ? $"{text.Trim()} ({bounds})" : bounds;
    }

    private static Outcome<double> Amount(string text, Quantity of, LengthUnit unit)
    {
        text = text.Trim();
        var formula = Formula.ForField(text, of.Dimension, unit, _ => new Refusal(
            "tolerance.name",
            "A tolerance is a number, not a formula.",
            "tolerance"
        ));
        return formula
            .Then(f => f.Evaluate(_ => new Refusal("tolerance.name", "A tolerance is a number, not a formula.", "tolerance")))
            .Then<double>(q =>
                double.IsFinite(q.Value) && Math.Abs(q.Value) < 1e4
                    ? q.Value
                    : new Refusal("tolerance.size", "A tolerance is less than 10 m.", "tolerance")
            );
    }

    [GeneratedRegex(@"^(?<letters>[A-Za-z]{1,2})(?<grade>\d{1,2})$")]
    private static partial Regex Letters();

    [GeneratedRegex(@"^(±|\+/?-)(?<value>[^±]+)$|^(?<value>\d[^+\-±/]*)$")]
    private static partial Regex Symmetric();

    [GeneratedRegex(
        @"^(?<a>[+-]?\s*[0-9.]+\s*[a-z]*)\s*[/,;\s]\s*(?<b>[+-]?\s*[0-9.]+\s*[a-z]*)$"
            + @"|^(?<a>[+]\s*[0-9.]+\s*[a-z]*)(?<b>[+-]\s*[0-9.]+\s*[a-z]*)$"
    )]
    private static partial Regex Both();
}
