using System.Net;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Two servers on one database: whoever looks on at one sees what is done at the other, nothing is lost, what is gone is gone at
/// both.</summary>
public sealed class TwoServersTests(ITestOutputHelper output) : IAsyncDisposable
{
    private static readonly TimeSpan Soon = TimeSpan.FromSeconds(40);
    private readonly List<IAsyncDisposable> open = [];

    public async ValueTask DisposeAsync()
    {
        foreach (var one in open)
        {
            await one.DisposeAsync();
        }
    }

    /// <summary>Somebody at two servers on one database.</summary>
    private async Task<(Client Here, Client There)> TwoAsync()
    {
        var servers = await ServerProcess.StartTogetherAsync(2);
        var here = await Client.SignedUpAsync(servers[0]);
        var there = here.At(servers[1]);
        open.AddRange([here, there, .. servers]);
        return (here, there);
    }

    [Fact]
    public async Task What_is_done_at_one_is_seen_at_the_other()
    {
        var (here, there) = await TwoAsync();
        var id = await here.NewPartAsync();
        await here.DoAsync(id, Commands.Plate);
        var (_, models) = await there.OpenAsync(id);
        var revision = (long)(await there.PartAsync(id))["revision"]!;
        await Client.ModelAsync(models, revision);

        // An edit at one: the model comes at the other without anything being asked there.
        await here.DoAsync(id, new SetSize("plate", "length", "20 mm"));
        (await Client.ModelAsync(models, revision + 1).WaitAsync(Soon)).Bodies.Single().Volume.ShouldBe(80 * 50 * 20, 1e-6);
        ((long)(await there.PartAsync(id))["revision"]!).ShouldBe(revision + 1);
        (await there.StepAsync(id, "undo")).StatusCode.ShouldBe(HttpStatusCode.OK);
        await UntilAsync(async () => (long)(await here.PartAsync(id))["revision"]! == revision + 2);
        (await here.PartAsync(id)).ToJsonString().ShouldContain("12 mm");
    }

    [Fact]
    public async Task Editors_at_both_lose_nothing_and_collide_as_409()
    {
        var (here, there) = await TwoAsync();
        var id = await here.NewPartAsync();
        await here.DoAsync(id, Commands.Plate);
        var kept = new System.Collections.Concurrent.ConcurrentDictionary<long, string>();
        async Task EditAsync(Client editor, string name)
        {
            for (var done = 0; done < 25; )
            {
                var command = new SetParameter(name, $"{done + 1} mm");
                var answer = await editor.SendAsync(id, command);
                answer.StatusCode.ShouldBeOneOf(HttpStatusCode.OK, HttpStatusCode.Conflict);
                if (answer.StatusCode == HttpStatusCode.OK)
                {
                    kept.TryAdd((long)(await Client.JsonAsync(answer))["revision"]!, command.Words).ShouldBeTrue("one revision, one edit");
                    done++;
                }
            }
        }

        await Task.WhenAll(EditAsync(here, "a"), EditAsync(there, "b"));
        var history = JsonNode.Parse(await here.Http.GetStringAsync($"/api/parts/{id}/history"))!.AsArray();
        var words = history.ToDictionary(h => (long)h!["revision"]!, h => (string)h!["words"]!);
        kept.Count.ShouldBe(50);
        foreach (var (revision, said) in kept)
        {
            words[revision].ShouldBe(said);
        }

        var last = kept.Keys.Max();
        foreach (var editor in new[] { here, there })
        {
            await UntilAsync(async () => (long)(await editor.PartAsync(id))["revision"]! == last);
            (await editor.PartAsync(id))["parameters"]!.AsArray().Select(p => (string)p!["value"]!).ShouldBe(["25 mm", "25 mm"]);
        }
    }

