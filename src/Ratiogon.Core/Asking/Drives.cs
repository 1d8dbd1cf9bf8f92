using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>A parameter or a size that moves a reading.</summary>
/// <param name="Step">Id of the step that has the size; empty for a parameter.</param>
/// <param name="Name">The parameter's name, or the size's field.</param>
/// <param name="Words">As people call it.</param>
/// <param name="Value">What it is now, in mm, rad or as a number.</param>
/// <param name="Kind">What it measures.</param>
/// <param name="Slope">How much the reading grows for each unit of it: its own unit (mm, rad, g or another) per mm, rad or 1.</param>
/// <param name="Error">How far the slope may be off, same unit.</param>
public sealed record Drive(string Step, string Name, string Words, double Value, Dimension Kind, double Slope, double Error)
{
    /// <summary>Its part of everything that moves the reading, each by the same share of its own value; signed, between -1 and 1.</summary>
    public double Share { get; init; }

    /// <summary>Whether the slope is another one downwards than upwards, as where a smallest distance finds another place.</summary>
    public bool Kink { get; init; }

    /// <summary>The slope downwards, where there is a kink; else as upwards.</summary>
    public double SlopeDown { get; init; }

    /// <summary>Whether it was derived, through the sketches' equations, rather than taken from differences of rebuilds.</summary>
    public bool Exact { get; init; }
}

/// <summary>Something whose slope could not be had, with the reason.</summary>
public sealed record Undriven(string Words, string Why);

/// <summary>What drives a reading.</summary>
/// <param name="Reading">The step's name.</param>
/// <param name="Value">What it reads now, in mm, rad, g, mm² …</param>
/// <param name="Kind">What it measures.</param>
/// <param name="Drives">Everything that moves it, the largest share first.</param>
/// <param name="Left">What could not be tried.</param>
/// <param name="Tried">How many parameters and sizes there are.</param>
public sealed record DrivesAnswer(
    string Reading,
    double Value,
    Dimension Kind,
    ImmutableArray<Drive> Drives,
    ImmutableArray<Undriven> Left,
    int Tried
)
{
    /// <summary>Whether it was stopped before all were tried: what was found until then is there.</summary>
    public bool Stopped { get; init; }
}

/// <summary>
/// Which parameters and sizes move a reading, and by how much. Of readings that stand on sketches and datums the slopes are derived
/// (<see cref="AnalyticSlopes"/>); of all others each is moved a little both ways and the part built again; slopes are
/// central differences at two strides, extrapolated (Richardson), and the difference of the two is the error that is told.
/// </summary>
public static class DrivesOf
{
    /// <summary>A reading smaller than this counts as this large where a share of it is meant.</summary>
    private const double LeastReading = 1e-6;

    /// <summary>Strides as shares of a value, the largest first: the one with the least error counts.</summary>
    private static readonly double[] Strides = [4e-3, 5e-4];

    /// <summary>With an error of less than this share of the slope no other stride is tried.</summary>
    private const double GoodEnough = 1e-6;

    /// <summary>What a length of nothing is moved by, in millimetres (of an angle, in radians).</summary>
    private const double LeastStride = 1e-2;

    /// <summary>A reading is known to this share of itself: solving and building leave no more.</summary>
    private const double Noise = 1e-10;

    /// <summary>Slopes to either side that differ by more than this share, and by more than their errors, are a kink.</summary>
    private const double KinkFrom = 1e-3;

    /// <summary>With one builder.</summary>
    public static Outcome<DrivesAnswer> Of(
        Part part,
        string reading,
        Func<Part, RebuildResult> build,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    ) => Of(part, reading, new Builders([build]), progress, cancel);

