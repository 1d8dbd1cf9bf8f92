using Ratiogon.Server.Safety;
using Ratiogon.Store;

namespace Ratiogon.Server.Demo;

/// <summary>Visitors of the demo: each has a copy, which goes after a day.</summary>
internal sealed class Visitors(AccountStore accounts, TimeProvider time, ILogger<Visitors> log)
    : Tended(TimeSpan.FromMinutes(30), time, log)
{
    public static readonly TimeSpan Kept = TimeSpan.FromDays(1);

    /// <summary>The most at one time: of more the oldest goes, so that nobody fills the disk with copies.</summary>
    public const int Most = 500;
    private const string Prefix = "visitor-",
        Suffix = "@demo.ratiogon.example";

    public static string AddressOf(Guid account) => $"{Prefix}{account:N}{Suffix}";

    /// <summary>Whether an address is one of a visitor; nobody can sign up with such a one.</summary>
    public static bool Is(string? email) => email is not null && email.Trim().EndsWith(Suffix, StringComparison.OrdinalIgnoreCase);

    protected override string Failing => "Copies of the demo were left as they are";

    protected override Task TendAsync(CancellationToken cancel) => accounts.DeleteVisitorsAsync(Time.GetUtcNow() - Kept, cancel);
}
