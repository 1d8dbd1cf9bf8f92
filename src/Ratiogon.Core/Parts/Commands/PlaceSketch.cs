using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Moves a sketch to another plane, or turns and moves it within its own. What is drawn keeps its sizes.</summary>
/// <param name="Step">The sketch.</param>
/// <param name="On">The plane, planar face or frame it comes to lie on.</param>
/// <param name="Turn">Angle about the normal; null for none.</param>
/// <param name="ShiftX">How far its origin moves along the plane's x; null for none.</param>
/// <param name="ShiftY">The same along y.</param>
[Kind("place-sketch")]
public sealed record PlaceSketch(string Step, string On, string? Turn = null, string? ShiftX = null, string? ShiftY = null) : PartCommand
{
    public override string Words => $"place {Step} on {On}";

    protected override Outcome<Part> Make(Part part)
    {
        if (part.Find(Step) is not SketchStep step)
        {
            return NoStep(Step);
        }

        var fields = new (string? Text, Dimension Kind)[]
        {
            (Turn, Dimension.OfAngle),
            (ShiftX, Dimension.OfLength),
            (ShiftY, Dimension.OfLength),
        }
            .Select(f => f.Text is null ? null : (Outcome<Formula>?)Formula.ForField(f.Text, f.Kind, part.Units, part.Values.Of))
            .ToList();
        if (fields.FirstOrDefault(f => f is { Done: false }) is { } wrong)
        {
            return wrong.Refusal!;
        }

        var placed = step with { On = On, Turn = fields[0]?.Value.Text, ShiftX = fields[1]?.Value.Text, ShiftY = fields[2]?.Value.Text };
        return StepRules.Check(part, placed, step) is { } refusal ? refusal : part.With(placed);
    }
}
