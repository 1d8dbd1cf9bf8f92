using System.Globalization;
using System.Text.Json.Nodes;

namespace Ratiogon.Server.Tests;

/// <summary>Makes up what the schemas of the API ask for, right or nearly right, the same for the same seed.</summary>
internal sealed class Fuzz(int seed, JsonObject described)
{
    private const int Deep = 7;

    /// <summary>What references, formulas and names look like in a plate with holes, and what no program should be sent.</summary>
    private static readonly string[] Words =
    [
        "outline",
        "plate",
        "holes",
        "drilled",
        "outline/r.top",
        "plate/end",
        "plate/start",
        "plate/side/r.top",
        "plate/end^plate/side/r.top",
        "world/xy",
        "world/x",
        "world/origin",
        "plate/body",
        "r",
        "r.top",
        "r.centre",
        "c0",
        "p0",
        "10 mm",
        "2",
        "-5 mm",
        "90 deg",
        "w * 2",
        "1 3/8 in",
        "1/0 mm",
        "sqrt(-1) mm",
        "1e999 mm",
        "((((((((1",
        "mm",
        "extrude",
        "line",
        "rectangle",
        "sketch",
        "horizontal",
        "distance",
        "#ff0000",
        "part.svg",
        "part.step",
        "part.stl",
        "step",
        "",
        " ",
        "\0",
        "a\0b",
        "line\nbreak",
        "\u202e",
        "é部品",
        "../../etc/passwd",
        "' or 1=1 --",
        "<script>",
        "{{x}}",
        "NaN",
        "Infinity",
        "null",
        "__proto__",
        "a^b^c^d",
        "/",
        "//",
        "x/",
        new string('x', 3000),
        new string('(', 2000),
    ];

    private readonly Random random = new(seed);
    private readonly List<string> heard = [];

    public int Next(int below) => random.Next(below);

    public bool Chance(double share) => random.NextDouble() < share;

    public string Word() => heard.Count > 0 && Chance(0.15) ? heard[Next(heard.Count)] : Words[Next(Words.Length)];

    /// <summary>Remembers what the server answered, to be sent back, changed.</summary>
    public void Hear(string? answer)
    {
        if (answer is { Length: > 1 and < 20_000 } && heard.Count < 400)
        {
            heard.Add(answer);
        }
    }

    public double Number() =>
        Next(10) switch
        {
            0 => 0,
            1 => -1,
            2 => double.MaxValue,
            3 => double.Epsilon,
            4 => 1e9 * (random.NextDouble() - 0.5),
            5 => int.MaxValue,
            _ => Math.Round(100 * (random.NextDouble() - 0.5), 2),
        };

    public double[] Numbers() =>
        [.. Enumerable.Range(0, Chance(0.8) ? new[] { 3, 6, 9 }[Next(3)] : Next(20)).Select(_ => Chance(0.02) ? double.NaN : Number())];

    public string[] SomeWords() => [.. Enumerable.Range(0, Next(4)).Select(_ => Word())];

    /// <summary>JSON that the server once answered, or made by a schema, with a place in it changed.</summary>
    public string Json(string schema)
    {
        JsonNode? node = null;
        if (heard.Count > 0 && Chance(0.6))
        {
            try
            {
                node = JsonNode.Parse(heard[Next(heard.Count)]);
                node = node is JsonObject answer && answer["draft"] is { } draft ? draft.DeepClone() : node;
            }
            catch (System.Text.Json.JsonException)
            {
                // Not all that is answered is JSON.
            }
        }

        node ??= Of(Schema(schema));
        return Chance(0.03) ? node?.ToJsonString()[..^1] ?? "" : Changed(node, 0.6)?.ToJsonString() ?? "null";
    }

    public JsonObject Schema(string name) => described["components"]!["schemas"]![name]!.AsObject();

    /// <summary>A value for a schema.</summary>
    public JsonNode? Of(JsonNode? schema, int depth = 0)
    {
        if (schema is not JsonObject s || depth > Deep)
        {
            return null;
        }

        if (s["$ref"] is { } reference)
        {
            return Of(Schema(((string)reference!).Split('/')[^1]), depth);
        }

        foreach (var many in new[] { "anyOf", "oneOf" })
        {
            if (s[many] is JsonArray all)
            {
                return Of(all[Next(all.Count)], depth);
            }
        }

        if (s["enum"] is JsonArray values)
        {
            return values[Next(values.Count)]?.DeepClone();
        }

        var type = s["type"] is JsonArray types
            ? (string)types[Next(types.Count)]!
            : (string?)s["type"] ?? (s["properties"] is null ? "string" : "object");
        return type switch
        {
            "null" => null,
            "boolean" => Chance(0.5),
            "integer" => Next(6) == 0 ? (long)Next(int.MaxValue) : Next(20),
            "number" => Finite(Number()),
            "array" => new JsonArray([
                .. Enumerable
                    .Range(0, Math.Max((int?)s["minItems"] ?? 0, Math.Min(Next(4), (int?)s["maxItems"] ?? 4)))
                    .Select(_ => Of(s["items"], depth + 1)),
            ]),
            "object" => Properties(s, depth),
            _ => Word(),
        };
    }

    /// <summary>The same with something in it that does not belong there.</summary>
    public JsonNode? Changed(JsonNode? node, double share)
    {
        if (node is null || !Chance(share))
        {
            return node;
        }

        var places = new List<JsonNode>();
        Places(node, places);
        if (places.Count == 0)
        {
            return Odd();
        }

        switch (places[Next(places.Count)])
        {
            case JsonObject o when o.Count > 0:
                var name = o.Select(p => p.Key).ElementAt(Next(o.Count));
                switch (Next(4))
                {
                    case 0:
                        o.Remove(name);
                        break;
                    case 1:
                        o["unknown" + Next(9)] = Odd();
                        break;
                    default:
                        o[name] = Odd();
                        break;
                }

                break;
            case JsonArray a when a.Count > 0 && Chance(0.5):
                a[Next(a.Count)] = Odd();
                break;
            case JsonArray a:
                a.Add(Odd());
                break;
        }

        return node;
    }

    private JsonObject Properties(JsonObject schema, int depth)
    {
        var made = new JsonObject();
        var required = schema["required"]?.AsArray().Select(r => (string)r!).ToHashSet(StringComparer.Ordinal) ?? [];
        foreach (var (name, property) in schema["properties"]?.AsObject().AsEnumerable() ?? [])
        {
            if (required.Contains(name) || name is "command" or "kind" or "type" || Chance(0.5))
            {
                made[name] = Of(property, depth + 1);
            }
        }

        return made;
    }

    private JsonNode? Odd()
    {
        JsonNode? node = Next(12) switch
        {
            0 => null,
            1 => true,
            2 => Finite(Number()),
            3 => JsonNode.Parse("1e999"),
            4 => long.MaxValue,
            5 => new JsonArray(),
            6 => new JsonObject(),
            7 => new JsonArray([.. Enumerable.Range(0, 300).Select(i => (JsonNode?)i)]),
            8 => new string('y', 20_000),
            9 => JsonNode.Parse(new string('[', 60) + new string(']', 60)),
            _ => Word(),
        };
        return node;
    }

    private static double Finite(double v) => double.Parse(v.ToString("R", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);

    private static void Places(JsonNode? node, List<JsonNode> into)
    {
        if (node is JsonObject or JsonArray)
        {
            into.Add(node);
            foreach (var child in node is JsonObject o ? o.Select(p => p.Value) : node.AsArray())
            {
                Places(child, into);
            }
        }
    }
}
