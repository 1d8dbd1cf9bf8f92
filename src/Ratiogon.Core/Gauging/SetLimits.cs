using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>Gives a reading limits; an empty one is taken away.</summary>
[Kind("set-limits")]
public sealed record SetLimits(string Step, string? Least, string? Most) : PartCommand
{
    public override string Words => $"limits of {Step}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not ReadingStep reading || ReadingCatalog.Find(reading.What) is not { Kind: var kind })
        {
            return new Refusal("reading.no-reading", $"'{Ids.Shorten(Step)}' is no reading.", Step);
        }

        return One(Least, "least")
            .Then(least =>
                One(Most, "most")
                    .Then(most =>
                    {
                        var changed = reading with { Least = least, Most = most };
                        return Limits.Of(changed, kind, part.Values.Of).Map(_ => part.With(changed));
                    })
            );
        Outcome<string?> One(string? text, string field)
        {
            var formula = string.IsNullOrWhiteSpace(text)
                ? (Outcome<string?>)(string?)null
                : Formula.ForField(text, kind, part.Units, part.Values.Of).Map(f => (string?)f.Text);
            return formula.Done ? formula : formula.Refusal! with { Where = field };
        }
    }
}
