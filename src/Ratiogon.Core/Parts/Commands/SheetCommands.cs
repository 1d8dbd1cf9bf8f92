using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Puts a copy of a step right behind it.</summary>
[Kind("duplicate-step")]
public sealed record DuplicateStep(string Step) : PartCommand
{
    public override string Words => $"duplicate {Step}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not { } step)
        {
            return NoStep(Step);
        }

        var at = part.Steps.IndexOf(step);
        var next = at + 1 < part.Steps.Length ? part.Steps[at + 1].Number : step.Number + 20;
        var shifted = part;
        if (next - step.Number < 2)
        {
            shifted = part with
            {
                Steps = [.. part.Steps.Select(s => s.Number > step.Number ? s with { Number = s.Number + 10 } : s)],
                StopLine = part.StopLine is { } line && line > step.Number ? line + 10 : part.StopLine,
            };
            next = step.Number + 10;
        }

        var copy = step with
        {
            Id = "",
            Number = step.Number + Math.Min(10, (next - step.Number + 1) / 2),
            Name = Shortened($"{step.Name} copy"),
        };
        return new AddStep(copy).Apply(shifted).Map(p => p with { StopLine = shifted.StopLine });
    }

    private static string Shortened(string name) => name.Length > 120 ? name[..120] : name;
}

/// <summary>Puts another reference in place of one that is lost, wherever a step uses it.</summary>
[Kind("mend-reference")]
public sealed record MendReference(string Step, string Lost, string Instead) : PartCommand
{
    public override string Words => $"mend {Step}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not { } step)
        {
            return NoStep(Step);
        }

        if (!step.References.Contains(Lost))
        {
            return new Refusal("step.reference", $"{step.Name} does not refer to '{Ids.Shorten(Lost)}'.", "lost");
        }

        var json = JsonNode.Parse(
            JsonSerializer.SerializeToUtf8Bytes(step, PartJson.Compact),
            null,
            new JsonDocumentOptions { MaxDepth = PartJson.DeepestNesting }
        );
        Replace(json!);
        var mended = json.Deserialize<Step>(PartJson.Compact)!;
        return new ReplaceStep(mended).Apply(part);
    }

    private void Replace(JsonNode node)
    {
        switch (node)
        {
            case JsonObject of:
                foreach (var (name, value) in of.ToList())
                {
                    if (value is JsonValue v && Changed(v) is { } text)
                    {
                        of[name] = text;
                    }
                    else if (value is not null)
                    {
                        Replace(value);
                    }
                }

                break;
            case JsonArray array:
                for (var i = 0; i < array.Count; i++)
                {
                    if (array[i] is JsonValue v && Changed(v) is { } text)
                    {
                        array[i] = text;
                    }
                    else if (array[i] is { } inner)
                    {
                        Replace(inner);
                    }
                }

                break;
        }
    }

    /// <summary>Of a path over several edges, only the edge that is lost.</summary>
    private string? Changed(JsonValue value) =>
        value.TryGetValue<string>(out var text) && World.Single(text).Contains(Lost)
            ? string.Join(World.Next, World.Single(text).Select(r => r == Lost ? Instead : r))
            : null;
}

/// <summary>Puts steps into a group of the build sheet, or out of it where no name is given. Building does not change.</summary>
[Kind("group-steps")]
public sealed record GroupSteps(ImmutableArray<string> Steps, string? Group) : PartCommand
{
    public override string Words => Group is null ? "take out of the group" : $"group {Group}";

    protected override Outcome<Part> Make(Part part)
    {
        if (Group is not null && Part.CheckName(Group) is { } wrong)
        {
            return wrong;
        }

        if (Steps.IsDefaultOrEmpty || Steps.FirstOrDefault(s => part.Find(s) is null) is not null)
        {
            return NoStep(Steps.IsDefaultOrEmpty ? "" : Steps.First(s => part.Find(s) is null));
        }

        return part with
        {
            Steps = [.. part.Steps.Select(s => Steps.Contains(s.Id) ? s with { Group = Group?.Trim() } : s)],
        };
    }
}

/// <summary>Adds a material to the part's own list, or changes the one of that name.</summary>
[Kind("keep-material")]
public sealed record KeepMaterial(Material Material) : PartCommand
{
    private const int Most = 100;

    public override string Words => $"keep material {Material.Name}";

    protected override Outcome<Part> Make(Part part) =>
        Material.Check() is { } wrong ? wrong
        : part.Materials.Length >= Most ? new Refusal("material.too-many", $"A part keeps {Most} materials of its own at most.")
        : part with
        {
            Materials =
            [
                .. part
                    .Materials.Where(m => m.Name != Material.Name)
                    .Append(Material)
                    .OrderBy(m => m.Name, StringComparer.OrdinalIgnoreCase),
            ],
        };
}

/// <summary>Takes a material from the part's own list. A part that is made of it stays so.</summary>
[Kind("drop-material")]
public sealed record DropMaterial(string Name) : PartCommand
{
    public override string Words => $"drop material {Name}";

    protected override Outcome<Part> Make(Part part) =>
        part.Materials.Any(m => m.Name == Name)
            ? part with
            {
                Materials = [.. part.Materials.Where(m => m.Name != Name)],
            }
            : new Refusal("material.unknown", $"There is no material '{Ids.Shorten(Name)}' in the part's own list.", "name");
}
