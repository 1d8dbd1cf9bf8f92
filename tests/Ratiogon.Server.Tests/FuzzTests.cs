using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Reflection;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Ratiogon.Server.Live;
using Ratiogon.TestHost;

namespace Ratiogon.Server.Tests;

/// <summary>Every route and every live method, with what its schema asks for and with what it does not: no answer of the kind "server
/// error", no part that cannot be read afterwards, no dead link, nothing in the log.</summary>
public class FuzzTests
{
    /// <summary>How much of the log is told of a fault: what it was and where.</summary>
    private const int LinesOfFault = 8;

    /// <summary>Of all kinds; <c>./bench fuzz</c> sends more.</summary>
    private static readonly int Messages = int.Parse(
        Environment.GetEnvironmentVariable("RATIOGON_FUZZ") ?? "5000",
        CultureInfo.InvariantCulture
    );
    private static readonly int Seed = int.Parse(
        Environment.GetEnvironmentVariable("RATIOGON_FUZZ_SEED") ?? "1",
        CultureInfo.InvariantCulture
    );
    private const int OfOnePart = 250;

    /// <summary>What schema the JSON texts of live methods follow.</summary>
    private static readonly Dictionary<string, string> Drafts = new(StringComparer.Ordinal)
    {
        ["command"] = "PartCommand",
        ["piece"] = "Sketch",
        ["Form.draft"] = "FormDraft",
        ["Form.input"] = "FormInput",
        ["PreviewForm.draft"] = "FormDraft",
        ["Datum.draft"] = "DatumDraft",
        ["DragDatum.draft"] = "DatumDraft",
        ["Curve.draft"] = "CurveDraft",
        ["Gauge.draft"] = "GaugeDraft",
        ["Gauge.input"] = "GaugeInput",
    };

    private static readonly string[] Left =
    [
        "Open",
        "Resume",
        "OnConnectedAsync",
        "OnDisconnectedAsync",
        "Dispose",
        "Equals",
        "GetHashCode",
        "GetType",
        "ToString",
    ];

    [Fact]
    public async Task Nothing_that_is_sent_breaks_anything()
    {
        await using var server = await ServerProcess.StartAsync(
            demo: true,
            new()
            {
                ["Workers__Limit"] = "00:00:10",
                ["Limits__AccountParts"] = "100000",
                ["Limits__SignIns"] = "100000",
                ["Logging__LogLevel__Ratiogon.Server.Parts.Keeper"] = "None",
            }
        );
        await using var client = await Client.SignedUpAsync(server);
        var described = JsonNode.Parse(await client.Http.GetStringAsync("/openapi/v1.json"))!.AsObject();
        var fuzz = new Fuzz(Seed, described);
        var operations = described["paths"]!
            .AsObject()
            .SelectMany(p => p.Value!.AsObject().Select(o => (Path: p.Key, Method: o.Key, Operation: o.Value!.AsObject())))
            .Where(o => !o.Path.StartsWith("/api/account", StringComparison.Ordinal) || o.Method == "get")
            .ToList();
        var methods = typeof(LiveHub)
            .GetMethods(BindingFlags.Public | BindingFlags.Instance)
            .Where(m => m.DeclaringType == typeof(LiveHub) && !m.IsSpecialName && !Left.Contains(m.Name))
            .ToList();
        methods.Count.ShouldBeGreaterThan(25);
        var (sent, faults, begun) = (0, new List<string>(), server.Log.Count);
        while (sent < Messages)
        {
            var id = await client.NewPartAsync();
            await client.DoAsync(id, [.. Commands.Plate, .. Commands.ManyHoles(2, 2)]);
            var (hub, _) = await client.OpenAsync(id);
            for (var i = 0; i < OfOnePart && sent < Messages; i++, sent++)
            {
                var fault = fuzz.Next(10) switch
                {
                    < 4 => await LiveAsync(fuzz, hub, methods[fuzz.Next(methods.Count)]),
                    < 7 => await CommandAsync(fuzz, client, id),
                    < 9 => await RequestAsync(fuzz, client, id, operations[fuzz.Next(operations.Count)]),
                    _ => await StrangerAsync(fuzz, server),
                };
                if (fault is not null)
                {
                    faults.Add($"{sent}: {fault}");
                }

                if (hub.State != HubConnectionState.Connected)
                {
                    faults.Add($"{sent}: the link is dead");
                    (hub, _) = await client.OpenAsync(id);
                }
            }

            var read = await client.Http.GetAsync($"/api/parts/{id}");
            if (read.StatusCode is not (HttpStatusCode.OK or HttpStatusCode.NotFound))
            {
                faults.Add($"{sent}: the part cannot be read: {await read.Content.ReadAsStringAsync()}");
            }

            await hub.DisposeAsync();
        }

        string[] log = [.. server.Log.Skip(begun)];
        faults.AddRange(
            Enumerable
                .Range(0, log.Length)
                .Where(i => IsFault(log[i]))
                .Select(i => log.Skip(i).Take(LinesOfFault).ToArray())
                .Where(fault => !IsOfConnection(fault))
                .Select(fault => string.Join(Environment.NewLine, fault))
                .Take(20)
        );
        faults.Take(40).ShouldBeEmpty($"of {sent} messages, seed {Seed}");
    }

