using System.Net.Http.Json;
using System.Reflection;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using MessagePack;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>
/// A part has one owner among the servers: whatever is asked of it at another server is answered there as at the owner, byte for byte,
/// with edits at either in between. RATIOGON_EVERYWHERE says how much is asked of each part.
/// </summary>
public sealed partial class SameEverywhereTests(ITestOutputHelper output)
{
    private static readonly int Asked = int.Parse(
        Environment.GetEnvironmentVariable("RATIOGON_EVERYWHERE") ?? "60",
        System.Globalization.CultureInfo.InvariantCulture
    );

    /// <summary>Live methods that begin or change something; edits go by other ways here.</summary>
    private static readonly string[] Changing = ["Open", "Resume", "StartTool", "Input", "Whole", "Ping"];

    private static readonly string[] Routes =
    [
        "",
        "/holes",
        "/readings",
        "/mass",
        "/history",
        "/history/1/picture",
        "/export.stl",
        "/export.step",
        "/export.json",
        "/export-preview?ending=stl",
        "/export.nothing",
    ];

    private static readonly MethodInfo[] Methods =
    [
        .. typeof(LiveHub)
            .GetMethods(BindingFlags.Public | BindingFlags.Instance | BindingFlags.DeclaredOnly)
            .Where(m => !m.IsSpecialName && m.GetBaseDefinition().DeclaringType == typeof(LiveHub) && !Changing.Contains(m.Name)),
    ];

    [Fact]
    public async Task What_is_asked_elsewhere_is_answered_as_at_the_owner()
    {
        var servers = await ServerProcess.StartTogetherAsync(2);
        await using var first = servers[0];
        await using var second = servers[1];
        await using var here = await Client.SignedUpAsync(first);
        await using var there = here.At(second);
        var fuzz = new Fuzz(7, JsonNode.Parse(await here.Http.GetStringAsync("/openapi/v1.json"))!.AsObject());
        var (said, answers) = (new SortedDictionary<string, int>(StringComparer.Ordinal), 0);
        foreach (var example in new[] { "motor-plate", "hose-cradle", "inlet-block", "rotor-hub", "spout" })
        {
            // Who opens it first owns it.
            var id = (string)(await Client.JsonAsync(await here.Http.PostAsync($"/api/examples/{example}", null)))["id"]!;
            var pair = await Pair.OpenAsync(here, there, id);
            var part = await here.PartAsync(id);
            fuzz.Hear(part.ToJsonString());
            fuzz.Hear(JsonSerializer.Serialize(pair.Model!.Bodies.SelectMany(b => b.Faces.Concat(b.Edges).Take(40))));
            foreach (var route in Routes)
            {
                var path = $"/api/parts/{id}{route}";
                var (a, b) = (await ReadAsync(here, path), await ReadAsync(there, path));
                Same(a, b, $"{example} {path}");
            }

            foreach (var question in Questions(part))
            {
                var (a, b) = (await AskAsync(here, id, question), await AskAsync(there, id, question));
                Same(a, b, $"{example} {question.GetType().Name}");
            }

            foreach (var form in part["steps"]!.AsArray().Where(s => (bool)s!["form"]!).Select(s => (string)s!["id"]!).Take(2))
            {
                var draft = JsonSerializer.Deserialize<string>(await pair.SameAsync("EditForm", form))!;
                await pair.SameAsync("PreviewForm", draft, false, true);
                await pair.SameAsync("PreviewForm", draft, false, false);
                await pair.SameAsync("PreviewForm", draft, true, false);
            }

            (await pair.SameAsync("At", 1L)).Length.ShouldBeGreaterThan(1000, "a model");
            for (var i = 0; i < Asked; i++)
            {
                if (i % 12 == 11)
                {
                    await EditAsync(fuzz, fuzz.Chance(0.5) ? here : there, id);
                    await pair.AgreeAsync();
                    continue;
                }

                var method = Methods[fuzz.Next(Methods.Length)];
                var arguments = method.GetParameters().Select(p => FuzzTests.Argument(fuzz, p)).ToArray();
                var a = await pair.SameAsync(method.Name, arguments);
                fuzz.Hear(a.StartsWith('"') ? JsonSerializer.Deserialize<string>(a) : null);
                answers += a is "null" or "" ? 0 : 1;
                said[method.Name] = said.GetValueOrDefault(method.Name) + (a is "null" or "" ? 0 : 1);
            }

            await ImportAsync(there, id);
            await pair.AgreeAsync();
            (await here.StepAsync(id, "undo")).EnsureSuccessStatusCode();
            await pair.AgreeAsync();
            await pair.DisposeAsync();
        }

        output.WriteLine($"{answers} answers: {string.Join(", ", said.Select(s => $"{s.Key} {s.Value}"))}");
        answers.ShouldBeGreaterThan(Asked, "most of what is asked has an answer");
        first
            .Log.Concat(second.Log)
            .Where(l => l.StartsWith("fail:", StringComparison.Ordinal) && !l.Contains("EntityFrameworkCore", StringComparison.Ordinal))
            .ShouldBeEmpty();
    }

    /// <summary>Says where they part; the texts are long.</summary>
    private static void Same(string here, string there, string what)
    {
        var at = here.Zip(there).TakeWhile(c => c.First == c.Second).Count();
        string From(string text) => text[Math.Max(0, at - 60)..Math.Min(text.Length, at + 200)];
        (here == there).ShouldBeTrue($"{what}: at the owner …{From(here)}… elsewhere …{From(there)}…");
    }

