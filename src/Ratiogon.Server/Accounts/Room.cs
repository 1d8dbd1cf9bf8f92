using Ratiogon.Core;
using Ratiogon.Store;

namespace Ratiogon.Server.Accounts;

/// <summary>How much an account may take, so that nobody fills the disk of all.</summary>
internal sealed class Room(AccountStore accounts, LimitOptions limits)
{
    /// <summary>Why no more is taken in, or null.</summary>
    /// <param name="account">Whose.</param>
    /// <param name="bytes">What comes in.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Refusal?> CheckAsync(Guid account, long bytes, CancellationToken cancel)
    {
        if (await accounts.KeptAsync(account, cancel) is not { } kept)
        {
            return null;
        }

        var most = kept.Quota ?? limits.AccountMegabytes;
        return kept.Bytes + bytes > most * 1_000_000L
                ? new Refusal(
                    "account.full",
                    $"This account may take {most} MB and has {kept.Bytes / 1e6:0.0} MB: delete parts that are not needed, or ask who "
                        + "runs this server for more room. Nothing was changed."
                )
            : kept.Parts >= limits.AccountParts
                ? new Refusal("account.full", $"An account may have up to {limits.AccountParts} parts. Nothing was changed.")
            : null;
    }
}
