using System.Collections.Immutable;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>What the tolerance of one size does to a reading.</summary>
/// <param name="Step">Id of the step that has the size; empty for a parameter.</param>
/// <param name="Name">The field or the parameter's name.</param>
/// <param name="Words">As people call it.</param>
/// <param name="Written">The size with its tolerance, as on a drawing.</param>
/// <param name="General">Whether only the part's class says so.</param>
/// <param name="AtLower">By how much the reading changes when the size is at its lower bound.</param>
/// <param name="AtUpper">The same at its upper bound.</param>
/// <param name="Share">Of the reading's variance, from 0 to 1.</param>
/// <param name="Tightened">What the reading would spread to either side, were this tolerance half as wide.</param>
/// <param name="Opened">The same, were it twice as wide.</param>
public sealed record Contribution(
    string Step,
    string Name,
    string Words,
    string Written,
    bool General,
    double AtLower,
    double AtUpper,
    double Share,
    double Tightened,
    double Opened
);

/// <summary>What many parts, built with sizes drawn within their tolerances, read.</summary>
/// <param name="Runs">How many were built.</param>
/// <param name="Failed">How many of them could not be.</param>
/// <param name="Why">Why the first of those could not.</param>
/// <param name="Mean">Of the others.</param>
/// <param name="Deviation">Standard deviation of the others.</param>
/// <param name="Least">The least.</param>
/// <param name="Most">The most.</param>
/// <param name="Within">How many lie within the reading's limits.</param>
/// <param name="From">Where the first bin of the histogram begins.</param>
/// <param name="Bin">How wide a bin is.</param>
/// <param name="Counts">How many lie in each.</param>
/// <param name="Seed">With which they can be drawn again.</param>
public sealed record Sampled(
    int Runs,
    int Failed,
    string? Why,
    double Mean,
    double Deviation,
    double Least,
    double Most,
    int Within,
    double From,
    double Bin,
    ImmutableArray<int> Counts,
    int Seed
);

/// <summary>What tolerances do to a reading, in the core's units.</summary>
/// <param name="Reading">Its name.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="Value">As all sizes are meant.</param>
/// <param name="Least">Its limit; null for none.</param>
/// <param name="Most">Its limit; null for none.</param>
/// <param name="WorstLeast">With every size at its worst, built.</param>
/// <param name="WorstMost">The same to the other side.</param>
/// <param name="Mean">The middle of what is to be expected.</param>
/// <param name="Spread">Three standard deviations, by the root of the sum of squares.</param>
/// <param name="Linear">Whether the contributions add up to what the worst cases read.</param>
/// <param name="Within">Share of parts within the limits, from the normal distribution or, where there are any, from the sampled.</param>
/// <param name="Cp">Width of the limits over six deviations; null where one is missing.</param>
/// <param name="Cpk">Distance of the nearer limit over three deviations; null without limits.</param>
/// <param name="Contributions">The largest share first.</param>
/// <param name="Sampled">What was built at random; null where that was not asked for.</param>
/// <param name="Left">What could not be tried.</param>
[Kind("tolerances")]
public sealed record ToleranceAnswer(
    string Reading,
    Measure Measure,
    double Value,
    double? Least,
    double? Most,
    double WorstLeast,
    double WorstMost,
    double Mean,
    double Spread,
    bool Linear,
    double? Within,
    double? Cp,
    double? Cpk,
    ImmutableArray<Contribution> Contributions,
    Sampled? Sampled,
    ImmutableArray<string> Left
) : Answer;

/// <summary>
/// What the tolerances of a part's sizes do to a reading: worst case, root of the sum of squares, and a Monte Carlo run of the rebuild.
/// Sizes are independent, normal about the middle of their zone with a sixth of its width as deviation, and drawn again beyond it.
/// </summary>
public static class ToleranceStudy
{
    /// <summary>A reading that changes by less than this share of itself is not moved.</summary>
    private const double Moved = 1e-10;

