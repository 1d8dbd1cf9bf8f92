using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Tools.Gauges;

namespace Ratiogon.Solids.Tests;

/// <summary>Readings against formulas, and against a witness that knows the shapes only by their parameters.</summary>
public sealed class GaugeTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private double Read(Part part, string what, string[] of, string? along = null, string? frame = null)
    {
        var read = Gauger.Read(rebuilder.Gauge(part), new ReadingStep("r", 0, "r", what, [.. of]) { Along = along, In = frame });
        read.Refusal?.Message.ShouldBeNull();
        return read.Value.Value.Value;
    }

    private string Refused(Part part, string what, string[] of, string? along = null)
    {
        var read = Gauger.Read(rebuilder.Gauge(part), new ReadingStep("r", 0, "r", what, [.. of]) { Along = along });
        read.Done.ShouldBeFalse();
        return read.Refusal!.Message;
    }

    /// <summary>A thing of the scene: its reference, and its points by one parameter, two, or none.</summary>
    private sealed record Shape(string Reference, Func<double, double, Vec3> At, int Parameters, bool RoundU = false, bool RoundV = false);

    private static DatumCondition Say(string relation, params string[] of) => new(relation, [.. of]);

    /// <summary>Each kind of thing at a random place and turn.</summary>
    private (Part Part, List<Shape> Shapes) Scene(int seed)
    {
        var random = new Random(seed);
        Vec3 Place(double spread) =>
            new((random.NextDouble() - 0.5) * spread, (random.NextDouble() - 0.5) * spread, (random.NextDouble() - 0.5) * spread);
        var commands = new List<PartCommand>();
        string Plane(string id)
        {
            var at = Place(260);
            foreach (var (name, p) in new[] { ("1", at), ("2", at + Place(40)), ("3", at + Place(40)) })
            {
                commands.Add(Parts.Point($"{id}{name}", p));
            }

            commands.Add(
                new AddStep(new PlaneStep($"{id}p", 0, "", [Say("through", $"{id}1"), Say("through", $"{id}2"), Say("through", $"{id}3")]))
            );
            return $"{id}p";
        }

        void Sketched(string id, SketchEdit edit) =>
            commands.AddRange([new AddStep(new SketchStep($"{id}s", 0, "", Plane(id), Sketch.Empty)), new EditSketch($"{id}s", edit)]);
        commands.Add(Parts.Point("pt", Place(260)));
        commands.Add(Parts.Line("ln", Place(260), Place(260)));
        commands.Add(
            new Several(
                [
                    .. Enumerable.Range(0, 5).Select(i => (PartCommand)Parts.Point($"k{i}", Place(200))),
                    new AddStep(new CurveStep("bs", 0, "", CurveShape.Spline, ["k0", "k1", "k2", "k3", "k4"])),
                ],
                "spline"
            )
        );
        Sketched("ci", Parts.Circle("c", 0, 0, 14));
        Plane("pl");
        Sketched("cy", Parts.Circle("c", 0, 0, 9));
        commands.Add(new AddStep(new ExtrudeStep("cyl", 0, "", "cys") { Length = "30 mm", Operation = FormOperation.Body }));
        Sketched(
            "sp",
            new SketchEdit
            {
                Add =
                [
                    new PointEntity("m", Vec2.Zero),
                    new PointEntity("a", new Vec2(0, -12)),
                    new PointEntity("b", new Vec2(0, 12)),
                    new ArcEntity("arc", "m", "a", "b", 12),
                    new LineEntity("l", "a", "b"),
                ],
            }
        );
        commands.Add(new AddStep(new RevolveStep("sph", 0, "", "sps", "sps/l") { Operation = FormOperation.Body }));
        Sketched(
            "to",
            new SketchEdit
            {
                Add =
                [
                    new PointEntity("m", new Vec2(20, 0)),
                    new CircleEntity("c", "m", 5),
                    new PointEntity("a", new Vec2(0, -5)),
                    new PointEntity("b", new Vec2(0, 5)),
                    new LineEntity("l", "a", "b") { Construction = true },
                ],
            }
        );
        commands.Add(new AddStep(new RevolveStep("tor", 0, "", "tos", "tos/l") { Operation = FormOperation.Body }));
        var part = Parts.Of(commands);
        var built = rebuilder.Rebuild(part);
        built.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty();
        Frame F(string id) => built.Step(id)!.Frame!.Value;
        var model = rebuilder.Gauge(part).Model;
        Vec3 Curve(string id, double t) => model.Find(id).Value.Path is { } p ? p.AtLength(p.Length * t).At : Vec3.Zero;
        var (ci, pl, cy, sp, to) = (F("cis"), F("plp"), F("cys"), F("sps"), F("tos"));
        double Turn(double u) => 2 * Math.PI * u;
        return (
            part,
            [
                new("pt", (_, _) => F("pt").Origin, 0),
                new("ln", (u, _) => Curve("ln", u), 1),
                new("cis/c", (u, _) => ci.ToWorld(Vec2.Polar(Turn(u), 14)), 1, RoundU: true),
                new("plp", (u, v) => pl.ToWorld(new Vec2((u - 0.5) * 900, (v - 0.5) * 900)), 2),
                new("cyl/side/c", (u, v) => cy.ToWorld(Vec2.Polar(Turn(u), 9)) + (cy.Z * (30 * v)), 2, RoundU: true),
                new(
                    "sph/side/arc",
                    (u, v) =>
                        sp.Origin
                        + (
                            new Vec3(
                                Math.Cos(Turn(u)) * Math.Sin(Math.PI * v),
                                Math.Sin(Turn(u)) * Math.Sin(Math.PI * v),
                                Math.Cos(Math.PI * v)
                            ) * 12
                        ),
                    2,
                    RoundU: true
                ),
                new(
                    "tor/side/c",
                    (u, v) =>
                        to.Origin
                        + (((to.X * Math.Cos(Turn(u))) + (to.Z * Math.Sin(Turn(u)))) * (20 + (5 * Math.Cos(Turn(v)))))
                        + (to.Y * (5 * Math.Sin(Turn(v)))),
                    2,
                    RoundU: true,
                    RoundV: true
                ),
                new("bs", (u, _) => Curve("bs", u), 1),
            ]
        );
    }

    /// <summary>The smallest distance by trying places all over both shapes and walking down from the best few.</summary>
    private static double Witness(Shape a, Shape b)
    {
        static List<(double U, double V)> Grid(Shape s) =>
            s.Parameters switch
            {
                0 => [(0, 0)],
                1 => [.. Enumerable.Range(0, 161).Select(i => (i / 160.0, 0.0))],
                _ => [.. Enumerable.Range(0, 25).SelectMany(i => Enumerable.Range(0, 25).Select(k => (i / 24.0, k / 24.0)))],
            };
        var (p, q) = (Grid(a).Select(g => (g, At: a.At(g.U, g.V))).ToList(), Grid(b).Select(g => (g, At: b.At(g.U, g.V))).ToList());
        var starts = p.Select(x => q.Select(y => (x.g, h: y.g, D: x.At.DistanceTo(y.At))).MinBy(t => t.D)).OrderBy(t => t.D).Take(12);
        return starts.Min(s => Down(a, b, [s.g.U, s.g.V, s.h.U, s.h.V]));
    }

    private static double Down(Shape a, Shape b, double[] at)
    {
        double Of(double[] x) => a.At(x[0], x[1]).DistanceTo(b.At(x[2], x[3]));
        bool[] round = [a.RoundU, a.RoundV, b.RoundU, b.RoundV];
        int[] free = [.. Enumerable.Range(0, 4).Where(i => i < 2 ? i < a.Parameters : i - 2 < b.Parameters)];
        var best = Of(at);
        var steps = Enumerable.Repeat(0.02, 4).ToArray();
        for (var n = 0; n < 4000 && free.Any(i => steps[i] > 1e-11); n++)
        {
            foreach (var i in free)
            {
                var better = false;
                foreach (var sign in new[] { 1, -1 })
                {
                    var x = (double[])at.Clone();
                    x[i] = round[i] ? x[i] + (sign * steps[i]) : Math.Clamp(x[i] + (sign * steps[i]), 0, 1);
                    if (Of(x) is var d && d < best - 1e-15)
                    {
                        (at, best, better) = (x, d, true);
                        break;
                    }
                }

                steps[i] *= better ? 1.6 : 0.55;
            }
        }

        return best;
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Smallest_distances_of_all_pairs_in_random_positions(int seed)
    {
        var (part, shapes) = Scene(seed);
        var site = rebuilder.Gauge(part);
        foreach (var (a, i) in shapes.Select((s, i) => (s, i)))
        {
            foreach (var b in shapes.Skip(i + 1))
            {
                var read = Gauger.Read(site, new ReadingStep("r", 0, "r", "distance", [a.Reference, b.Reference]));
                read.Refusal?.Message.ShouldBeNull();
                var (value, points) = (read.Value.Value.Value, read.Value.Value.Points);
                var witness = Witness(a, b);

                // The witness only ever finds places that there are: nothing may be longer; and it is shorter by no more than its own step.
                value.ShouldBeLessThan(witness + 1e-6, $"{a.Reference} to {b.Reference}, seed {seed}");
                value.ShouldBeGreaterThan(witness - 2e-3, $"{a.Reference} to {b.Reference}, seed {seed}");
                points[0].DistanceTo(points[1]).ShouldBe(value, 1e-6);
            }
        }
    }

    private static Part Block(params PartCommand[] more) => Parts.Of([.. Parts.Block(80, 50, 12), .. more]);

    private static Part TwoHoles =>
        Block(
            new AddStep(new SketchStep("q", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("q", Parts.Circle("a", -20, -10, 4).With(Parts.Circle("b", 20, 15, 3))),
            new AddStep(new ExtrudeStep("k", 0, "", "q") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut })
        );

    [Fact]
    public void Distances_along_a_direction_say_the_true_one_and_how_far_off_it_is()
    {
        var part = TwoHoles;
        var (a, b) = ("e/end^k/side/a", "e/end^k/side/b");
        Read(part, "centre-distance", [a, b]).ShouldBe(Math.Sqrt((40 * 40) + (25 * 25)), 1e-9);
        Read(part, "distance", [a, b]).ShouldBe(Math.Sqrt((40 * 40) + (25 * 25)) - 7, 1e-6);
        Read(part, "distance-along", [a, b], "world/x").ShouldBe(40, 1e-9);
        Read(part, "distance-along", [a, b], "0, 1, 0").ShouldBe(25, 1e-9);
        Read(part, "distance-along", [a, b], "e/end^e/side/r.left").ShouldBe(25, 1e-9);
        Read(part, "distance-along", [$"{a}@centre", "e/end^e/side/r.right@0.5"], $"{a}@centre & {b}@centre")
            .ShouldBe(((60 * 40) + (10 * 25)) / Math.Sqrt((40 * 40) + (25 * 25)), 1e-9);
        Read(part, "axis-distance", ["k/side/a", "k/side/b"]).ShouldBe(Math.Sqrt((40 * 40) + (25 * 25)), 1e-9);
        var note = Gauger
            .Read(rebuilder.Gauge(part), new ReadingStep("r", 0, "r", "distance-along", [a, b]) { Along = "world/x" })
            .Value.Value.Note;
        note.ShouldContain("47.17 mm apart");
        note.ShouldContain("32.005 deg off the direction");
        Refused(part, "distance-along", [a, b], "0 0 0").ShouldContain("points nowhere");
        Refused(part, "centre-distance", ["e/end", "e/start"]).ShouldContain("between centres");
    }

    [Fact]
    public void Angles_radii_lengths_and_areas()
    {
        var part = Block(
            new AddStep(new PlaneStep("t", 0, "", [Say("through-line", "world/y"), new("angle", [World.Xy]) { Values = ["33 deg"] }]))
        );
        Read(part, "angle", ["t", "e/end"]).ShouldBe(33 * Math.PI / 180, 1e-12);
        Read(part, "angle", ["t", "world/x"]).ShouldBe(33 * Math.PI / 180, 1e-12);
        Read(part, "angle", ["world/x", "world/y"]).ShouldBe(Math.PI / 2, 1e-12);
        Read(part, "edge-length", ["e/end^e/side/r.top"]).ShouldBe(80, 1e-9);
        Read(part, "face-area", ["e/end"]).ShouldBe(4000, 1e-9);
        Read(part, "perimeter", ["e/end"]).ShouldBe(260, 1e-9);
        Read(part, "place-z", ["e/end^e/side/r.top@middle"]).ShouldBe(12, 1e-9);
        Read(part, "place-x", ["e/end^e/side/r.top@middle"], frame: "t").ShouldNotBe(0);
        Refused(part, "angle", ["e/end", "e"]).ShouldContain("has no direction");
        Refused(part, "radius", ["e/end"]).ShouldContain("no radius");
        Refused(part, "edge-length", ["e/end"]).ShouldContain("no length");
        var holes = TwoHoles;
        Read(holes, "radius", ["k/side/a"]).ShouldBe(4, 1e-9);
        Read(holes, "diameter", ["e/end^k/side/b"]).ShouldBe(6, 1e-9);
        Read(holes, "bend-radius", ["e/end^k/side/b"]).ShouldBe(3, 1e-9);
    }

    [Fact]
    public void Smallest_bend_radius_of_a_face_is_that_within_its_outline()
    {
        // A cone from radius 10 to 6 over 12: across it the tightest is at the small end, over the cosine of its half angle.
        PartCommand[] round =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("c", 0, 0, 10)),
        ];
        var cone = Parts.Of([
            .. round,
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm", Draft = $"{Math.Atan2(4, 12) * 180 / Math.PI:R} deg" }),
        ]);
        Read(cone, "bend-radius", ["e/side/c"]).ShouldBe(6 / Math.Cos(Math.Atan2(4, 12)), 1e-8);
        Refused(cone, "bend-radius", ["e/end"]).ShouldContain("is flat");

        // The rim rounded: of the torus only its outer part is there, which bends most about the tube.
        var rim = Parts.Of([
            .. round,
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" }),
            new AddStep(new FilletStep("f", 0, "", ["e/end^e/side/c"]) { Radius = "7 mm" }),
        ]);
        var torus = rebuilder.Gauge(rim).Bodies.Single().Names.Faces.Single(n => n.StartsWith("f/", StringComparison.Ordinal));
        Read(rim, "bend-radius", [torus]).ShouldBe(7, 1e-9);

        // An ellipse pushed along: free-form, tightest at the ends of its long axis, b^2 / a.
        var oval = Parts.Of(
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch(
                "s",
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("m", Vec2.Zero),
                        new PointEntity("a", new Vec2(20, 0)),
                        new PointEntity("b", new Vec2(0, 8)),
                        new EllipseEntity("o", "m", "a", "b"),
                    ],
                }
            ),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "5 mm" })
        );
        Read(oval, "bend-radius", ["e/side/o"]).ShouldBe(64.0 / 20, 1e-6);

        // Half of it, cut off where it is flattest, leaves an end: the same radius. Cut off at both ends, it bends less.
        var middle = new Several(
            [
                new AddStep(new SketchStep("k", 0, "", World.Xy, Sketch.Empty)),
                new EditSketch("k", Parts.Rectangle(16, 40, Vec2.Zero)),
                new AddStep(new ExtrudeStep("i", 0, "", "k") { Length = "5 mm", Operation = FormOperation.Intersect }),
            ],
            "cut"
        )
            .Apply(oval)
            .Value;
        var side = rebuilder.Gauge(middle).Bodies.Single().Names.Faces.First(n => n.StartsWith("e/side/o", StringComparison.Ordinal));

        // Of x = a cos t, y = b sin t at x = 8.
        var (sin2, cos2) = (1 - (8.0 * 8 / 400), 8.0 * 8 / 400);
        Read(middle, "bend-radius", [side]).ShouldBe(Math.Pow((400 * sin2) + (64 * cos2), 1.5) / (20 * 8), 1e-6);
    }

    [Fact]
    public void Smallest_bend_radius_of_a_spline_is_that_of_its_curvature()
    {
        var (part, _) = Scene(5);
        var path = rebuilder.Gauge(part).Model.Find("bs").Value.Path!;
        var tightest = path
            .Curves.SelectMany(c => Enumerable.Range(0, 20001).Select(i => c.Curvature(c.From + ((c.To - c.From) * i / 20000))))
            .Max();
        Read(part, "bend-radius", ["bs"]).ShouldBe(1 / tightest, 1e-6);
        Refused(part, "bend-radius", ["ln"]).ShouldContain("is straight");
    }

    [Fact]
    public void Mass_centre_inertia_and_box_in_any_frame()
    {
        var part = Block();
        var density = part.Material.Density / 1000;
        var m = 80.0 * 50 * 12 * density;
        Read(part, "mass", []).ShouldBe(m, 1e-6);
        Read(part, "centre-z", ["e"]).ShouldBe(6, 1e-9);
        Read(part, "inertia-xx", []).ShouldBe(m * ((50 * 50) + (12 * 12)) / 12, 1e-3);
        Read(part, "inertia-xy", []).ShouldBe(0, 1e-6);
        Read(part, "box-x", []).ShouldBe(80, 1e-6);
        Read(part, "box-x", [], frame: World.Yz).ShouldBe(50, 1e-6);
        Read(part, "inertia-xx", [], frame: World.Yz).ShouldBe(m * ((80 * 80) + (12 * 12)) / 12, 1e-3);
    }

    [Fact]
    public void Gaps_overlaps_and_walls()
    {
        PartCommand[] two =
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("q", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("q", Parts.Rectangle(20, 20, new Vec2(60, 0))),
            new AddStep(new ExtrudeStep("k", 0, "", "q") { Length = "5 mm", Operation = FormOperation.Body }),
        ];
        Read(Parts.Of(two), "gap", ["e", "k"]).ShouldBe(10, 1e-9);
        Read(Parts.Of(two), "overlap", ["e", "k"]).ShouldBe(0);
        PartCommand[] over = [.. two[..^2], new EditSketch("q", Parts.Rectangle(20, 20, new Vec2(45, 0))), two[^1]];
        Read(Parts.Of(over), "overlap", ["e", "k"]).ShouldBe(5 * 20 * 5, 1e-6);
        Refused(Parts.Of(two), "overlap", ["e", "e"]).ShouldContain("two different bodies");

        // A pocket of 8 leaves a wall of 4.
        PartCommand[] pocket =
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("q", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("q", Parts.Rectangle(10, 6, new Vec2(-25, 10))),
            new AddStep(
                new ExtrudeStep("k", 0, "", "q")
                {
                    Length = "8 mm",
                    Flip = true,
                    Operation = FormOperation.Cut,
                }
            ),
        ];
        Read(Parts.Of(pocket), "wall", [], "world/z").ShouldBe(4, 1e-6);
        Read(Parts.Of(pocket), "wall", ["e"], "world/x").ShouldBe(10, 1e-6);

        // A bore beside a face: thinnest where it comes nearest.
        Read(TwoHoles, "wall", [], "world/y").ShouldBe(25 - 15 - 3, 1e-5);
    }

    [Fact]
    public void Places_made_on_the_spot()
    {
        var part = TwoHoles;
        Read(part, "distance", ["e/end^e/side/r.top & e/end^e/side/r.left@crossing", "e/end^k/side/a@centre"])
            .ShouldBe(Math.Sqrt((20 * 20) + (35 * 35)), 1e-9);
        Read(part, "distance", ["k/side/a & k/side/b@halfway", "world/origin"]).ShouldBe(Math.Sqrt((2.5 * 2.5) + 36), 1e-9);
        Read(part, "distance", ["e/end@middle", "e/start@middle"]).ShouldBe(12, 1e-6);
        Refused(part, "distance", ["e/end^e/side/r.top & e/side/r.top^e/start@crossing", "e/end"]).ShouldContain("parallel");
        Refused(part, "distance", ["e/end@start", "e/start"]).ShouldContain("has no start");
        Refused(part, "distance", ["e/end^e/side/r.top@1.5", "e/start"]).ShouldContain("from 0 to 1");
        Refused(part, "distance", ["gone/x", "e/start"]).ShouldContain("gone");
    }

    [Fact]
    public void Readings_have_limits_and_drive_later_steps()
    {
        ReadingStep Gap(string? least, string? most) =>
            new("g", 0, "bridge", "distance", ["e/side/r.left", "e/side/r.right"]) { Least = least, Most = most };
        Verdict Of(string? least, string? most) => rebuilder.Rebuild(Block(new AddStep(Gap(least, most)))).Step("g")!.Verdict;
        Of(null, null).ShouldBe(Verdict.None);
        Of("70 mm", "90 mm").ShouldBe(Verdict.Pass);
        Of("79 mm", "90 mm").ShouldBe(Verdict.Near);
        Of("81 mm", null).ShouldBe(Verdict.Fail);
        Of(null, "79 mm").ShouldBe(Verdict.Fail);
        Of("50 mm", "80.5 mm").ShouldBe(Verdict.Near);
        rebuilder.Rebuild(Block(new AddStep(Gap("9 mm", "8 mm")))).Step("g")!.Message.ShouldContain("lies above the most");

        // A later extrude is a quarter of what was read.
        var part = Block(
            new AddStep(Gap(null, null)),
            new AddStep(new SketchStep("q", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("q", Parts.Circle("c", 0, 0, 5))
        );
        part = part with { Readings = part.Readings.Add("bridge", Core.Quantities.Quantity.Length(80)) };
        part = new AddStep(new ExtrudeStep("k", 0, "", "q") { Length = "bridge / 4" }).Apply(part).Value;
        rebuilder.Rebuild(part).Bodies.Single().Bounds.High.Z.ShouldBe(32, 1e-6);
        rebuilder.Rebuild(new SetSize("s", "r.width", "60 mm").Apply(part).Value).Bodies.Single().Bounds.High.Z.ShouldBe(27, 1e-6);

        // Before it is taken nothing can use it.
        var early = part with
        {
            Steps = [.. part.Steps.Select(s => s.Id == "k" ? s with { Number = part.Find("g")!.Number - 1 } : s).OrderBy(s => s.Number)],
        };
        rebuilder
            .Rebuild(
                early with
                {
                    Steps =
                    [
                        .. early
                            .Steps.Select(s =>
                                s.Id == "q" ? s with { Number = 22 }
                                : s.Id == "k" ? s with { Number = 25 }
                                : s
                            )
                            .OrderBy(s => s.Number),
                    ],
                }
            )
            .Step("k")!
            .Message.ShouldContain("only steps after it");
    }

    [Fact]
    public void The_measuring_tool_fills_its_slots_and_replaces_them()
    {
        var site = rebuilder.Gauge(TwoHoles);
        var (a, b) = ("e/end^k/side/a", "e/end^k/side/b");
        GaugeAnswer Do(GaugeAnswer? before, string what, string? slot = null, string? text = null, bool more = false) =>
            GaugeDrafting.Answer(site, before?.Draft ?? new GaugeDraft(), new GaugeInput(what, slot, text, more));
        var answer = Do(null, "pick", text: a);
        answer.Draft.Active.ShouldBe("second");
        answer.Values.ShouldContain(v => v.What == "diameter" && v.Shown == "8 mm");
        answer = Do(answer, "pick", text: b);
        answer.Values.Single(v => v.What == "centre-distance").Shown.ShouldBe("47.17 mm");
        answer = Do(Do(answer, "use", "along"), "pick", text: "e/end^e/side/r.top");
        answer.Values.Single(v => v.What == "distance-along").Shown.ShouldBe("40 mm");

        // One slot replaced; the others stay.
        answer = Do(Do(answer, "use", "first"), "pick", text: "e/side/r.left");
        answer.Draft.Second.ShouldBe(b);
        answer.Values.Single(v => v.What == "distance-along").Shown.ShouldBe("60 mm");
        answer = Do(answer, "snap", "second", "centre");
        answer.Values.Single(v => v.What == "distance-along").Shown.ShouldBe("60 mm");
        answer = Do(answer, "type", "along", "0, 0, 1");
        answer.Slots[2].Words.ShouldBe("(0, 0, 1)");

        // A share is of a length: edges have one, faces and bodies have none.
        Do(null, "pick", text: "e/end^e/side/r.top").Slots[0].Shared.ShouldBeTrue();
        Do(null, "pick", text: "e/end").Slots[0].Shared.ShouldBeFalse();
        Do(null, "pick", text: "e").Values.ShouldNotContain(v => v.What == "place-x");

        // Whole bodies, in another frame.
        var body = Do(Do(Do(null, "pick", text: "e"), "use", "in"), "pick", text: World.Yz);
        body.Values.Single(v => v.What == "box-x").Shown.ShouldBe("50 mm");
        ((AddStep)body.Values.Single(v => v.What == "inertia-xx").Keep).Step.ShouldBeOfType<ReadingStep>().In.ShouldBe(World.Yz);
        Do(Do(body, "use", "in"), "pick", text: "e/end^e/side/r.top").Refusal.ShouldNotBeNull().ShouldContain("is no frame");

        // A refusal leaves the draft as it was.
        var wrong = Do(answer, "type", "along", "0, 0, 0");
        wrong.Refusal.ShouldNotBeNull().ShouldContain("points nowhere");
        wrong.Draft.ShouldBe(answer.Draft);
        Do(Do(Do(null, "pick", text: "e/end^e/side/r.top"), "use", "first"), "pick", text: "e/end^e/side/r.left", more: true)
            .Draft.First.ShouldBe("e/end^e/side/r.top & e/end^e/side/r.left@crossing");
        answer.Values.ShouldAllBe(v => v.Keep.Apply(site.Part).Done);
    }

    [Fact]
    public void Offers_of_three_picks_measure_along_the_third()
    {
        var offered = GaugeDrafting.Offered(rebuilder.Gauge(TwoHoles), ["e/end^k/side/a", "e/end^k/side/b", "e/end^e/side/r.top"]);
        offered.Single(v => v.What == "distance-along").Shown.ShouldBe("40 mm");
        offered.ShouldContain(v => v.What == "volume" && v.Label == "volume of the part");
        GaugeDrafting.Offered(rebuilder.Gauge(TwoHoles), ["e"]).ShouldContain(v => v.What == "centre-x");
        GaugeDrafting.Offered(rebuilder.Gauge(TwoHoles), ["e", "world/y"]).Single(v => v.What == "wall").Shown.ShouldBe("7 mm");
    }
}
