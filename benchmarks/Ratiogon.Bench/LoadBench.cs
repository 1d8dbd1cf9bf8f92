using System.Buffers;
using System.Diagnostics;
using System.Diagnostics.CodeAnalysis;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Connections;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.AspNetCore.SignalR.Protocol;
using Microsoft.Extensions.DependencyInjection;
using Ratiogon.Core;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Exchange;
using Ratiogon.Server.Live;

namespace Ratiogon.Bench;

/// <summary>Many parts at one time on one server: answers to drags, what a release takes, what goes over the wire, and the memory of the
/// server before, with and after them.</summary>
internal static class LoadBench
{
    internal const string Outlined = "outline";
    private const int MovesASecond = 30,
        Seconds = 6;

    public static async Task RunAsync(Uri address)
    {
        using var http = new HttpClient(new HttpClientHandler { CookieContainer = Cookies }) { BaseAddress = address };
        (
            await http.PostAsJsonAsync(
                "/api/account/sign-up",
                new { email = $"l{Guid.NewGuid():N}@ratiogon.example", password = "moss nursery" }
            )
        ).EnsureSuccessStatusCode();
        await BytesAsync(http, address);
        var empty = Memory();
        await DragsAsync(http, address, 50, 2, null);
        await DragsAsync(http, address, 200, 8, empty);
    }

    private static CookieContainer Cookies { get; } = new();

    private static async Task DragsAsync(HttpClient http, Uri address, int count, double aim, double? empty)
    {
        var clients = new List<Dragger>();
        for (var i = 0; i < count; i++)
        {
            var id = await NewPartAsync(http, $"Load {i}", [Outline()]);
            clients.Add(await Dragger.OpenAsync(address, id, new Vec2(40, 25)));
        }

        await Task.WhenAll(clients.Select(c => c.BeginAsync()));
        await Task.WhenAll(clients.Select((c, i) => c.DragAsync(i * 1000.0 / MovesASecond / count)));
        var times = clients.SelectMany(c => c.Times).Order().ToList();
        Print(
            $"drag answer, {count} parts at {MovesASecond} moves a second each, p95; median",
            Chains.Percentile(times, 0.95),
            times[times.Count / 2],
            aim
        );
        var with = Memory();
        var clock = Stopwatch.StartNew();
        var released = await Task.WhenAll(clients.Select(c => c.ReleaseAsync()));
        Print(
            $"{count} drags let go at once: kept and rebuilt, the last; median",
            clock.Elapsed.TotalMilliseconds,
            released.Order().ElementAt(count / 2),
            200
        );
        await Task.WhenAll(clients.Select(c => c.DisposeAsync().AsTask()));
        if (empty is { } before)
        {
            // ./bench tells the server to let idle parts go after seconds.
            await Task.Delay(TimeSpan.FromSeconds(12));
            var after = Memory();
            Console.WriteLine(
                $"memory of the server: {before:0} MB with no part, {with:0} MB with {count} parts being dragged "
                    + $"({(with - before) / count:0.00} MB each), {after:0} MB after the last has left"
            );
        }
    }

    /// <summary>What one frame of a drag of the demo plate's corner and one changed hole depth send to a page that has the part
    /// open.</summary>
    private static async Task BytesAsync(HttpClient http, Uri address)
    {
        var outline = MotorPlate.Build().Steps.OfType<SketchStep>().First(s => s.Sketch.Entities.Length > 4).Sketch;
        var corner = outline.Entities.OfType<PointEntity>().MaxBy(p => p.At.X + p.At.Y)!.At;
        var loose = outline with { Dimensions = [], Constraints = [.. outline.Constraints.Where(c => c.Kind != "fixed")] };
        var id = await NewPartAsync(http, "Corner", [new AddStep(new SketchStep(Outlined, 0, "Plate", World.Xy, loose))]);
        await using (var one = await Dragger.OpenAsync(address, id, corner))
        {
            await one.BeginAsync();
            await one.DragAsync(0);
            Print(
                "bytes that a frame of a drag of the demo plate's corner sends, p95; median",
                one.FrameBytes(0.95),
                one.FrameBytes(0.5),
                1000
            );
        }

        var hub = await NewPartAsync(http, "Hub", [], RotorHub.Build());
        await using var page = await Dragger.OpenAsync(address, hub, default);
        await page.SettledAsync();
        var revision = (long)(await http.GetFromJsonAsync<JsonObject>($"/api/parts/{hub}"))!["revision"]!;
        var heard = page.Bytes;
        var depth = RotorHub.Build().Find("drilling") as Core.Forms.HoleStep;
        using var browser = new HttpClient(new HttpClientHandler { CookieContainer = Cookies }) { BaseAddress = address };
        browser.DefaultRequestHeaders.AcceptEncoding.Add(new("br"));
        var answer = await SendAsync(browser, hub, revision, new ReplaceStep(depth! with { Depth = "hub_d / 3" }));
        var sent = (await answer.Content.ReadAsByteArrayAsync()).Length;
        await page.SettledAsync();
        Print(
            "bytes that a changed hole depth sends (rotor hub): in all; of it the new body",
            sent + page.Bytes - heard,
            page.Bytes - heard,
            15000
        );
    }

