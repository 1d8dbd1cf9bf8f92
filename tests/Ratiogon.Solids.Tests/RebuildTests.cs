using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Solids.Tests;

public sealed class RebuildTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private static Part Build(params PartCommand[] commands) => Parts.Of(commands);

    private static SketchEdit Rectangle(double w, double h, Vec2 centre = default)
    {
        var edit = ShapeCatalog
            .RectangleByCentre("r", centre, centre + new Vec2(w / 2, h / 2))
            .With(ShapeCatalog.Placed("r", "r.centre", centre));
        return edit with { Size = [.. edit.Size, ShapeCatalog.Width("r", $"{w} mm"), ShapeCatalog.Height("r", $"{h} mm")] };
    }

    private static SketchEdit Circle(string id, double x, double y, double r) =>
        new() { Add = [new PointEntity(id + "c", new Vec2(x, y)), new CircleEntity(id, id + "c", r)] };

    private static Part Block(params PartCommand[] more) =>
        Build([
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Rectangle(80, 50)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" }),
            .. more,
        ]);

    private BodyResult Body(Part part)
    {
        var result = rebuilder.Rebuild(part);
        result.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
        return result.Bodies.Single();
    }

    [Fact]
    public void The_motor_plate_has_the_volume_worked_out_by_hand()
    {
        Body(MotorPlate.Build()).Mass.Volume.ShouldBe(MotorPlate.VolumeByHand(), MotorPlate.VolumeByHand() * 1e-9);
        var wide = new SetParameter("plate_w", "120 mm").Apply(MotorPlate.Build()).Value;
        Body(wide).Mass.Volume.ShouldBe(MotorPlate.VolumeByHand(w: 120), MotorPlate.VolumeByHand() * 1e-9);
    }

    [Theory]
    [InlineData(ExtrudeExtent.Length, false, 0, 12)]
    [InlineData(ExtrudeExtent.Length, true, -12, 0)]
    [InlineData(ExtrudeExtent.Symmetric, false, -6, 6)]
    public void Extrudes_go_where_they_are_told(ExtrudeExtent extent, bool flip, double low, double high)
    {
        var body = Body(new ReplaceStep(
                new ExtrudeStep("e", 0, "e", "s")
                {
                    Length = "12 mm",
                    Extent = extent,
                    Flip = flip,
                }
            ).Apply(Block()).Value);
        body.Mass.Volume.ShouldBe(48000, 1e-6);
        body.Bounds.Low.Z.ShouldBe(low, 1e-6);
        body.Bounds.High.Z.ShouldBe(high, 1e-6);
        var end = body.Topology.Faces[body.Names.FindFace("e/end")];
        end.Centre.Z.ShouldBe(flip ? low : high, 1e-6, "the end is the far one");
        end.Plane!.Value.Z.Z.ShouldBe(flip ? -1 : 1, 1e-9, "normals look out of the material");
    }

    [Theory]
    [InlineData(World.Xy, 0, 0, 12)]
    [InlineData(World.Yz, 12, 0, 0)]
    [InlineData(World.Xz, 0, -12, 0)]
    public void World_planes_look_along_their_axes(string plane, double x, double y, double z)
    {
        var part = Build(
            new AddStep(new SketchStep("s", 0, "", plane, Sketch.Empty)),
            new EditSketch("s", Rectangle(80, 50)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" })
        );
        (Body(part).Mass.Centre * 2).DistanceTo(new Vec3(x, y, z)).ShouldBeLessThan(1e-6);
    }

    [Fact]
    public void Faces_edges_and_vertices_have_names_of_their_own()
    {
        var names = Body(MotorPlate.Build()).Names;
        names.Faces.ShouldBeUnique();
        names.Edges.ShouldBeUnique();
        names.Vertices.ShouldBeUnique();
        names.Faces.ShouldContain("plate/side/frame.left");
        names.Faces.ShouldContain("slotting/side/upper.bottom");
        names.Faces.ShouldContain("collar/end");
        names.Edges.ShouldContain("plate/side/frame.left^plate/start");
    }

    [Fact]
    public void A_cut_that_splits_a_face_tells_the_pieces_apart_by_their_neighbours()
    {
        // A slot across the whole block parts the top into two.
        var part = Block(
            new AddStep(new SketchStep("c", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("c", Rectangle(10, 70)),
            new AddStep(
                new ExtrudeStep("cut", 0, "", "c")
                {
                    Length = "5 mm",
                    Flip = true,
                    Operation = FormOperation.Cut,
                }
            )
        );
        var body = Body(part);
        body.Mass.Volume.ShouldBe(48000 - (10 * 50 * 5), 1e-6);
        var pieces = body.Names.Faces.Where(n => n.StartsWith("e/end[", StringComparison.Ordinal)).ToList();
        pieces.Count.ShouldBe(2);
        pieces.ShouldContain(p => p.Contains("s/r.left", StringComparison.Ordinal) || p.Contains("r.left", StringComparison.Ordinal));

        // The same names after a change of size, on the same sides.
        var wide = Body(new SetSize("s", "r.width", "120").Apply(part).Value);
        foreach (var piece in pieces)
        {
            var (before, after) = (body.Topology.Faces[body.Names.FindFace(piece)], wide.Topology.Faces[wide.Names.FindFace(piece)]);
            Math.Sign(after.Centre.X).ShouldBe(Math.Sign(before.Centre.X));
        }
    }

    [Fact]
    public void Names_stay_on_the_same_thing_through_random_changes()
    {
        var random = new Random(7);
        var part = MotorPlate.Build();
        var seen = Body(part).Names.Faces.ToHashSet();
        for (var i = 0; i < 12; i++)
        {
            var changed = new SetParameter("plate_w", $"{80 + (50 * random.NextDouble()):0.###} mm")
                .Apply(part)
                .Then(p => new SetParameter("bore", $"{14 + (10 * random.NextDouble()):0.###} mm").Apply(p))
                .Then(p => new SetParameter("travel", $"{6 + (14 * random.NextDouble()):0.###} mm").Apply(p))
                .Value;
            var body = Body(changed);
            body.Names.Faces.ToHashSet().ShouldBe(seen, ignoreOrder: true);

            // Witnesses by geometry, not by name.
            double At(string p) => changed.Values.Of(p).Value.Value;
            body.Topology.Faces[body.Names.FindFace("plate/side/frame.right")].Centre.X.ShouldBe(At("plate_w") / 2, 1e-6);
            body.Topology.Faces[body.Names.FindFace("slotting/side/upper.bottom")].Centre.Y.ShouldBe(32 - 9 - 2.75, 1e-6);
            body.Topology.Faces[body.Names.FindFace("collar/end")].Centre.Z.ShouldBe(10, 1e-6);
            var rim = body.Topology.Edges[body.Names.Find("collar/end^collar/side/outer.rim")!.Value.Index];
            rim.Radius.ShouldBe((At("bore") + 10) / 2, 1e-6);
        }
    }

    [Fact]
    public void A_lost_face_makes_its_step_fail_with_candidates_and_the_rest_wait()
    {
        var part = Block(
            new AddStep(new SketchStep("c", 0, "", "e/end", Sketch.Empty)),
            new EditSketch("c", Circle("k", 0, 0, 5)),
            new AddStep(new ExtrudeStep("boss", 0, "", "c") { Length = "5 mm" }),
            new AddStep(new SketchStep("on", 0, "", "boss/end", Sketch.Empty)),
            new EditSketch("on", Circle("k", 0, 0, 2)),
            new AddStep(new ExtrudeStep("pin", 0, "", "on") { Length = "5 mm" })
        );
        Body(part).Mass.Volume.ShouldBe(48000 + (125 * Math.PI) + (20 * Math.PI), 1e-6);
        var lost = new SuppressStep("boss", true).Apply(part).Value;
        var result = rebuilder.Rebuild(lost);
        result.Step("on")!.State.ShouldBe(StepState.Waiting);
        result.Step("pin")!.State.ShouldBe(StepState.Waiting);
        result.Bodies.Single().Mass.Volume.ShouldBe(48000, 1e-6);

        var renamed = part.With(((SketchStep)part.Find("on")!) with { On = "boss/side/gone" });
        var failed = rebuilder.Rebuild(renamed).Step("on")!;
        failed.State.ShouldBe(StepState.Failed);
        failed.LostName.ShouldBe("boss/side/gone");
        failed.Lost.ShouldContain("boss/side/k");
    }

    [Fact]
    public void A_sketch_cannot_lie_on_a_curved_face()
    {
        var part = Build(
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Circle("k", 0, 0, 5)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "9 mm" }),
            new AddStep(new SketchStep("on", 0, "", "e/side/k", Sketch.Empty))
        );
        rebuilder.Rebuild(part).Step("on")!.Message.ShouldContain("cylinder, not a plane");
    }

    [Fact]
    public void Cuts_that_meet_nothing_or_leave_nothing_say_so()
    {
        PartCommand[] Cut(double x, double size, string length) =>
            [
                new AddStep(new SketchStep("c", 0, "", "e/end", Sketch.Empty)),
                new EditSketch("c", Circle("k", x, 0, size)),
                new AddStep(
                    new ExtrudeStep("cut", 0, "", "c")
                    {
                        Length = length,
                        Operation = FormOperation.Cut,
                        Extent = length == "all" ? ExtrudeExtent.ThroughAll : ExtrudeExtent.Length,
                    } with
                    {
                        Length = length == "all" ? "1 mm" : length,
                    }
                ),
            ];
        var missed = rebuilder.Rebuild(Block(Cut(70, 10, "5 mm")));
        missed.Step("cut")!.State.ShouldBe(StepState.Failed);
        missed.Step("cut")!.Message.ShouldContain("20 mm away");
        missed.Bodies.Single().Mass.Volume.ShouldBe(48000, 1e-6);
        rebuilder.Rebuild(Block(Cut(0, 200, "all"))).Step("cut")!.Message.ShouldContain("nothing of the body");
    }

    [Fact]
    public void An_open_outline_says_where_the_gap_is()
    {
        var part = Build(
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch(
                "s",
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("a", Vec2.Zero),
                        new PointEntity("b", new Vec2(9, 0)),
                        new PointEntity("c", new Vec2(9, 9)),
                        new LineEntity("m", "a", "b"),
                        new LineEntity("n", "b", "c"),
                    ],
                }
            ),
            new AddStep(new ExtrudeStep("e", 0, "", "s"))
        );
        rebuilder.Rebuild(part).Step("e")!.Message.ShouldContain("closes no region");
    }

    [Fact]
    public void Chosen_regions_alone_are_extruded_and_touching_ones_grow_together()
    {
        var draw = Circle("a", 0, 0, 10).With(Circle("b", 12, 0, 10));
        Part With(params string[] keys) =>
            Build(
                new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
                new EditSketch("s", draw),
                new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "2 mm", Regions = [.. keys] })
            );
        var half = Math.Acos(0.6);
        var lens = 2 * ((100 * half) - (60 * Math.Sin(half)));
        Body(With("+a +b")).Mass.Volume.ShouldBe(2 * lens, 1e-6);
        Body(With("+a +b", "+a -b")).Mass.Volume.ShouldBe(200 * Math.PI, 1e-6);
        Body(With()).Topology.Faces.Length.ShouldBe(4, "two round sides and two caps, no wall inside");
    }

    [Fact]
    public void Only_what_changed_is_built_again()
    {
        var counting = CountingKernel.About(new NativeKernel());
        using var own = new Rebuilder((ISolidKernel)counting);
        var part = MotorPlate.Build();
        own.Rebuild(part);
        var all = counting.Calls("Prism");
        own.Rebuild(new RenameStep("plate", "Base").Apply(part).Value);
        counting.Calls("Prism").ShouldBe(all);
        own.Rebuild(new SetSize("slots", "upper.travel", "13 mm").Apply(part).Value);
        counting.Calls("Prism").ShouldBe(all + 1);
    }

    [Fact]
    public void Readings_follow_the_model()
    {
        var part = Block(
            new AddStep(new ReadingStep("v", 0, "", "volume", [])),
            new AddStep(new ReadingStep("a", 0, "", "area", [])),
            new AddStep(new ReadingStep("m", 0, "", "mass", [])),
            new AddStep(new ReadingStep("f", 0, "", "face-area", ["e/end"])),
            new AddStep(new ReadingStep("l", 0, "", "edge-length", ["e/end^e/side/r.top"])),
            new AddStep(new ReadingStep("d", 0, "", "distance", ["e/side/r.left", "e/side/r.right"])),
            new AddStep(new ReadingStep("gone", 0, "", "face-area", ["e/side/none"]))
        );
        var result = rebuilder.Rebuild(part);
        double Read(string id) => result.Step(id)!.Reading!.Value;
        Read("v").ShouldBe(48000, 1e-6);
        Read("a").ShouldBe(2 * ((80 * 50) + (80 * 12) + (50 * 12)), 1e-6);
        Read("m").ShouldBe(48 * 2.7, 1e-6);
        Read("f").ShouldBe(4000, 1e-6);
        Read("l").ShouldBe(80, 1e-6);
        Read("d").ShouldBe(80, 1e-6);
        result.Step("gone")!.Message.ShouldContain("is gone from the body");
    }

    [Fact]
    public void A_plane_at_a_distance_carries_a_sketch()
    {
        var part = Block(
            new AddStep(PlaneStep.Offset("p", 0, "", "e/end", "8 mm")),
            new AddStep(new SketchStep("c", 0, "", "p", Sketch.Empty)),
            new EditSketch("c", Circle("k", 0, 0, 5)),
            new AddStep(new ExtrudeStep("up", 0, "", "c") { Length = "8 mm", Flip = true })
        );
        Body(part).Mass.Volume.ShouldBe(48000 + (200 * Math.PI), 1e-6);
        rebuilder.Rebuild(new SuppressStep("p", true).Apply(part).Value).Step("up")!.State.ShouldBe(StepState.Waiting);
    }

    [Fact]
    public void The_stop_line_leaves_the_rest_unbuilt()
    {
        var result = rebuilder.Rebuild(new SetStopLine(20).Apply(MotorPlate.Build()).Value);
        result.Steps.Count(s => s.State == StepState.Left).ShouldBe(10);
        result.Bodies.Single().Mass.Volume.ShouldBe((90 * 64 * 6) - (121 * Math.PI * 6), 1e-6);
    }

    [Fact]
    public void Meshes_are_closed_and_know_their_faces()
    {
        var mesh = Body(MotorPlate.Build()).Mesh!;
        var triangles = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, uint>(mesh.Triangles);
        triangles.Length.ShouldBe(3 * mesh.FaceTriangles.Sum());
        mesh.FaceTriangles.ShouldAllBe(n => n > 0);
        var positions = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(mesh.Positions).ToArray();
        Vec3 Corner(uint i) => new(positions[3 * i], positions[(3 * i) + 1], positions[(3 * i) + 2]);
        var volume = 0.0;
        for (var t = 0; t < triangles.Length; t += 3)
        {
            volume += Corner(triangles[t]).Dot(Corner(triangles[t + 1]).Cross(Corner(triangles[t + 2]))) / 6;
        }

        volume.ShouldBe(MotorPlate.VolumeByHand(), MotorPlate.VolumeByHand() * 0.002);
    }
}
