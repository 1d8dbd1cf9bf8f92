using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>How a try went.</summary>
[System.Text.Json.Serialization.JsonConverter(typeof(System.Text.Json.Serialization.JsonStringEnumConverter<FlexState>))]
public enum FlexState
{
    /// <summary>Built, and every reading within its limits.</summary>
    [System.Text.Json.Serialization.JsonStringEnumMemberName("good")]
    Good,

    /// <summary>Built, and a reading out of its limits.</summary>
    [System.Text.Json.Serialization.JsonStringEnumMemberName("limits")]
    Limits,

    /// <summary>A step could not be built that can be built now.</summary>
    [System.Text.Json.Serialization.JsonStringEnumMemberName("failed")]
    Failed,

    /// <summary>The sizes of a sketch cannot hold together there.</summary>
    [System.Text.Json.Serialization.JsonStringEnumMemberName("clash")]
    Clash,
}

/// <summary>One try.</summary>
/// <param name="At">What the parameters were, in their order.</param>
/// <param name="State">How it went.</param>
/// <param name="Step">Id of the step that failed, or of the reading; null where all is good.</param>
/// <param name="Why">In words.</param>
public sealed record FlexTry(ImmutableArray<double> At, FlexState State, string? Step, string? Why);

/// <summary>A parameter that was turned.</summary>
/// <param name="Knob">Which.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="Least">The least that was tried.</param>
/// <param name="Most">The most that was tried.</param>
/// <param name="Given">Whether that is its range, or was assumed.</param>
/// <param name="HoldsFrom">Turned alone, the part is good from here.</param>
/// <param name="HoldsTo">To here.</param>
/// <param name="Border">What stops it at either end; null where nothing does.</param>
public sealed record FlexKnob(
    Knob Knob,
    Measure Measure,
    double Least,
    double Most,
    bool Given,
    double HoldsFrom,
    double HoldsTo,
    string? Border
);

/// <summary>Over which values a part holds.</summary>
/// <param name="Knobs">What was turned.</param>
/// <param name="Tries">Every try, each parameter alone first, then corners, then places spread over all.</param>
/// <param name="Map">A grid of the two that a map was asked of, the first running fastest; empty for none.</param>
/// <param name="MapSide">How many tries the grid has along one side.</param>
/// <param name="MapOf">Which two, by their places among the parameters.</param>
/// <param name="Said">In words.</param>
[Kind("flex")]
public sealed record FlexAnswer(
    ImmutableArray<FlexKnob> Knobs,
    ImmutableArray<FlexTry> Tries,
    ImmutableArray<FlexTry> Map,
    int MapSide,
    ImmutableArray<int> MapOf,
    string Said
) : Answer;

/// <summary>Builds a part over the ranges of its parameters: each alone, the corners, and a low-discrepancy sample of all
/// together.</summary>
public static class FlexOf
{
    /// <summary>How often a part is built unless it is said otherwise.</summary>
    public const int UsualTries = 120;

    /// <summary>The most.</summary>
    public const int MostTries = 5000;

    private const int Levels = 5,
        Halvings = 10,
        Side = 9,
        MostCorners = 64;

    /// <summary>Without a range, this much less and more.</summary>
    private const double Assumed = 0.2;

    public static Outcome<FlexAnswer> Of(
        Part part,
        FlexQuestion question,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(question);
        ArgumentNullException.ThrowIfNull(builders);
        if (question.Tries is < 1 or > MostTries)
        {
            return new Refusal("flex.tries", $"From one to {MostTries} tries, not {question.Tries}.", "tries");
        }

        var wanted = new List<Knob>();
        foreach (var name in question.Of.IsDefault ? [] : question.Of.Concat(question.Pair.IsDefault ? [] : question.Pair).Distinct())
        {
            var knob = Knob.Find(part, name);
            if (!knob.Done)
            {
                return knob.Refusal!;
            }

            wanted.Add(knob.Value);
        }

        if (wanted.Count == 0)
        {
            var all = Knob.All(part).Where(k => k.Step.Length == 0).ToList();
            wanted = all.Any(k => k.Ranged) ? [.. all.Where(k => k.Ranged)] : all;
        }

        if (wanted.Count == 0)
        {
            return new Refusal("flex.none", "There is nothing to turn: the part has no parameter that is a number of its own.", "of");
        }

        if (!question.Pair.IsDefaultOrEmpty && question.Pair.Length != 2)
        {
            return new Refusal("flex.pair", "A map is made of two parameters.", "pair");
        }

        return new Run(part, [.. wanted], question, builders, progress, cancel).Answered();
    }

