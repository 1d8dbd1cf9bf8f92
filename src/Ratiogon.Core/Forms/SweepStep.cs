using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Forms;

/// <summary>What is swept.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<SweepProfile>))]
public enum SweepProfile
{
    /// <summary>Regions of a sketch.</summary>
    [JsonStringEnumMemberName("sketch")]
    Sketch,

    /// <summary>A disc, or a ring where there is a bore, about the path: no sketch is needed.</summary>
    [JsonStringEnumMemberName("round")]
    Round,
}

/// <summary>How a profile goes along its path.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<SweepKeep>))]
public enum SweepKeep
{
    /// <summary>Square to the path.</summary>
    [JsonStringEnumMemberName("normal")]
    Normal,

    /// <summary>Parallel to itself.</summary>
    [JsonStringEnumMemberName("parallel")]
    Parallel,

    /// <summary>Square to the path, and turned about it on the way.</summary>
    [JsonStringEnumMemberName("twist")]
    Twist,
}

/// <summary>A profile along a path of edges, sketch curves and 3D curves.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Path">Curves that follow each other.</param>
[Kind("sweep")]
[FormTool(
    "Sweep",
    's',
    "M2 13C3 6 8 10 13 3M2 13m-1.300 0a1.300 1.300 0 1 0 2.600 0a1.300 1.300 0 1 0-2.600 0M11 2.500l2 .500-.500 2",
    Place = 30,
    Begins = true
)]
public sealed record SweepStep(string Id, int Number, string Name, Refs Path) : FormStep(Id, Number, Name)
{
    /// <summary>Of two ends that lie in the plane of the profile the nearer one counts: distances weigh this much.</summary>
    private const double Nearer = 1e-3;

    private static readonly FormFields<SweepStep> Described = new FormFields<SweepStep>()
        .Choice(
            "profile",
            "Profile",
            s => s.Profile,
            (s, v) => s with { Profile = v },
            null,
            new(SweepProfile.Sketch, "a sketch"),
            new(SweepProfile.Round, "round pipe")
        )
        .Pick(
            "sketch",
            "Sketch",
            PickKind.Sketch,
            s => s.Sketch,
            (s, v) => s with { Sketch = v, Regions = [] },
            when: s => s.Profile == SweepProfile.Sketch,
            hint: "Pick the sketch with the profile"
        )
        .Picks(
            "regions",
            "Regions",
            PickKind.Region,
            s => s.Regions,
            (s, v) => s with { Regions = v },
            0,
            when: s => s.Profile == SweepProfile.Sketch
        )
        .Picks(
            "path",
            "Path",
            PickKind.Path,
            s => s.Path,
            (s, v) => s with { Path = v },
            hint: "Pick the curves of the path one after the other"
        )
        .Flag("brought", "Brought to the path", s => s.Brought, (s, v) => s with { Brought = v }, s => s.Profile == SweepProfile.Sketch)
        .Length("diameter", "Diameter", s => s.Diameter, (s, v) => s with { Diameter = v }, s => s.Profile == SweepProfile.Round)
        .Length("bore", "Bore", s => s.Bore, (s, v) => s with { Bore = v }, s => s.Profile == SweepProfile.Round, optional: true)
        .Operation(s => s.Operation, (s, v) => s with { Operation = v }, s => s.Bodies, (s, v) => s with { Bodies = v })
        .Choice(
            "keep",
            "Kept",
            s => s.Keep,
            (s, v) => s with { Keep = v },
            null,
            new(SweepKeep.Normal, "square to the path"),
            new(SweepKeep.Parallel, "parallel to itself"),
            new(SweepKeep.Twist, "square, with a twist")
        )
        .Angle("twist", "Twist", s => s.Twist, (s, v) => s with { Twist = v }, s => s.Keep == SweepKeep.Twist, true);

    public SweepProfile Profile { get; init; }

    public string? Sketch { get; init; }

    public Refs Regions { get; init; } = [];

    /// <summary>Whether the profile is moved and turned to stand square on the beginning of the path, with its middle there.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Brought { get; init; }

