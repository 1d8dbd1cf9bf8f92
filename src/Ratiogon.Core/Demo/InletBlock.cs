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

/// <summary>The inlet block of the dosing pump: a block with two inclined ports, each drilled from a frame of its own that
/// stands on the top and leans towards the middle.</summary>
public static class InletBlock
{
    public static Part Build()
    {
        PartCommand[] commands =
        [
            new RenamePart("Inlet block"),
            new SetMaterial("acetal", 1.41),
            new SetParameter("block_w", "60 mm", "width"),
            new SetParameter("block_d", "30 mm", "depth"),
            new SetParameter("block_h", "28 mm", "height"),
            new SetParameter("apart", "34 mm", "between the ports"),
            new SetParameter("lean", "20 deg", "of the ports"),
            new SetParameter("port", "6 mm", "diameter of the ports"),
            new SetParameter("deep", "18 mm", "along the ports"),
            new AddStep(new SketchStep("block_s", 0, "Block outline", World.Xy, Sketch.Empty)),
            new EditSketch("block_s", Outline()),
            new AddStep(new ExtrudeStep("block", 0, "Block", "block_s") { Length = "block_h" }),
            new AddStep(new PointStep("mid", 0, "Top middle", [new DatumCondition("at-middle", ["block/end"])])),
            new AddStep(
                new FrameStep(
                    "top",
                    0,
                    "Top frame",
                    [
                        new DatumCondition("origin", ["mid"]),
                        new DatumCondition("z-square", ["block/end"]),
                        new DatumCondition("x", ["block/end^block/side/box.bottom"]),
                    ]
                )
            ),
            .. Port("left", "-apart / 2", "-lean"),
            .. Port("right", "apart / 2", "lean"),
            new AddStep(
                new AxisStep("left_axis", 0, "Left port axis", [new DatumCondition("axis-of", ["left_drill/wall/(left_s/left.rim)"])])
            ),
            new AddStep(
                new AxisStep("right_axis", 0, "Right port axis", [new DatumCondition("axis-of", ["right_drill/wall/(right_s/right.rim)"])])
            ),
            new AddStep(
                new PointStep(
                    "meeting",
                    0,
                    "Where the ports would meet",
                    [new DatumCondition("on-line", ["left_axis"]), new DatumCondition("on-line", ["right_axis"])]
                )
            ),
            new AddStep(new ReadingStep("block_mass", 0, "Mass", "mass", []) { Most = "72 g" }),
            new AddStep(
                new ReadingStep(
                    "between",
                    0,
                    "Wall between the ports",
                    "distance",
                    ["left_drill/wall/(left_s/left.rim)", "right_drill/wall/(right_s/right.rim)"]
                )
                {
                    Least = "1 mm",
                }
            ),
            new LimitParameter("apart", "16 mm", "40 mm"),
            new LimitParameter("lean", "0 deg", "35 deg"),
        ];
        return Commanded.Made(commands);
    }

    /// <summary>The volume worked out by hand, in mm³: a leaning port takes as much as a square one, and the cone of its drill.</summary>
    public static double VolumeByHand(double w = 60, double d = 30, double h = 28, double port = 6, double deep = 18)
    {
        var r = port / 2;
        return (w * d * h) - (2 * Math.PI * r * r * (deep + (r / Math.Tan(59 * Math.PI / 180) / 3)));
    }

    /// <summary>The wall left between the ports worked out by hand, in mm: they come nearest at their ends.</summary>
    public static double BetweenByHand(double apart = 34, double lean = 20 * Math.PI / 180, double port = 6, double deep = 18) =>
        apart - (2 * ((deep * Math.Sin(lean)) + (port / 2 * Math.Cos(lean))));

    /// <summary>How far below the top the port axes would meet, in millimetres.</summary>
    public static double MeetingByHand(double apart = 34, double lean = 20 * Math.PI / 180) => apart / 2 / Math.Tan(lean);

    private static PartCommand[] Port(string id, string x, string lean) =>
        [
            new AddStep(
                new FrameStep(
                    $"{id}_frame",
                    0,
                    $"{id} port frame",
                    [new DatumCondition("like", ["top"]) { Values = [x, "0 mm", "0 mm", "0 deg", lean, "0 deg"] }]
                )
            ),
            new AddStep(new SketchStep($"{id}_s", 0, $"{id} port", $"{id}_frame", Sketch.Empty)),
            new EditSketch($"{id}_s", DemoShapes.Round(id, Vec2.Zero, 3, "port")),
            new AddStep(new HoleStep($"{id}_drill", 0, $"{id} port hole", [$"{id}_s/{id}.rim"]) { Diameter = "port", Depth = "deep" }),
        ];

    private static SketchEdit Outline()
    {
        var edit = ShapeCatalog
            .RectangleByCentre("box", Vec2.Zero, new Vec2(30, 15))
            .With(ShapeCatalog.Placed("box", "box.centre", Vec2.Zero));
        return edit with { Size = [ShapeCatalog.Width("box", "block_w"), ShapeCatalog.Height("box", "block_d")] };
    }
}
