using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;
using Ratiogon.Server.Safety;
using Ratiogon.Store;

namespace Ratiogon.Server.Accounts;

/// <summary>
/// Sessions that were signed in. Each has an id in its cookie; one that was ended, on whichever server, is refused within
/// <see cref="Fresh"/>, and so are all of an account whose security stamp changed or that is gone. Live links end with their session.
/// </summary>
public sealed class Sessions(IDbContextFactory<RatiogonDb> database, TimeProvider time, ILogger<Sessions> log)
    : Tended(Sessions.Fresh, time, log)
{
    /// <summary>Claim of a cookie: the id of its session.</summary>
    public const string Claim = "session";

    /// <summary>How long an answer of the database is good for.</summary>
    public static readonly TimeSpan Fresh = TimeSpan.FromSeconds(3);

    private const string Ended = "ended-session";
    private const string StampClaim = "AspNet.Identity.SecurityStamp";
    private const int MostRemembered = 20_000;
    private static readonly TimeSpan Longest = TimeSpan.FromDays(15);
    private readonly ConcurrentDictionary<string, (bool Open, DateTimeOffset At)> known = new();
    private readonly ConcurrentDictionary<string, HubCallerContext> links = new();

    /// <summary>Claims of a new session.</summary>
    public static Claim[] New() => [new(Claim, Guid.CreateVersion7().ToString("N"))];

    /// <summary>Whether the session of a cookie still stands.</summary>
    public async Task<bool> StandsAsync(ClaimsPrincipal? user, CancellationToken cancel)
    {
        if (user?.FindFirstValue(Claim) is not { } id || !Guid.TryParse(user.FindFirstValue(ClaimTypes.NameIdentifier), out var account))
        {
            return false;
        }

        var now = Time.GetUtcNow();
        if (known.TryGetValue(id, out var before) && (!before.Open || now - before.At < Fresh))
        {
            return before.Open;
        }

        await using var db = await database.CreateDbContextAsync(cancel);
        var stamp = user.FindFirstValue(StampClaim);
        var open =
            await db.Users.AnyAsync(u => u.Id == account && u.SecurityStamp == stamp, cancel)
            && !await db.UserTokens.AnyAsync(t => t.UserId == account && t.LoginProvider == Ended && t.Name == id, cancel);
        if (known.Count > MostRemembered)
        {
            known.Clear();
        }

        // Ended meanwhile is ended.
        return known.AddOrUpdate(id, (open, now), (_, was) => was.Open ? (open, now) : was).Open;
    }

    /// <summary>The same for a request: while the database is away, a session that is not known to have ended is taken for what its
    /// cookie says.</summary>
    public async Task<bool> MayStandAsync(ClaimsPrincipal? user, CancellationToken cancel)
    {
        try
        {
            return await StandsAsync(user, cancel);
        }
        catch (Exception e) when (Away.Is(e))
        {
            return user?.FindFirstValue(Claim) is not null;
        }
    }

    /// <summary>Ends a session for every server, and its live links.</summary>
    public async Task EndAsync(ClaimsPrincipal? user, CancellationToken cancel)
    {
        if (user?.FindFirstValue(Claim) is not { } id || !Guid.TryParse(user.FindFirstValue(ClaimTypes.NameIdentifier), out var account))
        {
            return;
        }

        // Here at once, whatever becomes of the rest.
        var now = Time.GetUtcNow();
        known[id] = (false, now);
        Close(l => l.User?.FindFirstValue(Claim) == id);
        await using var db = await database.CreateDbContextAsync(cancel);
        if (
            await db.Users.AnyAsync(u => u.Id == account, cancel)
            && !await db.UserTokens.AnyAsync(t => t.UserId == account && t.LoginProvider == Ended && t.Name == id, cancel)
        )
        {
            // No cookie lives longer than that: what was ended before needs no record any more.
            var old = (now - Longest).ToString("O", CultureInfo.InvariantCulture);
            await db
                .UserTokens.Where(t => t.UserId == account && t.LoginProvider == Ended && string.Compare(t.Value, old) < 0)
                .ExecuteDeleteAsync(cancel);
            db.UserTokens.Add(
                new IdentityUserToken<Guid>
                {
                    UserId = account,
                    LoginProvider = Ended,
                    Name = id,
                    Value = now.ToString("O", CultureInfo.InvariantCulture),
                }
            );
            await db.SaveChangesAsync(cancel);
        }
    }

    /// <summary>A live link began.</summary>
    public void Attach(HubCallerContext link) => links[link.ConnectionId] = link;

    /// <summary>A live link ended.</summary>
    public void Detach(HubCallerContext link) => links.TryRemove(link.ConnectionId, out _);

    /// <summary>While the database is away nothing is known of any session; links stay until it can be asked again.</summary>
    protected override string Failing => "Whether sessions were ended is not known just now";

    protected override async Task TendAsync(CancellationToken cancel)
    {
        foreach (var link in links.Values)
        {
            if (Expires(link) < Time.GetUtcNow() || !await StandsAsync(link.User, cancel))
            {
                Close(l => l.ConnectionId == link.ConnectionId);
            }
        }
    }

    private static DateTimeOffset? Expires(HubCallerContext link) =>
        link.Features.Get<IAuthenticateResultFeature>()?.AuthenticateResult?.Properties?.ExpiresUtc;

    private void Close(Func<HubCallerContext, bool> which)
    {
        foreach (var link in links.Values.Where(which))
        {
            links.TryRemove(link.ConnectionId, out _);
            link.Abort();
        }
    }
}
