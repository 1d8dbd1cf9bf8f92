using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A body through profiles one after the other; it may begin and end in a point.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Sections">Sketches, and points at the ends, in order.</param>
[Kind("loft")]
[FormTool("Loft", 'l', "M2.500 13h11M5.500 3h5M2.500 13L5.500 3M13.500 13l-3-10M4 8h8", Place = 40, Begins = true)]
public sealed record LoftStep(string Id, int Number, string Name, Refs Sections) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<LoftStep> Described = new FormFields<LoftStep>()
        .Picks(
            "sections",
            "Profiles",
            PickKind.Sketch | PickKind.Point,
            s => s.Sections,
            (s, v) => s with { Sections = v },
            2,
            hint: "Pick two or more sketches in order; a point may stand at either end"
        )
        .Operation(s => s.Operation, (s, v) => s with { Operation = v }, s => s.Bodies, (s, v) => s with { Bodies = v })
        .Flag("straight", "Straight between", s => s.Straight, (s, v) => s with { Straight = v })
        .Flag("squareFirst", "Leaves the first square to it", s => s.SquareFirst, (s, v) => s with { SquareFirst = v }, s => !s.Straight)
        .Flag("squareLast", "Meets the last square to it", s => s.SquareLast, (s, v) => s with { SquareLast = v }, s => !s.Straight);

    public FormOperation Operation { get; init; }

    public Refs Bodies { get; init; } = [];

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Straight { get; init; }

    /// <summary>Whether the sides stand square on the first profile's plane.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool SquareFirst { get; init; }

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool SquareLast { get; init; }

    public override string Kind => "loft";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Met(Operation, Bodies);

    public override Outcome<FormResult> Build(FormSite site)
    {
        var profiles = new List<Profile>();
        Vec3? from = null,
            to = null;
        for (var i = 0; i < Sections.Count; i++)
        {
            if (site.Sketch(World.StepOf(Sections[i])) is not null && !Sections[i].Contains('/', StringComparison.Ordinal))
            {
                var profile = site.Profile(Sections[i], []);
                if (!profile.Done)
                {
                    return profile.Refusal! with { Message = $"{site.Part.Find(Sections[i])?.Name}: {profile.Refusal!.Message}" };
                }

                profiles.Add(profile.Value);
                continue;
            }

            var point = site.Find(Sections[i]);
            if (!point.Done)
            {
                return point.Refusal!;
            }

            if (point.Value.Place is not { } at || (i > 0 && i < Sections.Count - 1))
            {
                return new Refusal(
                    "loft.point",
                    $"{point.Value.Words} is no profile: only the first and the last may be a point.",
                    "sections"
                );
            }

            if (i == 0)
            {
                from = at;
            }
            else
            {
                to = at;
            }
        }

        return Check(site, profiles)
            .Then(_ => Loops(profiles).Then(loops => Together(site, profiles, loops, from, to)))
            .Map<FormResult>(shaped => new MaterialResult([shaped], Operation, Bodies));
    }

    private Outcome<bool> Check(FormSite site, List<Profile> profiles)
    {
        if (profiles.Count == 0)
        {
            return new Refusal("loft.points", "Two points span no body: a loft needs a profile.", "sections");
        }

        for (var i = 0; i < profiles.Count; i++)
        {
            var p = profiles[i];
            if (p.Regions.Length != 1)
            {
                return new Refusal(
                    "loft.regions",
                    $"Profile {i + 1} has {p.Regions.Length} separate regions; a loft goes through one in each sketch.",
                    "sections"
                );
            }

            if (p.Regions[0].Holes.Length != profiles[0].Regions[0].Holes.Length)
            {
                return new Refusal(
                    "loft.loops",
                    $"The profiles do not match: profile 1 has {Loop(profiles[0])}, profile {i + 1} has {Loop(p)}. Give each the same "
                        + "number of holes.",
                    "sections"
                );
            }

            if (
                i > 0
                && p.Plane.Z.Cross(profiles[i - 1].Plane.Z).Length < Tolerances.Angle
                && Math.Abs((p.Plane.Origin - profiles[i - 1].Plane.Origin).Dot(p.Plane.Z)) < Tolerances.Length * 10
            )
            {
                return new Refusal(
                    "loft.same-plane",
                    $"Profiles {i} and {i + 1} lie in one plane: there is nothing between them.",
                    "sections"
                );
            }
        }

        if ((SquareFirst || SquareLast) && profiles.Count != Sections.Count)
        {
            return new Refusal(
                "loft.square",
                "Square ends are made between profiles; at a point there is no plane to stand square on.",
                SquareFirst ? "squareFirst" : "squareLast"
            );
        }

        return true;
        static string Loop(Profile p) =>
            p.Regions[0].Holes.Length switch
            {
                0 => "no holes",
                1 => "one hole",
                var n => $"{n} holes",
            };
    }

    /// <summary>For each loop of the first profile, the one of every other that goes with it: holes by the order of their
    /// places about the middle.</summary>
    private static Outcome<ImmutableArray<ImmutableArray<int>>> Loops(List<Profile> profiles)
    {
        var all = ImmutableArray.CreateBuilder<ImmutableArray<int>>();
        all.Add([.. profiles.Select(_ => 0)]);
        var taken = profiles.Select(_ => new HashSet<int>()).ToList();
        for (var h = 0; h < profiles[0].Regions[0].Holes.Length; h++)
        {
            var at = Centre(profiles[0], h);
            all.Add([
                .. profiles.Select(
                    (p, i) =>
                    {
                        var nearest = Enumerable
                            .Range(0, p.Regions[0].Holes.Length)
                            .Where(k => !taken[i].Contains(k))
                            .MinBy(k => (Centre(p, k) - at).Length);
                        taken[i].Add(nearest);
                        return nearest + 1;
                    }
                ),
            ]);
        }

        return all.ToImmutable();
        static Vec2 Centre(Profile p, int hole)
        {
            var points = p.Regions[0].Holes[hole].SelectMany(e => e.Drawn()).ToList();
            return points.Aggregate(Vec2.Zero, (a, b) => a + b) / points.Count;
        }
    }

    private Outcome<Shaped> Together(FormSite site, List<Profile> profiles, ImmutableArray<ImmutableArray<int>> loops, Vec3? from, Vec3? to)
    {
        var made = new List<Shaped>();
        foreach (var loop in loops)
        {
            var sections = LoopMatching.Of([
                .. profiles.Select(
                    (p, i) =>
                        p with
                        {
                            Regions =
                            [
                                p.Regions[0] with
                                {
                                    Outer = loop[i] == 0 ? p.Regions[0].Outer : p.Regions[0].Holes[loop[i] - 1],
                                    Holes = [],
                                },
                            ],
                        }
                ),
            ]);
            if ((SquareFirst || SquareLast) && sections.FirstOrDefault(s => s.Edges.Length != sections[0].Edges.Length) is { } other)
            {
                return new Refusal(
                    "loft.square",
                    $"Square ends need outlines with as many edges each: the first has {sections[0].Edges.Length}, another "
                        + $"{other.Edges.Length}. Split edges where corners should run to.",
                    SquareFirst ? "squareFirst" : "squareLast"
                );
            }

            var result =
                SquareFirst || SquareLast
                    ? site.Kernel.LoftSquare(sections, SquareFirst, SquareLast)
                    : site.Kernel.Loft(sections, from, to, Straight);
            if (!result.Done)
            {
                return result.Refusal!;
            }

            // Sides are named by the section with the most edges to tell them apart.
            var naming = Enumerable.Range(0, sections.Length).MaxBy(i => sections[i].Edges.Select(e => e.Entity).Distinct().Count());
            made.Add(
                new Shaped(
                    result.Value.Solid,
                    [
                        .. result.Value.Origins.Select(all =>
                            all.IsEmpty ? $"{Id}/face"
                            : all.FirstOrDefault(o => o.Kind != OriginKind.Side || o.Input == naming, all[0]) is var o
                                ? FormSite.NameOf(Id, o, sections[o.Input])
                            : ""
                        ),
                    ]
                )
                {
                    Guides =
                    [
                        .. result.Value.Origins.Select(all =>
                            all.IsEmpty ? AxisGuide.None : FormSite.GuideOf(all[0], sections[all[0].Input], sections[0].Plane.Z)
                        ),
                    ],
                }
            );
        }

        return made.Count == 1
            ? made[0]
            : site.Kernel.Cut(made[0].Solid, [.. made.Skip(1).Select(m => m.Solid)]).Map(r => Shaped.Of(r, Id, made));
    }
}
