using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Asking;

/// <summary>A slope of a reading, and how far it may be off, in the reading's unit per mm, rad or 1.</summary>
/// <param name="Slope">Itself.</param>
/// <param name="Error">How far it may be off.</param>
internal readonly record struct KnownSlope(double Slope, double Error);

/// <summary>
/// Slopes of readings that stand on sketches, datums and curves alone, without solving anything again: the reading is differentiated
/// over the places of the few entities that it hangs on, through datums that are built as they are, with the sketches held; the rest
/// is <see cref="SketchSlopes"/>. What comes of it is held against one true rebuild with everything moved a little, and not used where
/// that says otherwise.
/// </summary>
internal static class AnalyticSlopes
{
    /// <summary>Strides as shares of a sketch's extent or of a value, the largest first; the one with the least error counts.</summary>
    private static readonly double[] Strides = [4e-3, 1e-4];

    /// <summary>What a value of nothing is moved in proportion to, in mm or radians.</summary>
    private const double LeastScale = 1e-2;

    /// <summary>A reading of places that are held is known to this share of itself.</summary>
    private const double Noise = 4e-15;

    /// <summary>The part with its sketches held reads what the part reads, to this share.</summary>
    private const double Held = 1e-9;

    /// <summary>What all is moved by to hold the slopes against a rebuild, as a share.</summary>
    private const double TrialStride = 1e-6;

    /// <summary>What the trial may differ by, as a share of what the slopes make of it.</summary>
    private const double TrialShare = 2e-3;

    /// <summary>A rebuild reads no more exactly than this share of what it reads.</summary>
    private const double TrialNoise = 1e-9;

    /// <summary>A slope is known no better than to this share of the terms it is made of.</summary>
    private const double Rounding = 1e-12;

    /// <summary>With an error of less than this share no other stride is tried.</summary>
    private const double GoodEnough = 1e-11;

    /// <summary>An error of more than this share of the largest slope is no derivative: there is a kink, or a jump.</summary>
    private const double NoDerivative = 1e-5;

    /// <param name="asked">What is asked about.</param>
    /// <param name="now">What it reads.</param>
    /// <param name="knobs">What may be turned.</param>
    /// <param name="build">Builds a part.</param>
    /// <returns>Slopes of those knobs that can be followed, nothing among them for what does not move the reading; null where none
    /// can.</returns>
    public static IReadOnlyDictionary<Knob, KnownSlope>? Of(
        AskedReading asked,
        double now,
        IReadOnlyList<Knob> knobs,
        Func<Part, RebuildResult> build
    )
    {
        if (
            !asked.Flat
            || asked.Part.Steps.Any(s =>
                s is SketchStep { Copies.IsEmpty: false } or SketchStep { Like: not null }
                || (s is Gauging.ReadingStep && s.Id != asked.Step.Id)
            )
        )
        {
            return null;
        }

        var sketches = new List<HeldSketch>();
        var loose = asked.Part;
        foreach (var step in asked.Part.Steps.OfType<SketchStep>())
        {
            if (HeldSketch.Of(asked.Part, step) is not { } held)
            {
                return null;
            }

            sketches.Add(held);
            loose = loose.With(held.Step);
        }

        double? Read(Part part) => asked.In(build(part)) is { Done: true } read ? read.Value : null;
        var scale = Math.Max(Math.Abs(now), LeastScale);
        if (Read(loose) is not { } stands || Math.Abs(stands - now) > Held * scale)
        {
            return null;
        }

        var slopes = new Dictionary<Knob, KnownSlope>();
        foreach (var sketch in sketches)
        {
            if (!sketch.Differentiate(by => Read(loose.With(by))))
            {
                return null;
            }
        }

        foreach (var knob in knobs.Where(k => !Knob.IsCount(k.Value)))
        {
            if (Slope(asked.Part, loose, knob, sketches, Read) is { } slope)
            {
                slopes[knob] = slope;
            }
        }

        return slopes.Count > 0 && Holds(asked, now, slopes, Read) ? slopes : null;
    }

