using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Solids.Tests;

/// <summary>Points, axes, planes and frames as live copies of others: mirrored, moved and turned, against the motion worked out by
/// itself.</summary>
public sealed class CopiedDatumTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private static AddStep Free(string id, Random random, double scale)
    {
        string Mm() => FormattableString.Invariant($"{((random.NextDouble() * 2) - 1) * scale:R} mm");
        string Deg() => FormattableString.Invariant($"{(random.NextDouble() * 360) - 180:R} deg");
        return new(new FrameStep(id, 0, "", [new DatumCondition("free", []) { Values = [Mm(), Mm(), Mm(), Deg(), Deg(), Deg()] }]));
    }

    private static DatumCondition Moved(string how, string what, double value) =>
        how switch
        {
            "mirrored" => new(how, [what, "by/xy"]),
            "moved" => new(how, [what, "by/z"]) { Values = [FormattableString.Invariant($"{value:R} mm")] },
            _ => new(how, [what, "by/z"]) { Values = [FormattableString.Invariant($"{value:R} deg")] },
        };

    /// <summary>The motion in coordinates of the frame that gives it, where it is plain.</summary>
    private static Vec3 Goes(string how, Frame by, Vec3 place, double value, bool direction)
    {
        var l = direction ? new Vec3(place.Dot(by.X), place.Dot(by.Y), place.Dot(by.Z)) : by.ToLocal(place);
        var (sin, cos) = Math.SinCos(value * Math.PI / 180);
        var m = how switch
        {
            "mirrored" => l with { Z = -l.Z },
            "moved" => direction ? l : l with { Z = l.Z + value },
            _ => new Vec3((l.X * cos) - (l.Y * sin), (l.X * sin) + (l.Y * cos), l.Z),
        };
        return direction ? (by.X * m.X) + (by.Y * m.Y) + (by.Z * m.Z) : by.ToWorld(m);
    }

    public static TheoryData<string, double> Cases =>
        [.. from how in new[] { "mirrored", "moved", "spun" } from scale in new[] { 1e-2, 1, 250, 1e5 } select (how, scale)];

    [Theory]
    [MemberData(nameof(Cases))]
    public void A_copy_lies_where_the_motion_takes_its_original_and_follows_it(string how, double scale)
    {
        for (var seed = 0; seed < 6; seed++)
        {
            var random = new Random(seed);
            var value = how == "moved" ? scale * 0.7 : (random.NextDouble() * 300) - 150;
            var part = Parts.Of([
                Free("by", random, scale),
                Free("of", random, scale),
                new AddStep(new PointStep("p", 0, "", [Moved(how, "of/origin", value)])),
                new AddStep(new AxisStep("a", 0, "", [Moved(how, "of/x", value)])),
                new AddStep(new PlaneStep("q", 0, "", [Moved(how, "of/xy", value)])),
                new AddStep(new FrameStep("f", 0, "", [Moved(how, "of", value)])),
            ]);
            Check(part);
            Check(part.With(((FrameStep)Free("of", random, scale).Step) with { Number = part.Find("of")!.Number }));

            void Check(Part now)
            {
                var built = rebuilder.Rebuild(now, withMesh: false);
                built.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
                Frame At(string id) => built.Step(id)!.Frame!.Value;
                var (by, of) = (At("by"), At("of"));
                Vec3 Place(Vec3 p) => Goes(how, by, p, value, false);
                Vec3 Way(Vec3 d) => Goes(how, by, d, value, true);
                var tolerance = 1e-9 * scale * 10;
                At("p").Origin.DistanceTo(Place(of.Origin)).ShouldBeLessThan(tolerance);
                new Line3(At("a").Origin, At("a").X).DistanceTo(Place(of.Origin)).ShouldBeLessThan(tolerance);
                At("a").X.DistanceTo(Way(of.X)).ShouldBeLessThan(1e-9);
                Math.Abs((Place(of.Origin) - At("q").Origin).Dot(At("q").Z)).ShouldBeLessThan(tolerance);
                At("q").Z.DistanceTo(Way(of.Z)).ShouldBeLessThan(1e-9);
                At("q").X.Cross(Way(of.X)).Length.ShouldBeLessThan(1e-9);
                At("f").Origin.DistanceTo(Place(of.Origin)).ShouldBeLessThan(tolerance);
                At("f").X.DistanceTo(Way(of.X)).ShouldBeLessThan(1e-9);
                At("f").Y.DistanceTo(Way(of.Y)).ShouldBeLessThan(1e-9);
                At("f").Z.DistanceTo(At("f").X.Cross(At("f").Y)).ShouldBeLessThan(1e-9);
            }
        }
    }

    /// <summary>A line from the mirror's plane on, an arc and a spline, as half of a frame of curves.</summary>
    private static PartCommand[] HalfAFrame(string support) =>
        [
            Parts.Line("leg", new Vec3(0, 5, 0), new Vec3(30, 20, 8)),
            new AddStep(
                new FrameStep(
                    "tilt",
                    0,
                    "",
                    [new DatumCondition("free", []) { Values = ["0 mm", "0 mm", "0 mm", "20 deg", "30 deg", "10 deg"] }]
                )
            ),
            new AddStep(new PlaneStep("lean", 0, "", [new DatumCondition("offset", ["tilt/xy"]) { Values = ["3 mm"] }])),
            new AddStep(
                new CurveStep("bow", 0, "", CurveShape.Arc, ["leg_b"])
                {
                    Support = support,
                    Radius = "6 mm",
                    From = "10 deg",
                    To = "100 deg",
                }
            ),
            new AddStep(new CurveStep("wave", 0, "", CurveShape.Spline, ["leg_a", "leg_b", "tilt/origin"])),
        ];

    [Theory]
    [InlineData("copies-mirrored", World.Yz, 3, "tilt")]
    [InlineData("copies-mirrored", World.Yz, 3, "lean")]
    [InlineData("copies-mirrored", World.Yz, 3, World.Xy)]
    [InlineData("copies-round-4", "world/z", 9, "tilt")]
    [InlineData("copies-round-4", "world/z", 9, "lean")]
    [InlineData("copies-moved", "world/z", 3, "lean")]
    public void A_frame_of_curves_is_made_whole_in_one_press_and_follows(string offer, string by, int copies, string support)
    {
        var part = Parts.Of(HalfAFrame(support));
        var offers = Core.Tools.Picks.Offers.OnModel(part, rebuilder.Rebuild(part, withMesh: false), ["leg", "bow", "wave", by], []);
        var pressed = offers.Single(o => o.Id == offer);
        pressed.Group.ShouldBe("Copies in space");
        var whole = Parts.Of([.. HalfAFrame(support), pressed.Command!]);
        Check(whole);
        // The foot of the leg lies in the plane: both halves share it.
        if (offer == "copies-mirrored")
        {
            whole.Steps.OfType<CurveStep>().Last(c => c.Shape == CurveShape.Line).Points[0].ShouldBe("leg_a");
        }

        Check(
            whole.With(
                ((PointStep)whole.Find("leg_b")!) with
                {
                    Conditions = ((PointStep)Parts.Point("leg_b", new Vec3(25, 11, -4)).Step).Conditions,
                }
            )
        );

        void Check(Part now)
        {
            var built = rebuilder.Rebuild(now, withMesh: false);
            built.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
            var curves = now.Steps.OfType<CurveStep>().ToList();
            curves.Count.ShouldBe(3 + copies);
            foreach (var (copy, i) in curves.Skip(3).Select((c, i) => (c, i)))
            {
                Vec3 Goes(Vec3 p) =>
                    offer switch
                    {
                        "copies-mirrored" => p with { X = -p.X },
                        "copies-moved" => p with { Z = p.Z + 20 },
                        _ => p.Turned(Vec3.AlongZ, (1 + (i / 3)) * Math.PI / 2),
                    };
                var (from, to) = (built.Step(curves[i % 3].Id)!.Drawn, built.Step(copy.Id)!.Drawn);
                copy.Name.ShouldStartWith(curves[i % 3].Name);
                to.Length.ShouldBe(from.Length);
                Enumerable.Range(0, to.Length).Max(k => to[k].DistanceTo(Goes(from[k]))).ShouldBeLessThan(1e-6, copy.Name);
            }
        }
    }

    [Fact]
    public void Half_a_frame_of_curves_is_made_whole_on_mirrored_points()
    {
        var part = Parts.Of([
            Parts.Line("half", new Vec3(10, 5, 0), new Vec3(30, 20, 8)),
            new AddStep(new PointStep("ma", 0, "", [new DatumCondition("mirrored", ["half_a", World.Yz])])),
            new AddStep(new PointStep("mb", 0, "", [new DatumCondition("mirrored", ["half_b", World.Yz])])),
            new AddStep(new CurveStep("other", 0, "", CurveShape.Line, ["ma", "mb"])),
        ]);
        var built = rebuilder.Rebuild(part, withMesh: false);
        built.Steps.Where(s => s.State != StepState.Built).Select(s => s.Message).ShouldBeEmpty();
        built.Step("other")!.Drawn[^1].DistanceTo(new Vec3(-30, 20, 8)).ShouldBeLessThan(1e-9);
        Model.Of(part, built).Find("mb").Value.Words.ShouldNotBeEmpty();
    }
}
