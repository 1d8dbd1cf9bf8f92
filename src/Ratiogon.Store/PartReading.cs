using System.Text.Json;
using System.Text.Json.Nodes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Store;

/// <summary>Reads what is kept of a part. What cannot be read any more, after whatever accident, is shown as a step that fails and says
/// why; the part opens all the same.</summary>
internal static class PartReading
{
    /// <summary>Id of the step that stands for a head that cannot be read.</summary>
    public const string HeadId = "unread-head";

    /// <summary>A part without its steps, as it was kept. Where that cannot be read, each field and each item of a list by itself: what
    /// can is taken, what cannot is left out and shown by a step.</summary>
    /// <param name="header">JSON.</param>
    /// <param name="name">As the part is called in the list.</param>
    public static ReadHead HeadOf(string header, string name)
    {
        try
        {
            return new ReadHead(
                JsonSerializer.Deserialize<Part>(header, PartJson.Compact) ?? throw new JsonException("There is nothing."),
                null
            );
        }
        catch (Exception e) when (CannotBeRead(e))
        {
            var head = new Part { Name = Part.CheckName(name) is null ? name : "Part" };
            var lost = new List<string>();
            try
            {
                foreach (var (field, value) in JsonNode.Parse(header)!.AsObject())
                {
                    head = With(head, field, value, lost);
                }
            }
            catch (Exception whole) when (CannotBeRead(whole) || whole is NullReferenceException)
            {
                lost = ["all of it"];
            }

            return new ReadHead(
                head,
                new UnreadStep(
                    HeadId,
                    0,
                    "Head of the part",
                    header,
                    $"What is kept of the part's units, material and parameters cannot be read ({string.Join(", ", lost)}): {Said(e)} What "
                        + "could not be read has its usual value now, and steps that use a lost parameter fail. Put it right, then take "
                        + "this step away."
                )
            );
        }
    }

    /// <summary>A step as it was kept; one that cannot be read any more is shown as failing, and the part opens all the same.</summary>
    public static Step StepOf(string id, int number, string body)
    {
        var name = id;
        try
        {
            // Older rows may hold a short form.
            var node = JsonNode.Parse(body)!.AsObject();
            name = node["name"] is JsonValue said && said.TryGetValue<string>(out var text) ? text : id;
            StepShortForm.Expand(node);
            var step = node.Deserialize<Step>(PartJson.Compact)!;
            return step.Id == id ? step : throw new JsonException($"It says that it is '{step.Id}'.");
        }
        catch (Exception e) when (CannotBeRead(e))
        {
            return new UnreadStep(
                id,
                number,
                name,
                body,
                $"What is kept of this step cannot be read: {Said(e)} The rest of the part goes on; take the step away, or undo what led "
                    + "to it."
            );
        }
    }

    /// <summary>Whether an exception means that what is kept cannot be read.</summary>
    public static bool CannotBeRead(Exception e) =>
        e is JsonException or NotSupportedException or InvalidOperationException or FormatException or ArgumentException;

    private static string Said(Exception e) => e.Message.Split(" Path:")[0].Split('\n')[0];

    /// <summary>The head with one field, or as much of it as can be read.</summary>
    private static Part With(Part head, string field, JsonNode? value, List<string> lost)
    {
        var known = JsonSerializer.SerializeToNode(head, PartJson.Compact)!.AsObject();
        if (value is JsonArray items)
        {
            var read = new JsonArray();
            for (var i = 0; i < items.Count; i++)
            {
                read.Add(items[i]?.DeepClone());
                known[field] = read.DeepClone();
                if (Read(known) is null)
                {
                    read.RemoveAt(read.Count - 1);
                    lost.Add(items[i] is JsonObject o && o["name"] is JsonValue called ? $"{field}: {called}" : $"{field}, item {i + 1}");
                }
            }

            known[field] = read;
            return Read(known) ?? head;
        }

        known[field] = value?.DeepClone();
        if (Read(known) is { } better)
        {
            return better;
        }

        lost.Add(field);
        return head;
    }

    private static Part? Read(JsonObject head)
    {
        try
        {
            return head.Deserialize<Part>(PartJson.Compact);
        }
        catch (Exception e) when (CannotBeRead(e))
        {
            return null;
        }
    }
}

/// <summary>The head of a part as it was stored.</summary>
/// <param name="Head">What could be read of it.</param>
/// <param name="Unread">Says what was lost; null where all of it was read.</param>
public readonly record struct ReadHead(Part Head, UnreadStep? Unread);
