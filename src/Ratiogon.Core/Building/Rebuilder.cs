using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Building;

/// <summary>
/// Builds a part step by step on a kernel. Bodies and sketches are kept by content, so a change redoes only what
/// depends on it. One rebuild at a time; owned by one worker.
/// </summary>
public sealed class Rebuilder(ISolidKernel kernel) : IDisposable
{
    private const int MostKept = 96,
        MostReferences = 4;
    private readonly RecentlyUsed<Built> forms = new(MostKept);
    private const string CoarseMark = " coarse";
    private RebuildState? last;
    private ReadAhead? ahead;
    private readonly RecentlyUsed<Meshes.ReferenceBody> references = new(MostReferences);
    private readonly RecentlyUsed<(Outcome<Sketches.Sketch> Sketch, int Freedoms)> sketches = new(MostKept * 4);

    /// <summary>What a form step gave: of the bodies that it saw those after it, and its material for steps that repeat it.</summary>
    private sealed record Built(ImmutableArray<FormBody> Bodies, ImmutableArray<MaterialResult> Material, FormResult Result)
    {
        /// <summary>What it is kept by: what only looks like the real thing never by the key of that.</summary>
        public string KeptAs(string key) => Bodies.Any(b => b.OnlyLooks) ? key + Combining.QuickMark : key;
    }

    private sealed record ReadAhead(string Key, ReadBodies File);

    /// <summary>A form ready to be made: its content key, and how it is made. Making it changes nothing of the rebuild.</summary>
    private sealed record Making(string Key, Func<Outcome<Built>> Make);

    /// <summary>Whether bodies that do not meet are worked on at the same time.</summary>
    public bool SideBySide { get; set; } = true;

    /// <param name="part">What to build.</param>
    /// <param name="withMesh">Whether bodies are tessellated.</param>
    /// <param name="starting">Told the id of each step before it is built, and of one still being made when another is done.</param>
    /// <param name="cancel">Checked between steps.</param>
    public RebuildResult Rebuild(Part part, bool withMesh = true, Action<string>? starting = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(part);
        var state = new RebuildState(part, kernel);
        var built = Rebuilt(state, b => Report(b, withMesh ? b.Mesh() : null), starting, cancel);
        last = state;
        return built with
        {
            References =
            [
                .. part
                    .Steps.Select(s => state.References.GetValueOrDefault(s.Id))
                    .OfType<Meshes.ReferenceBody>()
                    .Select(r => Report(r, withMesh)),
            ],
        };
    }

    /// <summary>A picture of a moment, while a size of the last form above the stop line changes: what that joins only stands beside
    /// what it joins, and what has no triangles yet is drawn coarsely. See <see cref="RebuildResult.Rough"/>.</summary>
    public RebuildResult Quick(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var formed = part.Steps.LastOrDefault(s => s is FormStep && !part.Leaves(s));
        var state = new RebuildState(part, kernel) { Quick = formed is null ? -1 : part.Steps.IndexOf(formed) };
        var rough = false;
        var built = Rebuilt(state, b =>
        {
            var now = b.MeshNow();
            rough |= now.Coarse || b.OnlyLooks;
            var report = Report(b, now.Mesh);
            return now.Coarse ? report with { Key = report.Key + CoarseMark } : report;
        });
        return built with { Rough = rough };
    }

    private RebuildResult Rebuilt(
        RebuildState state,
        Func<FormBody, BodyResult> report,
        Action<string>? starting = null,
        CancellationToken cancel = default
    )
    {
        var part = state.Part;
        SolveAhead(state);
        BuildAll(state, starting, cancel);

        // What a large part needs the next time stays, and as much again of what it was before.
        forms.Trim(2 * part.Steps.Count(s => s is FormStep or ImportStep));
        sketches.Trim(2 * part.Steps.Count(s => s is SketchStep));
        references.Trim(2 * part.Steps.Count(s => s is MeshStep));
        return InWords(part, new RebuildResult(WithExtents(state), [.. state.Bodies.Select(report)]));
    }

    /// <summary>What is told of steps speaks of things by their words, not by the names of files.</summary>
    private static RebuildResult InWords(Part part, RebuildResult built)
    {
        static bool Names(StepResult s) =>
            s.Message.Contains('/', StringComparison.Ordinal) || s.Ways.Any(w => w.Words.Contains('/', StringComparison.Ordinal));
        if (!built.Steps.Any(Names))
        {
            return built;
        }

        var wording = Model.Of(part, built).Wording;
        return built with
        {
            Steps =
            [
                .. built.Steps.Select(s =>
                    s with
                    {
                        Message = wording.In(s.Message),
                        Ways = [.. s.Ways.Select(w => w with { Words = wording.In(w.Words) })],
                    }
                ),
            ],
        };
    }

