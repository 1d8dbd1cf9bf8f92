using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>A signed-in client of a running server.</summary>
internal sealed class Client : IAsyncDisposable
{
    private readonly CookieContainer cookies;
    private readonly List<HubConnection> links = [];

    private readonly ServerProcess? server;
    private readonly Uri address;

    public Client(ServerProcess server)
        : this(server.Address) => this.server = server;

    /// <summary>For a server that something else started.</summary>
    public Client(Uri address)
        : this(address, new CookieContainer()) { }

    private Client(Uri address, CookieContainer cookies, ServerProcess? server = null)
    {
        (this.address, this.cookies, this.server) = (address, cookies, server);
        Http = new HttpClient(new HttpClientHandler { CookieContainer = cookies })
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromSeconds(60),
        };
    }

    /// <summary>Another window of the same browser.</summary>
    public Client Again() => new(address, cookies, server);

    /// <summary>The same account at another server on the same database.</summary>
    public Client At(ServerProcess other) => new(other.Address, cookies, other);

    public ServerProcess Server => server ?? throw new InvalidOperationException("something else started this server");

    public HttpClient Http { get; }

    public static Task<Client> SignedUpAsync(ServerProcess server) => SignedUpAsync(new Client(server));

    /// <summary>Signs up with an address of its own.</summary>
    public static async Task<Client> SignedUpAsync(Client client)
    {
        var answer = await client.Http.PostAsJsonAsync(
            "/api/account/sign-up",
            new { email = $"u{Guid.NewGuid():N}@ratiogon.example", password = "moss nursery" }
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
        return client;
    }

    /// <summary>Its cookies as a header.</summary>
    public string Cookie => cookies.GetCookieHeader(address);

    public async Task<string> NewPartAsync(string name = "Part") =>
        (string)(await JsonAsync(await Http.PostAsJsonAsync("/api/parts", new { name })))["id"]!;

    public async Task<JsonObject> PartAsync(string id) => await JsonAsync(await Http.GetAsync($"/api/parts/{id}"));

    public async Task<HttpResponseMessage> SendAsync(string id, PartCommand command, long? revision = null)
    {
        var at = revision ?? (long)(await PartAsync(id))["revision"]!;
        var body = $$"""{"revision":{{at}},"command":{{JsonSerializer.Serialize(command, PartJson.Compact)}}}""";
        return await Http.PostAsync($"/api/parts/{id}/commands", new StringContent(body, System.Text.Encoding.UTF8, "application/json"));
    }

    public async Task DoAsync(string id, params PartCommand[] commands)
    {
        foreach (var command in commands)
        {
            var answer = await SendAsync(id, command);
            answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
        }
    }

    public async Task<HttpResponseMessage> StepAsync(string id, string way) =>
        await Http.PostAsJsonAsync($"/api/parts/{id}/{way}", new { revision = (long)(await PartAsync(id))["revision"]! });

    public static async Task<JsonObject> JsonAsync(HttpResponseMessage answer) =>
        JsonNode.Parse(await answer.Content.ReadAsStringAsync())!.AsObject();

    /// <summary>The code of a refusal.</summary>
    public static async Task<string> CodeAsync(HttpResponseMessage answer) => (string)(await JsonAsync(answer))["code"]!;

    /// <summary>A live link to a part; every rebuilt model goes to the channel.</summary>
    public async Task<(HubConnection Hub, System.Threading.Channels.ChannelReader<RebuiltMessage> Models)> OpenAsync(string id)
    {
        var hub = new HubConnectionBuilder().WithUrl(new Uri(address, "/live"), o => o.Cookies = cookies).AddMessagePackProtocol().Build();
        links.Add(hub);
        var models = System.Threading.Channels.Channel.CreateUnbounded<RebuiltMessage>();
        hub.On<RebuiltMessage>("Rebuilt", m => models.Writer.TryWrite(m));
        await hub.StartAsync();
        await hub.InvokeAsync("Open", Guid.Parse(id));
        return (hub, models.Reader);
    }

    /// <summary>The model of at least that revision.</summary>
    public static async Task<RebuiltMessage> ModelAsync(System.Threading.Channels.ChannelReader<RebuiltMessage> models, long revision)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        while (true)
        {
            var model = await models.ReadAsync(limit.Token);
            if (model.Revision >= revision)
            {
                return model;
            }
        }
    }

    /// <summary>The geometry workers of the server.</summary>
    public IReadOnlyList<int> Workers() =>
        [
            .. Directory
                .GetDirectories("/proc")
                .Select(d => int.TryParse(Path.GetFileName(d), out var pid) ? pid : 0)
                .Where(pid => pid > 0 && IsWorker(pid)),
        ];

    public static void Kill(int pid) => Process.GetProcessById(pid).Kill();

    public async ValueTask DisposeAsync()
    {
        foreach (var link in links)
        {
            await link.DisposeAsync();
        }

        Http.Dispose();
    }

    private bool IsWorker(int pid)
    {
        try
        {
            var parent = File.ReadAllLines($"/proc/{pid}/status").First(l => l.StartsWith("PPid:", StringComparison.Ordinal))[5..].Trim();
            return parent == Server.ProcessId.ToString()
                && File.ReadAllText($"/proc/{pid}/cmdline").Contains("Ratiogon.Worker", StringComparison.Ordinal);
        }
        catch (IOException)
        {
            return false;
        }
    }
}

public sealed class ServerFixture : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await ServerProcess.StartAsync(demo: true);

    public async ValueTask DisposeAsync() => await Server.DisposeAsync();
}

[CollectionDefinition("server")]
public sealed class ServerCollection : ICollectionFixture<ServerFixture>;
