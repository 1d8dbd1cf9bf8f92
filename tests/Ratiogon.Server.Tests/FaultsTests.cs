using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Npgsql;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>
/// A campaign of faults: two editors at one part while something is killed, stopped, cut or full at a random moment. After each round
/// every edit that was acknowledged stands in the history, at its revision, in order, and nothing that nobody sent; the part is what the
/// history says; undo is exact; whoever looks on has the newest model. RATIOGON_FAULTS says how many rounds, RATIOGON_FAULTS_SEED which.
/// </summary>
public sealed class FaultsTests(ITestOutputHelper output)
{
    private const int UsualRounds = 14,
        UsualOfThree = 8;
    private static readonly TimeSpan Round = TimeSpan.FromSeconds(1.2),
        Lost = TimeSpan.FromSeconds(14);

    /// <summary>For how long a server may show what was, where the one that it hears from is gone.</summary>
    private static readonly TimeSpan Unnoticed = TimeSpan.FromSeconds(20);

    private enum Fault
    {
        KillServer,
        KillWorker,
        StopServer,
        StopWorker,
        CutDatabase,
        DatabaseAway,
        DiskFull,
        CutLink,
        SlowReader,
        KillDatabase,

        /// <summary>One of several is away for longer than the others wait for it: they go on without it.</summary>
        LoseServer,
    }

    [Fact]
    public Task Whatever_fails_what_was_acknowledged_is_there() =>
        RunAsync(1, [.. Enum.GetValues<Fault>().Where(f => f != Fault.LoseServer)], UsualRounds);

    [Fact]
    public Task Whatever_fails_among_three_servers_what_was_acknowledged_is_there() =>
        RunAsync(
            3,
            [Fault.KillServer, Fault.LoseServer, Fault.StopServer, Fault.KillDatabase, Fault.CutDatabase, Fault.KillWorker],
            UsualOfThree
        );

    private async Task RunAsync(int count, Fault[] faults, int usual)
    {
        int Number(string name, int otherwise) =>
            int.TryParse(Environment.GetEnvironmentVariable(name), CultureInfo.InvariantCulture, out var n) ? n : otherwise;
        var (rounds, seed) = (Number("RATIOGON_FAULTS", usual), Number("RATIOGON_FAULTS_SEED", 1));
        await using var database = await DatabaseProcess.StartAsync();
        var servers = await ServerProcess.StartTogetherAsync(count, database.Cluster);
        await using var campaign = await Campaign.BeginAsync(database, servers, seed);
        for (var round = 0; round < rounds; round++)
        {
            await campaign.RunAsync(faults[round % faults.Length]);
        }

        output.WriteLine(campaign.Said());
        campaign.Acknowledged.ShouldBeGreaterThan(rounds);
        campaign.Slowest.ShouldBeLessThan(TimeSpan.FromSeconds(60), "a server that was killed answers again soon, even on a busy machine");
    }

    /// <summary>An edit that was sent: its words, and the revision that it was acknowledged with, or null where no answer came.</summary>
    private sealed record Sent(string Words, long? Revision);

