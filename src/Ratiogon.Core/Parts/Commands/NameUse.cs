using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>One name space for parameters and readings: a name means one thing, and what uses a reading comes after it.</summary>
internal static class NameUse
{
    /// <summary>What a change of a part would spoil, or null: a second meaning for a name, or a use without what it uses.</summary>
    public static Refusal? Spoiled(Part before, Part after)
    {
        if (after.Steps.All(s => s.ValueName is null) && before.Steps.All(s => s.ValueName is null))
        {
            return null;
        }

        var known = Problems(before).Select(p => p.Key).ToHashSet(StringComparer.Ordinal);
        return Problems(after).Where(p => !known.Contains(p.Key)).Select(p => p.Refusal).FirstOrDefault();
    }

    /// <summary>The part with every formula that uses a name written with another in its place.</summary>
    public static Part Follow(Part part, string from, string to)
    {
        bool Uses(string formula) => Formula.Parse(formula) is { Done: true } f && f.Value.Names.Contains(from);
        string With(string formula) => FormulaNames.Renamed(formula, from, to);
        return part with
        {
            Parameters = [.. part.Parameters.Select(p => Uses(p.Value) ? p with { Value = With(p.Value) } : p)],
            Variants =
            [
                .. part.Variants.Select(v =>
                    v with
                    {
                        Values = [.. v.Values.Select(c => Uses(c.Value) ? c with { Value = With(c.Value) } : c)],
                    }
                ),
            ],
            Steps =
            [
                .. part.Steps.Select(step =>
                    step.Sizes.Where(z => Uses(z.Formula)).Aggregate(step, (s, z) => s.WithSize(z.Field, With(z.Formula)))
                ),
            ],
        };
    }

    private static IEnumerable<(string Key, Refusal Refusal)> Problems(Part part)
    {
        var parameters = part.Parameters.Select(p => p.Name).ToHashSet(StringComparer.Ordinal);
        var readings = part
            .Steps.Where(s => s.ValueName is not null)
            .GroupBy(s => s.ValueName!, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
        foreach (var (name, of) in readings)
        {
            if (of.Count > 1 || parameters.Contains(name))
            {
                var other = of.Count > 1 ? $"step {of[1].Number}" : "a parameter";
                yield return (
                    $"twice {name}",
                    new Refusal(
                        "name.taken",
                        $"'{name}' would mean step {of[0].Number} and {other}: a name means one thing. Choose another.",
                        "name"
                    )
                );
            }
        }

        foreach (var step in part.Steps)
        {
            foreach (var name in step.NamesUsed().Distinct().Where(n => !parameters.Contains(n)))
            {
                if (!readings.TryGetValue(name, out var of))
                {
                    yield return (
                        $"lost {name} {step.Id}",
                        new Refusal("name.in-use", $"'{name}' is used by step {step.Number} {step.Name}: change that first.", step.Id)
                        {
                            Involved = [step.Id],
                        }
                    );
                }
                else if (of[0].Suppressed)
                {
                    yield return (
                        $"left {name} {step.Id}",
                        new Refusal("name.in-use", $"'{name}' is used by step {step.Number} {step.Name}: it cannot be left out.", of[0].Id)
                        {
                            Involved = [step.Id],
                        }
                    );
                }
                else if (of[0].Number > step.Number)
                {
                    yield return (
                        $"late {name} {step.Id}",
                        new Refusal(
                            "name.late",
                            $"Step {step.Number} {step.Name} uses '{name}', which is read only by step {of[0].Number}: "
                                + $"a reading comes before "
                                + "what uses it.",
                            step.Id
                        )
                        {
                            Involved = [of[0].Id, step.Id],
                        }
                    );
                }
            }
        }
    }
}
