using System.Net.Sockets;
using System.Net.WebSockets;
using System.Text;
using MessagePack;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Who looks at a part is told by itself: one that does not read keeps nobody waiting.</summary>
public sealed class ReadersTests
{
    private const int Edits = 30;

    [Fact]
    public async Task One_that_reads_nothing_keeps_no_other_waiting()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        await client.DoAsync(id, [.. Commands.Plate, .. Commands.ManyHoles(12, 8)]);
        var (_, models) = await client.OpenAsync(id);
        var (revision, bytes, edit) = ((long)(await client.PartAsync(id))["revision"]!, 0L, 0);
        async Task<TimeSpan> LongestAsync(int edits)
        {
            var longest = TimeSpan.Zero;
            for (var until = edit + edits; edit < until; edit++)
            {
                var clock = System.Diagnostics.Stopwatch.StartNew();
                await client.DoAsync(id, new SetSize("plate", "length", $"{13 + edit} mm"));
                var model = await Client.ModelAsync(models, ++revision);
                longest = clock.Elapsed > longest ? clock.Elapsed : longest;
                bytes += MessagePackSerializer.Serialize(model).LongLength;
            }

            return longest;
        }

        var alone = await LongestAsync(Edits / 3);
        using var mute = await MuteAsync(server, client, id);
        using var over = new CancellationTokenSource();
        var pinging = PingAsync(mute, over.Token);
        bytes = 0;
        var beside = await LongestAsync(Edits);
        bytes.ShouldBeGreaterThan(4 << 20, "more than fits between a server and who does not read");
        beside.ShouldBeLessThan((alone * 3) + TimeSpan.FromSeconds(3), "it would be ten seconds until a link that is not read is cut");
        await over.CancelAsync();
        await pinging;
    }

    /// <summary>A link that opens the part and then reads nothing, with as little room on its side as there can be.</summary>
    private static async Task<ClientWebSocket> MuteAsync(ServerProcess server, Client client, string id)
    {
        var invoker = new HttpMessageInvoker(
            new SocketsHttpHandler
            {
                UseCookies = false,
                ConnectCallback = async (context, cancel) =>
                {
                    var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { ReceiveBufferSize = 4096 };
                    await socket.ConnectAsync(context.DnsEndPoint, cancel);
                    return new NetworkStream(socket, ownsSocket: true);
                },
            }
        );
        var link = new ClientWebSocket();
        link.Options.SetRequestHeader("Cookie", client.Cookie);
        await link.ConnectAsync(new Uri($"ws://127.0.0.1:{server.Port}/live"), invoker, CancellationToken.None);
        await SayAsync(link, """{"protocol":"json","version":1}""");
        await SayAsync(link, $$"""{"type":1,"invocationId":"1","target":"Open","arguments":["{{id}}"]}""");
        return link;
    }

    private static async Task PingAsync(ClientWebSocket link, CancellationToken over)
    {
        while (!over.IsCancellationRequested)
        {
            try
            {
                await SayAsync(link, """{"type":6}""");
            }
            catch (WebSocketException)
            {
                // Cut, for it does not read.
                return;
            }

            await Task.Delay(3000, over).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private static Task SayAsync(ClientWebSocket link, string message) =>
        link.SendAsync(Encoding.UTF8.GetBytes(message + '\u001e'), WebSocketMessageType.Text, true, CancellationToken.None);

    /// <summary>The outbox by itself: while one message is on its way whatever else comes is told after it, the newest of each kind, and
    /// bodies by their keys only for who was told them.</summary>
    [Fact]
    public async Task What_comes_while_one_reads_is_told_once_and_of_the_newest()
    {
        var browser = new Browser();
        var made = new List<(long Revision, RebuildResult? Before)>();
        var outbox = new Outbox(browser, (_, revision, _, before) =>
        {
            made.Add((revision, before));
            return new RebuiltMessage(revision, [], []);
        });
        var (part, results) = (new Part { Name = "P" }, Enumerable.Range(0, 9).Select(_ => new RebuildResult([], [])).ToArray());
        outbox.Model(part, 1, results[1]);
        outbox.Model(part, 2, results[2]);
        browser.Heard.ShouldBeEmpty("nothing before it begins");
        outbox.Begin(1, results[1]);
        await browser.ReadsAsync("rebuilt 2");
        made.ShouldBe([(2, results[1])]);

        // It is at the second; meanwhile these come.
        outbox.Changed(3);
        outbox.Changed(4);
        outbox.Model(part, 3, results[3]);
        outbox.Model(part, 4, results[4]);
        outbox.Model(part, 3, results[5]);
        outbox.Building("a step");
        outbox.Building(null);
        outbox.Share(0.5);
        browser.Go();
        await browser.ReadsAsync("changed 4");
        browser.Go();
        await browser.ReadsAsync("building ");
        browser.Go();
        await browser.ReadsAsync("share 0.5");
        browser.Go();
        await browser.ReadsAsync("rebuilt 4");
        made.Last().ShouldBe((4, results[2]), "it was told the second last");
        outbox.Whole(part, 4, results[4]);
        browser.Go();
        await browser.ReadsAsync("rebuilt 4");
        made.Last().ShouldBe((4, null), "all of it");
        browser.Go();
        browser.Heard.ShouldBeEmpty();
    }

    /// <summary>Reads a message when the test says so.</summary>
    private sealed class Browser : ILiveClient
    {
        private readonly SemaphoreSlim go = new(0),
            came = new(0);

        public System.Collections.Concurrent.ConcurrentQueue<string> Heard { get; } = new();

        public void Go() => go.Release();

        public async Task ReadsAsync(string expected)
        {
            (await came.WaitAsync(TimeSpan.FromSeconds(20))).ShouldBeTrue(expected);
            Heard.TryDequeue(out var heard).ShouldBeTrue();
            heard.ShouldBe(expected);
        }

        private Task HearAsync(string message)
        {
            Heard.Enqueue(message);
            came.Release();
            return go.WaitAsync();
        }

        public Task Changed(long revision) => HearAsync($"changed {revision}");

        public Task Rebuilt(RebuiltMessage message) => HearAsync($"rebuilt {message.Revision}");

        public Task Building(string? step) => HearAsync($"building {step}");

        public Task Share(double share) => HearAsync(FormattableString.Invariant($"share {share}"));
    }
}
