using System.Diagnostics;

namespace Ratiogon.Core;

/// <summary>Something took longer than whoever asked for it would wait.</summary>
/// <param name="limit">How long that was.</param>
public sealed class OutOfPatienceException(TimeSpan limit) : Exception($"longer than {limit.TotalSeconds:0.#} s")
{
    public TimeSpan Limit { get; } = limit;

    /// <summary>As a refusal: nothing was changed.</summary>
    public Refusal Refused =>
        new(
            "command.too-long",
            $"This takes longer than {Limit.TotalSeconds:0.#} s to work out, and others wait meanwhile: nothing was changed. "
                + "In smaller steps, or in several sketches, it is quicker."
        );
}

/// <summary>
/// A bound on the time that computing may take on this thread. Solvers look at it between their steps, so that a process that many
/// share is not held up by one.
/// </summary>
public static class Patience
{
    [ThreadStatic]
    private static Bound? bound;

    /// <summary>From now on until it is disposed of, on this thread; a shorter bound around it stays.</summary>
    public static IDisposable Limit(TimeSpan limit) => new Bound(limit);

    /// <summary>Gives up where the time is over.</summary>
    /// <exception cref="OutOfPatienceException">It is.</exception>
    internal static void Look()
    {
        if (bound is { } b && Stopwatch.GetTimestamp() > b.Until)
        {
            throw new OutOfPatienceException(b.Limit);
        }
    }

    private sealed class Bound : IDisposable
    {
        private readonly Bound? around = bound;

        public Bound(TimeSpan limit)
        {
            var until = Stopwatch.GetTimestamp() + (long)(limit.TotalSeconds * Stopwatch.Frequency);
            (Until, Limit) = around is not null && around.Until < until ? (around.Until, around.Limit) : (until, limit);
            bound = this;
        }

        public long Until { get; }

        public TimeSpan Limit { get; }

        public void Dispose() => bound = around;
    }
}
