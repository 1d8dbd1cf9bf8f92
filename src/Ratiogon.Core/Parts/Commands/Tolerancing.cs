using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Keeps tolerances and variants with what they are of.</summary>
internal static class Tolerancing
{
    /// <summary>The part after a change without tolerances, and steps of variants, of what the change took away.</summary>
    public static Part Tidied(Part before, Part after)
    {
        static bool Has(Part part, SizeTolerance t) =>
            t.Step.Length == 0 ? part.Parameters.Any(p => p.Name == t.Name) : part.Find(t.Step)?.Sizes.Any(z => z.Field == t.Name) == true;
        bool Gone(string step) => before.Find(step) is not null && after.Find(step) is null;
        var tolerances = after.Tolerances.RemoveAll(t => Has(before, t) && !Has(after, t));
        var variants = after.Variants;
        if (variants.Any(v => v.Suppressed is { } left && left.Any(Gone)))
        {
            variants = [.. variants.Select(v => v.Suppressed is { } left ? v with { Suppressed = left.RemoveAll(Gone) } : v)];
        }

        return tolerances.Length == after.Tolerances.Length && variants == after.Variants
            ? after
            : after with
            {
                Tolerances = tolerances,
                Variants = variants,
            };
    }
}

/// <summary>Says how far a size may be off: ±0.1, +0.2 -0.1, H7; nothing takes it away.</summary>
/// <param name="Step">Id of the step that has the size; empty for a parameter.</param>
/// <param name="Name">The size's field, or the parameter's name.</param>
/// <param name="Text">As <see cref="Tolerance.Parse"/> reads it.</param>
[Kind("set-tolerance")]
public sealed record SetTolerance(string Step, string Name, string Text) : PartCommand
{
    public override string Words => $"the tolerance of {Name}";

    protected override Outcome<Part> Make(Part part)
    {
        Outcome<Quantity> of;
        if (Step.Length == 0)
        {
            of = part.Parameters.Any(p => p.Name == Name) ? part.Values.Of(Name) : RemoveParameter.Unknown(Name);
        }
        else if (part.Find(Step) is not { } step)
        {
            return NoStep(Step);
        }
        else if (step.Sizes.FirstOrDefault(z => z.Field == Name) is not { } size)
        {
            return new Refusal("step.no-size", $"{step.Name} has no size '{Ids.Shorten(Name)}' that could be off.", Name);
        }
        else if (step.UseOf(size) == SizeUse.Laid && Text.Trim().Length > 0)
        {
            return new Refusal(
                "tolerance.laid",
                $"{size.Words} of {step.Name} is not made: only what a sketch or a form makes can be off.",
                Name
            );
        }
        else
        {
            of = Formula.Parse(size.Formula).Then(f => f.Evaluate(part.Values.Of));
        }

        if (!of.Done)
        {
            return of.Refusal!;
        }

        var others = part.Tolerances.RemoveAll(t => t.Step == Step && t.Name == Name);
        var text = Text.Trim();
        return text.Length == 0
            ? part with
            {
                Tolerances = others,
            }
            : Tolerance
                .Parse(text, of.Value, part.Units)
                .Map(_ => part with { Tolerances = others.Add(new SizeTolerance(Step, Name, text)) });
    }
}

/// <summary>Says how far sizes without a tolerance of their own may be off: a class of ISO 2768-1, or null for nothing.</summary>
[Kind("set-general-tolerance")]
public sealed record SetGeneralTolerance(GeneralTolerance? General = null) : PartCommand
{
    public override string Words => "the general tolerance";

    protected override Outcome<Part> Make(Part part) => part with { General = General };
}
