namespace Ratiogon.Server.Workers;

/// <summary>What accounts had of the workers in the last hour, and whether one may have more. Kept in slots of minutes; what a server
/// knew is forgotten when it ends.</summary>
/// <param name="most">How much of an hour one account may have; zero for no bound.</param>
/// <param name="clock">Tells the time.</param>
public sealed class Spending(TimeSpan most, TimeProvider clock)
{
    private static readonly TimeSpan Window = TimeSpan.FromHours(1),
        Slot = TimeSpan.FromMinutes(2);
    private readonly Lock gate = new();
    private readonly Dictionary<Guid, Queue<Spent>> all = [];

    /// <summary>How much of an hour one account may have; zero for no bound.</summary>
    public TimeSpan Most => most;

    /// <summary>It had so much more.</summary>
    public void Add(Guid owner, TimeSpan took)
    {
        if (most == TimeSpan.Zero)
        {
            return;
        }

        var slot = clock.GetUtcNow().Ticks / Slot.Ticks;
        lock (gate)
        {
            var had = all.TryGetValue(owner, out var known) ? known : all[owner] = [];
            if (had.LastOrDefault() is { } last && last.Slot == slot)
            {
                last.Took += took;
            }
            else
            {
                had.Enqueue(new Spent(slot) { Took = took });
            }
        }
    }

    /// <summary>How long it has to wait until it may have more; null where it may now.</summary>
    public TimeSpan? Wait(Guid owner)
    {
        var now = clock.GetUtcNow().Ticks;
        var first = (now - Window.Ticks) / Slot.Ticks;
        lock (gate)
        {
            if (!all.TryGetValue(owner, out var had))
            {
                return null;
            }

            while (had.TryPeek(out var oldest) && oldest.Slot < first)
            {
                had.Dequeue();
            }

            if (had.Count == 0)
            {
                all.Remove(owner);
                return null;
            }

            var sum = had.Aggregate(TimeSpan.Zero, (all, s) => all + s.Took);
            if (sum < most)
            {
                return null;
            }

            // Until enough of it is an hour old.
            foreach (var spent in had)
            {
                sum -= spent.Took;
                if (sum < most)
                {
                    return TimeSpan.FromTicks(((spent.Slot + 1) * Slot.Ticks) + Window.Ticks - now);
                }
            }

            return Window;
        }
    }

    private sealed class Spent(long slot)
    {
        public long Slot => slot;

        public TimeSpan Took { get; set; }
    }
}
