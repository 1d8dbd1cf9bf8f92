using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Demo;

/// <summary>The hose guide of the dosing pump: a tube swept along the hose's centre line, a spline in space, with a clip that
/// stands on its end, on the plane normal to it.</summary>
public static class HoseGuide
{
    public static Part Build()
    {
        PartCommand[] commands =
        [
            new RenamePart("Hose guide"),
            new SetMaterial("polyamide", 1.14),
            new SetParameter("rise", "45 mm", "height of the end"),
            new SetParameter("hose", "8 mm", "outside of the hose"),
            new SetParameter("tube", "11 mm", "outside of the guide"),
            new SetParameter("clip", "14 mm", "outside of the clip"),
            new SetParameter("clip_t", "6 mm", "thickness of the clip"),
            Point("start", "0 mm", "0 mm", "0 mm"),
            Point("bend", "35 mm", "10 mm", "rise / 3"),
            Point("turn", "60 mm", "40 mm", "rise * 2 / 3"),
            Point("end", "65 mm", "80 mm", "rise"),
            new AddStep(new CurveStep("line", 0, "Centre line", CurveShape.Spline, ["start", "bend", "turn", "end"])),
            new AddStep(new PointStep("half", 0, "Half-way", [new DatumCondition("at-fraction", ["line"]) { Values = ["1/2"] }])),
            new AddStep(
                new PlaneStep("end_plane", 0, "End plane", [new DatumCondition("normal-at-fraction", ["line"]) { Values = ["1"] }])
            ),
            new AddStep(
                new SketchStep("clip_s", 0, "Clip outline", "end_plane", Sketch.Empty)
                {
                    Copies = [new SketchCopy(CopyHow.Crossing, "line", ["mark"]) { Choice = "in" }],
                }
            ),
            new EditSketch("clip_s", Clip()),
            new AddStep(new ExtrudeStep("clip_e", 0, "Clip", "clip_s") { Length = "clip_t" }),
            new AddStep(
                new SweepStep("tube_e", 0, "Guide tube", ["line"])
                {
                    Profile = SweepProfile.Round,
                    Diameter = "tube",
                    Bore = "hose",
                }
            ),
            new AddStep(new ReadingStep("guide_mass", 0, "Mass", "mass", []) { Most = "8 g" }),
        ];
        return Commanded.Made(commands);
    }

    /// <summary>The volume worked out by hand, in mm³: by Pappus the tube has the volume of a straight one of its length.</summary>
    /// <param name="length">Of the centre line, in millimetres.</param>
    /// <param name="hose">Outside of the hose.</param>
    /// <param name="clip">Outside of the clip.</param>
    /// <param name="t">Thickness of the clip.</param>
    /// <param name="tube">Outside of the tube.</param>
    public static double VolumeByHand(double length, double hose = 8, double clip = 14, double t = 6, double tube = 11) =>
        Math.PI / 4 * ((((clip * clip) - (hose * hose)) * t) + (((tube * tube) - (hose * hose)) * length));

    /// <summary>The length of the centre line.</summary>
    /// <param name="rise">Height of its end.</param>
    public static double LengthByHand(double rise = 45) =>
        BSplineCurve.Through([new Vec3(0, 0, 0), new Vec3(35, 10, rise / 3), new Vec3(60, 40, rise * 2 / 3), new Vec3(65, 80, rise)])
            is var line
            ? Enumerable.Range(0, 200_000).Sum(i => line.Slope(line.From + ((line.To - line.From) * (i + 0.5) / 200_000)).Length)
                * (line.To - line.From)
                / 200_000
            : 0;

    private static AddStep Point(string id, string x, string y, string z) =>
        new(new PointStep(id, 0, char.ToUpperInvariant(id[0]) + id[1..], [new DatumCondition("coordinates", []) { Values = [x, y, z] }]));

    private static SketchEdit Clip() =>
        new()
        {
            Add =
            [
                new PointEntity("mark", Vec2.Zero),
                new PointEntity("middle", Vec2.Zero),
                new CircleEntity("inner", "middle", 4),
                new CircleEntity("outer", "middle", 7),
            ],
            Tie = [new SketchConstraint("held", "fixed", ["mark"]), new SketchConstraint("about", "coincident", ["mark", "middle"])],
            Size =
            [
                new SketchDimension("inner.d", "diameter", ["inner"], "hose"),
                new SketchDimension("outer.d", "diameter", ["outer"], "clip"),
            ],
        };
}
