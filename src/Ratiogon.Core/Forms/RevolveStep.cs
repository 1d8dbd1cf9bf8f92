using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>How far a revolve turns.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<RevolveExtent>))]
public enum RevolveExtent
{
    [JsonStringEnumMemberName("full")]
    Full,

    [JsonStringEnumMemberName("angle")]
    Angle,

    [JsonStringEnumMemberName("two-angles")]
    TwoAngles,

    /// <summary>The angle shared out to both sides.</summary>
    [JsonStringEnumMemberName("symmetric")]
    Symmetric,
}

/// <summary>Regions of a sketch turned about anything straight in their plane.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Sketch">Id of the sketch step.</param>
/// <param name="Axis">What it turns about.</param>
[Kind("revolve")]
[FormTool("Revolve", 'r', "M8 2v12M11 5h3v6h-3zM8 8h3M5 4.500a3 6 0 0 0 0 7M3.800 10.300L5 11.500l1.300-1", Place = 20, Begins = true)]
public sealed record RevolveStep(string Id, int Number, string Name, string Sketch, string Axis) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<RevolveStep> Described = new FormFields<RevolveStep>()
        .Pick(
            "sketch",
            "Sketch",
            PickKind.Sketch,
            s => s.Sketch,
            (s, v) => s with { Sketch = v ?? "", Regions = [] },
            hint: "Pick the sketch to turn"
        )
        .Picks(
            "regions",
            "Regions",
            PickKind.Region,
            s => s.Regions,
            (s, v) => s with { Regions = v },
            0,
            hint: "Pick regions; none takes all that are material"
        )
        .Pick(
            "axis",
            "Axis",
            PickKind.Straight,
            s => s.Axis,
            (s, v) => s with { Axis = v ?? "" },
            hint: "Pick the axis: a sketch line, an edge, a datum axis or a round face"
        )
        .Operation(s => s.Operation, (s, v) => s with { Operation = v }, s => s.Bodies, (s, v) => s with { Bodies = v })
        .Choice(
            "extent",
            "How far",
            s => s.Extent,
            (s, v) => s with { Extent = v },
            null,
            new(RevolveExtent.Full, "all round"),
            new(RevolveExtent.Angle, "an angle"),
            new(RevolveExtent.TwoAngles, "an angle each way"),
            new(RevolveExtent.Symmetric, "both ways alike")
        )
        .Angle("angle", "Angle", s => s.Angle, (s, v) => s with { Angle = v }, s => s.Extent != RevolveExtent.Full)
        .Angle("second", "Back", s => s.Second, (s, v) => s with { Second = v }, s => s.Extent == RevolveExtent.TwoAngles)
        .Flag("flip", "Other way", s => s.Flip, (s, v) => s with { Flip = v }, s => s.Extent != RevolveExtent.Full);

    public Refs Regions { get; init; } = [];

    public RevolveExtent Extent { get; init; }

    /// <summary>A formula.</summary>
    public string Angle { get; init; } = "90 deg";

    public string? Second { get; init; }

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    public FormOperation Operation { get; init; }

    public Refs Bodies { get; init; } = [];

    public override string Kind => "revolve";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Met(Operation, Bodies);

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Profile(Sketch, Regions)
            .Then(profile =>
                site.Straight(Axis)
                    .Then(axis =>
                        Check(site, profile, axis)
                            .Then(_ =>
                                Range(site)
                                    .Then(range =>
                                    {
                                        // It begins where its first cap lies.
                                        var line = Flip ? new Line3(axis.Origin, -axis.Direction) : axis;
                                        var begin = Rigid.About(line, range.From);
                                        var plane = profile.Plane;
                                        var turned = profile with
                                        {
                                            Plane = new Frame(begin.Apply(plane.Origin), begin.Turn(plane.X), begin.Turn(plane.Y)),
                                        };
                                        var (foot, way) = (
                                            plane.ToPlane(axis.Origin),
                                            new Vec2(axis.Direction.Dot(plane.X), axis.Direction.Dot(plane.Y)).Unit
                                        );
                                        // Caps hold the axis; what else is flat lies square to it, and keeps to the sketch plane.
                                        var (caps, sides) = (
                                            new AxisGuide(Vec3.Zero, axis.Direction),
                                            new AxisGuide(axis.Direction.Cross(plane.Z), Vec3.Zero)
                                        );
                                        AxisGuide Guide(FaceOrigin o) => o.Kind is OriginKind.StartCap or OriginKind.EndCap ? caps : sides;
                                        var expected = (range.To - range.From) * Math.Abs(ProfileMoments.First(profile, foot, way));
                                        return site
                                            .Kernel.Revolve(turned, line, range.To - range.From)
                                            .Then(r => ProfileMoments.Checked(site.Kernel, r, expected, "revolve"))
                                            .Map<FormResult>(r => new MaterialResult(
                                                [Shaped.Of(r, Id, o => FormSite.NameOf(Id, o, profile), Guide)],
                                                Operation,
                                                Bodies
                                            ));
                                    })
                            )
                    )
            );

    private Outcome<(double From, double To)> Range(FormSite site) =>
        Extent switch
        {
            RevolveExtent.Full => (0, 2 * Math.PI),
            RevolveExtent.Symmetric => site.Angle(Angle, "angle").Map(a => (-a / 2, a / 2)).Then(Possible),
            RevolveExtent.TwoAngles => site.Angle(Angle, "angle").Then(a => site.Angle(Second, "second").Map(b => (-b, a))).Then(Possible),
            _ => site.Angle(Angle, "angle").Map(a => (0.0, a)).Then(Possible),
        };

    private static Outcome<(double From, double To)> Possible((double From, double To) r) =>
        r.To - r.From > (2 * Math.PI) + Tolerances.Angle
            ? new Refusal("revolve.too-far", $"It would turn by {FormSite.Degrees(r.To - r.From)}: more than all round.", "angle")
            : r;

    /// <summary>The axis lies in the profile's plane and does not cross it.</summary>
    private static Outcome<bool> Check(FormSite site, Profile profile, Line3 axis)
    {
        var plane = profile.Plane;
        var tilt = Math.Asin(Math.Clamp(Math.Abs(axis.Direction.Dot(plane.Z)), 0, 1));
        if (tilt > Tolerances.DrawnAngle)
        {
            return new Refusal(
                "revolve.tilted",
                $"The axis leaves the sketch plane at {FormSite.Degrees(tilt)}: it must lie in it.",
                "axis"
            );
        }

        var off = Math.Abs((axis.Origin - plane.Origin).Dot(plane.Z));
        if (off > Tolerances.Length * 10)
        {
            return new Refusal("revolve.off-plane", $"The axis lies {site.Show(off)} beside the sketch plane: it must lie in it.", "axis");
        }

        var (foot, direction) = (plane.ToPlane(axis.Origin), new Vec2(axis.Direction.Dot(plane.X), axis.Direction.Dot(plane.Y)));
        var sides = profile.Edges.SelectMany(e => e.Drawn(Math.PI / 90)).Select(p => (At: p, Side: direction.Cross(p - foot))).ToList();
        var (left, right) = (sides.MaxBy(s => s.Side), sides.MinBy(s => s.Side));
        if (left.Side > Tolerances.KernelLength && right.Side < -Tolerances.KernelLength)
        {
            var less = left.Side < -right.Side ? left : right;
            var at = plane.ToWorld(less.At);
            return new Refusal(
                "revolve.crossing",
                $"The axis crosses the profile: it reaches {site.Show(Math.Abs(less.Side))} over it at {site.Show(at)}. Move the "
                    + "axis, or trim the profile there.",
                "axis"
            );
        }

        return true;
    }
}
