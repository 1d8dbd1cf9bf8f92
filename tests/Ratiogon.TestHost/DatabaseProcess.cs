using System.Diagnostics;

namespace Ratiogon.TestHost;

/// <summary>A PostgreSQL of its own, started as <c>./run</c> starts one, that a test may kill.</summary>
public sealed class DatabaseProcess : IAsyncDisposable
{
    private readonly string folder = Path.Combine(Path.GetTempPath(), $"ratiogon-db-{Guid.NewGuid():N}");
    private readonly int port = ServerProcess.FreePort();
    private string data = "";

    private DatabaseProcess() { }

    /// <summary>A connection string into it.</summary>
    public string Cluster { get; private set; } = "";

    public static async Task<DatabaseProcess> StartAsync()
    {
        var database = new DatabaseProcess();
        await database.StartAgainAsync();
        return database;
    }

    /// <summary>What is left of the one before may hold its memory for a moment.</summary>
    public async Task StartAgainAsync()
    {
        for (var tries = 1; ; tries++)
        {
            var start = new ProcessStartInfo(
                "bash",
                ["-c", $"source scripts/common.sh; start_postgres '{folder}' {port} >&2; echo \"$database\"; echo \"$pg_data\""]
            )
            {
                WorkingDirectory = ServerProcess.Repository,
                RedirectStandardOutput = true,
            };
            using var bash = Process.Start(start)!;
            var said = (await bash.StandardOutput.ReadToEndAsync()).Trim().Split('\n');
            await bash.WaitForExitAsync();
            if (bash.ExitCode == 0 && said.Length >= 2)
            {
                (Cluster, data) = (said[^2], said[^1]);
                return;
            }

            if (tries == 20)
            {
                throw new InvalidOperationException("the database does not start");
            }

            await Task.Delay(500);
        }
    }

    /// <summary>Ends it at once, as a power cut would.</summary>
    public async Task KillAsync()
    {
        var pid = int.Parse(
            (await File.ReadAllLinesAsync(Path.Combine(data, "postmaster.pid")))[0],
            System.Globalization.CultureInfo.InvariantCulture
        );
        using var postmaster = Process.GetProcessById(pid);
        postmaster.Kill();
        await postmaster.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await KillAsync();
        for (var tries = 0; tries < 20 && Directory.Exists(folder); tries++)
        {
            try
            {
                Directory.Delete(folder, recursive: true);
            }
            catch (IOException)
            {
                // Its last processes are going.
                await Task.Delay(100);
            }
        }
    }
}
