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

/// <summary>The hose cradle of the dosing pump: a rounded plate with two arc slots that guide the hose, a hexagon for the
/// rotor's bearing and a grid of fixing holes.</summary>
public static class HoseCradle
{
    public static Part Build()
    {
        PartCommand[] commands =
        [
            new RenamePart("Hose cradle"),
            new SetMaterial("polyamide", 1.14),
            new SetParameter("cradle_w", "110 mm", "width"),
            new SetParameter("cradle_h", "74 mm", "height"),
            new SetParameter("corner", "10 mm", "rounding of the corners"),
            new SetParameter("guide_r", "22 mm", "radius of the hose's centre line"),
            new SetParameter("hose", "8 mm", "outside of the hose"),
            new SetParameter("hold", "110 deg", "how far the hose is held"),
            new SetParameter("bearing", "13 mm", "across flats"),
            new SetParameter("thick", "12 mm", "thickness"),
            new SetParameter("across", "2", "fixing holes in a row"),
            new AddStep(new SketchStep("profile", 0, "Profile", World.Xy, Sketch.Empty)),
            new EditSketch("profile", Profile()),
            new AddStep(new ExtrudeStep("cradle", 0, "Cradle", "profile") { Length = "thick" }),
            new AddStep(new ReadingStep("cradle_mass", 0, "Mass", "mass", []) { Most = "100 g" }),
            new SetVariants([
                Hose("Hose 4", "4 mm", "16 mm"),
                Hose("Hose 6", "6 mm", "19 mm"),
                Hose("Hose 8", "8 mm", "22 mm"),
                Hose("Hose 10", "10 mm", "hose + 14 mm"),
                Hose("Hose 12", "12 mm", "hose + 14 mm"),
            ]),
        ];
        return Commanded.Made(commands);
    }

    /// <summary>The cradle for a hose, with how closely it may be bent.</summary>
    private static Variant Hose(string name, string hose, string guide) =>
        new(name, [new VariantValue("hose", hose), new VariantValue("guide_r", guide)]);

    /// <summary>The volume of the cradle worked out by hand, in mm³.</summary>
    public static double VolumeByHand(
        double w = 110,
        double h = 74,
        double corner = 10,
        double r = 22,
        double hose = 8,
        double hold = 110 * Math.PI / 180,
        double bearing = 13,
        double t = 12,
        int across = 2
    )
    {
        var plate = (w * h) - ((4 - Math.PI) * corner * corner);
        var slot = (r * hold * hose) + (Math.PI * hose * hose / 4);
        var hexagon = Math.Sqrt(3) / 2 * bearing * bearing;
        var holes = across * 2 * Math.PI * 5.5 * 5.5 / 4;
        return (plate - (2 * slot) - hexagon - holes) * t;
    }

    private static SketchEdit Profile()
    {
        var edit = Rectangles
            .Rounded("plate", new Vec2(-55, -37), new Vec2(55, 37), 10)
            .With(Slots.AlongArc("upper", Vec2.Zero, Vec2.Polar(35 * Math.PI / 180, 22), Vec2.Polar(145 * Math.PI / 180, 22), 4))
            .With(Slots.AlongArc("lower", Vec2.Zero, Vec2.Polar(215 * Math.PI / 180, 22), Vec2.Polar(325 * Math.PI / 180, 22), 4))
            .With(Polygons.Regular("seat", Vec2.Zero, new Vec2(0, 6.5), 6, byFlat: true, "6"))
            .With(
                new SketchEdit
                {
                    Add = [new PointEntity("fix.centre", new Vec2(-44, -26)), new CircleEntity("fix.rim", "fix.centre", 2.75)],
                    Shapes = [new SketchShape("fix", "circle")],
                }
            );
        edit = edit.With(
            Patterns.Grid(
                "fixing",
                [edit.Add.First(e => e.Id == "fix.centre"), edit.Add.First(e => e.Id == "fix.rim")],
                2,
                new Vec2(88, 0),
                2,
                new Vec2(0, 52),
                "across",
                "2"
            )
        );
        return edit with
        {
            Tie =
            [
                .. edit.Tie,
                Tie("centred", "midpoint", Sketch.Origin, "plate.m1", "plate.m3"),
                Tie("about", "coincident", Sketch.Origin, "upper.centre", "lower.centre", "seat.centre"),
                Tie("even1", "symmetric", "upper.c1", "upper.c2", Sketch.YAxis),
                Tie("even2", "symmetric", "lower.c1", "lower.c2", Sketch.YAxis),
                Tie("flat", "horizontal", "seat.s1"),
                Tie("row", "horizontal", "fix.centre", Patterns.CopyId("fixing", 1, 0)),
                Tie("column", "vertical", "fix.centre", Patterns.CopyId("fixing", 2, 0)),
            ],
            Size =
            [
                Rectangles.RoundedWidth("plate", "cradle_w"),
                Rectangles.RoundedHeight("plate", "cradle_h"),
                Rectangles.CornerRadius("plate", "corner"),
                Slots.Radius("upper", "guide_r"),
                Slots.Sweep("upper", "hold"),
                Slots.ArcWidth("upper", "hose"),
                Slots.Radius("lower", "guide_r"),
                Slots.Sweep("lower", "hold"),
                Slots.ArcWidth("lower", "hose"),
                Polygons.Across("seat", "bearing"),
                Size("fix.d", "diameter", "5.5 mm", "fix.rim"),
                Size("fix.x", "horizontal-distance", "cradle_w / 2 - 11 mm", Sketch.Origin, "fix.centre"),
                Size("fix.y", "vertical-distance", "cradle_h / 2 - 11 mm", Sketch.Origin, "fix.centre"),
                Size(
                    "fix.across",
                    "horizontal-distance",
                    "(cradle_w - 22 mm) / (across - 1)",
                    "fix.centre",
                    Patterns.CopyId("fixing", 1, 0)
                ),
                Size("fix.up", "vertical-distance", "cradle_h - 22 mm", "fix.centre", Patterns.CopyId("fixing", 2, 0)),
            ],
        };
    }

    private static SketchConstraint Tie(string id, string kind, params string[] of) => new(id, kind, [.. of]);

    private static SketchDimension Size(string id, string kind, string value, params string[] of) => new(id, kind, [.. of], value);
}
