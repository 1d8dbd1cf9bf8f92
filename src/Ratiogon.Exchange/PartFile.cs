using System.Globalization;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Ratiogon.Core;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Exchange;

/// <summary>The part as open JSON: see <c>docs/format.md</c>. Reading fills in what people may leave out (numbers,
/// names, ids of constraints and dimensions, shapes in short form) and checks everything else.</summary>
public static partial class PartFile
{
    /// <summary>The value of the <c>format</c> field.</summary>
    public const string Format = "ratiogon-part";

    /// <summary>The version written.</summary>
    public const int Version = 1;

    /// <summary>The largest file that is read, in bytes.</summary>
    public const int LargestBytes = 128 * 1024 * 1024;

    private static readonly JsonDocumentOptions DocumentOptions = new()
    {
        MaxDepth = PartJson.DeepestNesting,
        AllowDuplicateProperties = false,
        CommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
    };

    public static FileFormat Written { get; } =
        new(["json"], "application/json", "Part", "the part itself", "the part itself, with every step", (site, _) => Write(site.Part));

    public static byte[] Write(Part part)
    {
        var node = JsonSerializer.SerializeToNode(part, PartJson.Readable)!.AsObject();
        node.Insert(0, "format", Format);
        node.Insert(1, "version", Version);
        return JsonSerializer.SerializeToUtf8Bytes(node, PartJson.Readable);
    }

    /// <summary>Reads a part. Refuses with the reason and the place; sketches come as written, not solved.</summary>
    public static Outcome<Part> Read(ReadOnlySpan<byte> utf8)
    {
        if (utf8.Length > LargestBytes)
        {
            return new Refusal("file.too-large", $"The file has {utf8.Length >> 20} MB; up to {LargestBytes >> 20} MB are read.");
        }

        try
        {
            using var document = JsonDocument.Parse(utf8.ToArray(), DocumentOptions);
            if (document.RootElement.ValueKind != JsonValueKind.Object || JsonObject.Create(document.RootElement) is not { } root)
            {
                return new Refusal("file.not-a-part", "The file is not a JSON object.");
            }

            if (TakeText(root, "format") is not Format)
            {
                return new Refusal("file.not-a-part", $"The file does not say \"format\": \"{Format}\".", "$.format");
            }

            if (TakeText(root, "version") != Version.ToString(CultureInfo.InvariantCulture))
            {
                return new Refusal("file.version", $"Only version {Version} of the format is known.", "$.version");
            }

            if (Nothing(root, "$") is { } hole)
            {
                return new Refusal("file.null", "There is nothing (null) at this place of a list.", hole);
            }

            Complete(root);
            var part = root.Deserialize<Part>(PartJson.Readable);
            return part is null ? new Refusal("file.not-a-part", "The file is empty.") : Check(part);
        }
        catch (JsonException e)
        {
            var where = e.Path is null or "" or "$" ? (e.LineNumber is { } line ? $"line {line + 1}" : null) : e.Path;
            return new Refusal("file.json", $"The file cannot be read: {Plain(e.Message, where) ?? Sentence(e.Message)}", where);
        }
        catch (Exception e) when (e is InvalidOperationException or ArgumentException or FormatException or NotSupportedException)
        {
            return new Refusal("file.json", $"The file cannot be read: {Sentence(e.Message)}");
        }
    }

