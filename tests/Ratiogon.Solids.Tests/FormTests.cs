using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Every form against closed forms.</summary>
public sealed class FormTests : IDisposable
{
    private const double Tight = 1e-6;
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private RebuildResult Built(params PartCommand[] commands)
    {
        var part = Parts.Of(commands);
        var result = rebuilder.Rebuild(part);
        result.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty();
        return result;
    }

    private double Volume(params PartCommand[] commands) => Built(commands).Bodies.Sum(b => b.Mass.Volume);

    private string Refused(params PartCommand[] commands)
    {
        var result = rebuilder.Rebuild(Parts.Of(commands));
        var last = result.Steps[^1];
        last.State.ShouldBe(StepState.Failed);
        return last.Message;
    }

    private static void Near(double value, double expected) => value.ShouldBe(expected, Math.Abs(expected) * Tight);

    [Fact]
    public void Extrudes_of_two_lengths_start_where_they_are_told()
    {
        var body = Built([
            .. Parts.Plate(80, 50),
            new AddStep(
                new ExtrudeStep("e", 0, "", "s")
                {
                    Extent = ExtrudeExtent.TwoLengths,
                    Length = "12 mm",
                    Second = "3 mm",
                    Start = "5 mm",
                }
            ),
        ])
            .Bodies.Single();
        Near(body.Mass.Volume, 80 * 50 * 15);
        (body.Bounds.Low.Z, body.Bounds.High.Z).ShouldBe((2, 17));
    }