    /// <summary>By way of what is not drawn, with the sketches held, and by way of each sketch.</summary>
    private static KnownSlope? Slope(Part part, Part loose, Knob knob, List<HeldSketch> sketches, Func<Part, double?> read)
    {
        var value = knob.Value.Value;
        var scale = Math.Max(Math.Abs(value), LeastScale);
        var (slope, error) = (0.0, 0.0);
        var drawn = sketches.Find(s => s.Step.Id == knob.Step && s.Sizes.ContainsKey(knob.Name));
        if (drawn is null)
        {
            if (Derivative(at => read(knob.At(loose, value + at)), scale) is not { } beside)
            {
                return null;
            }

            (slope, error) = (beside.Slope, beside.Error);
        }

        foreach (var sketch in sketches)
        {
            if (
                (
                    drawn is null ? sketch.Rates(part, knob, scale)
                    : drawn == sketch ? Alone(knob.Name)
                    : []
                )
                is not { } rates
            )
            {
                return null;
            }

            if (rates.Count > 0)
            {
                if (sketch.Slope(rates) is not { } through)
                {
                    return null;
                }

                (slope, error) = (slope + through.Slope, error + through.Error);
            }
        }

        return new KnownSlope(slope, error);
    }

    private static Dictionary<string, double> Alone(string size) => new(StringComparer.Ordinal) { [size] = 1 };

    /// <summary>Moves everything at once, up and down in turns, and asks the rebuild.</summary>
    private static bool Holds(AskedReading asked, double now, Dictionary<Knob, KnownSlope> slopes, Func<Part, double?> read)
    {
        var (part, foreseen, amount) = (asked.Part, 0.0, 0.0);
        var sign = 1;
        foreach (var (knob, slope) in slopes.Where(s => s.Value.Slope != 0))
        {
            var by = sign * TrialStride * Math.Max(Math.Abs(knob.Value.Value), LeastScale);
            part = knob.At(part, knob.Value.Value + by);
            (foreseen, amount, sign) = (foreseen + (slope.Slope * by), amount + Math.Abs(slope.Slope * by), -sign);
        }

        return read(part) is { } then
            && Math.Abs(then - now - foreseen) <= (TrialShare * amount) + (TrialNoise * Math.Max(Math.Abs(now), LeastScale));
    }

    /// <summary>A derivative at 0 from differences at three strides, extrapolated twice (Richardson); null where there is none.</summary>
    /// <param name="of">The function, of how far to go.</param>
    /// <param name="scale">What strides are shares of.</param>
    internal static KnownSlope? Derivative(Func<double, double?> of, double scale)
    {
        if (of(0) is not { } middle)
        {
            return null;
        }

        KnownSlope? best = null;
        Span<double> central = stackalloc double[3];
        Span<double> bend = stackalloc double[3];
        foreach (var share in Strides)
        {
            var (stride, most) = (share * scale, 0.0);
            for (var i = 0; i < central.Length; i++, stride /= 2)
            {
                if (of(stride) is not { } up || of(-stride) is not { } down)
                {
                    return null;
                }

                if (i == 0 && up == middle && down == middle)
                {
                    return new KnownSlope(0, 0);
                }

                central[i] = (up - down) / (2 * stride);
                bend[i] = Math.Abs(up + down - (2 * middle)) / stride;
                most = Math.Max(most, Math.Max(Math.Abs(up), Math.Abs(down)));
            }

            // Of a smooth function the bend falls by half with the stride; at a kink it stays.
            var rounding = 4 * Noise * most / stride;
            if (bend[2] > (0.75 * bend[0]) + rounding && bend[2] > (NoDerivative * Math.Abs(central[2])) + rounding)
            {
                continue;
            }

            var (first, second) = (((4 * central[1]) - central[0]) / 3, ((4 * central[2]) - central[1]) / 3);
            var slope = ((16 * second) - first) / 15;
            var error = Math.Abs(slope - second) + rounding;
            if (best is null || error < best.Value.Error)
            {
                best = new KnownSlope(slope, error);
                if (error <= GoodEnough * Math.Abs(slope))
                {
                    break;
                }
            }
        }

        return best;
    }

    /// <summary>A sketch of the part, solved, and the same without its rules.</summary>
    private sealed class HeldSketch
    {
        private readonly Sketch solved;
        private readonly SketchSlopes slopes;
        private readonly IReadOnlyList<SketchEntity> involved;
        private readonly double extent;
        private IReadOnlyDictionary<string, SizeSlope> bySize = new Dictionary<string, SizeSlope>();
        private double doubt;

        private HeldSketch(
            SketchStep step,
            Sketch solved,
            SketchSlopes slopes,
            IReadOnlyDictionary<string, double> sizes,
            IReadOnlyList<SketchEntity> involved
        )
        {
            (this.solved, this.slopes, Sizes, this.involved) = (solved, slopes, sizes, involved);
            var needed = involved.SelectMany(e => e.Points.Append(e.Id)).ToHashSet(StringComparer.Ordinal);
            Step = step with { Sketch = new Sketch { Entities = [.. solved.Entities.Where(e => needed.Contains(e.Id))] } };
            var points = solved.Entities.OfType<PointEntity>().SelectMany(p => new[] { Math.Abs(p.At.X), Math.Abs(p.At.Y) });
            extent = points.Append(LeastScale).Max();
        }

