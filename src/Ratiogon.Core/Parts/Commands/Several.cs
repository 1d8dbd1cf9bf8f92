using System.Collections.Immutable;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Commands that belong together: all are done, or none.</summary>
[Kind("several")]
public sealed record Several(ImmutableArray<PartCommand> Commands, string What) : PartCommand
{
    private const int Most = 200;

    public override string Words => What;

    protected override Outcome<Part> Make(Part part)
    {
        if (Commands.IsDefaultOrEmpty || Commands.Length > Most)
        {
            return new Refusal("command.several", $"From 1 to {Most} commands go together.", "commands");
        }

        Outcome<Part> reached = part;
        foreach (var command in Commands)
        {
            reached = reached.Then(command.Apply);
        }

        return reached;
    }

    public bool Equals(Several? other) =>
        other is not null && What == other.What && Commands.AsSpan().SequenceEqual(other.Commands.AsSpan());

    public override int GetHashCode() => HashCode.Combine(What, Commands.Length);
}
