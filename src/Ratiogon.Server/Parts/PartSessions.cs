using System.Collections.Concurrent;
using Microsoft.Extensions.Options;
using Ratiogon.Server.Cluster;
using Ratiogon.Server.Safety;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>How many parts are live, and for how long.</summary>
public sealed class LiveOptions
{
    /// <summary>More than these are live only while somebody follows all of them.</summary>
    public int Most { get; set; } = 200;

    /// <summary>How long a part stays live that nobody follows: longer than a browser's desk is kept for it.</summary>
    public TimeSpan Idle { get; set; } = TimeSpan.FromMinutes(20);

    /// <summary>How long after a part was opened from what is kept its worker makes itself ready: the page has enough to do at
    /// first.</summary>
    public TimeSpan Prepare { get; set; } = TimeSpan.FromSeconds(1);

    /// <summary>How long an edit may be worked out here, where all share the processors: sketches are solved in the server's own
    /// process.</summary>
    public TimeSpan Solving { get; set; } = TimeSpan.FromSeconds(20);
}

/// <summary>The parts that this server follows.</summary>
public interface IPartSessions
{
    /// <summary>The session of a part, or null when there is none of that id for this owner.</summary>
    Task<IPartSession?> OpenAsync(Guid id, Guid owner);

    /// <summary>How many are live.</summary>
    int Count { get; }

    /// <summary>Hears that a part has another revision, by whichever server; 0 where it is gone.</summary>
    Task HearAsync(Guid id, Guid owner, long revision);

    /// <summary>Looks at every live part again, for it may have been changed elsewhere.</summary>
    Task LookAgainAsync();

    /// <summary>Makes sure that every live part is followed: who owned it may have ended.</summary>
    Task FollowAgainAsync();

    /// <summary>Forgets a part that was deleted.</summary>
    void Forget(Guid id, Guid owner);
}

/// <summary>Each part is followed once, whoever asks at the same time, and none waits for another's.</summary>
internal sealed class PartSessions : IPartSessions, IDisposable
{
    /// <summary>What was asked for a moment ago is still in somebody's hands.</summary>
    private static readonly TimeSpan InHand = TimeSpan.FromSeconds(10);

    /// <summary>Owners forget in a while who does not say so again.</summary>
    private static readonly TimeSpan Renewed = TimeSpan.FromSeconds(30);
    private readonly ConcurrentDictionary<(Guid Part, Guid Owner), Lazy<Task<PartSession?>>> live = new();
    private readonly LiveOptions options;
    private readonly PartStore store;
    private readonly IGrainFactory cluster;
    private readonly IPartAudience audience;
    private readonly Timer sweeping,
        renewing;

    public PartSessions(PartStore store, IGrainFactory cluster, IPartAudience audience, IOptions<LiveOptions> options)
    {
        (this.store, this.cluster, this.audience, this.options) = (store, cluster, audience, options.Value);
        var every = TimeSpan.FromTicks(Math.Clamp(this.options.Idle.Ticks / 10, TimeSpan.TicksPerSecond / 5, TimeSpan.TicksPerMinute));
        sweeping = new Timer(_ => Sweep(this.options.Idle), null, every, every);
        renewing = new Timer(_ => _ = FollowAgainAsync(), null, Renewed, Renewed);
    }

    /// <summary>How many there are.</summary>
    public int Count => live.Count;

    public async Task<IPartSession?> OpenAsync(Guid id, Guid owner)
    {
        var key = (id, owner);
        var entry = live.GetOrAdd(key, _ => new Lazy<Task<PartSession?>>(() => PartSession.OpenAsync(id, owner, cluster, audience)));
        try
        {
            if (await entry.Value is { } session)
            {
                session.Used = DateTimeOffset.UtcNow;
                if (live.Count > options.Most)
                {
                    Sweep(InHand, live.Count - options.Most);
                }

                return session;
            }
        }
        catch
        {
            live.TryRemove(new(key, entry));
            throw;
        }

        live.TryRemove(new(key, entry));
        return null;
    }

    public async Task HearAsync(Guid id, Guid owner, long revision)
    {
        if (!live.TryGetValue((id, owner), out var entry) || await entry.Value is not { } session)
        {
            return;
        }

        if (revision > 0)
        {
            await session.HearAsync(revision);
        }
        else
        {
            Forget(id, owner);
            await audience.ChangedAsync(id, revision);
        }
    }

    public async Task LookAgainAsync()
    {
        foreach (var (id, owner) in live.Keys)
        {
            await HearAsync(id, owner, (await store.LoadAsync(id, owner))?.Revision ?? 0);
        }
    }

    public Task FollowAgainAsync() =>
        Task.WhenAll(
            Ready()
                .Select(async r =>
                {
                    try
                    {
                        if (!await r.Session.FollowAsync())
                        {
                            await HearAsync(r.Session.Id, r.Session.Owner, 0);
                        }
                    }
                    catch (Exception e) when (Away.Is(e))
                    {
                        // The next time.
                    }
                })
        );

    public void Forget(Guid id, Guid owner)
    {
        if (live.TryRemove((id, owner), out var gone) && gone is { IsValueCreated: true, Value.IsCompletedSuccessfully: true })
        {
            _ = gone.Value.Result?.LeaveAsync();
        }

        _ = cluster.GetGrain<IPartGrain>(id, owner.ToString("N")).GoneAsync();
    }

    public void Dispose()
    {
        sweeping.Dispose();
        renewing.Dispose();
    }

    private IEnumerable<(KeyValuePair<(Guid, Guid), Lazy<Task<PartSession?>>> Entry, PartSession Session)> Ready() =>
        live.Where(e => e.Value is { IsValueCreated: true, Value.IsCompletedSuccessfully: true })
            .Select(e => (Entry: e, Session: e.Value.Value.Result!))
            .Where(e => e.Session is not null);

    /// <summary>Ends parts that nobody follows and nobody asked for in a while, those first that were not asked for longest.</summary>
    private void Sweep(TimeSpan idle, int most = int.MaxValue)
    {
        var before = DateTimeOffset.UtcNow - idle;
        var ready = Ready().Where(e => !e.Session.Watched && e.Session.Used < before).OrderBy(e => e.Session.Used).Take(most).ToList();
        var leaving = new List<Task>();
        foreach (var (entry, session) in ready)
        {
            if (live.TryRemove(entry))
            {
                leaving.Add(session.LeaveAsync());
            }
        }

        if (leaving.Count > 0 && live.IsEmpty)
        {
            _ = Task.WhenAll(leaving).ContinueWith(_ => GiveBack(), TaskScheduler.Default);
        }
    }

    /// <summary>Nobody is here to wait for it: what all of them took goes back to the machine.</summary>
    private void GiveBack()
    {
        if (live.IsEmpty)
        {
            GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        }
    }
}
