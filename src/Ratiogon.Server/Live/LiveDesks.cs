using System.Collections.Concurrent;

namespace Ratiogon.Server.Live;

/// <summary>What browsers are at, kept for a while when their link goes away: a line that was begun goes on when it is back.</summary>
internal sealed class LiveDesks(TimeProvider time)
{
    private const int MostOfOne = 32;
    private static readonly TimeSpan Kept = TimeSpan.FromMinutes(15);
    private readonly ConcurrentDictionary<(Guid User, string Desk), Place> places = new();

    /// <summary>The state of a desk of a user: the one that was left there, or a new one.</summary>
    /// <param name="user">Whose.</param>
    /// <param name="desk">A name that the browser made up for the page that is open.</param>
    public LiveState Take(Guid user, string desk)
    {
        var now = time.GetUtcNow();
        foreach (
            var (key, old) in places
                .Where(p => now - p.Value.Seen > Kept)
                .Concat(places.Where(p => p.Key.User == user).OrderByDescending(p => p.Value.Seen).Skip(MostOfOne))
                .ToList()
        )
        {
            places.TryRemove(new(key, old));
        }

        return places.AddOrUpdate((user, desk), _ => new Place(new LiveState(), now), (_, there) => there with { Seen = now }).State;
    }

    private sealed record Place(LiveState State, DateTimeOffset Seen);
}