    [Fact]
    public async Task What_is_deleted_at_one_is_gone_at_the_other_and_back_again()
    {
        var (here, there) = await TwoAsync();
        var id = await here.NewPartAsync();
        await here.DoAsync(id, Commands.Plate);
        var (hub, models) = await there.OpenAsync(id);
        await Client.ModelAsync(models, (long)(await there.PartAsync(id))["revision"]!);
        var told = new TaskCompletionSource<long>();
        hub.On<long>("Changed", told.SetResult);
        (await here.Http.DeleteAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await told.Task.WaitAsync(Soon)).ShouldBe(0, "whoever looks on is told, and finds that it is gone");
        await UntilAsync(async () => (await there.Http.GetAsync($"/api/parts/{id}")).StatusCode == HttpStatusCode.NotFound);
        (await there.SendAsync(id, new SetParameter("a", "1 mm"), 4)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await there.Http.PostAsync($"/api/parts/{id}/restore", null)).IsSuccessStatusCode.ShouldBeTrue();
        (await here.Http.GetAsync($"/api/parts/{id}")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    /// <summary>Three behind one address: two are killed in turn under somebody who edits; nothing that was acknowledged is lost, and it
    /// goes on within seconds.</summary>
    [Fact]
    public async Task Behind_one_address_any_server_may_die()
    {
        var (servers, client, id) = await BehindGatewayAsync(3);
        var (_, models) = await client.OpenAsync(id);
        var revision = (long)(await client.PartAsync(id))["revision"]!;
        await Client.ModelAsync(models, revision);
        var kept = new Dictionary<long, string>();
        var (longest, n) = (TimeSpan.Zero, 0);
        foreach (var server in servers.Take(2))
        {
            await server.KillAsync();
            var clock = System.Diagnostics.Stopwatch.StartNew();
            for (var done = 0; done < 5; )
            {
                var command = new SetParameter("a", $"{++n} mm");
                try
                {
                    var answer = await client.SendAsync(id, command);
                    if (answer.StatusCode == HttpStatusCode.OK)
                    {
                        kept.Add((long)(await Client.JsonAsync(answer))["revision"]!, command.Words);
                        done++;
                        longest = clock.Elapsed > longest ? clock.Elapsed : longest;
                        clock.Restart();
                    }
                    else
                    {
                        ((int)answer.StatusCode).ShouldBeOneOf(409, 503);
                        (answer.StatusCode == HttpStatusCode.Conflict || answer.Headers.RetryAfter is not null).ShouldBeTrue(
                            "pages ask again"
                        );
                    }
                }
                catch (System.Text.Json.JsonException)
                {
                    // The gateway's own answer, while it finds out.
                }

                await Task.Delay(100);
            }

            await server.StartProcessAsync();
            await Task.Delay(2500);
        }

        kept.Count.ShouldBe(10);
        longest.ShouldBeLessThan(TimeSpan.FromSeconds(40), "it goes on soon, on a busy machine as well");
        var history = JsonNode.Parse(await client.Http.GetStringAsync($"/api/parts/{id}/history"))!.AsArray();
        var words = history.ToDictionary(h => (long)h!["revision"]!, h => (string)h!["words"]!);
        foreach (var (at, said) in kept)
        {
            words[at].ShouldBe(said);
        }

        // The live link goes through as well, and shows what is newest.
        var (_, again) = await client.OpenAsync(id);
        (await Client.ModelAsync(again, kept.Keys.Max())).Steps.ShouldAllBe(s => s.State == "built");
    }

    /// <summary>A server that hangs keeps its connections: the gateway lets nobody wait for it.</summary>
    [Fact]
    public async Task Behind_the_gateway_a_server_that_hangs_is_left()
    {
        var (servers, client, id) = await BehindGatewayAsync(2);
        var hung = servers[await WorksAtAsync(client, id, servers)];
        await Hang.BeginAsync(hung.ProcessId);
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var (kept, words) = (false, "");
        for (var n = 1; !kept; n++)
        {
            clock.Elapsed.ShouldBeLessThan(Soon, "it goes on elsewhere");
            try
            {
                var command = new SetParameter("a", $"{n} mm");
                using var answer = await client.SendAsync(id, command);
                (kept, words) = (answer.StatusCode == HttpStatusCode.OK, command.Words);
                ((int)answer.StatusCode).ShouldBeOneOf(200, 409, 503);
            }
            catch (System.Text.Json.JsonException)
            {
                // The gateway's own answer.
                await Task.Delay(100);
            }
        }

        output.WriteLine($"kept {clock.Elapsed.TotalSeconds:0.0} s after the server began to hang");
        var history = JsonNode.Parse(await client.Http.GetStringAsync($"/api/parts/{id}/history"))!.AsArray();
        history.Select(h => (string)h!["words"]!).ShouldContain(words);
    }

    /// <summary>The server that a browser stays with: the one whose processor its requests take.</summary>
    private static async Task<int> WorksAtAsync(Client client, string part, IReadOnlyList<ServerProcess> servers)
    {
        TimeSpan[] Taken() =>
            [
                .. servers.Select(s =>
                {
                    using var process = System.Diagnostics.Process.GetProcessById(s.ProcessId);
                    return process.TotalProcessorTime;
                }),
            ];
        var before = Taken();
        for (var i = 0; i < 200; i++)
        {
            await client.PartAsync(part);
        }

        return Taken().Zip(before, (now, was) => now - was).Index().MaxBy(t => t.Item).Index;
    }

    /// <summary>Who looks at a part through another server than its owner notices nothing of that one's end but a pause: the part is
    /// taken up, edits go on, and the models come.</summary>
    [Fact]
    public async Task The_owner_may_die_under_those_who_look_on_elsewhere()
    {
        var servers = await ServerProcess.StartTogetherAsync(3);
        open.AddRange(servers);
        await using var owner = await Client.SignedUpAsync(servers[0]);
        await using var here = owner.At(servers[1]);
        await using var there = owner.At(servers[2]);
        var id = await owner.NewPartAsync();
        await owner.DoAsync(id, Commands.Plate);
        await owner.OpenAsync(id);
        var (_, models) = await here.OpenAsync(id);
        var (_, others) = await there.OpenAsync(id);
        var revision = (long)(await here.PartAsync(id))["revision"]!;
        await Client.ModelAsync(models, revision);
        var pauses = new List<double>();
        for (var round = 0; round < 2; round++)
        {
            await servers[0].KillAsync();
            var clock = System.Diagnostics.Stopwatch.StartNew();
            await here.DoAsync(id, new SetSize("plate", "length", $"{20 + round} mm"));
            pauses.Add(clock.Elapsed.TotalSeconds);
            revision++;
            foreach (var coming in new[] { models, others })
            {
                (await Client.ModelAsync(coming, revision).WaitAsync(Soon)).Bodies.Single().Volume.ShouldBe(80 * 50 * (20 + round), 1e-6);
            }

            pauses.Add(clock.Elapsed.TotalSeconds);
            await servers[0].StartProcessAsync();

            // Back, it follows the part as the others do: the second time somebody dies who does not own it.
            (await owner.StepAsync(id, "undo")).StatusCode.ShouldBe(HttpStatusCode.OK);
            revision++;
            await Client.ModelAsync(models, revision).WaitAsync(Soon);
        }

        output.WriteLine($"kept, and seen by all, seconds after the owner was killed: {string.Join(", ", pauses.Select(p => $"{p:0.0}"))}");
        pauses.Max().ShouldBeLessThan(30, "on a busy machine as well");
    }

    /// <summary>Somebody with a part, at a gateway before some servers.</summary>
    private async Task<(IReadOnlyList<ServerProcess> Servers, Client Client, string Part)> BehindGatewayAsync(int count)
    {
        var servers = await ServerProcess.StartTogetherAsync(count);
        open.AddRange(servers);
        open.Insert(0, new Ended(await GatewayAsync(servers, out var address)));
        var client = await Client.SignedUpAsync(new Client(address));
        open.Insert(0, client);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, Commands.Plate);
        return (servers, client, id);
    }

    /// <summary>A process that ends with the test.</summary>
    private sealed class Ended(System.Diagnostics.Process process) : IAsyncDisposable
    {
        public ValueTask DisposeAsync()
        {
            process.Kill(entireProcessTree: true);
            process.Dispose();
            return ValueTask.CompletedTask;
        }
    }

    private static Task<System.Diagnostics.Process> GatewayAsync(IReadOnlyList<ServerProcess> servers, out Uri address)
    {
        address = new Uri($"http://127.0.0.1:{ServerProcess.FreePort()}");
        var start = new System.Diagnostics.ProcessStartInfo(
            "dotnet",
            [
                Path.Combine(ServerProcess.Repository, "src", "Ratiogon.Gateway", "bin", "Release", "net10.0", "Ratiogon.Gateway.dll"),
                "--urls",
                address.ToString(),
            ]
        );
        for (var i = 0; i < servers.Count; i++)
        {
            start.Environment[$"Servers__{i}"] = servers[i].Address.ToString();
        }

        start.Environment["Logging__LogLevel__Default"] = "Error";
        return UntilItAnswersAsync(System.Diagnostics.Process.Start(start)!, address);
    }

    private static async Task<System.Diagnostics.Process> UntilItAnswersAsync(System.Diagnostics.Process gateway, Uri address)
    {
        using var http = new HttpClient { BaseAddress = address };
        await UntilAsync(async () =>
        {
            try
            {
                return (await http.GetAsync("/health/live")).IsSuccessStatusCode;
            }
            catch (HttpRequestException)
            {
                return false;
            }
        });
        return gateway;
    }

    private static async Task UntilAsync(Func<Task<bool>> holds)
    {
        using var limit = new CancellationTokenSource(Soon);
        while (!await holds())
        {
            await Task.Delay(50, limit.Token);
        }
    }
}
