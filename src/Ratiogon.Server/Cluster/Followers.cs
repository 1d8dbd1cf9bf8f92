using Orleans.Runtime;
using Ratiogon.Server.Parts;
using Ratiogon.Store;

namespace Ratiogon.Server.Cluster;

/// <summary>
/// The servers that follow a part. Each is told the newest there is, and the next when it has taken that: one that is slow, or away,
/// keeps none of the others waiting; it is told less often, of the same end.
/// </summary>
internal sealed class Followers : IPartListener
{
    /// <summary>Who does not take what it is told in the first is told all of it anew, and waited for twice as long, up to the second;
    /// then it is told no more, until it asks again.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3),
        MostPatience = TimeSpan.FromSeconds(24);

    /// <summary>Between being refused and telling it anew.</summary>
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(0.5);
    private readonly Lock gate = new();
    private readonly Dictionary<IPartFollower, Follower> all = [];

    /// <summary>One more, or one that begins anew; answers what it does not know.</summary>
    public MomentNews Add(IPartFollower follower, OwnedPart part, Known known)
    {
        lock (gate)
        {
            var now = part.Now;
            all[follower] = new Follower(part) { Stored = now.Stored, Built = BuiltPart.Of(now) };
            return MomentNews.Of(
                now.Stored.Revision == known.Stored ? null : now.Stored,
                part.Recent.Find(known.Stored),
                now.Revision == known.Built ? null : BuiltPart.Of(now),
                null
            );
        }
    }

    /// <summary>One less; answers whether that was the last.</summary>
    public bool Remove(IPartFollower follower)
    {
        lock (gate)
        {
            all.Remove(follower);
            return all.Count == 0;
        }
    }

    public void Became()
    {
        lock (gate)
        {
            foreach (var (reference, follower) in all.Where(f => !f.Value.Telling))
            {
                follower.Telling = true;
                _ = Task.Run(() => TellAsync(reference, follower));
            }
        }
    }

    public void Building(string? step) => Say(f => f.BuildingAsync(step));

    public void Share(double share) => Say(f => f.ShareAsync(share));

    private void Say(Func<IPartFollower, Task> what)
    {
        lock (gate)
        {
            foreach (var follower in all.Keys)
            {
                // Of no worth later: who does not hear it misses nothing.
                _ = what(follower).ContinueWith(t => t.Exception, TaskScheduler.Default);
            }
        }
    }

    private async Task TellAsync(IPartFollower reference, Follower follower)
    {
        var patience = Patience;
        while (Next(follower) is var (news, stored, built))
        {
            try
            {
                await reference.BecameAsync(news).WaitAsync(patience);
                (follower.Stored, follower.Built, patience) = (stored, built, Patience);
            }
            catch (Exception e) when (e is OrleansException or TimeoutException)
            {
                // Whether it took that is not known: it is taken to have nothing.
                (follower.Stored, follower.Built, patience) = (null, null, patience * 2);
                if (patience > MostPatience || !Has(reference, follower))
                {
                    GiveUp(reference, follower);
                    return;
                }

                await Task.Delay(Again);
            }
        }
    }

    private bool Has(IPartFollower reference, Follower follower)
    {
        lock (gate)
        {
            return all.TryGetValue(reference, out var there) && ReferenceEquals(there, follower);
        }
    }

    private void GiveUp(IPartFollower reference, Follower follower)
    {
        lock (gate)
        {
            if (Has(reference, follower))
            {
                all.Remove(reference);
            }
        }
    }

    private (MomentNews News, StoredPart Stored, BuiltPart? Built)? Next(Follower follower)
    {
        lock (gate)
        {
            var now = follower.Part.Now;
            var stored = now.Stored.Revision == follower.Stored?.Revision ? null : now.Stored;
            var built = ReferenceEquals(now.Result, follower.Built?.Result) ? null : BuiltPart.Of(now);
            if (stored is null && built is null)
            {
                follower.Telling = false;
                return null;
            }

            return (MomentNews.Of(stored, follower.Stored, built, follower.Built), now.Stored, built ?? follower.Built);
        }
    }

    /// <summary>What one server has, and whether it is being told.</summary>
    private sealed class Follower(OwnedPart part)
    {
        public OwnedPart Part => part;

        /// <summary>Null where that is not known.</summary>
        public required StoredPart? Stored { get; set; }

        public BuiltPart? Built { get; set; }

        public bool Telling { get; set; }
    }
}
