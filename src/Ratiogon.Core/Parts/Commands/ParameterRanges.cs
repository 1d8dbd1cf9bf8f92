using System.Collections.Immutable;
using System.Globalization;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>What keeps parameters within their ranges.</summary>
internal static class ParameterRanges
{
    /// <summary>A value on a bound is within it, however it was worked out: this share of it is forgiven.</summary>
    private const double Slack = 1e-9;

    /// <summary>The parameter that a change of a part would take out of its range, or null.</summary>
    public static Refusal? Left(Part before, Part after)
    {
        if (after.Parameters.All(p => p.Least is null && p.Most is null))
        {
            return null;
        }

        var (was, values) = (before.Values, after.Values);
        foreach (var parameter in after.Parameters)
        {
            var (least, most) = parameter.Range;
            if (values.Of(parameter.Name) is not { Done: true, Value: var value })
            {
                continue;
            }

            var slack = Slack * Math.Max(1, Math.Abs(value.Value));
            var same = was.Of(parameter.Name) is { Done: true, Value: var old } && old == value && before.Parameters.Contains(parameter);
            if (!same && (value.Value < least - slack || value.Value > most + slack))
            {
                return new Refusal(
                    "parameter.range",
                    $"'{parameter.Name}' would be {Shown(value, after)}: its range goes from {parameter.Least ?? "anything"} to "
                        + $"{parameter.Most ?? "anything"}. Choose a value in it, or change the range.",
                    parameter.Name
                );
            }
        }

        return null;
    }

    private static string Shown(Quantity value, Part part) => Quantities.Units.Show(value, part.Units, 4);
}

/// <summary>Says between which values a parameter may be, and what it goes by; null takes a bound away.</summary>
[Kind("limit-parameter")]
public sealed record LimitParameter(string Name, string? Least = null, string? Most = null, string? Stride = null) : PartCommand
{
    public override string Words => $"the range of {Name}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Parameters.FirstOrDefault(p => p.Name == Name) is not { } parameter)
        {
            return RemoveParameter.Unknown(Name);
        }

        var now = part.Values.Of(Name);
        if (!now.Done)
        {
            return now.Refusal!;
        }

        Outcome<string?> Bound(string? text, string where)
        {
            if (string.IsNullOrWhiteSpace(text))
            {
                return (string?)null;
            }

            var formula = Formula.ForField(text, now.Value.Dimension, part.Units, NoNames);
            return formula.Done ? formula.Value.Evaluate(NoNames).Map(string? (q) => Text(q)) : formula.Refusal! with { Where = where };
        }

        return Bound(Least, "least")
            .Then(least =>
                Bound(Most, "most")
                    .Then(most =>
                        Bound(Stride, "stride")
                            .Then<Part>(stride =>
                            {
                                var limited = parameter with { Least = least, Most = most, Stride = stride };
                                var (from, to) = limited.Range;
                                return from >= to
                                        ? new Refusal("parameter.range", $"A range goes upwards: {least} is not less than {most}.", "most")
                                    : limited.StrideValue is <= 0
                                        ? new Refusal("parameter.stride", "What a parameter goes by is larger than nothing.", "stride")
                                    : part with { Parameters = part.Parameters.Replace(parameter, limited) };
                            })
                    )
            );
    }

    private static Outcome<Quantity> NoNames(string name) =>
        new Refusal("parameter.range", $"A bound is a number, not a formula with '{Ids.Shorten(name)}'.", name);

    private static string Text(Quantity value)
    {
        var number = value.Value;
        return value.Dimension == Dimension.OfAngle ? $"{Figures(number * 180 / Math.PI)} deg"
            : value.Dimension == Dimension.OfLength ? $"{Figures(number)} mm"
            : Figures(number);
    }

    private static string Figures(double value) => Math.Round(value, 12).ToString("R", CultureInfo.InvariantCulture);
}

/// <summary>Moves a parameter to another place of the list, and under a heading.</summary>
[Kind("place-parameter")]
public sealed record PlaceParameter(string Name, int Index, string? Group = null) : PartCommand
{
    public override string Words => $"move {Name}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Parameters.FirstOrDefault(p => p.Name == Name) is not { } parameter)
        {
            return RemoveParameter.Unknown(Name);
        }

        var group = string.IsNullOrWhiteSpace(Group) ? null : Group.Trim();
        if (group is not null && Part.CheckName(group) is { } wrong)
        {
            return wrong with { Where = "group" };
        }

        var others = part.Parameters.Remove(parameter);
        return part with { Parameters = others.Insert(Math.Clamp(Index, 0, others.Length), parameter with { Group = group }) };
    }
}

/// <summary>Gives many parameters their values at once, as from a table: all of them, or none.</summary>
[Kind("set-parameters")]
public sealed record SetParameters(ImmutableArray<SetParameter> Parameters) : PartCommand
{
    /// <summary>The most of them at once.</summary>
    public const int Most = 500;

    public override string Words => $"set {Parameters.Length} parameters";

    protected override Outcome<Part> Make(Part part)
    {
        if (Parameters.IsDefaultOrEmpty || Parameters.Length > Most)
        {
            return new Refusal("parameter.table", $"A table has from one to {Most} rows.");
        }

        // Rows may use what stands in later ones.
        var next = part;
        foreach (var row in Parameters)
        {
            if (Parameter.CheckName(row.Name) is { } unusable)
            {
                return unusable with { Where = row.Name };
            }

            var formula = Formula.Parse(row.Value);
            if (!formula.Done)
            {
                return formula.Refusal! with { Message = $"{row.Name}: {formula.Refusal!.Message}", Where = row.Name };
            }

            var old = next.Parameters.FirstOrDefault(p => p.Name == row.Name);
            var set = (old ?? new Parameter(row.Name, "")) with { Value = formula.Value.Text, Note = row.Note };
            next = next with { Parameters = old is null ? next.Parameters.Add(set) : next.Parameters.Replace(old, set) };
        }

        var values = next.Values;
        foreach (var row in Parameters)
        {
            if (values.Of(row.Name).Refusal is { } refusal)
            {
                return refusal with { Message = $"{row.Name}: {refusal.Message}", Where = row.Name };
            }
        }

        return PartSolver.Resolve(next, next.Steps);
    }
}
