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

/// <summary>Volumes, areas and centres of bodies whose round faces are cut by others, against closed forms: there the outline
/// of a face is no rectangle of its surface. Lengths in millimetres.</summary>
public sealed class TrimmedFaceTests : IDisposable
{
    private const double Good = 1e-7;
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    /// <summary>A bar of 80 about the normal of a plane, half to either side.</summary>
    private static PartCommand[] Bar(string id, string on, SketchEdit profile, FormOperation operation) =>
        [
            .. Parts.Sketched($"{id}_s", on, profile),
            new AddStep(
                new ExtrudeStep(id, 0, "", $"{id}_s")
                {
                    Length = "80 mm",
                    Extent = ExtrudeExtent.Symmetric,
                    Operation = operation,
                }
            ),
        ];

    private BodyResult Built(params PartCommand[] commands)
    {
        var result = rebuilder.Rebuild(Parts.Of(commands), withMesh: false);
        result.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty();
        return result.Bodies.Single();
    }

    private static void Holds(BodyResult body, double volume, double area, Vec3 centre)
    {
        body.Mass.Volume.ShouldBe(volume, volume * Good);
        body.Mass.Area.ShouldBe(area, area * Good);
        body.Mass.Centre.DistanceTo(centre).ShouldBeLessThan(1e-5);
        body.Topology.Faces.Sum(f => f.Area).ShouldBe(area, area * Good);
    }

    /// <summary>Simpson's rule over y = r sin s, which takes the roots at the ends away.</summary>
    private static double OverCircle(double r, Func<double, double> f)
    {
        const int Steps = 4000;
        double At(int i) => -(Math.PI / 2) + (Math.PI * i / Steps) is var s ? f(r * Math.Sin(s)) * r * Math.Cos(s) : 0;
        return (At(0) + At(Steps) + Enumerable.Range(1, Steps - 1).Sum(i => (i % 2 == 1 ? 4 : 2) * At(i))) * Math.PI / Steps / 3;
    }

    [Fact]
    public void Two_equal_cylinders_have_sixteen_thirds_of_the_cube_in_common()
    {
        const double R = 9;
        PartCommand[] common =
        [
            .. Bar("a", World.Xy, Parts.Circle("c", 0, 0, R), FormOperation.Join),
            .. Bar("b", World.Xz, Parts.Circle("c", 0, 0, R), FormOperation.Intersect),
        ];
        Holds(Built(common), 16.0 / 3 * R * R * R, 16 * R * R, Vec3.Zero);
        rebuilder.Inertias(Parts.Of(common)).Single().Xx.ShouldBe(128.0 / 45 * Math.Pow(R, 5), 1e-6 * Math.Pow(R, 5));
    }

    [Theory]
    [InlineData(9, 4)]
    [InlineData(9, 8.5)]
    public void A_cylinder_crosses_a_thicker_one(double thick, double thin)
    {
        var common = Built([
            .. Bar("a", World.Xy, Parts.Circle("c", 0, 0, thick), FormOperation.Join),
            .. Bar("b", World.Xz, Parts.Circle("c", 0, 0, thin), FormOperation.Intersect),
        ]);
        var volume = OverCircle(thin, y => 4 * Math.Sqrt((thick * thick) - (y * y)) * Math.Sqrt((thin * thin) - (y * y)));

        // The thin one's side: its height all round its circle; the lids: their part of the thick one's side.
        const int Turns = 20000;
        var side =
            Enumerable.Range(0, Turns).Sum(i => 2 * Math.Sqrt((thick * thick) - Math.Pow(thin * Math.Sin(2 * Math.PI * i / Turns), 2)))
            * thin
            * 2
            * Math.PI
            / Turns;
        var lids = OverCircle(thin, y => 4 * Math.Sqrt((thin * thin) - (y * y)) * thick / Math.Sqrt((thick * thick) - (y * y)));
        common.Mass.Volume.ShouldBe(volume, volume * Good);
        var caps = common.Names.Faces.Select((f, i) => (f, common.Topology.Faces[i].Area)).ToList();
        caps.Where(c => c.f.StartsWith("a/side", StringComparison.Ordinal)).Sum(c => c.Area).ShouldBe(lids, lids * Good);
        caps.Where(c => c.f.StartsWith("b/side", StringComparison.Ordinal)).Sum(c => c.Area).ShouldBe(side, side * Good);
    }