    /// <summary>Sketches depend on nothing but their values, unless they copy from the model: those not solved yet are solved
    /// side by side.</summary>
    private void SolveAhead(RebuildState state)
    {
        var waiting = state
            .Part.Steps.OfType<SketchStep>()
            .Where(s => !state.Part.Leaves(s) && s.Copies.IsDefaultOrEmpty && s.Like is null)
            .Select(s => (s.Sketch, Key: ContentKey.Of(s, state.ValueTexts(s))))
            .Where(w => !sketches.TryGet(w.Key, out _))
            .ToList();
        if (waiting.Count < 2)
        {
            return;
        }

        var values = state.Values;
        foreach (var (key, kept) in waiting.AsParallel().Select(w => (w.Key, Kept: Solved(w.Sketch, values))).ToList())
        {
            sketches.Put(key, kept);
        }
    }

    private static (Outcome<Sketches.Sketch> Sketch, int Freedoms) Solved(Sketches.Sketch sketch, ParameterValues values)
    {
        var solved = SketchEditor.Solved(sketch, values);
        return (solved, Freedoms.Of(solved.Done ? solved.Value : sketch).Count);
    }

    private static ImmutableArray<StepResult> WithExtents(RebuildState state)
    {
        var diagonal = state.Bodies.Select(b => b.Box.Diagonal).DefaultIfEmpty(0).Max();
        var otherwise = diagonal > 0 ? diagonal * 0.2 : 20;
        var users = new Dictionary<string, List<Vec3>>(StringComparer.Ordinal);
        foreach (var (step, result) in state.Part.Steps.Zip(state.Results))
        {
            var places =
                step is SketchStep && state.Sketches.TryGetValue(step.Id, out var sketch)
                    ? DatumExtents.Of(sketch.Sketch, result.Frame!.Value)
                : result.Frame is { } frame ? [frame.Origin]
                : result.Drawn;
            foreach (var on in step.References.Select(World.StepOf).Distinct())
            {
                (users.TryGetValue(on, out var known) ? known : users[on] = []).AddRange(places);
            }
        }

        return
        [
            .. state.Results.Select(r =>
                r.Frame is { } frame ? r with { Extent = DatumExtents.Of(frame, users.GetValueOrDefault(r.Id) ?? [], otherwise) } : r
            ),
        ];
    }

    /// <summary>Reads a file of bodies that is likely to become a step next: the rebuild then need not read it again.</summary>
    public Outcome<ReadBodies> Read(BodyFormat format, ReadOnlyMemory<byte> file) =>
        kernel
            .Read(format, file)
            .Map(read =>
            {
                ahead = new ReadAhead(ContentKey.Of(format, file), read);
                return read;
            });

    /// <summary>What was read ahead serves one step alone: bodies of two steps share nothing.</summary>
    private Outcome<ReadBodies> ReadOnce(BodyFormat format, ReadOnlyMemory<byte> file) =>
        ahead is { } known && known.Key == ContentKey.Of(format, file) && Interlocked.CompareExchange(ref ahead, null, known) == known
            ? known.File
            : kernel.Read(format, file);

    /// <summary>The part as it stands, to take readings of.</summary>
    public GaugeSite Gauge(Part part) => Gauge(StateOf(part));

    /// <summary>The curves where the bodies that a part has now meet a plane: face names, and the curves as flat numbers.</summary>
    public Outcome<ImmutableArray<(string Face, EdgeShape Curve)>> Section(Part part, Frame plane)
    {
        var state = StateOf(part);
        return state.Bodies.IsEmpty && state.References.Count == 0
            ? new Refusal("copy.no-body", "There is no body to cut with the sketch plane yet.")
            : RebuildState.Cut(kernel, state.Bodies, state.References.Values, plane);
    }

    /// <summary>The stretches of material along a line through the bodies that a part has now.</summary>
    public ImmutableArray<Stretch> Probe(Part part, Line3 line) => HolePlan.Probe(kernel, BodiesOf(part), line);

    /// <summary>The inertia of every body that a part has now, in the order of the bodies.</summary>
    public ImmutableArray<Inertia> Inertias(Part part) => [.. BodiesOf(part).Select(b => kernel.Inertia(b.Solid))];

    public void Dispose() => forms.Clear();

    private ImmutableArray<FormBody> BodiesOf(Part part) => StateOf(part).Bodies;

    private RebuildState StateOf(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        if (last is { } known && ReferenceEquals(known.Part, part))
        {
            return known;
        }

        var state = new RebuildState(part, kernel);
        BuildAll(state);
        return last = state;
    }

