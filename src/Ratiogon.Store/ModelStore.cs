using Microsoft.EntityFrameworkCore;

namespace Ratiogon.Store;

/// <summary>What parts were built into, and their pictures. Nothing is lost with it: all of it can be made again.</summary>
public sealed class ModelStore(IDbContextFactory<RatiogonDb> databases)
{
    /// <summary>The most of one part, and what all may take together; those that were not used for longest go.</summary>
    public const int MostOfPart = 3,
        LargestModel = 24 * 1024 * 1024;

    public const long MostBytes = 1024L * 1024 * 1024;

    /// <summary>What a state was built into, by its key; null where it is not kept.</summary>
    public async Task<byte[]?> FindAsync(Guid part, string key, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var kept = await db.Models.Where(m => m.PartId == part && m.Key == key).Select(m => m.Model).FirstOrDefaultAsync(cancel);
        if (kept is not null)
        {
            await db
                .Models.Where(m => m.PartId == part && m.Key == key)
                .ExecuteUpdateAsync(u => u.SetProperty(m => m.Used, DateTimeOffset.UtcNow), cancel);
        }

        return kept;
    }

    /// <summary>Whether a state is kept and its picture drawn.</summary>
    public async Task<bool> IsKeptAsync(Guid part, string key, long revision, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Parts.AnyAsync(
            p => p.Id == part && p.PictureOf == revision && db.Models.Any(m => m.PartId == part && m.Key == key),
            cancel
        );
    }

    /// <summary>Parts whose picture is older than they are, those changed last first.</summary>
    public async Task<IReadOnlyList<Guid>> UndrawnAsync(CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Parts.Where(p => p.PictureOf != p.Revision).OrderByDescending(p => p.Changed).Select(p => p.Id).ToListAsync(cancel);
    }

    /// <summary>Keeps what a state was built into and its pictures; a part that was changed or deleted meanwhile is left as it
    /// is.</summary>
    /// <param name="part">The part.</param>
    /// <param name="revision">Its revision.</param>
    /// <param name="key">Of the state.</param>
    /// <param name="model">What it was built into; null where that is too large to be kept.</param>
    /// <param name="light">PNG on light paper; null where there is nothing to see.</param>
    /// <param name="dark">PNG on dark paper.</param>
    /// <param name="failing">How many steps fail.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task KeepAsync(
        Guid part,
        long revision,
        string key,
        byte[]? model,
        byte[]? light,
        byte[]? dark,
        int failing = 0,
        CancellationToken cancel = default
    )
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var drawn = await db
            .Parts.Where(p => p.Id == part && p.Revision == revision)
            .ExecuteUpdateAsync(
                u =>
                    u.SetProperty(p => p.Picture, light)
                        .SetProperty(p => p.PictureDark, dark)
                        .SetProperty(p => p.PictureOf, revision)
                        .SetProperty(p => p.Failing, failing),
                cancel
            );
        if (drawn == 0 || model is null || model.Length > LargestModel)
        {
            return;
        }

        await db.Database.ExecuteSqlAsync(
            $"""
            insert into models ("PartId", "Key", "Model", "Used") values ({part}, {key}, {model}, now())
            on conflict ("PartId", "Key") do update set "Model" = excluded."Model", "Used" = excluded."Used"
            """,
            cancel
        );
        await db.Database.ExecuteSqlAsync(
            $"""
            delete from models m using (
              select "PartId", "Key",
                row_number() over (partition by "PartId" order by "Used" desc) as place,
                sum(length("Model")) over (order by "Used" desc, "PartId", "Key") as bytes
              from models) as o
            where m."PartId" = o."PartId" and m."Key" = o."Key"
              and (o.bytes > {MostBytes} or (m."PartId" = {part} and o.place > {MostOfPart}))
            """,
            cancel
        );
    }
}