    private sealed class Campaign(
        DatabaseProcess database,
        IReadOnlyList<ServerProcess> servers,
        Random random,
        Client[] editors,
        string part
    ) : IAsyncDisposable
    {
        private readonly List<Sent> sent = [];
        private readonly List<TimeSpan> recoveries = [];
        private readonly Dictionary<Fault, int> done = [];
        private int numbered,
            lost,
            numberedUndo,
            late;

        public int Acknowledged => sent.Count(s => s.Revision is not null);

        public TimeSpan Slowest => recoveries.DefaultIfEmpty().Max();

        /// <summary>The first editor opens the part, and so the first server owns it; the second is at the last.</summary>
        public static async Task<Campaign> BeginAsync(DatabaseProcess database, IReadOnlyList<ServerProcess> servers, int seed)
        {
            var first = await Client.SignedUpAsync(servers[0]);
            var id = await first.NewPartAsync();
            await first.DoAsync(id, Commands.Plate);
            await TellAsync(
                servers[0].Database,
                """
                create function no_room() returns trigger language plpgsql as $$
                begin raise exception 'could not extend file: No space left on device' using errcode = '53100'; end $$
                """
            );
            var campaign = new Campaign(database, servers, new Random(seed), [first, first.At(servers[^1])], id);
            campaign.sent.AddRange((await campaign.HistoryAsync()).Select(h => new Sent(h.Words, h.Revision)));
            return campaign;
        }

        public async ValueTask DisposeAsync()
        {
            foreach (var one in editors.Concat<IAsyncDisposable>(servers))
            {
                await one.DisposeAsync();
            }
        }

        public string Said() =>
            $"{done.Values.Sum()} rounds with {servers.Count} servers, {Acknowledged} edits acknowledged, {sent.Count - Acknowledged} without an answer, none lost; "
            + $"{lost} servers given up by the others, {late} times something came late; started again {recoveries.Count} times, back within {(recoveries.Count > 0 ? recoveries.Order().ElementAt(recoveries.Count / 2) : default).TotalSeconds:0.0} s "
            + $"(median), {Slowest.TotalSeconds:0.0} s at most";

        public async Task RunAsync(Fault fault)
        {
            try
            {
                await RoundAsync(fault);
            }
            catch (Exception e)
            {
                var logs = servers.Select(
                    (server, i) =>
                        $"-- server {i}, {(server.Runs ? "running" : "ended")}\n"
                        + string.Join('\n', server.Log.Where(l => !l.StartsWith("         at ", StringComparison.Ordinal)).TakeLast(60))
                );
                throw new InvalidOperationException($"after {fault}, round {done.Values.Sum()}: {e.Message}\n{string.Join('\n', logs)}", e);
            }
        }

        private async Task RoundAsync(Fault fault)
        {
            done[fault] = done.GetValueOrDefault(fault) + 1;
            var (hub, models) = await editors[0].OpenAsync(part);
            using var over = new CancellationTokenSource(Round);
            var editing = editors.Select(e => EditAsync(e, over.Token)).ToList();
            await Task.Delay(random.Next(50, 700));
            await HappenAsync(fault, hub);
            await Task.WhenAll(editing);
            await UntilThereAsync();
            await HoldsAsync();
            await UndoIsExactAsync();

            // Whoever looks on has what is newest; by a new link where the old one was cut.
            var revision = (long)(await editors[0].PartAsync(part))["revision"]!;
            if (hub.State != HubConnectionState.Connected)
            {
                (hub, models) = await editors[0].OpenAsync(part);
            }

            try
            {
                (await Client.ModelAsync(models, revision)).Steps.ShouldAllBe(s => s.State == "built");
            }
            catch (OperationCanceledException)
            {
                hub.State.ShouldBe(HubConnectionState.Connected);
                var there = await editors[0].PartAsync(part);
                throw new InvalidOperationException($"no model of revision {revision}; the part is at {there["revision"]}");
            }

            await hub.DisposeAsync();
        }

        /// <summary>Edits one after the other, each noted with what became of it.</summary>
        private async Task EditAsync(Client editor, CancellationToken over)
        {
            long? revision = null;
            while (!over.IsCancellationRequested)
            {
                var n = Interlocked.Increment(ref numbered);
                var command = new SetParameter($"p{n % 7}", $"{n} mm");
                try
                {
                    revision ??= (long)(await editor.PartAsync(part))["revision"]!;
                    var answer = await editor.SendAsync(part, command, revision);
                    var kept = answer.StatusCode == HttpStatusCode.OK ? (long?)(await Client.JsonAsync(answer))["revision"]! : null;
                    Note(await UnsureAsync(answer) ? null : answer.StatusCode, command.Words, kept);
                    revision = kept;
                }
                catch (Exception e)
                    when (e is HttpRequestException or IOException or TaskCanceledException or System.Text.Json.JsonException)
                {
                    Note(null, command.Words, null);
                    revision = null;
                    await Task.Delay(50, CancellationToken.None);
                }
            }
        }

        /// <summary>Whether an edit was refused for nobody could tell whether it was made.</summary>
        private static async Task<bool> UnsureAsync(HttpResponseMessage answer) =>
            answer.StatusCode == HttpStatusCode.Conflict && await Client.CodeAsync(answer) == "edit.unsure";

        private void Note(HttpStatusCode? status, string words, long? revision)
        {
            lock (sent)
            {
                // Refused as out of date: it is not there. Without an answer, or with 5xx: it may be.
                if (status is not (HttpStatusCode.Conflict or HttpStatusCode.TooManyRequests))
                {
                    (status is null or HttpStatusCode.OK || (int)status >= 500).ShouldBeTrue($"{status} for {words}");
                    sent.Add(new Sent(words, revision));
                }
            }
        }

        private async Task HappenAsync(Fault fault, HubConnection hub)
        {
            var workers = editors[0].Workers();
            var worker = workers.Count > 0 ? workers[random.Next(workers.Count)] : 0;
            var server = servers[random.Next(servers.Count)];
            switch (fault)
            {
                case Fault.KillServer:
                    await server.KillAsync();
                    await AgainAsync(server);
                    break;
                case Fault.LoseServer:
                    await Hang.BeginAsync(server.ProcessId);
                    await Task.Delay(Lost);
                    await Hang.EndAsync(server.ProcessId);

                    // It finds out that it was given up, and ends; who looks after it starts it again.
                    for (var waited = 0; server.Runs && waited < 100; waited++)
                    {
                        await Task.Delay(100);
                    }

                    if (!server.Runs)
                    {
                        lost++;
                        await AgainAsync(server);
                    }

                    break;
                case Fault.KillDatabase:
                    await database.KillAsync();
                    await Task.Delay(random.Next(50, 400));
                    await database.StartAgainAsync();
                    break;
                case Fault.KillWorker when worker > 0:
                    Client.Kill(worker);
                    break;
                case Fault.StopServer:
                    await StopAsync(server.ProcessId);
                    break;
                case Fault.StopWorker when worker > 0:
                    await StopAsync(worker);
                    break;
                case Fault.CutDatabase:
                    await CutAsync();
                    break;
                case Fault.DatabaseAway:
                    await AllowAsync(false);
                    await CutAsync();
                    await Task.Delay(random.Next(100, 600));
                    await AllowAsync(true);
                    break;
                case Fault.DiskFull:
                    await TellAsync(
                        servers[0].Database,
                        "create trigger no_room before insert on edits for each row execute function no_room()"
                    );
                    await Task.Delay(random.Next(100, 600));
                    await TellAsync(servers[0].Database, "drop trigger no_room on edits");
                    break;
                case Fault.CutLink:
                    await hub.DisposeAsync();
                    break;
                case Fault.SlowReader:
                    var (slow, _) = await editors[1].OpenAsync(part);
                    slow.On<RebuiltMessage>("Rebuilt", _ => Thread.Sleep(1500));
                    slow.On<long>("Changed", _ => Thread.Sleep(1500));
                    break;
            }
        }

        private async Task AgainAsync(ServerProcess server)
        {
            var clock = Stopwatch.StartNew();
            await server.StartProcessAsync();
            await UntilThereAsync();
            recoveries.Add(clock.Elapsed);
        }

        private async Task StopAsync(int pid)
        {
            await Hang.BeginAsync(pid);
            await Task.Delay(random.Next(100, 800));
            await Hang.EndAsync(pid);
        }

        private Task CutAsync() =>
            TellAsync(
                InCluster(),
                $"select pg_terminate_backend(pid) from pg_stat_activity where datname = '{new NpgsqlConnectionStringBuilder(servers[0].Database).Database}'"
            );

        private Task AllowAsync(bool open) =>
            TellAsync(
                InCluster(),
                $"alter database {new NpgsqlConnectionStringBuilder(servers[0].Database).Database} allow_connections {open}"
            );

        private string InCluster() =>
            new NpgsqlConnectionStringBuilder(servers[0].Database) { Database = "postgres", Pooling = false }.ToString();

        private static async Task TellAsync(string database, string sql)
        {
            await using var connection = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(database) { Pooling = false }.ToString());
            await connection.OpenAsync();
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            await command.ExecuteNonQueryAsync();
        }

