using System.Collections.Immutable;
using System.Text;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Exchange;
using Ratiogon.Solids;
using Shouldly;
using Xunit;

namespace Ratiogon.Exchange.Tests;

/// <summary>Triangles as references: what they were cut from is found again, and measured as it is.</summary>
public sealed class ReferenceTests : IDisposable
{
    private readonly NativeKernel kernel = new();
    private readonly Rebuilder rebuilder;

    public ReferenceTests() => rebuilder = new Rebuilder(kernel);

    public static TheoryData<string> Demos => [.. DemoParts.All.Select(p => p.File)];

    public void Dispose() => rebuilder.Dispose();

    [Theory]
    [MemberData(nameof(Demos))]
    public void Planes_cylinders_and_spheres_of_a_part_are_found_in_its_triangles(string demo)
    {
        var part = DemoParts.All.Single(p => p.File == demo).Build();
        var exact = rebuilder.Gauge(part).Bodies;
        var stl = Exporter.Write(rebuilder.Gauge(part), "stl", new ExportOptions()).Value;
        var reference = new ReferenceBody("mesh1", "k", MeshFile.Read("a.stl", stl).Value.Mesh);
        List<Surface> Known(string kind) =>
            [.. exact.SelectMany(b => b.Topology.Faces).Where(f => f.Surface == kind).Select(f => ShapeNumbers.SurfaceOf(f)!)];
        List<Surface> Seen(string kind) =>
            [.. reference.Topology.Faces.Where(f => f.Surface == kind).Select(f => ShapeNumbers.SurfaceOf(f)!)];
        // A pipe that a sweep goes over into is cut together with it, and a sweep may be straight between two cuts.
        var swept = demo is "hose-guide" or "spout";
        foreach (var tube in Known("cylinder").Cast<CylinderSurface>().Where(_ => !swept))
        {
            Seen("cylinder")
                .Cast<CylinderSurface>()
                .ShouldContain(
                    t => Same(t, tube),
                    $"a cylinder of radius {tube.Radius} about {tube.Axis.Origin} along {tube.Axis.Direction}"
                );
        }

        foreach (var flat in Known("plane"))
        {
            Seen("plane")
                .ShouldContain(
                    s => s.Normal(default).Dot(flat.Normal(default)) > 1 - 1e-8 && Math.Abs(s.Side(default) - flat.Side(default)) < 1e-3,
                    $"a plane {flat}"
                );
        }

        foreach (var ball in Known("sphere").Cast<SphereSurface>())
        {
            Seen("sphere")
                .Cast<SphereSurface>()
                .ShouldContain(s => s.Centre.DistanceTo(ball.Centre) < 1e-3 && Math.Abs(s.Radius - ball.Radius) < 1e-3, $"a sphere {ball}");
        }

        foreach (var tube in Seen("cylinder").Cast<CylinderSurface>().Where(_ => !swept))
        {
            Known("cylinder")
                .Cast<CylinderSurface>()
                .ShouldContain(
                    t => Same(t, tube),
                    $"none was there of radius {tube.Radius} about {tube.Axis.Origin} along {tube.Axis.Direction}"
                );
        }
    }

    /// <summary>A ball of radius 10 about a place, in rings.</summary>
    private static List<Vec3> Ball(Vec3 at, double radius, int around, double scale = 1)
    {
        Vec3 On(int i, int j) =>
            (
                at
                + new Vec3(
                    radius * Math.Sin(Math.PI * i / around) * Math.Cos(2 * Math.PI * j / around),
                    radius * Math.Sin(Math.PI * i / around) * Math.Sin(2 * Math.PI * j / around),
                    radius * Math.Cos(Math.PI * i / around)
                )
            ) * scale;
        return
        [
            .. Enumerable
                .Range(0, around)
                .SelectMany(i =>
                    Enumerable
                        .Range(0, around)
                        .SelectMany(j =>
                            new[]
                            {
                                On(i, j),
                                On(i + 1, j),
                                On(i + 1, (j + 1) % around),
                                On(i, j),
                                On(i + 1, (j + 1) % around),
                                On(i, (j + 1) % around),
                            }
                        )
                ),
        ];
    }

    /// <summary>A box, two triangles a side, with its corner at a place.</summary>
    private static List<Vec3> Brick(Vec3 at, double w, double d, double h)
    {
        Vec3 C(int i) => at + new Vec3((i & 1) * w, ((i >> 1) & 1) * d, ((i >> 2) & 1) * h);
        int[] sides = [0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4, 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5];
        return [.. sides.Select(C)];
    }