    private static IEnumerable<Question> Questions(JsonObject part)
    {
        var steps = part["steps"]!.AsArray();
        yield return new WhyQuestion((string)steps[1]!["id"]!);
        yield return new WhyQuestion("nothing");
        if (steps.FirstOrDefault(s => (string)s!["kind"]! == "reading") is { } reading)
        {
            yield return new TolerancesQuestion((string)reading["id"]!, Runs: 20);
            yield return new CourseQuestion((string)reading["id"]!, "nothing");
        }

        if (part["variants"]!.AsArray().Count > 0)
        {
            yield return new VariantsQuestion();
        }
    }

    private static async Task<string> AskAsync(Client client, string id, Question question)
    {
        var body = JsonSerializer.Serialize(question, PartJson.Compact);
        var answer = await client.Http.PostAsync($"/api/parts/{id}/ask", new StringContent(body, Encoding.UTF8, "application/json"));
        return await TextAsync(answer);
    }

    /// <summary>The part's own body as a file, and that file as a body in it.</summary>
    private static async Task ImportAsync(Client client, string id)
    {
        var file = await client.Http.GetByteArrayAsync($"/api/parts/{id}/export.step");
        using var content = new ByteArrayContent(file);
        content.Headers.ContentType = new("model/step");
        var answer = await client.Http.PostAsync($"/api/parts/{id}/import?name=again.step", content);
        answer.IsSuccessStatusCode.ShouldBeTrue(await answer.Content.ReadAsStringAsync());
    }

    private static async Task EditAsync(Fuzz fuzz, Client client, string id)
    {
        var part = await client.PartAsync(id);
        var sizes = part["steps"]!
            .AsArray()
            .SelectMany(s =>
                s!["sizes"]!.AsArray().Select(z => (Step: (string)s["id"]!, Field: (string)z!["field"]!, Shown: (string)z["shown"]!))
            )
            .Where(s => double.TryParse(s.Shown.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture, out _))
            .ToList();
        var (step, field, shown) = sizes[fuzz.Next(sizes.Count)];
        var number = double.Parse(shown.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
        var answer = fuzz.Chance(0.3)
            ? await client.StepAsync(id, "undo")
            : await client.SendAsync(
                id,
                new SetSize(
                    step,
                    field,
                    FormattableString.Invariant($"{number * 1.02:0.####} {string.Join(' ', shown.Split(' ').Skip(1))}")
                )
            );
        ((int)answer.StatusCode).ShouldBeOneOf(200, 422);
    }

    /// <summary>An answer without the moment at which it was written.</summary>
    private static async Task<string> ReadAsync(Client client, string path) => await TextAsync(await client.Http.GetAsync(path));

    private static async Task<string> TextAsync(HttpResponseMessage answer)
    {
        var text = Encoding.Latin1.GetString(await answer.Content.ReadAsByteArrayAsync());
        return $"{(int)answer.StatusCode} {Moment().Replace(text, "then")}";
    }

    [System.Text.RegularExpressions.GeneratedRegex("""\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d|traceId.{60}""")]
    private static partial System.Text.RegularExpressions.Regex Moment();

    private static async Task<string> CallAsync(HubConnection hub, string method, object?[] arguments)
    {
        try
        {
            var answer = await hub.InvokeCoreAsync(method, typeof(object), arguments).WaitAsync(TimeSpan.FromSeconds(90));
            return MessagePackSerializer.SerializeToJson(answer);
        }
        catch (HubException e)
        {
            return e.Message;
        }
    }

    /// <summary>A part looked at through two servers.</summary>
    private sealed class Pair : IAsyncDisposable
    {
        private readonly Dictionary<HubConnection, (Client Client, System.Threading.Channels.ChannelReader<RebuiltMessage> Models)> links =
        [];
        private string id = "";

        public HubConnection Here { get; private set; } = null!;

        public HubConnection There { get; private set; } = null!;

        public RebuiltMessage? Model { get; private set; }

        public static async Task<Pair> OpenAsync(Client here, Client there, string id)
        {
            var pair = new Pair { id = id };
            var (a, first) = await here.OpenAsync(id);
            var (b, second) = await there.OpenAsync(id);
            (pair.Here, pair.There) = (a, b);
            (pair.links[a], pair.links[b]) = ((here, first), (there, second));
            await pair.AgreeAsync();
            return pair;
        }

        /// <summary>The answer, the same at both.</summary>
        public async Task<string> SameAsync(string method, params object?[] arguments)
        {
            var (a, b) = (await CallAsync(Here, method, arguments), await CallAsync(There, method, arguments));
            Same(a, b, $"{id}: {method}({string.Join(", ", arguments.Select(FuzzTests.Shown))})");
            return a;
        }

        /// <summary>Waits until both show the newest model, and holds the one against the other.</summary>
        public async Task AgreeAsync()
        {
            var models = new List<RebuiltMessage>();
            foreach (var (hub, (client, coming)) in links)
            {
                var revision = (long)(await client.PartAsync(id))["revision"]!;
                models.Add(await NewestAsync(hub, coming, revision));
            }

            Same(MessagePackSerializer.SerializeToJson(models[0]), MessagePackSerializer.SerializeToJson(models[1]), "the models");
            Model = models[0];
        }

        private static async Task<RebuiltMessage> NewestAsync(
            HubConnection hub,
            System.Threading.Channels.ChannelReader<RebuiltMessage> coming,
            long revision
        )
        {
            while (true)
            {
                await hub.InvokeAsync("Whole");
                var model = await Client.ModelAsync(coming, revision);
                if (model.Bodies.All(b => !b.Same))
                {
                    return model;
                }
            }
        }

        public async ValueTask DisposeAsync()
        {
            await Here.DisposeAsync();
            await There.DisposeAsync();
        }
    }
}
