using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Naming;
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
    private const int MostKept = 64;
    private readonly RecentlyUsed<Body> bodies = new(MostKept);
    private readonly RecentlyUsed<(Outcome<Sketching.Sketch> Sketch, int Freedoms)> sketches = new(MostKept * 4);

    /// <summary>A body as it stands after some step.</summary>
    /// <param name="Name">Id of the step that began it.</param>
    /// <param name="Key">Content key.</param>
    /// <param name="Solid">Its geometry.</param>
    /// <param name="Topology">How it hangs together.</param>
    /// <param name="Bases">History names of its faces.</param>
    /// <param name="Names">Complete names.</param>
    internal sealed record Body(string Name, string Key, ISolid Solid, Topology Topology, ImmutableArray<string> Bases, Names Names) : IDisposable
    {
        public BodyResult? Result { get; set; }

        public void Dispose() => Solid.Dispose();
    }

    /// <param name="part">What to build.</param>
    /// <param name="withMesh">Whether bodies are tessellated.</param>
    /// <param name="starting">Told the id of each step before it is built.</param>
    /// <param name="cancel">Checked between steps.</param>
    public RebuildResult Rebuild(Part part, bool withMesh = true, Action<string>? starting = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(part);
        var state = new State(part);
        foreach (var step in part.Steps)
        {
            cancel.ThrowIfCancellationRequested();
            starting?.Invoke(step.Id);
            state.Results.Add(BuildOne(state, step));
        }

        var result = state.Body is null ? ImmutableArray<BodyResult>.Empty : [Report(state.Body, withMesh)];
        bodies.Trim(b => b.Key != state.Body?.Key);
        sketches.Trim(_ => true);
        return new RebuildResult(WithExtents(state), result);
    }

    private ImmutableArray<StepResult> WithExtents(State state)
    {
        var diagonal = state.Body is { } body ? Report(body, false).Bounds.Diagonal : 0;
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

    /// <summary>Measures between parts of the body that the part has now; names as in <see cref="Names"/>.</summary>
    public Outcome<Nearest> Distance(Part part, string a, string b)
    {
        var body = BodyOf(part);
        return body is null ? new Refusal("reading.no-body", "There is no body to measure yet.") : Distance(body, a, b);
    }

    /// <summary>The part's bodies as STEP.</summary>
    public Outcome<byte[]> WriteStep(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return BodyOf(part) is { } body ? kernel.WriteStep([(part.Name, body.Solid)]) : new Refusal("export.empty", "The part has no body to write yet.");
    }

    public void Dispose() => bodies.Clear();

    private Body? BodyOf(Part part)
    {
        var result = Rebuild(part, withMesh: false);
        return result.Bodies.IsEmpty ? null : bodies.Get(result.Bodies[0].Key);
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
            ExtrudeStep extrude => Build(state, extrude),
            ReadingStep reading => Build(state, reading),
            ImportStep import => Build(state, import),
            _ => throw new InvalidOperationException($"no builder for a {step.Kind} step"),
        };
        if (built.Done)
        {
            return built.Value;
        }

        state.Missing[step.Id] = "failing";
        return new StepResult(step.Id, StepState.Failed, built.Refusal!.Message);
    }

    private static Outcome<StepResult> Build(State state, DatumStep step) =>
        state.Model.Build(step).Map(frame => new StepResult(step.Id, StepState.Built, "") { Frame = frame });

    private static Outcome<StepResult> Build(State state, CurveStep step) =>
        state.Model.Build(step).Map(path => new StepResult(step.Id, StepState.Built, "") { Drawn = [.. path.Curves.SelectMany(c => c.Steps().Select(c.At))] });

    private Outcome<StepResult> Build(State state, SketchStep step) => step.PlaneIn(state.Model).Then(plane => SketchCopies.Followed(state.Model, step, plane).Then<StepResult>(followed =>
    {
        state.Planes[step.Id] = plane;
        var moved = !ReferenceEquals(followed, step.Sketch) && !followed.Equals(step.Sketch);
        var key = ContentKey.Of(moved ? step with { Sketch = followed } : step, state.ValueTexts(step));
        if (!sketches.TryGet(key, out var kept))
        {
            var solved = SketchEditor.Solved(followed, state.Values);
            kept = (solved, Freedoms.Of(solved.Done ? solved.Value : followed).Count);
            sketches.Put(key, kept);
        }

        if (!kept.Sketch.Done)
        {
            return moved ? kept.Sketch.Refusal! with { Message = $"The sketch cannot follow what it copies from the model. {kept.Sketch.Refusal!.Message}" } : kept.Sketch.Refusal!;
        }

        state.Sketches[step.Id] = (kept.Sketch.Value, key);
        state.Model.Add(step, kept.Sketch.Value, plane);
        return new StepResult(step.Id, StepState.Built, "")
        {
            Frame = plane,
            Freedoms = kept.Freedoms,
            FollowedJson = moved ? System.Text.Json.JsonSerializer.Serialize(kept.Sketch.Value, PartJson.Compact) : null,
        };
    }));

    private Outcome<StepResult> Build(State state, ExtrudeStep step)
    {
        if (!state.Sketches.TryGetValue(step.Sketch, out var sketch))
        {
            return new Refusal("extrude.sketch", $"'{step.Sketch}' is not a sketch.");
        }

        var plane = state.Planes[step.Sketch];
        var key = ContentKey.Of(step, [sketch.Key, plane.ToString(), state.Body?.Key ?? "", .. state.ValueTexts(step)]);
        if (bodies.Get(key) is not { } body)
        {
            var made = Extruded(state, step, sketch.Sketch, plane, key);
            if (!made.Done)
            {
                return made.Refusal!;
            }

            body = made.Value;
            bodies.Put(key, body);
        }

        Take(state, body);
        return new StepResult(step.Id, StepState.Built, "");
    }

    private Outcome<Body> Extruded(State state, ExtrudeStep step, Sketching.Sketch sketch, Frame plane, string key)
    {
        var arrangement = Sketching.Regions.Arrangement.Of(sketch);
        var regions = arrangement.Choose(step.Regions);
        if (!regions.Done)
        {
            return regions.Refusal!;
        }

        if (step.Operation == FormOperation.Cut && state.Body is null)
        {
            return new Refusal("extrude.no-body", "There is no body to cut yet.");
        }

        var range = Range(state, step, plane);
        if (!range.Done)
        {
            return range.Refusal!;
        }

        var joined = arrangement.Join(regions.Value);
        var prism = kernel.Extrude(joined, plane, range.Value.From, range.Value.To, step.Flip);
        if (!prism.Done)
        {
            return prism.Refusal!;
        }

        var edges = joined.SelectMany(r => new[] { r.Outer }.Concat(r.Holes)).SelectMany(l => l).ToList();
        var prismBases = prism.Value.Origins.Select(o => o.Length == 0 ? $"{step.Id}/face" : o[0].Kind switch
        {
            OriginKind.Side => $"{step.Id}/side/{edges[o[0].Index].Entity}",
            OriginKind.StartCap => $"{step.Id}/start",
            _ => $"{step.Id}/end",
        }).ToImmutableArray();
        if (state.Body is not { } before)
        {
            return Named(step.Id, key, prism.Value.Solid, prismBases);
        }

        using var tool = prism.Value.Solid;
        var combined = step.Operation == FormOperation.Join ? kernel.Join(before.Solid, tool) : kernel.Cut(before.Solid, tool);
        if (!combined.Done)
        {
            return combined.Refusal!;
        }

        if (step.Operation == FormOperation.Cut && kernel.Mass(before.Solid).Volume - kernel.Mass(combined.Value.Solid).Volume < 1e-9 * kernel.Mass(before.Solid).Volume)
        {
            combined.Value.Solid.Dispose();
            var gap = kernel.Distance(before.Solid, default, tool, default);
            return new Refusal("extrude.no-material", $"The cut meets no material{(gap.Done && gap.Value.Distance > 0 ? $": the nearest is {Units.Show(Quantity.Length(gap.Value.Distance), state.Part.Units)} away" : "")}. Flip it, lengthen it or move the sketch.");
        }

        var bases = combined.Value.Origins.Select(origins => origins.IsEmpty ? $"{step.Id}/face"
            : origins[0].Input == 0 ? before.Bases[origins[0].Index] : prismBases[origins[0].Index]).ToImmutableArray();
        return Named(before.Name, key, combined.Value.Solid, bases);
    }

    private Outcome<(double From, double To)> Range(State state, ExtrudeStep step, Frame plane)
    {
        if (step.Extent == ExtrudeExtent.ThroughAll)
        {
            var box = kernel.Bounds(state.Body!.Solid);
            var reach = box.Diagonal + ((box.Low + box.High) * 0.5).DistanceTo(plane.Origin) + 10;
            return (-reach, reach);
        }

        return Length(state, step.Length).Map(length => step.Extent == ExtrudeExtent.Symmetric ? (-length / 2, length / 2)
            : step.Flip ? (-length, 0.0) : (0.0, length));
    }

    private Outcome<StepResult> Build(State state, ImportStep step)
    {
        var key = ContentKey.Of(step, state.Body?.Key ?? "");
        if (bodies.Get(key) is not { } body)
        {
            var read = ImportedFile.Unpack(step.Content).Then(file => kernel.ReadStep(file));
            if (!read.Done)
            {
                return read.Refusal!;
            }

            var solid = read.Value;
            var bases = Enumerable.Range(0, kernel.Describe(solid).Faces.Length).Select(i => $"{step.Id}/face/{i + 1}").ToImmutableArray();
            if (state.Body is { } before)
            {
                using var added = solid;
                var joined = kernel.Join(before.Solid, added);
                if (!joined.Done)
                {
                    return joined.Refusal!;
                }

                bases = [.. joined.Value.Origins.Select(o => o.IsEmpty ? $"{step.Id}/face" : o[0].Input == 0 ? before.Bases[o[0].Index] : bases[o[0].Index])];
                solid = joined.Value.Solid;
            }

            body = Named(state.Body?.Name ?? step.Id, key, solid, bases);
            bodies.Put(key, body);
        }

        Take(state, body);
        return new StepResult(step.Id, StepState.Built, "");
    }

    private void Take(State state, Body body)
    {
        state.Body = body;
        var report = Report(body, false);
        state.Model.SetBody(body.Name, body.Names, body.Topology, report.Mass.Centre, report.Bounds);
        state.Model.Section = plane => Section(body, plane);
    }

    private Outcome<ImmutableArray<SectionCurve>> Section(Body body, Frame plane) => kernel.Section(body.Solid, plane).Map(edges => edges
        .Select(e => (e.Face, Curve: ShapeNumbers.CurveOf(e.Curve))).Where(e => e.Curve is not null).Select(e => new SectionCurve(body.Names.Faces[e.Face], e.Curve!)).ToImmutableArray());

    /// <summary>The curves where the body that a part has now meets a plane: face names, and the curves as flat numbers.</summary>
    public Outcome<ImmutableArray<(string Face, EdgeShape Curve)>> Section(Part part, Frame plane) => BodyOf(part) is { } body
        ? kernel.Section(body.Solid, plane).Map(edges => edges.Select(e => (body.Names.Faces[e.Face], e.Curve)).ToImmutableArray())
        : new Refusal("copy.no-body", "There is no body to cut with the sketch plane yet.");

    private Outcome<StepResult> Build(State state, ReadingStep step)
    {
        if (state.Body is not { } body)
        {
            return new Refusal("reading.no-body", "There is no body to read from yet.");
        }

        StepResult Value(double value) => new(step.Id, StepState.Built, "") { Reading = value };
        var mass = Report(body, false).Mass;
        switch (step.What)
        {
            case "volume":
                return Value(mass.Volume);
            case "area":
                return Value(mass.Area);
            case "mass":
                return Value(Mass.Grams(mass.Volume, state.Part.Material));
            case "distance":
                return Distance(body, step.Of[0], step.Of[1]).Map(near => Value(near.Distance) with { Points = [near.A, near.B] });
            default:
                return Find(body, step.Of[0]).Then<StepResult>(found => (step.What, found.Kind) switch
                {
                    ("face-area", SubShapeKind.Face) => Value(body.Topology.Faces[found.Index].Area),
                    ("edge-length", SubShapeKind.Edge) => Value(body.Topology.Edges[found.Index].Length),
                    _ => new Refusal("reading.kind", $"{step.What} cannot be read of {step.Of[0]}."),
                });
        }
    }

    private Outcome<Nearest> Distance(Body body, string a, string b) =>
        Find(body, a).Then(x => Find(body, b).Then(y => kernel.Distance(body.Solid, x, body.Solid, y)));

    private static Outcome<SubShape> Find(Body body, string name) => body.Names.Find(name) is { } found
        ? found
        : new Refusal("name.lost", $"'{name}' is no longer on the body. The closest now: {string.Join(", ", body.Names.Candidates(name))}.", name);

    private Body Named(string name, string key, ISolid solid, ImmutableArray<string> bases)
    {
        var topology = kernel.Describe(solid);
        return new Body(name, key, solid, topology, bases, Names.Of(bases, topology));
    }

    private BodyResult Report(Body body, bool withMesh)
    {
        var report = body.Result ?? new BodyResult(body.Name, body.Key, kernel.Mass(body.Solid), kernel.Bounds(body.Solid), body.Topology, body.Names, null);
        if (withMesh && report.Mesh is null)
        {
            report = report with { Mesh = kernel.Mesh(body.Solid, Math.Clamp(report.Bounds.Diagonal * Tolerances.DrawnDeviation, 0.002, 2)) };
        }

        body.Result = report;
        return withMesh ? report : report with { Mesh = null };
    }

    private static Outcome<double> Length(State state, string formula) => Formula.Parse(formula).Then(f => f.Evaluate(state.Values.Of)).Then<double>(q =>
        q.Dimension == Dimension.OfLength ? q.Value : new Refusal("formula.kind", $"A length is needed; '{formula}' is {q.Dimension.Words}."));

    /// <summary>What a rebuild has so far.</summary>
    private sealed class State(Part part)
    {
        public Part Part => part;

        public Model Model { get; } = new(part);

        public ParameterValues Values => Model.Values;

        public Dictionary<string, Frame> Planes { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, (Sketching.Sketch Sketch, string Key)> Sketches { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, string> Missing { get; } = new(StringComparer.Ordinal);

        public List<StepResult> Results { get; } = [];

        public Body? Body { get; set; }

        /// <summary>The values that a step's formulas read, for its content key.</summary>
        public IEnumerable<string> ValueTexts(Step step) => step.Sizes
            .SelectMany(z => Formula.Parse(z.Formula) is { Done: true } f ? f.Value.Names : [])
            .Distinct().Order(StringComparer.Ordinal)
            .Select(name => Values.Of(name) is { Done: true } v ? $"{name}={v.Value.Value:R}" : $"{name}=?");
    }
}
