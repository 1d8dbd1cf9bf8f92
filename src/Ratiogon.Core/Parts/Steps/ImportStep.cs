using System.Text.Json.Serialization;
using Ratiogon.Core.Forms;

namespace Ratiogon.Core.Parts;

/// <summary>A body read from a STEP or IGES file, kept with the part.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="File">The name of the file it came from; its ending says the format.</param>
/// <param name="Content">The file, compressed with gzip and written as base64.</param>
public sealed record ImportStep(string Id, int Number, string Name, string File, string Content) : Step(Id, Number, Name)
{
    /// <summary>The names of its faces in the order of the file, kept when a newer file takes its place; none for their numbers.</summary>
    public Refs Faces { get; init; } = [];

    /// <summary>As #rrggbb, where the file has one.</summary>
    public string? Colour { get; init; }

    /// <summary>Whether it stays a body of its own; otherwise it becomes one with what it touches.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Apart { get; init; }

    [JsonIgnore]
    public BodyFormat Format => ImportedFile.FormatOf(File);

    public override string Kind => "import";

    public override IReadOnlyList<string> References => [];

    public override IReadOnlyList<StepSize> Sizes => [];

    public override Step WithSize(string field, string formula) => this;

    public override Refusal? Check() => string.IsNullOrEmpty(Content) ? new Refusal("import.empty", "The import holds no file.", "content") : null;
}