        private async Task UntilThereAsync()
        {
            var clock = Stopwatch.StartNew();
            while (true)
            {
                string instead;
                try
                {
                    var answers = await Task.WhenAll(editors.Select(e => e.Http.GetAsync($"/api/parts/{part}")));
                    if (answers.All(a => a.IsSuccessStatusCode))
                    {
                        return;
                    }

                    var texts = await Task.WhenAll(answers.Select(a => a.Content.ReadAsStringAsync()));
                    instead = string.Join(
                        " / ",
                        answers.Zip(texts, (a, text) => $"{(int)a.StatusCode} {text[..Math.Min(text.Length, 300)]}")
                    );
                }
                catch (Exception e) when (e is HttpRequestException or TaskCanceledException)
                {
                    // Not there yet.
                    instead = e.Message;
                }

                clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(60), $"the server comes back: {instead}");
                await Task.Delay(20);
            }
        }

        private async Task<List<(long Revision, string Words, string How)>> HistoryAsync()
        {
            var answer = await editors[0].Http.GetAsync($"/api/parts/{part}/history");

            // A link to the database that broke is found out by who uses it first.
            for (
                var clock = Stopwatch.StartNew();
                answer.StatusCode == HttpStatusCode.ServiceUnavailable && clock.Elapsed < Unnoticed;
                late++
            )
            {
                await Task.Delay(20);
                answer = await editors[0].Http.GetAsync($"/api/parts/{part}/history");
            }

            answer.StatusCode.ShouldBe(HttpStatusCode.OK);
            return
            [
                .. JsonNode
                    .Parse(await answer.Content.ReadAsStringAsync())!
                    .AsArray()
                    .Select(s => ((long)s!["revision"]!, (string)s["words"]!, (string)s["how"]!))
                    .OrderBy(s => s.Item1),
            ];
        }

        /// <summary>The history against what was sent, and the part against the history.</summary>
        private async Task HoldsAsync()
        {
            // Together: what is still without its answer may come between.
            var (history, shown) = (await HistoryAsync(), await editors[0].PartAsync(part));
            for (var clock = Stopwatch.StartNew(); (long)shown["revision"]! != history[^1].Revision; late++)
            {
                clock.Elapsed.ShouldBeLessThan(Unnoticed, $"the part at {shown["revision"]}, its history at {history[^1].Revision}");
                await Task.Delay(20);
                (history, shown) = (await HistoryAsync(), await editors[0].PartAsync(part));
            }

            history.Select(h => h.Revision).ShouldBe(Enumerable.Range(1, history.Count).Select(r => (long)r), "no gap, nothing twice");
            var at = history.ToDictionary(h => h.Revision, h => h.Words);
            foreach (var edit in sent.Where(s => s.Revision is not null))
            {
                at.ShouldContainKeyAndValue(edit.Revision!.Value, edit.Words);
            }

            // Each was sent once: what stands there and was not acknowledged is one that got no answer.
            var unanswered = sent.Where(s => s.Revision is null).Select(s => s.Words).ToHashSet(StringComparer.Ordinal);
            var acknowledged = sent.Select(s => s.Revision).OfType<long>().ToHashSet();
            history.Where(h => h.How == "done" && !acknowledged.Contains(h.Revision)).ShouldAllBe(h => unanswered.Contains(h.Words));

            var values = new Dictionary<string, string>(StringComparer.Ordinal);
            foreach (var (_, words, how) in history.Where(h => h.Words.StartsWith("set p", StringComparison.Ordinal)))
            {
                how.ShouldNotBe("done again");
                var (name, value) = (words.Split(' ')[1], words.Split(" to ")[1]);
                if (how == "done")
                {
                    values[name] = value;
                }
            }

            var now = shown["parameters"]!.AsArray();
            var last = history[^1];
            if (last.How != "undone")
            {
                now.ToDictionary(p => (string)p!["name"]!, p => (string)p!["value"]!)
                    .Where(p => p.Key != "u")
                    .OrderBy(p => p.Key, StringComparer.Ordinal)
                    .ShouldBe(values.OrderBy(p => p.Key, StringComparer.Ordinal));
            }
        }

        /// <summary>An edit and its undo leave the part as it was, through a new session as well.</summary>
        private async Task UndoIsExactAsync()
        {
            var clock = Stopwatch.StartNew();
            var editor = editors[random.Next(editors.Length)];
            var whys = new List<string>();
            while (await WhyNotUndoneExactlyAsync(editor) is { } why)
            {
                whys.Add($"{clock.Elapsed.TotalSeconds:0.0} s: {why}");
                late++;
                clock.Elapsed.ShouldBeLessThan(Unnoticed, $"every server soon shows the part as it is\n{string.Join('\n', whys)}");
                await Task.Delay(50);
            }
        }

        /// <summary>Null, or what came between: an edit that is still without its answer, or one that this server has not heard of
        /// yet.</summary>
        private async Task<string?> WhyNotUndoneExactlyAsync(Client editor)
        {
            static string Whole(JsonObject of) => of["steps"]!.ToJsonString() + of["parameters"]!.ToJsonString();
            static long Revision(JsonObject of) => (long)of["revision"]!;
            var before = await editor.PartAsync(part);
            var edit = new SetParameter("u", $"{++numberedUndo} mm");
            var answer = await editor.SendAsync(part, edit, Revision(before));
            if (answer.StatusCode is HttpStatusCode.Conflict or HttpStatusCode.ServiceUnavailable)
            {
                Note(await UnsureAsync(answer) ? null : answer.StatusCode, edit.Words, null);
                return $"edit on {Revision(before)}: {(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}";
            }

            answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
            sent.Add(new Sent(edit.Words, Revision(await Client.JsonAsync(answer))));
            var between = await editor.PartAsync(part);
            if (Revision(between) != Revision(before) + 1)
            {
                return $"after an edit on {Revision(before)} it is at {Revision(between)}";
            }

            Whole(between).ShouldNotBe(Whole(before));
            var back = await editor.StepAsync(part, "undo");
            if (back.StatusCode is HttpStatusCode.Conflict or HttpStatusCode.ServiceUnavailable)
            {
                return $"undo of {Revision(between)}: {(int)back.StatusCode} {await back.Content.ReadAsStringAsync()}";
            }

            back.StatusCode.ShouldBe(HttpStatusCode.OK);
            var undone = Revision(await Client.JsonAsync(back));
            if (undone != Revision(before) + 2)
            {
                return $"undo of {Revision(between)} led to {undone}";
            }

            Whole(await editor.PartAsync(part)).ShouldBe(Whole(before));
            return null;
        }
    }
}
