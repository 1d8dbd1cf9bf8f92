using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

internal sealed partial class AimSearch(
    AskedReading asked,
    Knob[] knobs,
    Builders builders,
    IProgress<double>? progress,
    CancellationToken cancel
)
{
    /// <summary>How far within a range, as a share of it, a bound that is left out is taken.</summary>
    private const double Beyond = 1e-9;

    /// <summary>Readings, widths and values smaller than this count as this large where a share of them is meant.</summary>
    private const double LeastSize = 1e-3;

    /// <summary>A reading that changes by less than this share of itself is not moved.</summary>
    private const double Stirs = 1e-10;

    /// <summary>A bracket this narrow, as a share of where it is, has one number in it; Brent (1973), section 4.</summary>
    private const double Grain = 1e-14;

    /// <summary>A region of trust smaller than this share of the ranges finds nothing new.</summary>
    private const double LeastTrust = 1e-10;

    /// <summary>How narrow, as a share of the range, a least or most is bracketed: it is flat there, nearer cannot be told from
    /// rounding.</summary>
    private const double FlatTo = 1e-7;

    /// <summary>The smallest region of trust in the search for a least or most, as a share of the ranges.</summary>
    private const double LeastStep = 1e-6;

    /// <summary>The most times a part is built.</summary>
    private const int MostTries = 160;

    /// <summary>A goal is met to this share of itself.</summary>
    private const double MetTo = 1e-9;

    /// <summary>How far a slope is taken over, as a share of a parameter's span.</summary>
    private const double Stride = 1e-4;

    private readonly List<AimTry> tries = [];
    private readonly double[] from = [.. knobs.Select(k => k.Value.Value)];
    private (double[] At, double Reading)? best;
    private Func<double, double> worth = _ => 0;

    private bool Over => cancel.IsCancellationRequested || tries.Count >= MostTries;

    public Outcome<AimAnswer> Run(AimGoal goal, double? value, Part part)
    {
        var now = At(from);
        if (now is not { } was)
        {
            return new Refusal("aim.failing", $"{asked.Step.Name} reads nothing now: {tries[^1].Why}", "reading");
        }

        if (goal == AimGoal.Limits)
        {
            var (least, most) = asked.Limits;
            if (least is null && most is null)
            {
                return new Refusal("aim.limits", $"{asked.Step.Name} has no limits: give it some, or a value to reach.", "goal");
            }

            value =
                was < least ? least
                : was > most ? most
                : null;
            if (value is null)
            {
                return Answer(goal, was, was, part);
            }

            // A hair inside, so that it holds however it is worked out again.
            var width = least is { } l && most is { } m ? m - l : Math.Abs(value.Value);
            value += (was < least ? 1 : -1) * Beyond * width;
        }

        worth = goal switch
        {
            AimGoal.Least => r => r,
            AimGoal.Most => r => -r,
            _ => r => Math.Abs(r - value!.Value),
        };
        best = (from, was);
        if (!(value is { } there && IsMet(was, there)))
        {
            if (!Moves(was))
            {
                return Over
                    ? new Refusal("ask.stopped", "It was stopped.")
                    : new Refusal(
                        "aim.still",
                        $"{string.Join(", ", knobs.Select(k => k.Words))}: turning this does not move {asked.Step.Name}.",
                        "by"
                    );
            }

            if (value is { } to)
            {
                if (knobs.Length == 1)
                {
                    Bracket(to, was);
                }
                else
                {
                    Approach(to);
                }
            }
            else if (knobs.Length == 1)
            {
                Lowest();
            }
            else
            {
                Descend();
            }

            Snap();
        }

        return Answer(goal, value, was, part);
    }

    private static bool IsMet(double reading, double goal) => Math.Abs(reading - goal) <= MetTo * Math.Max(LeastSize, Math.Abs(goal));

    /// <summary>What it reads there, kept as a try; null where the part cannot be built.</summary>
    private double? At(double[] at)
    {
        var part = asked.Part;
        at = [.. at.Select((v, i) => knobs[i].Stride is not null && IsOn(knobs[i], v) ? knobs[i].Snapped(v) : v)];
        for (var i = 0; i < knobs.Length; i++)
        {
            part = at[i] == knobs[i].Value.Value ? part : knobs[i].At(part, at[i]);
        }

        var read = asked.In(builders.Build(part));
        tries.Add(new AimTry([.. at], read.Done ? read.Value : null, read.Refusal?.Message));
        progress?.Report(Math.Min(0.99, tries.Count / 40.0));
        if (read.Done && best is { } b && worth(read.Value) < worth(b.Reading) && OnStride(at))
        {
            best = (at, read.Value);
        }

        return read.Done ? read.Value : null;
    }

    private bool OnStride(double[] at) => !at.Where((v, i) => knobs[i].Stride is not null && !IsOn(knobs[i], v)).Any();

    private static bool IsOn(Knob knob, double value) =>
        Math.Abs(knob.Snapped(value) - value) <= Tolerances.Rounding * Math.Max(1, Math.Abs(value));

    private double Span(int i) => knobs[i].Span is var (least, most) ? most - least : 0;

    private double[] With(double[] at, int i, double value)
    {
        var next = (double[])at.Clone();
        next[i] = Math.Clamp(value, knobs[i].Span.Least, knobs[i].Span.Most);
        return next;
    }

    /// <summary>The slope to one, by a small step to the side that there is.</summary>
    private double? Slope(double[] at, int i, double reading)
    {
        var step = knobs[i].Stride ?? (Stride * Math.Max(Math.Abs(at[i]), LeastSize * Span(i)));
        foreach (var side in new[] { step, -step })
        {
            var there = With(at, i, at[i] + side);
            if (there[i] != at[i] && At(there) is { } r)
            {
                return (r - reading) / (there[i] - at[i]);
            }
        }

        return null;
    }

    /// <summary>Whether anything moves it, by a small step or by a large one.</summary>
    private bool Moves(double was)
    {
        for (var i = 0; i < knobs.Length && !Over; i++)
        {
            var (least, most) = knobs[i].Span;
            foreach (var at in new[] { from[i] + (0.05 * (most - from[i])), from[i] - (0.05 * (from[i] - least)), most, least })
            {
                if (At(With(from, i, at)) is { } r && Math.Abs(r - was) > Stirs * Math.Max(LeastSize, Math.Abs(was)))
                {
                    return true;
                }
            }
        }

        return false;
    }

    private bool Reached(double goal) => best is { } b && IsMet(b.Reading, goal);

    /// <summary>What goes by a stride ends on it: the corners about the best place that was found.</summary>
    private void Snap()
    {
        if (knobs.All(k => k.Stride is null))
        {
            return;
        }

        var near = tries.Where(t => t.Reading is not null).MinBy(t => worth(t.Reading!.Value))!.At;
        var corners = new List<double[]> { near.ToArray() };
        for (var i = 0; i < knobs.Length; i++)
        {
            if (knobs[i].Stride is not { } stride)
            {
                continue;
            }

            var knob = knobs[i];
            var (below, above) = (knob.Snapped(near[i] - (stride / 2)), knob.Snapped(near[i] + (stride / 2)));
            corners = [.. corners.SelectMany(c => new[] { below, above }.Distinct().Select(v => With(c, i, v)))];
        }

        foreach (var corner in corners.TakeWhile(_ => !cancel.IsCancellationRequested))
        {
            At(corner);
        }
    }

    private AimAnswer Answer(AimGoal goal, double? value, double was, Part part)
    {
        progress?.Report(1);
        var ((at, reading), measure) = (best ?? (from, was), Measure.Of(asked.Kind, part.Units));
        var rounded = knobs.Select((k, i) => k.Stride is null ? Rounded(at[i]) : at[i]).ToArray();
        if (!rounded.SequenceEqual(at) && At(rounded) is { } r && (value is not { } g || IsMet(r, g) || worth(r) <= worth(reading)))
        {
            (at, reading) = (rounded, r);
        }

        var (least, most) = asked.Limits;
        var met = goal switch
        {
            AimGoal.Value => IsMet(reading, value!.Value),
            AimGoal.Limits => !(reading < least) && !(reading > most),
            _ => tries.Count < MostTries && !cancel.IsCancellationRequested,
        };
        var stops = knobs.Select((k, i) => (Knob: k, At: at[i])).Where(k => k.At == k.Knob.Span.Least || k.At == k.Knob.Span.Most).ToList();
        string Range(Knob k) =>
            Measure.Of(k.Value.Dimension, part.Units) is var m
                ? $"{k.Words} from {m.Show(k.Span.Least)} to {m.Show(k.Span.Most)}{(k.Ranged ? "" : ", a range that nobody gave")}"
                : "";
        var failed = tries.LastOrDefault(t => t.Why is not null);
        var said =
            met && goal is AimGoal.Value or AimGoal.Limits ? $"{asked.Step.Name} reads {measure.Show(reading)}."
            : goal is AimGoal.Least or AimGoal.Most && met
                ? $"{asked.Step.Name} reads {measure.Show(reading)} at "
                    + $"{(goal == AimGoal.Least ? "least" : "most")}, over {string.Join("; ", knobs.Select(Range))}."
            : cancel.IsCancellationRequested ? $"It was stopped; the nearest so far is {measure.Show(reading)}."
            : $"Out of reach: the nearest is {measure.Show(reading)}, over {string.Join("; ", knobs.Select(Range))}."
                + (
                    stops.Count > 0 ? $" {string.Join(", ", stops.Select(s => s.Knob.Words))} stands at its end."
                    : failed is not null ? $" Beyond, the part cannot be built: {failed.Why}"
                    : knobs.Any(k => k.Stride is not null) ? " Between the values that its stride allows there is no nearer one."
                    : ""
                );
        return new AimAnswer(
            asked.Step.Name,
            measure,
            was,
            reading,
            goal is AimGoal.Value or AimGoal.Limits ? value : null,
            met,
            said,
            [.. knobs.Select((k, i) => new AimedKnob(k, Measure.Of(k.Value.Dimension, part.Units), at[i], k.Text(at[i])))],
            [.. tries]
        );
    }

    /// <summary>To twelve digits: what is finer nobody types or makes.</summary>
    private static double Rounded(double value) =>
        double.Parse(
            value.ToString("G12", System.Globalization.CultureInfo.InvariantCulture),
            System.Globalization.CultureInfo.InvariantCulture
        );

    private static double Square(double x) => x * x;
}
