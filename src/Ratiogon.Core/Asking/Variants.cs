using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Core.Asking;

/// <summary>What a variant reads.</summary>
/// <param name="Name">Of the variant; empty for the part as it is.</param>
/// <param name="Fits">Whether the part is so now.</param>
/// <param name="Readings">In the order of the readings, in the core's units; null where one reads nothing.</param>
/// <param name="Out">Whether each is beyond its limits.</param>
/// <param name="Step">Id of the first step that fails in it, or null.</param>
/// <param name="Why">Why, or what is wrong with the variant itself.</param>
public sealed record VariantRow(
    string Name,
    bool Fits,
    ImmutableArray<double?> Readings,
    ImmutableArray<bool> Out,
    string? Step,
    string? Why
);

/// <summary>A reading of the table.</summary>
public sealed record VariantColumn(string Reading, string Name, Measure Measure);

/// <summary>The table of variants with what they read.</summary>
[Kind("variants")]
public sealed record VariantsAnswer(ImmutableArray<VariantColumn> Columns, ImmutableArray<VariantRow> Rows) : Answer;

/// <summary>Builds every variant of a part.</summary>
public static class VariantsOf
{
    public static Outcome<VariantsAnswer> Of(
        Part part,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(builders);
        var readings = part.Steps.OfType<ReadingStep>().Where(r => ReadingCatalog.Find(r.What) is not null).ToList();
        var (rows, done) = (new VariantRow?[part.Variants.Length + 1], 0);
        builders.Run(
            rows.Length,
            (i, build) =>
            {
                rows[i] = i == 0 ? Row("", part, part, readings, build) : Row(part.Variants[i - 1].Name, part, null, readings, build);
                progress?.Report((double)Interlocked.Increment(ref done) / rows.Length);
            },
            cancel
        );
        return new VariantsAnswer(
            [.. readings.Select(r => new VariantColumn(r.Id, r.Name, Measure.Of(ReadingCatalog.Find(r.What)!.Kind, part.Units)))],
            [.. rows.OfType<VariantRow>()]
        );
    }

    private static VariantRow Row(string name, Part part, Part? made, List<ReadingStep> readings, Func<Part, RebuildResult> build)
    {
        if (made is null)
        {
            var chosen = new ChooseVariant(name).Apply(part);
            if (!chosen.Done)
            {
                return new VariantRow(
                    name,
                    false,
                    [.. readings.Select(_ => (double?)null)],
                    [.. readings.Select(_ => false)],
                    null,
                    chosen.Refusal!.Message
                );
            }

            made = chosen.Value;
        }

        var built = build(made);
        var failed = built.Steps.FirstOrDefault(s => s.State == StepState.Failed);
        return new VariantRow(
            name,
            name.Length == 0 || part.Variants.First(v => v.Name == name).Fits(part),
            [.. readings.Select(r => built.Step(r.Id)?.Reading)],
            [.. readings.Select(r => built.Step(r.Id)?.Verdict == Verdict.Fail)],
            failed?.Id,
            failed is null ? null : $"{part.Find(failed.Id)?.Name}: {failed.Message}"
        );
    }
}