    /// <summary>Builds every step once all that it waits for is built. Bodies that do not meet are worked on side by side; all
    /// else is done in between, by the caller's thread.</summary>
    private void BuildAll(RebuildState state, Action<string>? starting = null, CancellationToken cancel = default)
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
            var making = step is FormStep form ? Make(state, model, bodies, form) : Make(state, model, bodies, (ImportStep)step);
            var known = forms.Get(making.Key) ?? (at == state.Quick ? forms.Get(making.Key + Combining.QuickMark) : null);
            return known is { } kept ? (Took(state, at, making, kept), null) : (null, making);
        }

        return (
            Stood(
                state,
                step,
                step switch
                {
                    DatumStep datum => Build(state, model, datum),
                    CurveStep curve => Build(state, model, curve),
                    SketchStep sketch => Build(state, model, sketch),
                    ReadingStep reading => Build(state, model, bodies, reading),
                    MeshStep mesh => Build(state, mesh),
                    UnreadStep unread => new Refusal("step.unread", unread.Why),
                    _ => throw new InvalidOperationException($"no builder for a {step.Kind} step"),
                }
            ),
            null
        );
    }

    /// <summary>A step as it is reported; one that failed is missing to those that refer to it.</summary>
    private static StepResult Stood(RebuildState state, Step step, Outcome<StepResult> built)
    {
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
            Ways = step is FormStep form ? FormWays.Of(form, refusal) : [],
        };
    }

    /// <summary>What a form gave becomes the part's.</summary>
    private StepResult Took(RebuildState state, int at, Making making, Outcome<Built> made)
    {
        var step = state.Part.Steps[at];
        return Stood(
            state,
            step,
            made.Map(built =>
            {
                forms.Put(built.KeptAs(making.Key), built);
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

    private static Outcome<StepResult> Build(RebuildState state, Model model, DatumStep step) =>
        model
            .Build(step)
            .Map(frame =>
            {
                state.Prints[step.Id] = frame.ToExact();
                return new StepResult(step.Id, StepState.Built, "") { Frame = frame };
            });

    private static Outcome<StepResult> Build(RebuildState state, Model model, CurveStep step) =>
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

    private Outcome<StepResult> Build(RebuildState state, MeshStep step)
    {
        var key = ContentKey.Of(step, []);
        var built =
            references.Get(key) is { } kept ? kept
            : step.Check() is { } wrong ? wrong
            : step.Triangles().Map(mesh => new Meshes.ReferenceBody(step.Id, key, mesh));
        return built.Map(reference =>
        {
            references.Put(key, reference);
            state.References[step.Id] = reference;
            state.Model.Add(reference);
            state.Prints[step.Id] = key;
            return new StepResult(
                step.Id,
                StepState.Built,
                $"{reference.Mesh.Count:N0} triangles, {reference.Topology.Faces.Length:N0} faces"
            );
        });
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

    private Outcome<StepResult> Build(RebuildState state, Model model, SketchStep step) =>
        step.Like is not null ? step.PlaneIn(model).Then(plane => Copied(state, plane, step)) : Drawn(state, model, step);

    private Outcome<StepResult> Drawn(RebuildState state, Model model, SketchStep step) =>
        step.PlaneIn(model)
            .Then(plane =>
                SketchCopies
                    .Followed(model, step, plane)
                    .Then<StepResult>(followed =>
                    {
                        var moved = !ReferenceEquals(followed, step.Sketch) && !followed.Equals(step.Sketch);
                        var key = ContentKey.Of(moved ? step with { Sketch = followed } : step, state.ValueTexts(step));
                        if (!sketches.TryGet(key, out var kept))
                        {
                            kept = Solved(followed, state.Values);
                            sketches.Put(key, kept);
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

    private Making Make(RebuildState state, Model model, ImmutableArray<FormBody> bodies, FormStep step)
    {
        var site = Site(state, model, bodies, step);
        var key = ContentKey.Of(
            step,
            [
                .. site.Bodies.Select(b => b.Key),
                .. step.References.Select(World.StepOf).Distinct().Select(r => state.Prints.GetValueOrDefault(r) ?? ""),
                .. state.ValueTexts(step),
            ]
        );
        return new Making(key, () =>
            step.Check() is { } wrong ? wrong : step.Build(site).Then(result => Applied(site, step.Id, key, result))
        );
    }

    private Making Make(RebuildState state, Model model, ImmutableArray<FormBody> bodies, ImportStep step)
    {
        var site = Site(state, model, bodies, step);
        var key = ContentKey.Of(step, site.Bodies.Select(b => b.Key));
        return new Making(key, () => ImportedFile
                .Unpack(step.Content)
                .Then(file => ReadOnce(step.Format, file))
                .Then(read =>
                {
                    var count = kernel.Faces(read.Solid);
                    var shape = new Shaped(
                        read.Solid,
                        [
                            .. Enumerable
                                .Range(0, count)
                                .Select(i => $"{step.Id}/face/{(step.Faces.Count == count ? step.Faces[i] : $"{i + 1}")}"),
                        ]
                    );
                    return Imported(shape, read, step).Then(result => Applied(site, step.Id, key, result));
                }));
    }

    /// <summary>Every solid of a file is a body of its own.</summary>
    private Outcome<FormResult> Imported(Shaped all, ReadBodies read, ImportStep step)
    {
        var bodies = ImmutableArray.CreateBuilder<MaterialResult>();
        var count = kernel.Solids(all.Solid);
        for (var i = 0; i < count && count > 1; i++)
        {
            if (step.LeavesOut(i + 1))
            {
                continue;
            }

            var one = kernel.Solid(all.Solid, i);
            if (!one.Done)
            {
                return one.Refusal!;
            }

            bodies.Add(
                new MaterialResult([Guided(Shaped.Of(one.Value, step.Id, [all]))], FormOperation.Body, []) { Begins = step.BodyOf(i + 1) }
            );
        }

        ImmutableArray<string> notes =
        [
            .. count > 1 ? [$"{count} bodies{(count > bodies.Count ? $", {count - bodies.Count} left out" : "")}"] : Array.Empty<string>(),
            .. read.Said,
        ];
        return count <= 1 ? new MaterialResult([Guided(all)], step.Apart ? FormOperation.Body : FormOperation.Join, []) { Notes = notes }
            : bodies.Count == 0
                ? new Refusal("import.all-left-out", "Every body of the file is left out; take one in again, or remove the step.")
            : new SeveralResult(bodies.ToImmutable()) { Notes = notes };
    }

    /// <summary>An import does not move by itself: the axes that its faces have here are carried along with their copies.</summary>
    private Shaped Guided(Shaped shape) =>
        shape with
        {
            Guides = [.. kernel.Describe(shape.Solid).Faces.Select(f => f.Plane is { } plane ? AxisGuide.Of(plane) : AxisGuide.None)],
        };

    private Outcome<Built> Applied(FormSite site, string step, string key, FormResult result)
    {
        ImmutableArray<MaterialResult> material = result switch
        {
            MaterialResult one => [one],
            SeveralResult several => several.All,
            _ => [],
        };
        if (result is BodiesResult changed)
        {
            var bodies = site.Bodies.ToBuilder();
            foreach (var (name, now) in changed.Bodies)
            {
                var old = bodies.FirstOrDefault(b => b.Name == name);
                if (now is null)
                {
                    bodies.Remove(old!);
                }
                else if (old is null)
                {
                    bodies.Add(new FormBody(kernel, name, $"{key}:{name}", now));
                }
                else
                {
                    bodies[bodies.IndexOf(old)] = Combining.Renewed(site, old, key, now);
                }
            }

            return new Built(bodies.ToImmutable(), [], result);
        }

        var present = site.Bodies;
        foreach (var (one, i) in material.Select((m, i) => (m, i)))
        {
            var next = Combining.Apply(site.With(present), step, i == 0 ? key : $"{key}.{i}", one);
            if (!next.Done)
            {
                return next.Refusal!;
            }

            present = next.Value;
        }

        return new Built(present, material, result);
    }

    private FormSite Site(RebuildState state, Model model, ImmutableArray<FormBody> bodies, Step step) =>
        new()
        {
            Kernel = kernel,
            Model = model,
            Bodies = bodies,
            Sketch = id => state.Sketches.TryGetValue(id, out var s) ? s : null,
            Material = id => state.Material.TryGetValue(id, out var m) ? m : [],
            Quick = state.Quick >= 0 && ReferenceEquals(state.Part.Steps[state.Quick], step),

            // Of steps that this one waits for all are there; what others make lies on other bodies.
            Earlier = () =>
                state
                    .Results.Take(state.Part.Steps.IndexOf(step))
                    .Where(r => r is { State: StepState.Built })
                    .Select(r => new FormTraces(r.Holes, r.Threads)),
        };

    private Outcome<StepResult> Build(RebuildState state, Model model, ImmutableArray<FormBody> bodies, ReadingStep step)
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

    private GaugeSite Gauge(RebuildState state) =>
        new()
        {
            Kernel = kernel,
            Model = state.Whole,
            Bodies = state.Bodies,
            References = [.. state.References.Values],
        };

    private static BodyResult Report(Meshes.ReferenceBody r, bool withMesh) =>
        new(r.Name, r.Key, new MassProperties(0, r.Area, r.Centre), r.Box, r.Topology, r.Names, withMesh ? r.Drawn() : null);

    private static BodyResult Report(FormBody body, SolidMesh? mesh) =>
        new(body.Name, body.Key, body.OnlyLooks ? default : body.Mass, body.Box, body.Topology, body.Names, mesh);
}