    private static Part With(params (string Id, List<Vec3> Soup)[] meshes) =>
        Scene.Of([
            .. meshes.Select(m => new AddStep(
                new MeshStep(
                    m.Id,
                    0,
                    m.Id,
                    "a.stl",
                    ImportedFile.Pack(TriangleMesh.Welded(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(m.Soup)).ToBytes())
                )
            )),
        ]);

    private double Read(Part part, string what, params string[] of)
    {
        var read = Gauger.Read(rebuilder.Gauge(part), new ReadingStep("r", 0, "r", what, [.. of]));
        read.Refusal?.Message.ShouldBeNull();
        return read.Value.Value.Value;
    }

    private string FaceOf(Part part, string mesh, Func<FaceShape, bool> which)
    {
        var reference = rebuilder.Gauge(part).References.Single(r => r.Name == mesh);
        return reference.Names.Faces[reference.Topology.Faces.Select((f, i) => (f, i)).Single(f => which(f.f)).i];
    }

    [Theory]
    [InlineData(1e-2)]
    [InlineData(1)]
    [InlineData(1e3)]
    public void A_ball_is_a_sphere_whatever_its_size_and_place(double scale)
    {
        var part = With(("ball", Ball(new Vec3(70, -40, 25), 10, 40, scale)));
        var face = rebuilder.Gauge(part).References.Single().Topology.Faces.ShouldHaveSingleItem();
        var sphere = ShapeNumbers.SurfaceOf(face).ShouldBeOfType<SphereSurface>();
        sphere.Radius.ShouldBe(10 * scale, 1e-9 * scale);
        sphere.Centre.DistanceTo(new Vec3(70, -40, 25) * scale).ShouldBeLessThan(1e-8 * scale);
    }

    [Fact]
    public void A_brick_has_six_faces_twelve_edges_and_eight_corners_that_are_measured_and_built_on()
    {
        var part = With(("brick", Brick(new Vec3(100, 200, 300), 40, 30, 20)));
        var site = rebuilder.Gauge(part);
        var brick = site.References.Single();
        (brick.Topology.Faces.Length, brick.Topology.Edges.Length, brick.Topology.Vertices.Length).ShouldBe((6, 12, 8));
        brick.Topology.Edges.ShouldAllBe(e => e.Curve == "line");
        brick.Names.Edges.Distinct().Count().ShouldBe(12);
        brick.Area.ShouldBe(2 * ((40 * 30) + (30 * 20) + (20 * 40)), 1e-9);
        string Face(Vec3 way) => FaceOf(part, "brick", f => f.Plane!.Value.Z.Dot(way) > 0.99);
        Read(part, "distance", Face(Vec3.AlongZ), Face(-Vec3.AlongZ)).ShouldBe(20, 1e-9);
        Read(part, "distance", "brick", World.Xy).ShouldBe(300, 1e-9);
        Read(part, "face-area", Face(Vec3.AlongZ)).ShouldBe(1200, 1e-9);
        Read(part, "perimeter", Face(Vec3.AlongZ)).ShouldBe(140, 1e-9);
        Read(part, "area", "brick").ShouldBe(brick.Area, 1e-9);
        (Read(part, "box-x", "brick"), Read(part, "box-y", "brick"), Read(part, "box-z", "brick")).ShouldBe((40, 30, 20));
        Gauger.Read(site, new ReadingStep("v", 0, "", "volume", ["brick"])).Refusal.ShouldNotBeNull("triangles enclose no material");

        // What changes or makes material has no use for its faces.
        Core.Tools.Picks.Offers.OnModel(part, rebuilder.Rebuild(part, withMesh: false), [Face(Vec3.AlongZ)], [])
            .Where(o => o.Form is not null)
            .Select(o => o.Id)
            .ShouldBe(["form-extrude", "form-revolve"]);
        Read(part, "angle", Face(Vec3.AlongZ), Face(Vec3.AlongX)).ShouldBe(Math.PI / 2, 1e-9);
        Read(
                part,
                "edge-length",
                brick.Names.Edges[Enumerable.Range(0, 12).First(i => Math.Abs(brick.Topology.Edges[i].Length - 40) < 1e-9)]
            )
            .ShouldBe(40, 1e-9);

        // A plane through three of its corners, and a sketch on one of its faces.
        string Corner(Vec3 at) =>
            brick.Names.Vertices[Enumerable.Range(0, 8).Single(i => brick.Topology.Vertices[i].DistanceTo(at) < 1e-9)];
        var more = new PartCommand[]
        {
            new AddStep(
                new PlaneStep(
                    "slope",
                    0,
                    "",
                    [
                        new DatumCondition("through", [Corner(new(100, 200, 300))]),
                        new DatumCondition("through", [Corner(new(140, 200, 300))]),
                        new DatumCondition("through", [Corner(new(100, 230, 320))]),
                    ]
                )
            ),
            new AddStep(new SketchStep("on", 0, "", Face(Vec3.AlongZ), Core.Sketches.Sketch.Empty)),
        }.Aggregate(part, (p, c) => c.Apply(p).Value);
        var built = rebuilder.Rebuild(more, withMesh: false);
        built.Steps.ShouldAllBe(s => s.State == StepState.Built);
        Math.Abs(built.Step("slope")!.Frame!.Value.Z.Dot(new Vec3(0, -20, 30).Unit)).ShouldBe(1, 1e-9);
        built.Step("on")!.Frame!.Value.Origin.Z.ShouldBe(320, 1e-9);
        built.Bodies.ShouldBeEmpty();
    }

