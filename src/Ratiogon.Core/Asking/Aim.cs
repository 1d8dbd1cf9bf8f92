using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>Where a reading is to be brought.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<AimGoal>))]
public enum AimGoal
{
    /// <summary>To a value.</summary>
    [JsonStringEnumMemberName("value")]
    Value,

    /// <summary>Into its limits.</summary>
    [JsonStringEnumMemberName("limits")]
    Limits,

    /// <summary>As low as it goes.</summary>
    [JsonStringEnumMemberName("least")]
    Least,

    /// <summary>As high as it goes.</summary>
    [JsonStringEnumMemberName("most")]
    Most,
}

/// <summary>One try.</summary>
/// <param name="At">What the parameters were, in their order.</param>
/// <param name="Reading">What it read; null where the part could not be built.</param>
/// <param name="Why">Why it could not.</param>
public sealed record AimTry(ImmutableArray<double> At, double? Reading, string? Why);

/// <summary>What a parameter or size is turned to.</summary>
/// <param name="Knob">Which.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="To">The value that was found.</param>
/// <param name="Text">The same as a formula.</param>
public sealed record AimedKnob(Knob Knob, Measure Measure, double To, string Text);

/// <summary>What an aim came to.</summary>
/// <param name="Reading">Its name.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="Was">Before.</param>
/// <param name="Reached">With the values found: the nearest there is, where the goal is out of reach.</param>
/// <param name="Goal">The value that was to be reached; null for least and most.</param>
/// <param name="Met">Whether it was.</param>
/// <param name="Said">In words: what was reached, or what stops it.</param>
/// <param name="Knobs">What to turn to what.</param>
/// <param name="Tries">All tries in order.</param>
[Kind("aim")]
public sealed record AimAnswer(
    string Reading,
    Measure Measure,
    double Was,
    double Reached,
    double? Goal,
    bool Met,
    string Said,
    ImmutableArray<AimedKnob> Knobs,
    ImmutableArray<AimTry> Tries
) : Answer;

