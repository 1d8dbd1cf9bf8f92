using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.TestHost;

namespace Ratiogon.Store.Tests;

/// <summary>A database of every version goes forward to this one with what is in it.</summary>
public sealed class MigrationTests
{
    private static readonly string[] Tables = ["AspNetUsers", "parts", "steps", "edits"];

    private static readonly List<string> All = [.. new Databases("Host=nowhere").CreateDbContext().Database.GetMigrations()];

    public static TheoryData<string> Versions { get; } = [.. All];

    /// <summary>What is there in a database of today is brought into one as it was then, as far as that had places for it, and that one
    /// forward.</summary>
    [Theory]
    [MemberData(nameof(Versions))]
    public async Task What_was_kept_by_a_version_is_there_in_this_one(string version)
    {
        var (today, then) = (new Databases(await ServerProcess.NewDatabaseAsync()), new Databases(await ServerProcess.NewDatabaseAsync()));
        var owner = Guid.CreateVersion7();
        await using (var db = today.CreateDbContext())
        {
            await db.Database.MigrateAsync();
            db.Users.Add(
                new Account
                {
                    Id = owner,
                    UserName = "o",
                    Email = "o@ratiogon.example",
                }
            );
            await db.SaveChangesAsync();
        }

        var store = new PartStore(today);
        var kept = (await store.LoadAsync(await store.CreateAsync(owner, MotorPlate.Build()), owner))!;
        foreach (var command in new PartCommand[] { new RenamePart("Old"), new SetParameter("thick", "7 mm"), new RenamePart("Older") })
        {
            kept = (await store.SaveAsync(kept, command.Apply(kept.Part).Value, owner, EditKind.Do, command.Words, null))!;
        }

        await using (var db = then.CreateDbContext())
        {
            await db.GetService<IMigrator>().MigrateAsync(version);
            await CopyAsync(today, then);
            (await db.Database.GetPendingMigrationsAsync()).Count().ShouldBe(All.Count - 1 - All.IndexOf(version));
            await db.Database.MigrateAsync();
        }

        var old = new PartStore(then);
        var came = (await old.LoadAsync(kept.Id, owner))!;
        came.Part.ShouldBe(kept.Part);
        (came.Revision, came.Undo.Count(), came.Changed).ShouldBe((kept.Revision, 3, kept.Changed));
        (await old.HistoryAsync(kept.Id, owner))!
            .Select(s => s.Words)
            .ShouldBe((await store.HistoryAsync(kept.Id, owner))!.Select(s => s.Words));
        (await old.AtAsync(kept.Id, owner, 1))!.ShouldBe(MotorPlate.Build());
        (await old.ListAsync(owner)).Single().Name.ShouldBe("Older");
        (await old.SaveAsync(came, came.Part with { Name = "New" }, owner, EditKind.Do, "rename", null)).ShouldNotBeNull();
    }

    private static async Task CopyAsync(Databases from, Databases to)
    {
        await using var reading = (NpgsqlConnection)from.CreateDbContext().Database.GetDbConnection();
        await using var writing = (NpgsqlConnection)to.CreateDbContext().Database.GetDbConnection();
        await reading.OpenAsync();
        await writing.OpenAsync();
        foreach (var table in Tables)
        {
            var columns = (await ColumnsAsync(reading, table))
                .Intersect(await ColumnsAsync(writing, table))
                .Select(c => $"\"{c}\"")
                .ToList();
            columns.Count.ShouldBeGreaterThan(3, table);
            var list = string.Join(", ", columns);
            await using var read = reading.CreateCommand();
            read.CommandText = $"select json_agg(t)::text from (select {list} from \"{table}\") t";
            await using var write = writing.CreateCommand();
            write.CommandText = $"insert into \"{table}\" ({list}) select {list} from json_populate_recordset(null::\"{table}\", $1::json)";
            write.Parameters.Add(new NpgsqlParameter { Value = (string)(await read.ExecuteScalarAsync())! });
            (await write.ExecuteNonQueryAsync()).ShouldBeGreaterThan(0);
        }
    }

    private static async Task<List<string>> ColumnsAsync(NpgsqlConnection connection, string table)
    {
        await using var command = connection.CreateCommand();
        command.CommandText = "select column_name from information_schema.columns where table_name = $1";
        command.Parameters.Add(new NpgsqlParameter { Value = table });
        await using var rows = await command.ExecuteReaderAsync();
        var columns = new List<string>();
        while (await rows.ReadAsync())
        {
            columns.Add(rows.GetString(0));
        }

        return columns;
    }
}
