using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Gives the part another name.</summary>
[Kind("rename-part")]
public sealed record RenamePart(string Name) : PartCommand
{
    public override string Words => $"rename to {Name}";

    protected override Outcome<Part> Make(Part part) => Part.CheckName(Name) is { } wrong ? wrong : part with { Name = Name.Trim() };
}

/// <summary>Chooses the unit lengths are shown and typed in. Nothing in the part changes size.</summary>
[Kind("set-units")]
public sealed record SetUnits(LengthUnit Units) : PartCommand
{
    public override string Words => "change the display unit";

    protected override Outcome<Part> Make(Part part) => part with { Units = Units };
}

/// <summary>Chooses what the part is made of.</summary>
[Kind("set-material")]
public sealed record SetMaterial(string Name, double Density) : PartCommand
{
    /// <summary>As #rrggbb, or null.</summary>
    public string? Colour { get; init; }

    public override string Words => $"make it of {Name}";

    protected override Outcome<Part> Make(Part part) =>
        new Material(Name, Density) { Colour = Colour } is var material && material.Check() is { } wrong
            ? wrong
            : part with
            {
                Material = material with { Name = Name.Trim() },
            };
}

/// <summary>Adds a parameter or gives it another formula.</summary>
[Kind("set-parameter")]
public sealed record SetParameter(string Name, string Value, string Note = "") : PartCommand
{
    public override string Words => $"set {Name} to {Value}";

    protected override Outcome<Part> Make(Part part)
    {
        if (Parameter.CheckName(Name) is { } badName)
        {
            return badName with { Where = "name" };
        }

        return Formula
            .Parse(Value)
            .Then<Part>(formula =>
            {
                var old = part.Parameters.FirstOrDefault(p => p.Name == Name);
                var parameter = (old ?? new Parameter(Name, "")) with { Value = formula.Text, Note = Note };
                var next = part with
                {
                    Parameters = old is null ? part.Parameters.Add(parameter) : part.Parameters.Replace(old, parameter),
                };
                var value = next.Values.Of(Name);
                return value.Refusal is { } refusal ? refusal with { Where = Name } : PartSolver.Resolve(next, next.Steps);
            });
    }
}

/// <summary>Takes a parameter away, unless something reads it.</summary>
[Kind("remove-parameter")]
public sealed record RemoveParameter(string Name) : PartCommand
{
    public override string Words => $"remove parameter {Name}";

    protected override Outcome<Part> Make(Part part)
    {
        var parameter = part.Parameters.FirstOrDefault(p => p.Name == Name);
        if (parameter is null)
        {
            return Unknown(Name);
        }

        var users = part
            .Parameters.Where(p => p != parameter && Reads(p.Value))
            .Select(p => p.Name)
            .Concat(part.Steps.Where(s => s.Sizes.Any(z => Reads(z.Formula))).Select(s => $"step {s.Number} {s.Name}"))
            .Concat(part.Variants.Where(v => v.Values.Any(c => c.Name != Name && Reads(c.Value))).Select(v => $"variant {v.Name}"))
            .ToList();
        return users.Count > 0
            ? new Refusal("parameter.in-use", $"'{Name}' is read by {string.Join(", ", users)}.", "name")
            : part with
            {
                Parameters = part.Parameters.Remove(parameter),
                Variants = [.. part.Variants.Select(v => v with { Values = v.Values.RemoveAll(c => c.Name == Name) })],
            };
    }

    internal static Refusal Unknown(string name) => new("parameter.unknown", $"There is no parameter '{Ids.Shorten(name)}'.", "name");

    private bool Reads(string formula) => Formula.Parse(formula) is { Done: true } f && f.Value.Names.Contains(Name);
}

/// <summary>Gives a parameter another name; all formulas follow.</summary>
[Kind("rename-parameter")]
public sealed record RenameParameter(string Name, string To) : PartCommand
{
    public override string Words => $"rename parameter {Name} to {To}";

    protected override Outcome<Part> Make(Part part)
    {
        var to = To.Trim();
        return part.Parameters.FirstOrDefault(p => p.Name == Name) is not { } parameter ? RemoveParameter.Unknown(Name)
            : to == Name ? part
            : Parameter.CheckName(to) is { } unusable ? unusable with { Where = "name" }
            : part.Parameters.Any(p => p.Name == to)
                ? new Refusal("parameter.taken", $"There is a parameter '{to}' already: choose another name.", "name")
            : NameUse.Follow(
                part with
                {
                    Parameters = part.Parameters.Replace(parameter, parameter with { Name = to }),
                    Tolerances = [.. part.Tolerances.Select(t => t is { Step: "" } && t.Name == Name ? t with { Name = to } : t)],
                    Variants = [.. part.Variants.Select(v => v.Renamed(Name, to))],
                },
                Name,
                to
            );
    }
}
