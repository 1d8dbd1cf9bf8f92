namespace Ratiogon.Core.Parts;

/// <summary>A body read from a STEP file, kept with the part.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="File">The name of the file it came from.</param>
/// <param name="Content">The file, compressed with gzip and written as base64.</param>
public sealed record ImportStep(string Id, int Number, string Name, string File, string Content) : Step(Id, Number, Name)
{
    public override string Kind => "import";

    public override IReadOnlyList<string> References => [];

    public override IReadOnlyList<StepSize> Sizes => [];

    public override Step WithSize(string field, string formula) => this;

    public override Refusal? Check() => string.IsNullOrEmpty(Content) ? new Refusal("import.empty", "The import holds no file.", "content") : null;
}
