using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Solids.Tests;

/// <summary>Hollow bodies whose walls are thicker than the roundings that they lie behind.</summary>
public sealed class HollowTests : BuildTest
{
    private BodyResult Built(params PartCommand[] commands) => Built(Parts.Of(commands)).Bodies.Single();

    [Theory]
    [InlineData(2, 3, false)]
    [InlineData(4, 4, false)]
    [InlineData(2, 5, true)]
    [InlineData(5, 3, false)]
    public void Behind_a_rounding_that_is_thinner_than_the_wall_the_inside_is_sharp(double radius, double wall, bool closed)
    {
        var made = Built(
        [
            .. Parts.Block(40, 30, 20),
            new AddStep(new FilletStep("round", 0, "", ["e/side/r.bottom^e/side/r.right", "e/side/r.left^e/side/r.top"]) { Radius = $"{radius} mm" }),
            new AddStep(new ShellStep("k", 0, "", closed ? [] : ["e/end"]) { Closed = closed, Body = "e", Thickness = $"{wall} mm" }),
        ]);
        var outside = ((40 * 30) - (2 * (1 - (Math.PI / 4)) * radius * radius)) * 20;
        var inside = ((40 - (2 * wall)) * (30 - (2 * wall))) - (radius > wall ? 2 * (1 - (Math.PI / 4)) * (radius - wall) * (radius - wall) : 0);
        made.Mass.Volume.ShouldBe(outside - (inside * (20 - (closed ? 2 * wall : wall))), 1e-6 * outside);
        made.Names.Faces.ShouldContain("k/inner/(e/side/r.left)");
        made.Names.Faces.ShouldContain("e/side/r.left");
    }

    [Fact]
    public void A_box_rounded_all_round_is_hollowed_by_more_than_its_rounding()
    {
        var made = Built(
        [
            .. Parts.Block(40, 30, 20),
            new AddStep(new FilletStep("round", 0, "", ["e/end", "e/side/r.left^e/side/r.top", "e/side/r.bottom^e/side/r.left", "e/side/r.right^e/side/r.top", "e/side/r.bottom^e/side/r.right"]) { Radius = "2 mm" }),
            new AddStep(new ShellStep("k", 0, "", ["e/start"]) { Thickness = "3 mm" }),
        ]);
        var whole = Built([.. Parts.Block(40, 30, 20), new AddStep(new FilletStep("round", 0, "", ["e/end", "e/side/r.left^e/side/r.top", "e/side/r.bottom^e/side/r.left", "e/side/r.right^e/side/r.top", "e/side/r.bottom^e/side/r.right"]) { Radius = "2 mm" })]).Mass.Volume;
        made.Mass.Volume.ShouldBe(whole - (34 * 24 * 17), 1e-6 * whole);
    }

    [Fact]
    public void Outside_a_hollow_corner_that_is_rounded_less_than_the_wall_the_outside_is_sharp()
    {
        var angle = new Core.Sketching.Editing.SketchEdit
        {
            Add =
            [
                .. new Vec2[] { new(0, 0), new(40, 0), new(40, 15), new(15, 15), new(15, 30), new(0, 30) }.Select((c, i) => (SketchEntity)new PointEntity($"p{i}", c)),
                .. Enumerable.Range(0, 6).Select(i => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{(i + 1) % 6}")),
            ],
        };
        var made = Built(
        [
            .. Parts.Sketched("s", World.Xy, angle), new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "10 mm" }),
            new AddStep(new FilletStep("round", 0, "", ["e/side/l2^e/side/l3"]) { Radius = "2 mm" }),
            new AddStep(new ShellStep("k", 0, "", ["e/end", "e/start"]) { Thickness = "3 mm", Outwards = true }),
        ]);
        var inside = (40 * 15) + (15 * 15) + ((1 - (Math.PI / 4)) * 4);
        made.Mass.Volume.ShouldBe(((46 * 21) + (21 * 15) - inside) * 10, 1e-3);
    }
}
