namespace Ratiogon.Core.Parts.Steps;

/// <summary>What is kept of a step that cannot be read: it fails, saying why, and the rest of the part goes on. It can be taken away,
/// or what
/// led to it undone; what was kept stays as it is.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Content">As it was kept.</param>
/// <param name="Why">Why it cannot be read, in words.</param>
[Kind("unread")]
public sealed record UnreadStep(string Id, int Number, string Name, string Content, string Why) : Step(Id, Number, Name)
{
    public override string Kind => "unread";

    public override IReadOnlyList<string> References => [];

    public override IReadOnlyList<StepSize> Sizes => [];

    public override Step WithSize(string field, string formula) => this;

    /// <summary>Nobody makes one.</summary>
    public override Refusal? Check() => new("step.unread", "A step of this kind is only what is left of one that cannot be read.", "kind");
}