        /// <summary>The step with nothing in its sketch but what is referred to, and nothing that would be solved.</summary>
        public SketchStep Step { get; }

        /// <summary>The driving sizes by id.</summary>
        public IReadOnlyDictionary<string, double> Sizes { get; }

        public static HeldSketch? Of(Part part, SketchStep step)
        {
            if (
                SketchEditor.Solved(step.Sketch, part.Values) is not { Done: true, Value: var solved }
                || SketchValues.Of(solved, part.Values) is not { Done: true, Value: var sizes }
                || SketchSlopes.Of(solved, sizes) is not { } slopes
                || Involved(part, step, solved) is not { } involved
            )
            {
                return null;
            }

            return new HeldSketch(step, solved, slopes, sizes, involved);
        }

        /// <summary>Takes the reading's gradient over what it hangs on here, and what that makes for each size.</summary>
        public bool Differentiate(Func<SketchStep, double?> read)
        {
            var (gradient, largest) = (new Dictionary<int, double>(), 0.0);
            foreach (var raw in involved.SelectMany(slopes.UnknownsOf).Distinct())
            {
                if (Derivative(by => read(Step with { Sketch = slopes.Moved(Step.Sketch, raw, by) }), extent) is not { } partial)
                {
                    return false;
                }

                gradient[raw] = partial.Slope;
                (largest, doubt) = (Math.Max(largest, Math.Abs(partial.Slope)), Math.Max(doubt, partial.Error));
            }

            if (largest == 0)
            {
                return true;
            }

            doubt /= largest;
            if (doubt > NoDerivative || slopes.Of(gradient) is not { } found)
            {
                return false;
            }

            bySize = found;
            return true;
        }

        /// <summary>How fast the sizes here go with a knob: none where they stay; null where that cannot be said.</summary>
        public Dictionary<string, double>? Rates(Part part, Knob knob, double scale)
        {
            var rates = new Dictionary<string, double>(StringComparer.Ordinal);
            var met = new Dictionary<double, IReadOnlyDictionary<string, double>?> { [0] = Sizes };
            IReadOnlyDictionary<string, double>? All(double by) =>
                met.TryGetValue(by, out var known)
                    ? known
                    : met[by] = SketchValues.Of(solved, knob.At(part, knob.Value.Value + by).Values) is { Done: true } moved
                        ? moved.Value
                        : null;
            foreach (var size in Sizes.Keys)
            {
                double? At(double by) => All(by)?[size];

                if (Derivative(At, scale) is not { } rate)
                {
                    return null;
                }

                if (rate.Slope != 0)
                {
                    rates[size] = rate.Slope;
                }
            }

            return rates;
        }

        /// <summary>What the reading grows by when sizes go at these rates; null where they cannot without tearing something.</summary>
        public KnownSlope? Slope(IReadOnlyDictionary<string, double> rates)
        {
            if (!slopes.Allows(rates))
            {
                return null;
            }

            var (sum, amount) = (0.0, 0.0);
            foreach (var (size, rate) in rates)
            {
                if (bySize.TryGetValue(size, out var by))
                {
                    (sum, amount) = (sum + (by.Slope * rate), amount + (by.Amount * Math.Abs(rate)));
                }
            }

            var known = (doubt + Rounding) * amount;
            return new KnownSlope(Math.Abs(sum) <= known ? 0 : sum, known);
        }

        /// <summary>The entities here that anything refers to; null where one is of a kind whose shape is more than its points.</summary>
        private static List<SketchEntity>? Involved(Part part, SketchStep step, Sketch solved)
        {
            var names = part
                .Steps.SelectMany(s => s.References)
                .SelectMany(Kernel.World.Single)
                .Where(r => Kernel.World.StepOf(r) == step.Id)
                .Select(r => r.Length > step.Id.Length ? r[(step.Id.Length + 1)..] : "");
            var involved = new List<SketchEntity>();
            foreach (var name in names)
            {
                if (solved.Find(name) is { } entity)
                {
                    involved.Add(entity);
                }
                else
                {
                    involved.AddRange(solved.Entities);
                }
            }

            return involved.Exists(e => e is SplineEntity or EllipticEntity) ? null : involved;
        }
    }
}
