using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Npgsql;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>What whoever runs the service relies on: health, metrics and traces, logs, backup and restore.</summary>
public class OperatingTests
{
    [Fact]
    public async Task Health_says_whether_the_process_answers_and_whether_it_can_do_its_work()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        using var http = new HttpClient { BaseAddress = server.Address };
        var live = await http.GetAsync("/health/live");
        live.StatusCode.ShouldBe(HttpStatusCode.OK);
        var ready = JsonNode.Parse(await http.GetStringAsync("/health/ready"))!;
        ((string)ready["checks"]!["database"]!["status"]!).ShouldBe("healthy");
        ready["checks"]!.AsObject().Select(c => c.Key).ShouldBe(["database", "servers", "workers", "disk"], ignoreOrder: true);
        (await http.GetAsync("/health/else")).StatusCode.ShouldBe(HttpStatusCode.NotFound, "never the page");

        // The database goes: live, but not ready.
        var own = new NpgsqlConnectionStringBuilder(server.Database);
        await using (
            var connection = new NpgsqlConnection(
                new NpgsqlConnectionStringBuilder(server.Database) { Database = "postgres", Pooling = false }.ToString()
            )
        )
        {
            await connection.OpenAsync();
            await using var close = connection.CreateCommand();
            close.CommandText =
                $"alter database {own.Database} allow_connections false; select pg_terminate_backend(pid) from "
                + $"pg_stat_activity where datname = '{own.Database}'";
            await close.ExecuteNonQueryAsync();
        }

        var away = await http.GetAsync("/health/ready");
        away.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
        ((string)JsonNode.Parse(await away.Content.ReadAsStringAsync())!["status"]!).ShouldBe("unhealthy");
        (await http.GetAsync("/health/live")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    /// <summary>A collector of our own: it takes what is sent by OTLP over HTTP and keeps it.</summary>
    private sealed class Collector : IAsyncDisposable
    {
        private readonly HttpListener listener = new();
        private readonly System.Collections.Concurrent.ConcurrentDictionary<string, string> heard = new();
        private readonly Task listening;

        public Collector()
        {
            Port = ServerProcess.FreePort();
            listener.Prefixes.Add($"http://127.0.0.1:{Port}/");
            listener.Start();
            listening = ListenAsync();
        }

        public int Port { get; }

        public string Heard(string path) => heard.GetValueOrDefault(path, "");

        public async ValueTask DisposeAsync()
        {
            listener.Stop();
            await listening;
        }

        private async Task ListenAsync()
        {
            try
            {
                while (true)
                {
                    var context = await listener.GetContextAsync();
                    using var body = new MemoryStream();
                    await context.Request.InputStream.CopyToAsync(body);

                    // Names stand in Protobuf as they are.
                    heard.AddOrUpdate(
                        context.Request.Url!.AbsolutePath,
                        _ => Encoding.Latin1.GetString(body.ToArray()),
                        (_, old) => old + Encoding.Latin1.GetString(body.ToArray())
                    );
                    context.Response.Close();
                }
            }
            catch (Exception e) when (e is HttpListenerException or ObjectDisposedException)
            {
                // It was stopped.
            }
        }
    }

    [Fact]
    public async Task Metrics_and_traces_are_sent_where_it_is_said_and_logs_are_json_on_wish()
    {
        await using var collector = new Collector();
        await using var server = await ServerProcess.StartAsync(
            demo: false,
            new()
            {
                ["Telemetry__Endpoint"] = $"http://127.0.0.1:{collector.Port}",
                ["Telemetry__Protocol"] = "http",
                ["Telemetry__Every"] = "500",
                ["Logs__Format"] = "json",
                ["Logging__LogLevel__Ratiogon.Server.Accounts"] = "Information",
            }
        );
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        await client.PartAsync(id);
        (await client.Http.GetAsync($"/api/parts/{id}/holes")).EnsureSuccessStatusCode();
        string[] metrics =
        [
            "ratiogon.edit.duration",
            "ratiogon.rebuild.duration",
            "ratiogon.worker.wait",
            "ratiogon.worker.waiting",
            "ratiogon.part.live",
            "http.server.request.duration",
        ];
        string[] spans = ["edit", "rebuild", "postgresql"];
        var clock = Stopwatch.StartNew();
        bool All() =>
            metrics.All(m => collector.Heard("/v1/metrics").Contains(m, StringComparison.Ordinal))
            && spans.All(s => collector.Heard("/v1/traces").Contains(s, StringComparison.Ordinal));
        while (!All() && clock.Elapsed < TimeSpan.FromSeconds(40))
        {
            await Task.Delay(200);
        }

        metrics.Where(m => !collector.Heard("/v1/metrics").Contains(m, StringComparison.Ordinal)).ShouldBeEmpty();
        spans.Where(s => !collector.Heard("/v1/traces").Contains(s, StringComparison.Ordinal)).ShouldBeEmpty();
        var line = server.Log.First(l => l.Contains("made from", StringComparison.Ordinal));
        ((string)JsonNode.Parse(line)!["LogLevel"]!).ShouldBe("Information");
        ((string)JsonNode.Parse(line)!["State"]!["How"]!).ShouldBe("made");
    }

    private static async Task<(int Code, string Said)> ScriptAsync(string name, string database, params string[] arguments)
    {
        var start = new ProcessStartInfo(Path.Combine(ServerProcess.Repository, name), arguments)
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["RATIOGON_DATABASE"] = database;
        using var script = Process.Start(start)!;
        var error = script.StandardError.ReadToEndAsync();
        var said = await script.StandardOutput.ReadToEndAsync();
        await script.WaitForExitAsync();
        return (script.ExitCode, said + await error);
    }

    [Fact]
    public async Task What_was_backed_up_is_restored_elsewhere_whole()
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory("ratiogon-backup").FullName, "all.backup");
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = new Client(server);
        var credentials = new { email = $"u{Guid.NewGuid():N}@ratiogon.example", password = "moss nursery" };
        (await client.Http.PostAsJsonAsync("/api/account/sign-up", credentials)).EnsureSuccessStatusCode();
        var id = await client.NewPartAsync("Kept");
        await client.DoAsync(id, Commands.Plate);
        await client.DoAsync(id, new SetSize("plate", "length", "17 mm"));
        var before = await client.PartAsync(id);
        var (code, said) = await ScriptAsync("backup", server.Database, file);
        code.ShouldBe(0, said);
        (await ScriptAsync("backup", server.Database, file)).Said.ShouldContain("is there already");

