using Ratiogon.Store;

namespace Ratiogon.Server.Demo;

/// <summary>Visitors of the demo: each has a copy, which goes after a day.</summary>
internal sealed partial class Visitors(AccountStore accounts, TimeProvider time, ILogger<Visitors> log) : BackgroundService
{
    public static readonly TimeSpan Kept = TimeSpan.FromDays(1);

    /// <summary>The most at one time: of more the oldest goes, so that nobody fills the disk with copies.</summary>
    public const int Most = 500;
    private const string Prefix = "visitor-",
        Suffix = "@demo.ratiogon.example";
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(30);

    public static string AddressOf(Guid account) => $"{Prefix}{account:N}{Suffix}";

    /// <summary>Whether an address is one of a visitor; nobody can sign up with such a one.</summary>
    public static bool Is(string? email) => email is not null && email.Trim().EndsWith(Suffix, StringComparison.OrdinalIgnoreCase);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var every = new PeriodicTimer(Every, time);
        do
        {
            try
            {
                await accounts.DeleteVisitorsAsync(time.GetUtcNow() - Kept, stoppingToken);
            }
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
            {
                LogLeft(log, e);
            }
        } while (await every.WaitForNextTickAsync(stoppingToken));
    }

    [LoggerMessage(LogLevel.Warning, "Copies of the demo were left as they are")]
    private static partial void LogLeft(ILogger log, Exception e);
}
