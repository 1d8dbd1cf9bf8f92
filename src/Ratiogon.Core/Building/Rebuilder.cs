using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>
/// Builds a part step by step on a kernel. Bodies and sketches are kept by content, so a change redoes only what
/// depends on it. One rebuild at a time; owned by one worker.
/// </summary>
public sealed class Rebuilder : IDisposable
{
    private readonly ISolidKernel kernel;
    private const string CoarseMark = " coarse";
    private readonly BuildCache cache = new();
    private readonly Scheduler scheduler;
    private RebuildState? last;

    /// <param name="kernel">Makes the bodies.</param>
    public Rebuilder(ISolidKernel kernel)
    {
        this.kernel = kernel;
        scheduler = new Scheduler(kernel, cache);
    }

    /// <summary>Whether bodies that do not meet are worked on at the same time.</summary>
    public bool SideBySide
    {
        get => scheduler.SideBySide;
        set => scheduler.SideBySide = value;
    }

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
        scheduler.SolveAhead(state);
        scheduler.BuildAll(state, starting, cancel);

        cache.Trim(part);
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
                cache.Expect(ContentKey.Of(format, file), read);
                return read;
            });

    /// <summary>The part as it stands, to take readings of.</summary>
    public GaugeSite Gauge(Part part) => Gauge(StateOf(part));

    /// <summary>The curves where the bodies that a part has now meet a plane: face names, and the curves as flat numbers.</summary>
    public Outcome<ImmutableArray<FaceCurve>> Section(Part part, Frame plane)
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

    public void Dispose() => cache.Forms.Clear();

    private ImmutableArray<FormBody> BodiesOf(Part part) => StateOf(part).Bodies;

    private RebuildState StateOf(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        if (last is { } known && ReferenceEquals(known.Part, part))
        {
            return known;
        }

        var state = new RebuildState(part, kernel);
        scheduler.BuildAll(state);
        return last = state;
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
