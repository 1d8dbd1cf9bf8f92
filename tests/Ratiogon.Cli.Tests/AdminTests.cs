using System.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Ratiogon.Core.Demo;
using Ratiogon.Store;
using Ratiogon.TestHost;

namespace Ratiogon.Cli.Tests;

/// <summary>What an administrator does with accounts, by the program itself.</summary>
public sealed class AdminTests : IAsyncLifetime
{
    private const string Owner = "owner@ratiogon.example";
    private Databases databases = null!;
    private string connection = "";

    public async ValueTask InitializeAsync()
    {
        connection = await ServerProcess.NewDatabaseAsync();
        databases = new Databases(connection);
        await using var db = databases.CreateDbContext();
        await db.Database.MigrateAsync();
        var id = Guid.CreateVersion7();
        db.Users.Add(
            new Account
            {
                Id = id,
                UserName = Owner,
                NormalizedUserName = Owner.ToUpperInvariant(),
                Email = Owner,
            }
        );
        db.Users.Add(
            new Account
            {
                Id = Guid.CreateVersion7(),
                UserName = "v",
                Email = "v@demo",
                Visitor = true,
                Created = DateTimeOffset.UtcNow.AddDays(-2),
            }
        );
        db.Users.Add(
            new Account
            {
                Id = Guid.CreateVersion7(),
                UserName = "w",
                Email = "w@demo",
                Visitor = true,
            }
        );
        await db.SaveChangesAsync();
        await new PartStore(databases).CreateAsync(id, MotorPlate.Build());
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private (int Code, string Out, string Error) Run(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "ratiogon.dll"), "admin", .. arguments])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["RATIOGON_DATABASE"] = connection;
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.Result);
    }

    private async Task<Account?> OwnerAsync()
    {
        await using var db = databases.CreateDbContext();
        return await db.Users.AsNoTracking().FirstOrDefaultAsync(u => u.Email == Owner);
    }

    [Fact]
    public async Task Accounts_are_listed_helped_bounded_and_deleted()
    {
        var listed = Run("accounts");
        listed.Code.ShouldBe(0, listed.Error);
        listed.Out.Split('\n').Single(l => l.StartsWith(Owner, StringComparison.Ordinal)).ShouldMatch(@" 1 +\d+\.\d");
        listed.Out.ShouldContain("visitor");

        var code = Run("reset", Owner.ToUpperInvariant()).Out.Split('\n')[0];
        RecoveryCode.Fits((await OwnerAsync())!.Recovery, code).ShouldBeTrue();
        Run("quota", Owner, "50").Out.ShouldContain("50 MB");
        (await OwnerAsync())!.Quota.ShouldBe(50);
        Run("quota", Owner, "0").Code.ShouldBe(0);
        (await OwnerAsync())!.Quota.ShouldBeNull();

        var asked = Run("delete", Owner);
        (asked.Code, asked.Error).ShouldBe(
            (2, $"ratiogon: {Owner} has 1 parts, and nobody can bring them back; add --yes to delete them\n")
        );
        (await OwnerAsync()).ShouldNotBeNull();
        Run("delete", Owner, "--yes").Out.ShouldContain("is deleted, with 1 parts");
        (await OwnerAsync()).ShouldBeNull();
        Run("reset", Owner).Error.ShouldBe($"ratiogon: there is no account '{Owner}'\n");
        var away = Run("accounts", "--database", "Host=127.0.0.1;Port=1;Username=x;Timeout=2");
        (
            away.Code,
            away.Error.StartsWith("ratiogon: the database does not answer", StringComparison.Ordinal),
            away.Error.Count(c => c == '\n')
        ).ShouldBe((2, true, 1));
    }

    [Fact]
    public async Task Copies_of_visitors_go_after_their_day_and_no_others()
    {
        var accounts = new AccountStore(databases);
        (await accounts.DeleteVisitorsAsync(DateTimeOffset.UtcNow.AddDays(-1))).ShouldBe(1);
        (await accounts.ListAsync()).Select(a => a.Address).ShouldBe([Owner, "w@demo"], ignoreOrder: true);
        (await accounts.TrimVisitorsAsync(1)).ShouldBe(0);
        (await accounts.TrimVisitorsAsync(0)).ShouldBe(1);
        (await accounts.ListAsync()).Select(a => a.Address).ShouldBe([Owner]);
    }
}