    /// <summary>A reading smaller than this counts as this large where a share of it is meant.</summary>
    private const double LeastReading = 1e-6;

    /// <summary>The most parts that are drawn at random.</summary>
    public const int MostRuns = 20_000;

    /// <summary>How many are drawn where contributions do not add up and nobody said how many.</summary>
    public const int RunsIfBent = 200;

    /// <summary>Contributions that miss the worst case by more than this share of it do not add up.</summary>
    private const double LinearTo = 0.02;

    private const int Bins = 25;

    /// <param name="part">The part.</param>
    /// <param name="reading">Id or name of a reading.</param>
    /// <param name="runs">How many parts to draw; null for as many as it takes.</param>
    /// <param name="seed">Of the draw.</param>
    /// <param name="builders">Build parts, without triangles.</param>
    /// <param name="progress">From 0 to 1.</param>
    /// <param name="cancel">Ends the draw: what was built until then counts.</param>
    public static Outcome<ToleranceAnswer> Of(
        Part part,
        string reading,
        int? runs,
        int seed,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(builders);
        if (runs is < 0 or > MostRuns)
        {
            return new Refusal("tolerance.runs", $"Up to {MostRuns} parts are drawn, not {runs}.", "runs");
        }

        var found = AskedReading.Of(part, reading, builders.Build);
        var sizes = found.Then(r => Toleranced.Of(part).Map(s => (Asked: r, Sizes: s)));
        if (!sizes.Done)
        {
            return sizes.Refusal!;
        }

        var asked = sizes.Value.Asked;
        if (sizes.Value.Sizes.Count == 0)
        {
            return new Refusal(
                "tolerance.none",
                "No size of the part has a tolerance: give some one, or the part a general class.",
                "tolerance"
            );
        }

        var now = asked.In(builders.Build(asked.Part));
        if (!now.Done)
        {
            return now.Refusal!;
        }

        // What the reading does not see cannot move it.
        var knobs = sizes
            .Value.Sizes.Where(s => s.Step.Length == 0 || asked.Part.Find(s.Step) is not null)
            .Select(s => new Off(asked.Part, s))
            .ToArray();
        var (ends, left) = (new Outcome<double>[knobs.Length, 2], new List<string>());
        builders.Run(
            2 * knobs.Length,
            (i, build) =>
            {
                var (knob, upper) = (knobs[i / 2], i % 2);
                ends[i / 2, upper] = asked.In(build(knob.At(asked.Part, upper == 1 ? knob.Size.Zone.Upper : knob.Size.Zone.Lower)));
                progress?.Report(0.3 * (i + 1) / (2 * knobs.Length));
            },
            cancel
        );
        if (cancel.IsCancellationRequested)
        {
            return new Refusal("ask.stopped", "It was stopped.");
        }

        var moves = new List<(Off Knob, double Low, double High)>();
        for (var i = 0; i < knobs.Length; i++)
        {
            if (ends[i, 0] is { Done: true } low && ends[i, 1] is { Done: true } high)
            {
                if (Moves(low.Value - now.Value, now.Value) || Moves(high.Value - now.Value, now.Value))
                {
                    moves.Add((knobs[i], low.Value - now.Value, high.Value - now.Value));
                }
            }
            else
            {
                left.Add($"{knobs[i].Words}: {(ends[i, 0].Refusal ?? ends[i, 1].Refusal)!.Message}");
            }
        }

        // The worst cases are built: every size at the end that moves the reading that way.
        Outcome<double> Worst(bool most) =>
            asked.In(
                builders.Build(
                    moves.Aggregate(asked.Part, (p, m) =>
                        m.Knob.At(p, m.High > m.Low == most ? m.Knob.Size.Zone.Upper : m.Knob.Size.Zone.Lower)
                    )
                )
            );
        var (summedLeast, summedMost) = (
            now.Value + moves.Sum(m => Math.Min(Math.Min(m.Low, m.High), 0)),
            now.Value + moves.Sum(m => Math.Max(Math.Max(m.Low, m.High), 0))
        );
        var (worstLeast, worstMost) = (Worst(false), Worst(true));
        foreach (var failed in new[] { worstLeast, worstMost }.Where(w => !w.Done))
        {
            left.Add($"all sizes at their worst: {failed.Refusal!.Message}");
        }

        var width = Math.Max(summedMost - summedLeast, Tolerances.Rounding);
        var bent =
            !worstLeast.Done
            || !worstMost.Done
            || Math.Abs(worstLeast.Value - (now.Value + moves.Sum(m => Math.Min(m.Low, m.High)))) > LinearTo * width
            || Math.Abs(worstMost.Value - (now.Value + moves.Sum(m => Math.Max(m.Low, m.High)))) > LinearTo * width;
        var variances = moves.Select(m => Square((m.High - m.Low) / 6)).ToArray();
        var (variance, mean) = (variances.Sum(), now.Value + moves.Sum(m => (m.Low + m.High) / 2));
        var deviation = Math.Sqrt(variance);
        var (least, most) = asked.Limits;
        var wanted = runs ?? (bent ? RunsIfBent : 0);
        var sampled = wanted > 0 ? Sample(asked, [.. moves.Select(m => m.Knob)], wanted, seed, builders, progress, cancel) : null;
        var (middle, sigma) =
            sampled is { Runs: var r, Failed: var f } && r - f > 1 ? (sampled.Mean, sampled.Deviation) : (mean, deviation);
        progress?.Report(1);
        return new ToleranceAnswer(
            asked.Step.Name,
            Measure.Of(asked.Kind, part.Units),
            now.Value,
            least,
            most,
            worstLeast.Done ? Math.Min(worstLeast.Value, now.Value) : summedLeast,
            worstMost.Done ? Math.Max(worstMost.Value, now.Value) : summedMost,
            mean,
            3 * deviation,
            !bent,
            least is null && most is null ? null
                : sampled is not null ? (double)sampled.Within / sampled.Runs
                : Below(most, middle, sigma) - Below(least, middle, sigma, 0),
            least is { } l && most is { } m2 && sigma > 0 ? (m2 - l) / (6 * sigma) : null,
            sigma > 0 && (least is not null || most is not null)
                ? Math.Min(
                    most is { } upper ? (upper - middle) / (3 * sigma) : double.MaxValue,
                    least is { } lower ? (middle - lower) / (3 * sigma) : double.MaxValue
                )
                : null,
            [
                .. moves
                    .Select(
                        (m, i) =>
                            new Contribution(
                                m.Knob.Size.Step,
                                m.Knob.Size.Name,
                                m.Knob.Words,
                                $"{Units.Show(m.Knob.Size.Value, part.Units, 4)} "
                                    + $"{Tolerance.Written(m.Knob.Size.Text, m.Knob.Size.Zone, m.Knob.Size.Value.Dimension, part.Units)}",
                                m.Knob.Size.General,
                                m.Low,
                                m.High,
                                variance > 0 ? variances[i] / variance : 0,
                                3 * Math.Sqrt(Math.Max(0, variance - (0.75 * variances[i]))),
                                3 * Math.Sqrt(variance + (3 * variances[i]))
                            )
                    )
                    .OrderByDescending(c => c.Share)
                    .ThenBy(c => c.Words, StringComparer.Ordinal),
            ],
            sampled,
            [.. left]
        );
    }