    private static void Print(string what, double value, double median, double aim) =>
        Console.WriteLine($"{what, -84} {value, 8:0.0}   {median, 8:0.0}   aim {aim}   {(value <= aim ? "met" : "MISSED")}");

    internal static AddStep Outline() =>
        new AddStep(
            new SketchStep(
                Outlined,
                0,
                "Outline",
                World.Xy,
                Core.Sketches.Applying.SketchEditor.Apply(
                    Sketch.Empty,
                    ShapeCatalog.RectangleByCorners("r", new Vec2(0, 0), new Vec2(40, 25)),
                    Core.Quantities.ParameterValues.Evaluate([])
                ).Value
            )
        );

    private static async Task<string> NewPartAsync(HttpClient http, string name, IReadOnlyList<PartCommand> commands, Part? whole = null)
    {
        if (whole is not null)
        {
            var file = new ByteArrayContent(PartFile.Write(whole));
            file.Headers.ContentType = new("application/json");
            var opened = await http.PostAsync("/api/parts/import.json", file);
            return (string)(await Read(opened))["id"]!;
        }

        var made = await Read(await http.PostAsJsonAsync("/api/parts", new { name }));
        var (id, revision) = ((string)made["id"]!, (long)made["revision"]!);
        foreach (var command in commands)
        {
            revision = (long)(await Read(await SendAsync(http, id, revision, command)))["revision"]!;
        }

        return id;
    }

    internal static Task<HttpResponseMessage> SendAsync(HttpClient http, string id, long revision, PartCommand command) =>
        http.PostAsync(
            $"/api/parts/{id}/commands",
            new StringContent(
                $$"""{"revision":{{revision}},"command":{{JsonSerializer.Serialize(command, PartJson.Compact)}}}""",
                System.Text.Encoding.UTF8,
                "application/json"
            )
        );

    private static async Task<JsonObject> Read(HttpResponseMessage answer) =>
        answer.IsSuccessStatusCode
            ? (await answer.Content.ReadFromJsonAsync<JsonObject>())!
            : throw new InvalidOperationException($"{(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}");

    /// <summary>Resident memory of the server's process, in MB.</summary>
    private static double Memory() =>
        Processes
            .Of("Ratiogon.Server.dll", folder =>
                double.Parse(
                    File.ReadLines($"{folder}/status")
                        .First(l => l.StartsWith("VmRSS:", StringComparison.Ordinal))[6..]
                        .Replace("kB", "", StringComparison.Ordinal),
                    System.Globalization.CultureInfo.InvariantCulture
                ) / 1024
            )
            .DefaultIfEmpty(double.NaN)
            .First();

    /// <summary>One page with a part open, that drags a corner.</summary>
    private sealed class Dragger : IAsyncDisposable
    {
        private readonly HubConnection hub;
        private readonly CountingProtocol counted;
        private readonly List<long> frames = [];
        private long rebuilt;
        private readonly Vec2 corner;

        private Dragger(HubConnection hub, CountingProtocol counted, Vec2 corner) =>
            (this.hub, this.counted, this.corner) = (hub, counted, corner);

        public List<double> Times { get; } = [];

        public long Bytes => counted.Bytes;

