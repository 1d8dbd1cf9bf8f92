using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>Builds the steps of a part, each once all that it waits for is built; those whose bodies do not meet side by side.</summary>
internal sealed class Scheduler(ISolidKernel kernel, BuildCache cache)
{
    private readonly FormBuilder forms = new(kernel, cache);
    private readonly SketchBuilder sketches = new(cache);
    private readonly MeshBuilder meshes = new(cache);

    /// <summary>Whether bodies that do not meet are worked on at the same time.</summary>
    public bool SideBySide { get; set; } = true;

    /// <summary>Solves sketches that hang on nothing but their values ahead of the rebuild.</summary>
    public void SolveAhead(RebuildState state) => sketches.SolveAhead(state);

    /// <summary>Builds every step once all that it waits for is built. Bodies that do not meet are worked on side by side; all
    /// else is done in between, by the caller's thread.</summary>
    public void BuildAll(RebuildState state, Action<string>? starting = null, CancellationToken cancel = default)
    {
        var steps = state.Part.Steps;
        int[] before = [.. state.Order.Before];
        var ready = new SortedSet<int>(Enumerable.Range(0, steps.Length).Where(i => before[i] == 0));
        var running = new List<(int Step, Making Making, Task<Outcome<Built>> Made)>();
        void Done(int at, StepResult result)
        {
            state.Results[at] = result;
            foreach (var next in state.Order.Next[at])
            {
                if (--before[next] == 0)
                {
                    ready.Add(next);
                }
            }
        }

        try
        {
            while (ready.Count + running.Count > 0)
            {
                cancel.ThrowIfCancellationRequested();
                if (ready.Count == 0 || running.Count >= Environment.ProcessorCount)
                {
                    var (step, making, made) = running[Task.WaitAny([.. running.Select(r => r.Made)], cancel)];
                    running.RemoveAll(r => r.Step == step);
                    Done(step, Took(state, step, making, made.GetAwaiter().GetResult()));
                    if (running.Count > 0)
                    {
                        // Whoever counts the steps hears of one that is still being made.
                        starting?.Invoke(steps[running[0].Step].Id);
                    }

                    continue;
                }

                var at = ready.Min;
                ready.Remove(at);
                starting?.Invoke(steps[at].Id);
                var begun = Begin(state, at);
                if (begun.Making is not { } form)
                {
                    Done(at, begun.Result!);
                }
                else if (ready.Count + running.Count == 0 || !SideBySide)
                {
                    Done(at, Took(state, at, form, form.Make()));
                }
                else
                {
                    running.Add((at, form, Task.Run(form.Make, CancellationToken.None)));
                }
            }
        }
        finally
        {
            // What is being made uses bodies that are kept: nothing may be let go under it.
            Task.WhenAll(running.Select(r => r.Made))
                .ContinueWith(_ => { }, CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default)
                .Wait(CancellationToken.None);
        }
    }

    /// <summary>A step that is built, or a form that has yet to be made.</summary>
    private (StepResult? Result, Making? Making) Begin(RebuildState state, int at)
    {
        var step = state.Part.Steps[at];
        if (state.Part.Leaves(step))
        {
            state.Missing[step.Id] = step.Suppressed ? "suppressed" : "below the stop line";
            return (new StepResult(step.Id, StepState.Left, ""), null);
        }

        var missing = step
            .References.Select(World.StepOf)
            .Distinct()
            .Where(state.Missing.ContainsKey)
            .Select(id => state.Part.Find(id)!)
            .ToList();
        if (missing.Count > 0)
        {
            state.Missing[step.Id] = "waiting";
            return (
                new StepResult(
                    step.Id,
                    StepState.Waiting,
                    $"Waits for {string.Join(", ", missing.Select(m => $"step {m.Number} {m.Name}, which is {state.Missing[m.Id]}"))}."
                ),
                null
            );
        }

        var (model, bodies) = state.At(at);
        if (step is FormStep or ImportStep)
        {
            var making = forms.Make(state, model, bodies, step);
            var known = cache.Forms.Get(making.Key) ?? (at == state.Quick ? cache.Forms.Get(making.Key + Combining.QuickMark) : null);
            return known is { } kept ? (Took(state, at, making, kept), null) : (null, making);
        }

        return (
            Stood(
                state,
                at,
                step switch
                {
                    DatumStep datum => DatumBuilder.Build(state, model, datum),
                    CurveStep curve => DatumBuilder.Build(state, model, curve),
                    SketchStep sketch => sketches.Build(state, model, sketch),
                    ReadingStep reading => ReadingBuilder.Build(state, kernel, model, bodies, reading),
                    MeshStep mesh => meshes.Build(state, mesh),
                    UnreadStep unread => new Refusal("step.unread", unread.Why),
                    _ => throw new InvalidOperationException($"no builder for a {step.Kind} step"),
                }
            ),
            null
        );
    }

    /// <summary>A step as it is reported; one that failed is missing to those that refer to it.</summary>
    private StepResult Stood(RebuildState state, int at, Outcome<StepResult> built)
    {
        var step = state.Part.Steps[at];
        if (built.Done)
        {
            return built.Value;
        }

        state.Missing[step.Id] = "failing";
        var refusal = built.Refusal!;
        // Where another name in place of one would do, the step can be mended.
        var mendable = refusal.Code is "name.lost" or "name.pieces";
        return new StepResult(step.Id, StepState.Failed, refusal.Message)
        {
            Points = refusal.Places,
            Lost = mendable ? [.. refusal.Involved] : [],
            LostName = mendable ? refusal.Where : null,
            Where = refusal.Where,
            Ways = step is FormStep form ? [.. FormWays.Of(form, refusal), .. AxisWays.Of(state, kernel, at, refusal)] : [],
        };
    }

    /// <summary>What a form gave becomes the part's.</summary>
    private StepResult Took(RebuildState state, int at, Making making, Outcome<Built> made)
    {
        var step = state.Part.Steps[at];
        return Stood(
            state,
            at,
            made.Map(built =>
            {
                cache.Forms.Put(built.KeptAs(making.Key), built);
                state.Take(at, built.Bodies);
                state.Prints[step.Id] = making.Key;
                state.Material[step.Id] = built.Material;
                return new StepResult(step.Id, StepState.Built, string.Join("; ", built.Result.Notes))
                {
                    Holes = built.Result.Holes,
                    Threads = built.Result.Threads,
                };
            })
        );
    }
}