    /// <summary>The web server itself may meet the next request of a connection while it still takes in a body in pieces that nobody
    /// wanted: it says so and closes that connection. Nothing of ours is on the stack.</summary>
    private static bool IsOfConnection(IEnumerable<string> fault) =>
        fault.First().Contains("Reading is already in progress", StringComparison.Ordinal)
        && fault.All(l => !l.Contains("at Ratiogon", StringComparison.Ordinal))
        && fault.Any(l => l.Contains("Http1Connection.BeginRead", StringComparison.Ordinal));

    private static bool IsFault(string line) =>
        line.StartsWith("fail:", StringComparison.Ordinal)
        || line.StartsWith("crit:", StringComparison.Ordinal)
        || line.Contains("Exception:", StringComparison.Ordinal)
        || line.Contains("met a defect", StringComparison.Ordinal);

    /// <summary>What the hunt above found first: answered with its place, and the part goes on.</summary>
    [Fact]
    public async Task What_does_not_fit_is_refused_with_its_place()
    {
        await using var server = await ServerProcess.StartAsync(demo: false);
        await using var client = await Client.SignedUpAsync(server);
        var id = await client.NewPartAsync();
        foreach (
            var (command, place, why) in new[]
            {
                ("""{}""", "$.command", "of which kind"),
                ("""{"command":"several","commands":[{"name":"x"}],"what":"w"}""", "$.command.commands[0]", "of which kind"),
                ("""{"command":"several","commands":[null],"what":"w"}""", "$.command", "nothing (null)"),
                ("""{"command":"several","commands":[{"command":"set-stop-line","below":0}],"what":"a\u0000b"}""", "$.command", "U+0000"),
                ("""{"command":"rename-part","name":"a\u0000b"}""", "$.command", "U+0000"),
                ("""{"command":"group-steps","steps":["a\u0000b"],"group":"g"}""", "$.command", "U+0000"),
                (
                    """{"command":"add-step","step":{"kind":"sketch","id":"s","number":0,"name":"s","on":"world/xy","sketch":{"entities":[],"constraints":[],"dimensions":[],"shapes":[null]}}}""",
                    "$.command.step.sketch",
                    "nothing (null)"
                ),
            }
        )
        {
            var answer = await client.Http.PostAsync(
                $"/api/parts/{id}/commands",
                new StringContent($$"""{"revision":1,"command":{{command}}}""", Encoding.UTF8, "application/json")
            );
            answer.StatusCode.ShouldBe(HttpStatusCode.BadRequest, command);
            var detail = (string)(await Client.JsonAsync(answer))["detail"]!;
            detail.ShouldContain(place);
            detail.ShouldContain(why);
        }

        ((long)(await client.PartAsync(id))["revision"]!).ShouldBe(1);
    }

