using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching.Editing;
using Ratiogon.Core.Solving;

namespace Ratiogon.Core.Parts.Rebuilding;

/// <summary>
/// Builds a part step by step on a kernel. Bodies and sketches are kept by content, so a change redoes only what
/// depends on it. One rebuild at a time; owned by one worker.
/// </summary>
public sealed class Rebuilder(ISolidKernel kernel) : IDisposable
{
    private const int MostKept = 96;
    private readonly RecentlyUsed<Built> forms = new(MostKept);
    private State? last;
    private readonly RecentlyUsed<(Outcome<Sketching.Sketch> Sketch, int Freedoms)> sketches = new(MostKept * 4);

    /// <summary>What a form step gave: the bodies after it, and its material for steps that repeat it.</summary>
    private sealed record Built(ImmutableArray<FormBody> Bodies, ImmutableArray<MaterialResult> Material, FormResult Result);

    /// <param name="part">What to build.</param>
    /// <param name="withMesh">Whether bodies are tessellated.</param>
    /// <param name="starting">Told the id of each step before it is built.</param>
    /// <param name="cancel">Checked between steps.</param>
    public RebuildResult Rebuild(Part part, bool withMesh = true, Action<string>? starting = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(part);
        var state = new State(part);
        SolveAhead(state);
        foreach (var step in part.Steps)
        {
            cancel.ThrowIfCancellationRequested();
            starting?.Invoke(step.Id);
            state.Results.Add(BuildOne(state, step));
        }

        last = state;
        forms.Trim(_ => true);
        sketches.Trim(_ => true);
        return new RebuildResult(WithExtents(state), [.. state.Bodies.Select(b => Report(b, withMesh))]);
    }