        public static async Task<Dragger> OpenAsync(Uri address, string part, Vec2 corner)
        {
            var counted = new CountingProtocol();
            var builder = new HubConnectionBuilder().WithUrl(new Uri(address, "/live"), o => o.Cookies = Cookies);
            builder.Services.AddSingleton<IHubProtocol>(counted);
            var made = new Dragger(builder.Build(), counted, corner);
            made.hub.On<RebuiltMessage>("Rebuilt", m => Interlocked.Exchange(ref made.rebuilt, m.Revision));
            await made.hub.StartAsync();
            await made.hub.InvokeAsync("Open", Guid.Parse(part));
            return made;
        }

        /// <summary>Waits until nothing has come for a while.</summary>
        public async Task SettledAsync()
        {
            var (last, since) = (-1L, Stopwatch.StartNew());
            while (since.ElapsedMilliseconds < 1500)
            {
                if (Bytes != last)
                {
                    (last, since) = (Bytes, Stopwatch.StartNew());
                }

                await Task.Delay(50);
            }
        }

        public async Task BeginAsync()
        {
            await SettledAsync();
            await hub.InvokeAsync<AnswerMessage>("StartTool", Outlined, "select", Array.Empty<string>());
            await SayAsync("move", corner.X, corner.Y);
            var grabbed = await SayAsync("dragStart", corner.X, corner.Y);
            if (!grabbed.Prompt.Contains("Dragging", StringComparison.Ordinal))
            {
                throw new InvalidOperationException($"nothing was grabbed: {grabbed.Prompt} {grabbed.Refusal?.Message}");
            }
        }

        public async Task DragAsync(double late)
        {
            await Task.Delay(TimeSpan.FromMilliseconds(late));
            using var tick = new PeriodicTimer(TimeSpan.FromMilliseconds(1000.0 / MovesASecond));
            for (var i = 0; i < MovesASecond * Seconds; i++)
            {
                await tick.WaitForNextTickAsync();
                var (clock, before) = (Stopwatch.StartNew(), Bytes);
                await SayAsync("drag", corner.X + (5 * Math.Sin(i / 7.0)), corner.Y + (4 * Math.Cos(i / 9.0)));
                if (i >= MovesASecond)
                {
                    Times.Add(clock.Elapsed.TotalMilliseconds);
                    frames.Add(Bytes - before);
                }
            }
        }

        public double FrameBytes(double share) => Chains.Percentile([.. frames.Select(f => (double)f).Order()], share);

        /// <summary>Until the model of it is there, in milliseconds.</summary>
        public async Task<double> ReleaseAsync()
        {
            var (clock, was) = (Stopwatch.StartNew(), Interlocked.Read(ref rebuilt));
            await SayAsync("dragEnd", corner.X + 3, corner.Y + 2);
            while (Interlocked.Read(ref rebuilt) == was)
            {
                if (clock.Elapsed.TotalSeconds > 60)
                {
                    throw new InvalidOperationException("the part was not rebuilt");
                }

                await Task.Delay(2);
            }

            return clock.Elapsed.TotalMilliseconds;
        }

        public ValueTask DisposeAsync() => hub.DisposeAsync();

        private Task<AnswerMessage> SayAsync(string kind, double x, double y) =>
            hub.InvokeAsync<AnswerMessage>(
                "Input",
                new InputMessage
                {
                    Kind = kind,
                    X = x,
                    Y = y,
                    Reach = 1,
                }
            );
    }

    /// <summary>The protocol of the page, with the bytes that come counted.</summary>
    private sealed class CountingProtocol : IHubProtocol
    {
        private readonly MessagePackHubProtocol inner = new MessagePackHubProtocol();
        private long bytes;

        public long Bytes => Interlocked.Read(ref bytes);

        public string Name => inner.Name;

        public int Version => inner.Version;

        public TransferFormat TransferFormat => inner.TransferFormat;

        public bool IsVersionSupported(int version) => inner.IsVersionSupported(version);

        public ReadOnlyMemory<byte> GetMessageBytes(HubMessage message) => inner.GetMessageBytes(message);

        public void WriteMessage(HubMessage message, IBufferWriter<byte> output) => inner.WriteMessage(message, output);

        public bool TryParseMessage(ref ReadOnlySequence<byte> input, IInvocationBinder binder, [NotNullWhen(true)] out HubMessage? message)
        {
            var before = input.Length;
            var parsed = inner.TryParseMessage(ref input, binder, out message);
            Interlocked.Add(ref bytes, before - input.Length);
            return parsed;
        }
    }
}
