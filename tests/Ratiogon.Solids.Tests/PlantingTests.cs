using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Solids.Tests;

/// <summary>Tools that stand on flat faces or are sunk into them, go through one or several, cover holes, end at edges or nearly:
/// whether they are put in without a boolean or not, volumes and areas are those of another way.</summary>
public class PlantingTests
{
    private static readonly NativeKernel Kernel = new();

    private static Profile Flat(Frame plane, params SketchEdit[] outlines)
    {
        var whole = outlines.Aggregate(new SketchEdit(), (all, next) => all.With(next));
        return new Profile(plane, Arrangement.Of(new Sketch { Entities = whole.Add }).Choose([]).Value);
    }

    private static ISolid Prism(Profile profile, Vec3 along) => Kernel.Prism(profile, along).Value.Solid;

    private static Frame At(double z) => Frame.World with { Origin = Vec3.AlongZ * z };

    /// <summary>A plate 100 x 60 x 10 with two holes, a channel, a block with a pocket, or a plate with a boss.</summary>
    private static ISolid Body(int kind) =>
        kind switch
        {
            0 => Prism(
                Flat(At(0), Parts.Rectangle(100, 60, Vec2.Zero), Parts.Circle("a", -30, 0, 8), Parts.Circle("b", 30, 10, 5)),
                Vec3.AlongZ * 10
            ),
            1 => Kernel
                .Cut(
                    Prism(Flat(At(0), Parts.Rectangle(100, 60, Vec2.Zero)), Vec3.AlongZ * 40),
                    Prism(Flat(At(10), Parts.Rectangle(120, 30, Vec2.Zero)), Vec3.AlongZ * 50)
                )
                .Value.Solid,
            2 => Kernel
                .Cut(
                    Prism(Flat(At(0), Parts.Rectangle(100, 60, Vec2.Zero)), Vec3.AlongZ * 20),
                    Prism(Flat(At(10), Parts.Rectangle(40, 30, Vec2.Zero)), Vec3.AlongZ * 20)
                )
                .Value.Solid,
            _ => Kernel
                .Join(
                    Prism(Flat(At(0), Parts.Rectangle(100, 60, Vec2.Zero)), Vec3.AlongZ * 10),
                    Prism(Flat(At(10), Parts.Circle("c", 10, 0, 12)), Vec3.AlongZ * 10)
                )
                .Value.Solid,
        };

    /// <summary>A prism whose faces and outline often fall on those of the body, or nearly.</summary>
    private static ISolid Tool(Random random)
    {
        double Some(int low, int high, int step) =>
            (step * random.Next(low / step, (high / step) + 1))
            + (
                random.Next(4) == 0 ? Math.Round(random.NextDouble() * 3, 2)
                : random.Next(12) == 0 ? 1e-6
                : 0
            );
        var (x, y, w, h) = (Some(-50, 50, 5), Some(-30, 30, 5), Some(5, 40, 5), Some(5, 30, 5));
        var sideways = random.Next(4) == 0;
        var plane = sideways ? new Frame(new Vec3(0, Some(-40, 20, 5), 10), Vec3.AlongX, Vec3.AlongZ) : At(Some(-10, 40, 10));
        var shape = random.Next(6) switch
        {
            0 => Flat(plane, Parts.Circle("t", x, y, h / 2)),
            1 => Flat(plane, Slots.Straight("t", new Vec2(x, y), new Vec2(x + w, y + (h / 3)), 4)),
            2 => Flat(plane, Parts.Circle("t", x, y, h / 2), Parts.Circle("u", x, y, h / 5)),
            3 => Flat(
                plane,
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("m", new Vec2(x, y)),
                        new PointEntity("f", new Vec2(x + w, y)),
                        new PointEntity("g", new Vec2(x, y + (h / 3))),
                        new EllipseEntity("t", "m", "f", "g"),
                    ],
                }
            ),
            _ => Flat(plane, Parts.Rectangle(w, h, new Vec2(x, y))),
        };
        var length = Some(5, 40, 5) * (random.Next(2) == 0 ? 1 : -1);
        var lean = random.Next(5) == 0 ? (plane.X * 0.3) + (plane.Y * 0.1) : Vec3.Zero;
        return Prism(shape, (plane.Z + lean) * length);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Whatever_meets_flat_faces_adds_up(int kind)
    {
        var body = Body(kind);
        var had = Kernel.Mass(body);
        var (met, joined) = (0, 0);
        for (var seed = 0; seed < 40; seed++)
        {
            var tool = Tool(new Random((1000 * kind) + seed));
            var own = Kernel.Mass(tool);
            var slack = 1e-7 * (had.Volume + own.Volume);
            var common = Kernel.Common(body, tool);
            var shared = common.Done ? Kernel.Mass(common.Value.Solid).Volume : 0;
            var cut = Kernel.Cut(body, tool);
            if (cut.Done)
            {
                Kernel.Mass(cut.Value.Solid).Volume.ShouldBe(had.Volume - shared, slack, $"cut {kind}/{seed}");
                Named(cut.Value);
                if (Kernel.Carve(body, tool) is { Done: true } carved)
                {
                    Kernel.Mass(cut.Value.Solid).Area.ShouldBe(Kernel.Mass(carved.Value.Solid).Area, 1e-6 * had.Area, $"cut {kind}/{seed}");
                }

                met += shared > slack ? 1 : 0;
            }

            var join = Kernel.Join(body, tool);
            if (join.Done)
            {
                Kernel.Mass(join.Value.Solid).Volume.ShouldBe(had.Volume + own.Volume - shared, slack, $"join {kind}/{seed}");
                Named(join.Value);
                if (Kernel.Join(tool, body) is { Done: true } turned)
                {
                    Kernel
                        .Mass(join.Value.Solid)
                        .Area.ShouldBe(Kernel.Mass(turned.Value.Solid).Area, 1e-6 * had.Area, $"join {kind}/{seed}");
                    Kernel
                        .Describe(join.Value.Solid)
                        .Faces.Length.ShouldBe(Kernel.Describe(turned.Value.Solid).Faces.Length, $"join {kind}/{seed}");
                }

                joined++;
            }
        }

        met.ShouldBeGreaterThan(10);
        joined.ShouldBeGreaterThan(20);
        Kernel.Mass(body).ShouldBe(had, "the body is as it was");

        static void Named(SolidResult result) => result.Origins.ShouldAllBe(o => !o.IsEmpty);
    }

    [Fact]
    public void A_pin_through_both_arms_of_a_channel_joins_them_and_a_bore_through_both_leaves_two_holes()
    {
        // The inner faces of the arms are at -15 and 15.
        var channel = Body(1);
        var across = new Frame(new Vec3(0, -40, 25), Vec3.AlongZ, Vec3.AlongX);
        var rod = Prism(Flat(across, Parts.Circle("t", 0, 0, 4)), Vec3.AlongY * 80);
        var had = Kernel.Mass(channel).Volume;
        var bored = Kernel.Cut(channel, rod).Value.Solid;
        Kernel.Mass(bored).Volume.ShouldBe(had - (Math.PI * 16 * 30), 1e-6);
        Kernel.Describe(bored).Faces.Count(f => f.Surface == "cylinder").ShouldBe(2);
        var pinned = Kernel.Join(channel, rod).Value.Solid;
        Kernel.Mass(pinned).Volume.ShouldBe(had + (Math.PI * 16 * 50), 1e-6);
        Kernel.Describe(pinned).Faces.Count(f => f.Surface == "cylinder").ShouldBe(3, "out of both sides, and between the arms");
    }
}
