using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.RegularExpressions;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>The service units in <c>deploy</c>, with the settings that docs/operations.md tells: each is started by its own command, in the
/// environment that it names.</summary>
public sealed partial class UnitsTests : IAsyncDisposable
{
    private readonly List<Unit> units = [];

    [Fact]
    public async Task What_the_units_start_answers_and_writes_nothing_of_what_goes_well()
    {
        var database = await ServerProcess.NewDatabaseAsync();
        var alone = await StartAsync("ratiogon.service", database);
        await alone.ShouldAnswerAsync();
        await alone.DisposeAsync();
        var several = await StartAsync("ratiogon@.service", database);
        await several.ShouldAnswerAsync();
        var gateway = await StartAsync("ratiogon-gateway.service", database, several.Port);
        await gateway.ShouldAnswerAsync();
        await ShouldKnowWhoComesAsync(gateway);
        foreach (var unit in units)
        {
            unit.Written.ShouldNotContain(l => l.Contains("\"Information\"", StringComparison.Ordinal), unit.Name);
            unit.Written.ShouldNotContain(l => l.Contains("info:", StringComparison.Ordinal), unit.Name);
        }
    }

    [Fact]
    public void A_unit_comes_back_whatever_it_ended_by()
    {
        foreach (var file in Directory.GetFiles(Folder, "*.service"))
        {
            var text = File.ReadAllText(file);
            text.ShouldContain("Restart=always", Case.Sensitive, file);
            text.ShouldContain("StartLimitIntervalSec=0", Case.Sensitive, "five failures in ten seconds are no reason to stay away");
        }
    }

    /// <summary>With a proxy before the gateway that ends TLS, a page of the service's own is no other origin, its cookie is for TLS alone,
    /// and one address that asks too much is not everybody.</summary>
    private static async Task ShouldKnowWhoComesAsync(Unit gateway)
    {
        using var http = new HttpClient { BaseAddress = gateway.Address };
        async Task<HttpResponseMessage> SignUpAsync(string from, string origin, string password)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/api/account/sign-up");
            request.Content = JsonContent.Create(new { email = $"u{Guid.NewGuid():N}@ratiogon.example", password });
            request.Headers.Host = "parts.example";
            request.Headers.Add("Origin", origin);
            request.Headers.Add("X-Forwarded-For", from);
            request.Headers.Add("X-Forwarded-Proto", "https");
            return await http.SendAsync(request);
        }

        var came = await SignUpAsync("203.0.113.7", "https://parts.example", "moss nursery");
        came.StatusCode.ShouldBe(HttpStatusCode.OK, await came.Content.ReadAsStringAsync());
        came.Headers.GetValues("Set-Cookie").ShouldContain(c => c.StartsWith("ratiogon=") && c.Contains("secure"));
        (await SignUpAsync("203.0.113.7", "https://else.example", "moss nursery")).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        var refused = HttpStatusCode.OK;
        for (var n = 0; n < 100 && refused != HttpStatusCode.TooManyRequests; n++)
        {
            refused = (await SignUpAsync("203.0.113.7", "https://parts.example", "x")).StatusCode;
        }