    /// <summary>Share of a normal distribution below a limit; what there is without one.</summary>
    private static double Below(double? limit, double mean, double deviation, double without = 1) =>
        limit is not { } l ? without
        : deviation <= 0 ? (mean <= l ? 1 : 0)
        : 0.5 * Erfc((mean - l) / (deviation * Math.Sqrt(2)));

    /// <summary>The complementary error function: its Taylor series up to 2, beyond that the continued fraction (Abramowitz and Stegun,
    /// 7.1.5 and 7.1.14), to 1e-12.</summary>
    internal static double Erfc(double x)
    {
        if (x < 0)
        {
            return 2 - Erfc(-x);
        }

        if (x < 2)
        {
            var (term, sum) = (x, x);
            for (var n = 1; n < 80; n++)
            {
                term *= -x * x / n;
                sum += term / ((2 * n) + 1);
            }

            return 1 - (2 / Math.Sqrt(Math.PI) * sum);
        }

        var fraction = x;
        for (var n = 80; n > 0; n--)
        {
            fraction = x + (n / 2.0 / fraction);
        }

        return Math.Exp(-x * x) / Math.Sqrt(Math.PI) / fraction;
    }

    private static Sampled Sample(
        AskedReading asked,
        Off[] knobs,
        int runs,
        int seed,
        Builders builders,
        IProgress<double>? progress,
        CancellationToken cancel
    )
    {
        // All draws are made first, so that how many build at the same time changes nothing.
        var random = new Random(seed);
        var draws = new double[runs][];
        for (var i = 0; i < runs; i++)
        {
            draws[i] = [.. knobs.Select(k => Draw(random, k.Size.Zone))];
        }

        var (read, done) = (new Outcome<double>?[runs], 0);
        builders.Run(
            runs,
            (i, build) =>
            {
                var part = asked.Part;
                for (var k = 0; k < knobs.Length; k++)
                {
                    part = knobs[k].At(part, draws[i][k]);
                }

                read[i] = asked.In(build(part));
                progress?.Report(0.3 + (0.7 * Interlocked.Increment(ref done) / runs));
            },
            cancel
        );
        var built = read.OfType<Outcome<double>>().ToList();
        var values = built.Where(r => r.Done).Select(r => r.Value).ToList();
        if (values.Count == 0)
        {
            return new Sampled(built.Count, built.Count, built.FirstOrDefault().Refusal?.Message, 0, 0, 0, 0, 0, 0, 0, [], seed);
        }

        var (least, most) = asked.Limits;
        var (mean, from, to) = (values.Average(), values.Min(), values.Max());
        var bin = Math.Max((to - from) / Bins, Tolerances.Rounding);
        var counts = new int[Bins];
        foreach (var value in values)
        {
            counts[Math.Min(Bins - 1, (int)((value - from) / bin))]++;
        }

        return new Sampled(
            built.Count,
            built.Count - values.Count,
            built.FirstOrDefault(r => !r.Done).Refusal?.Message,
            mean,
            values.Count > 1 ? Math.Sqrt(values.Sum(v => Square(v - mean)) / (values.Count - 1)) : 0,
            from,
            to,
            values.Count(v => !(v < least) && !(v > most)),
            from,
            bin,
            [.. counts],
            seed
        );
    }

