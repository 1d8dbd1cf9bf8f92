using MessagePack;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Core.Tools;
using Ratiogon.Server.Parts;

namespace Ratiogon.Server.Live;

/// <summary>What travels over the live link, as MessagePack with short names. Points are arrays of numbers.</summary>
[MessagePackObject]
public sealed class InputMessage
{
    [Key("kind")]
    public string Kind { get; set; } = "";

    [Key("x")]
    public double X { get; set; }

    [Key("y")]
    public double Y { get; set; }

    [Key("reach")]
    public double Reach { get; set; }

    [Key("suppress")]
    public bool Suppress { get; set; }

    [Key("extend")]
    public bool Extend { get; set; }

    [Key("construction")]
    public bool Construction { get; set; }

    /// <summary>Counts the inputs of one page, so that one that is sent twice is used once; 0 where it is not counted.</summary>
    [Key("number")]
    public int Number { get; set; }

    [Key("field")]
    public string? Field { get; set; }

    [Key("text")]
    public string? Text { get; set; }

    public ToolInput? ToInput() =>
        Enum.TryParse<InputKind>(Kind, ignoreCase: true, out var kind) && Enum.IsDefined(kind)
            ? new ToolInput(
                kind,
                double.IsFinite(X) && double.IsFinite(Y) ? new Vec2(X, Y) : Vec2.Zero,
                double.IsFinite(Reach) ? Math.Clamp(Reach, 0, 1e4) : 0
            )
            {
                Suppress = Suppress,
                Extend = Extend,
                Construction = Construction,
                Field = Field ?? "",
                Text = Text ?? "",
            }
            : null;
}

[MessagePackObject]
public sealed record CurveMessage(
    [property: Key("kind")] string Kind,
    [property: Key("numbers")] double[] Numbers,
    [property: Key("id")] string Id,
    [property: Key("freedoms")] int Freedoms,
    [property: Key("construction")] bool Construction,
    [property: Key("role")] string Role
)
{
    public static CurveMessage Of(PreviewCurve c) => new(c.Kind, [.. c.Numbers], "", 0, false, c.Role);

    public static CurveMessage Of(EntityView e) => new(e.Kind, [.. e.Numbers], e.Id, e.Freedoms, e.Construction, "");
}

[MessagePackObject]
public sealed record FieldMessage(
    [property: Key("name")] string Name,
    [property: Key("label")] string Label,
    [property: Key("text")] string Text,
    [property: Key("typed")] bool Typed
);

[MessagePackObject]
public sealed record RefusalMessage(
    [property: Key("code")] string Code,
    [property: Key("message")] string Message,
    [property: Key("where")] string? Where,
    [property: Key("involved")] string[] Involved
)
{
    public static RefusalMessage? Of(Core.Refusal? refusal) =>
        refusal is null ? null : new(refusal.Code, refusal.Message, refusal.Where, [.. refusal.Involved]);
}

[MessagePackObject]
public sealed record SnapMessage(
    [property: Key("kind")] string Kind,
    [property: Key("at")] double[] At,
    [property: Key("entity")] string Entity,
    [property: Key("guides")] double[] Guides
);

/// <summary>Another way of drawing within the tool.</summary>
[MessagePackObject]
public sealed record WayMessage([property: Key("name")] string Name, [property: Key("label")] string Label);

/// <summary>A way out of a refusal: a command, as JSON, that works, and the sketch as it would be.</summary>
[MessagePackObject]
public sealed record WayOutMessage(
    [property: Key("words")] string Words,
    [property: Key("command")] string Command,
    [property: Key("preview")] CurveMessage[] Preview
);

/// <summary>A motion that is left: dx dy of each point, dr 0 of each circle, dx dy of each place along ellipses and splines.</summary>
[MessagePackObject]
public sealed record MotionMessage(
    [property: Key("words")] string Words,
    [property: Key("moves")] Dictionary<string, double[]> Moves,
    [property: Key("paths")] Dictionary<string, double[]> Paths
);

/// <summary>A rule that would take freedoms: the constraint or the dimension, as JSON.</summary>
[MessagePackObject]
public sealed record ProposalMessage(
    [property: Key("words")] string Words,
    [property: Key("tie")] string? Tie,
    [property: Key("size")] string? Size,
    [property: Key("of")] string[] Of
);

