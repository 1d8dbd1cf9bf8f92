using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>Takes the readings that are steps of a part, and judges them by their limits.</summary>
internal static class ReadingBuilder
{
    public static Outcome<StepResult> Build(
        RebuildState state,
        ISolidKernel kernel,
        Model model,
        ImmutableArray<FormBody> bodies,
        ReadingStep step
    )
    {
        var site = new GaugeSite
        {
            Kernel = kernel,
            Model = model,
            Bodies = bodies,
            References = [.. state.References.Values],
        };
        var built = Gauger
            .Read(site, step)
            .Then(read =>
                Limits
                    .Of(step, read.Kind.Kind, model.Values.Of)
                    .Map(limits =>
                    {
                        state.Model.Add(step, new Quantity(read.Value.Value, read.Kind.Kind));
                        state.Prints[step.Id] = read.Value.Value.ToString("R", System.Globalization.CultureInfo.InvariantCulture);
                        return new StepResult(step.Id, StepState.Built, read.Value.Note)
                        {
                            Reading = read.Value.Value,
                            Points = read.Value.Points,
                            Verdict = limits.Of(read.Value.Value),
                        };
                    })
            );
        if (!built.Done)
        {
            state.Model.Add(step, new Refusal("formula.unknown-name", $"'{step.Name}' has no value: step {step.Number} fails.", step.Name));
        }

        return built;
    }
}
