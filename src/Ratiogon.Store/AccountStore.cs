using System.IO.Compression;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;

namespace Ratiogon.Store;

/// <summary>What is kept of an account.</summary>
/// <param name="Since">When it was made.</param>
/// <param name="Parts">How many parts it has.</param>
/// <param name="Edits">How many edits its log holds.</param>
/// <param name="Bytes">What parts, log, pictures and built models take in the database.</param>
/// <param name="Quota">Megabytes that it may take; null for what the server gives everybody.</param>
public sealed record AccountKept(DateTimeOffset Since, int Parts, int Edits, long Bytes, int? Quota);

/// <summary>An account as an administrator sees it.</summary>
public sealed record AccountListing(string Address, DateTimeOffset Since, int Parts, long Bytes, int? Quota, bool Visitor);

/// <summary>Accounts as a whole: what they keep, copies of the demo, and their end.</summary>
public sealed class AccountStore(IDbContextFactory<RatiogonDb> databases)
{
    private static readonly JsonSerializerOptions Readable = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    public async Task<AccountKept?> KeptAsync(Guid account, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        if (await db.Users.AsNoTracking().FirstOrDefaultAsync(u => u.Id == account, cancel) is not { } user)
        {
            return null;
        }

        var ids = db.Parts.Where(p => p.OwnerId == account).Select(p => p.Id);
        // As they lie in the database, packed.
        var bytes = await db
            .Database.SqlQuery<long>(
                $"""
                with mine as (select "Id" from parts where "OwnerId" = {account})
                select (coalesce((select sum(pg_column_size(p.*)) from parts p where p."OwnerId" = {account}), 0)
                  + coalesce((select sum(pg_column_size(s."Body")) from steps s join mine on mine."Id" = s."PartId"), 0)
                  + coalesce((select sum(pg_column_size(e."Change")) from edits e join mine on mine."Id" = e."PartId"), 0)
                  + coalesce((select sum(pg_column_size(m."Model")) from models m join mine on mine."Id" = m."PartId"), 0)
                )::bigint as "Value"
                """
            )
            .SingleAsync(cancel);
        return new AccountKept(
            user.Created,
            await ids.CountAsync(cancel),
            await db.Edits.CountAsync(e => ids.Contains(e.PartId), cancel),
            bytes,
            user.Quota
        );
    }

    /// <summary>Every account, the oldest first.</summary>
    public async Task<IReadOnlyList<AccountListing>> ListAsync(CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var listed = new List<AccountListing>();
        foreach (var user in await db.Users.AsNoTracking().OrderBy(u => u.Created).ToListAsync(cancel))
        {
            var kept = (await KeptAsync(user.Id, cancel))!;
            listed.Add(new AccountListing(user.Email ?? "", user.Created, kept.Parts, kept.Bytes, user.Quota, user.Visitor));
        }

        return listed;
    }

    /// <summary>The id of an account by its address, however that is capitalised; null where there is none.</summary>
    public async Task<Guid?> FindAsync(string address, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var plain = address.Trim().ToUpperInvariant();
        return await db.Users.Where(u => u.NormalizedUserName == plain).Select(u => (Guid?)u.Id).FirstOrDefaultAsync(cancel);
    }

    /// <summary>Another recovery code, by its hash: its owner takes another password with it.</summary>
    public async Task SetRecoveryAsync(Guid account, byte[] hash, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await db.Users.Where(u => u.Id == account).ExecuteUpdateAsync(u => u.SetProperty(a => a.Recovery, hash), cancel);
    }

    public async Task SetQuotaAsync(Guid account, int? megabytes, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await db.Users.Where(u => u.Id == account).ExecuteUpdateAsync(u => u.SetProperty(a => a.Quota, megabytes), cancel);
    }

