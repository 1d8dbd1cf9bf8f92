using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Forms;

/// <summary>How far an extrude goes.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ExtrudeExtent>))]
public enum ExtrudeExtent
{
    /// <summary>A length to one side.</summary>
    [JsonStringEnumMemberName("length")]
    Length,

    /// <summary>A length to either side.</summary>
    [JsonStringEnumMemberName("two-lengths")]
    TwoLengths,

    /// <summary>The length shared out to both sides.</summary>
    [JsonStringEnumMemberName("symmetric")]
    Symmetric,

    /// <summary>Through all there is, to both sides.</summary>
    [JsonStringEnumMemberName("through-all")]
    ThroughAll,

    /// <summary>Until the first material, or through the first stretch of it when it cuts.</summary>
    [JsonStringEnumMemberName("to-next")]
    ToNext,

    /// <summary>To a face, a plane or a point; the end follows the face.</summary>
    [JsonStringEnumMemberName("to")]
    To,
}

/// <summary>Which side of the outline a thin wall stands on; inside an open outline is the left of its first curve.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<WallSide>))]
public enum WallSide
{
    /// <summary>No wall: solid.</summary>
    [JsonStringEnumMemberName("none")]
    None,

    [JsonStringEnumMemberName("inside")]
    Inside,

    [JsonStringEnumMemberName("outside")]
    Outside,

    /// <summary>Half to each side.</summary>
    [JsonStringEnumMemberName("both")]
    Both,
}

/// <summary>Regions of a sketch pushed along its normal or along anything straight.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Sketch">Id of the sketch step.</param>
[Kind("extrude")]
[FormTool("Extrude", 'e', "M3 13h10v-3H3zM8 8.500V2M5.500 4.500L8 2l2.500 2.500", Place = 10, Begins = true)]
public sealed partial record ExtrudeStep(string Id, int Number, string Name, string Sketch) : FormStep(Id, Number, Name)
{
    /// <summary>A direction that leans less than this against the profile runs along it: the cosine of their angle.</summary>
    private const double NoLean = 1e-4;

