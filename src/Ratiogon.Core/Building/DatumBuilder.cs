using System.Collections.Immutable;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>Builds planes, axes, points and frames, and curves in space.</summary>
internal static class DatumBuilder
{
    public static Outcome<StepResult> Build(RebuildState state, Model model, DatumStep step) =>
        model
            .Build(step)
            .Map(frame =>
            {
                state.Prints[step.Id] = frame.ToExact();
                return new StepResult(step.Id, StepState.Built, "") { Frame = frame };
            });

    public static Outcome<StepResult> Build(RebuildState state, Model model, CurveStep step) =>
        model
            .Build(step)
            .Map(path =>
            {
                ImmutableArray<Vec3> drawn = [.. path.Curves.SelectMany(c => c.Steps().Select(c.At))];
                state.Prints[step.Id] = string.Join(
                    ' ',
                    path.Curves.Select(c =>
                        string.Join(',', Enumerable.Range(0, 9).Select(i => c.At(c.From + ((c.To - c.From) * i / 8)).ToExact()))
                    )
                );
                return new StepResult(step.Id, StepState.Built, "") { Drawn = drawn };
            });
}