/// <summary>A tool's answer. <c>moved</c> holds what a drag moves: for each entity its place in the sketch of this revision, how many
/// numbers follow, and these; <c>outs</c> what could be done instead of
/// what was refused.</summary>
[MessagePackObject]
public sealed record AnswerMessage
{
    [Key("prompt")]
    public string Prompt { get; init; } = "";

    [Key("preview")]
    public CurveMessage[] Preview { get; init; } = [];

    [Key("snap")]
    public SnapMessage? Snap { get; init; }

    [Key("inferred")]
    public string[] Inferred { get; init; } = [];

    /// <summary>What the user should know of what would be done or is done; null where there is nothing to say.</summary>
    [Key("note")]
    public string? Note { get; init; }

    [Key("fields")]
    public FieldMessage[] Fields { get; init; } = [];

    [Key("refusal")]
    public RefusalMessage? Refusal { get; init; }

    [Key("outs")]
    public WayOutMessage[] Outs { get; init; } = [];

    [Key("ways")]
    public WayMessage[] Ways { get; init; } = [];

    [Key("way")]
    public string Way { get; init; } = "";

    [Key("solutions")]
    public int Solutions { get; init; }

    [Key("leave")]
    public bool Leave { get; init; }

    [Key("picks")]
    public string[]? Picks { get; init; }

    [Key("hover")]
    public string Hover { get; init; } = "";

    [Key("moved")]
    public double[]? Moved { get; init; }

    [Key("revision")]
    public long Revision { get; init; }

    /// <param name="answer">Of the tool.</param>
    /// <param name="revision">Of the part that it answers about.</param>
    /// <param name="sketch">Of that revision, where a drag may show another state of it.</param>
    public static AnswerMessage Of(ToolAnswer answer, long revision, Core.Sketches.Sketch? sketch = null) =>
        new()
        {
            Prompt = answer.Prompt,
            Preview = [.. answer.Preview.Select(CurveMessage.Of)],
            Snap = answer.Snap is { } s
                ? new SnapMessage(s.Kind, [s.At.X, s.At.Y], s.Entity, [.. s.Guides.SelectMany(g => new[] { g.X, g.Y })])
                : null,
            Inferred = [.. answer.Inferred],
            Note = answer.Note,
            Fields = [.. answer.Fields.Select(f => new FieldMessage(f.Name, f.Label, f.Text, f.Typed))],
            Refusal = RefusalMessage.Of(answer.Refusal),
            Ways = [.. answer.Ways.Select(w => new WayMessage(w.Name, w.Label))],
            Way = answer.Way,
            Solutions = answer.Solutions,
            Leave = answer.Leave,
            Picks = answer.Picks is { } p ? [.. p] : null,
            Hover = answer.Hover,
            Moved = answer.Dragged is { } dragged && sketch is not null ? [.. SketchView.MovedOf(sketch, dragged)] : null,
            Revision = revision,
        };
}

/// <summary>An offer; its command is JSON to be sent back as it is.</summary>
[MessagePackObject]
public sealed record OfferMessage(
    [property: Key("id")] string Id,
    [property: Key("label")] string Label,
    [property: Key("detail")] string Detail,
    [property: Key("command")] string? Command,
    [property: Key("whyNot")] string? WhyNot,
    [property: Key("touches")] string[] Touches,
    [property: Key("draft")] string? Draft,
    [property: Key("form")] string? Form,
    [property: Key("note")] string Note,
    [property: Key("group")] string Group,
    [property: Key("points")] double[] Points
);

[MessagePackObject]
public sealed record StepStateMessage(
    [property: Key("id")] string Id,
    [property: Key("state")] string State,
    [property: Key("message")] string Message,
    [property: Key("freedoms")] int? Freedoms,
    [property: Key("plane")] double[]? Plane,
    [property: Key("reading")] string? Reading,
    [property: Key("points")] double[] Points,
    [property: Key("extent")] double Extent,
    [property: Key("drawn")] double[] Drawn,
    [property: Key("followed")] bool Followed,
    [property: Key("lost")] string? Lost,
    [property: Key("near")] string[] Near,
    [property: Key("holes")] HoleMessage[] Holes,
    [property: Key("threads")] double[][] Threads,
    [property: Key("verdict")] string Verdict,
    [property: Key("summary")] string Summary
);