        refused.ShouldBe(HttpStatusCode.TooManyRequests);
        (await SignUpAsync("203.0.113.8", "https://parts.example", "moss nursery")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var unit in units)
        {
            await unit.DisposeAsync();
        }
    }

    private static string Folder => Path.Combine(ServerProcess.Repository, "deploy");

    /// <summary>Starts what a unit starts, where the repository stands instead of the place that the docs put it, on a free port.</summary>
    private async Task<Unit> StartAsync(string name, string database, int before = 0)
    {
        var port = ServerProcess.FreePort();
        var text = (await File.ReadAllTextAsync(Path.Combine(Folder, name)))
            .Replace("/opt/ratiogon/app", ServerProcess.Repository, StringComparison.Ordinal)
            .Replace("--urls http://127.0.0.1:518%i", $"--urls http://127.0.0.1:{port}", StringComparison.Ordinal)
            .Replace("--urls http://127.0.0.1:5180", $"--urls http://127.0.0.1:{port}", StringComparison.Ordinal)
            .Replace("519%i", $"{ServerProcess.FreePort()}", StringComparison.Ordinal);
        var command = Value(text, "ExecStart").Split(' ');
        command[0].ShouldBe("/usr/bin/dotnet");
        var start = new ProcessStartInfo("dotnet", command[1..])
        {
            WorkingDirectory = Value(text, "WorkingDirectory"),
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        var docs = await File.ReadAllTextAsync(Path.Combine(ServerProcess.Repository, "docs", "operations.md"));
        var settings = text.Contains("EnvironmentFile=", StringComparison.Ordinal) ? Block().Match(docs).Groups[1].Value : "";
        foreach (Match setting in Setting().Matches(settings + string.Join("\n", Lines(text, "Environment").SelectMany(l => l.Split(' ')))))
        {
            if (!setting.Groups[1].Value.StartsWith("Servers__", StringComparison.Ordinal))
            {
                start.Environment[setting.Groups[1].Value] = setting.Groups[2].Value;
            }
        }

        // Other tests run beside this one.
        start.Environment["Workers__Ahead"] = "false";
        start.Environment["Database"] = database;
        start.Environment["Servers__0"] = $"http://127.0.0.1:{before}";
        var unit = new Unit(name, port, Process.Start(start)!);
        units.Add(unit);
        return unit;
    }

    private static string Value(string text, string key) => Lines(text, key).ShouldHaveSingleItem();

    private static IEnumerable<string> Lines(string text, string key) =>
        text.Split('\n').Where(l => l.StartsWith($"{key}=", StringComparison.Ordinal)).Select(l => l[(key.Length + 1)..]);

    [GeneratedRegex(@"`/etc/ratiogon\.env`.*?```sh\n(.*?)```", RegexOptions.Singleline)]
    private static partial Regex Block();

    [GeneratedRegex(@"^(\w+)=(.*)$", RegexOptions.Multiline)]
    private static partial Regex Setting();

    private sealed class Unit : IAsyncDisposable
    {
        private readonly Process process;
        private bool ended;

        public Unit(string name, int port, Process process)
        {
            (Name, Port, this.process) = (name, port, process);
            process.OutputDataReceived += (_, line) => Written.Enqueue(line.Data ?? "");
            process.ErrorDataReceived += (_, line) => Written.Enqueue(line.Data ?? "");
            process.BeginOutputReadLine();
            process.BeginErrorReadLine();
        }

        public string Name { get; }

        public int Port { get; }

        public Uri Address => new($"http://127.0.0.1:{Port}");

        public ConcurrentQueue<string> Written { get; } = [];

        /// <summary>Its work can be done, at the name that the settings allow.</summary>
        public async Task ShouldAnswerAsync()
        {
            using var http = new HttpClient { BaseAddress = Address };
            http.DefaultRequestHeaders.Host = "parts.example";
            for (var clock = Stopwatch.StartNew(); ; await Task.Delay(200))
            {
                clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(90), $"{Name}: {string.Join('\n', Written)}");
                process.HasExited.ShouldBeFalse($"{Name}: {string.Join('\n', Written)}");
                try
                {
                    if ((await http.GetAsync("/health/ready")).StatusCode == HttpStatusCode.OK)
                    {
                        (await http.GetStringAsync("/")).ShouldContain("Ratiogon");
                        return;
                    }
                }
                catch (HttpRequestException)
                {
                    // It does not listen yet.
                }
            }
        }

        public async ValueTask DisposeAsync()
        {
            if (ended)
            {
                return;
            }

            ended = true;
            process.Kill(entireProcessTree: true);
            await process.WaitForExitAsync();
            process.Dispose();
        }
    }
}