    /// <summary>Sketches depend on nothing but their values, unless they copy from the model: those not solved yet are solved
    /// side by side.</summary>
    private void SolveAhead(State state)
    {
        var waiting = state.Part.Steps.OfType<SketchStep>().Where(s => !s.Suppressed && s.Copies.IsDefaultOrEmpty && !(s.Number > state.Part.StopLine))
            .Select(s => (s.Sketch, Key: ContentKey.Of(s, state.ValueTexts(s)))).Where(w => !sketches.TryGet(w.Key, out _)).ToList();
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

    private static (Outcome<Sketching.Sketch> Sketch, int Freedoms) Solved(Sketching.Sketch sketch, ParameterValues values)
    {
        var solved = SketchEditor.Solved(sketch, values);
        return (solved, Freedoms.Of(solved.Done ? solved.Value : sketch).Count);
    }

    private static ImmutableArray<StepResult> WithExtents(State state)
    {
        var diagonal = state.Bodies.Select(b => b.Box.Diagonal).DefaultIfEmpty(0).Max();
        var otherwise = diagonal > 0 ? diagonal * 0.2 : 20;
        var users = new Dictionary<string, List<Vec3>>(StringComparer.Ordinal);
        foreach (var (step, result) in state.Part.Steps.Zip(state.Results))
        {
            var places = step is SketchStep && state.Sketches.TryGetValue(step.Id, out var sketch) ? DatumExtents.Of(sketch.Sketch, result.Frame!.Value)
                : result.Frame is { } frame ? [frame.Origin] : result.Drawn;
            foreach (var on in step.References.Select(World.StepOf).Distinct())
            {
                (users.TryGetValue(on, out var known) ? known : users[on] = []).AddRange(places);
            }
        }

        return [.. state.Results.Select(r => r.Frame is { } frame ? r with { Extent = DatumExtents.Of(frame, users.GetValueOrDefault(r.Id) ?? [], otherwise) } : r)];
    }

    /// <summary>The part as it stands, to take readings of.</summary>
    public GaugeSite Gauge(Part part) => Gauge(StateOf(part));

    /// <summary>The curves where the bodies that a part has now meet a plane: face names, and the curves as flat numbers.</summary>
    public Outcome<ImmutableArray<(string Face, EdgeShape Curve)>> Section(Part part, Frame plane)
    {
        var bodies = BodiesOf(part);
        return bodies.IsEmpty ? new Refusal("copy.no-body", "There is no body to cut with the sketch plane yet.") : Cut(bodies, plane);
    }

    /// <summary>The stretches of material along a line through the bodies that a part has now.</summary>
    public ImmutableArray<Stretch> Probe(Part part, Line3 line) => HolePlan.Probe(kernel, BodiesOf(part), line);

    /// <summary>The inertia of every body that a part has now, in the order of the bodies.</summary>
    public ImmutableArray<Inertia> Inertias(Part part) => [.. BodiesOf(part).Select(b => kernel.Inertia(b.Solid))];

    public void Dispose() => forms.Clear();

    private ImmutableArray<FormBody> BodiesOf(Part part) => StateOf(part).Bodies;

    private State StateOf(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        if (last is { } known && ReferenceEquals(known.Part, part))
        {
            return known;
        }

        var state = new State(part);
        foreach (var step in part.Steps)
        {
            state.Results.Add(BuildOne(state, step));
        }

        return last = state;
    }

    private StepResult BuildOne(State state, Step step)
    {
        if (step.Suppressed || (state.Part.StopLine is { } line && step.Number > line))
        {
            state.Missing[step.Id] = step.Suppressed ? "suppressed" : "below the stop line";
            return new StepResult(step.Id, StepState.Left, "");
        }

        var missing = step.References.Select(World.StepOf).Distinct().Where(state.Missing.ContainsKey).Select(id => state.Part.Find(id)!).ToList();
        if (missing.Count > 0)
        {
            state.Missing[step.Id] = "waiting";
            return new StepResult(step.Id, StepState.Waiting, $"Waits for {string.Join(", ", missing.Select(m => $"step {m.Number} {m.Name}, which is {state.Missing[m.Id]}"))}.");
        }

        var built = step switch
        {
            DatumStep datum => Build(state, datum),
            CurveStep curve => Build(state, curve),
            SketchStep sketch => Build(state, sketch),
            FormStep form => Build(state, form),
            ReadingStep reading => Build(state, reading),
            ImportStep import => Build(state, import),
            _ => throw new InvalidOperationException($"no builder for a {step.Kind} step"),
        };
        if (built.Done)
        {
            return built.Value;
        }

        state.Missing[step.Id] = "failing";
        return new StepResult(step.Id, StepState.Failed, built.Refusal!.Message) { Points = built.Refusal.Places, Lost = [.. built.Refusal.Code == "name.lost" ? built.Refusal.Involved : []], LostName = built.Refusal.Code == "name.lost" ? built.Refusal.Where : null };
    }

    private static Outcome<StepResult> Build(State state, DatumStep step) => state.Model.Build(step).Map(frame =>
    {
        state.Prints[step.Id] = frame.ToExact();
        return new StepResult(step.Id, StepState.Built, "") { Frame = frame };
    });

    private static Outcome<StepResult> Build(State state, CurveStep step) => state.Model.Build(step).Map(path =>
    {
        ImmutableArray<Vec3> drawn = [.. path.Curves.SelectMany(c => c.Steps().Select(c.At))];
        state.Prints[step.Id] = string.Join(' ', path.Curves.Select(c => string.Join(',', Enumerable.Range(0, 9).Select(i => c.At(c.From + ((c.To - c.From) * i / 8)).ToExact()))));
        return new StepResult(step.Id, StepState.Built, "") { Drawn = drawn };
    });

    private Outcome<StepResult> Build(State state, SketchStep step) => step.PlaneIn(state.Model).Then(plane => SketchCopies.Followed(state.Model, step, plane).Then<StepResult>(followed =>
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
            return moved ? kept.Sketch.Refusal! with { Message = $"The sketch cannot follow what it copies from the model. {kept.Sketch.Refusal!.Message}" } : kept.Sketch.Refusal!;
        }

        state.Sketches[step.Id] = (kept.Sketch.Value, plane);
        state.Prints[step.Id] = $"{key} {plane.ToExact()}";
        state.Model.Add(step, kept.Sketch.Value, plane);
        return new StepResult(step.Id, StepState.Built, "")
        {
            Frame = plane,
            Freedoms = kept.Freedoms,
            FollowedJson = moved || (Driven(state, step) && !kept.Sketch.Value.Equals(step.Sketch)) ? System.Text.Json.JsonSerializer.Serialize(kept.Sketch.Value, PartJson.Compact) : null,
        };
    }));

    /// <summary>Whether a reading gives one of a step's sizes: what the step holds may then be behind.</summary>
    private static bool Driven(State state, Step step)
    {
        var readings = state.Part.Steps.OfType<ReadingStep>().Where(r => r.Named).Select(r => r.Name).ToHashSet(StringComparer.Ordinal);
        return readings.Count > 0 && NamesIn(step).Any(readings.Contains);
    }

    /// <summary>The names that a step's formulas use.</summary>
    private static IEnumerable<string> NamesIn(Step step) => step.Sizes.SelectMany(z => Formula.Parse(z.Formula) is { Done: true } f ? f.Value.Names : []);

    private Outcome<StepResult> Build(State state, FormStep step)
    {
        var key = ContentKey.Of(step, [.. state.Bodies.Select(b => b.Key), .. step.References.Select(World.StepOf).Distinct().Select(r => state.Prints.GetValueOrDefault(r) ?? ""), .. state.ValueTexts(step)]);
        if (forms.Get(key) is not { } built)
        {
            if (step.Check() is { } wrong)
            {
                return wrong;
            }

            var site = Site(state, state.Bodies);
            var made = step.Build(site).Then(result => Applied(state, site, step.Id, key, result));
            if (!made.Done)
            {
                return made.Refusal!;
            }

            forms.Put(key, built = made.Value);
        }

        Take(state, built.Bodies);
        state.Prints[step.Id] = key;
        state.Material[step.Id] = built.Material;
        return new StepResult(step.Id, StepState.Built, string.Join("; ", built.Result.Notes)) { Holes = built.Result.Holes, Threads = built.Result.Threads };
    }

    private Outcome<Built> Applied(State state, FormSite site, string step, string key, FormResult result)
    {
        ImmutableArray<MaterialResult> material = result switch { MaterialResult one => [one], SeveralResult several => several.All, _ => [] };
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
                    bodies.Add(FormBody.Of(kernel, name, $"{key}:{name}", now));
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
            var next = Combining.Apply(Site(state, present), step, i == 0 ? key : $"{key}.{i}", one);
            if (!next.Done)
            {
                return next.Refusal!;
            }

            present = next.Value;
        }

        return new Built(present, material, result);
    }

    private FormSite Site(State state, ImmutableArray<FormBody> bodies) => new()
    {
        Kernel = kernel,
        Model = state.Model,
        Bodies = bodies,
        Sketch = id => state.Sketches.TryGetValue(id, out var s) ? s : null,
        Material = id => state.Material.TryGetValue(id, out var m) ? m : [],
    };

    private Outcome<StepResult> Build(State state, ImportStep step)
    {
        var key = ContentKey.Of(step, state.Bodies.Select(b => b.Key));
        if (forms.Get(key) is not { } built)
        {
            var read = ImportedFile.Unpack(step.Content).Then(file => kernel.Read(step.Format, file));
            if (!read.Done)
            {
                return read.Refusal!;
            }

            var count = kernel.Describe(read.Value.Solid).Faces.Length;
            var shape = new Shaped(read.Value.Solid, [.. Enumerable.Range(0, count).Select(i => $"{step.Id}/face/{(step.Faces.Count == count ? step.Faces[i] : $"{i + 1}")}")]);
            var made = Applied(state, Site(state, state.Bodies), step.Id, key, new MaterialResult([shape], step.Apart ? FormOperation.Body : FormOperation.Join, []));
            if (!made.Done)
            {
                return made.Refusal!;
            }

            forms.Put(key, built = made.Value);
        }

        Take(state, built.Bodies);
        state.Prints[step.Id] = key;
        return new StepResult(step.Id, StepState.Built, "");
    }

    private void Take(State state, ImmutableArray<FormBody> bodies)
    {
        state.Bodies = bodies;
        state.Model.SetBodies([.. bodies.Select(b => new ModelBody(b.Name, b.Names, b.Topology, () => b.Mass(kernel).Centre, b.Box))]);
        state.Model.Section = plane => Cut(bodies, plane).Map(cuts => cuts
            .Select(e => (e.Face, Curve: ShapeNumbers.CurveOf(e.Curve))).Where(e => e.Curve is not null).Select(e => new SectionCurve(e.Face, e.Curve!)).ToImmutableArray());
    }

    private Outcome<ImmutableArray<(string Face, EdgeShape Curve)>> Cut(ImmutableArray<FormBody> bodies, Frame plane)
    {
        var all = ImmutableArray.CreateBuilder<(string, EdgeShape)>();
        foreach (var body in bodies)
        {
            var cut = kernel.Section(body.Solid, plane);
            if (!cut.Done)
            {
                return cut.Refusal!;
            }

            all.AddRange(cut.Value.Select(e => (body.Names.Faces[e.Face], e.Curve)));
        }

        return all.ToImmutable();
    }

    private Outcome<StepResult> Build(State state, ReadingStep step)
    {
        var site = Gauge(state);
        return Gauger.Read(site, step).Then(read => Limits.Of(step, read.Kind.Kind, state.Values.Of).Map(limits =>
        {
            state.Model.Add(step, new Quantity(read.Value.Value, read.Kind.Kind));
            state.Prints[step.Id] = read.Value.Value.ToString("R", System.Globalization.CultureInfo.InvariantCulture);
            return new StepResult(step.Id, StepState.Built, read.Value.Note) { Reading = read.Value.Value, Points = read.Value.Points, Verdict = limits.Of(read.Value.Value) };
        }));
    }

    private GaugeSite Gauge(State state) => new() { Kernel = kernel, Model = state.Model, Bodies = state.Bodies };

    private BodyResult Report(FormBody body, bool withMesh) => new(body.Name, body.Key, body.Mass(kernel), body.Box, body.Topology, body.Names, withMesh ? body.Mesh(kernel) : null);

    /// <summary>What a rebuild has so far.</summary>
    private sealed class State
    {
        public State(Part part)
        {
            (Part, Model) = (part, new Model(part with { Readings = ImmutableDictionary<string, Quantity>.Empty }));
            foreach (var reading in part.Steps.OfType<ReadingStep>())
            {
                Model.Add(reading, new Refusal("formula.unknown-name", $"'{reading.Name}' is read in step {reading.Number}: only steps after it can use it.", reading.Name));
            }
        }

        public Part Part { get; }

        public Model Model { get; }

        public ParameterValues Values => Model.Values;

        public Dictionary<string, (Sketching.Sketch Sketch, Frame Plane)> Sketches { get; } = new(StringComparer.Ordinal);

        /// <summary>For every step that was built, a text that changes when what it gives does.</summary>
        public Dictionary<string, string> Prints { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, ImmutableArray<MaterialResult>> Material { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, string> Missing { get; } = new(StringComparer.Ordinal);

        public List<StepResult> Results { get; } = [];

        public ImmutableArray<FormBody> Bodies { get; set; } = [];

        /// <summary>The values that a step's formulas read, for its content key.</summary>
        public IEnumerable<string> ValueTexts(Step step) => NamesIn(step).Distinct().Order(StringComparer.Ordinal)
            .Select(name => Values.Of(name) is { Done: true } v ? $"{name}={v.Value.Value:R}" : $"{name}=?");
    }
}