/// <summary>A body to draw: little-endian arrays as <see cref="Packed"/> packs them, with the names of its faces, edges and vertices in
/// order.</summary>
[MessagePackObject]
public sealed record BodyMessage
{
    [Key("name")]
    public required string Name { get; init; }

    [Key("key")]
    public required string Key { get; init; }

    [Key("positions")]
    public required byte[] Positions { get; init; }

    [Key("normals")]
    public required byte[] Normals { get; init; }

    [Key("triangles")]
    public required byte[] Triangles { get; init; }

    [Key("faceTriangles")]
    public required int[] FaceTriangles { get; init; }

    [Key("edgePoints")]
    public required byte[] EdgePoints { get; init; }

    [Key("edgeCounts")]
    public required int[] EdgeCounts { get; init; }

    [Key("vertices")]
    public required double[] Vertices { get; init; }

    [Key("faces")]
    public required string[] Faces { get; init; }

    [Key("surfaces")]
    public required string[] Surfaces { get; init; }

    [Key("edges")]
    public required string[] Edges { get; init; }

    [Key("vertexNames")]
    public required string[] VertexNames { get; init; }

    [Key("volume")]
    public required double Volume { get; init; }

    /// <summary>Whether it is as it was told last, and comes without its geometry.</summary>
    [Key("same")]
    public bool Same { get; init; }

    /// <summary>Triangles to measure and to build on, not material.</summary>
    [Key("reference")]
    public bool Reference { get; init; }

    /// <summary>Of an imported body that brings one, as #rrggbb.</summary>
    [Key("colour")]
    public string? Colour { get; init; }
}

[MessagePackObject]
public sealed record RebuiltMessage(
    [property: Key("revision")] long Revision,
    [property: Key("steps")] StepStateMessage[] Steps,
    [property: Key("bodies")] BodyMessage[] Bodies
)
{
    /// <param name="part">As it is now.</param>
    /// <param name="revision">Its revision.</param>
    /// <param name="result">What was built.</param>
    /// <param name="before">What those who hear it were told last: bodies that are the same still come by their keys alone.</param>
    public static RebuiltMessage Of(Core.Parts.Part part, long revision, RebuildResult result, RebuildResult? before = null)
    {
        var known = before is null
            ? []
            : before.Bodies.Concat(before.References).Where(b => b.Mesh is not null).Select(b => b.Key).ToHashSet(StringComparer.Ordinal);
        var wording = Model.Of(part, result).Wording;
        BodyMessage Told(BodyResult body) => known.Contains(body.Key) ? ByKey(part, body) : Body(part, body);
        return new RebuiltMessage(
            revision,
            [.. result.Steps.Select(s => State(part, s, wording.The))],
            [
                .. result.Bodies.Where(b => b.Mesh is not null).Select(Told),
                .. result.References.Where(r => r.Mesh is not null).Select(r => Told(r) with { Reference = true }),
            ]
        );
    }

    private static BodyMessage ByKey(Core.Parts.Part part, BodyResult body) =>
        new()
        {
            Name = body.Name,
            Key = body.Key,
            Same = true,
            Positions = [],
            Normals = [],
            Triangles = [],
            FaceTriangles = [],
            EdgePoints = [],
            EdgeCounts = [],
            Vertices = [],
            Faces = [],
            Surfaces = [],
            Edges = [],
            VertexNames = [],
            Volume = body.Mass.Volume,
            Colour = Core.Parts.Steps.ImportStep.Of(part, body.Name)?.ColourIn(body.Name),
        };

    private static StepStateMessage State(Core.Parts.Part part, StepResult step, Func<string, string> said)
    {
        var reading =
            step.Reading is { } value
            && part.Find(step.Id) is Core.Gauging.ReadingStep r
            && Core.Gauging.ReadingCatalog.Find(r.What) is { } kind
                ? Core.Quantities.Units.Show(new Core.Quantities.Quantity(value, kind.Kind), part.Units)
                : null;
        var plane = step.Frame is { } f ? new[] { f.Origin.X, f.Origin.Y, f.Origin.Z, f.X.X, f.X.Y, f.X.Z, f.Y.X, f.Y.Y, f.Y.Z } : null;
        return new StepStateMessage(
            step.Id,
            step.State.ToString().ToLowerInvariant(),
            step.Message,
            step.Freedoms,
            plane,
            reading,
            [.. step.Points.SelectMany(p => new[] { p.X, p.Y, p.Z })],
            step.Extent,
            [.. step.Drawn.SelectMany(p => new[] { p.X, p.Y, p.Z })],
            step.FollowedJson is not null,
            step.LostName,
            [.. step.Lost],
            [.. step.Holes.Select(h => HoleMessage.Of(h, part.Units))],
            [
                .. step.Threads.Select(t =>
                    new[]
                    {
                        t.Axis.Origin.X,
                        t.Axis.Origin.Y,
                        t.Axis.Origin.Z,
                        t.Axis.Direction.X,
                        t.Axis.Direction.Y,
                        t.Axis.Direction.Z,
                        t.Radius,
                        t.Length,
                        t.Pitch,
                    }
                ),
            ],
            step.Verdict.ToString().ToLowerInvariant(),
            part.Find(step.Id) is { } own ? StepSummary.Of(own, said) : ""
        );
    }

    internal static BodyMessage Body(Core.Parts.Part part, BodyResult body) =>
        new()
        {
            Name = body.Name,
            Key = body.Key,
            Positions = Packed.Numbers(body.Mesh!.Positions),
            Normals = Packed.Numbers(body.Mesh.Normals),
            Triangles = Packed.Rising(body.Mesh.Triangles),
            FaceTriangles = body.Mesh.FaceTriangles,
            EdgePoints = Packed.Numbers(body.Mesh.EdgePoints),
            EdgeCounts = body.Mesh.EdgeCounts,
            Vertices = [.. body.Topology.Vertices.SelectMany(v => new[] { v.X, v.Y, v.Z })],
            Faces = [.. body.Names.Faces],
            Surfaces = [.. body.Topology.Faces.Select(f => f.Surface)],
            Edges = [.. body.Names.Edges],
            VertexNames = [.. body.Names.Vertices],
            Volume = body.Mass.Volume,
            Colour = Core.Parts.Steps.ImportStep.Of(part, body.Name)?.ColourIn(body.Name),
        };
}

