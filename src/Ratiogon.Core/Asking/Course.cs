using System.Collections.Immutable;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>What a reading reads over the range of one parameter.</summary>
/// <param name="Reading">Its name.</param>
/// <param name="Measure">How its values are shown.</param>
/// <param name="Knob">What is turned.</param>
/// <param name="By">How that is shown.</param>
/// <param name="Least">The reading's limit.</param>
/// <param name="Most">The reading's limit.</param>
/// <param name="Points">In order of what is turned; without a reading where the part cannot be built.</param>
[Kind("course")]
public sealed record CourseAnswer(
    string Reading,
    Measure Measure,
    Knob Knob,
    Measure By,
    double? Least,
    double? Most,
    ImmutableArray<AimTry> Points
) : Answer;

/// <summary>A plot of a reading over one parameter: a few builds evenly, more where it bends or breaks.</summary>
public static class CourseOf
{
    private const int First = 9,
        MostPoints = 41;

    /// <summary>It bends where the middle of two neighbours misses by more than this share of all it covers.</summary>
    private const double Bend = 5e-3;

    public static Outcome<CourseAnswer> Of(
        Part part,
        CourseQuestion question,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(question);
        ArgumentNullException.ThrowIfNull(builders);
        var found = AskedReading
            .Of(part, question.Reading, builders.Build)
            .Then(a => Knob.Find(part, question.By).Map(k => (Asked: a, Knob: k)));
        if (!found.Done)
        {
            return found.Refusal!;
        }

        var (asked, knob) = found.Value;
        Outcome<double> End(string? text, double otherwise, string where) =>
            string.IsNullOrWhiteSpace(text) ? otherwise
            : Formula
                .ForField(text, knob.Value.Dimension, part.Units, part.Values.Of)
                .Then(f => f.Evaluate(part.Values.Of))
                .Map(q => q.Value)
                is var v
            && v.Done
                ? v
            : v.Refusal! with { Where = where };

        // Without a range, half and one and a half of what it is.
        var (low, high) = knob.Ranged ? knob.Span : Near(knob);
        var ends = End(question.From, low, "from").Then(f => End(question.To, high, "to").Map(t => (From: f, To: t)));
        if (!ends.Done)
        {
            return ends.Refusal!;
        }

        var (from, to) = ends.Value;
        if (!(from < to))
        {
            return new Refusal("course.range", "The range goes upwards: its end is more than its beginning.", "to");
        }

        if (from < knob.Least || to > knob.Most)
        {
            return new Refusal("course.range", $"The range of {knob.Words} does not go so far.", "from");
        }

        var points = new SortedDictionary<double, AimTry>();
        void Take(IReadOnlyList<double> at)
        {
            var taken = new AimTry?[at.Count];
            builders.Run(
                at.Count,
                (i, build) =>
                {
                    var read = asked.In(build(knob.At(asked.Part, at[i])));
                    taken[i] = new AimTry([at[i]], read.Done ? read.Value : null, read.Refusal?.Message);
                },
                cancel
            );
            foreach (var point in taken.OfType<AimTry>())
            {
                points[point.At[0]] = point;
            }

            progress?.Report(Math.Min(0.99, (double)points.Count / MostPoints));
        }

        Take([.. Enumerable.Range(0, First).Select(i => knob.Snapped(from + ((to - from) * i / (First - 1)))).Distinct()]);
        while (points.Count < MostPoints && !cancel.IsCancellationRequested)
        {
            var sorted = points.Values.ToList();
            var read = sorted.Where(p => p.Reading is not null).Select(p => p.Reading!.Value).ToList();
            var all = read.Count > 0 ? read.Max() - read.Min() : 0;
            var between = new SortedSet<double>();
            for (var i = 0; i + 1 < sorted.Count; i++)
            {
                var (a, b) = (sorted[i], sorted[i + 1]);
                var wide = b.At[0] - a.At[0] > (to - from) / 256;
                var breaks = a.Reading is null != b.Reading is null;
                var bends = Bends(sorted, i, all) || Bends(sorted, i - 1, all);
                var middle = knob.Snapped((a.At[0] + b.At[0]) / 2);
                if (wide && (breaks || bends) && !points.ContainsKey(middle))
                {
                    between.Add(middle);
                }
            }

            if (between.Count == 0)
            {
                break;
            }

            Take([.. between.Take(MostPoints - points.Count)]);
        }

        progress?.Report(1);
        var (least, most) = asked.Limits;
        return new CourseAnswer(
            asked.Step.Name,
            Measure.Of(asked.Kind, part.Units),
            knob,
            Measure.Of(knob.Value.Dimension, part.Units),
            least,
            most,
            [.. points.Values]
        );
    }

    private static Bounds Near(Knob knob)
    {
        var reach = knob.Value.Value == 0 ? 1 : Math.Abs(knob.Value.Value) / 2;
        return new Bounds(Math.Max(knob.Floor, knob.Value.Value - reach), Math.Min(knob.Ceiling, knob.Value.Value + reach));
    }

    /// <summary>Whether the place between two neighbours lies off their line.</summary>
    private static bool Bends(List<AimTry> points, int i, double all)
    {
        if (
            i < 0
            || i + 2 >= points.Count
            || points[i].Reading is not { } a
            || points[i + 1].Reading is not { } b
            || points[i + 2].Reading is not { } c
        )
        {
            return false;
        }

        var share = (points[i + 1].At[0] - points[i].At[0]) / (points[i + 2].At[0] - points[i].At[0]);
        return Math.Abs(a + (share * (c - a)) - b) > Bend * all;
    }
}
