using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using static System.FormattableString;

namespace Ratiogon.Core.Forms;

/// <summary>What a hole is for: it gives the diameter.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<HoleSizing>))]
public enum HoleSizing
{
    /// <summary>A diameter of its own.</summary>
    [JsonStringEnumMemberName("diameter")]
    Diameter,

    /// <summary>A screw passes through (ISO 273).</summary>
    [JsonStringEnumMemberName("clearance")]
    Clearance,

    /// <summary>It is tapped.</summary>
    [JsonStringEnumMemberName("tapped")]
    Tapped,
}

/// <summary>What a hole has at its start.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<HoleHead>))]
public enum HoleHead
{
    [JsonStringEnumMemberName("plain")]
    Plain,

    [JsonStringEnumMemberName("counterbore")]
    Counterbore,

    [JsonStringEnumMemberName("countersink")]
    Countersink,
}

/// <summary>How deep a hole goes.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<HoleExtent>))]
public enum HoleExtent
{
    [JsonStringEnumMemberName("depth")]
    Depth,

    [JsonStringEnumMemberName("through")]
    Through,

    /// <summary>To a face or plane.</summary>
    [JsonStringEnumMemberName("to")]
    To,
}

/// <summary>Where depth is counted from.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<HoleFrom>))]
public enum HoleFrom
{
    /// <summary>The first material met along the direction.</summary>
    [JsonStringEnumMemberName("material")]
    Material,

    /// <summary>The point itself.</summary>
    [JsonStringEnumMemberName("point")]
    Point,
}

