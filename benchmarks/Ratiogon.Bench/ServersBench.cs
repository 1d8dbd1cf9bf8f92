using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.TestHost;

namespace Ratiogon.Bench;

/// <summary>
/// Edits a second and how long one takes with one, two and three servers on one database, while 300 parts are live and looked at. Each
/// server with its workers has the same share of a processor, whatever the machine has, so that the rows can be held against each other;
/// the database and this program have what is left. Twice: each editor at the server that owns its part, and at another one.
/// </summary>
internal static class ServersBench
{
    private const int Parts = 300,
        OfAccount = 30,
        Editors = 24;

    /// <summary>Of one processor.</summary>
    private const double Share = 0.3;
    private static readonly TimeSpan For = TimeSpan.FromSeconds(20);

    public static async Task RunAsync()
    {
        var first = 0.0;
        for (var count = 1; count <= 3; count++)
        {
            var servers = await ServerProcess.StartTogetherAsync(
                count,
                settings: new() { ["Workers__Count"] = "1", ["Limits__Requests"] = "100000000" }
            );
            try
            {
                var parts = await OpenAsync(servers);
                await EditAsync(parts, 0);
                var held = servers.Select(s => Quota.Hold(s.ProcessId, Share)).ToList();
                var own = await EditAsync(parts, 0);
                first = count == 1 ? own.Rate : first;
                Print(count, "at the owner", own, first);
                if (count > 1)
                {
                    Print(count, "at another server", await EditAsync(parts, 1), first);
                }

                await Task.WhenAll(parts.SelectMany(p => p.Links).Select(l => l.DisposeAsync().AsTask()));
                held.ForEach(h => h?.Dispose());
            }
            finally
            {
                foreach (var server in servers)
                {
                    await server.DisposeAsync();
                }
            }
        }
    }

    private static void Print(int servers, string where, Load load, double first) =>
        Console.WriteLine(
            $"{servers} servers, {Parts} live parts, {Editors} editors {where, -18} {load.Rate, 7:0} edits a second ({load.Rate / first:0.00} x), "
                + $"{load.Times[load.Times.Count / 2], 6:0} ms median, {Chains.Percentile(load.Times, 0.95), 6:0} ms p95, "
                + (
                    load.Refused.Count == 0
                        ? "none refused"
                        : string.Join(", ", load.Refused.GroupBy(w => w, (why, all) => $"{all.Count()} refused: {why}"))
                )
        );

    /// <summary>A part that somebody looks at, through each server the first of which owns it.</summary>
    private sealed record Live(string Id, HttpClient[] Servers, HubConnection[] Links);

    private sealed record Load(double Rate, List<double> Times, List<string> Refused);

    private static async Task<List<Live>> OpenAsync(IReadOnlyList<ServerProcess> servers)
    {
        var accounts = await Task.WhenAll(Enumerable.Range(0, Parts / OfAccount).Select(account => OpenAccountAsync(servers, account)));
        return [.. accounts.SelectMany(a => a)];
    }

    /// <summary>The parts of one account, each owned by the next of the servers.</summary>
    private static async Task<List<Live>> OpenAccountAsync(IReadOnlyList<ServerProcess> servers, int account)
    {
        var parts = new List<Live>();
        var cookies = new CookieContainer();
        var clients = servers
            .Select(s => new HttpClient(new HttpClientHandler { CookieContainer = cookies }) { BaseAddress = s.Address })
            .ToArray();
        (
            await clients[0]
                .PostAsJsonAsync("/api/account/sign-up", new { email = $"s{Guid.NewGuid():N}@ratiogon.example", password = "moss nursery" })
        ).EnsureSuccessStatusCode();
        for (var i = 0; i < OfAccount; i++)
        {
            var owner = ((account * OfAccount) + i) % servers.Count;
            HttpClient[] from = [.. clients.Skip(owner), .. clients.Take(owner)];
            var made = await from[0].PostAsJsonAsync("/api/parts", new { name = $"Live {i}" });
            var id = (string)(await made.Content.ReadFromJsonAsync<JsonObject>())!["id"]!;
            await LoadBench.SendAsync(from[0], id, 1, Plate());
            var hub = new HubConnectionBuilder()
                .WithUrl(new Uri(from[0].BaseAddress!, "/live"), o => o.Cookies = cookies)
                .AddMessagePackProtocol()
                .Build();
            await hub.StartAsync();
            await hub.InvokeAsync("Open", Guid.Parse(id));
            parts.Add(new Live(id, from, [hub]));
        }

        return parts;
    }

    /// <param name="parts">All of them; each editor works at some.</param>
    /// <param name="other">How many servers on from the owner the editors are.</param>
    private static async Task<Load> EditAsync(List<Live> parts, int other)
    {
        var (times, refused) = (new List<double>(), new List<string>());
        var clock = Stopwatch.StartNew();
        await Task.WhenAll(
            Enumerable
                .Range(0, Editors)
                .Select(async editor =>
                {
                    var mine = parts.Where((_, i) => i % Editors == editor).ToList();
                    for (var n = 0; clock.Elapsed < For; n++)
                    {
                        var part = mine[n % mine.Count];
                        var at = part.Servers[other];
                        var revision = (long)(await at.GetFromJsonAsync<JsonObject>($"/api/parts/{part.Id}"))!["revision"]!;
                        var edit = Stopwatch.StartNew();
                        using var answer = await LoadBench.SendAsync(
                            at,
                            part.Id,
                            revision,
                            new SetSize("plate", "length", $"{10 + (n % 50)} mm")
                        );
                        var why = answer.IsSuccessStatusCode
                            ? null
                            : $"{(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}";
                        lock (times)
                        {
                            times.Add(edit.Elapsed.TotalMilliseconds);
                            refused.AddRange(why is null ? [] : [why]);
                        }
                    }
                })
        );
        var rate = times.Count / clock.Elapsed.TotalSeconds;
        times.Sort();
        return new Load(rate, times, refused);
    }

    private static Several Plate() =>
        new([LoadBench.Outline(), new AddStep(new ExtrudeStep("plate", 0, "Plate", LoadBench.Outlined) { Length = "10 mm" })], "a plate");

    /// <summary>A share of a processor for a process and those that it starts, by a control group (Linux cgroup, version 1); none where
    /// that cannot be had.</summary>
    private sealed class Quota : IDisposable
    {
        private const string Groups = "/sys/fs/cgroup/cpu";
        private const int Period = 100_000;
        private readonly string group = Path.Combine(Groups, $"ratiogon-{Guid.NewGuid():N}");

        public static Quota? Hold(int process, double share)
        {
            try
            {
                var quota = new Quota();
                Directory.CreateDirectory(quota.group);
                File.WriteAllText(Path.Combine(quota.group, "cpu.cfs_period_us"), $"{Period}");
                File.WriteAllText(Path.Combine(quota.group, "cpu.cfs_quota_us"), $"{(int)(Period * share)}");
                var tree = Processes.TreeOf(process);
                foreach (var pid in tree)
                {
                    File.WriteAllText(Path.Combine(quota.group, "cgroup.procs"), $"{pid}");
                }

                return quota;
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                Console.WriteLine("(no control groups here: the servers share the processors as they like)");
                return null;
            }
        }

        public void Dispose()
        {
            foreach (var pid in File.ReadAllLines(Path.Combine(group, "cgroup.procs")))
            {
                File.WriteAllText(Path.Combine(Groups, "cgroup.procs"), pid);
            }

            Directory.Delete(group);
        }
    }
}
