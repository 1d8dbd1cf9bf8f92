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

/// <summary>The motor plate of the dosing pump: a plate with a pilot bore and its collar, two adjusting slots and four
/// corner holes. Built through the commands that a user's clicks send.</summary>
public static class MotorPlate
{
    public static Part Build()
    {
        PartCommand[] commands =
        [
            new RenamePart("Motor plate"),
            new SetMaterial("aluminium", 2.7),
            new SetParameter("plate_w", "90 mm", "width of the plate"),
            new SetParameter("plate_h", "64 mm", "height of the plate"),
            new SetParameter("thick", "6 mm", "thickness"),
            new SetParameter("bore", "22 mm", "pilot of the motor"),
            new SetParameter("collar", "bore + 10 mm", "outside of the collar"),
            new SetParameter("inset", "7 mm", "corner holes from the edges"),
            new SetParameter("slot_w", "5.5 mm", "for M5, with play"),
            new SetParameter("travel", "12 mm", "of the adjusting slots"),
            new LimitParameter("thick", "4 mm", "10 mm"),
            Add(new SketchStep("outline", 0, "Outline", World.Xy, Sketch.Empty)),
            new EditSketch("outline", Outline()),
            Add(new ExtrudeStep("plate", 0, "Plate", "outline") { Length = "thick" }),
            Add(new SketchStep("ring", 0, "Collar ring", "plate/end", Sketch.Empty)),
            new EditSketch("ring", Ring()),
            Add(new ExtrudeStep("collar", 0, "Collar", "ring") { Length = "4 mm" }),
            Add(new SketchStep("slots", 0, "Slots", "plate/end", Sketch.Empty)),
            new EditSketch("slots", Slot("upper", 1).With(Slot("lower", -1))),
            Add(new ExtrudeStep("slotting", 0, "Slotting", "slots") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
            Add(new SketchStep("corners", 0, "Corner holes", "plate/end", Sketch.Empty)),
            new EditSketch("corners", Corners()),
            Add(
                new HoleStep("drilling", 0, "4x M5", ["corners/h1.rim", "corners/h2.rim", "corners/h3.rim", "corners/h4.rim"])
                {
                    Sizing = HoleSizing.Tapped,
                    Thread = "M5",
                    Extent = HoleExtent.Through,
                }
            ),
            Add(new ReadingStep("plate_mass", 0, "Mass", "mass", []) { Most = "95 g" }),
            Add(new ReadingStep("plate_volume", 0, "Volume", "volume", [])),
            Add(
                new ReadingStep("wall", 0, "Bore to slot", "distance", ["plate/side/bore.rim", "slotting/side/upper.bottom"])
                {
                    Least = "9.2 mm",
                }
            ),
            Add(
                new ReadingStep(
                    "spacing",
                    0,
                    "screw_spacing",
                    "distance-along",
                    ["drilling/wall/(corners/h1.rim)^plate/end", "drilling/wall/(corners/h2.rim)^plate/end"]
                )
                {
                    Along = World.Id + "/x",
                    Least = "75.8 mm",
                    Most = "76.2 mm",
                }
            ),
            new SetGeneralTolerance(GeneralTolerance.Medium),
            new SetTolerance("outline", "bore.d", "H7"),
            new SetTolerance("slots", "upper.height", "±0.02"),
            new SetTolerance("slots", "upper.r", "+0.03 0"),
        ];
        return Commanded.Made(commands);
    }

    /// <summary>The volume of the plate worked out by hand, in mm³.</summary>
    public static double VolumeByHand(double w = 90, double h = 64, double t = 6, double bore = 22, double slot = 5.5, double travel = 12)
    {
        var collar = bore + 10;
        static double Disc(double d) => Math.PI * d * d / 4;
        return (w * h * t)
            - (Disc(bore) * t)
            + ((Disc(collar) - Disc(bore)) * 4)
            - (2 * t * ((travel * slot) + Disc(slot)))
            - (4 * t * Disc(4.2));
    }

    private static AddStep Add(Step step) => new(step);

    private static SketchEdit Outline()
    {
        var edit = ShapeCatalog
            .RectangleByCentre("frame", Vec2.Zero, new Vec2(45, 32))
            .With(ShapeCatalog.Placed("frame", "frame.centre", Vec2.Zero))
            .With(DemoShapes.Round("bore", Vec2.Zero, 11));
        return edit with
        {
            Size =
            [
                ShapeCatalog.Width("frame", "plate_w"),
                ShapeCatalog.Height("frame", "plate_h"),
                new SketchDimension("bore.d", "diameter", ["bore.rim"], "bore"),
            ],
        };
    }

    private static SketchEdit Ring()
    {
        var edit = DemoShapes.Round("inner", Vec2.Zero, 11).With(DemoShapes.Round("outer", Vec2.Zero, 16));
        return edit with
        {
            Size =
            [
                new SketchDimension("inner.d", "diameter", ["inner.rim"], "bore"),
                new SketchDimension("outer.d", "diameter", ["outer.rim"], "collar"),
            ],
        };
    }

    /// <summary>A straight slot along x above or below the bore: two arcs, two lines.</summary>
    private static SketchEdit Slot(string id, int side)
    {
        var (y, c, r) = (side * 23.0, 6.0, 2.75);
        SketchEntity P(string name, double px, double py) => new PointEntity($"{id}.{name}", new Vec2(px, py));
        string N(string name) => $"{id}.{name}";
        return new SketchEdit
        {
            Add =
            [
                P("a", -c, y),
                P("b", c, y),
                P("tl", -c, y + r),
                P("bl", -c, y - r),
                P("br", c, y - r),
                P("tr", c, y + r),
                new ArcEntity(N("left"), N("a"), N("tl"), N("bl"), r),
                new ArcEntity(N("right"), N("b"), N("br"), N("tr"), r),
                new LineEntity(N("bottom"), N("bl"), N("br")),
                new LineEntity(N("top"), N("tr"), N("tl")),
            ],
            Tie =
            [
                Tie("k1", "vertical", N("a"), N("tl"), N("bl")),
                Tie("k2", "vertical", N("b"), N("br"), N("tr")),
                Tie("k3", "horizontal", N("a"), N("b")),
                Tie("k4", "equal", N("left"), N("right")),
            ],
            Size =
            [
                Size("travel", "horizontal-distance", "travel", N("a"), N("b")),
                Size("start", "horizontal-distance", "travel / 2", Sketch.Origin, N("a")),
                Size("height", "vertical-distance", "plate_h / 2 - 9 mm", Sketch.Origin, N("a")),
                Size("r", "radius", "slot_w / 2", N("left")),
            ],
        };

        SketchConstraint Tie(string name, string kind, params string[] of) => new(N(name), kind, [.. of]);
        SketchDimension Size(string name, string kind, string value, params string[] of) => new(N(name), kind, [.. of], value);
    }

    private static SketchEdit Corners()
    {
        var edit = new SketchEdit();
        foreach (var (name, x, y) in new[] { ("h1", -38.0, -25.0), ("h2", 38.0, -25.0), ("h3", 38.0, 25.0), ("h4", -38.0, 25.0) })
        {
            edit = edit.With(
                new SketchEdit
                {
                    Add = [new PointEntity($"{name}.centre", new Vec2(x, y)), new CircleEntity($"{name}.rim", $"{name}.centre", 2.25)],
                    Size =
                    [
                        new SketchDimension($"{name}.x", "horizontal-distance", [Sketch.Origin, $"{name}.centre"], "plate_w / 2 - inset"),
                        new SketchDimension($"{name}.y", "vertical-distance", [Sketch.Origin, $"{name}.centre"], "plate_h / 2 - inset"),
                    ],
                }
            );
        }

        return edit with
        {
            Tie = [new SketchConstraint("same", "equal", ["h1.rim", "h2.rim", "h3.rim", "h4.rim"])],
            Size = edit.Size.Add(new SketchDimension("h1.d", "diameter", ["h1.rim"], "4.5 mm")),
        };
    }
}