    private sealed class Run
    {
        private readonly Part part;
        private readonly Knob[] knobs;
        private readonly Bounds[] spans;
        private readonly FlexQuestion question;
        private readonly Builders builders;
        private readonly IProgress<double>? progress;
        private readonly CancellationToken cancel;
        private readonly HashSet<string> failingNow;
        private readonly HashSet<string> outNow;
        private int done;

        public Run(Part part, Knob[] knobs, FlexQuestion question, Builders builders, IProgress<double>? progress, CancellationToken cancel)
        {
            (this.part, this.knobs, this.question, this.builders, this.progress, this.cancel) = (
                part,
                knobs,
                question,
                builders,
                progress,
                cancel
            );
            spans = [.. knobs.Select(Span)];
            var now = builders.Build(part);
            failingNow = [.. now.Steps.Where(s => s.State == StepState.Failed).Select(s => s.Id)];
            outNow = [.. now.Steps.Where(s => IsOut(s.Verdict)).Select(s => s.Id)];
        }

        private double[] Now => [.. knobs.Select(k => k.Value.Value)];

        public FlexAnswer Answered()
        {
            // Each alone, then the corners, then spread over all.
            var places = new List<double[]>();
            for (var i = 0; i < knobs.Length; i++)
            {
                for (var n = 0; n < Levels; n++)
                {
                    places.Add(With(Now, i, knobs[i].Snapped(spans[i].Least + ((spans[i].Most - spans[i].Least) * n / (Levels - 1)))));
                }
            }

            var alone = places.Count;
            var corners = knobs.Length <= 6 ? 1 << knobs.Length : 0;
            if (knobs.Length > 1 && corners <= MostCorners)
            {
                for (var c = 0; c < corners; c++)
                {
                    places.Add([.. knobs.Select((_, i) => (c >> i & 1) == 0 ? spans[i].Least : spans[i].Most)]);
                }
            }

            for (var n = 1; knobs.Length > 1 && places.Count < question.Tries; n++)
            {
                places.Add([.. knobs.Select((k, i) => k.Snapped(spans[i].Least + ((spans[i].Most - spans[i].Least) * Spread(n, i))))]);
            }

            places = [.. places.Take(Math.Max(question.Tries, alone))];
            var grid = Grid(out var pair);
            var whole = places.Count + grid.Count + (knobs.Length * Halvings);
            var tries = Tried(places, whole);
            var map = Tried(grid, whole);
            var borders = knobs.Select((k, i) => Border(i, [.. tries.Skip(i * Levels).Take(Levels)])).ToImmutableArray();
            progress?.Report(1);
            var (failed, outside) = (
                tries.Count(t => t.State is FlexState.Failed or FlexState.Clash),
                tries.Count(t => t.State == FlexState.Limits)
            );
            var said =
                cancel.IsCancellationRequested ? $"It was stopped after {tries.Length} of {places.Count} tries: {failed} failed."
                : failed + outside == 0 ? $"It holds in all {tries.Length} tries."
                : $"Of {tries.Length} tries {tries.Length - failed - outside} are good, {failed} cannot be built, "
                    + $"{outside} read beyond a limit.";
            var standing = failingNow.Select(id => part.Find(id)?.Name).OfType<string>().ToList();
            return new FlexAnswer(
                borders,
                tries,
                map,
                map.IsEmpty ? 0 : Side,
                pair,
                standing.Count > 0 ? $"{said} Not counted: {string.Join(", ", standing)}, which fails as the part is now." : said
            );
        }

        private static Bounds Span(Knob knob)
        {
            if (knob.Ranged)
            {
                return knob.Span;
            }

            var value = knob.Value.Value;
            var reach =
                knob.Stride is { } stride ? Math.Max(stride, Assumed * Math.Abs(value))
                : value == 0 ? 1
                : Assumed * Math.Abs(value);
            return new Bounds(Math.Max(knob.Floor, value - reach), Math.Min(knob.Ceiling, value + reach));
        }

        private static bool IsOut(Verdict verdict) => verdict == Verdict.Fail;

        private static double[] With(double[] at, int i, double value)
        {
            at[i] = value;
            return at;
        }