    private static async Task<string?> LiveAsync(Fuzz fuzz, HubConnection hub, MethodInfo method)
    {
        var arguments = method.GetParameters().Select(p => Argument(fuzz, p)).ToArray();
        try
        {
            using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(60));
            var answer = await hub.InvokeCoreAsync(method.Name, typeof(object), arguments, limit.Token);
            fuzz.Hear(answer as string);
            return null;
        }
        catch (HubException e)
            when ((
                    !e.Message.Contains(LiveCalls.Defect, StringComparison.Ordinal)
                    && e.Message.Contains("HubException:", StringComparison.Ordinal)
                ) || e.Message.StartsWith("Failed to invoke", StringComparison.Ordinal)
            )
        {
            // Refused in words, or arguments of a wrong kind.
            return null;
        }
        catch (Exception e)
        {
            return $"{method.Name}({string.Join(", ", arguments.Select(Shown))}): {e.GetType().Name} {e.Message}";
        }
    }

    internal static string Shown(object? argument) =>
        argument switch
        {
            null => "null",
            string s => $"'{(s.Length > 300 ? s[..300] + "…" : s)}'",
            System.Collections.IEnumerable all => $"[{string.Join(", ", all.Cast<object>().Take(12).Select(Shown))}]",
            InputMessage m => $"{m.Kind} {m.X} {m.Y} {m.Field} {m.Text}",
            _ => Convert.ToString(argument, CultureInfo.InvariantCulture)!,
        };

    internal static object? Argument(Fuzz fuzz, ParameterInfo parameter)
    {
        var type = parameter.ParameterType;
        return type == typeof(string)
            && (Drafts.GetValueOrDefault($"{parameter.Member.Name}.{parameter.Name}") ?? Drafts.GetValueOrDefault(parameter.Name!))
                is { } schema
                ? (fuzz.Chance(0.03) ? null : fuzz.Json(schema))
            : type == typeof(string) ? (fuzz.Chance(0.05) ? null : fuzz.Word())
            : type == typeof(string[]) ? (fuzz.Chance(0.05) ? null : fuzz.SomeWords())
            : type == typeof(double[]) ? (fuzz.Chance(0.05) ? null : fuzz.Numbers())
            : type == typeof(double) ? fuzz.Number()
            : type == typeof(long) ? (fuzz.Chance(0.6) ? (long)(fuzz.Number() % 40) : (long)fuzz.Number())
            : type == typeof(bool) ? fuzz.Chance(0.5)
            : type == typeof(InputMessage)
                ? new InputMessage
                {
                    Kind = fuzz.Chance(0.9)
                        ? new[] { "move", "click", "dragStart", "drag", "dragEnd", "typed", "accept", "cancel", "way", "next" }[
                            fuzz.Next(10)
                        ]
                        : fuzz.Word(),
                    X = fuzz.Number(),
                    Y = fuzz.Number(),
                    Reach = fuzz.Number(),
                    Field = fuzz.Word(),
                    Text = fuzz.Word(),
                    Extend = fuzz.Chance(0.2),
                    Suppress = fuzz.Chance(0.2),
                }
            : throw new InvalidOperationException($"{parameter.Name} is of a kind that is not made up: {type}");
    }

    private static async Task<string?> CommandAsync(Fuzz fuzz, Client client, string id)
    {
        var revision = fuzz.Chance(0.9) ? (long?)(await client.PartAsync(id))["revision"] ?? 1 : fuzz.Next(50);
        var body = new JsonObject { ["revision"] = revision, ["command"] = fuzz.Of(fuzz.Schema("PartCommand")) };
        return await SentAsync(
            fuzz,
            client.Http,
            HttpMethod.Post,
            $"/api/parts/{id}/commands",
            fuzz.Changed(body, 0.4)?.ToJsonString() ?? "null",
            "application/json"
        );
    }

    private static async Task<string?> RequestAsync(
        Fuzz fuzz,
        Client client,
        string id,
        (string Path, string Method, JsonObject Operation) what
    )
    {
        if (what.Method == "delete" && fuzz.Chance(0.95))
        {
            return null;
        }

        var path = what
            .Path.Replace("{id}", fuzz.Chance(0.9) ? id : Uri.EscapeDataString(fuzz.Word()), StringComparison.Ordinal)
            .Replace(
                "{ending}",
                fuzz.Chance(0.7)
                    ? new[] { "step", "iges", "stl", "3mf", "glb", "svg", "json" }[fuzz.Next(7)]
                    : Uri.EscapeDataString(fuzz.Word()),
                StringComparison.Ordinal
            );
        var query = what.Operation["parameters"]
            ?.AsArray()
            .Where(p => (string?)p!["in"] == "query" && fuzz.Chance(0.7))
            .Select(p =>
                $"{p!["name"]}={Uri.EscapeDataString(fuzz.Chance(0.5) ? fuzz.Word() : fuzz.Number().ToString(CultureInfo.InvariantCulture))}"
            )
            .ToList()
            ?? [];
        var content = what.Operation["requestBody"]?["content"]?.AsObject();
        var (type, schema) = content is null ? (null, null) : content.Select(c => (c.Key, c.Value)).ElementAt(fuzz.Next(content.Count));
        var body =
            type is null ? null
            : type == "application/json" ? fuzz.Changed(fuzz.Of(schema!["schema"]) ?? new JsonObject(), 0.5)?.ToJsonString() ?? "null"
            : fuzz.Word() + fuzz.Word();
        return await SentAsync(
            fuzz,
            client.Http,
            new HttpMethod(what.Method.ToUpperInvariant()),
            query.Count == 0 ? path : $"{path}?{string.Join("&", query)}",
            body,
            type
        );
    }

    /// <summary>Somebody who is not signed in, at the account's doors.</summary>
    private static async Task<string?> StrangerAsync(Fuzz fuzz, ServerProcess server)
    {
        await using var stranger = new Client(server);
        var (path, schema) = new[]
        {
            ("sign-up", "Credentials"),
            ("sign-in", "Credentials"),
            ("recover", "Recovery"),
            ("delete", "Confirmation"),
            ("password", "PasswordChange"),
            ("sign-out", "Confirmation"),
        }[fuzz.Next(6)];
        return await SentAsync(
            fuzz,
            stranger.Http,
            HttpMethod.Post,
            $"/api/account/{path}",
            fuzz.Changed(fuzz.Of(fuzz.Schema(schema)), 0.6)?.ToJsonString() ?? "null",
            "application/json"
        );
    }

    private static async Task<string?> SentAsync(Fuzz fuzz, HttpClient http, HttpMethod method, string path, string? body, string? type)
    {
        using var request = new HttpRequestMessage(method, path);
        if (body is not null)
        {
            request.Content = new ByteArrayContent(Encoding.UTF8.GetBytes(body))
            {
                Headers = { ContentType = new MediaTypeHeaderValue(type!) },
            };
        }

        try
        {
            using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(60));
            using var answer = await http.SendAsync(request, limit.Token);
            return (int)answer.StatusCode < 500 ? null : $"{method} {path} {body?[..Math.Min(body.Length, 600)]}: {(int)answer.StatusCode}";
        }
        catch (Exception e) when (e is HttpRequestException or OperationCanceledException)
        {
            return $"{method} {path} {body?[..Math.Min(body.Length, 600)]}: {e.GetType().Name} {e.Message}";
        }
    }
}
