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

/// <summary>The spout of the dosing pump: a flange with rounded corners and four screw holes, and a hollow spout lofted from
/// circle to circle, leaning to the side.</summary>
public static class Spout
{
    public static Part Build()
    {
        PartCommand[] commands =
        [
            new RenamePart("Spout"),
            new SetMaterial("polypropylene", 0.91) { Colour = "#e4e8ea" },
            new SetParameter("flange_w", "48 mm", "width of the flange"),
            new SetParameter("flange_d", "32 mm", "depth of the flange"),
            new SetParameter("flange_t", "4 mm", "thickness of the flange"),
            new SetParameter("tall", "40 mm", "height of the spout"),
            new SetParameter("aside", "12 mm", "how far it leans"),
            new SetParameter("wide", "20 mm", "outside at the flange"),
            new SetParameter("narrow", "12 mm", "outside at the mouth"),
            new SetParameter("wall", "2 mm", "of the spout"),
            new AddStep(new SketchStep("flange_s", 0, "Flange outline", World.Xy, Sketch.Empty)),
            new EditSketch("flange_s", Outline()),
            new AddStep(new ExtrudeStep("flange", 0, "Flange", "flange_s") { Length = "flange_t" }),
            new AddStep(
                new FilletStep(
                    "corners",
                    0,
                    "Rounded corners",
                    [
                        "flange/side/rim.bottom^flange/side/rim.left",
                        "flange/side/rim.bottom^flange/side/rim.right",
                        "flange/side/rim.left^flange/side/rim.top",
                        "flange/side/rim.right^flange/side/rim.top",
                    ]
                )
                {
                    Radius = "5 mm",
                }
            ),
            new AddStep(new PlaneStep("mouth", 0, "Mouth plane", [new DatumCondition("offset", ["flange/end"]) { Values = ["tall"] }])),
            new AddStep(new SketchStep("root_s", 0, "Outside at the flange", "flange/end", Sketch.Empty)),
            new EditSketch("root_s", DemoShapes.Round("root", Vec2.Zero, 10, "wide")),
            new AddStep(new SketchStep("tip_s", 0, "Outside at the mouth", "mouth", Sketch.Empty)),
            new EditSketch("tip_s", Aside("tip", 6, "narrow")),
            new AddStep(new LoftStep("spout", 0, "Spout", ["root_s", "tip_s"]) { Straight = true }),
            new AddStep(new SketchStep("inlet_s", 0, "Inside at the flange", "flange/end", Sketch.Empty)),
            new EditSketch("inlet_s", DemoShapes.Round("inlet", Vec2.Zero, 8, "wide - 2 * wall")),
            new AddStep(new SketchStep("outlet_s", 0, "Inside at the mouth", "mouth", Sketch.Empty)),
            new EditSketch("outlet_s", Aside("outlet", 4, "narrow - 2 * wall")),
            new AddStep(new LoftStep("hollow", 0, "Hollow", ["inlet_s", "outlet_s"]) { Straight = true, Operation = FormOperation.Cut }),
            new AddStep(
                new ExtrudeStep("throat", 0, "Throat", "inlet_s")
                {
                    Length = "flange_t",
                    Flip = true,
                    Operation = FormOperation.Cut,
                }
            ),
            new AddStep(new SketchStep("screws_s", 0, "Screw place", "flange/end", Sketch.Empty)),
            new EditSketch(
                "screws_s",
                new SketchEdit
                {
                    Add = [new PointEntity("place", new Vec2(19, 11))],
                    Size =
                    [
                        new SketchDimension("x", "horizontal-distance", [Sketch.Origin, "place"], "flange_w / 2 - 5 mm"),
                        new SketchDimension("y", "vertical-distance", [Sketch.Origin, "place"], "flange_d / 2 - 5 mm"),
                    ],
                }
            ),
            new AddStep(
                new HoleStep("screw", 0, "Screw hole", ["screws_s/place"])
                {
                    Sizing = HoleSizing.Clearance,
                    Thread = "M3",
                    Extent = HoleExtent.Through,
                    Head = HoleHead.Countersink,
                    HeadDiameter = "6 mm",
                    HeadAngle = "90 deg",
                }
            ),
            new AddStep(
                new PatternStep("screws", 0, "Screw holes", ["screw"])
                {
                    Along = "world/x",
                    Spacing = "10 mm - flange_w",
                    Count = "2",
                    Across = "world/y",
                    Rows = "2",
                    RowSpacing = "10 mm - flange_d",
                }
            ),
            new AddStep(new ReadingStep("spout_mass", 0, "Mass", "mass", []) { Most = "40 g" }),
        ];
        return Commanded.Made(commands);
    }

    /// <summary>The volume worked out by hand, in mm³. Leaning does not change it (Cavalieri).</summary>
    public static double VolumeByHand(
        double w = 48,
        double d = 32,
        double t = 4,
        double tall = 40,
        double wide = 20,
        double narrow = 12,
        double wall = 2
    )
    {
        static double Frustum(double a, double b, double h) => Math.PI * h / 12 * ((a * a) + (a * b) + (b * b));
        static double Disc(double x) => Math.PI * x * x / 4;
        var flange = (w * d) - (4 * 25 * (1 - (Math.PI / 4)));
        var sink = (6 - 3.4) / 2;
        return ((flange - Disc(wide - (2 * wall))) * t)
            + Frustum(wide, narrow, tall)
            - Frustum(wide - (2 * wall), narrow - (2 * wall), tall)
            - (4 * (Frustum(6, 3.4, sink) + (Disc(3.4) * (t - sink))));
    }

    private static SketchEdit Outline()
    {
        var edit = ShapeCatalog
            .RectangleByCentre("rim", Vec2.Zero, new Vec2(24, 16))
            .With(ShapeCatalog.Placed("rim", "rim.centre", Vec2.Zero));
        return edit with { Size = [ShapeCatalog.Width("rim", "flange_w"), ShapeCatalog.Height("rim", "flange_d")] };
    }

    private static SketchEdit Aside(string id, double radius, string diameter) =>
        new()
        {
            Add = [new PointEntity($"{id}.centre", new Vec2(12, 0)), new CircleEntity($"{id}.rim", $"{id}.centre", radius)],
            Tie = [new SketchConstraint($"{id}.level", "horizontal", [Sketch.Origin, $"{id}.centre"])],
            Size =
            [
                new SketchDimension($"{id}.aside", "horizontal-distance", [Sketch.Origin, $"{id}.centre"], "aside"),
                new SketchDimension($"{id}.d", "diameter", [$"{id}.rim"], diameter),
            ],
        };
}