    /// <summary>A normal deviate (Box and Muller, 1958) within the zone.</summary>
    private static double Draw(Random random, Zone zone)
    {
        while (true)
        {
            var normal = Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
            if (Math.Abs(normal) <= 3)
            {
                return zone.Middle + (normal * zone.Width / 6);
            }
        }
    }

    private static double Square(double x) => x * x;

    /// <summary>A difference that is no more than the noise of building is none.</summary>
    private static bool Moves(double difference, double value) => Math.Abs(difference) > Moved * Math.Max(Math.Abs(value), LeastReading);

    /// <summary>A size that is off.</summary>
    private sealed class Off
    {
        private readonly Knob knob;
        private readonly string formula;

        public Off(Part part, Toleranced.Size size)
        {
            Size = size;
            var step = part.Find(size.Step);
            knob = new Knob(size.Step, size.Name, "", size.Value);
            formula = step is null
                ? part.Parameters.First(p => p.Name == size.Name).Value
                : step.Sizes.First(z => z.Field == size.Name).Formula;
            Words = step is null ? size.Name : $"{size.Name} of {step.Name}";
        }

        public Toleranced.Size Size { get; }

        public string Words { get; }

        public Part At(Part part, double off) => off == 0 ? part : knob.WithText(part, $"({formula}) + ({knob.Text(off)})");
    }
}