/// <summary>Holes at chosen points, drilled along a sketch normal, a face normal or anything straight.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Centres">Sketch points, circles (for their centres), datum points and vertices. A whole sketch never stands
/// here, so that a point drawn later is no hole by itself.</param>
[Kind("hole")]
[FormTool("Hole", 'h', "M2 5h4M10 5h4M6 5v6l2 2.500 2-2.500V5M6 11h4", Place = 50)]
public sealed record HoleStep(string Id, int Number, string Name, Refs Centres) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<HoleStep> Described = new FormFields<HoleStep>()
        .Picks(
            "centres",
            "Centres",
            PickKind.Point | PickKind.Sketch,
            s => s.Centres,
            (s, v) => s with { Centres = v },
            hint: "Click on a flat face, or pick points or circles, or a sketch for all of its free points and circles",
            places: true
        )
        .Pick(
            "along",
            "Direction",
            PickKind.Straight | PickKind.Plane | PickKind.Face,
            s => s.Along,
            (s, v) => s with { Along = v },
            optional: true,
            hint: "Pick anything straight, or a face for its normal; none drills into the sketch plane"
        )
        .Flag("flip", "Other way", s => s.Flip, (s, v) => s with { Flip = v })
        .Choice(
            "sizing",
            "For",
            s => s.Sizing,
            (s, v) => s with { Sizing = v },
            null,
            new(HoleSizing.Diameter, "a diameter"),
            new(HoleSizing.Clearance, "a screw to pass"),
            new(HoleSizing.Tapped, "a thread")
        )
        .Choice(
            "thread",
            "Thread",
            s => s.Thread,
            (s, v) => s with { Thread = v },
            Threads.All.Select(t => new FieldOption(t.Name, t.Name.Contains('x', StringComparison.Ordinal) ? $"{t.Name} fine" : t.Name)),
            s => s.Sizing != HoleSizing.Diameter
        )
        .Choice(
            "fit",
            "Fit",
            s => s.Fit,
            (s, v) => s with { Fit = v },
            s => s.Sizing == HoleSizing.Clearance,
            new(ClearanceFit.Fine, "fine"),
            new(ClearanceFit.Medium, "medium"),
            new(ClearanceFit.Coarse, "coarse")
        )
        .Length("diameter", "Diameter", s => s.Diameter, (s, v) => s with { Diameter = v }, s => s.Sizing == HoleSizing.Diameter)
        .Choice(
            "head",
            "Start",
            s => s.Head,
            (s, v) => s with { Head = v },
            null,
            new(HoleHead.Plain, "plain"),
            new(HoleHead.Counterbore, "counterbored"),
            new(HoleHead.Countersink, "countersunk")
        )
        .Length("headDiameter", "Head diameter", s => s.HeadDiameter, (s, v) => s with { HeadDiameter = v }, s => s.Head != HoleHead.Plain)
        .Length("headDepth", "Head depth", s => s.HeadDepth, (s, v) => s with { HeadDepth = v }, s => s.Head == HoleHead.Counterbore)
        .Angle("headAngle", "Head angle", s => s.HeadAngle, (s, v) => s with { HeadAngle = v }, s => s.Head == HoleHead.Countersink)
        .Choice(
            "extent",
            "How deep",
            s => s.Extent,
            (s, v) => s with { Extent = v },
            null,
            new(HoleExtent.Depth, "a depth"),
            new(HoleExtent.Through, "through all"),
            new(HoleExtent.To, "to a face")
        )
        .Length("depth", "Depth", s => s.Depth, (s, v) => s with { Depth = v }, s => s.Extent == HoleExtent.Depth)
        .Pick(
            "to",
            "Up to",
            PickKind.Face | PickKind.Plane,
            s => s.To,
            (s, v) => s with { To = v },
            when: s => s.Extent == HoleExtent.To,
            hint: "Pick the face or plane that the holes go to"
        )
        .Length(
            "threadDepth",
            "Thread depth",
            s => s.ThreadDepth,
            (s, v) => s with { ThreadDepth = v },
            s => s.Sizing == HoleSizing.Tapped && s.Extent == HoleExtent.Depth,
            optional: true
        )
        .Choice(
            "from",
            "Depth from",
            s => s.From,
            (s, v) => s with { From = v },
            null,
            new(HoleFrom.Material, "the first material"),
            new(HoleFrom.Point, "the point")
        )
        .Flag("clear", "Clear stock above", s => s.Clear, (s, v) => s with { Clear = v })
        .Angle("point", "Drill point", s => s.Point, (s, v) => s with { Point = v }, s => s.Extent != HoleExtent.Through)
        .Picks("bodies", "Bodies", PickKind.Body, s => s.Bodies, (s, v) => s with { Bodies = v }, 0);

    /// <summary>Anything straight, or a face for its normal; none drills against the normal of the centre's sketch.</summary>
    public string? Along { get; init; }

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    public HoleSizing Sizing { get; init; }

    /// <summary>A name of <see cref="Threads"/>.</summary>
    public string Thread { get; init; } = "M5";

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public ClearanceFit Fit { get; init; }

    public string Diameter { get; init; } = "5 mm";

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public HoleHead Head { get; init; }

    public string? HeadDiameter { get; init; }

    public string? HeadDepth { get; init; }

    public string? HeadAngle { get; init; }

    public HoleExtent Extent { get; init; }

    /// <summary>Of the full diameter; the drill's point lies beyond.</summary>
    public string Depth { get; init; } = "10 mm";

    public string? To { get; init; }

    /// <summary>How deep the thread goes; none for all of the hole.</summary>
    public string? ThreadDepth { get; init; }

    public HoleFrom From { get; init; }

    /// <summary>Whether material above the start goes too.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Clear { get; init; }

    /// <summary>The angle of the drill's point; 180 deg leaves a flat floor.</summary>
    public string Point { get; init; } = "118 deg";

    public Refs Bodies { get; init; } = [];

    public override string Kind => "hole";

    public override ImmutableArray<FormField> Fields => Described.All;

    /// <summary>Heads that suit the screw: round about that of a socket screw, and twice its diameter for a flat one.</summary>
    public override string? Beginning(string field)
    {
        var d = Sizing == HoleSizing.Diameter ? 5 : Threads.Find(Thread)?.Diameter ?? 5;
        return field switch
        {
            "headDiameter" => Invariant($"{Math.Ceiling(d * (Head == HoleHead.Counterbore ? 1.9 : 2))} mm"),
            "headDepth" => Invariant($"{d} mm"),
            "headAngle" => "90 deg",
            _ => null,
        };
    }

    public override Refs? KeepsTo => Met(FormOperation.Cut, Bodies);

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Chosen(Bodies)
            .Then(bodies =>
                HoleSize
                    .Of(this, site)
                    .Then<FormResult>(size =>
                    {
                        if (bodies.IsEmpty)
                        {
                            return new Refusal("hole.no-body", "There is no body to drill yet.");
                        }

                        var (rows, tools, notes) = (
                            ImmutableArray.CreateBuilder<HoleRow>(),
                            ImmutableArray.CreateBuilder<RoundTool>(),
                            new List<string>()
                        );
                        foreach (var centre in Centres)
                        {
                            var row = Axis(site, centre).Then(axis => HolePlan.Of(site, this, size, bodies, centre, axis));
                            if (!row.Done)
                            {
                                return row.Refusal!;
                            }

                            rows.Add(row.Value.Row);
                            tools.Add(
                                row.Value.Tool with
                                {
                                    Guide = site.Find(centre).Map(c => c.Guide) is { Done: true } guide ? guide.Value : AxisGuide.None,
                                }
                            );
                            notes.AddRange(row.Value.Row.Notes);
                        }

                        return new MaterialResult([], FormOperation.Cut, Bodies)
                        {
                            Round = tools.ToImmutable(),
                            Holes = rows.ToImmutable(),
                            Threads = Drawn(rows),
                            Notes = [.. notes.Distinct().Take(4)],
                        };
                    })
            );

    private ImmutableArray<DrawnThread> Drawn(IEnumerable<HoleRow> rows) =>
        Sizing != HoleSizing.Tapped || Threads.Find(Thread) is not { } thread
            ? []
            :
            [
                .. rows.Select(r =>
                    DrawnThread.On(new Line3(r.At + (r.Direction * r.Start), r.Direction), r.Diameter / 2, false, r.Thread, thread.Pitch)
                ),
            ];

    /// <summary>The line that a hole is drilled along, from its centre into the material.</summary>
    private Outcome<Line3> Axis(FormSite site, string centre) =>
        site.Find(centre)
            .Then<Line3>(thing =>
            {
                if (thing.Place is not { } at)
                {
                    return new Refusal("hole.centre", $"{thing.Words} has no centre: pick points, circles or vertices.", "centres");
                }

                if (Along is not null)
                {
                    return site.Find(Along)
                        .Then<Line3>(along =>
                        {
                            // Into a face, along a line.
                            Vec3? way =
                                along.Straight is { } line ? line.Direction
                                : along.Plane is { } plane ? -plane.Z
                                : along.Frame is { } frame ? -frame.Z
                                : along.Surface is not null && along.Outward is { } outward ? -outward(at)
                                : null;
                            return way is { } w
                                ? new Line3(at, Flip ? -w : w)
                                : new Refusal("hole.direction", $"{along.Words} has no direction.", "along");
                        });
                }

                return site.Sketch(World.StepOf(centre)) is { } sketch
                    ? new Line3(at, Flip ? sketch.Plane.Z : -sketch.Plane.Z)
                    : new Refusal("hole.no-direction", $"{thing.Words} has no direction of its own: pick one.", "along");
            });
}