    /// <param name="part">The part.</param>
    /// <param name="reading">Id or name of a reading step.</param>
    /// <param name="builders">Build parts side by side; without triangles.</param>
    /// <param name="progress">Told how much is done, from 0 to 1.</param>
    /// <param name="cancel">Stops before the next is tried; what was found until then is answered.</param>
    public static Outcome<DrivesAnswer> Of(
        Part part,
        string reading,
        Builders builders,
        IProgress<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(builders);
        var found = AskedReading.Of(part, reading, builders.Build);
        if (!found.Done)
        {
            return found.Refusal!;
        }

        var (asked, step, kind) = (found.Value, found.Value.Step, found.Value.Kind);
        var read = asked.In(builders.Build(asked.Part));
        if (!read.Done)
        {
            return read.Refusal!;
        }

        var value = read.Value;
        var candidates = Knob.All(asked.Part);
        var known = cancel.IsCancellationRequested ? null : AnalyticSlopes.Of(asked, value, candidates, builders.Build);
        var (tried, done) = (new Outcome<Drive?>?[candidates.Count], 0);
        builders.Run(
            candidates.Count,
            (i, build) =>
            {
                tried[i] =
                    known?.TryGetValue(candidates[i], out var exact) == true
                        ? (exact.Slope == 0 ? null : Known(candidates[i], exact))
                        : Slope(asked, candidates[i], value, build);
                progress?.Report((double)Interlocked.Increment(ref done) / candidates.Count);
            },
            cancel
        );
        var (drives, left) = (new List<Drive>(), new List<Undriven>());
        for (var i = 0; i < tried.Length; i++)
        {
            if (tried[i] is { Done: false, Refusal: { } refusal })
            {
                left.Add(new Undriven(candidates[i].Words, refusal.Message));
            }
            else if (tried[i]?.Value is { } drive)
            {
                drives.Add(drive);
            }
        }

        var stopped = done < candidates.Count;
        progress?.Report(1);
        var whole = drives.Sum(Weight);
        return new DrivesAnswer(
            step.Name,
            value,
            kind,
            [
                .. drives
                    .Select(d => d with { Share = whole > 0 ? Math.Sign(d.Slope) * Weight(d) / whole : 0 })
                    .OrderByDescending(d => Math.Abs(d.Share))
                    .ThenBy(d => d.Words, StringComparer.Ordinal),
            ],
            [.. left],
            candidates.Count
        )
        {
            Stopped = stopped,
        };
    }

    private static Drive Known(Knob of, KnownSlope slope) =>
        new(of.Step, of.Name, of.Words, of.Value.Value, of.Value.Dimension, slope.Slope, slope.Error)
        {
            Exact = true,
            SlopeDown = slope.Slope,
        };

    private static double Weight(Drive drive) => Math.Abs(drive.Slope) * Scale(drive.Value);

    /// <summary>What a value is moved in proportion to; something even where it is nothing.</summary>
    private static double Scale(double value) => Math.Max(Math.Abs(value), LeastStride);

    /// <summary>The slope to one candidate; null where it does not move the reading at all.</summary>
    private static Outcome<Drive?> Slope(AskedReading asked, Knob of, double now, Func<Part, RebuildResult> build)
    {
        Outcome<double> At(double value) => asked.In(build(of.At(asked.Part, value)));

        // A count cannot be moved by a little: it goes one up and one down.
        var value = of.Value.Value;
        var whole = Knob.IsCount(of.Value);
        Tried? best = null;
        Refusal? refused = null;
        foreach (var stride in whole ? [1.0] : Strides.Select(s => s * Scale(value)))
        {
            var tried = whole ? OneEach(At, value, now) : Extrapolated(At, value, now, stride);
            refused ??= tried.Refusal;
            if (tried.Done && (best is null || tried.Value.Error < best.Value.Error))
            {
                best = tried.Value;
                if (tried.Value is { Up: 0, Down: 0 } || (!tried.Value.Kink && tried.Value.Error <= GoodEnough * Math.Abs(tried.Value.Up)))
                {
                    break;
                }
            }
        }

        if (best is not { } slope)
        {
            return refused!;
        }

        return slope is { Up: 0, Down: 0 }
            ? (Drive?)null
            : new Drive(
                of.Step,
                of.Name,
                of.Words,
                value,
                of.Value.Dimension,
                slope.Kink ? slope.Up : (slope.Up + slope.Down) / 2,
                slope.Error
            )
            {
                Kink = slope.Kink,
                SlopeDown = slope.Down,
            };
    }

