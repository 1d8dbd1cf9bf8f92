using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;

namespace Ratiogon.Solids.Tests;

/// <summary>Boxes along the world axes, exact however the body is turned.</summary>
public sealed class BoundsTests : BuildTest
{
    public static TheoryData<double, double, double> Turns() =>
        new()
        {
            { 0, 0, 0 },
            { 30, 0, 0 },
            { 17, 41, 63 },
            { 90, 45, 0 },
            { 211, 5, 133 },
        };

    private Box Of(double x, double y, double z, params PartCommand[] forms)
    {
        var frame = new AddStep(
            new FrameStep(
                "f",
                0,
                "",
                [new DatumCondition("free", []) { Values = ["5 mm", "-7 mm", "11 mm", $"{x} deg", $"{y} deg", $"{z} deg"] }]
            )
        );
        return Built(Parts.Of([frame, .. forms])).Bodies.Single().Bounds;
    }

    private static void Same(Box box, Vec3 centre, Vec3 half)
    {
        box.Low.DistanceTo(centre - half).ShouldBeLessThan(1e-6);
        box.High.DistanceTo(centre + half).ShouldBeLessThan(1e-6);
    }

    private static Frame Turned(double x, double y, double z)
    {
        var (f, rad) = (Frame.World, Math.PI / 180);
        f = f.Turned(f.X, x * rad);
        f = f.Turned(f.Y, y * rad);
        return f.Turned(f.Z, z * rad);
    }

    [Theory, MemberData(nameof(Turns))]
    public void Of_a_ring_with_a_round_section(double x, double y, double z)
    {
        var box = Of(
            x,
            y,
            z,
            [.. Parts.Sketched("s", "f/xz", Parts.Circle("c", 20, 0, 6)), new AddStep(new RevolveStep("e", 0, "", "s", "f/z"))]
        );
        var axis = Turned(x, y, z).Z;
        double Half(double a) => (20 * Math.Sqrt(Math.Max(0, 1 - (a * a)))) + 6;
        Same(box, new Vec3(5, -7, 11), new Vec3(Half(axis.X), Half(axis.Y), Half(axis.Z)));
    }

    [Theory, MemberData(nameof(Turns))]
    public void Of_a_cylinder_and_of_a_box_rounded_all_round(double x, double y, double z)
    {
        var f = Turned(x, y, z);
        var rod = Of(
            x,
            y,
            z,
            [
                .. Parts.Sketched("s", "f", Parts.Circle("c", 0, 0, 9)),
                new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "30 mm", Extent = ExtrudeExtent.Symmetric }),
            ]
        );
        double Half(double a) => (15 * Math.Abs(a)) + (9 * Math.Sqrt(Math.Max(0, 1 - (a * a))));
        Same(rod, new Vec3(5, -7, 11), new Vec3(Half(f.Z.X), Half(f.Z.Y), Half(f.Z.Z)));

        // A box with every edge rounded is all places within the radius of a smaller box.
        var soft = Of(
            x,
            y,
            z,
            [
                .. Parts.Sketched("s", "f", Parts.Rectangle(40, 30, Vec2.Zero)),
                new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "20 mm", Extent = ExtrudeExtent.Symmetric }),
                new AddStep(new FilletStep("r", 0, "", ["e/end", "e/start", "e/side/r.left", "e/side/r.right"]) { Radius = "4 mm" }),
            ]
        );
        double Soft(Func<Vec3, double> of) => (16 * Math.Abs(of(f.X))) + (11 * Math.Abs(of(f.Y))) + (6 * Math.Abs(of(f.Z))) + 4;
        Same(soft, new Vec3(5, -7, 11), new Vec3(Soft(v => v.X), Soft(v => v.Y), Soft(v => v.Z)));
    }

    [Theory, MemberData(nameof(Turns))]
    public void Of_a_ball(double x, double y, double z)
    {
        var half = new Core.Sketches.Editing.SketchEdit
        {
            Add =
            [
                new PointEntity("m", Vec2.Zero),
                new PointEntity("a", new Vec2(0, -8)),
                new PointEntity("b", new Vec2(0, 8)),
                new ArcEntity("arc", "m", "a", "b", 8),
                new LineEntity("l", "b", "a"),
            ],
        };
        Same(
            Of(x, y, z, [.. Parts.Sketched("s", "f", half), new AddStep(new RevolveStep("e", 0, "", "s", "f/y"))]),
            new Vec3(5, -7, 11),
            new Vec3(8, 8, 8)
        );
    }
}