    [Fact]
    public void Distances_go_from_the_triangles_as_they_are_to_bodies_and_to_other_triangles()
    {
        var part = With(("brick", Brick(new Vec3(60, 10, 0), 10, 10, 10)), ("ball", Ball(new Vec3(0, 0, 100), 10, 48)));
        part = part with { Steps = [.. Scene.Part.Steps, .. part.Steps.Select(s => s with { Number = s.Number + 100 })] };

        // The pin of radius 3 about (60, 0) and the brick from y = 10 on.
        Read(part, "distance", "brick", "pin/body").ShouldBe(7, 1e-6);
        Read(part, "distance", "pin/body", "brick").ShouldBe(7, 1e-6);
        Read(part, "distance", "ball", "brick").ShouldBe(new Vec3(60, 10, 90).Length - 10, 0.05);

        // The ball's lowest corner stands over the block.
        Read(part, "distance", "ball", "e/body").ShouldBe(100 - 10 - 12, 1e-6);
    }

    [Fact]
    public void Triangles_are_cut_by_a_plane_into_the_lines_of_their_faces()
    {
        var part = With(("brick", Brick(Vec3.Zero, 40, 30, 20)));
        var cut = rebuilder.Section(part, Frame.World with { Origin = new Vec3(0, 0, 5) });
        cut.Value.Length.ShouldBe(4);
        cut.Value.Sum(c => c.Curve.Length).ShouldBe(140, 1e-9);
        cut.Value.Select(c => c.Face).Distinct().Count().ShouldBe(4);
    }

    [Fact]
    public void A_unit_is_taken_as_said_and_can_be_said_anew()
    {
        var part = With(("brick", Brick(Vec3.Zero, 4, 3, 2)));
        var inches = new SetMeshUnit("brick", MeshUnit.Inch).Apply(part).Value;
        rebuilder.Gauge(inches).References.Single().Box.High.X.ShouldBe(101.6, 1e-9);
        new SetMeshUnit("brick", (MeshUnit)99).Apply(part).Refusal!.Code.ShouldBe("mesh.unit");
        new SetMeshUnit("nothing", MeshUnit.Inch).Apply(part).Done.ShouldBeFalse();
    }

    [Theory]
    [InlineData("stl", false)]
    [InlineData("stl", true)]
    [InlineData("3mf", false)]
    [InlineData("glb", false)]
    public void What_is_written_is_read_again_in_its_place_and_size(string ending, bool text)
    {
        var file = Scene.Written(ending, new ExportOptions { Text = text });
        var read = MeshFile.Read($"a.{ending}", file);
        read.Refusal?.Message.ShouldBeNull();
        var box = read.Value.Mesh.Box;
        var unit = (read.Value.Unit ?? MeshUnit.Millimetre).Millimetres();
        (box.Low * unit).DistanceTo(new Vec3(-40, -25, 0)).ShouldBeLessThan(1e-3);
        (box.High * unit).DistanceTo(new Vec3(63, 25, 20)).ShouldBeLessThan(1e-2);
        var volume =
            Enumerable
                .Range(0, read.Value.Mesh.Count)
                .Sum(t => read.Value.Mesh.Corner(t, 0).Dot(read.Value.Mesh.Corner(t, 1).Cross(read.Value.Mesh.Corner(t, 2))))
            / 6
            * unit
            * unit
            * unit;
        volume.ShouldBe(Scene.Block + Scene.Pin, 20);
    }

