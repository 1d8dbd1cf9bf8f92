using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Cluster;
using Ratiogon.Server.Parts;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Live parts under stress, in this process: no rebuild is lost, nobody waits without end, none lives twice.</summary>
[Collection("workers of this process")]
public sealed class PartSessionsTests : IAsyncLifetime
{
    private readonly Guid owner = Guid.CreateVersion7();
    private readonly Heard heard = new();
    private readonly WorkerPool workers = new(
        Options.Create(new WorkerOptions { Count = 1, Ahead = false }),
        NullLogger<WorkerPool>.Instance
    );
    private readonly List<IHost> clusters = [];
    private Databases databases = null!;
    private string connection = "";
    private PartStore store = null!;

    public async ValueTask InitializeAsync()
    {
        connection = await ServerProcess.NewDatabaseAsync();
        databases = new Databases(connection);
        await using var db = databases.CreateDbContext();
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
        store = new PartStore(databases);
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var cluster in clusters)
        {
            await cluster.StopAsync();
            cluster.Dispose();
        }

        await workers.DisposeAsync();
    }

    private async Task<PartSessions> SessionsAsync(LiveOptions? options = null)
    {
        var host = Host.CreateApplicationBuilder();
        host.Logging.ClearProviders();
        host.Services.AddSingleton(store)
            .AddSingleton(new Keeper(store, new ModelStore(databases), workers, TimeProvider.System, NullLogger<Keeper>.Instance))
            .AddSingleton(workers)
            .AddSingleton<IPartAudience>(heard)
            .AddSingleton(Options.Create(options ?? new LiveOptions()))
            .AddSingleton<PartSessions>()
            .AddSingleton<IPartSessions>(s => s.GetRequiredService<PartSessions>());
        host.AddCluster();
        var cluster = host.Build();
        clusters.Add(cluster);
        await cluster.StartAsync();
        return cluster.Services.GetRequiredService<PartSessions>();
    }

    private async Task<Guid> NewAsync() => await store.CreateAsync(owner, new Part { Name = "P" });

    [Fact]
    public async Task Every_change_is_built_however_they_come()
    {
        using var sessions = await SessionsAsync();
        var id = await NewAsync();
        var session = (await sessions.OpenAsync(id, owner))!;
        var random = new Random(3);
        for (var burst = 0; burst < 25; burst++)
        {
            var waits = Enumerable.Range(0, 8).Select(_ => random.Next(4)).ToList();
            await Task.WhenAll(
                waits.Select(
                    async (wait, i) =>
                    {
                        await Task.Delay(wait);
                        (await session.ApplyAsync(new RenamePart($"{burst} {i}"), owner)).Done.ShouldBeTrue();
                    }
                )
            );
            var at = await session.SettledAsync().WaitAsync(TimeSpan.FromSeconds(20));
            (at.Settled, at.Revision).ShouldBe((true, 1 + (8 * (burst + 1))));
        }

        heard.Built[id].Last().ShouldBe(201, "the last is told");
        heard.Built[id].ShouldBeInOrder();
    }

    [Fact]
    public async Task A_change_that_another_server_made_is_taken_and_built()
    {
        using var sessions = await SessionsAsync();
        var id = await NewAsync();
        var session = (await sessions.OpenAsync(id, owner))!;
        await session.SettledAsync();
        for (var i = 0; i < 20; i++)
        {
            var before = (await store.LoadAsync(id, owner))!;
            (
                await store.SaveAsync(before, before.Part with { Name = $"elsewhere {i}" }, owner, EditKind.Do, "elsewhere", null)
            ).ShouldNotBeNull();
            (await session.ApplyAsync(new RenamePart($"here {i}"), owner)).Refusal!.Code.ShouldBe("edit.stale");
            var at = await session.SettledAsync().WaitAsync(TimeSpan.FromSeconds(20));
            (at.Stored.Part.Name, at.Revision).ShouldBe(($"elsewhere {i}", before.Revision + 1));
            (await session.ApplyAsync(new RenamePart($"here {i}"), owner)).Done.ShouldBeTrue("what was looked at again");
        }
    }

    [Fact]
    public async Task What_was_heard_is_there_or_who_heard_it_knows_that_it_is_not()
    {
        using var sessions = await SessionsAsync();
        var id = await NewAsync();
        var session = (await sessions.OpenAsync(id, owner))!;
        await session.SettledAsync();

        // Another server, by its own connections.
        var there = new Npgsql.NpgsqlConnectionStringBuilder(connection) { ApplicationName = "there" };
        var theirs = new PartStore(new Databases(there.ToString()));
        var missed = 0;
        for (var i = 0; i < 12; i++)
        {
            var before = (await theirs.LoadAsync(id, owner))!;
            var saved = (await theirs.SaveAsync(before, before.Part with { Name = $"N{i}" }, owner, EditKind.Do, "elsewhere", null))!;
            if (i % 2 == 0)
            {
                await using var end = new Npgsql.NpgsqlCommand(
                    "select count(pg_terminate_backend(pid)) from pg_stat_activity "
                        + "where datname = current_database() and application_name <> 'there'",
                    new Npgsql.NpgsqlConnection(there.ToString())
                );
                await using var link = end.Connection!;
                await link.OpenAsync();
                await end.ExecuteScalarAsync();
            }

            while (true)
            {
                try
                {
                    await sessions.HearAsync(id, owner, saved.Revision);
                    break;
                }
                catch (Exception e) when (Safety.Away.Is(e))
                {
                    missed++;
                }
            }

            session.Now.Stored.Revision.ShouldBe(saved.Revision);
        }

        missed.ShouldBeGreaterThan(0, "the database ended what was asked through");
    }

    /// <summary>A server that was given up keeps an edit at the last moment and tells of it: who owns the part by then has not heard.</summary>
    [Fact]
    public async Task Who_asks_may_know_more_than_who_owns()
    {
        using var sessions = await SessionsAsync();
        var id = await NewAsync();
        var session = (PartSession)(await sessions.OpenAsync(id, owner))!;
        await session.SettledAsync();
        for (var i = 0; i < 5; i++)
        {
            var before = (await store.LoadAsync(id, owner))!;
            var saved = (await store.SaveAsync(before, before.Part with { Name = $"late {i}" }, owner, EditKind.Do, "late", null))!;
            await session.BecameAsync(MomentNews.Of(saved, null, null, null));
            session.Now.Stored.Revision.ShouldBe(saved.Revision);
            if (i % 2 == 0)
            {
                (await session.ApplyAsync(new RenamePart($"N{i}"), owner, saved.Revision)).Done.ShouldBeTrue();
                session.Now.Stored.Revision.ShouldBe(saved.Revision + 1);
            }
            else
            {
                (await session.FollowAsync()).ShouldBeTrue();
            }

            var at = await session.SettledAsync().WaitAsync(TimeSpan.FromSeconds(20));
            at.Revision.ShouldBe(session.Now.Stored.Revision, "the owner builds it");
        }
    }

    /// <summary>A message that does not reach who follows is not the end of following.</summary>
    [Fact]
    public async Task Who_was_not_reached_is_told_all_of_it_anew()
    {
        using var sessions = await SessionsAsync();
        var id = await NewAsync();
        var session = (await sessions.OpenAsync(id, owner))!;
        await session.SettledAsync();
        var cluster = clusters[^1].Services.GetRequiredService<IGrainFactory>();
        var deaf = new Deaf();
        var reference = cluster.CreateObjectReference<IPartFollower>(deaf);
        (await cluster.GetGrain<IPartGrain>(id, owner.ToString("N")).FollowAsync(reference, new Known(Guid.Empty, 1, 0))).ShouldNotBeNull();
        for (var i = 0; i < 3; i++)
        {
            (await session.ApplyAsync(new RenamePart($"N{i}"), owner)).Done.ShouldBeTrue();
        }

        var told = await deaf.Told.Task.WaitAsync(TimeSpan.FromSeconds(30));
        var change = System.Text.Json.JsonSerializer.Deserialize<StoredChange>(told.Travel().Stored!, PartJson.Compact)!;
        change.Since.ShouldBe(0, "whether it had the one before nobody knows");
        change.Revision.ShouldBeInRange(3, 4);
        GC.KeepAlive(deaf);
    }

    /// <summary>Does not take what it is told first.</summary>
    private sealed class Deaf : IPartFollower
    {
        private int times;

        public TaskCompletionSource<MomentNews> Told { get; } = new();

        public Task BecameAsync(MomentNews news)
        {
            if (Interlocked.Increment(ref times) == 1)
            {
                throw new Orleans.Runtime.SiloUnavailableException();
            }

            if (news.Travel().Stored is not null)
            {
                Told.TrySetResult(news);
            }

            return Task.CompletedTask;
        }

        public Task BuildingAsync(string? step) => Task.CompletedTask;

        public Task ShareAsync(double share) => Task.CompletedTask;
    }

    [Fact]
    public async Task Many_who_open_one_part_at_once_have_the_same_and_a_stranger_has_none()
    {
        using var sessions = await SessionsAsync();
        var ids = new List<Guid>();
        for (var i = 0; i < 6; i++)
        {
            ids.Add(await NewAsync());
        }

        var opened = await Task.WhenAll(
            Enumerable
                .Range(0, 240)
                .Select(i =>
                    Task.Run(async () =>
                        (Id: ids[i % 6], Session: await sessions.OpenAsync(ids[i % 6], i % 5 == 4 ? Guid.NewGuid() : owner))
                    )
                )
        );
        opened.Count(o => o.Session is null).ShouldBe(48);
        opened.Where(o => o.Session is not null).GroupBy(o => o.Id).ShouldAllBe(g => g.Select(o => o.Session).Distinct().Count() == 1);
        sessions.Count.ShouldBe(6);
    }

    [Fact]
    public async Task Who_follows_a_part_keeps_it_live_and_the_others_go()
    {
        using var sessions = await SessionsAsync(new LiveOptions { Idle = TimeSpan.FromSeconds(1) });
        var (followed, left) = (await NewAsync(), await NewAsync());
        var session = (await sessions.OpenAsync(followed, owner))!;
        var other = (await sessions.OpenAsync(left, owner))!;
        var watching = session.Watch();
        using (other.Watch())
        {
            await Task.Delay(2500);
            sessions.Count.ShouldBe(2, "both are followed, and nobody asked for them");
        }

        await UntilAsync(() => sessions.Count == 1);
        (await sessions.OpenAsync(followed, owner)).ShouldBeSameAs(session);
        watching.Dispose();
        watching.Dispose();
        await UntilAsync(() => sessions.Count == 0);
        (await sessions.OpenAsync(followed, owner)).ShouldNotBeSameAs(session, "it begins anew");

        // Who still holds one that is live no longer waits for nothing.
        await session.SettledAsync().WaitAsync(TimeSpan.FromSeconds(5));
    }

    [Fact]
    public async Task The_memory_of_parts_that_nobody_follows_comes_back()
    {
        using var sessions = await SessionsAsync(new LiveOptions { Idle = TimeSpan.FromSeconds(1) });
        var gone = await OpenedAsync(sessions);
        await UntilAsync(() => sessions.Count == 0);
        await UntilAsync(() =>
        {
            GC.Collect();
            GC.WaitForPendingFinalizers();
            return !gone.IsAlive;
        });
    }

    [System.Runtime.CompilerServices.MethodImpl(System.Runtime.CompilerServices.MethodImplOptions.NoInlining)]
    private async Task<WeakReference> OpenedAsync(PartSessions sessions)
    {
        var session = (await sessions.OpenAsync(await NewAsync(), owner))!;
        await session.SettledAsync();
        return new WeakReference(session);
    }

    [Fact]
    public void What_people_typed_begins_no_line_of_the_log() =>
        OwnedPart.OneLine("rename to a\r\nfail: forged\u2028\0").ShouldBe("rename to a  fail: forged  ");

    private static async Task UntilAsync(Func<bool> done)
    {
        for (var tries = 0; !done(); tries++)
        {
            tries.ShouldBeLessThan(200);
            await Task.Delay(50);
        }
    }

    private sealed class Heard : IPartAudience
    {
        public ConcurrentDictionary<Guid, List<long>> Built { get; } = new();

        public Task ChangedAsync(Guid part, long revision) => Task.CompletedTask;

        public Task RebuiltAsync(Guid id, Part part, long revision, RebuildResult result)
        {
            Built.GetOrAdd(id, _ => []).Add(revision);
            return Task.CompletedTask;
        }

        public Task BuildingAsync(Guid part, string? step) => Task.CompletedTask;

        public Task ShareAsync(Guid part, double share) => Task.CompletedTask;
    }
}
