using System.Collections.Immutable;
using System.Globalization;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>A reading as the table shows it.</summary>
/// <param name="Step">Its step.</param>
/// <param name="Number">Of the step.</param>
/// <param name="Name">As shown.</param>
/// <param name="What">What is read, in words.</param>
/// <param name="Of">What it is read of.</param>
/// <param name="Value">With its unit; empty where it cannot be read.</param>
/// <param name="Least">The limit as written.</param>
/// <param name="Most">The limit as written.</param>
/// <param name="Verdict">none, pass, near or fail.</param>
/// <param name="Note">What is worth saying beside it, or why it cannot be read.</param>
/// <param name="Formula">The name that formulas use; empty where its name cannot be one.</param>
public sealed record ReadingRow(
    string Step,
    int Number,
    string Name,
    string What,
    string Of,
    string Value,
    string Least,
    string Most,
    string Verdict,
    string Note,
    string Formula
);

/// <summary>All readings of a part in one table.</summary>
public static class ReadingTable
{
    private static readonly string[] Heads = ["number", "name", "reading", "of", "value", "unit", "least", "most", "verdict", "note"];

    public static ImmutableArray<ReadingRow> Of(Part part, RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        return [.. part.Steps.OfType<ReadingStep>().Select(s => Row(part, s, built.Step(s.Id)))];
    }

    /// <summary>As CSV; values are plain numbers in the part's unit, degrees and grams.</summary>
    public static byte[] Csv(Part part, RebuildResult built) =>
        Quantities.Csv.Of(
            Heads,
            Of(part, built)
                .Select(r =>
                {
                    // A value is shown as a number and a unit.
                    var (value, unit) = r.Value.Split(' ', 2) is [var v, var u] ? (v, u) : (r.Value, "");
                    return new[]
                    {
                        r.Number.ToString(CultureInfo.InvariantCulture),
                        r.Name,
                        r.What,
                        r.Of,
                        value,
                        unit,
                        r.Least,
                        r.Most,
                        r.Verdict,
                        r.Note,
                    };
                })
        );

    private static ReadingRow Row(Part part, ReadingStep step, StepResult? result)
    {
        var kind = ReadingCatalog.Find(step.What);
        var value = result?.Reading is { } v && kind is not null ? Units.Show(new Quantity(v, kind.Kind), part.Units) : "";
        return new ReadingRow(
            step.Id,
            step.Number,
            step.Name,
            kind?.Label ?? step.What,
            $"{string.Join(" to ", step.Of)}{(step.Along is null ? "" : $" along {step.Along}")}",
            value,
            step.Least ?? "",
            step.Most ?? "",
            (result?.Verdict ?? Verdict.None).ToString().ToLowerInvariant(),
            result?.Message ?? "",
            step.Named ? step.Name : ""
        );
    }
}

/// <summary>The parameters of a part as a table.</summary>
public static class ParameterTable
{
    private static readonly string[] Heads = ["name", "formula", "value", "unit", "note"];

    public static byte[] Csv(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var values = part.Values;
        return Quantities.Csv.Of(
            Heads,
            part.Parameters.Select(p =>
            {
                var shown = values.Of(p.Name) is { Done: true } v ? Units.Show(v.Value, part.Units, 6) : "";
                return new[] { p.Name, p.Value, shown.Split(' ', 2)[0], shown.Split(' ', 2) is [_, var unit] ? unit : "", p.Note };
            })
        );
    }
}
