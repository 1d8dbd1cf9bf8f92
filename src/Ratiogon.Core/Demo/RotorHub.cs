using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Demo;

/// <summary>The rotor hub of the dosing pump: a disc with a hub, a bore with a keyway, and a cross hole for a grub screw,
/// drilled square to a plane that touches the hub's curved side at an angle to the keyway.</summary>
public static class RotorHub
{
    public static Part Build()
    {
        PartCommand[] commands =
        [
            new RenamePart("Rotor hub"),
            new SetMaterial("brass", 8.5),
            new SetParameter("disc_d", "60 mm", "outside of the disc"),
            new SetParameter("disc_t", "8 mm", "thickness of the disc"),
            new SetParameter("hub_d", "24 mm", "outside of the hub"),
            new SetParameter("hub_h", "20 mm", "height of the hub"),
            new SetParameter("bore", "10 mm", "for the shaft"),
            new SetParameter("key_w", "3 mm", "width of the key"),
            new SetParameter("key_top", "6.5 mm", "keyway from the middle"),
            new SetParameter("screw", "4 mm", "cross hole"),
            new SetParameter("lean", "45 deg", "cross hole from the keyway"),
            new AddStep(new SketchStep("disc_s", 0, "Disc outline", World.Xy, Sketch.Empty)),
            new EditSketch("disc_s", DemoShapes.Round("disc", Vec2.Zero, 30, "disc_d")),
            new AddStep(new ExtrudeStep("disc", 0, "Disc", "disc_s") { Length = "disc_t" }),
            new AddStep(new SketchStep("hub_s", 0, "Hub outline", "disc/end", Sketch.Empty)),
            new EditSketch("hub_s", DemoShapes.Round("hub", Vec2.Zero, 12, "hub_d")),
            new AddStep(new ExtrudeStep("hub", 0, "Hub", "hub_s") { Length = "hub_h" }),
            new AddStep(new SketchStep("bore_s", 0, "Bore", World.Xy, Sketch.Empty)),
            new EditSketch("bore_s", DemoShapes.Round("bore", Vec2.Zero, 5, "bore")),
            new AddStep(
                new ExtrudeStep("boring", 0, "Boring", "bore_s") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }
            ),
            new AddStep(new SketchStep("key_s", 0, "Keyway", World.Xy, Sketch.Empty)),
            new EditSketch("key_s", Keyway()),
            new AddStep(
                new ExtrudeStep("keyway", 0, "Keying", "key_s") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }
            ),
            new AddStep(
                new PlaneStep(
                    "seat",
                    0,
                    "Screw seat",
                    [
                        new DatumCondition("tangent", ["hub/side/hub.rim"]),
                        new DatumCondition("angle", ["keyway/side/way.top"]) { Values = ["lean"] },
                    ]
                )
                {
                    Choice = Seat,
                }
            ),
            new AddStep(new SketchStep("screw_s", 0, "Screw", "seat", Sketch.Empty)),
            new EditSketch("screw_s", DemoShapes.Round("screw", Vec2.Zero, 2, "screw")),
            new AddStep(new HoleStep("drilling", 0, "Cross hole", ["screw_s/screw.rim"]) { Diameter = "screw", Depth = "hub_d / 2" }),
            new AddStep(new AxisStep("shaft", 0, "Shaft axis", [new DatumCondition("axis-of", ["boring/side/bore.rim"])])),
            new AddStep(new ReadingStep("hub_mass", 0, "Mass", "mass", []) { Most = "255 g" }),
        ];
        return Commanded.Made(commands);
    }

    /// <summary>Which of the four planes: the one whose normal points out of the hub on the keyway's side.</summary>
    internal const string Seat = "+ - a";

    /// <summary>The volume worked out by hand, in mm³: the cross hole takes what lies between two cylinders.</summary>
    public static double VolumeByHand(
        double disc = 60,
        double t = 8,
        double hub = 24,
        double h = 20,
        double bore = 10,
        double key = 3,
        double top = 6.5,
        double screw = 4
    )
    {
        static double Disc(double d) => Math.PI * d * d / 4;
        var (r, half) = (bore / 2, key / 2);

        // The keyway beyond the bore: a rectangle less a slice of the bore's circle.
        var slice = (half * Math.Sqrt((r * r) - (half * half))) + (r * r * Math.Asin(half / r));
        var across = Simpson(
            y =>
                2
                * Math.Sqrt(Math.Max(0, (screw * screw / 4) - (y * y)))
                * (Math.Sqrt((hub * hub / 4) - (y * y)) - Math.Sqrt((r * r) - (y * y))),
            -screw / 2,
            screw / 2
        );
        return (Disc(disc) * t) + (Disc(hub) * h) - (Disc(bore) * (t + h)) - (((key * top) - slice) * (t + h)) - across;
    }

    /// <summary>Simpson's rule after y = a sin s, which takes the roots at the ends away.</summary>
    private static double Simpson(Func<double, double> f, double from, double to)
    {
        const int Steps = 2000;
        var (middle, half) = ((from + to) / 2, (to - from) / 2);
        double At(int i) => -(Math.PI / 2) + (Math.PI * i / Steps) is var s ? f(middle + (half * Math.Sin(s))) * half * Math.Cos(s) : 0;
        var sum = At(0) + At(Steps);
        for (var i = 1; i < Steps; i++)
        {
            sum += (i % 2 == 1 ? 4 : 2) * At(i);
        }

        return sum * Math.PI / Steps / 3;
    }

    private static SketchEdit Keyway()
    {
        var edit = ShapeCatalog.RectangleByCentre("way", new Vec2(0, 3.25), new Vec2(1.5, 6.5));
        return edit with
        {
            Tie = edit.Tie.Add(new SketchConstraint("way.foot", "midpoint", [Sketch.Origin, "way.bottom"])),
            Size = [ShapeCatalog.Width("way", "key_w"), ShapeCatalog.Height("way", "key_top")],
        };
    }
}
