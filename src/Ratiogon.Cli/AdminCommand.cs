using System.Globalization;
using Ratiogon.Store;

namespace Ratiogon.Cli;

/// <summary>What an administrator does with accounts, straight on the database.</summary>
internal static class AdminCommand
{
    /// <summary>Where the database is; the script of the command line sets it to that of <c>./run</c>.</summary>
    public const string Variable = "RATIOGON_DATABASE";

    public static async Task<int> AccountsAsync(string? database, TextWriter output, TextWriter errors) =>
        await WithAsync(database, errors, async accounts =>
        {
            var all = await accounts.ListAsync();
            await output.WriteLineAsync($"{"address", -48} {"since", -10} {"parts", 5} {"MB", 8} {"quota", 6}");
            foreach (var a in all)
            {
                await output.WriteLineAsync(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{a.Address, -48} {a.Since:yyyy-MM-dd} {a.Parts, 5} {a.Bytes / 1e6, 8:0.0} "
                            + $"{a.Quota?.ToString(CultureInfo.InvariantCulture) ?? "", 6}{(a.Visitor ? " visitor" : "")}"
                    )
                );
            }

            return ExitCodes.Done;
        });

    public static Task<int> ResetAsync(string? database, string address, TextWriter output, TextWriter errors) =>
        OfAsync(database, address, errors, async (accounts, id) =>
        {
            var code = RecoveryCode.New();
            await accounts.SetRecoveryAsync(id, RecoveryCode.Hash(code));
            await output.WriteLineAsync(
                $"{code}\nWith this code {address} takes a new password: 'Lost the password?' on the page to sign in. The code "
                    + "before is good for nothing."
            );
            return ExitCodes.Done;
        });

    public static Task<int> QuotaAsync(string? database, string address, int megabytes, TextWriter output, TextWriter errors) =>
        OfAsync(database, address, errors, async (accounts, id) =>
        {
            await accounts.SetQuotaAsync(id, megabytes > 0 ? megabytes : null);
            await output.WriteLineAsync(megabytes > 0 ? $"{address} may take {megabytes} MB." : $"{address} may take what everybody may.");
            return ExitCodes.Done;
        });

    public static Task<int> DeleteAsync(string? database, string address, bool sure, TextWriter output, TextWriter errors) =>
        OfAsync(database, address, errors, async (accounts, id) =>
        {
            var kept = await accounts.KeptAsync(id);
            if (!sure)
            {
                await errors.WriteLineAsync(
                    $"ratiogon: {address} has {kept?.Parts} parts, and nobody can bring them back; add --yes to delete them"
                );
                return ExitCodes.BadInput;
            }

            await accounts.DeleteAsync(id);
            await output.WriteLineAsync($"{address} is deleted, with {kept?.Parts} parts.");
            return ExitCodes.Done;
        });

    private static Task<int> OfAsync(string? database, string address, TextWriter errors, Func<AccountStore, Guid, Task<int>> work) =>
        WithAsync(database, errors, async accounts =>
        {
            if (await accounts.FindAsync(address) is { } id)
            {
                return await work(accounts, id);
            }

            await errors.WriteLineAsync($"ratiogon: there is no account '{address}'");
            return ExitCodes.BadInput;
        });

    private static async Task<int> WithAsync(string? database, TextWriter errors, Func<AccountStore, Task<int>> work)
    {
        if ((database ?? Environment.GetEnvironmentVariable(Variable)) is not { Length: > 0 } connection)
        {
            await errors.WriteLineAsync($"ratiogon: say where the database is, with --database or {Variable}");
            return ExitCodes.BadInput;
        }

        try
        {
            return await work(new AccountStore(new Databases(connection)));
        }
        catch (Exception e) when (e is Npgsql.NpgsqlException or InvalidOperationException or ArgumentException)
        {
            await errors.WriteLineAsync(
                $"ratiogon: the database does not answer as it should: {(e.InnerException ?? e).Message.Split('\n')[0]}"
            );
            return ExitCodes.BadInput;
        }
    }
}
