using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Building;

/// <summary>How a step stands after a rebuild.</summary>
public enum StepState
{
    Built,

    /// <summary>It cannot be built; its message says why.</summary>
    Failed,

    /// <summary>It waits for a failing step that it depends on.</summary>
    Waiting,

    /// <summary>Suppressed, or below the stop line.</summary>
    Left,
}

/// <summary>One step after a rebuild.</summary>
/// <param name="Id">Its id.</param>
/// <param name="State">How it stands.</param>
/// <param name="Message">Why it failed or waits; for a built one, what is worth knowing, or empty.</param>
public sealed record StepResult(string Id, StepState State, string Message)
{
    /// <summary>Freedoms of a sketch; null for other steps.</summary>
    public int? Freedoms { get; init; }

    /// <summary>Where a sketch or datum lies: of a plane z is the normal, of an axis x the direction.</summary>
    public Frame? Frame { get; init; }

    /// <summary>How far from its origin a datum is drawn, in millimetres.</summary>
    public double Extent { get; init; }

    /// <summary>Places along a 3D curve, to draw it by.</summary>
    public ImmutableArray<Vec3> Drawn { get; init; } = [];

    /// <summary>The sketch as JSON, as it is when what it copies from the model has moved; null where it is as kept.</summary>
    public string? FollowedJson { get; init; }

    /// <summary>The same, read.</summary>
    public Sketches.Sketch? Followed() =>
        FollowedJson is null ? null : System.Text.Json.JsonSerializer.Deserialize<Sketches.Sketch>(FollowedJson, PartJson.Compact);

    /// <summary>Of a form that drills: its holes.</summary>
    public ImmutableArray<HoleRow> Holes { get; init; } = [];

    /// <summary>Threads that are drawn and not modelled.</summary>
    public ImmutableArray<DrawnThread> Threads { get; init; } = [];

    /// <summary>Where a reference was lost: what it named, and the closest there are now.</summary>
    public string? LostName { get; init; }

    public ImmutableArray<string> Lost { get; init; } = [];

    /// <summary>Of a refused step: the field, or else, that the refusal is about.</summary>
    public string? Where { get; init; }

    /// <summary>Of a refused form: the ways on.</summary>
    public ImmutableArray<FormWay> Ways { get; init; } = [];

    /// <summary>The value of a reading, in millimetres, radians and grams.</summary>
    public double? Reading { get; init; }

    /// <summary>How a reading stands to its limits.</summary>
    public Gauging.Verdict Verdict { get; init; }

    /// <summary>The foot points of a reading; the places that the message of a failing step speaks of.</summary>
    public ImmutableArray<Vec3> Points { get; init; } = [];
}

/// <summary>One body after a rebuild.</summary>
/// <param name="Name">Id of the step that began it.</param>
/// <param name="Key">Content key: the same key means the same geometry.</param>
/// <param name="Mass">Volume, area and centre.</param>
/// <param name="Bounds">Box along the world axes.</param>
/// <param name="Topology">Faces, edges and vertices.</param>
/// <param name="Names">Their names.</param>
/// <param name="Mesh">For drawing; null when it was not asked for.</param>
public sealed record BodyResult(string Name, string Key, MassProperties Mass, Box Bounds, Topology Topology, Names Names, SolidMesh? Mesh)
    : INamedBody
{
    Vec3 INamedBody.Centre => Mass.Centre;

    Box INamedBody.Box => Bounds;
}

/// <summary>A rebuilt part.</summary>
/// <param name="Steps">In build order.</param>
/// <param name="Bodies">What stands at the stop line.</param>
public sealed record RebuildResult(ImmutableArray<StepResult> Steps, ImmutableArray<BodyResult> Bodies)
{
    public static readonly RebuildResult Empty = new([], []);

    /// <summary>What was read as triangles: shown and named as bodies are, without material.</summary>
    public ImmutableArray<BodyResult> References { get; init; } = [];

    /// <summary>Whether something of it is only a picture of a moment: triangles that are coarse, bodies that overlap. Its masses are
    /// not known then.</summary>
    public bool Rough { get; init; }

    public StepResult? Step(string id) => Steps.FirstOrDefault(s => s.Id == id);
}