/// <summary>The sizes of a hole, worked out. Lengths in millimetres, angles in radians.</summary>
internal sealed record HoleSize(
    double Diameter,
    double HeadDiameter,
    double HeadDepth,
    double Depth,
    double ThreadDepth,
    double PointDepth,
    string Words
)
{
    /// <summary>A point whose angle is nearer than this to a straight one is flat.</summary>
    private const double FlatPoint = 1e-6;

    public static Outcome<HoleSize> Of(HoleStep step, FormSite site)
    {
        var thread = Threads.Find(step.Thread);
        if (step.Sizing != HoleSizing.Diameter && thread is null)
        {
            return new Refusal("hole.thread", $"There is no thread '{Ids.Shorten(step.Thread)}' in the tables of ISO 261.", "thread");
        }

        var diameter = step.Sizing switch
        {
            HoleSizing.Clearance => Threads.Clearance(thread!, step.Fit),
            HoleSizing.Tapped => thread!.Drill,
            _ => site.Length(step.Diameter, "diameter"),
        };
        return diameter.Then(d =>
            Head(step, site, d)
                .Then(head =>
                    site.Angle(step.Point, "point")
                        .Then(point =>
                            Depth(step.Depth, step.Extent == HoleExtent.Depth)
                                .Then(depth =>
                                    Depth(
                                            step.ThreadDepth,
                                            step.Sizing == HoleSizing.Tapped && !string.IsNullOrWhiteSpace(step.ThreadDepth)
                                        )
                                        .Then<HoleSize>(threaded =>
                                        {
                                            if (point <= 0.2 || point > Math.PI + Tolerances.Angle)
                                            {
                                                return new Refusal(
                                                    "hole.point",
                                                    "The drill's point has an angle between 12 and 180 deg, not "
                                                        + $"{FormSite.Degrees(point)}.",
                                                    "point"
                                                );
                                            }

                                            if (step.Extent == HoleExtent.Depth && threaded > depth + Tolerances.Apart)
                                            {
                                                return new Refusal(
                                                    "hole.thread-depth",
                                                    $"The thread, {site.Show(threaded)} deep, is deeper than the hole, {site.Show(depth)}.",
                                                    "threadDepth"
                                                );
                                            }

                                            var tip =
                                                Math.PI - point < FlatPoint || step.Extent == HoleExtent.Through
                                                    ? 0
                                                    : d / 2 / Math.Tan(point / 2);
                                            var words = step.Sizing switch
                                            {
                                                HoleSizing.Tapped => step.Thread,
                                                HoleSizing.Clearance => $"⌀{site.Show(d)} for {step.Thread}",
                                                _ => $"⌀{site.Show(d)}",
                                            };
                                            return new HoleSize(d, head.Diameter, head.Depth, depth, threaded, tip, words);
                                        })
                                )
                        )
                )
        );
        Outcome<double> Depth(string? formula, bool used) => used ? site.Length(formula, "depth") : 0.0;
    }

    private static Outcome<(double Diameter, double Depth)> Head(HoleStep step, FormSite site, double d)
    {
        if (step.Head == HoleHead.Plain)
        {
            return (0, 0);
        }

        return site.Length(step.HeadDiameter, "headDiameter")
            .Then<(double, double)>(head =>
            {
                if (head <= d)
                {
                    return new Refusal(
                        "hole.head",
                        $"The head, {site.Show(head)}, is no larger than the hole, {site.Show(d)}.",
                        "headDiameter"
                    );
                }

                return step.Head == HoleHead.Counterbore
                    ? site.Length(step.HeadDepth, "headDepth").Map(h => (head, h))
                    : site.Angle(step.HeadAngle ?? "90 deg", "headAngle")
                        .Then<(double, double)>(a =>
                            a is > 0.1 and < 3.1
                                ? (head, (head - d) / 2 / Math.Tan(a / 2))
                                : new Refusal(
                                    "hole.head-angle",
                                    $"A countersink has an angle between 6 and 177 deg, not {FormSite.Degrees(a)}.",
                                    "headAngle"
                                )
                        );
            });
    }
}
