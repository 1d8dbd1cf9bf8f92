namespace Ratiogon.Core.Parts.Commands;

/// <summary>A change of a part: what a user's click sends, what the demo is built with, what the edit log keeps. A new
/// command is one record with its name.</summary>
[ToldBy("command")]
public abstract record PartCommand
{
    /// <summary>The code of a refusal that only a defect of the program brings about.</summary>
    public const string Defect = "defect";

    /// <summary>The new part, or why not. Never changes anything else, and never throws: a defect becomes a refusal that reports
    /// it.</summary>
    public Outcome<Part> Apply(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        try
        {
            return Make(part)
                .Then(after =>
                    NameUse.Spoiled(part, after) is { } wrong ? wrong
                    : ParameterRanges.Left(part, after) is { } outside ? outside
                    : (Outcome<Part>)Tolerancing.Tidied(part, after)
                );
        }
        catch (OutOfPatienceException e)
        {
            return e.Refused;
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            var at = e
                .StackTrace?.Split('\n')
                .Select(l => l.Trim())
                .FirstOrDefault(l => l.Contains(nameof(Ratiogon), StringComparison.Ordinal))
                ?.Split(" in /", 2)[0];
            return new Refusal(Defect, $"Something went wrong inside, and nothing was changed: {e.GetType().Name}, {e.Message} ({at})");
        }
    }

    /// <summary>The new part, or why not, as this command makes it.</summary>
    protected abstract Outcome<Part> Make(Part part);

    /// <summary>What it does, in a few words, for the undo button.</summary>
    public abstract string Words { get; }

    /// <summary>What the user should know of what it did, in words; null where there is nothing to say.</summary>
    /// <param name="before">The part that it was applied to.</param>
    /// <param name="after">What it made of it.</param>
    public virtual string? Said(Part before, Part after) => null;

    private protected static Refusal NoStep(string id) => new("step.unknown", $"There is no step '{Ids.Shorten(id)}' in the part.", "step");
}
