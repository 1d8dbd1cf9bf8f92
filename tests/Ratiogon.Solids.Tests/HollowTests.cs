using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Hollow bodies whose walls are thicker than the roundings that they lie behind.</summary>
public sealed class HollowTests : BuildTest
{
    private BodyResult Built(params PartCommand[] commands) => Built(Parts.Of(commands)).Bodies.Single();

    [Theory]
    [InlineData(2, 3, false)]
    [InlineData(4, 4, false)]
    [InlineData(2, 5, true)]
    [InlineData(5, 3, false)]
    public void Behind_a_rounding_that_is_thinner_than_the_wall_the_inside_is_sharp(double radius, double wall, bool closed)
    {
        var made = Built([
            .. Parts.Block(40, 30, 20),
            new AddStep(
                new FilletStep("round", 0, "", ["e/side/r.bottom^e/side/r.right", "e/side/r.left^e/side/r.top"]) { Radius = $"{radius} mm" }
            ),
            new AddStep(
                new ShellStep("k", 0, "", closed ? [] : ["e/end"])
                {
                    Closed = closed,
                    Body = "e",
                    Thickness = $"{wall} mm",
                }
            ),
        ]);
        var outside = ((40 * 30) - (2 * (1 - (Math.PI / 4)) * radius * radius)) * 20;
        var inside =
            ((40 - (2 * wall)) * (30 - (2 * wall))) - (radius > wall ? 2 * (1 - (Math.PI / 4)) * (radius - wall) * (radius - wall) : 0);
        made.Mass.Volume.ShouldBe(outside - (inside * (20 - (closed ? 2 * wall : wall))), 1e-6 * outside);
        made.Names.Faces.ShouldContain("k/inner/(e/side/r.left)");
        made.Names.Faces.ShouldContain("e/side/r.left");
    }

    [Fact]
    public void A_box_rounded_all_round_is_hollowed_by_more_than_its_rounding()
    {
        var made = Built([
            .. Parts.Block(40, 30, 20),
            new AddStep(
                new FilletStep(
                    "round",
                    0,
                    "",
                    [
                        "e/end",
                        "e/side/r.left^e/side/r.top",
                        "e/side/r.bottom^e/side/r.left",
                        "e/side/r.right^e/side/r.top",
                        "e/side/r.bottom^e/side/r.right",
                    ]
                )
                {
                    Radius = "2 mm",
                }
            ),
            new AddStep(new ShellStep("k", 0, "", ["e/start"]) { Thickness = "3 mm" }),
        ]);
        var whole = Built([
            .. Parts.Block(40, 30, 20),
            new AddStep(
                new FilletStep(
                    "round",
                    0,
                    "",
                    [
                        "e/end",
                        "e/side/r.left^e/side/r.top",
                        "e/side/r.bottom^e/side/r.left",
                        "e/side/r.right^e/side/r.top",
                        "e/side/r.bottom^e/side/r.right",
                    ]
                )
                {
                    Radius = "2 mm",
                }
            ),
        ]).Mass.Volume;
        made.Mass.Volume.ShouldBe(whole - (34 * 24 * 17), 1e-6 * whole);
    }

