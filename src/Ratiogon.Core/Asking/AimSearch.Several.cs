using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>The search by several parameters: steps along their slopes within a region of trust.</summary>
internal sealed partial class AimSearch
{
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
                    (v, i) => Math.Clamp(v + (sign * trust * slopes[i] * Square(Span(i)) / length), knobs[i].Span.Least, knobs[i].Span.Most)
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

    private double[] Slopes(double[] at, double reading) => [.. knobs.Select((_, i) => Slope(at, i, reading) ?? 0)];
}