/// <summary>One hole: where it is drilled, what of it is tapped, and the material along it. Lengths in millimetres along its
/// axis; shown in words beside.</summary>
[MessagePackObject]
public sealed record HoleMessage(
    [property: Key("centre")] string Centre,
    [property: Key("at")] double[] At,
    [property: Key("way")] double[] Way,
    [property: Key("size")] string Size,
    [property: Key("radius")] double Radius,
    [property: Key("start")] double Start,
    [property: Key("end")] double End,
    [property: Key("thread")] double Thread,
    [property: Key("strip")] StretchMessage[] Strip,
    [property: Key("notes")] string[] Notes
)
{
    public static HoleMessage Of(Core.Forms.HoleRow h, Core.Quantities.LengthUnit unit) =>
        new(
            h.Centre,
            [h.At.X, h.At.Y, h.At.Z],
            [h.Direction.X, h.Direction.Y, h.Direction.Z],
            h.Size,
            h.Diameter / 2,
            h.Start,
            h.End,
            h.Thread,
            [.. h.Stretches.Select(s => StretchMessage.Of(s, unit))],
            [.. h.Notes]
        );
}

/// <summary>A stretch of material along an axis.</summary>
[MessagePackObject]
public sealed record StretchMessage(
    [property: Key("from")] double From,
    [property: Key("to")] double To,
    [property: Key("shown")] string Shown,
    [property: Key("in")] string In,
    [property: Key("out")] string Out
)
{
    public static StretchMessage Of(Core.Forms.Stretch s, Core.Quantities.LengthUnit unit) =>
        new(
            s.From,
            s.To,
            Core.Quantities.Units.Show(Core.Quantities.Quantity.Length(s.To - s.From), unit),
            $"in by {s.FaceIn} at {Core.Forms.FormSite.Degrees(s.In)}",
            $"out by {s.FaceOut} at {Core.Forms.FormSite.Degrees(s.Out)}"
        );
}