    private static Outcome<Part> Check(Part part)
    {
        if (Part.CheckName(part.Name) is { } badName)
        {
            return badName with { Where = "$.name" };
        }

        if (part.Parameters.IsDefault || part.Steps.IsDefault || part.Steps.Length > Part.MostSteps)
        {
            return new Refusal("file.steps", $"Parameters and steps must be lists; a part may hold {Part.MostSteps} steps.");
        }

        if (!(part.Material.Density > 0 && part.Material.Density < 100))
        {
            return new Refusal("material.density", "A density lies between 0 and 100 g/cm³.", "$.material.density");
        }

        foreach (var parameter in part.Parameters)
        {
            if (Core.Quantities.Parameter.CheckName(parameter.Name) is { } wrong)
            {
                return wrong with { Where = "$.parameters" };
            }
        }

        if (part.Parameters.GroupBy(p => p.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            return new Refusal("parameter.duplicate", $"Parameter '{twice.Key}' is there twice.", "$.parameters");
        }

        if (part.Values.FirstRefusal is { } noValue)
        {
            return noValue with { Where = $"$.parameters ({noValue.Where})" };
        }

        return CheckSteps(part);
    }

    private static Outcome<Part> CheckSteps(Part part)
    {
        // Steps are added one by one to an empty part: the same rules as for a user's clicks.
        var built = part with { Steps = [], StopLine = null };
        for (var i = 0; i < part.Steps.Length; i++)
        {
            var step = part.Steps[i];
            if (step.Id.Length == 0)
            {
                return new Refusal("file.no-id", "A step needs an id: other steps refer to it by that.", $"$.steps[{i}].id");
            }

            if (step is SketchStep sketch)
            {
                var expanded = ShortForms.Expand(sketch.Sketch, part.Values);
                if (!expanded.Done)
                {
                    return expanded.Refusal!.At($"$.steps[{i}]");
                }

                step = sketch with { Sketch = expanded.Value };
            }

            var next = new Core.Parts.Commands.AddStep(step) { Kept = true }.Apply(built);
            if (!next.Done)
            {
                return next.Refusal!.At($"$.steps[{i}] ({step.Id})");
            }

            built = next.Value;
        }

        return CheckSaid(built with { StopLine = part.StopLine });
    }

    /// <summary>What is said of sizes and parameters goes by the same rules as when somebody says it.</summary>
    private static Outcome<Part> CheckSaid(Part part)
    {
        var said = part with
        {
            Tolerances = [],
            Variants = [],
            Parameters = [.. part.Parameters.Select(p => p with { Least = null, Most = null, Stride = null })],
        };
        (string Where, Core.Parts.Commands.PartCommand Command)[] commands =
        [
            .. part
                .Parameters.Where(p => p.Least is not null || p.Most is not null || p.Stride is not null)
                .Select(p =>
                    (
                        $"$.parameters ({p.Name})",
                        (Core.Parts.Commands.PartCommand)new Core.Parts.Commands.LimitParameter(p.Name, p.Least, p.Most, p.Stride)
                    )
                ),
            .. part.Tolerances.Select(t =>
                ($"$.tolerances ({t.Name})", (Core.Parts.Commands.PartCommand)new Core.Parts.Commands.SetTolerance(t.Step, t.Name, t.Text))
            ),
            .. part.Variants.IsEmpty
                ? []
                : new[] { ("$.variants", (Core.Parts.Commands.PartCommand)new Core.Parts.Commands.SetVariants(part.Variants)) },
        ];
        foreach (var (where, command) in commands)
        {
            var next = command.Apply(said);
            if (!next.Done)
            {
                return next.Refusal!.At(where);
            }

            said = next.Value;
        }

        return said;
    }

    /// <summary>The path of the first null among the items of a list, or null.</summary>
    private static string? Nothing(JsonNode? node, string path) =>
        node switch
        {
            JsonArray list => list.Select((item, i) => item is null ? $"{path}[{i}]" : Nothing(item, $"{path}[{i}]"))
                .FirstOrDefault(p => p is not null),
            JsonObject fields => fields.Select(f => Nothing(f.Value, $"{path}.{f.Key}")).FirstOrDefault(p => p is not null),
            _ => null,
        };

    private static void Complete(JsonObject root)
    {
        if (root["steps"] is not JsonArray steps)
        {
            return;
        }

        var number = 0;
        foreach (var step in steps.OfType<JsonObject>())
        {
            number = step["number"] is JsonValue given && given.TryGetValue<int>(out var n) ? n : ((number / 10) + 1) * 10;
            step["number"] ??= number;
            step["name"] ??= step["id"]?.DeepClone();
            StepShortForm.Expand(step);
            if (step["sketch"] is JsonObject sketch)
            {
                NumberThem(sketch["constraints"], "k");
                NumberThem(sketch["dimensions"], "d");
            }
        }
    }

    private static void NumberThem(JsonNode? list, string stem)
    {
        var items = (list as JsonArray)?.OfType<JsonObject>().ToList() ?? [];
        var taken = items.Select(i => i["id"]?.ToString()).OfType<string>().ToHashSet(StringComparer.Ordinal);
        foreach (var item in items.Where(i => i["id"] is null))
        {
            item["id"] = Ids.Next(stem, taken);
        }
    }

    private static string? TakeText(JsonObject root, string name)
    {
        var text = root[name]?.ToString();
        root.Remove(name);
        return text;
    }

    /// <summary>What the serializer says of a value, in terms of JSON; null where it says something else.</summary>
    private static string? Plain(string message, string? where)
    {
        if (Converted().Match(message) is { Success: true } of)
        {
            // It names the type of the value or that of what the value belongs to.
            var type = typeof(Part).Assembly.GetType(of.Groups["type"].Value) ?? Type.GetType(of.Groups["type"].Value);
            var member =
                type?.Assembly != typeof(Part).Assembly
                    ? null
                    : type.GetProperty(
                        where?[(where.LastIndexOf('.') + 1)..] ?? "",
                        BindingFlags.IgnoreCase | BindingFlags.Public | BindingFlags.Instance
                    );
            type = member is null ? type : Nullable.GetUnderlyingType(member.PropertyType) ?? member.PropertyType;
            return type switch
            {
                { IsEnum: true } => $"This must be one of {string.Join(", ", Values(type))}.",
                _ when type == typeof(string) => "This must be a text.",
                _ when type == typeof(bool) => "This must be true or false.",
                _ when type == typeof(int) => "This must be a whole number.",
                _ when type == typeof(double) => "This must be a number.",
                _ => "A value of another kind belongs here.",
            };
        }

        return Null().Match(message) is { Success: true } name
            ? $"'{JsonNamingPolicy.CamelCase.ConvertName(name.Groups["name"].Value)}' may not be null."
            : null;
    }

    /// <summary>The values of an enumeration as they are written.</summary>
    private static IEnumerable<string> Values(Type type) =>
        Enum.GetValues(type).Cast<object>().Select(v => JsonSerializer.Serialize(v, type, PartJson.Readable));

    [GeneratedRegex(@"could not be converted to (System\.Nullable`1\[)?(?<type>[\w.+]*\w)")]
    private static partial Regex Converted();

    [GeneratedRegex(@"(parameter|property or field) '(?<name>\w+)' on type")]
    private static partial Regex Null();

    private static string Sentence(string message)
    {
        // Its own place counts lines from 0; ours stands beside it.
        var end = new[] { " Path:", " LineNumber:" }
            .Select(mark => message.IndexOf(mark, StringComparison.Ordinal))
            .Where(at => at > 0)
            .DefaultIfEmpty(message.Length)
            .Min();
        var text = message[..end];
        return text.Length > 240 ? text[..240] + "…" : text;
    }
}
