using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Npgsql;

namespace Ratiogon.TestHost;

/// <summary>A real server process on its own port and database, as <c>./run</c> starts it. The cluster comes from
/// <c>./test</c>, through RATIOGON_TEST_DB.</summary>
public sealed class ServerProcess : IAsyncDisposable
{
    private readonly string database;
    private readonly bool demo;
    private readonly Dictionary<string, string> settings;
    private readonly System.Collections.Concurrent.ConcurrentQueue<string> log = new();
    private Process? process;

    private ServerProcess(string database, bool demo, int port, Dictionary<string, string> settings)
    {
        (this.database, this.demo, Port, this.settings) = (database, demo, port, settings);
        Address = new Uri($"http://127.0.0.1:{port}");
    }

    public int Port { get; }

    public Uri Address { get; }

    public static string Repository { get; } = FindRepository();

    public int ProcessId => process!.Id;

    public bool Runs => process is { HasExited: false };

    /// <summary>Where its database is.</summary>
    public string Database => database;

    /// <summary>What it has written so far, warnings and worse.</summary>
    public IReadOnlyList<string> Log => [.. log];

    /// <summary>Makes a database and starts a server on it.</summary>
    public static async Task<ServerProcess> StartAsync(bool demo, Dictionary<string, string>? settings = null)
    {
        var server = new ServerProcess(await NewDatabaseAsync(), demo, FreePort(), settings ?? []);
        await server.StartProcessAsync();
        return server;
    }

    /// <summary>Starts a server on a database that is there.</summary>
    public static async Task<ServerProcess> StartOnAsync(string database, Dictionary<string, string>? settings = null)
    {
        var server = new ServerProcess(database, demo: false, FreePort(), settings ?? []);
        await server.StartProcessAsync();
        return server;
    }

    /// <summary>Starts some servers on one database that know of each other.</summary>
    /// <param name="count">How many.</param>
    /// <param name="cluster">Where the database is made; null for where <c>./test</c> says.</param>
    /// <param name="settings">Of each of them.</param>
    public static async Task<IReadOnlyList<ServerProcess>> StartTogetherAsync(
        int count,
        string? cluster = null,
        Dictionary<string, string>? settings = null
    )
    {
        var database = await NewDatabaseAsync(cluster);
        var servers = new List<ServerProcess>();
        while (servers.Count < count)
        {
            var own = new Dictionary<string, string>(settings ?? []);
            if (count > 1)
            {
                own["Cluster__Port"] = $"{FreePort()}";
            }

            servers.Add(await StartOnAsync(database, own));
        }

        return servers;
    }

    /// <summary>A connection string to a database of its own, by default in the cluster that <c>./test</c> started.</summary>
    public static async Task<string> NewDatabaseAsync(string? cluster = null)
    {
        cluster ??= Environment.GetEnvironmentVariable("RATIOGON_TEST_DB")
            ?? throw new InvalidOperationException("RATIOGON_TEST_DB is not set; run the tests with ./test");
        var name = $"t{Guid.NewGuid():N}";
        await using var connection = new NpgsqlConnection(
            new NpgsqlConnectionStringBuilder(cluster) { Database = "postgres", Pooling = false }.ToString()
        );
        await connection.OpenAsync();
        await using var create = connection.CreateCommand();
        create.CommandText = $"create database {name}";
        await create.ExecuteNonQueryAsync();
        return new NpgsqlConnectionStringBuilder(cluster) { Database = name }.ToString();
    }

    /// <summary>Ends the server at once, as a power cut would.</summary>
    public async Task KillAsync()
    {
        process!.Kill(entireProcessTree: true);
        await process.WaitForExitAsync();
    }

    public async Task StartProcessAsync()
    {
        var folder = Path.Combine(Repository, "src", "Ratiogon.Server");
        var start = new ProcessStartInfo(
            "dotnet",
            [
                Path.Combine(folder, "bin", "Release", "net10.0", "Ratiogon.Server.dll"),
                "--urls",
                Address.ToString(),
                "--contentRoot",
                folder,
            ]
        )
        {
            UseShellExecute = false,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["Database"] = database;
        start.Environment["Demo"] = demo ? "true" : "false";

        // Dozens of servers start in a run of the tests, most for a moment.
        start.Environment["Workers__Ahead"] = "false";

        // All tests come from one address.
        start.Environment["Limits__AccountRequests"] = "100000";
        foreach (var (name, value) in settings)
        {
            start.Environment[name] = value;
        }

        process = Process.Start(start)!;
        process.OutputDataReceived += (_, line) => log.Enqueue(line.Data ?? "");
        process.ErrorDataReceived += (_, line) => log.Enqueue(line.Data ?? "");
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        using var http = new HttpClient { BaseAddress = Address };
        for (var i = 0; i < 900; i++)
        {
            if (process.HasExited)
            {
                throw new InvalidOperationException("the server stopped while starting");
            }

            try
            {
                if ((await http.GetAsync("/api/health")).IsSuccessStatusCode)
                {
                    return;
                }
            }
            catch (HttpRequestException)
            {
                // Not listening yet.
            }

            await Task.Delay(100);
        }

        throw new TimeoutException("the server did not answer");
    }

    public async ValueTask DisposeAsync()
    {
        if (process is { HasExited: false })
        {
            await KillAsync();
        }
    }

    /// <summary>A port on which nobody listens now.</summary>
    public static int FreePort()
    {
        using var probe = new TcpListener(IPAddress.Loopback, 0);
        probe.Start();
        return ((IPEndPoint)probe.LocalEndpoint).Port;
    }

    private static string FindRepository()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "Directory.Packages.props")))
        {
            folder = folder.Parent ?? throw new InvalidOperationException("the tests do not run inside the repository");
        }

        return folder.FullName;
    }
}