/// <summary>
/// Brings a reading to a goal. One parameter by bracketing and Brent's method (Brent, Algorithms for Minimization without Derivatives,
/// 1973, chapters 4 and 5), several by steps along the slopes within a trust region and the ranges; what goes by a stride ends on it.
/// </summary>
public static class AimOf
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

    /// <summary>How narrow, as a share of the range, a least or most is bracketed: it is flat there, nearer cannot be told from rounding.</summary>
    private const double FlatTo = 1e-7;

    /// <summary>The smallest region of trust in the search for a least or most, as a share of the ranges.</summary>
    private const double LeastStep = 1e-6;

    /// <summary>The most parameters that are turned at once.</summary>
    public const int MostKnobs = 6;

    /// <summary>The most times a part is built.</summary>
    private const int MostTries = 160;

    /// <summary>A goal is met to this share of itself.</summary>
    private const double MetTo = 1e-9;

    /// <summary>How far a slope is taken over, as a share of a parameter's span.</summary>
    private const double Stride = 1e-4;

    public static Outcome<AimAnswer> Of(
        Part part,
        AimQuestion question,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(question);
        ArgumentNullException.ThrowIfNull(builders);
        var found = AskedReading.Of(part, question.Reading, builders.Build);
        if (!found.Done)
        {
            return found.Refusal!;
        }

        if (question.By.IsDefaultOrEmpty || question.By.Length > MostKnobs)
        {
            return new Refusal("aim.by", $"Choose from one to {MostKnobs} parameters or sizes to turn.", "by");
        }

        var knobs = new List<Knob>();
        foreach (var name in question.By)
        {
            var knob = Knob.Find(part, name);
            if (!knob.Done)
            {
                return knob.Refusal!;
            }

            if (knobs.Contains(knob.Value))
            {
                return new Refusal("aim.by", $"{knob.Value.Words} is named twice.", "by");
            }

            knobs.Add(knob.Value);
        }

        var goal = question.Goal == AimGoal.Value ? GoalOf(question, found.Value, part).Map(double? (v) => v) : (double?)null;
        return goal.Then(value => new Search(found.Value, [.. knobs], builders, progress, cancel).Run(question.Goal, value, part));
    }

    private static Outcome<double> GoalOf(AimQuestion question, AskedReading asked, Part part)
    {
        var formula = Formula.ForField(question.Value ?? "", asked.Kind, part.Units, part.Values.Of);
        var value = formula.Then(f => f.Evaluate(part.Values.Of));
        return !value.Done ? value.Refusal! with { Where = "value" }
            : value.Value.Dimension != asked.Kind
            && !(value.Value.Dimension == Dimension.None && Units.Default(asked.Kind, part.Units) is null)
                ? new Refusal("aim.kind", $"{asked.Step.Name} is {asked.Kind.Words}, not {value.Value.Dimension.Words}.", "value")
            : value.Value.Value;
    }

    private sealed class Search(AskedReading asked, Knob[] knobs, Builders builders, IProgress<double>? progress, CancellationToken cancel)
    {
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

        /// <summary>Looks outwards for a change of side, then closes in on it.</summary>
        private void Bracket(double goal, double was)
        {
            var (least, most) = knobs[0].Span;
            (double X, double Y) start = (from[0], was - goal);
            var found = new List<((double X, double Y) A, (double X, double Y) B)>();
            foreach (var end in new[] { most, least })
            {
                var (last, share) = (start, 0.02);
                var good = true;
                while (good && !Over && last.X != end)
                {
                    var x = share >= 1 ? end : start.X + (share * (end - start.X));
                    if (At([x]) is { } r)
                    {
                        if (Math.Sign(r - goal) != Math.Sign(start.Y))
                        {
                            found.Add((last, (x, r - goal)));
                            break;
                        }

                        (last, share) = ((x, r - goal), share * 2);
                    }
                    else
                    {
                        // It cannot be built there: how far it can, and whether the goal lies before that.
                        var (built, broken) = (last, x);
                        for (var n = 0; n < 12 && !Over; n++)
                        {
                            var middle = (built.X + broken) / 2;
                            if (At([middle]) is not { } y)
                            {
                                broken = middle;
                            }
                            else if (Math.Sign(y - goal) != Math.Sign(start.Y))
                            {
                                found.Add((built, (middle, y - goal)));
                                break;
                            }
                            else
                            {
                                built = (middle, y - goal);
                            }
                        }

                        good = false;
                    }
                }
            }

            // The nearer of two.
            if (found.OrderBy(f => Math.Min(Math.Abs(f.A.X - from[0]), Math.Abs(f.B.X - from[0]))).FirstOrDefault() is var (a, b) && a != b)
            {
                Brent(goal, a, b);
            }
        }

        /// <summary>Brent's root search between two places of different sign.</summary>
        private void Brent(double goal, (double X, double Y) a, (double X, double Y) b)
        {
            var c = a;
            var (d, e) = (b.X - a.X, b.X - a.X);
            while (!Over)
            {
                if (Math.Abs(c.Y) < Math.Abs(b.Y))
                {
                    (a, b, c) = (b, c, b);
                }

                var (tolerance, middle) = (4 * double.Epsilon + (Grain * Math.Abs(b.X)), (c.X - b.X) / 2);
                if (Math.Abs(middle) <= tolerance || IsMet(b.Y + goal, goal))
                {
                    return;
                }

                if (Math.Abs(e) >= tolerance && Math.Abs(a.Y) > Math.Abs(b.Y))
                {
                    // By the secant, or through three places.
                    var s = b.Y / a.Y;
                    double p,
                        q;
                    if (a.X == c.X)
                    {
                        (p, q) = (2 * middle * s, 1 - s);
                    }
                    else
                    {
                        var (t, r) = (a.Y / c.Y, b.Y / c.Y);
                        p = s * ((2 * middle * t * (t - r)) - ((b.X - a.X) * (r - 1)));
                        q = (t - 1) * (r - 1) * (s - 1);
                    }

                    q = p > 0 ? -q : q;
                    p = Math.Abs(p);
                    (e, d) = 2 * p < Math.Min((3 * middle * q) - Math.Abs(tolerance * q), Math.Abs(e * q)) ? (d, p / q) : (middle, middle);
                }
                else
                {
                    (d, e) = (middle, middle);
                }

                a = b;
                var x = b.X + (Math.Abs(d) > tolerance ? d : Math.CopySign(tolerance, middle));
                if (At([x]) is not { } y)
                {
                    return;
                }

                b = (x, y - goal);
                if (Math.Sign(b.Y) == Math.Sign(c.Y))
                {
                    (c, d) = (a, b.X - a.X);
                    e = d;
                }
            }
        }

        /// <summary>Several at once: the least turn, each in proportion to its span, that the slopes say is needed.</summary>
        private void Approach(double goal)
        {
            var (at, reading, trust) = (best!.Value.At, best.Value.Reading, 0.25);
            while (!Over && trust > LeastTrust && !IsMet(reading, goal))
            {
                var slopes = Slopes(at, reading);
                if (Reached(goal))
                {
                    return;
                }

                var next = Turned(at, slopes, goal - reading, trust);
                if (next is null)
                {
                    return;
                }

                if (At(next) is { } r && Math.Abs(r - goal) < Math.Abs(reading - goal))
                {
                    (at, reading, trust) = (next, r, Math.Min(0.5, trust * 2));
                }
                else
                {
                    trust /= 4;
                }
            }
        }

        private bool Reached(double goal) => best is { } b && IsMet(b.Reading, goal);

        private double[] Slopes(double[] at, double reading) => [.. knobs.Select((_, i) => Slope(at, i, reading) ?? 0)];

        /// <summary>The turn that changes the reading by so much by the slopes, within ranges and trust; null where nothing is left to
        /// turn.</summary>
        private double[]? Turned(double[] at, double[] slopes, double wanted, double trust)
        {
            var free = Enumerable.Range(0, knobs.Length).Where(i => slopes[i] != 0).ToHashSet();
            var next = (double[])at.Clone();
            while (free.Count > 0)
            {
                var weight = free.Sum(i => Square(slopes[i] * Span(i)));
                var left = wanted - Enumerable.Range(0, knobs.Length).Where(i => !free.Contains(i)).Sum(i => slopes[i] * (next[i] - at[i]));
                var stopped = false;
                foreach (var i in free.ToList())
                {
                    var turn = left * slopes[i] * Square(Span(i)) / weight;
                    var bounded = Math.Clamp(turn, -trust * Span(i), trust * Span(i));
                    next[i] = Math.Clamp(at[i] + bounded, knobs[i].Span.Least, knobs[i].Span.Most);
                    if (next[i] != at[i] + turn && Math.Abs(next[i] - at[i]) < Math.Abs(turn) * (1 - Tolerances.Rounding))
                    {
                        free.Remove(i);
                        stopped = true;
                    }
                }

                if (!stopped)
                {
                    break;
                }
            }

            return next.SequenceEqual(at) ? null : next;
        }

        /// <summary>The lowest worth over one range: a look at the whole of it, then golden sections about the best.</summary>
        private void Lowest()
        {
            const int Looks = 12;
            var (least, most) = knobs[0].Span;
            var seen = new List<(double X, double Y)> { (from[0], worth(best!.Value.Reading)) };
            for (var i = 0; i <= Looks && !Over; i++)
            {
                var x = least + ((most - least) * i / Looks);
                seen.Add((x, At([x]) is { } r ? worth(r) : double.PositiveInfinity));
            }

            var sorted = seen.OrderBy(s => s.X).ToList();
            var low = sorted.IndexOf(sorted.MinBy(s => s.Y));
            var (a, b) = (sorted[Math.Max(0, low - 1)].X, sorted[Math.Min(sorted.Count - 1, low + 1)].X);
            var golden = (Math.Sqrt(5) - 1) / 2;
            double Y(double x) => At([x]) is { } r ? worth(r) : double.PositiveInfinity;
            var (c, d) = (b - (golden * (b - a)), a + (golden * (b - a)));
            var (yc, yd) = (Y(c), Y(d));
            while (!Over && b - a > FlatTo * Math.Max(LeastSize, most - least))
            {
                if (yc < yd)
                {
                    (b, d, yd) = (d, c, yc);
                    c = b - (golden * (b - a));
                    yc = Y(c);
                }
                else
                {
                    (a, c, yc) = (c, d, yd);
                    d = a + (golden * (b - a));
                    yd = Y(d);
                }
            }
        }

        /// <summary>Several at once down the slopes, as far as it goes on falling.</summary>
        private void Descend()
        {
            var (at, reading, trust) = (best!.Value.At, best.Value.Reading, 0.25);
            while (!Over && trust > LeastStep)
            {
                var slopes = Slopes(at, reading);
                var sign = worth(1) > worth(0) ? -1 : 1;
                var length = Math.Sqrt(slopes.Select((s, i) => Square(s * Span(i))).Sum());
                if (length == 0)
                {
                    return;
                }

                var next = at.Select(
                        (v, i) =>
                            Math.Clamp(v + (sign * trust * slopes[i] * Square(Span(i)) / length), knobs[i].Span.Least, knobs[i].Span.Most)
                    )
                    .ToArray();
                if (next.SequenceEqual(at))
                {
                    return;
                }

                if (At(next) is { } r && worth(r) < worth(reading))
                {
                    (at, reading, trust) = (next, r, Math.Min(0.5, trust * 2));
                }
                else
                {
                    trust /= 4;
                }
            }
        }

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
            var stops = knobs
                .Select((k, i) => (Knob: k, At: at[i]))
                .Where(k => k.At == k.Knob.Span.Least || k.At == k.Knob.Span.Most)
                .ToList();
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
}
