using System.Globalization;
using System.Security.Claims;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.RateLimiting;

namespace Ratiogon.Server.Accounts;

/// <summary>How much is answered; section "Limits" of the settings.</summary>
internal sealed class LimitOptions
{
    /// <summary>Requests to account routes from one address in a minute.</summary>
    public int AccountRequests { get; set; } = 30;

    /// <summary>Sign-ins to one account in five minutes, from everywhere that has not signed in to it before.</summary>
    public int SignIns { get; set; } = 8;

    /// <summary>Imports and exports of one account at the same time; as many as four times that wait.</summary>
    public int Files { get; set; } = 3;

    /// <summary>Megabytes that an account may take, where nothing else is said of it.</summary>
    public int AccountMegabytes { get; set; } = 1000;

    /// <summary>Parts that an account may have.</summary>
    public int AccountParts { get; set; } = 5000;
}

/// <summary>Bounds on what anybody may ask for, so that nobody stops the others.</summary>
internal static class AccountLimits
{
    /// <summary>Policy of the account routes: by address.</summary>
    public const string Account = "account";

    /// <summary>Policy of imports and exports: by account.</summary>
    public const string Files = "files";

    /// <summary>The most bytes of a request to an account route.</summary>
    public const int LargestAccountRequest = 4096;

    public static void AddLimits(this IServiceCollection services, IConfiguration configuration)
    {
        var limits = configuration.GetSection("Limits").Get<LimitOptions>() ?? new LimitOptions();
        services.AddHttpContextAccessor();
        services.AddSingleton(limits).AddSingleton<AccountLog>().AddSingleton<SignInTries>().AddSingleton<Hashing>().AddSingleton<Room>();
        services.AddRateLimiter(o =>
        {
            o.AddPolicy(Account, http =>
                RateLimitPartition.GetSlidingWindowLimiter(
                    http.Connection.RemoteIpAddress?.ToString() ?? "",
                    _ => new SlidingWindowRateLimiterOptions
                    {
                        PermitLimit = limits.AccountRequests,
                        Window = TimeSpan.FromMinutes(1),
                        SegmentsPerWindow = 6,
                    }
                )
            );
            o.AddPolicy(Files, http =>
                RateLimitPartition.GetConcurrencyLimiter(
                    http.User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "",
                    _ => new ConcurrencyLimiterOptions { PermitLimit = limits.Files, QueueLimit = 4 * limits.Files }
                )
            );
            o.OnRejected = async (c, _) => await TooMany(c.HttpContext, c.Lease).ExecuteAsync(c.HttpContext);
        });
    }

    /// <summary>429, with when to ask again.</summary>
    public static ProblemHttpResult TooMany(HttpContext context, RateLimitLease? lease = null)
    {
        var wait =
            lease is not null && lease.TryGetMetadata(MetadataName.RetryAfter, out var after)
                ? Math.Max(1, (int)Math.Ceiling(after.TotalSeconds))
                : 10;
        context.Response.Headers.RetryAfter = wait.ToString(CultureInfo.InvariantCulture);
        return TypedResults.Problem(
            detail: $"Too many requests at once; nothing was done. Try again in {wait} s.",
            statusCode: StatusCodes.Status429TooManyRequests,
            title: "Too many requests",
            type: "urn:ratiogon:busy.too-many",
            extensions: new Dictionary<string, object?> { ["code"] = "busy.too-many" }
        );
    }
}

/// <summary>Passwords are hashed apart from the threads that answer requests, a few at a time.</summary>
internal sealed class Hashing : IDisposable
{
    private const int MostWaiting = 40;
    private readonly SemaphoreSlim places = new(Math.Max(1, Environment.ProcessorCount / 2));
    private int waiting;

    /// <summary>Does some work that hashes; false where too much of it waits already.</summary>
    public async Task<bool> RunAsync(Func<Task> work, CancellationToken cancel)
    {
        if (Interlocked.Increment(ref waiting) > MostWaiting)
        {
            Interlocked.Decrement(ref waiting);
            return false;
        }

        try
        {
            await places.WaitAsync(cancel);
            try
            {
                await Task.Run(work, cancel);
                return true;
            }
            finally
            {
                places.Release();
            }
        }
        finally
        {
            Interlocked.Decrement(ref waiting);
        }
    }

    public void Dispose() => places.Dispose();
}

/// <summary>
/// Tries to sign in to one account. A browser that has signed in to it before carries a mark and has tries of its own, so that
/// whoever guesses from elsewhere keeps others out, and not the owner (OWASP, "Slow down online guessing attacks with device
/// cookies").
/// </summary>
internal sealed class SignInTries(LimitOptions limits, IDataProtectionProvider protection) : IDisposable
{
    private const string Cookie = "ratiogon-known";
    private readonly IDataProtector marks = protection.CreateProtector("Ratiogon.KnownBrowser");
    private readonly PartitionedRateLimiter<string> tries = PartitionedRateLimiter.Create<string, string>(who =>
        RateLimitPartition.GetFixedWindowLimiter(who, _ => new FixedWindowRateLimiterOptions
        {
            PermitLimit = limits.SignIns,
            Window = TimeSpan.FromMinutes(5),
        })
    );

    /// <summary>Takes one of the tries.</summary>
    public RateLimitLease Take(HttpContext context, string email) =>
        tries.AttemptAcquire($"{(Known(context) == Plain(email) ? context.Request.Cookies[Cookie] : "")} {Plain(email)}");

    /// <summary>Marks the browser as one that has signed in to an account.</summary>
    public void Mark(HttpContext context, string email)
    {
        if (Known(context) != Plain(email))
        {
            context.Response.Cookies.Append(
                Cookie,
                marks.Protect(Plain(email)),
                new CookieOptions
                {
                    HttpOnly = true,
                    IsEssential = true,
                    SameSite = SameSiteMode.Strict,
                    Secure = context.Request.IsHttps,
                    MaxAge = TimeSpan.FromDays(400),
                }
            );
        }
    }

    public void Dispose() => tries.Dispose();

    private static string Plain(string email) => email.Trim().ToUpperInvariant();

    private string? Known(HttpContext context)
    {
        try
        {
            return context.Request.Cookies[Cookie] is { } mark ? marks.Unprotect(mark) : null;
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            return null;
        }
    }
}
