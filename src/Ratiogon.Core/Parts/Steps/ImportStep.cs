using System.Text.Json.Serialization;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Parts.Steps;

/// <summary>A body read from a STEP or IGES file, kept with the part.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="File">The name of the file it came from; its ending says the format.</param>
/// <param name="Content">The file, compressed with gzip and written as base64.</param>
[Kind("import")]
public sealed record ImportStep(string Id, int Number, string Name, string File, string Content) : Step(Id, Number, Name)
{
    /// <summary>The names of its faces in the order of the file, kept when a newer file takes its place; none for their numbers.</summary>
    public Refs Faces { get; init; } = [];

    /// <summary>As #rrggbb, where the file has one.</summary>
    public string? Colour { get; init; }

    /// <summary>The names of the bodies in the order of the file; empty ones for those without. None where the file holds one
    /// body.</summary>
    public Refs Bodies { get; init; } = [];

    /// <summary>Their colours as #rrggbb; empty for those without.</summary>
    public Refs Colours { get; init; } = [];

    /// <summary>The numbers, from 1, of those that are not taken in.</summary>
    public Refs LeftOut { get; init; } = [];

    /// <summary>Whether it stays a body of its own; otherwise it becomes one with what it touches.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Apart { get; init; }

    [JsonIgnore]
    public BodyFormat Format => ImportedFile.FormatOf(File);

    public override string Kind => "import";

    public override string? Bulk => Content;

    public override Step WithBulk(string bulk) => this with { Content = bulk };

    public override IReadOnlyList<string> References => [];

    public override IReadOnlyList<StepSize> Sizes => [];

    public override Step WithSize(string field, string formula) => this;

    /// <summary>Whether a body, by its number from 1, is not taken in.</summary>
    public bool LeavesOut(int number) => LeftOut.Contains($"{number}");

    /// <summary>What the part calls a body of the file, by its number from 1: the same whichever others are left out.</summary>
    public string BodyOf(int number) => number == 1 ? Id : $"{Id}/body/{number}";

    /// <summary>The import that began a body of a part; null for bodies of forms.</summary>
    public static ImportStep? Of(Part part, string body)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Find(World.StepOf(body)) as ImportStep;
    }

    /// <summary>The name that the file gives to one of its bodies; null where it gives none.</summary>
    /// <param name="body">As the part calls it.</param>
    public string? NameIn(string body) => Said(Bodies, body);

    /// <summary>The colour that the file gives to one of its bodies; null where it gives none.</summary>
    /// <param name="body">As the part calls it.</param>
    public string? ColourIn(string body) => Colours.Count == 0 ? Colour : Said(Colours, body);

    private string? Said(Refs of, string body)
    {
        for (var i = 0; i < of.Count; i++)
        {
            if (BodyOf(i + 1) == body)
            {
                return of[i].Length > 0 ? of[i] : null;
            }
        }

        return null;
    }

    public override Refusal? Check() =>
        LeftOut.FirstOrDefault(n => !(int.TryParse(n, out var number) && number >= 1 && number <= Bodies.Count)) is { } none
            ? new Refusal("import.no-body", $"The file has no body {Ids.Shorten(none)}; it has {Math.Max(1, Bodies.Count)}.", "leftOut")
        : string.IsNullOrEmpty(Content) ? new Refusal("import.empty", "The import holds no file.", "content")
        : null;
}