    [Fact]
    public void Damaged_files_are_refused_with_what_is_wrong()
    {
        var stl = Scene.Written("stl");
        string Said(string name, byte[] file) => MeshFile.Read(name, file).Refusal!.Message;
        Said("a.stl", stl[..^7]).ShouldContain("cut after");
        Said("a.stl", [.. stl, .. new byte[200]]).ShouldContain("longer");
        Said("a.stl", Encoding.ASCII.GetBytes("hello")).ShouldContain("no STL");
        Said("a.stl", []).ShouldContain("no STL");
        Said(
                "a.stl",
                Encoding.ASCII.GetBytes(
                    "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 x 0\nendloop\nendfacet\nendsolid a"
                )
            )
            .ShouldContain("Line 6");
        Said(
                "a.stl",
                Encoding.ASCII.GetBytes(
                    "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nendloop\nendfacet\nendsolid a"
                )
            )
            .ShouldContain("2 corners");
        Said("a.stl", Encoding.ASCII.GetBytes("solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0")).ShouldContain("cut");
        Said("a.stl", Encoding.ASCII.GetBytes("solid a\nendsolid a")).ShouldContain("no triangle");
        var nan = (byte[])stl.Clone();
        BitConverter.GetBytes(float.NaN).CopyTo(nan, 84 + 50 + 12);
        Said("a.stl", nan).ShouldContain("triangle 2");
        var glb = Scene.Written("glb");
        Said("a.glb", glb[..^100]).ShouldContain("cut");
        Said("a.glb", Encoding.ASCII.GetBytes("{\"asset\":{\"version\":\"2.0\"},\"buffers\":[{\"uri\":\"other.bin\",\"byteLength\":3}]}"))
            .ShouldContain("another file");
        Said("a.gltf", Encoding.ASCII.GetBytes("{\"asset\":")).ShouldContain("line 1");
        Said("a.3mf", Scene.Written("3mf")[..200]).ShouldContain("no 3MF");
        Said("a.obj", []).ShouldContain(".obj");
    }

    /// <summary>Bytes changed at random: read, or refused in words; never anything else.</summary>
    [Theory]
    [InlineData("stl")]
    [InlineData("3mf")]
    [InlineData("glb")]
    public void Damaged_at_random_a_file_is_read_or_refused(string ending)
    {
        var file = Scene.Written(ending);
        var random = new Random(7);
        for (var n = 0; n < 400; n++)
        {
            var damaged = (byte[])file.Clone();
            for (var k = random.Next(1, 8); k > 0; k--)
            {
                damaged[random.Next(random.Next(2) == 0 ? Math.Min(400, damaged.Length) : damaged.Length)] = (byte)random.Next(256);
            }

            var read = MeshFile.Read($"a.{ending}", random.Next(4) == 0 ? damaged[..random.Next(damaged.Length)] : damaged);
            if (read.Done)
            {
                // What was read can be used, or is refused as well.
                TriangleMesh
                    .Of(read.Value.Mesh.ToBytes(), 1)
                    .Map(m => new ReferenceBody("m", "k", m).Names.Faces.Length)
                    .Then<int>(c => c > 0 ? c : new Refusal("none", "none"))
                    .Refusal?.Code.ShouldBe("mesh.damaged");
            }
            else
            {
                read.Refusal!.Message.Length.ShouldBeGreaterThan(20);
            }
        }
    }

    [Fact]
    public void An_open_sheet_and_sides_that_three_triangles_share_have_edges_of_their_own()
    {
        // Three sheets that meet in one line.
        Vec3 P(double x, double y, double z) => new(x, y, z);
        var part = With(
            ("fan", [P(0, 0, 0), P(0, 0, 10), P(10, 0, 0), P(0, 0, 0), P(0, 10, 0), P(0, 0, 10), P(0, 0, 0), P(-10, 0, 0), P(0, 0, 10)])
        );
        var fan = rebuilder.Gauge(part).References.Single();
        fan.Topology.Faces.Length.ShouldBe(3);
        fan.Names.Edges.Distinct().Count().ShouldBe(fan.Names.Edges.Length);
        fan.Names.Edges.ShouldAllBe(e => rebuilder.Gauge(part).Model.Find(e).Done);
    }

    private static bool Same(CylinderSurface a, CylinderSurface b) =>
        Math.Abs(a.Radius - b.Radius) < 1e-3
        && Math.Abs(a.Axis.Direction.Dot(b.Axis.Direction)) > 1 - 1e-6
        && a.Axis.DistanceTo(b.Axis.Origin) < 1e-3;
}
