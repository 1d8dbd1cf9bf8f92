using System.Text.Json.Serialization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts;

/// <summary>How far one size may be off.</summary>
/// <param name="Step">Id of the step that has it; empty for a parameter.</param>
/// <param name="Name">The size's field, or the parameter's name.</param>
/// <param name="Text">As <see cref="Tolerance.Parse"/> reads it.</param>
public sealed record SizeTolerance(string Step, string Name, string Text);

/// <summary>Classes of general tolerances (ISO 2768-1:1989).</summary>
[JsonConverter(typeof(JsonStringEnumConverter<GeneralTolerance>))]
public enum GeneralTolerance
{
    [JsonStringEnumMemberName("fine")]
    Fine,

    [JsonStringEnumMemberName("medium")]
    Medium,

    [JsonStringEnumMemberName("coarse")]
    Coarse,

    [JsonStringEnumMemberName("very-coarse")]
    VeryCoarse,
}

/// <summary>Which sizes of a part may be off, and by how much.</summary>
public static class Toleranced
{
    /// <summary>A size with what it may be off by.</summary>
    /// <param name="Step">Id of the step; empty for a parameter.</param>
    /// <param name="Name">The field or the parameter's name.</param>
    /// <param name="Value">As it is meant to be.</param>
    /// <param name="Zone">How far it may be off, in mm or rad.</param>
    /// <param name="Text">As it is written beside the size.</param>
    /// <param name="General">Whether only the part's class says so.</param>
    public sealed record Size(string Step, string Name, Quantity Value, Zone Zone, string Text, bool General);

    /// <summary>Every size of a part that has a tolerance of its own, or one by the part's class; or what is wrong with one.</summary>
    public static Outcome<IReadOnlyList<Size>> Of(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var (found, values) = (new List<Size>(), part.Values);
        foreach (var own in part.Tolerances.Where(t => t.Step.Length == 0))
        {
            var zone = values.Of(own.Name).Then(v => Tolerance.Parse(own.Text, v, part.Units).Map(z => (Value: v, Zone: z)));
            if (!zone.Done)
            {
                return zone.Refusal! with { Where = own.Name };
            }

            found.Add(new Size("", own.Name, zone.Value.Value, zone.Value.Zone, own.Text, false));
        }

        foreach (var step in part.Steps.Where(s => !part.Leaves(s)))
        {
            foreach (var size in step.Sizes)
            {
                var use = step.UseOf(size);
                if (use == SizeUse.Laid)
                {
                    continue;
                }

                if (Formula.Parse(size.Formula).Then(f => f.Evaluate(values.Of)) is not { Done: true } value)
                {
                    continue;
                }

                var own = part.Tolerances.FirstOrDefault(t => t.Step == step.Id && t.Name == size.Field);
                if (own is not null)
                {
                    var zone = Tolerance.Parse(own.Text, value.Value, part.Units);
                    if (!zone.Done)
                    {
                        return zone.Refusal! with { Where = $"{step.Id}/{size.Field}" };
                    }

                    found.Add(new Size(step.Id, size.Field, value.Value, zone.Value, own.Text, false));
                }
                else if (part.General is { } general && Iso2768.Of(general, value.Value, use == SizeUse.Broken) is { } off)
                {
                    found.Add(
                        new Size(
                            step.Id,
                            size.Field,
                            value.Value,
                            new Zone(-off, off),
                            $"±{Tolerance.Number(off, value.Value.Dimension, part.Units)}",
                            true
                        )
                    );
                }
            }
        }

        return found;
    }
}
