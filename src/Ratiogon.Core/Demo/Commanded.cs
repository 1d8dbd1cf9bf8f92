using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Core.Demo;

/// <summary>A part as a series of commands makes it.</summary>
internal static class Commanded
{
    /// <exception cref="InvalidOperationException">A command is refused; the message says which and why.</exception>
    public static Part Made(IEnumerable<PartCommand> commands) =>
        commands.Aggregate(new Part(), (part, command) => command.Apply(part) switch
            {
                { Done: true } next => next.Value,
                { Refusal: var refusal } => throw new InvalidOperationException($"{command.Words}: {refusal!.Message}"),
            });
}
