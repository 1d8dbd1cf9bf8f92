namespace Ratiogon.Server.Workers;

/// <summary>Whose work it is, and for which part.</summary>
/// <param name="Owner">The account.</param>
/// <param name="Key">The part.</param>
/// <param name="Waited">Whether somebody waits for it; what nobody sees comes after that.</param>
public readonly record struct Work(Guid Owner, Guid Key, bool Waited = true);

/// <summary>
/// Who is next where there are fewer places than work. One account never has all places, so that another's work begins at once; among
/// accounts the one that had least comes first, what somebody waits for before what nobody sees, and of one part one thing at a time.
/// Work goes to the place where its part was last, if that is free: what was built is kept there.
/// </summary>
/// <param name="places">How many can be worked on at a time.</param>
/// <param name="clock">Tells the time.</param>
internal sealed class Turns(int places, TimeProvider clock)
{
    /// <summary>What an account had counts half after this long.</summary>
    private static readonly TimeSpan HalfLife = TimeSpan.FromSeconds(60);

    private const int MostHomes = 5000,
        MostOwners = 5000;
    private readonly Lock gate = new();
    private readonly Work?[] taken = new Work?[places];
    private readonly long[] since = new long[places];
    private readonly List<Waiting> queue = [];
    private readonly Dictionary<Guid, int> homes = [];
    private readonly Dictionary<Guid, (double Seconds, long At)> had = [];

    /// <summary>As many places as one account may have, and as much as may go on that nobody waits for.</summary>
    private int Most => Math.Max(1, places - 1);

    /// <summary>How much waits.</summary>
    public int Waiters
    {
        get
        {
            lock (gate)
            {
                return queue.Count;
            }
        }
    }

    /// <summary>Waits for a turn; answers the place.</summary>
    public async Task<int> EnterAsync(Work work, CancellationToken cancel)
    {
        var waiting = new Waiting(work);
        lock (gate)
        {
            queue.Add(waiting);
            Serve();
        }

        await using (cancel.Register(() => GiveUp(waiting, cancel)))
        {
            return await waiting.Turn.Task;
        }
    }

    /// <summary>Gives a place back.</summary>
    public void Leave(int place)
    {
        lock (gate)
        {
            if (taken[place] is { } done)
            {
                if (had.Count >= MostOwners)
                {
                    had.Clear();
                }

                had[done.Owner] = (Had(done.Owner) + clock.GetElapsedTime(since[place]).TotalSeconds, clock.GetTimestamp());
            }

            taken[place] = null;
            Serve();
        }
    }

    private void GiveUp(Waiting waiting, CancellationToken cancel)
    {
        lock (gate)
        {
            if (queue.Remove(waiting))
            {
                waiting.Turn.TrySetCanceled(cancel);
            }
        }
    }

    /// <summary>Seconds of work that an account had lately; a trace is none.</summary>
    private double Had(Guid owner) =>
        had.TryGetValue(owner, out var known) ? Math.Round(known.Seconds * Math.Pow(0.5, clock.GetElapsedTime(known.At) / HalfLife), 2) : 0;

    private void Serve()
    {
        while (taken.Contains(null) && Next() is { } next)
        {
            queue.Remove(next);
            var place = PlaceFor(next.Work.Key);
            (taken[place], since[place]) = (next.Work, clock.GetTimestamp());
            if (homes.Count >= MostHomes)
            {
                homes.Clear();
            }

            homes[next.Work.Key] = place;
            next.Turn.TrySetResult(place);
        }
    }

    /// <summary>The first in order that may go; of equals the one that came first.</summary>
    private Waiting? Next() =>
        queue
            .Where(w =>
                taken.All(t => t?.Key != w.Work.Key)
                && taken.Count(t => t?.Owner == w.Work.Owner) < Most
                && (w.Work.Waited || taken.Count(t => t is { Waited: false }) < Most)
            )
            .OrderByDescending(w => w.Work.Waited)
            .ThenBy(w => taken.Count(t => t?.Owner == w.Work.Owner))
            .ThenBy(w => Had(w.Work.Owner))
            .FirstOrDefault();

    private int PlaceFor(Guid key)
    {
        var home = homes.TryGetValue(key, out var known) ? known : (key.GetHashCode() & int.MaxValue) % places;
        return taken[home] is null ? home : Array.IndexOf(taken, null);
    }

    private sealed class Waiting(Work work)
    {
        public Work Work { get; } = work;

        public TaskCompletionSource<int> Turn { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}