    [Theory]
    [InlineData(10)]
    [InlineData(30)]
    [InlineData(60)]
    public void A_cylinder_is_cut_slantwise(double lean)
    {
        // Through the y axis, rising with x; the circle stands about x = 30 with a radius of 6.
        var (turn, r, x) = (lean * Math.PI / 180, 6.0, 30.0);
        var height = x * Math.Tan(turn);
        var body = Built([
            Parts.Line("slope", Vec3.Zero, new Vec3(Math.Cos(turn), 0, Math.Sin(turn)) * 50),
            new AddStep(
                new PlaneStep(
                    "tilt",
                    0,
                    "",
                    [new DatumCondition("through-line", ["world/y"]), new DatumCondition("through-line", ["slope"])]
                )
            ),
            .. Parts.Sketched("s", World.Xy, Parts.Circle("c", x, 0, r)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Extent = ExtrudeExtent.To, To = "tilt" }),
        ]);
        var up = Math.Tan(turn);
        Holds(
            body,
            Math.PI * r * r * height,
            (2 * Math.PI * r * height) + (Math.PI * r * r * (1 + (1 / Math.Cos(turn)))),
            new Vec3(x + (r * r * up / 4 / height), 0, (height / 2) + (r * r * up * up / 8 / height))
        );
    }

    [Theory]
    [InlineData(2)]
    [InlineData(7)]
    [InlineData(13)]
    public void A_ball_is_cut_by_a_plane(double cap)
    {
        const double R = 10;
        var half = new SketchEdit
        {
            Add =
            [
                new PointEntity("m", Vec2.Zero),
                new PointEntity("a", new Vec2(0, -R)),
                new PointEntity("b", new Vec2(0, R)),
                new ArcEntity("r", "m", "a", "b", R),
                new LineEntity("l", "b", "a"),
            ],
        };
        var body = Built([
            .. Parts.Sketched("s", World.Xz, half),
            new AddStep(new RevolveStep("ball", 0, "", "s", "world/z")),
            .. Bar("cut", World.Xz, Parts.Rectangle(60, 60, new Vec2(0, R - cap - 30)), FormOperation.Cut),
        ]);
        var centre = 3 * (((2 * R) - cap) * ((2 * R) - cap)) / (4 * ((3 * R) - cap));
        Holds(
            body,
            Math.PI * cap * cap * ((3 * R) - cap) / 3,
            (2 * Math.PI * R * cap) + (Math.PI * cap * ((2 * R) - cap)),
            new Vec3(0, 0, centre)
        );
    }

    [Fact]
    public void A_ring_is_cut_in_half_either_way()
    {
        const double R = 20,
            Small = 5;
        PartCommand[] ring =
        [
            .. Parts.Sketched("s", World.Xz, Parts.Circle("c", R, 0, Small)),
            new AddStep(new RevolveStep("ring", 0, "", "s", "world/z")),
        ];
        var (volume, side) = (Math.PI * Math.PI * R * Small * Small, 2 * Math.PI * Math.PI * R * Small);
        Holds(
            Built([.. ring, .. Bar("cut", World.Xz, Parts.Rectangle(80, 40, new Vec2(0, -20)), FormOperation.Cut)]),
            volume,
            side + (4 * Math.PI * R * Small),
            new Vec3(0, 0, 4 * Small / 3 / Math.PI)
        );

        // Beside its middle, so that the cut runs over the ring: the volume by slices, each a strip of the two circles.
        var offset = Built([.. ring, .. Bar("cut", World.Xz, Parts.Rectangle(80, 80, new Vec2(-40 + 3, 0)), FormOperation.Cut)]);
        double Slice(double z) => Math.Sqrt((Small * Small) - (z * z)) is var w ? Segment(R + w) - Segment(R - w) : 0;
        static double Segment(double r) => (r * r * Math.Acos(3 / r)) - (3 * Math.Sqrt((r * r) - 9));
        var expected = OverCircle(Small, Slice);
        offset.Mass.Volume.ShouldBe(expected, expected * Good);
    }

    [Fact]
    public void A_pipe_along_a_spline_is_cut_across()
    {
        // A plane that holds the path cuts the pipe in two equal halves, whatever way the path takes in it.
        PartCommand[] path =
        [
            Parts.Point("p", new(0, 0, 0)),
            Parts.Point("q", new(30, 0, 12)),
            Parts.Point("r", new(55, 0, -8)),
            Parts.Point("t", new(90, 0, 5)),
            new AddStep(new CurveStep("w", 0, "", CurveShape.Spline, ["p", "q", "r", "t"])),
        ];
        PartCommand[] pipe =
        [
            .. path,
            new AddStep(new SweepStep("pipe", 0, "", ["w"]) { Profile = SweepProfile.Round, Diameter = "6 mm" }),
        ];
        var whole = Built(pipe).Mass;
        var half = Built([
            .. pipe,
            new AddStep(new SketchStep("s", 0, "", World.Xz, Sketch.Empty)),
            new EditSketch("s", Parts.Rectangle(200, 200, Vec2.Zero)),
            new AddStep(new ExtrudeStep("cut", 0, "", "s") { Length = "50 mm", Operation = FormOperation.Cut }),
        ]).Mass;
        half.Volume.ShouldBe(whole.Volume / 2, whole.Volume * 1e-6);
        var length = whole.Volume / (Math.PI * 9);
        half.Area.ShouldBe((whole.Area / 2) + (length * 6), whole.Area * 1e-6);
    }

    private static readonly PartCommand[] Two =
    [
        .. Parts.Sketched("a", World.Xy, Parts.Rectangle(40, 40, Vec2.Zero)),
        new AddStep(new PlaneStep("up", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["30 mm"] }])),
    ];

    private static readonly PartCommand[] Pipe =
    [
        Parts.Point("p", new(0, 0, 0)),
        Parts.Point("q", new(30, 10, 12)),
        Parts.Point("r", new(55, -6, -8)),
        Parts.Point("t", new(90, 0, 5)),
        new AddStep(new CurveStep("w", 0, "", CurveShape.Spline, ["p", "q", "r", "t"])),
        new AddStep(new SweepStep("pipe", 0, "", ["w"]) { Profile = SweepProfile.Round, Diameter = "12 mm" }),
    ];

    /// <summary>Bodies whose free-form faces are cut by others, so that no rectangle of their surface bounds them.</summary>
    private static readonly Dictionary<string, Func<Part>> FreeForm = new(StringComparer.Ordinal)
    {
        ["waist"] = () =>
            Parts.Of([
                .. Two,
                .. Parts.Sketched("b", "up", Parts.Rectangle(20, 20, Vec2.Zero)),
                new AddStep(new LoftStep("l", 0, "", ["a", "b"]) { SquareFirst = true, SquareLast = true }),
                .. Bar("cut", World.Xz, Parts.Circle("c", 9, 14, 7), FormOperation.Cut),
            ]),
        ["square to round"] = () =>
            Parts.Of([
                .. Two,
                .. Parts.Sketched("b", "up", Parts.Circle("o", 0, 0, 10)),
                new AddStep(new LoftStep("l", 0, "", ["a", "b"])),
                .. Bar("cut", World.Yz, Parts.Rectangle(18, 9, new Vec2(12, 13)), FormOperation.Cut),
            ]),
        ["pipe"] = () => Parts.Of(Pipe),
        ["bored pipe"] = () => Parts.Of([.. Pipe, .. Bar("cut", World.Xz, Parts.Circle("c", 40, 4, 3), FormOperation.Cut)]),
        ["planed pipe"] = () => Parts.Of([.. Pipe, .. Bar("cut", World.Xy, Parts.Rectangle(60, 20, new Vec2(45, 10)), FormOperation.Cut)]),
        ["hose guide"] = Core.Demo.HoseGuide.Build,
        ["spout"] = Core.Demo.Spout.Build,
    };

    private static readonly double[] Finenesses = [0.08, 0.02, 0.005];

    public static TheoryData<string> FreeForms => [.. FreeForm.Keys];

    /// <summary>A third way beside the integration over the faces and the library's own: triangles of three finenesses, whose volume and
    /// area go to those of the body as their deviation goes to nothing. Also as a file of another hand would bring it, with outlines
    /// on the faces that are worked out by the reader.</summary>
    [Theory]
    [MemberData(nameof(FreeForms))]
    public void Free_form_faces_have_the_volume_and_area_of_ever_finer_triangles(string name)
    {
        var kernel = new NativeKernel();
        foreach (var body in rebuilder.Gauge(FreeForm[name]()).Bodies)
        {
            using var read = kernel
                .Read(BodyFormat.Iges, kernel.Write(BodyFormat.Iges, [new NamedSolid("b", body.Solid, "#808080")]).Value)
                .Value.Solid;
            foreach (var solid in new[] { body.Solid, read })
            {
                var sums = Finenesses.Select(deviation => Triangles(kernel, solid, deviation)).ToList();
                var mass = kernel.Mass(solid);

                // Hollow and bulging faces may cancel, so that a step says nothing: triangles stray by a fiftieth of what they may, on
                // the whole.
                Between(sums.ConvertAll(s => s.Volume), mass.Volume, mass.Area * Finenesses[^1] / 50);
                Between(sums.ConvertAll(s => s.Area), mass.Area, 1e-5 * mass.Area);
            }
        }
    }

    /// <summary>What is left of the difference after the last step is less than that step was, or than little.</summary>
    private static void Between(List<double> ever, double found, double little)
    {
        var last = Math.Abs(ever[2] - ever[1]);
        last.ShouldBeLessThan(2e-3 * found, "the triangles converge");
        found.ShouldBe(ever[2], last + little);
    }

    private static (double Volume, double Area) Triangles(NativeKernel kernel, ISolid solid, double deviation)
    {
        var mesh = kernel.Mesh(solid, deviation);
        kernel.Deviation(solid).ShouldBeLessThanOrEqualTo(deviation);
        var places = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(mesh.Positions);
        var corners = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, uint>(mesh.Triangles);
        var (six, twice) = (0.0, 0.0);
        for (var t = 0; t < corners.Length; t += 3)
        {
            var (a, b, c) = (At(places, corners[t]), At(places, corners[t + 1]), At(places, corners[t + 2]));
            six += a.Dot(b.Cross(c));
            twice += (b - a).Cross(c - a).Length;
        }

        return (six / 6, twice / 2);
    }

    private static Vec3 At(ReadOnlySpan<float> places, uint i) =>
        new(places[3 * (int)i], places[(3 * (int)i) + 1], places[(3 * (int)i) + 2]);
}