    /// <summary>The parts of one account, with their pictures and what they are built into, as parts of another; without their log.
    /// Answers their ids.</summary>
    public async Task<IReadOnlyList<Guid>> CopyPartsAsync(Guid from, Guid to, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var whole = await db.Database.BeginTransactionAsync(cancel);
        var copies = new List<Guid>();
        foreach (var part in await db.Parts.Where(p => p.OwnerId == from).OrderBy(p => p.Created).Select(p => p.Id).ToListAsync(cancel))
        {
            copies.Add(await PartStore.CopyAsync(db, part, to, cancel));
        }

        await whole.CommitAsync(cancel);
        return copies;
    }

    /// <summary>Ids of the parts of an account.</summary>
    public async Task<IReadOnlyList<Guid>> PartsAsync(Guid account, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Parts.Where(p => p.OwnerId == account).Select(p => p.Id).ToListAsync(cancel);
    }

    /// <summary>Takes an account away with everything that it keeps.</summary>
    public async Task<bool> DeleteAsync(Guid account, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Users.Where(u => u.Id == account).ExecuteDeleteAsync(cancel) > 0;
    }

    /// <summary>Takes visitors' copies of the demo away that were made before a time.</summary>
    public async Task<int> DeleteVisitorsAsync(DateTimeOffset before, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Users.Where(u => u.Visitor && u.Created < before).ExecuteDeleteAsync(cancel);
    }

    /// <summary>Takes the oldest visitors' copies away where there are more than a number.</summary>
    public async Task<int> TrimVisitorsAsync(int most, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var old = db.Users.Where(u => u.Visitor).OrderByDescending(u => u.Created).Skip(most).Select(u => u.Id);
        return await db.Users.Where(u => old.Contains(u.Id)).ExecuteDeleteAsync(cancel);
    }

    /// <summary>Everything that is kept of an account, as a zip archive: the account, each part as a part file, its picture, and its log
    /// of edits.</summary>
    /// <param name="account">Whose.</param>
    /// <param name="partFile">A part as a file.</param>
    /// <param name="plainName">A name that files may have.</param>
    /// <param name="into">Where it is written to.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task WriteEverythingAsync(
        Guid account,
        Func<Core.Parts.Part, byte[]> partFile,
        Func<string, string> plainName,
        Stream into,
        CancellationToken cancel = default
    )
    {
        var store = new PartStore(databases);
        await using var db = await databases.CreateDbContextAsync(cancel);
        using var archive = new ZipArchive(into, ZipArchiveMode.Create, leaveOpen: true);
        async Task PutAsync(string name, byte[] content)
        {
            await using var entry = archive.CreateEntry(name).Open();
            await entry.WriteAsync(content, cancel);
        }

        var user = await db.Users.AsNoTracking().SingleAsync(u => u.Id == account, cancel);
        await PutAsync("account.json", JsonSerializer.SerializeToUtf8Bytes(new { address = user.Email, since = user.Created }, Readable));
        var taken = new HashSet<string>(StringComparer.Ordinal);
        foreach (
            var row in await db
                .Parts.AsNoTracking()
                .Where(p => p.OwnerId == account)
                .OrderBy(p => p.Created)
                .Select(p => new
                {
                    p.Id,
                    p.Name,
                    p.Picture,
                })
                .ToListAsync(cancel)
        )
        {
            var name = Core.Ids.Free(plainName(row.Name), "-", taken);
            if (await store.LoadAsync(row.Id, account, cancel) is { } stored)
            {
                await PutAsync($"parts/{name}.json", partFile(stored.Part));
            }

            if (row.Picture is { } picture)
            {
                await PutAsync($"pictures/{name}.png", picture);
            }

            var edits = await db.Edits.AsNoTracking().Where(e => e.PartId == row.Id).OrderBy(e => e.Revision).ToListAsync(cancel);
            await PutAsync(
                $"history/{name}.json",
                JsonSerializer.SerializeToUtf8Bytes(
                    edits.Select(e => new
                    {
                        e.Revision,
                        e.At,
                        Kind = e.Kind.ToString().ToLowerInvariant(),
                        e.Words,
                        e.Of,
                        Change = JsonDocument.Parse(e.Change).RootElement,
                    }),
                    Readable
                )
            );
        }
    }
}
