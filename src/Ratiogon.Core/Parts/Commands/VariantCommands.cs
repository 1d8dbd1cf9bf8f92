using System.Collections.Immutable;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>What every variant must keep.</summary>
internal static class VariantRules
{
    /// <summary>The most variants of a part.</summary>
    public const int Most = 500;

    /// <summary>What is wrong with a variant in a part, or the variant with its formulas as they are kept.</summary>
    public static Outcome<Variant> Checked(Part part, Variant variant)
    {
        if (Part.CheckName(variant.Name) is { } badName)
        {
            return badName with { Where = "name" };
        }

        if (variant.Values.IsDefault)
        {
            return new Refusal("variant.values", $"{variant.Name}: its values are missing.", "values");
        }

        if (variant.Material?.Check() is { } badMaterial)
        {
            return badMaterial;
        }

        if (variant.Values.GroupBy(v => v.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            return new Refusal("variant.twice", $"{variant.Name}: '{twice.Key}' has two values.", twice.Key);
        }

        if (variant.Suppressed is { } left && left.FirstOrDefault(id => part.Find(id) is null) is { } lost)
        {
            return new Refusal("step.unknown", $"{variant.Name}: there is no step '{Ids.Shorten(lost)}' to leave out.", "suppressed");
        }

        var (values, parameters) = (new List<VariantValue>(), part.Parameters);
        foreach (var value in variant.Values)
        {
            if (parameters.FirstOrDefault(p => p.Name == value.Name) is not { } parameter)
            {
                return new Refusal("parameter.unknown", $"{variant.Name}: there is no parameter '{Ids.Shorten(value.Name)}'.", value.Name);
            }

            var kind = part.Values.Of(value.Name) is { Done: true } now ? now.Value.Dimension : Dimension.None;
            var formula = Formula.Parse(value.Value);
            if (!formula.Done)
            {
                return formula.Refusal! with { Message = $"{variant.Name}, {value.Name}: {formula.Refusal!.Message}", Where = value.Name };
            }

            // A bare number is in the part's unit, as wherever a size is typed.
            var text = formula.Value.Text;
            if (
                formula.Value.Evaluate(_ => new Refusal("", "")) is { Done: true, Value.Dimension: var of }
                && of == Dimension.None
                && Units.Default(kind, part.Units) is { } unit
            )
            {
                text = $"{text} {unit}";
            }

            values.Add(value with { Value = text });
            parameters = parameters.Replace(parameter, parameter with { Value = text });
        }

        var all = ParameterValues.Evaluate(parameters);
        foreach (var value in values)
        {
            var (was, now) = (part.Values.Of(value.Name), all.Of(value.Name));
            if (now.Refusal is { } refusal)
            {
                return refusal with { Message = $"{variant.Name}, {value.Name}: {refusal.Message}", Where = value.Name };
            }

            if (was.Done && was.Value.Dimension != now.Value.Dimension)
            {
                return new Refusal(
                    "formula.kind",
                    $"{variant.Name}, {value.Name}: it is {was.Value.Dimension.Words}, not {now.Value.Dimension.Words}.",
                    value.Name
                );
            }
        }

        return variant with
        {
            Name = variant.Name.Trim(),
            Values = [.. values],
        };
    }

    public static Refusal Unknown(string name) => new("variant.unknown", $"There is no variant '{Ids.Shorten(name)}'.", "name");
}

/// <summary>Makes the table of variants what it is to be: rows added, changed, taken away and sorted in one go.</summary>
[Kind("set-variants")]
public sealed record SetVariants(ImmutableArray<Variant> Variants) : PartCommand
{
    public override string Words => "the table of variants";

    protected override Outcome<Part> Make(Part part)
    {
        if (Variants.IsDefault || Variants.Length > VariantRules.Most)
        {
            return new Refusal("variant.many", $"A part has up to {VariantRules.Most} variants.", "variants");
        }

        var rows = new List<Variant>();
        foreach (var row in Variants)
        {
            var good = VariantRules.Checked(part, row);
            if (!good.Done)
            {
                return good.Refusal!;
            }

            if (rows.Any(r => string.Equals(r.Name, good.Value.Name, StringComparison.OrdinalIgnoreCase)))
            {
                return new Refusal(
                    "variant.taken",
                    $"There are two variants called '{good.Value.Name}': each has a name of its own.",
                    "name"
                );
            }

            rows.Add(good.Value);
        }

        return part with
        {
            Variants = [.. rows],
        };
    }
}

/// <summary>Gives the part the values of a variant.</summary>
[Kind("choose-variant")]
public sealed record ChooseVariant(string Name) : PartCommand
{
    public override string Words => $"variant {Name}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Variants.FirstOrDefault(v => v.Name == Name) is not { } variant)
        {
            return VariantRules.Unknown(Name);
        }

        var next = part with
        {
            Parameters =
            [
                .. part.Parameters.Select(p =>
                    variant.Values.FirstOrDefault(v => v.Name == p.Name) is { } set ? p with { Value = set.Value } : p
                ),
            ],
            Material = variant.Material ?? part.Material,
            Steps = variant.Suppressed is not { } left
                ? part.Steps
                : [.. part.Steps.Select(s => s.Suppressed == left.Contains(s.Id) ? s : s with { Suppressed = left.Contains(s.Id) })],
        };
        return next.Values.FirstRefusal is { } refusal
            ? refusal with
            {
                Message = $"{Name}: {refusal.Message}",
            }
            : PartSolver.Resolve(next, next.Steps);
    }
}