    [Fact]
    public void Extrudes_go_along_a_slanted_line()
    {
        // Sheared by 3 in 4: volume is the base times the height.
        var body = Built([
            .. Parts.Plate(80, 50),
            Parts.Line("way", new Vec3(0, 0, 0), new Vec3(30, 0, 40)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "50 mm", Along = "way" }),
        ])
            .Bodies.Single();
        Near(body.Mass.Volume, 80 * 50 * 40);
        body.Bounds.High.X.ShouldBe(70, 1e-6);
    }

    [Fact]
    public void Extrudes_lean_with_a_draft()
    {
        // A frustum of a pyramid: sides lean in by t.
        var t = 20 * Math.Tan(5 * Math.PI / 180);
        var (w, h) = (80 - (2 * t), 50 - (2 * t));
        Near(
            Volume([.. Parts.Plate(80, 50), new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "20 mm", Draft = "5 deg" })]),
            20.0 / 6 * ((80 * 50) + (w * h) + ((80 + w) * (50 + h)))
        );
    }

    [Theory]
    [InlineData(WallSide.Inside, 80 * 50 - 76 * 46)]
    [InlineData(WallSide.Outside, 84 * 54 - 80 * 50)]
    [InlineData(WallSide.Both, 82 * 52 - 78 * 48)]
    public void Extrudes_stand_as_thin_walls(WallSide side, double area) =>
        Near(
            Volume([
                .. Parts.Plate(80, 50),
                new AddStep(
                    new ExtrudeStep("e", 0, "", "s")
                    {
                        Length = "12 mm",
                        Wall = side,
                        Thickness = "2 mm",
                    }
                ),
            ]),
            area * 12
        );

    [Fact]
    public void Extrudes_go_to_a_tilted_plane_and_to_a_curved_face()
    {
        // To a plane through x = -40 at z = 10, rising with x: a wedge.
        PartCommand[] plane =
        [
            Parts.Line("slope", Vec3.Zero, new Vec3(10, 0, 10)),
            new AddStep(
                new PlaneStep(
                    "tilt",
                    0,
                    "",
                    [new DatumCondition("through-line", ["world/y"]), new DatumCondition("through-line", ["slope"])]
                )
            ),
        ];
        PartCommand[] wedge =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Rectangle(20, 50, new Vec2(30, 0))),
        ];
        Near(
            Volume([.. wedge, .. plane, new AddStep(new ExtrudeStep("e", 0, "", "s") { Extent = ExtrudeExtent.To, To = "tilt" })]),
            20 * 50 * 30
        );

        // From below against a lying cylinder of radius 20 about the y axis at z = 50: a column of 10 x 30.
        PartCommand[] lying =
        [
            new AddStep(new SketchStep("c", 0, "", World.Xz, Sketch.Empty)),
            new EditSketch("c", Parts.Circle("c", 0, 50, 20)),
            new AddStep(new ExtrudeStep("bar", 0, "", "c") { Length = "80 mm", Extent = ExtrudeExtent.Symmetric }),
        ];
        PartCommand[] column =
        [
            .. lying,
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Rectangle(10, 30, Vec2.Zero)),
        ];
        var between = (10 * 50) - (20 * 20 * Math.Asin(5 / 20.0)) - (5 * Math.Sqrt(400 - 25));
        Near(
            Volume([.. column, new AddStep(new ExtrudeStep("e", 0, "", "s") { Extent = ExtrudeExtent.To, To = "bar/side/c" })]),
            (Math.PI * 400 * 80) + (between * 30)
        );
        Near(
            Volume([.. column, new AddStep(new ExtrudeStep("e", 0, "", "s") { Extent = ExtrudeExtent.ToNext })]),
            (Math.PI * 400 * 80) + (between * 30)
        );
        Refused([.. column, new AddStep(new ExtrudeStep("e", 0, "", "s") { Extent = ExtrudeExtent.ToNext, Flip = true })])
            .ShouldContain("No material lies that way");
        Refused([
                .. lying,
                new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
                new EditSketch("s", Parts.Rectangle(60, 30, Vec2.Zero)),
                new AddStep(new ExtrudeStep("e", 0, "", "s") { Extent = ExtrudeExtent.To, To = "bar/side/c" }),
            ])
            .ShouldContain("does not cover the whole profile");
    }

    /// <summary>Blocks that overlap anyhow: what all of them share is a block, whatever their number and order.</summary>
    [Theory]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(5)]
    public void What_several_bodies_share_is_what_lies_in_all_of_them(int count)
    {
        for (var seed = 0; seed < 12; seed++)
        {
            var random = new Random((100 * count) + seed);
            var blocks = Enumerable
                .Range(0, count)
                .Select(i =>
                    (
                        Name: $"b{i}",
                        W: random.Next(8, 40),
                        H: random.Next(8, 40),
                        X: random.Next(-6, 7),
                        Y: random.Next(-6, 7),
                        T: random.Next(2, 20)
                    )
                )
                .ToList();
            PartCommand[] made =
            [
                .. blocks.SelectMany(b =>
                    Parts
                        .Sketched($"s{b.Name}", World.Xy, Parts.Rectangle(b.W, b.H, new Vec2(b.X, b.Y)))
                        .Append(
                            new AddStep(
                                new ExtrudeStep(b.Name, 0, "", $"s{b.Name}") { Length = $"{b.T} mm", Operation = FormOperation.Body }
                            )
                        )
                ),
            ];
            var order = blocks.Select(b => b.Name).OrderBy(_ => random.Next()).ToList();
            var (dx, dy) = (Shared(b => b.X, b => b.W), Shared(b => b.Y, b => b.H));
            double Shared(
                Func<(string Name, int W, int H, int X, int Y, int T), double> middle,
                Func<(string Name, int W, int H, int X, int Y, int T), double> size
            ) => Math.Max(0, blocks.Min(b => middle(b) + (size(b) / 2)) - blocks.Max(b => middle(b) - (size(b) / 2)));
            PartCommand combine = new AddStep(
                new CombineStep("k", 0, "", order[0], [.. order.Skip(1)]) { Operation = FormOperation.Intersect }
            );
            if (dx * dy == 0)
            {
                Refused([.. made, combine]).ShouldBe("The bodies do not all overlap: nothing would be left.");
            }
            else
            {
                Near(Volume([.. made, combine]), dx * dy * blocks.Min(b => b.T));
            }
        }
    }

    /// <summary>A block whose upper edge a notch divides in two: the name it had means both pieces.</summary>
    private static PartCommand[] Notched() =>
        [
            .. Parts.Block(90, 40, 20),
            .. Parts.Sketched("n", World.Xy, Parts.Rectangle(30, 20, new Vec2(0, 20))),
            new AddStep(new ExtrudeStep("cut", 0, "", "n") { Length = "20 mm", Operation = FormOperation.Cut }),
        ];

    [Fact]
    public void A_set_takes_every_piece_of_what_was_divided()
    {
        var whole = (90 * 40 * 20) - (30 * 10 * 20);
        Near(Volume([.. Notched(), new AddStep(new ChamferStep("f", 0, "", ["e/end^e/side/r.top"]) { Size = "2 mm" })]), whole - (60 * 2));
        // Both pieces of the side that the notch divides lean.
        Near(
            Volume([.. Notched(), new AddStep(new ShellStep("h", 0, "", ["e/side/r.top"]) { Thickness = "2 mm" })]),
            Volume([.. Notched(), new AddStep(new ShellStep("h", 0, "", [.. Pieces("e/side/r.top")]) { Thickness = "2 mm" })])
        );
    }

    private string[] Pieces(string face) =>
        [.. Built(Notched()).Bodies[0].Names.Faces.Where(f => f.StartsWith(face, StringComparison.Ordinal))];

    [Fact]
    public void One_thing_of_several_pieces_is_their_plane_and_else_refused_with_them()
    {
        Pieces("e/side/r.top").Length.ShouldBe(2);
        Built([
            .. Notched(),
            new AddStep(new PlaneStep("p", 0, "", [new DatumCondition("offset", ["e/side/r.top"]) { Values = ["5 mm"] }])),
        ])
            .Steps[^1]
            .State.ShouldBe(StepState.Built);
        Refused([.. Notched(), new AddStep(new ReadingStep("a", 0, "", "face-area", ["e/side/r.top"]))])
            .ShouldContain("is in 2 pieces now");
        Refused([.. Notched(), new AddStep(new ReadingStep("a", 0, "", "edge-length", ["e/end^e/side/r.top"]))])
            .ShouldContain("is in 2 pieces now");
    }

    [Theory]
    [InlineData(ExtrudeExtent.Symmetric, 10.0, 10.0)]
    [InlineData(ExtrudeExtent.TwoLengths, 20.0, 8.0)]
    public void Draft_leans_from_the_sketch_plane_both_ways(ExtrudeExtent extent, double ahead, double behind)
    {
        double Half(double height)
        {
            var t = height * Math.Tan(5 * Math.PI / 180);
            return height / 6 * ((80 * 50) + ((80 - (2 * t)) * (50 - (2 * t))) + ((160 - (2 * t)) * (100 - (2 * t))));
        }

        var built = Built([
            .. Parts.Plate(80, 50),
            new AddStep(
                new ExtrudeStep("e", 0, "", "s")
                {
                    Length = "20 mm",
                    Second = "8 mm",
                    Extent = extent,
                    Draft = "5 deg",
                }
            ),
        ]);
        Near(built.Bodies.Sum(b => b.Mass.Volume), Half(ahead) + Half(behind));
        built.Bodies[0].Bounds.Low.Z.ShouldBe(-behind, 1e-9);
        built
            .Bodies[0]
            .Names.Faces.Order()
            .ShouldBe([
                "e/back/r.bottom",
                "e/back/r.left",
                "e/back/r.right",
                "e/back/r.top",
                "e/end",
                "e/side/r.bottom",
                "e/side/r.left",
                "e/side/r.right",
                "e/side/r.top",
                "e/start",
            ]);
    }

    [Fact]
    public void Draft_goes_up_to_a_plane()
    {
        var t = 20 * Math.Tan(5 * Math.PI / 180);
        var (w, h) = (80 - (2 * t), 50 - (2 * t));
        Near(
            Volume([
                .. Parts.Plate(80, 50),
                new AddStep(new PlaneStep("lid", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["20 mm"] }])),
                new AddStep(
                    new ExtrudeStep("e", 0, "", "s")
                    {
                        Extent = ExtrudeExtent.To,
                        To = "lid",
                        Draft = "5 deg",
                    }
                ),
            ]),
            20.0 / 6 * ((80 * 50) + (w * h) + ((80 + w) * (50 + h)))
        );
    }

    /// <summary>A block of 40 bevelled all round a picked face by 2 on it and 6 beside it, whatever that face is called.</summary>
    [Theory]
    [InlineData("e/end")]
    [InlineData("e/start")]
    [InlineData("e/side/r.left")]
    [InlineData("e/side/r.top")]
    public void The_first_size_of_a_bevel_lies_on_the_picked_face(string face)
    {
        // What is left above the lowest cut is a frustum.
        Near(
            Volume([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ChamferStep("c", 0, "", [face])
                    {
                        How = ChamferHow.TwoSizes,
                        Size = "2 mm",
                        Second = "6 mm",
                    }
                ),
            ]),
            (40 * 40 * 34) + (6.0 / 6 * ((40 * 40) + (36 * 36) + (4 * 38 * 38)))
        );
        Near(
            Volume([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ChamferStep("c", 0, "", [face])
                    {
                        How = ChamferHow.TwoSizes,
                        Size = "2 mm",
                        Second = "6 mm",
                        Flip = true,
                    }
                ),
            ]),
            (40 * 40 * 38) + (2.0 / 6 * ((40 * 40) + (28 * 28) + (4 * 34 * 34)))
        );
    }

    [Fact]
    public void Edges_of_a_bevel_are_turned_one_by_one()
    {
        double TopAfter(params string[] turned) =>
            Built([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ChamferStep("c", 0, "", ["e/end^e/side/r.left", "e/end^e/side/r.right"])
                    {
                        How = ChamferHow.TwoSizes,
                        Size = "2 mm",
                        Second = "6 mm",
                        Turned = [.. turned],
                    }
                ),
            ]).Bodies[0]
                is var b
                ? b.Topology.Faces[b.Names.FindFace("e/end")].Area
                : 0;
        TopAfter().ShouldBe(36 * 40, 1e-6);
        TopAfter("e/end^e/side/r.right").ShouldBe(32 * 40, 1e-6);
        TopAfter("e/end^e/side/r.right", "e/end^e/side/r.left").ShouldBe(28 * 40, 1e-6);
        Refused([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ChamferStep("c", 0, "", ["e/end^e/side/r.left"])
                    {
                        How = ChamferHow.TwoSizes,
                        Size = "2 mm",
                        Second = "6 mm",
                        Turned = ["e/end^e/side/r.top"],
                    }
                ),
            ])
            .ShouldContain("Only edges that are bevelled");
    }

    [Fact]
    public void A_body_is_made_hollow_without_an_opening()
    {
        Near(
            Volume([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ShellStep("h", 0, "", [])
                    {
                        Closed = true,
                        Body = "e",
                        Thickness = "2 mm",
                    }
                ),
            ]),
            (40 * 40 * 40) - (36 * 36 * 36)
        );
        Near(
            Volume([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ShellStep("h", 0, "", [])
                    {
                        Closed = true,
                        Body = "e",
                        Thickness = "2 mm",
                        Outwards = true,
                    }
                ),
            ]),
            (44 * 44 * 44) - (40 * 40 * 40)
        );
        PartCommand[] bar =
        [
            .. Parts.Sketched("s", World.Xy, Parts.Circle("c", 0, 0, 20)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "30 mm" }),
        ];
        var hollow = Built([
            .. bar,
            new AddStep(
                new ShellStep("h", 0, "", [])
                {
                    Closed = true,
                    Body = "e",
                    Thickness = "3 mm",
                }
            ),
        ])
            .Bodies.Single();
        Near(hollow.Mass.Volume, Math.PI * ((400 * 30) - (17 * 17 * 24)));
        hollow.Names.Faces.Order().ShouldBe(["e/end", "e/side/c", "e/start", "h/inner/(e/end)", "h/inner/(e/side/c)", "h/inner/(e/start)"]);
        Refused([
                .. Parts.Block(40, 40, 40),
                new AddStep(
                    new ShellStep("h", 0, "", [])
                    {
                        Closed = true,
                        Body = "e",
                        Thickness = "21 mm",
                    }
                ),
            ])
            .ShouldContain("does not fit");
        Refused([
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
                    new ShellStep("again", 0, "", [])
                    {
                        Closed = true,
                        Body = "e",
                        Thickness = "1 mm",
                    }
                ),
            ])
            .ShouldContain("does not fit");
    }

    [Fact]
    public void A_cube_rounded_beyond_its_half_says_what_fits()
    {
        Refused([.. Parts.Block(40, 40, 40), new AddStep(new FilletStep("f", 0, "", ["e/end", "e/start"]) { Radius = "20.2 mm" })])
            .ShouldContain("is the largest that fits");
        Near(
            Volume([
                .. Parts.Block(40, 40, 40),
                new AddStep(new FilletStep("f", 0, "", ["e/side/r.left^e/side/r.top"]) { Radius = "20.2 mm" }),
            ]),
            (40 * 40 * 40) - (40 * 20.2 * 20.2 * (1 - (Math.PI / 4)))
        );
    }

    [Fact]
    public void Forms_cut_intersect_and_stand_alone()
    {
        PartCommand[] two =
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("s2", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s2", Parts.Rectangle(20, 20, Vec2.Zero)),
        ];
        ExtrudeStep Second(FormOperation operation) => new("f", 0, "", "s2") { Length = "6 mm", Operation = operation };
        Near(Volume([.. two, new AddStep(Second(FormOperation.Cut))]), (80 * 50 * 12) - (20 * 20 * 6));
        Near(Volume([.. two, new AddStep(Second(FormOperation.Intersect))]), 20 * 20 * 6);
        var alone = Built([.. two, new AddStep(Second(FormOperation.Body))]);
        alone.Bodies.Length.ShouldBe(2);
        Near(
            Volume([
                .. two,
                new AddStep(Second(FormOperation.Body)),
                new AddStep(new CombineStep("k", 0, "", "e", ["f"]) { Operation = FormOperation.Cut }),
            ]),
            (80 * 50 * 12) - (20 * 20 * 6)
        );
        Near(
            Volume([
                .. two,
                new AddStep(Second(FormOperation.Body)),
                new AddStep(new CombineStep("k", 0, "", "e", ["f"]) { Operation = FormOperation.Intersect, Keep = true }),
            ]),
            2 * 20 * 20 * 6
        );
    }

    [Fact]
    public void Revolves_turn_all_round_and_by_angles()
    {
        // A rectangle 10 x 20 whose middle is 30 from the axis: Pappus.
        PartCommand[] off =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xz, Sketch.Empty)),
            new EditSketch("s", Parts.Rectangle(10, 20, new Vec2(30, 0))),
        ];
        Near(Volume([.. off, new AddStep(new RevolveStep("r", 0, "", "s", "world/z"))]), 2 * Math.PI * 30 * 200);
        Near(
            Volume([.. off, new AddStep(new RevolveStep("r", 0, "", "s", "world/z") { Extent = RevolveExtent.Angle, Angle = "90 deg" })]),
            Math.PI / 2 * 30 * 200
        );
        var both = Built([
            .. off,
            new AddStep(
                new RevolveStep("r", 0, "", "s", "world/z")
                {
                    Extent = RevolveExtent.TwoAngles,
                    Angle = "60 deg",
                    Second = "30 deg",
                }
            ),
        ])
            .Bodies.Single();
        Near(both.Mass.Volume, Math.PI / 2 * 30 * 200);
        var flipped = Built([
            .. off,
            new AddStep(
                new RevolveStep("r", 0, "", "s", "world/z")
                {
                    Extent = RevolveExtent.Angle,
                    Angle = "90 deg",
                    Flip = true,
                }
            ),
        ])
            .Bodies.Single();
        (flipped.Mass.Centre.X > 0 && flipped.Mass.Centre.Y < 0).ShouldBeTrue();
        Refused([.. off, new AddStep(new RevolveStep("r", 0, "", "s", "world/y"))]).ShouldContain("leaves the sketch plane");
        var crossing = Refused([
            new AddStep(new SketchStep("s", 0, "", World.Xz, Sketch.Empty)),
            new EditSketch("s", Parts.Rectangle(10, 20, new Vec2(3, 0))),
            new AddStep(new RevolveStep("r", 0, "", "s", "world/z")),
        ]);
        crossing.ShouldContain("2 mm over it");
    }

    [Fact]
    public void Sweeps_follow_their_path()
    {
        // A quarter bend of radius 40 between two straights of 30.
        PartCommand[] path = [new AddStep(new SketchStep("p", 0, "", World.Xy, Sketch.Empty)), new EditSketch("p", Parts.Bend(30, 40))];
        var length = 60 + (Math.PI / 2 * 40);
        Near(
            Volume([
                .. path,
                new AddStep(new SweepStep("w", 0, "", ["p/a", "p/bend", "p/b"]) { Profile = SweepProfile.Round, Diameter = "10 mm" }),
            ]),
            Math.PI * 25 * length
        );
        Near(
            Volume([
                .. path,
                new AddStep(
                    new SweepStep("w", 0, "", ["p/a", "p/bend", "p/b"])
                    {
                        Profile = SweepProfile.Round,
                        Diameter = "10 mm",
                        Bore = "6 mm",
                    }
                ),
            ]),
            Math.PI * 16 * length
        );
        PartCommand[] square =
        [
            .. path,
            new AddStep(new SketchStep("s", 0, "", World.Yz, Sketch.Empty)),
            new EditSketch("s", Parts.Rectangle(8, 6, Vec2.Zero)),
        ];
        Near(Volume([.. square, new AddStep(new SweepStep("w", 0, "", ["p/a", "p/bend", "p/b"]) { Sketch = "s" })]), 48 * length);
        Near(
            Volume([
                .. square,
                new AddStep(
                    new SweepStep("w", 0, "", ["p/a"])
                    {
                        Sketch = "s",
                        Keep = SweepKeep.Twist,
                        Twist = "90 deg",
                    }
                ),
            ]),
            48 * 30
        );
        Refused([
                .. path,
                new AddStep(new SweepStep("w", 0, "", ["p/a", "p/bend", "p/b"]) { Profile = SweepProfile.Round, Diameter = "100 mm" }),
            ])
            .ShouldContain("its radius there is 40 mm, and the profile reaches 50 mm inwards");
        Refused([
                .. path,
                new EditSketch("p", new SketchEdit { Add = [new PointEntity("q", new Vec2(60, 30)), new LineEntity("k", "pb", "q")] }),
                new AddStep(new SweepStep("w", 0, "", ["p/a", "p/k"]) { Profile = SweepProfile.Round, Diameter = "4 mm" }),
            ])
            .ShouldContain("a kink of 45 deg");
    }

    [Fact]
    public void Lofts_go_through_profiles_and_to_a_point()
    {
        PartCommand[] two =
        [
            new AddStep(new SketchStep("a", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("a", Parts.Rectangle(40, 40, Vec2.Zero)),
            new AddStep(new PlaneStep("up", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["30 mm"] }])),
            new AddStep(new SketchStep("b", 0, "", "up", Sketch.Empty)),
            new EditSketch("b", Parts.Rectangle(20, 20, Vec2.Zero)),
        ];
        Near(Volume([.. two, new AddStep(new LoftStep("l", 0, "", ["a", "b"]) { Straight = true })]), 30.0 / 3 * (1600 + 400 + 800));
        Near(
            Volume([
                .. two,
                new AddStep(new PointStep("tip", 0, "", [new DatumCondition("coordinates", []) { Values = ["0 mm", "0 mm", "60 mm"] }])),
                new AddStep(new LoftStep("l", 0, "", ["a", "tip"]) { Straight = true }),
            ]),
            1600 * 60 / 3.0
        );

        // Square on both ends the width goes as 40 - 20 (3 t² - 2 t³) over z(t), a cubic whose ends have the slope 3 k.
        var k = (30.0 / 3) + (Math.Sqrt(900 + 200) / 30);
        double Width(double t) => 40 - (20 * ((3 * t * t) - (2 * t * t * t)));
        double Rise(double t) => (3 * k * (1 - t) * (1 - t)) + (6 * (30 - (2 * k)) * t * (1 - t)) + (3 * k * t * t);
        var square = Enumerable.Range(0, 4000).Sum(i => (i + 0.5) / 4000 is var t ? Width(t) * Width(t) * Rise(t) : 0) / 4000;
        var body = Built([.. two, new AddStep(new LoftStep("l", 0, "", ["a", "b"]) { SquareFirst = true, SquareLast = true })])
            .Bodies.Single();
        Near(body.Mass.Volume, square);

        // Through a third profile like the first the width is even about the middle, and the rise a clamped cubic spline.
        PartCommand[] three =
        [
            .. two,
            new AddStep(new PlaneStep("top", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["60 mm"] }])),
            new AddStep(new SketchStep("c", 0, "", "top", Sketch.Empty)),
            new EditSketch("c", Parts.Rectangle(40, 40, Vec2.Zero)),
        ];
        var slope = (180 - (2 * 3 * k)) / 4;
        double RiseTo(double t) => (3 * k * (1 - t) * (1 - t)) + (6 * (30 - k - (slope / 3)) * t * (1 - t)) + (slope * t * t);
        var waist = 2 * Enumerable.Range(0, 4000).Sum(i => (i + 0.5) / 4000 is var t ? Width(t) * Width(t) * RiseTo(t) : 0) / 4000;
        Near(Volume([.. three, new AddStep(new LoftStep("l", 0, "", ["a", "b", "c"]) { SquareFirst = true, SquareLast = true })]), waist);
        Refused([
                .. two,
                new AddStep(new PointStep("tip", 0, "", [new DatumCondition("coordinates", []) { Values = ["0 mm", "0 mm", "60 mm"] }])),
                new AddStep(new LoftStep("l", 0, "", ["a", "tip"]) { SquareLast = true }),
            ])
            .ShouldContain("no plane to stand square on");
        body.Names.Faces.ShouldBe(
            ["l/end", "l/side/r.bottom", "l/side/r.left", "l/side/r.right", "l/side/r.top", "l/start"],
            ignoreOrder: true
        );
        Built([
            .. two[..3],
            new AddStep(new SketchStep("b", 0, "", "up", Sketch.Empty)),
            new EditSketch("b", Parts.Circle("o", 0, 0, 10)),
            new AddStep(new LoftStep("l", 0, "", ["a", "b"])),
        ])
            .Bodies.Single()
            .Names.Faces.Length.ShouldBe(6);
        PartCommand[] hollow = [.. two, new EditSketch("b", Parts.Circle("h", 0, 0, 5))];
        Refused([.. hollow, new AddStep(new LoftStep("l", 0, "", ["a", "b"]))])
            .ShouldContain("profile 1 has no holes, profile 2 has one hole");
    }

    [Fact]
    public void Copies_repeat_forms_and_bodies()
    {
        PartCommand[] boss =
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("c", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("c", Parts.Circle("c", 30, 15, 4)),
            new AddStep(new ExtrudeStep("boss", 0, "", "c") { Length = "6 mm" }),
        ];
        var one = Math.PI * 16 * 6;
        Near(Volume([.. boss, new AddStep(new MirrorStep("m", 0, "", ["boss"], World.Yz))]), (80 * 50 * 12) + (2 * one));
        Near(
            Volume([
                .. boss,
                new AddStep(
                    new PatternStep("p", 0, "", ["boss"])
                    {
                        Along = "world/x",
                        Spacing = "-20 mm",
                        Count = "4",
                    }
                ),
            ]),
            (80 * 50 * 12) + (4 * one)
        );
        Near(
            Volume([
                .. boss,
                new AddStep(
                    new PatternStep("p", 0, "", ["boss"])
                    {
                        Layout = PatternLayout.Circular,
                        Axis = "world/z",
                        Angle = "360 deg",
                        Count = "2",
                    }
                ),
            ]),
            (80 * 50 * 12) + (2 * one)
        );
        Near(
            Volume([
                .. boss,
                new AddStep(
                    new PatternStep("p", 0, "", ["boss"])
                    {
                        Along = "world/x",
                        Spacing = "-30 mm",
                        Count = "3",
                        Across = "world/y",
                        Rows = "2",
                        RowSpacing = "-30 mm",
                        Left = ["2-2"],
                    }
                ),
            ]),
            (80 * 50 * 12) + (5 * one)
        );
        Near(Volume([.. Parts.Block(80, 50, 12), new AddStep(new MirrorStep("m", 0, "", ["e"], "e/end"))]), 80 * 50 * 24);
        Built([
            .. Parts.Block(80, 50, 12),
            new AddStep(
                new PatternStep("p", 0, "", ["e"])
                {
                    Along = "world/z",
                    Spacing = "20 mm",
                    Count = "3",
                    Operation = FormOperation.Body,
                }
            ),
        ])
            .Bodies.Length.ShouldBe(1);
    }

    [Fact]
    public void Edges_are_rounded_and_bevelled()
    {
        const string Edge = "e/side/r.left^e/side/r.top";
        Near(
            Volume([.. Parts.Block(80, 50, 12), new AddStep(new FilletStep("f", 0, "", [Edge]) { Radius = "5 mm" })]),
            (80 * 50 * 12) - (25 * (1 - (Math.PI / 4)) * 12)
        );
        Near(
            Volume([.. Parts.Block(80, 50, 12), new AddStep(new ChamferStep("c", 0, "", [Edge]) { Size = "5 mm" })]),
            (80 * 50 * 12) - (12.5 * 12)
        );
        Near(
            Volume([
                .. Parts.Block(80, 50, 12),
                new AddStep(
                    new ChamferStep("c", 0, "", [Edge])
                    {
                        How = ChamferHow.TwoSizes,
                        Size = "5 mm",
                        Second = "2 mm",
                    }
                ),
            ]),
            (80 * 50 * 12) - (5 * 12)
        );
        var round = Built([.. Parts.Block(80, 50, 12), new AddStep(new FilletStep("f", 0, "", [Edge]) { Radius = "5 mm" })])
            .Bodies.Single();
        round.Names.Faces.ShouldContain($"f/round/(e/side/r.left~e/side/r.top)");
        var message = Refused([.. Parts.Block(80, 50, 12), new AddStep(new FilletStep("f", 0, "", ["e/end"]) { Radius = "30 mm" })]);
        message.ShouldContain("does not fit");
    }

    [Fact]
    public void Bodies_are_hollowed_tilted_and_divided()
    {
        Near(
            Volume([.. Parts.Block(80, 50, 12), new AddStep(new ShellStep("h", 0, "", ["e/end"]) { Thickness = "2 mm" })]),
            (80 * 50 * 12) - (76 * 46 * 10)
        );
        Near(
            Volume([.. Parts.Block(80, 50, 12), new AddStep(new DraftStep("d", 0, "", ["e/side/r.left"], World.Xy) { Angle = "10 deg" })]),
            (80 * 50 * 12) - (50 * 12 * 12 / 2.0 * Math.Tan(10 * Math.PI / 180))
        );
        var halves = Built([
            .. Parts.Block(80, 50, 12),
            new AddStep(new PlaneStep("x", 0, "", [new DatumCondition("offset", [World.Yz]) { Values = ["10 mm"] }])),
            new AddStep(new SplitStep("k", 0, "", "x")),
        ]);
        halves.Bodies.Select(b => Math.Round(b.Mass.Volume, 6)).ShouldBe([50 * 50 * 12, 30 * 50 * 12]);
        halves.Bodies.Select(b => b.Name).ShouldBe(["e", "k"]);
        halves.Bodies.SelectMany(b => b.Names.Faces).ShouldBeUnique();
        Refused([.. Parts.Block(80, 50, 12), new AddStep(new SplitStep("k", 0, "", "e/end"))]).ShouldContain("does not pass through");
        Refused([.. Parts.Block(80, 50, 12), new AddStep(new ShellStep("h", 0, "", ["e/end"]) { Thickness = "30 mm" })])
            .ShouldContain("does not fit");
    }

    [Fact]
    public void Inertia_of_a_block_and_of_a_bar()
    {
        var inertia = rebuilder.Inertias(Parts.Of(Parts.Block(80, 50, 12))).Single();
        var m = 80.0 * 50 * 12;
        Near(inertia.Xx, m * ((50 * 50) + (12 * 12)) / 12);
        Near(inertia.Yy, m * ((80 * 80) + (12 * 12)) / 12);
        Near(inertia.Zz, m * ((80 * 80) + (50 * 50)) / 12);
    }

    [Fact]
    public void Round_sides_that_lean_keep_their_names()
    {
        // A ring: its outer side leans inwards, its inner one outwards, both about the sketch plane.
        PartCommand[] ring =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("o", 0, 0, 20).With(Parts.Circle("i", 0, 0, 8))),
        ];
        var body = Built([.. ring, new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "10 mm", Draft = "5 deg" })]).Bodies.Single();
        body.Names.Faces.ShouldBe(["e/side/o", "e/side/i", "e/start", "e/end"], ignoreOrder: true);
        var lean = 10 * Math.Tan(5 * Math.PI / 180);
        double Frustum(double a, double b) => Math.PI * 10 / 3 * ((a * a) + (a * b) + (b * b));
        Near(body.Mass.Volume, Frustum(20, 20 - lean) - Frustum(8, 8 + lean));
        double Area(string name) => body.Topology.Faces[body.Names.Find(name)!.Value.Index].Area;
        Near(Area("e/side/o"), Math.PI * (40 - lean) * 10 / Math.Cos(5 * Math.PI / 180));
        Near(Area("e/side/i"), Math.PI * (16 + lean) * 10 / Math.Cos(5 * Math.PI / 180));

        // Leaned afterwards, as a step of its own.
        var later = Built([
            .. ring,
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "10 mm" }),
            new AddStep(new DraftStep("d", 0, "", ["e/side/i"], "e/start") { Angle = "5 deg" }),
        ])
            .Bodies.Single();
        later.Names.Faces.ShouldBe(["e/side/o", "e/side/i", "e/start", "e/end"], ignoreOrder: true);
        later.Topology.Faces[later.Names.Find("e/side/o")!.Value.Index].Area.ShouldBe(400 * Math.PI, 1e-6);
    }

    [Fact]
    public void Threads_are_cut_as_grooves()
    {
        // A trapezoid wound about an axis sweeps its area times the way of its centroid, the pitch left out.
        PartCommand[] pin =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("c", 0, 0, 5)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "30 mm" }),
        ];
        var cut = Built([
            .. pin,
            new AddStep(
                new ThreadStep("t", 0, "", "e/side/c")
                {
                    Thread = "M10",
                    Length = "12 mm",
                    Modelled = true,
                }
            ),
        ]);
        const double P = 1.5;
        var (deep, mouth, root) = (P * Math.Sqrt(3) / 2 * 5 / 8, P * 7 / 8, P / 4);
        var (area, centroid) = ((mouth + root) / 2 * deep, 5 - (deep / 3 * (mouth + (2 * root)) / (mouth + root)));
        double Swept(double turns) => area * 2 * Math.PI * centroid * turns;
        var taken = (Math.PI * 25 * 30) - cut.Bodies.Single().Mass.Volume;

        // It runs out at the open end, where what is left of the last turn is between nothing and all of it.
        taken.ShouldBeGreaterThan(Swept((12 - mouth) / P) * 0.995);
        taken.ShouldBeLessThan(Swept(12 / P));
        cut.Bodies.Single().Names.Faces.ShouldContain(f => f.StartsWith("t/root", StringComparison.Ordinal));
        cut.Bodies.Single().Names.Faces.ShouldContain(f => f.StartsWith("t/flank/1", StringComparison.Ordinal));
        cut.Step("t")!.Threads.ShouldBeEmpty();

        Refused([
                .. pin,
                new AddStep(
                    new ThreadStep("t", 0, "", "e/side/c")
                    {
                        Thread = "M10",
                        Length = "1 mm",
                        Modelled = true,
                    }
                ),
            ])
            .ShouldContain("leaves no room");
    }

    [Fact]
    public void Threads_are_cut_into_holes()
    {
        var bored = new AddStep(
            new HoleStep("h", 0, "", ["s/p"])
            {
                Sizing = HoleSizing.Tapped,
                Thread = "M8",
                Extent = HoleExtent.Through,
            }
        );
        PartCommand[] block =
        [
            .. Parts.Plate(40, 40),
            new EditSketch("s", new SketchEdit { Add = [new PointEntity("p", Vec2.Zero)] }),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "10 mm", Flip = true }),
            bored,
        ];
        var plain = Built(block).Bodies.Single();
        var wall = plain.Names.Faces.Single(f => f.StartsWith("h/", StringComparison.Ordinal));
        var cut = Built([.. block, new AddStep(new ThreadStep("t", 0, "", wall) { Thread = "M8", Modelled = true })]).Bodies.Single();

        // Open at both ends: whole turns over the length of the hole, and no material above the major diameter touched.
        const double P = 1.25;
        var (r, major) = (3.4, 4.0);
        double At(double radius) => (P / 8) + ((major - radius) * 2 * Math.Tan(Math.PI / 6));
        var (mouth, root, deep) = (At(r), P / 8, major - r);
        var (area, centroid) = ((mouth + root) / 2 * deep, r + (deep / 3 * (mouth + (2 * root)) / (mouth + root)));
        (plain.Mass.Volume - cut.Mass.Volume).ShouldBe(area * 2 * Math.PI * centroid * 10 / P, 0.25);
    }

    [Fact]
    public void Open_outlines_become_thin_walls()
    {
        // A straight of 20, a quarter bend of radius 10 to the left, a straight of 20; a wall of 2.
        PartCommand[] bend = [new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)), new EditSketch("s", Parts.Bend(20, 10))];
        double Wall(WallSide side) =>
            Volume([
                .. bend,
                new AddStep(
                    new ExtrudeStep("e", 0, "", "s")
                    {
                        Length = "5 mm",
                        Wall = side,
                        Thickness = "2 mm",
                    }
                ),
            ]);
        double Ring(double inner, double outer) => Math.PI * ((outer * outer) - (inner * inner)) / 4;
        Near(Wall(WallSide.Inside), ((2 * 40) + Ring(8, 10)) * 5);
        Near(Wall(WallSide.Outside), ((2 * 40) + Ring(10, 12)) * 5);
        Near(Wall(WallSide.Both), ((2 * 40) + Ring(9, 11)) * 5);
        var faces = Built([
            .. bend,
            new AddStep(
                new ExtrudeStep("e", 0, "", "s")
                {
                    Length = "5 mm",
                    Wall = WallSide.Both,
                    Thickness = "2 mm",
                }
            ),
        ])
            .Bodies.Single()
            .Names.Faces;
        foreach (var name in new[] { "e/side/a", "e/side/a.back", "e/side/bend", "e/side/bend.back", "e/side/tip1", "e/side/tip2" })
        {
            faces.ShouldContain(name);
        }

        Refused([
                .. bend,
                new AddStep(
                    new ExtrudeStep("e", 0, "", "s")
                    {
                        Length = "5 mm",
                        Wall = WallSide.Inside,
                        Thickness = "11 mm",
                    }
                ),
            ])
            .ShouldContain("radius of 10 mm");
        Refused([.. bend, new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "5 mm" })]).ShouldContain("closes no region");
    }

    [Fact]
    public void Open_walls_turn_square_corners()
    {
        SketchEdit corner = new()
        {
            Add =
            [
                new PointEntity("a", new Vec2(0, 0)),
                new PointEntity("b", new Vec2(30, 0)),
                new PointEntity("c", new Vec2(30, 20)),
                new LineEntity("u", "a", "b"),
                new LineEntity("v", "b", "c"),
            ],
        };
        Near(
            Volume([
                new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
                new EditSketch("s", corner),
                new AddStep(
                    new ExtrudeStep("e", 0, "", "s")
                    {
                        Length = "5 mm",
                        Wall = WallSide.Outside,
                        Thickness = "2 mm",
                    }
                ),
            ]),
            ((32 * 2) + (20 * 2)) * 5
        );
    }

    /// <summary>A block of 80 x 50 x 12 with a pocket of 10 x 6 x 4 near its corner.</summary>
    private static PartCommand[] Pocketed =>
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("q", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("q", Parts.Rectangle(10, 6, new Vec2(-25, 10))),
            new AddStep(
                new ExtrudeStep("k", 0, "", "q")
                {
                    Length = "4 mm",
                    Flip = true,
                    Operation = FormOperation.Cut,
                }
            ),
        ];

    private static readonly Refs PocketFaces = ["k/side/r.left", "k/side/r.right", "k/side/r.top", "k/side/r.bottom", "k/end"];

    [Fact]
    public void Faces_of_a_pocket_are_mirrored_and_patterned()
    {
        Near(
            Volume([.. Pocketed, new AddStep(new MirrorStep("m", 0, "", [], World.Yz) { Single = true, Faces = PocketFaces })]),
            (80 * 50 * 12) - (2 * 240)
        );
        var row = Built([
            .. Pocketed,
            new AddStep(
                new PatternStep("m", 0, "", [])
                {
                    Single = true,
                    Faces = PocketFaces,
                    Along = "world/x",
                    Count = "4",
                    Spacing = "15 mm",
                }
            ),
        ])
            .Bodies.Single();
        Near(row.Mass.Volume, (80 * 50 * 12) - (4 * 240));
        row.Names.Faces.ShouldContain("m/3/k/end");
    }

    [Fact]
    public void Faces_of_a_boss_and_of_a_bore_are_repeated()
    {
        PartCommand[] boss =
        [
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("q", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("q", Parts.Circle("c", -20, 0, 5)),
            new AddStep(new ExtrudeStep("k", 0, "", "q") { Length = "7 mm" }),
        ];
        Near(
            Volume([.. boss, new AddStep(new MirrorStep("m", 0, "", [], World.Yz) { Single = true, Faces = ["k/side/c", "k/end"] })]),
            (80 * 50 * 12) + (2 * Math.PI * 25 * 7)
        );
        PartCommand[] bore =
        [
            .. boss[..^1],
            new AddStep(new ExtrudeStep("k", 0, "", "q") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
        ];
        Near(
            Volume([
                .. bore,
                new AddStep(
                    new PatternStep("m", 0, "", [])
                    {
                        Single = true,
                        Faces = ["k/side/c"],
                        Layout = PatternLayout.Circular,
                        Axis = "world/z",
                        Count = "2",
                    }
                ),
            ]),
            (80 * 50 * 12) - (2 * Math.PI * 25 * 12)
        );
    }

    [Fact]
    public void Faces_that_enclose_nothing_are_not_repeated()
    {
        Refused([.. Pocketed, new AddStep(new MirrorStep("m", 0, "", [], World.Yz) { Single = true, Faces = ["k/side/r.left"] })])
            .ShouldContain("runs over several faces");
    }

    [Fact]
    public void Threads_are_drawn_where_they_fit()
    {
        PartCommand[] pin =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("c", 0, 0, 5)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" }),
        ];
        var drawn = Built([.. pin, new AddStep(new ThreadStep("t", 0, "", "e/side/c") { Thread = "M10", Length = "8 mm" })]);
        Near(drawn.Bodies.Single().Mass.Volume, Math.PI * 25 * 12);
        drawn.Step("t")!.Threads.Single().Length.ShouldBe(8);
        Refused([.. pin, new AddStep(new ThreadStep("t", 0, "", "e/side/c") { Thread = "M6" })])
            .ShouldContain("M6 wants a shaft of 6 mm; this one has 10 mm");
        Refused([.. pin, new AddStep(new ThreadStep("t", 0, "", "e/side/c") { Thread = "M10", Length = "13 mm" })])
            .ShouldContain("longer than its face");
        Refused([.. pin, new AddStep(new ThreadStep("t", 0, "", "e/end") { Thread = "M10" })]).ShouldContain("is no cylinder");
    }
}
