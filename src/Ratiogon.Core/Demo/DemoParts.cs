using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Core.Demo;

/// <summary>Demo parts are made by the commands that a user's clicks send.</summary>
internal static class DemoParts
{
    /// <exception cref="InvalidOperationException">A command is refused; the message says which and why.</exception>
    public static Part Made(IEnumerable<PartCommand> commands) => commands.Aggregate(new Part(), (part, command) => command.Apply(part) switch
    {
        { Done: true } next => next.Value,
        { Refusal: var refusal } => throw new InvalidOperationException($"{command.Words}: {refusal!.Message}"),
    });
}