    /// <summary>Of a round pipe.</summary>
    public string Diameter { get; init; } = "10 mm";

    /// <summary>The inside of a round pipe; none or 0 for a rod.</summary>
    public string? Bore { get; init; }

    public SweepKeep Keep { get; init; }

    /// <summary>The whole turn from one end to the other.</summary>
    public string? Twist { get; init; }

    public FormOperation Operation { get; init; }

    public Refs Bodies { get; init; } = [];

    public override string Kind => "sweep";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Met(Operation, Bodies);

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Path(Path)
            .Then(path =>
                ProfileOn(site, path)
                    .Then(on =>
                    {
                        var (profile, run) = on;
                        if (SweepCheck.Of(site, profile, run, Keep) is { } refusal)
                        {
                            return Thinner(site, refusal);
                        }

                        return Swept(site, profile, run)
                            .Map<FormResult>(shaped => new MaterialResult([shaped], Operation, Bodies)
                            {
                                Notes =
                                    SweepCheck.Aside(profile, run) is var off && off > 0
                                        ? [$"the profile runs {site.Show(off)} beside the path"]
                                        : [],
                            });
                    })
            );

    /// <summary>A pipe that is too thick for its path could be thinner; a drawn profile cannot be changed from here.</summary>
    private Refusal Thinner(FormSite site, Refusal refusal) =>
        refusal.Fits is not { } share ? refusal
        : Profile == SweepProfile.Round && site.Length(Diameter, "diameter") is { Done: true, Value: var d }
            ? refusal with
            {
                Where = "diameter",
                Fits = site.Fitting(d * double.Parse(share.Value, CultureInfo.InvariantCulture)),
            }
        : refusal with { Fits = null };

    /// <summary>The profile, and the path run from the end that the profile stands at.</summary>
    private Outcome<(Profile Profile, CurvePath Path)> ProfileOn(FormSite site, CurvePath path)
    {
        if (Profile == SweepProfile.Sketch)
        {
            return site.Profile(Sketch ?? "", Regions)
                .Then<(Profile, CurvePath)>(p =>
                {
                    double Off(Vec3 end) => Math.Abs((end - p.Plane.Origin).Dot(p.Plane.Z)) + (end.DistanceTo(p.Middle) * Nearer);
                    var run = Off(path.End) < Off(path.Start) && !path.Closed ? path.Reversed() : path;
                    return (Brought ? Standing(p, run) : p, run);
                });
        }

        return site.Length(Diameter, "diameter")
            .Then(d =>
                (string.IsNullOrWhiteSpace(Bore) ? 0.0 : site.Length(Bore, "bore")).Then<(Profile, CurvePath)>(bore =>
                {
                    if (bore < 0 || bore >= d - (2 * Tolerances.SmallestSize))
                    {
                        return new Refusal(
                            "sweep.bore",
                            $"A bore of {site.Show(bore)} leaves no wall in a pipe of {site.Show(d)}.",
                            "bore"
                        );
                    }

                    var (at, tangent) = path.AtLength(0);
                    var (outer, inner) = (Circle("rim", d / 2, true), Circle("bore", bore / 2, false));
                    return (
                        new Profile(
                            Frame.Facing(at, tangent),
                            [
                                new Region(
                                    "round",
                                    [outer],
                                    bore > 0
                                        ?
                                        [
                                            [inner],
                                        ]
                                        : [],
                                    0
                                ),
                            ]
                        ),
                        path
                    );
                })
            );
    }

    /// <summary>The profile square on the beginning of a path, its middle there; turned by no more than that takes.</summary>
    private static Profile Standing(Profile profile, CurvePath path)
    {
        var (at, tangent) = path.AtLength(0);
        var plane = profile.Plane;
        var way = plane.Z.Dot(tangent) < 0 ? -tangent : tangent;
        var (about, turn) = (plane.Z.Cross(way), plane.Z.AngleTo(way));
        var by = about.Length < Tolerances.WholeTurn ? Rigid.None : Rigid.About(new Line3(profile.Middle, about.Unit), turn);
        var turned = new Frame(by.Apply(plane.Origin), by.Turn(plane.X), by.Turn(plane.Y));
        return profile with { Plane = turned with { Origin = turned.Origin + (at - profile.Middle) } };
    }