        /// <summary>The n-th place of the Halton sequence (Halton, 1960) along the i-th axis: in the base of the i-th prime.</summary>
        private static double Spread(int n, int i)
        {
            ReadOnlySpan<int> primes = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53];
            var (prime, share, result) = (primes[i % primes.Length], 1.0, 0.0);
            for (var left = n + (i / primes.Length * 97); left > 0; left /= prime)
            {
                share /= prime;
                result += share * (left % prime);
            }

            return result;
        }

        private List<double[]> Grid(out ImmutableArray<int> pair)
        {
            pair = [];
            if (question.Pair.IsDefaultOrEmpty)
            {
                return [];
            }

            var (a, b) = (Place(question.Pair[0]), Place(question.Pair[1]));
            if (a == b)
            {
                return [];
            }

            pair = [a, b];
            return
            [
                .. Enumerable
                    .Range(0, Side * Side)
                    .Select(n =>
                    {
                        double At(int i, int step) => spans[i].Least + ((spans[i].Most - spans[i].Least) * step / (Side - 1));
                        return With(With(Now, a, At(a, n % Side)), b, At(b, n / Side));
                    }),
            ];
        }

        private int Place(string name)
        {
            var knob = Knob.Find(part, name).Value;
            return Array.FindIndex(knobs, k => k == knob);
        }

        private ImmutableArray<FlexTry> Tried(List<double[]> places, int whole)
        {
            var tries = new FlexTry?[places.Count];
            builders.Run(
                places.Count,
                (i, build) =>
                {
                    tries[i] = Try(places[i], build);
                    progress?.Report(Math.Min(0.99, (double)Interlocked.Increment(ref done) / whole));
                },
                cancel
            );
            return [.. tries.OfType<FlexTry>()];
        }

        private FlexTry Try(double[] at, Func<Part, RebuildResult> build)
        {
            var tried = part;
            for (var i = 0; i < knobs.Length; i++)
            {
                tried = at[i] == knobs[i].Value.Value ? tried : knobs[i].At(tried, at[i]);
            }

            var built = build(tried);
            if (built.Steps.FirstOrDefault(s => s.State == StepState.Failed && !failingNow.Contains(s.Id)) is { } failed)
            {
                var step = part.Find(failed.Id);
                var state = step is Parts.Steps.SketchStep ? FlexState.Clash : FlexState.Failed;
                return new FlexTry([.. at], state, failed.Id, $"{step?.Name}: {failed.Message}");
            }

            var outside = built.Steps.FirstOrDefault(s => IsOut(s.Verdict) && !outNow.Contains(s.Id));
            return outside is null
                ? new FlexTry([.. at], FlexState.Good, null, null)
                : new FlexTry([.. at], FlexState.Limits, outside.Id, $"{part.Find(outside.Id)?.Name}: {Read(outside)} is beyond its limit");
        }

        private string Read(StepResult reading) =>
            reading.Reading is { } value && part.Find(reading.Id) is ReadingStep step && ReadingCatalog.Find(step.What) is { } what
                ? Measure.Of(what.Kind, part.Units).Show(value)
                : "it";

        /// <summary>How far a parameter can go alone: bisected between what is good and what is not.</summary>
        private FlexKnob Border(int i, FlexTry[] levels)
        {
            var (knob, now) = (knobs[i], knobs[i].Value.Value);
            string? why = null;
            double Reach(IEnumerable<FlexTry> outwards)
            {
                var good = now;
                foreach (var level in outwards)
                {
                    if (level.State == FlexState.Good)
                    {
                        good = level.At[i];
                        continue;
                    }

                    var (bad, reason) = (level.At[i], level.Why);
                    for (var n = 0; n < Halvings && !cancel.IsCancellationRequested; n++)
                    {
                        var middle = knob.Snapped((good + bad) / 2);
                        if (middle == good || middle == bad)
                        {
                            break;
                        }

                        var tried = Try(With(Now, i, middle), builders.Build);
                        if (tried.State == FlexState.Good)
                        {
                            good = middle;
                        }
                        else
                        {
                            (bad, reason) = (middle, tried.Why);
                        }
                    }

                    why = why is null || why == reason ? reason : $"{why}; {reason}";
                    break;
                }

                return good;
            }

            var (down, up) = (
                Reach(levels.Where(t => t.At[i] < now).OrderByDescending(t => t.At[i])),
                Reach(levels.Where(t => t.At[i] > now).OrderBy(t => t.At[i]))
            );
            return new FlexKnob(
                knob,
                Measure.Of(knob.Value.Dimension, part.Units),
                spans[i].Least,
                spans[i].Most,
                knob.Ranged,
                down,
                up,
                why
            );
        }
    }
}
