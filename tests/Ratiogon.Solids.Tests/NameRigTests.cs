using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using static Ratiogon.Solids.Tests.Parts;

namespace Ratiogon.Solids.Tests;

/// <summary>Parts with references on everything, rebuilt under random changes of sizes, counts and suppression: a reference
/// stays on the same thing, as an independent witness from the sizes says, or its step fails with a message. None jumps.</summary>
public sealed class NameRigTests : IDisposable
{
    private const double Near = 1e-6;
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    /// <summary>The sizes that change. Lengths in millimetres.</summary>
    private sealed record Sizes(
        double W,
        double D,
        double H,
        double Bx,
        double Br,
        double Bh,
        double Gx,
        double Gw,
        double Hx,
        double Hd,
        int N,
        double Pitch,
        double Round,
        double Bevel
    )
    {
        public static Sizes Random(Random r)
        {
            double In(double low, double high) => Math.Round(low + (r.NextDouble() * (high - low)), 2);
            return new Sizes(
                In(70, 140),
                In(40, 80),
                In(15, 40),
                In(2, 12),
                In(3, 9),
                In(4, 20),
                In(8, 18),
                In(2, 7),
                In(22, 30),
                In(2, 6),
                r.Next(2, 5),
                In(7, 10),
                In(1, 4),
                In(0.5, 2)
            );
        }
    }

    private static PartCommand[] Set(Sizes s) =>
        [
            .. new (string Name, double Value)[]
            {
                ("w", s.W),
                ("d", s.D),
                ("h", s.H),
                ("bx", s.Bx),
                ("br", s.Br),
                ("bh", s.Bh),
                ("gx", s.Gx),
                ("gw", s.Gw),
                ("hx", s.Hx),
                ("hd", s.Hd),
                ("pitch", s.Pitch),
                ("soft", s.Round),
                ("bevel", s.Bevel),
            }.Select(p => new SetParameter(p.Name, $"{p.Value} mm")),
            new SetParameter("n", $"{s.N}"),
        ];

    /// <summary>A circle, or a point, left of the middle by a formula and above it by 4.</summary>
    private static SketchEdit At(string id, double x, string atX, string? diameter)
    {
        var centre = diameter is null ? id : $"{id}.c";
        var y = diameter is null ? 0 : 4;
        return new SketchEdit
        {
            Add = diameter is null
                ? [new PointEntity(id, new Vec2(x, y))]
                : [new PointEntity(centre, new Vec2(x, y)), new CircleEntity(id, centre, 4)],
            Tie = diameter is null ? [new SketchConstraint($"{id}.level", "horizontal", [Sketch.Origin, centre])] : [],
            Size =
            [
                new SketchDimension($"{id}.x", "horizontal-distance", [Sketch.Origin, centre], atX),
                .. diameter is null
                    ? Array.Empty<SketchDimension>()
                    :
                    [
                        new SketchDimension($"{id}.d", "diameter", [id], diameter),
                        new SketchDimension($"{id}.y", "vertical-distance", [Sketch.Origin, centre], "4 mm"),
                    ],
            ],
        };
    }

    private static SketchEdit Sized(string w, string h, Vec2 centre, string? shift = null)
    {
        var edit = ShapeCatalog.RectangleByCentre("r", centre, centre + new Vec2(30, 20));
        edit = shift is null
            ? edit.With(ShapeCatalog.Placed("r", "r.centre", centre))
            : edit with
            {
                Tie = edit.Tie.Add(new SketchConstraint("r.level", "horizontal", [Sketch.Origin, "r.centre"])),
                Size = [new SketchDimension("r.x", "horizontal-distance", [Sketch.Origin, "r.centre"], shift)],
            };
        return edit with { Size = [.. edit.Size, ShapeCatalog.Width("r", w), ShapeCatalog.Height("r", h)] };
    }