/// <summary>The stretches of material along a line, as the Probe shows them.</summary>
public sealed record ProbeView(Vec3 Origin, Vec3 Way, System.Collections.Immutable.ImmutableArray<StretchMessage> Strip, string Total)
{
    public static ProbeView Of(
        Line3 line,
        System.Collections.Immutable.ImmutableArray<Core.Forms.Stretch> stretches,
        Core.Quantities.LengthUnit unit
    ) =>
        new(
            line.Origin,
            line.Direction,
            [.. stretches.Select(s => StretchMessage.Of(s, unit))],
            Core.Quantities.Units.Show(Core.Quantities.Quantity.Length(stretches.Sum(s => s.To - s.From)), unit)
        );
}

/// <summary>The part as a form would make it: the step's own state, and the bodies; rough where it is a picture of a moment.</summary>
[MessagePackObject]
public sealed record PreviewMessage(
    [property: Key("step")] string Step,
    [property: Key("state")] string State,
    [property: Key("message")] string Message,
    [property: Key("holes")] HoleMessage[] Holes,
    [property: Key("bodies")] BodyMessage[] Bodies,
    [property: Key("rough")] bool Rough,
    [property: Key("points")] double[] Points,
    [property: Key("where")] string Where,
    [property: Key("ways")] FormWayMessage[] Ways
)
{
    public static PreviewMessage Of(Core.Parts.Part part, RebuildResult built, string step)
    {
        var own = built.Step(step);
        return new PreviewMessage(
            step,
            own?.State.ToString().ToLowerInvariant() ?? "",
            own?.Message ?? "",
            [.. own?.Holes.Select(h => HoleMessage.Of(h, part.Units)) ?? []],
            [.. built.Bodies.Where(b => b.Mesh is not null).Select(b => RebuiltMessage.Body(part, b))],
            built.Rough,
            [.. own?.Points.SelectMany(p => new[] { p.X, p.Y, p.Z }) ?? []],
            own?.Where ?? "",
            [.. own?.Ways.Select(w => new FormWayMessage(w.Words, w.Field, w.Value, w.Instead, w.FirstJson)) ?? []]
        );
    }

    public static PreviewMessage Refused(Core.Refusal refusal) =>
        new(
            "",
            "failed",
            refusal.Message,
            [],
            [],
            false,
            [.. refusal.Places.SelectMany(p => new[] { p.X, p.Y, p.Z })],
            refusal.Where ?? "",
            []
        );
}

/// <summary>A way on from a refused form: a field set to something else, one reference in place of another, or first a command (as JSON)
/// that changes what the form stands on.</summary>
[MessagePackObject]
public sealed record FormWayMessage(
    [property: Key("words")] string Words,
    [property: Key("field")] string Field,
    [property: Key("value")] string Value,
    [property: Key("instead")] string? Instead,
    [property: Key("first")] string? First
);

/// <summary>What moves a reading, the largest share first, or why that cannot be told.</summary>
[MessagePackObject]
public sealed record DrivesMessage(
    [property: Key("reading")] string Reading,
    [property: Key("shown")] string Shown,
    [property: Key("rows")] DriveMessage[] Rows,
    [property: Key("left")] string[] Left,
    [property: Key("tried")] int Tried,
    [property: Key("refusal")] string? Refusal
)
{
    public static DrivesMessage Of(Worker.DrivesReply reply) =>
        new(
            reply.Reading,
            reply.Shown,
            [.. reply.Rows.Select(r => new DriveMessage(r.Step, r.Name, r.Words, r.Shown, r.Slope, r.Note, r.Share))],
            reply.Left,
            reply.Tried,
            null
        );

    public static DrivesMessage Refused(string why) => new("", "", [], [], 0, why);
}

/// <summary>A parameter or size that moves a reading, with its share of all that does, signed.</summary>
[MessagePackObject]
public sealed record DriveMessage(
    [property: Key("step")] string Step,
    [property: Key("name")] string Name,
    [property: Key("words")] string Words,
    [property: Key("shown")] string Shown,
    [property: Key("slope")] string Slope,
    [property: Key("note")] string Note,
    [property: Key("share")] double Share
);
