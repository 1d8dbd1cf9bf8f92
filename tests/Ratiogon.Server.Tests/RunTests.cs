using System.Diagnostics;
using System.Net;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>The start command: what ends by itself is started again, nothing kept is lost, and one data folder has one of them.</summary>
public sealed class RunTests : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(90),
        Building = TimeSpan.FromMinutes(10);
    private readonly string data = Directory.CreateTempSubdirectory("ratiogon-run").FullName;
    private readonly int port = ServerProcess.FreePort();
    private readonly List<string> said = [];

    public void Dispose() => Directory.Delete(data, recursive: true);

    private Process Run(params string[] more)
    {
        var start = new ProcessStartInfo(Path.Combine(ServerProcess.Repository, "run"), ["--no-demo", "--port", $"{port}", .. more])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["RATIOGON_DATA"] = data;
        start.Environment["RATIOGON_DB_PORT"] = $"{ServerProcess.FreePort()}";
        start.Environment["Workers__Ahead"] = "false";
        var run = Process.Start(start)!;
        void Hear(object _, DataReceivedEventArgs line)
        {
            lock (said)
            {
                said.Add(line.Data ?? "");
            }
        }

        run.OutputDataReceived += Hear;
        run.ErrorDataReceived += Hear;
        run.BeginOutputReadLine();
        run.BeginErrorReadLine();
        return run;
    }

    private string Said()
    {
        lock (said)
        {
            return string.Join('\n', said);
        }
    }

    private async Task UntilAsync(Func<Task<bool>> holds, string what)
    {
        var clock = Stopwatch.StartNew();
        while (!await holds())
        {
            (clock.Elapsed < Patience).ShouldBeTrue($"{what}: {Said()}");
            await Task.Delay(100);
        }
    }

    [Fact]
    public async Task A_build_alone_starts_nothing()
    {
        using var run = Run("--build");
        await run.WaitForExitAsync().WaitAsync(Building);
        run.ExitCode.ShouldBe(0, Said());
        Said().ShouldContain("built");
        Directory.GetFileSystemEntries(data).ShouldBeEmpty();
        foreach (var made in (string[])["Ratiogon.Server", "Ratiogon.Gateway"])
        {
            File.Exists(Path.Combine(ServerProcess.Repository, "src", made, "bin", "Release", "net10.0", $"{made}.dll")).ShouldBeTrue();
        }
    }

    [Fact]
    public async Task A_server_and_a_database_that_die_are_started_again_and_nothing_is_lost()
    {
        using var run = Run();
        try
        {
            using var http = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{port}"), Timeout = TimeSpan.FromSeconds(5) };
            async Task<bool> Answers()
            {
                try
                {
                    return (await http.GetAsync("/api/health")).IsSuccessStatusCode;
                }
                catch (Exception e) when (e is HttpRequestException or TaskCanceledException)
                {
                    return false;
                }
            }

            async Task DiesAsync(int process, string what)
            {
                Process.GetProcessById(process).Kill();
                await UntilAsync(() => Task.FromResult(Said().Contains($"{what} ended by itself", StringComparison.Ordinal)), "it is said");
                await UntilAsync(Answers, "it answers again");
            }

            await UntilAsync(Answers, "it starts");
            await using var client = await Client.SignedUpAsync(new Client(http.BaseAddress));
            var id = await client.NewPartAsync();
            await client.DoAsync(id, Commands.Plate);

            // A second one on the same folder says so, and leaves the first alone.
            using (var second = Run())
            {
                await second.WaitForExitAsync();
                second.ExitCode.ShouldNotBe(0);
            }

            Said().ShouldMatch("another ./run is using the data folder|is taken");
            var server = int.Parse(
                await OutputAsync("pgrep", "-f", $"Ratiogon.Server.dll --urls http://127.0.0.1:{port} "),
                System.Globalization.CultureInfo.InvariantCulture
            );
            await DiesAsync(server, "the server");
            var postmaster = File.ReadLines(await PidFileAsync()).First();
            await DiesAsync(int.Parse(postmaster, System.Globalization.CultureInfo.InvariantCulture), "the database");
            (await client.PartAsync(id))["steps"]!.AsArray().Count.ShouldBe(2);
        }
        finally
        {
            await OutputAsync("kill", "-TERM", $"{run.Id}");
            await run.WaitForExitAsync();
        }

        Said().ShouldContain("stopped");
        File.Exists(Path.Combine(data, "run.pid")).ShouldBeFalse();
        (await OutputAsync("pgrep", "-f", $"127.0.0.1:{port} ")).ShouldBe("");
    }

    /// <summary>Where the cluster says which process it is; elsewhere when the folder is one that its user may not look into.</summary>
    private async Task<string> PidFileAsync()
    {
        var here = Path.Combine(data, "postgres", "cluster", "postmaster.pid");
        if (File.Exists(here))
        {
            return here;
        }

        var folder = await OutputAsync("sh", "-c", $"printf %s '{data}/postgres' | sha1sum | cut -c1-12");
        return Path.Combine("/var/lib/ratiogon", folder, "cluster", "postmaster.pid");
    }

    private static async Task<string> OutputAsync(string program, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true })!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return output.Trim();
    }
}