    private static Part Rig(Sizes s) =>
        Parts.Of([
            .. Set(s),
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Sized("w", "d", Vec2.Zero)),
            new AddStep(new ExtrudeStep("block", 0, "", "s") { Length = "h" }),
            new AddStep(new SketchStep("bs", 0, "", "block/end", Sketch.Empty)),
            new EditSketch("bs", At("b", -5, "bx", "2 * br")),
            new AddStep(new ExtrudeStep("boss", 0, "", "bs") { Length = "bh" }),
            // A groove across the whole depth divides the top.
            new AddStep(new SketchStep("gs", 0, "", "block/end", Sketch.Empty)),
            new EditSketch("gs", Sized("gw", "d + 10 mm", new Vec2(12, 0), "gx + gw / 2")),
            new AddStep(
                new ExtrudeStep("groove", 0, "", "gs")
                {
                    Length = "3 mm",
                    Flip = true,
                    Operation = FormOperation.Cut,
                }
            ),
            new AddStep(new SketchStep("hs", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("hs", At("p", -25, "hx", null)),
            new AddStep(
                new HoleStep("hole", 0, "", ["hs/p"])
                {
                    Diameter = "hd",
                    Depth = "8 mm",
                    Flip = true,
                }
            ),
            new AddStep(
                new PatternStep("row", 0, "", ["hole"])
                {
                    Along = "world/y",
                    Count = "n",
                    Spacing = "pitch",
                }
            ),
            new AddStep(new FilletStep("round_e", 0, "", ["block/side/r.bottom^block/side/r.left"]) { Radius = "soft" }),
            new AddStep(new ChamferStep("bevel_e", 0, "", ["boss/end^boss/side/b"]) { Size = "bevel" }),
            new AddStep(new MirrorStep("twin", 0, "", ["hole"], World.Yz)),
            // Witnesses.
            Middle("left", "block/side/r.left"),
            Middle("right", "block/side/r.right"),
            Middle("floor", "groove/end"),
            Middle("west", "block/end[groove/side/r.left]"),
            Middle("east", "block/end[groove/side/r.right]"),
            Axis("boss_axis", "boss/side/b"),
            Axis("hole_axis", "hole/wall/(hs/p)"),
            Axis("second", "row/2/hole/wall/(hs/p)"),
            Axis("third", "row/3/hole/wall/(hs/p)"),
            Axis("round_axis", "round_e/round/(block/side/r.bottom~block/side/r.left)"),
            Axis("bevel_axis", "bevel_e/bevel/(boss/end~boss/side/b)"),
            Axis("twin_axis", "twin/2/hole/wall/(hs/p)"),
            new AddStep(new PointStep("corner", 0, "", [new DatumCondition("at", ["block/end^block/side/r.right^block/side/r.top^"])])),
            new AddStep(new PointStep("tip", 0, "", [new DatumCondition("at-centre", ["bevel_e/bevel/(boss/end~boss/side/b)^boss/end"])])),
        ]);

    /// <summary>What every witness must say of its step, from the sizes alone.</summary>
    private static Dictionary<string, Func<Frame, bool>> Witnesses(Sizes s, bool grooved)
    {
        Func<Frame, bool> Through(double x, double y) =>
            f =>
                new Line3(f.Origin, f.X) is var l && l.Direction.Cross(Vec3.AlongZ).Length < Near && l.DistanceTo(new Vec3(x, y, 0)) < Near;
        Func<Frame, bool> Where(Func<Vec3, bool> p) => f => p(f.Origin);
        return new(StringComparer.Ordinal)
        {
            ["left"] = Where(p => Math.Abs(p.X + (s.W / 2)) < Near),
            ["right"] = Where(p => Math.Abs(p.X - (s.W / 2)) < Near),
            ["floor"] = Where(p => Math.Abs(p.Z - (s.H - 3)) < Near && Math.Abs(p.X - (s.Gx + (s.Gw / 2))) < Near),

            // Without the groove a piece of the top is the whole top again.
            ["west"] = Where(p => Math.Abs(p.Z - s.H) < Near && (!grooved || p.X < s.Gx)),
            ["east"] = Where(p => Math.Abs(p.Z - s.H) < Near && (!grooved || p.X > s.Gx + s.Gw)),
            ["boss_axis"] = Through(-s.Bx, 4),
            ["bevel_axis"] = Through(-s.Bx, 4),
            ["tip"] = Where(p => p.DistanceTo(new Vec3(-s.Bx, 4, s.H + s.Bh)) < Near),
            ["hole_axis"] = Through(-s.Hx, 0),
            ["second"] = Through(-s.Hx, s.Pitch),
            ["third"] = Through(-s.Hx, 2 * s.Pitch),
            ["twin_axis"] = Through(s.Hx, 0),
            ["round_axis"] = Through(-(s.W / 2) + s.Round, -(s.D / 2) + s.Round),
            ["corner"] = Where(p => p.DistanceTo(new Vec3(s.W / 2, s.D / 2, s.H)) < Near),
        };
    }

    [Fact]
    public void References_stay_on_the_same_thing_through_hundreds_of_random_changes_or_fail_with_a_message()
    {
        var random = new Random(20260);
        var part = Rig(Sizes.Random(random));
        var (held, lost, why) = (new Dictionary<string, int>(StringComparer.Ordinal), 0, "");
        string[] suppressible = ["boss", "groove", "row", "round_e", "bevel_e", "twin"];
        for (var round = 0; round < 250; round++)
        {
            var sizes = Sizes.Random(random);
            var off = random.NextDouble() < 0.3 ? suppressible[random.Next(suppressible.Length)] : null;
            var changed = Set(sizes).Aggregate(part, (p, c) => c.Apply(p).Value);
            changed = off is null ? changed : new SuppressStep(off, true).Apply(changed).Value;
            var result = rebuilder.Rebuild(changed, withMesh: false);
            foreach (var (id, holds) in Witnesses(sizes, off != "groove"))
            {
                var step = result.Step(id)!;
                if (step.State == StepState.Built)
                {
                    holds(step.Frame!.Value).ShouldBeTrue($"round {round}, without {off}: {id} is at {step.Frame} with {sizes}");
                    held[id] = held.GetValueOrDefault(id) + 1;
                }
                else
                {
                    step.Message.Length.ShouldBeGreaterThan(10, $"{id} fails in silence");
                    lost++;
                    why = off is null ? $"{id}: {step.Message}" : why;
                }
            }
        }

        // Every reference was tried, and failing is the exception: where what it names was taken away.
        held.Keys.Order().ShouldBe(Witnesses(Sizes.Random(random), true).Keys.Order());
        held.Values.Min().ShouldBeGreaterThan(100, string.Join(", ", held) + why);
        lost.ShouldBeLessThan(14 * 250 / 5);
    }
}