    private static Outcome<Tried> OneEach(Func<double, Outcome<double>> at, double value, double now)
    {
        var (up, down) = (at(value + 1), at(value - 1));
        if (!up.Done && !down.Done)
        {
            return up.Refusal!;
        }

        // Where one side cannot be built, the other stands for it; where they go opposite ways, their mean would say nothing.
        var (upwards, downwards) = (
            Still(up.Done ? up.Value - now : now - down.Value, now),
            Still(down.Done ? now - down.Value : up.Value - now, now)
        );
        return new Tried(upwards, downwards, 0, upwards * downwards < 0);
    }

    /// <summary>Differences over a stride and over half of it, together: their errors of second order fall away.</summary>
    private static Outcome<Tried> Extrapolated(Func<double, Outcome<double>> at, double value, double now, double stride)
    {
        var (up, down) = (at(value + stride), at(value - stride));
        if (up.Done && down.Done && Still(up.Value - now, now) == 0 && Still(now - down.Value, now) == 0)
        {
            return new Tried(0, 0, 0, false);
        }

        if (!up.Done || !down.Done)
        {
            return OneSided(at, value, now, up.Done ? stride : -stride, up.Done ? up : down);
        }

        var (halfUp, halfDown) = (at(value + (stride / 2)), at(value - (stride / 2)));
        if (!halfUp.Done || !halfDown.Done)
        {
            return (halfUp.Refusal ?? halfDown.Refusal)!;
        }

        var noise = 4 * Noise * Math.Max(Math.Abs(now), LeastReading) / stride;
        var (far, near) = ((up.Value - down.Value) / (2 * stride), (halfUp.Value - halfDown.Value) / stride);
        var central = ((4 * near) - far) / 3;

        // To one side: the slope there without its error of first order.
        var upwards = (2 * (halfUp.Value - now) / (stride / 2)) - ((up.Value - now) / stride);
        var downwards = (2 * (now - halfDown.Value) / (stride / 2)) - ((now - down.Value) / stride);
        var bend =
            Math.Abs((halfUp.Value - (2 * now) + halfDown.Value) / (stride / 2))
            - (Math.Abs(up.Value - (2 * now) + down.Value) / stride / 2);
        var kink =
            Math.Abs(upwards - downwards) > KinkFrom * Math.Max(Math.Abs(upwards), Math.Abs(downwards)) + (8 * noise)
            && bend > KinkFrom * Math.Max(Math.Abs(upwards), Math.Abs(downwards));
        return kink
            ? new Tried(upwards, downwards, Math.Abs(far - near) + noise, true)
            : new Tried(central, central, (Math.Abs(near - far) / 3) + noise, false);
    }

    /// <summary>Where the part cannot be built to one side.</summary>
    private static Outcome<Tried> OneSided(Func<double, Outcome<double>> at, double value, double now, double stride, Outcome<double> there)
    {
        if (!there.Done)
        {
            return there.Refusal!;
        }

        return at(value + (stride / 2))
            .Map(half =>
            {
                var (far, near) = ((there.Value - now) / stride, (half - now) / (stride / 2));
                var slope = (2 * near) - far;
                return new Tried(slope, slope, Math.Abs(far - near), false);
            });
    }

    /// <summary>A difference that is no more than noise is none.</summary>
    private static double Still(double difference, double now) =>
        Math.Abs(difference) <= Noise * Math.Max(Math.Abs(now), LeastReading) ? 0 : difference;

    private readonly record struct Tried(double Up, double Down, double Error, bool Kink);
}
