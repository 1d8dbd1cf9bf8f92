using System.Security.Claims;

namespace Ratiogon.Server.Accounts;

/// <summary>What is written of accounts (OWASP ASVS 4.0, 7.1 and 7.2): who came in, who tried to, and what was changed, by the id of the
/// account and the address of the network, never with what was typed.</summary>
internal sealed partial class AccountLog(ILogger<AccountLog> log, IHttpContextAccessor context)
{
    private string From => context.HttpContext?.Connection.RemoteIpAddress?.ToString() ?? "nowhere";

    /// <summary>An account was made, or somebody came in.</summary>
    /// <param name="how">In which way, in words of ours.</param>
    /// <param name="account">Of which account.</param>
    public void Entered(string how, Guid account) => LogEntered(log, account, how, From);

    /// <summary>Somebody was refused.</summary>
    /// <param name="what">What was tried, in words of ours.</param>
    /// <param name="account">At which account; null where there is none of that address.</param>
    public void Refused(string what, Guid? account) => LogRefused(log, what, account?.ToString() ?? "none", From);

    /// <summary>Something about the account of a request was changed.</summary>
    public void Changed(string what, ClaimsPrincipal who) =>
        LogChanged(log, who.FindFirstValue(ClaimTypes.NameIdentifier) ?? "none", what, From);

    [LoggerMessage(1001, LogLevel.Information, "Account {Account} {How} from {Address}")]
    private static partial void LogEntered(ILogger log, Guid account, string how, string address);

    [LoggerMessage(1002, LogLevel.Warning, "Refused: {What}, account {Account}, from {Address}")]
    private static partial void LogRefused(ILogger log, string what, string account, string address);

    [LoggerMessage(1003, LogLevel.Information, "Account {Account}: {What}, from {Address}")]
    private static partial void LogChanged(ILogger log, string account, string what, string address);
}