    private static readonly FormFields<ExtrudeStep> Described = new FormFields<ExtrudeStep>()
        .Pick(
            "sketch",
            "Sketch",
            PickKind.Sketch,
            s => s.Sketch,
            (s, v) => s with { Sketch = v ?? "", Regions = [] },
            hint: "Pick the sketch to extrude"
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
        .Operation(s => s.Operation, (s, v) => s with { Operation = v }, s => s.Bodies, (s, v) => s with { Bodies = v })
        .Choice(
            "extent",
            "How far",
            s => s.Extent,
            (s, v) => s with { Extent = v },
            null,
            new(ExtrudeExtent.Length, "a length"),
            new(ExtrudeExtent.TwoLengths, "a length each way"),
            new(ExtrudeExtent.Symmetric, "both ways alike"),
            new(ExtrudeExtent.ThroughAll, "through all"),
            new(ExtrudeExtent.ToNext, "to the next face"),
            new(ExtrudeExtent.To, "to what is picked")
        )
        .Length(
            "length",
            "Length",
            s => s.Length,
            (s, v) => s with { Length = v },
            s => s.Extent is ExtrudeExtent.Length or ExtrudeExtent.TwoLengths or ExtrudeExtent.Symmetric
        )
        .Length("second", "Back", s => s.Second, (s, v) => s with { Second = v }, s => s.Extent == ExtrudeExtent.TwoLengths)
        .Pick(
            "to",
            "Up to",
            PickKind.Face | PickKind.Plane | PickKind.Point,
            s => s.To,
            (s, v) => s with { To = v },
            when: s => s.Extent == ExtrudeExtent.To,
            hint: "Pick the face, plane or point that it goes to"
        )
        .Flag("flip", "Other way", s => s.Flip, (s, v) => s with { Flip = v })
        .Length("start", "Start at", s => s.Start, (s, v) => s with { Start = v }, negative: true)
        .Pick(
            "from",
            "Start on",
            PickKind.Face | PickKind.Plane | PickKind.Point,
            s => s.From,
            (s, v) => s with { From = v },
            optional: true
        )
        .Pick("along", "Direction", PickKind.Straight, s => s.Along, (s, v) => s with { Along = v }, optional: true)
        .Angle("draft", "Draft", s => s.Draft, (s, v) => s with { Draft = v }, null, true)
        .Choice(
            "wall",
            "Wall",
            s => s.Wall,
            (s, v) => s with { Wall = v },
            null,
            new(WallSide.None, "solid"),
            new(WallSide.Inside, "thin, inside"),
            new(WallSide.Outside, "thin, outside"),
            new(WallSide.Both, "thin, both sides")
        )
        .Length("thickness", "Thickness", s => s.Thickness, (s, v) => s with { Thickness = v }, s => s.Wall != WallSide.None);

    /// <summary>Keys of the chosen regions; none chooses all that are material by even-odd.</summary>
    public Refs Regions { get; init; } = [];

    public ExtrudeExtent Extent { get; init; }

    /// <summary>A formula; not used by through all.</summary>
    public string Length { get; init; } = "10 mm";

    /// <summary>The length to the other side, where there are two.</summary>
    public string? Second { get; init; }

    /// <summary>What it goes to.</summary>
    public string? To { get; init; }

    /// <summary>How far from the sketch plane it begins, along its direction.</summary>
    public string? Start { get; init; }

    /// <summary>A face, plane or point that it begins at, instead of the sketch plane.</summary>
    public string? From { get; init; }

    /// <summary>Anything straight that it goes along, instead of the normal.</summary>
    public string? Along { get; init; }

    /// <summary>An angle by which the sides lean inwards on their way from where it begins, both ways where it goes both ways.</summary>
    public string? Draft { get; init; }

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public WallSide Wall { get; init; }

    /// <summary>Of a thin wall.</summary>
    public string? Thickness { get; init; }

    /// <summary>Whether it goes against the sketch's normal.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Flip { get; init; }

    public FormOperation Operation { get; init; }

    /// <summary>The bodies that it works on; none for all that it meets.</summary>
    public Refs Bodies { get; init; } = [];

    public override string Kind => "extrude";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override string? Beginning(string field) =>
        field switch
        {
            "thickness" => "2 mm",
            "second" => "10 mm",
            _ => null,
        };

    public override Refusal? Check() =>
        base.Check()
        ?? (
            Extent == ExtrudeExtent.ThroughAll && Operation is (FormOperation.Join or FormOperation.Body)
                ? new Refusal("extrude.through-join", "Through all can only cut: a join needs a length.", "extent")
                : null
        );

    public override Refs? KeepsTo =>
        Bodies.Count == 0 && Extent is (ExtrudeExtent.ToNext or ExtrudeExtent.To) ? null : Met(Operation, Bodies);

    public override Outcome<FormResult> Build(FormSite site) =>
        ProfileOf(site)
            .Then(chosen =>
                Direction(site, chosen.Profile.Plane)
                    .Then(along =>
                        StartOf(site, chosen.Profile, along)
                            .Then(start =>
                            {
                                var begun = chosen.Profile with
                                {
                                    Plane = chosen.Profile.Plane with { Origin = chosen.Profile.Plane.Origin + (along * start) },
                                };
                                return (
                                    Extent switch
                                    {
                                        ExtrudeExtent.ToNext => ToNext(site, begun, along),
                                        ExtrudeExtent.To => UpTo(site, begun, along),
                                        _ => Stretch(site, begun.Plane, along).Then(range => Prism(site, begun, along, range)),
                                    }
                                ).Then(shaped => chosen.Walled ? shaped : Thin(site, shaped));
                            })
                    )
            )
            .Map<FormResult>(shaped => new MaterialResult([shaped], Operation, Bodies));

    /// <summary>The chosen regions; of an open outline its thin wall, which then needs no hollowing.</summary>
    private Outcome<(Profile Profile, bool Walled)> ProfileOf(FormSite site)
    {
        var whole = site.Profile(Sketch, Regions);
        if (whole.Done || Wall == WallSide.None || whole.Refusal!.Code != "region.none" || site.Sketch(Sketch) is not { } built)
        {
            return whole.Map(p => (p, false));
        }

        return site.Length(Thickness, "thickness")
            .Then(t =>
                OpenWalls.Of(
                    built.Sketch,
                    Wall switch
                    {
                        WallSide.Inside => t,
                        WallSide.Both => t / 2,
                        _ => 0,
                    },
                    Wall switch
                    {
                        WallSide.Outside => t,
                        WallSide.Both => t / 2,
                        _ => 0,
                    }
                )
            )
            .Map(walls => (new Profile(built.Plane, walls), true));
    }

    /// <summary>The way it goes, as a unit vector; it never lies in the sketch plane.</summary>
    private Outcome<Vec3> Direction(FormSite site, Frame plane)
    {
        if (Along is null)
        {
            return Flip ? -plane.Z : plane.Z;
        }

        return site.Straight(Along)
            .Then<Vec3>(line =>
            {
                var lean = line.Direction.Dot(plane.Z);
                if (Math.Abs(lean) < NoLean)
                {
                    return new Refusal(
                        "extrude.flat",
                        "The direction lies in the sketch plane: nothing would be swept. Pick one that leaves it.",
                        "along"
                    );
                }

                return lean < 0 != Flip ? -line.Direction : line.Direction;
            });
    }

    private Outcome<double> StartOf(FormSite site, Profile profile, Vec3 along)
    {
        var offset = string.IsNullOrWhiteSpace(Start) ? 0.0 : site.Length(Start, "start");
        if (From is null)
        {
            return offset;
        }

        return offset.Then(o => DistanceTo(site, From, profile, along, "from").Map(d => d + o));
    }

    /// <summary>How far along its direction a flat thing or a point lies.</summary>
    private static Outcome<double> DistanceTo(FormSite site, string reference, Profile profile, Vec3 along, string field) =>
        site.Find(reference)
            .Then<double>(thing =>
            {
                var normal = profile.Plane.Z;
                if ((thing.Plane ?? thing.Frame) is { } plane)
                {
                    return Math.Abs(Math.Abs(plane.Z.Dot(normal)) - 1) < Tolerances.Angle
                        ? (plane.Origin - profile.Plane.Origin).Dot(normal) / along.Dot(normal)
                        : new Refusal(
                            "extrude.tilted",
                            $"{thing.Words} is tilted by {FormSite.Degrees(Math.Acos(Math.Clamp(Math.Abs(plane.Z.Dot(normal)), 0, 1)))} to "
                                + "the sketch plane.",
                            field
                        );
                }

                return thing.Place is { } at
                    ? (at - profile.Plane.Origin).Dot(normal) / along.Dot(normal)
                    : new Refusal("extrude.no-place", $"{thing.Words} is neither flat nor a point.", field);
            });

    private Outcome<(double From, double To)> Stretch(FormSite site, Frame plane, Vec3 along) =>
        Extent switch
        {
            ExtrudeExtent.ThroughAll => site.Reach(plane.Origin) / Math.Abs(along.Dot(plane.Z)) is var reach ? (-reach, reach) : default,
            ExtrudeExtent.TwoLengths => site.Length(Length, "length").Then(l => site.Length(Second, "second").Map(back => (-back, l))),
            ExtrudeExtent.Symmetric => site.Length(Length, "length").Map(l => (-l / 2, l / 2)),
            _ => site.Length(Length, "length").Map(l => (0.0, l)),
        };

    private Outcome<Shaped> Prism(FormSite site, Profile profile, Vec3 along, (double From, double To) range) =>
        (string.IsNullOrWhiteSpace(Draft) ? 0.0 : site.Angle(Draft, "draft")).Then(angle =>
        {
            if (angle == 0)
            {
                var begun = profile with { Plane = profile.Plane with { Origin = profile.Plane.Origin + (along * range.From) } };
                return Straight(site, begun, along * (range.To - range.From));
            }

            return range.From < 0
                ? Leaning(site, profile, along, range.To, angle)
                    .Then(ahead => Leaning(site, profile, -along, -range.From, angle).Then(behind => Both(site, ahead, behind)))
                : Leaning(site, profile, along, range.To, angle);
        });

    private Outcome<Shaped> Straight(FormSite site, Profile profile, Vec3 by) =>
        site
            .Kernel.Prism(profile, by)
            .Then(r => ProfileMoments.Checked(site.Kernel, r, ProfileMoments.Area(profile) * Math.Abs(by.Dot(profile.Plane.Z)), "extrude"))
            .Map(r => Shaped.Of(r, Id, o => FormSite.NameOf(Id, o, profile), o => FormSite.GuideOf(o, profile, profile.Plane.Z)));

    /// <summary>One way from the plane of its outline, the sides leaning inwards.</summary>
    private Outcome<Shaped> Leaning(FormSite site, Profile profile, Vec3 along, double length, double angle) =>
        Straight(site, profile, along * length)
            .Then<Shaped>(made =>
            {
                var sides = Enumerable
                    .Range(0, made.Bases.Length)
                    .Where(i => made.Bases[i].StartsWith($"{Id}/side/", StringComparison.Ordinal))
                    .ToList();
                var tilted = site.Kernel.Draft(made.Solid, sides, Frame.Facing(profile.Plane.Origin, along), angle);
                // Leaning inwards takes material, leaning outwards gives some.
                return tilted.Done && site.Kernel.Mass(tilted.Value.Solid).Volume < site.Kernel.Mass(made.Solid).Volume == angle > 0
                    ? Shaped.Of(tilted.Value, Id, [made])
                    : new Refusal(
                        "extrude.draft",
                        $"The sides cannot lean by {FormSite.Degrees(angle)}: they would meet before the end, or one of them is free-form.",
                        "draft"
                    );
            });

    /// <summary>Both ways in one. What goes back has sides of its own, and its end is where the whole starts.</summary>
    private Outcome<Shaped> Both(FormSite site, Shaped ahead, Shaped behind)
    {
        var back = behind with
        {
            Bases =
            [
                .. behind.Bases.Select(b =>
                    b == $"{Id}/end" ? $"{Id}/start"
                    : b == $"{Id}/start" ? $"{Id}/middle"
                    : b.Replace($"{Id}/side/", $"{Id}/back/", StringComparison.Ordinal)
                ),
            ],
        };
        return site.Kernel.Join(ahead.Solid, back.Solid).Map(r => Shaped.Of(r, Id, [ahead, back]));
    }

    private Outcome<Shaped> Thin(FormSite site, Shaped made)
    {
        if (Wall == WallSide.None)
        {
            return made;
        }

        return site.Length(Thickness, "thickness")
            .Then(t =>
            {
                var caps = Enumerable
                    .Range(0, made.Bases.Length)
                    .Where(i => made.Bases[i] == $"{Id}/start" || made.Bases[i] == $"{Id}/end")
                    .ToList();
                Outcome<Shaped> Walled(double by)
                {
                    var wall = site.Kernel.Shell(made.Solid, caps, by);
                    return wall.Done
                        ? Shaped.Of(
                            wall.Value,
                            Id,
                            [made],
                            o =>
                                o.Kind == OriginKind.Inner
                                    ? made.Bases[o.Index].Replace("/side/", "/wall/", StringComparison.Ordinal)
                                    : $"{Id}/end",
                            o => made.Guide(o.Kind == OriginKind.Inner ? o.Index : caps[0])
                        )
                        : new Refusal(
                            "extrude.thin",
                            $"A wall of {site.Show(Math.Abs(by))} does not fit the outline: it is tighter than that somewhere.",
                            "thickness"
                        );
                }

                return Wall switch
                {
                    WallSide.Inside => Walled(-t),
                    WallSide.Outside => Walled(t),
                    _ => Walled(t / 2)
                        .Then(outer =>
                            Walled(-t / 2)
                                .Then(inner => site.Kernel.Join(outer.Solid, inner.Solid).Map(r => Shaped.Of(r, Id, [outer, inner])))
                        ),
                };
            });
    }
}
