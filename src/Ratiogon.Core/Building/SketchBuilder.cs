using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Building;

/// <summary>Builds sketches: solved as their values are now, on the plane where that is now, with what they copy from the model.</summary>
internal sealed class SketchBuilder(BuildCache cache)
{
    public Outcome<StepResult> Build(RebuildState state, Model model, SketchStep step) =>
        step.Like is not null ? step.PlaneIn(model).Then(plane => Copied(state, plane, step)) : Drawn(state, model, step);

    /// <summary>Sketches depend on nothing but their values, unless they copy from the model: those not solved yet are solved
    /// side by side.</summary>
    public void SolveAhead(RebuildState state)
    {
        var waiting = state
            .Part.Steps.OfType<SketchStep>()
            .Where(s => !state.Part.Leaves(s) && s.Copies.IsDefaultOrEmpty && s.Like is null)
            .Select(s => (s.Sketch, Key: ContentKey.Of(s, state.ValueTexts(s))))
            .Where(w => !cache.Sketches.TryGet(w.Key, out _))
            .ToList();
        if (waiting.Count < 2)
        {
            return;
        }

        var values = state.Values;
        foreach (var (key, kept) in waiting.AsParallel().Select(w => (w.Key, Kept: Solved(w.Sketch, values))).ToList())
        {
            cache.Sketches.Put(key, kept);
        }
    }

    private static SolvedSketch Solved(Sketch sketch, ParameterValues values)
    {
        var solved = SketchEditor.Solved(sketch, values);
        return new SolvedSketch(solved, Freedoms.Of(solved.Done ? solved.Value : sketch).Count);
    }

    /// <summary>A sketch that is as another one is, on a plane of its own.</summary>
    private static Outcome<StepResult> Copied(RebuildState state, Frame plane, SketchStep step)
    {
        if (!state.Sketches.TryGetValue(step.Like!, out var original))
        {
            return new Refusal("sketch.copy", $"What {step.Name} is a live copy of is no sketch.", step.Like);
        }

        var held = SketchStep.Held(original.Sketch);
        state.Sketches[step.Id] = (held, plane);
        state.Prints[step.Id] = $"{state.Prints[step.Like!]} on {plane.ToExact()}";
        state.Model.Add(step, held, plane);
        return new StepResult(step.Id, StepState.Built, "")
        {
            Frame = plane,
            FollowedJson = held.Equals(step.Sketch) ? null : System.Text.Json.JsonSerializer.Serialize(held, PartJson.Compact),
        };
    }

    private Outcome<StepResult> Drawn(RebuildState state, Model model, SketchStep step) =>
        step.PlaneIn(model)
            .Then(plane =>
                SketchCopies
                    .Followed(model, step, plane)
                    .Then<StepResult>(followed =>
                    {
                        var moved = !ReferenceEquals(followed, step.Sketch) && !followed.Equals(step.Sketch);
                        var key = ContentKey.Of(moved ? step with { Sketch = followed } : step, state.ValueTexts(step));
                        if (!cache.Sketches.TryGet(key, out var kept))
                        {
                            kept = Solved(followed, state.Values);
                            cache.Sketches.Put(key, kept);
                        }

                        if (!kept.Sketch.Done)
                        {
                            return moved
                                ? kept.Sketch.Refusal! with
                                {
                                    Message = $"The sketch cannot follow what it copies from the model. {kept.Sketch.Refusal!.Message}",
                                }
                                : kept.Sketch.Refusal!;
                        }

                        state.Sketches[step.Id] = (kept.Sketch.Value, plane);
                        state.Prints[step.Id] = $"{key} {plane.ToExact()}";
                        state.Model.Add(step, kept.Sketch.Value, plane);
                        return new StepResult(step.Id, StepState.Built, "")
                        {
                            Frame = plane,
                            Freedoms = kept.Freedoms,
                            FollowedJson =
                                moved || (Driven(state, step) && !kept.Sketch.Value.Equals(step.Sketch))
                                    ? System.Text.Json.JsonSerializer.Serialize(kept.Sketch.Value, PartJson.Compact)
                                    : null,
                        };
                    })
            );

    /// <summary>Whether a reading gives one of a step's sizes: what the step holds may then be behind.</summary>
    private static bool Driven(RebuildState state, Step step)
    {
        var readings = state.Part.Steps.OfType<ReadingStep>().Where(r => r.Named).Select(r => r.Name).ToHashSet(StringComparer.Ordinal);
        return readings.Count > 0 && step.NamesUsed().Any(readings.Contains);
    }
}
