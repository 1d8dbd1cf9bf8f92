using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace Ratiogon.Bench;

/// <summary>How long an edit of somebody signed in takes while others, who are not, send 500 requests a second: tries to sign in and to
/// sign up, questions for parts that are not theirs, pages, live links.</summary>
internal static class FloodBench
{
    private const int PerSecond = 500;
    private const double Aim = 200;
    private const int Edits = 150;

    public static async Task RunAsync(Uri address)
    {
        using var http = new HttpClient { BaseAddress = address };
        (
            await http.PostAsJsonAsync(
                "/api/account/sign-up",
                new { email = $"f{Guid.NewGuid():N}@ratiogon.example", password = "moss nursery" }
            )
        ).EnsureSuccessStatusCode();
        var part = await (await http.PostAsJsonAsync("/api/parts", new { name = "Flood" })).Content.ReadFromJsonAsync<JsonObject>();
        var (id, revision) = ((string)part!["id"]!, (long)part["revision"]!);
        async Task<List<double>> EditAsync()
        {
            var times = new List<double>();
            for (var i = 0; i < Edits; i++)
            {
                var clock = Stopwatch.StartNew();
                var answer = await http.PostAsJsonAsync(
                    $"/api/parts/{id}/commands",
                    new { revision, command = new { command = "rename-part", name = $"Flood {revision}" } }
                );
                if (!answer.IsSuccessStatusCode)
                {
                    throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
                }

                revision = (long)(await answer.Content.ReadFromJsonAsync<JsonObject>())!["revision"]!;
                times.Add(clock.Elapsed.TotalMilliseconds);
                await Task.Delay(60);
            }

            times.Sort();
            return times;
        }

        await EditAsync();
        var quiet = await EditAsync();
        using var stop = new CancellationTokenSource();
        var statuses = new System.Collections.Concurrent.ConcurrentDictionary<int, int>();
        var flood = FloodAsync(address, statuses, stop.Token);
        var clock = Stopwatch.StartNew();
        var loud = await EditAsync();
        var seconds = clock.Elapsed.TotalSeconds;
        await stop.CancelAsync();
        await flood;
        var (p95, answered) = (Chains.Percentile(loud, 0.95), statuses.Values.Sum() / seconds);
        Console.WriteLine(
            $"{$"an edit while {answered:0} requests a second come in unsigned", -72} p95 {p95, 8:0.0} ms   median "
                + $"{loud[Edits / 2]:0.0} ms   "
                + $"(quiet {Chains.Percentile(quiet, 0.95):0.0}, {quiet[Edits / 2]:0.0})   aim {Aim} ms   {(p95 <= Aim ? "met" : "MISSED")}"
        );
        Console.WriteLine($"   answers: {string.Join(", ", statuses.OrderBy(s => s.Key).Select(s => $"{s.Value} of {s.Key}"))}");
    }

    private static async Task FloodAsync(
        Uri address,
        System.Collections.Concurrent.ConcurrentDictionary<int, int> statuses,
        CancellationToken stop
    )
    {
        using var http = new HttpClient(new SocketsHttpHandler { UseCookies = false, MaxConnectionsPerServer = 100 })
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromSeconds(30),
        };
        using var tick = new PeriodicTimer(TimeSpan.FromMilliseconds(20));
        var (sent, under) = (0, new List<Task>());
        while (!stop.IsCancellationRequested)
        {
            await tick.WaitForNextTickAsync(CancellationToken.None);
            for (var i = 0; i < PerSecond / 50; i++)
            {
                under.Add(AskAsync(http, sent++, statuses));
            }

            under.RemoveAll(t => t.IsCompleted);
        }

        await Task.WhenAll(under);
    }

    private static async Task AskAsync(HttpClient http, int number, System.Collections.Concurrent.ConcurrentDictionary<int, int> statuses)
    {
        try
        {
            using var answer = await (
                (number % 6) switch
                {
                    0 => http.PostAsJsonAsync(
                        "/api/account/sign-in",
                        new { email = $"n{number % 50}@ratiogon.example", password = "wrong lantern" }
                    ),
                    1 => http.PostAsJsonAsync(
                        "/api/account/sign-up",
                        new { email = $"x{number}@ratiogon.example", password = "wrong lantern" }
                    ),
                    2 => http.GetAsync($"/api/parts/{Guid.NewGuid()}"),
                    3 => http.PostAsync("/live/negotiate?negotiateVersion=1", null),
                    4 => http.GetAsync("/"),
                    _ => http.PostAsync($"/api/parts/{Guid.NewGuid()}/commands", new StringContent(new string('x', 3000))),
                }
            );
            statuses.AddOrUpdate((int)answer.StatusCode, 1, (_, n) => n + 1);
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException)
        {
            statuses.AddOrUpdate(0, 1, (_, n) => n + 1);
        }
    }
}
