using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Solids.Tests;

/// <summary>Profiles with ellipses, splines, slots and polygons become exact bodies.</summary>
public class CurvedProfileTests
{
    private static BodyResult Extruded(SketchEdit profile, double length)
    {
        PartCommand[] commands =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", profile),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = $"{length} mm" }),
        ];
        var part = commands.Aggregate(new Part(), (p, c) => c.Apply(p).Value);
        using var rebuilder = new Rebuilder(new NativeKernel());
        var result = rebuilder.Rebuild(part);
        result.Steps.ShouldAllBe(s => s.State == StepState.Built);
        return result.Bodies.Single();
    }

    [Fact]
    public void The_cradle_has_the_volume_worked_out_by_hand_and_flexes()
    {
        var part = HoseCradle.Build();
        using var rebuilder = new Rebuilder(new NativeKernel());
        double Volume(Part p) => rebuilder.Rebuild(p).Bodies.Single().Mass.Volume;
        Volume(part).ShouldBe(HoseCradle.VolumeByHand(), HoseCradle.VolumeByHand() * 1e-9);
        var other = new SetParameter("hold", "80 deg")
            .Apply(new SetParameter("guide_r", "20 mm").Apply(new SetParameter("bearing", "15 mm").Apply(part).Value).Value)
            .Value;
        var expected = HoseCradle.VolumeByHand(r: 20, hold: 80 * Math.PI / 180, bearing: 15);
        Volume(other).ShouldBe(expected, expected * 1e-9);
    }

    [Theory]
    [InlineData(30, 12)]
    [InlineData(9, 21)]
    public void An_ellipse_is_extruded_exactly(double a, double b)
    {
        var body = Extruded(
            new SketchEdit
            {
                Add =
                [
                    new PointEntity("c", new(3, 4)),
                    new PointEntity("f", new(3 + a, 4)),
                    new PointEntity("g", new(3, 4 + b)),
                    new EllipseEntity("x", "c", "f", "g"),
                ],
            },
            7
        );
        body.Mass.Volume.ShouldBe(Math.PI * a * b * 7, 1e-6 * Math.PI * a * b * 7);
        body.Names.Faces.ShouldContain("e/side/x");
    }

    [Fact]
    public void A_spline_and_half_an_ellipse_bound_a_body_of_the_area_of_their_region()
    {
        var profile = new SketchEdit
        {
            Add =
            [
                new PointEntity("a", new(-20, 0)),
                new PointEntity("m", new(-4, -13)),
                new PointEntity("n", new(9, -6)),
                new PointEntity("b", new(20, 0)),
                new SplineEntity("s", ["a", "m", "n", "b"], [1, 1, 1]),
                new PointEntity("c", new(0, 0)),
                new PointEntity("g", new(0, 11)),
                new EllipticArcEntity("x", "c", "b", "g", "b", "a"),
            ],
        };
        var body = Extruded(profile, 5);
        var sketch = new Sketch { Entities = profile.Add };
        var area = Arrangement.Of(sketch).Regions.Single().Area;
        body.Mass.Volume.ShouldBe(area * 5, area * 5e-6);
        area.ShouldBeGreaterThan(Math.PI * 20 * 11 / 2);
    }
}
