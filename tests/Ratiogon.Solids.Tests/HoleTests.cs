using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Holes against closed forms, and what they say of the material.</summary>
public sealed class HoleTests : IDisposable
{
    private readonly CountingKernel counting = CountingKernel.About(new NativeKernel());
    private readonly Rebuilder rebuilder;

    public HoleTests() => rebuilder = new Rebuilder((ISolidKernel)counting);

    public void Dispose() => rebuilder.Dispose();

    /// <summary>A block 80 x 50 x 12 with a sketch on its top that has two free points and a circle.</summary>
    private static PartCommand[] Drilled(HoleStep hole) =>
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("c", 0, "", "e/end", Sketch.Empty)),
            new EditSketch(
                "c",
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("p", new Vec2(-20, 5)),
                        new PointEntity("q", new Vec2(20, -5)),
                        new PointEntity("m", new Vec2(0, 10)),
                        new CircleEntity("o", "m", 3),
                    ],
                }
            ),
            new AddStep(hole),
        ];

    private (double Taken, StepResult Step, BodyResult Body) Take(params PartCommand[] commands)
    {
        var result = rebuilder.Rebuild(Parts.Of(commands));
        result.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
        var body = result.Bodies.Single();
        return ((80 * 50 * 12) - body.Mass.Volume, result.Steps[^1], body);
    }

    private string Refused(params PartCommand[] commands)
    {
        var last = rebuilder.Rebuild(Parts.Of(commands)).Steps[^1];
        last.State.ShouldBe(StepState.Failed);
        return last.Message;
    }

    private static double Bore(double d, double depth) => Math.PI * d * d / 4 * depth;

    private static double Cone(double d, double angle) => Math.PI * d * d / 12 * (d / 2 / Math.Tan(angle / 2 * Math.PI / 180));

    /// <summary>What two circles share.</summary>
    private static double Lens(double r, double s, double apart)
    {
        var (a, b) = (
            Math.Acos(((apart * apart) + (r * r) - (s * s)) / (2 * apart * r)),
            Math.Acos(((apart * apart) + (s * s) - (r * r)) / (2 * apart * s))
        );
        return (r * r * (a - (Math.Sin(2 * a) / 2))) + (s * s * (b - (Math.Sin(2 * b) / 2)));
    }

    /// <summary>A boss stands on the block, or under it, where it covers a part of a hole about <c>c/p</c>.</summary>
    private static PartCommand[] Beside(HoleStep hole, string face, double way) =>
        [
            .. Drilled(hole)[..^1],
            .. Parts.Sketched("bs", face, Parts.Circle("c", -20 + 12, 5 * way, 10)),
            new AddStep(new ExtrudeStep("boss", 0, "", "bs") { Length = "10 mm" }),
            new AddStep(hole),
        ];

    [Fact]
    public void What_stands_beside_the_start_of_a_hole_is_left_or_cleared_as_a_whole()
    {
        var boss = Math.PI * 100 * 10;
        var hole = new HoleStep("h", 0, "", ["c/p"]) { Diameter = "8 mm", Depth = "6 mm" };
        var below = Bore(8, 6) + Cone(8, 118);
        Take(Beside(hole, "e/end", 1)).Taken.ShouldBe(below - boss, 1e-6);
        Take(Beside(hole with { Clear = true }, "e/end", 1)).Taken.ShouldBe(below + (Lens(4, 10, 12) * 10) - boss, 1e-5);
        var sunk = hole with { Head = HoleHead.Counterbore, HeadDiameter = "14 mm", HeadDepth = "3 mm" };
        Take(Beside(sunk, "e/end", 1)).Taken.ShouldBe(Bore(14, 3) + Bore(8, 3) + Cone(8, 118) - boss, 1e-6);
    }

    [Fact]
    public void Through_goes_through_what_stands_beside_the_end_too()
    {
        var hole = new HoleStep("h", 0, "", ["c/p"]) { Diameter = "8 mm", Extent = HoleExtent.Through };
        var way = rebuilder.Rebuild(Parts.Of(Beside(hole, "e/start", 1)));
        var foot = way.Bodies.Single().Names.Faces.Contains("boss/end") ? 1 : 0;
        foot.ShouldBe(1);
        // The sketch under the block is seen from below: one of the two ways round puts the boss beside the hole.
        var taken = new[] { 1, -1 }.Select(w => Take(Beside(hole, "e/start", w)).Taken + (Math.PI * 100 * 10) - Bore(8, 12)).ToList();
        taken.ShouldContain(t => Math.Abs(t - (Lens(4, 10, 12) * 10)) < 1e-5, string.Join(" ", taken));
        taken.ShouldAllBe(t => Math.Abs(t - (Lens(4, 10, 12) * 10)) < 1e-5 || Math.Abs(t) < 1e-5);
    }

    [Fact]
    public void From_inside_a_pipe_its_wall_opens_whole()
    {
        PartCommand[] pipe =
        [
            .. Parts.Sketched("s", World.Xy, Parts.Circle("o", 0, 0, 20).With(Parts.Circle("i", 0, 0, 10))),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "40 mm" }),
            Parts.Point("p", new Vec3(0, 0, 20)),
            new AddStep(
                new HoleStep("h", 0, "", ["p"])
                {
                    Along = "world/x",
                    Diameter = "12 mm",
                    Extent = HoleExtent.Through,
                }
            ),
        ];
        var result = rebuilder.Rebuild(Parts.Of(pipe));
        result.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
        const int n = 200000;
        var expected =
            Enumerable
                .Range(0, n)
                .Select(i => -6 * Math.Cos((i + 0.5) / n * Math.PI))
                .Select(y => 2 * Math.Sqrt(36 - (y * y)) * (Math.Sqrt(400 - (y * y)) - Math.Sqrt(100 - (y * y))) * Math.Sqrt(36 - (y * y)))
                .Sum()
            * Math.PI
            / n;
        ((Math.PI * 300 * 40) - result.Bodies.Single().Mass.Volume).ShouldBe(expected, 1e-4);
    }

    [Fact]
    public void A_copy_of_a_through_hole_goes_through_thicker_material()
    {
        PartCommand[] step =
        [
            .. Parts.Block(80, 50, 12),
            .. Parts.Sketched("t", World.Xy, Parts.Rectangle(40, 50, new Vec2(20, 0))),
            new AddStep(new ExtrudeStep("foot", 0, "", "t") { Length = "18 mm", Flip = true }),
            .. Parts.Sketched("c", "e/end", Parts.Circle("o", -20, 0, 3)),
            new AddStep(new HoleStep("h", 0, "", ["c/o"]) { Diameter = "6 mm", Extent = HoleExtent.Through }),
            new AddStep(
                new PatternStep("k", 0, "", ["h"])
                {
                    Along = "world/x",
                    Count = "2",
                    Spacing = "40 mm",
                }
            ),
        ];
        var result = rebuilder.Rebuild(Parts.Of(step));
        result.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
        result.Bodies.Single().Mass.Volume.ShouldBe((80 * 50 * 12) + (40 * 50 * 18) - Bore(6, 12) - Bore(6, 30), 1e-6);
    }

    [Fact]
    public void Blind_through_counterbored_and_countersunk()
    {
        var blind = Take(Drilled(new HoleStep("h", 0, "", ["c/p", "c/o"]) { Diameter = "5 mm", Depth = "6 mm" }));
        blind.Taken.ShouldBe(2 * (Bore(5, 6) + Cone(5, 118)), 1e-6);
        blind.Body.Names.Faces.ShouldContain("h/wall/(c/p)");
        blind.Body.Names.Faces.ShouldContain("h/point/(c/o)");
        Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Diameter = "5 mm",
                    Depth = "6 mm",
                    Point = "180 deg",
                }
            )
        )
            .Taken.ShouldBe(Bore(5, 6), 1e-6);
        Take(Drilled(new HoleStep("h", 0, "", ["c/p"]) { Extent = HoleExtent.Through })).Taken.ShouldBe(Bore(5, 12), 1e-6);
        Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Extent = HoleExtent.Through,
                    Head = HoleHead.Counterbore,
                    HeadDiameter = "10 mm",
                    HeadDepth = "4 mm",
                }
            )
        )
            .Taken.ShouldBe(Bore(10, 4) + Bore(5, 8), 1e-6);
        Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Extent = HoleExtent.Through,
                    Head = HoleHead.Countersink,
                    HeadDiameter = "9 mm",
                    HeadAngle = "90 deg",
                }
            )
        )
            .Taken.ShouldBe((Math.PI / 3 * 2 * ((4.5 * 4.5) + (4.5 * 2.5) + (2.5 * 2.5))) + Bore(5, 10), 1e-6);
    }

    [Fact]
    public void Threads_and_clearances_come_from_the_tables()
    {
        var tapped = Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Sizing = HoleSizing.Tapped,
                    Thread = "M6",
                    Extent = HoleExtent.Through,
                }
            )
        );
        tapped.Taken.ShouldBe(Bore(5, 12), 1e-6);
        tapped.Step.Holes.Single().Size.ShouldBe("M6");
        Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Sizing = HoleSizing.Clearance,
                    Thread = "M6",
                    Fit = ClearanceFit.Medium,
                    Extent = HoleExtent.Through,
                }
            )
        )
            .Taken.ShouldBe(Bore(6.6, 12), 1e-6);
        Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Sizing = HoleSizing.Tapped,
                    Thread = "M8x1",
                    Extent = HoleExtent.Through,
                }
            )
        )
            .Taken.ShouldBe(Bore(7, 12), 1e-6);
        Refused(
                Drilled(
                    new HoleStep("h", 0, "", ["c/p"])
                    {
                        Sizing = HoleSizing.Tapped,
                        Thread = "M6",
                        Depth = "8 mm",
                        ThreadDepth = "9 mm",
                    }
                )
            )
            .ShouldContain("deeper than the hole");
    }

    [Fact]
    public void Depth_counts_from_the_first_material_or_from_the_point()
    {
        // The point lies 5 above the block, and 4 inside it.
        PartCommand[] Over(double z, HoleStep hole) =>
            [.. Parts.Block(80, 50, 12), Parts.Point("d", new Vec3(10, 5, z)), new AddStep(hole)];
        var step = new HoleStep("h", 0, "", ["d"])
        {
            Along = "e/end",
            Depth = "6 mm",
            Point = "180 deg",
        };
        Take(Over(17, step)).Taken.ShouldBe(Bore(5, 6), 1e-6);
        Take(Over(17, step with { From = HoleFrom.Point })).Taken.ShouldBe(Bore(5, 1), 1e-6);
        Take(Over(8, step)).Taken.ShouldBe(Bore(5, 6), 1e-6);
        var buried = Take(Over(8, step with { From = HoleFrom.Point }));
        buried.Taken.ShouldBe(Bore(5, 6), 1e-6);
        buried.Step.Message.ShouldContain("4 mm of stock is left above the start");
        Take(Over(8, step with { From = HoleFrom.Point, Clear = true })).Taken.ShouldBe(Bore(5, 10), 1e-6);
    }

    [Fact]
    public void Holes_go_along_a_slanted_line_and_say_so()
    {
        // Through the block at 30 degrees to the square: an oblique cylinder of the same thickness.
        PartCommand[] slanted =
        [
            .. Parts.Block(80, 50, 12),
            Parts.Line("way", new Vec3(0, 0, 12), new Vec3(12 * Math.Tan(Math.PI / 6), 0, 0)),
            new AddStep(new HoleStep("h", 0, "", ["way_a"]) { Along = "way", Extent = HoleExtent.Through }),
        ];
        var taken = Take(slanted);
        taken.Taken.ShouldBe(Bore(5, 12) / Math.Cos(Math.PI / 6), 1e-5);
        taken.Step.Message.ShouldContain("enters at 30 deg");
        taken.Step.Message.ShouldContain("leaves at 30 deg");
        var stretch = taken.Step.Holes.Single().Stretches.Single();
        (stretch.To - stretch.From).ShouldBe(12 / Math.Cos(Math.PI / 6), 1e-6);
        stretch.FaceIn.ShouldBe("e/end");
    }

    [Fact]
    public void Holes_that_miss_say_where_the_material_is()
    {
        PartCommand[] missed =
        [
            .. Parts.Block(80, 50, 12),
            Parts.Point("d", new Vec3(60, 5, 20)),
            new AddStep(new HoleStep("h", 0, "", ["d"]) { Along = "world/z", Flip = true }),
        ];
        Refused(missed).ShouldContain("20 mm beside the nearest");
        PartCommand[] behind =
        [
            .. Parts.Block(80, 50, 12),
            Parts.Point("d", new Vec3(0, 5, 20)),
            new AddStep(new HoleStep("h", 0, "", ["d"]) { Along = "world/z" }),
        ];
        Refused(behind).ShouldContain("it lies 8 mm behind");
        Refused(Drilled(new HoleStep("h", 0, "", ["c/p"]) { Extent = HoleExtent.To, To = "e/side/r.left" }))
            .ShouldContain("runs along the hole");
        Take(
            Drilled(
                new HoleStep("h", 0, "", ["c/p"])
                {
                    Extent = HoleExtent.To,
                    To = "e/start",
                    Point = "180 deg",
                }
            )
        )
            .Taken.ShouldBe(Bore(5, 12), 1e-6);
        Take(Drilled(new HoleStep("h", 0, "", ["c/p"]) { Depth = "11 mm" })).Step.Message.ShouldContain("breaks out by 0.502 mm");
    }

    [Fact]
    public void Many_equal_holes_are_drilled_without_a_boolean_and_give_the_same_body()
    {
        PartCommand[] Grid(string diameter) =>
            [
                .. Drilled(new HoleStep("h", 0, "", ["c/p"]) { Diameter = diameter, Extent = HoleExtent.Through }),
                new AddStep(
                    new PatternStep("g", 0, "", ["h"])
                    {
                        Along = "world/x",
                        Spacing = "6 mm",
                        Count = "7",
                        Across = "world/y",
                        Rows = "3",
                        RowSpacing = "-6 mm",
                    }
                ),
            ];
        var before = counting.Calls("Cut");
        var straight = Take(Grid("4 mm"));
        counting.Calls("Cut").ShouldBe(before);
        straight.Taken.ShouldBe(21 * Bore(4, 12), 1e-5);

        // Holes that run into each other go the general way; names are the same either way.
        var touching = Take(Grid("6.2 mm"));
        counting.Calls("Cut").ShouldBeGreaterThan(before);
        touching.Taken.ShouldBeLessThan(21 * Bore(6.2, 12));
        straight.Body.Names.Faces.Where(n => n.StartsWith("g/", StringComparison.Ordinal)).Count().ShouldBe(20);
        straight.Body.Names.Faces.ShouldContain("g/7-3/h/wall/(c/p)");
        touching.Body.Names.Faces.Select(n => n.Split('[')[0]).ShouldContain("g/7-3/h/wall/(c/p)");
        straight.Step.Holes.Length.ShouldBe(20);
    }
}