    private static ProfileEdge Circle(string name, double r, bool counterclockwise) =>
        new(name, new Vec2(r, 0), new Vec2(r, 0), Vec2.Zero, r, counterclockwise, counterclockwise);

    private Outcome<Shaped> Swept(FormSite site, Profile profile, CurvePath path)
    {
        // The far cap's axes are the profile's, carried along the path.
        var last = new AxisGuide(
            Keep == SweepKeep.Parallel ? profile.Plane.X : MovingFrames.Along(path, profile.Plane.X, 65)[^1].Normal,
            Vec3.Zero
        );
        AxisGuide Axes(FaceOrigin o) => o.Kind == OriginKind.EndCap ? last : FormSite.GuideOf(o, profile, profile.Plane.Z);
        if (Keep == SweepKeep.Normal)
        {
            return site.Kernel.Pipe(profile, path).Map(r => Shaped.Of(r, Id, o => FormSite.NameOf(Id, o, profile), Axes));
        }

        var guide =
            Keep == SweepKeep.Parallel
                ? (Outcome<CurvePath?>)(CurvePath?)null
                : (string.IsNullOrWhiteSpace(Twist) ? 0.0 : site.Angle(Twist, "twist")).Then(turn =>
                    Guide(path, profile, turn).Map(g => (CurvePath?)g)
                );
        return guide.Then(g =>
        {
            var all = new List<(Shaped Shape, bool Hole, int Region)>();
            for (var r = 0; r < profile.Regions.Length; r++)
            {
                for (var l = 0; l <= profile.Regions[r].Holes.Length; l++)
                {
                    var made = site.Kernel.Sweep(profile, r, l, path, g);
                    if (!made.Done)
                    {
                        return made.Refusal!;
                    }

                    all.Add((Shaped.Of(made.Value, Id, o => FormSite.NameOf(Id, o, profile), Axes), l > 0, r));
                }
            }

            return Together(site, all);
        });
    }

    /// <summary>Outlines without their holes, all regions as one.</summary>
    private Outcome<Shaped> Together(FormSite site, List<(Shaped Shape, bool Hole, int Region)> all)
    {
        var whole = default(Shaped);
        foreach (var region in all.GroupBy(a => a.Region))
        {
            var outline = region.First(a => !a.Hole).Shape;
            var holes = region.Where(a => a.Hole).Select(a => a.Shape).ToList();
            if (holes.Count > 0)
            {
                var cut = site.Kernel.Cut(outline.Solid, [.. holes.Select(h => h.Solid)]);
                if (!cut.Done)
                {
                    return cut.Refusal!;
                }

                outline = Shaped.Of(cut.Value, Id, [outline, .. holes]);
            }

            if (whole is null)
            {
                whole = outline;
                continue;
            }

            var joined = site.Kernel.Join(whole.Solid, outline.Solid);
            if (!joined.Done)
            {
                return joined.Refusal!;
            }

            whole = Shaped.Of(joined.Value, Id, [whole, outline]);
        }

        return whole!;
    }

    /// <summary>A curve beside the path that turns about it: what the profile faces.</summary>
    private static Outcome<CurvePath> Guide(CurvePath path, Profile profile, double turn)
    {
        var count = Math.Clamp((int)(Math.Abs(turn) / (Math.PI / 12)) + (8 * path.Curves.Length), 12, 400);
        var frames = MovingFrames.Along(path, profile.Plane.X, count);
        var beside = Math.Max(1, path.Length * 0.02);
        return CurvePath.Of(
            BSplineCurve.Through([.. frames.Select((f, i) => f.At + (f.Normal.Turned(f.Tangent, turn * i / (frames.Length - 1)) * beside))])
        );
    }
}