        // What comes after is not in it.
        await client.DoAsync(id, new SetSize("plate", "length", "18 mm"));
        var elsewhere = await ServerProcess.NewDatabaseAsync();
        (code, said) = await ScriptAsync("restore", elsewhere, file);
        code.ShouldBe(0, said);
        said.ShouldContain("restored: 1 parts of 1 accounts");
        (await ScriptAsync("restore", elsewhere, file)).Said.ShouldContain("is not empty");
        (code, said) = await ScriptAsync("restore", elsewhere, file, "--over");
        code.ShouldBe(0, said);
        (await ScriptAsync("restore", elsewhere, Path.Combine(ServerProcess.Repository, "README.md"), "--over")).Said.ShouldContain(
            "is no backup"
        );

        await using var second = await ServerProcess.StartOnAsync(elsewhere);
        await using var again = new Client(second);
        (await again.Http.PostAsJsonAsync("/api/account/sign-in", credentials)).EnsureSuccessStatusCode();
        var after = await again.PartAsync(id);
        after.ToJsonString().ShouldBe(before.ToJsonString());
        (await again.StepAsync(id, "undo")).EnsureSuccessStatusCode();
        ((string)(await again.PartAsync(id))["steps"]![1]!["sizes"]![0]!["formula"]!).ShouldBe("12 mm", "its history came along");

        // Sessions are sealed with keys of the database: a cookie of before is good at the other server.
        using var carried = new HttpClient(new HttpClientHandler { UseCookies = false }) { BaseAddress = second.Address };
        carried.DefaultRequestHeaders.Add("Cookie", client.Cookie);
        (await carried.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }
}
