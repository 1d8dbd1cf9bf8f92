using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches.Applying;

namespace Ratiogon.Core.Parts.Commands;

/// <summary>Brings the sketches of a part to the present values of its parameters.</summary>
public static class PartSolver
{
    /// <summary>The part with these steps' sketches solved again; refused as a whole when one cannot follow.</summary>
    public static Outcome<Part> Resolve(Part part, IEnumerable<Step> steps)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(steps);
        var values = part.Values;
        foreach (var step in steps.ToList())
        {
            if (step is SketchStep sketch)
            {
                if (part.AwaitsReading(step.NamesUsed()))
                {
                    continue;
                }

                var solved = SketchEditor.Solved(sketch.Sketch, values);
                if (!solved.Done)
                {
                    return solved.Refusal! with { Message = $"Sketch {sketch.Name} cannot follow. {solved.Refusal!.Message}" };
                }

                part = solved.Value.Equals(sketch.Sketch) ? part : part.With(sketch with { Sketch = solved.Value });
            }
            else if (Parts.Commands.StepRules.Check(part, step, step) is { } wrong)
            {
                return wrong with { Message = $"Step {step.Number} {step.Name} cannot follow. {wrong.Message}" };
            }
        }

        return part;
    }
}