    [Fact]
    public void Outside_a_hollow_corner_that_is_rounded_less_than_the_wall_the_outside_is_sharp()
    {
        var angle = new SketchEdit
        {
            Add =
            [
                .. new Vec2[] { new(0, 0), new(40, 0), new(40, 15), new(15, 15), new(15, 30), new(0, 30) }.Select(
                    (c, i) => (SketchEntity)new PointEntity($"p{i}", c)
                ),
                .. Enumerable.Range(0, 6).Select(i => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{(i + 1) % 6}")),
            ],
        };
        var made = Built([
            .. Parts.Sketched("s", World.Xy, angle),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "10 mm" }),
            new AddStep(new FilletStep("round", 0, "", ["e/side/l2^e/side/l3"]) { Radius = "2 mm" }),
            new AddStep(new ShellStep("k", 0, "", ["e/end", "e/start"]) { Thickness = "3 mm", Outwards = true }),
        ]);
        var inside = (40 * 15) + (15 * 15) + ((1 - (Math.PI / 4)) * 4);
        made.Mass.Volume.ShouldBe(((46 * 21) + (21 * 15) - inside) * 10, 1e-3);
    }

    private static SketchEdit Loose(params Vec2[] corners) =>
        new()
        {
            Add =
            [
                .. corners.Select((c, i) => (SketchEntity)new PointEntity($"p{i}", c)),
                .. corners.Select((_, i) => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{(i + 1) % corners.Length}")),
            ],
        };

    [Fact]
    public void A_leg_too_thin_for_two_walls_is_left_full_and_the_rest_is_hollowed()
    {
        var made = Built([
            .. Parts.Sketched("s", World.Xy, Loose(new(0, 0), new(40, 0), new(40, 10), new(12, 10), new(12, 30), new(0, 30))),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "20 mm" }),
            new AddStep(new ShellStep("k", 0, "", ["e/end"]) { Thickness = "5.5 mm" }),
        ]);
        made.Mass.Volume.ShouldBe((((40 * 10) + (12 * 20)) * 20) - (1 * 19 * 14.5), 1e-6);
        made.Names.Faces.Where(f => f.StartsWith("k/", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .ShouldBe(["k/inner/(e/side/l0)", "k/inner/(e/side/l3)", "k/inner/(e/side/l4)", "k/inner/(e/side/l5)", "k/inner/(e/start)"]);
    }

    [Fact]
    public void An_opening_that_a_rounding_runs_into_smoothly_leaves_the_wall_square_there()
    {
        var made = Built([
            .. Parts.Block(40, 30, 20),
            new AddStep(new FilletStep("round", 0, "", ["e/side/r.right^e/side/r.top"]) { Radius = "6 mm" }),
            new AddStep(new ShellStep("k", 0, "", ["e/side/r.right"]) { Thickness = "2 mm" }),
        ]);
        var whole = ((40 * 30) - (36 * (1 - (Math.PI / 4)))) * 20;
        made.Mass.Volume.ShouldBe(whole - (((32 * 26) + (6 * 22) + (4 * Math.PI)) * 16), 1e-6 * whole);
    }

    [Fact]
    public void The_inside_of_a_cone_ends_at_its_axis()
    {
        var made = Built([
            .. Parts.Sketched("s", World.Xy, Loose(new(0, 0), new(12, 0), new(1, 20), new(0, 20))),
            new AddStep(new RevolveStep("e", 0, "", "s", "world/y") { Operation = FormOperation.Body }),
            new AddStep(
                new ShellStep("k", 0, "", [])
                {
                    Closed = true,
                    Body = "e",
                    Thickness = "4 mm",
                }
            ),
        ]);
        const double lean = 11.0 / 20;
        var foot = 12 - (4 * lean) - (4 * Math.Sqrt(1 + (lean * lean)));
        made.Mass.Volume.ShouldBe((Math.PI * 20 / 3 * (144 + 12 + 1)) - (Math.PI / 3 * foot * foot * foot / lean), 1e-4);
    }

    [Fact]
    public void The_wall_round_the_tip_of_a_hole_may_reach_the_wall_opposite()
    {
        var made = Built([
            .. Parts.Block(30, 30, 20),
            .. Parts.Sketched("h", World.Xy, Parts.Circle("c", 0, 0, 1)),
            new AddStep(
                new HoleStep("b", 0, "", ["h/c"])
                {
                    Diameter = "8 mm",
                    Depth = "14 mm",
                    Flip = true,
                    Bodies = ["e"],
                }
            ),
            new AddStep(new ShellStep("k", 0, "", ["e/side/r.right"]) { Thickness = "2 mm" }),
        ]);
        var tan = Math.Tan(59 * Math.PI / 180);
        var whole = (30 * 30 * 20) - (Math.PI * 16 * 14) - (Math.PI / 3 * 64 / tan);

        // From the mouth: the wall of the hole, then its tip, up to the wall at the other end.
        var tip = 14 + (4 / tan) + (2 / Math.Sin(59 * Math.PI / 180));
        var kink = tip - (6 / tan);
        var round = (Math.PI * 36 * (kink - 2)) + (Math.PI / 3 * tan * tan * (Math.Pow(tip - kink, 3) - Math.Pow(tip - 18, 3)));
        tip.ShouldBeGreaterThan(18);
        made.Mass.Volume.ShouldBe(whole - ((28 * 26 * 16) - round), 1e-3);
    }

    [Fact]
    public void A_wall_of_a_hollow_body_is_made_hollow_itself()
    {
        var made = Built([
            .. Parts.Block(40, 40, 40),
            new AddStep(
                new ShellStep("h", 0, "", [])
                {
                    Closed = true,
                    Body = "e",
                    Thickness = "2 mm",
                }
            ),
            new AddStep(
                new ShellStep("k", 0, "", [])
                {
                    Closed = true,
                    Body = "e",
                    Thickness = "0.5 mm",
                }
            ),
        ]);
        made.Mass.Volume.ShouldBe((40 * 40 * 40) - (36 * 36 * 36) - ((39 * 39 * 39) - (37 * 37 * 37)), 1e-6);
    }

    [Theory]
    [InlineData("A wall of 16 mm does not fit", "About 14.9 mm is the thickest that fits")]
    public void A_wall_that_does_not_fit_is_refused_with_the_thickest_that_does(string first, string most)
    {
        var refused = Refused([.. Parts.Block(40, 30, 20), new AddStep(new ShellStep("k", 0, "", ["e/end"]) { Thickness = "16 mm" })]);
        refused.ShouldContain(first);
        refused.ShouldContain(most);
    }

    [Fact]
    public void Bevels_and_leans_that_do_not_fit_are_refused_with_the_largest_that_do()
    {
        Refused([.. Parts.Block(40, 30, 20), new AddStep(new ChamferStep("k", 0, "", ["e/end"]) { Size = "16 mm" })])
            .ShouldContain("About 14.9 mm is the largest that fits all 4.");
        Refused([
                .. Parts.Block(40, 30, 20),
                new AddStep(
                    new ChamferStep("k", 0, "", ["e/end"])
                    {
                        How = ChamferHow.TwoSizes,
                        Size = "5 mm",
                        Second = "25 mm",
                    }
                ),
            ])
            .ShouldContain("is the largest of its kind that fits all 4.");
        Refused([
                .. Parts.Block(40, 30, 20),
                new AddStep(new DraftStep("k", 0, "", ["e/side/r.left", "e/side/r.right"], "e/start") { Angle = "50 deg", Flip = true }),
            ])
            .ShouldContain("is the most that they can.");
    }

    private string Refused(params PartCommand[] commands) => Tried(Parts.Of(commands)).Steps[^1].Message;

    /// <summary>A wall exactly as thick as there is room leaves nothing hollow: refused for every outline, not built in silence for
    /// some.</summary>
    [Theory]
    [InlineData(6, 6)]
    [InlineData(6, 6.00000001)]
    [InlineData(0.75, 0.75)]
    [InlineData(33.3, 33.3)]
    public void A_floor_as_thick_as_the_body_is_refused(double height, double thickness)
    {
        for (var w = 40; w <= 130; w += 10)
        {
            for (var h = 35; h <= 75; h += 20)
            {
                var part = Parts.Of([
                    .. Parts.Block(w * height / 6, h * height / 6, height),
                    new AddStep(new ShellStep("x", 0, "", ["e/end"]) { Thickness = $"{thickness:R} mm" }),
                ]);
                using var own = new Rebuilder(new NativeKernel());
                own.Rebuild(part, withMesh: false).Step("x")!.State.ShouldBe(StepState.Failed, $"{w} x {h}");
            }
        }
    }
}
