using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Browser.Tests;

/// <summary>Forms where something easily goes wrong in silence, as a user meets them.</summary>
public class CarefulFormTests(ServerFixture fixture) : FormBench(fixture)
{
    private static PartCommand[] Drawn(string id, Vec2 centre, Vec2 corner) =>
        [
            new AddStep(new SketchStep(id, 0, id, World.Xy, Sketch.Empty)),
            new EditSketch(id, ShapeCatalog.RectangleByCentre("r", centre, corner)),
        ];

    private void Shows(double volume, string what) => B.Until(() => Math.Abs(Volume() - volume) < Math.Max(0.01, volume * 1e-6), what);

    /// <summary>An edge that a notch divides is bevelled whole; its length is asked of a piece.</summary>
    [Fact]
    public void A_divided_edge_means_all_its_pieces()
    {
        Open([
            .. Drawn("base", new(0, 0), new(45, 20)),
            new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm" }),
            .. Drawn("notch", new(0, 20), new(15, 30)),
            new AddStep(new ExtrudeStep("cut", 0, "Notch", "notch") { Length = "20 mm", Operation = FormOperation.Cut }),
            new AddStep(new ChamferStep("bevel", 0, "Bevel", ["block/end^block/side/r.top"]) { Size = "2 mm" }),
        ]);
        Shows((90 * 40 * 20) - (30 * 10 * 20) - (60 * 2), "both pieces bevelled");
        B.Command(Json(new AddStep(new ReadingStep("long", 0, "long", "edge-length", ["block/side/r.top^block/start"]))));
        B.Until(
            () => B.Text("[aria-label='Build sheet']").Contains("is in 2 pieces now", StringComparison.Ordinal),
            "the pieces to be told"
        );
        var offers = B.Text("[aria-label='Build sheet']").Split('\n').Where(t => t.StartsWith("take ", StringComparison.Ordinal)).ToList();
        offers.Count.ShouldBe(2);
        B.PressText(offers[0]);
        B.Until(() => B.Text("[data-step=long]").Contains("30 mm", StringComparison.Ordinal), "the length of one piece");
    }

    /// <summary>Both ways from the sketch plane; a straight extrude first.</summary>
    [Fact]
    public void Draft_leans_both_ways_from_the_sketch_plane()
    {
        Open([
            .. Drawn("base", new(0, 0), new(40, 25)),
            new AddStep(
                new ExtrudeStep("block", 0, "Block", "base")
                {
                    Length = "20 mm",
                    Second = "8 mm",
                    Extent = ExtrudeExtent.TwoLengths,
                }
            ),
        ]);
        Shows(80 * 50 * 28, "the straight block");
        B.Command(
            Json(
                new ReplaceStep(
                    new ExtrudeStep("block", 0, "Block", "base")
                    {
                        Length = "20 mm",
                        Second = "8 mm",
                        Extent = ExtrudeExtent.TwoLengths,
                        Draft = "5 deg",
                    }
                )
            )
        );
        static double Half(double height)
        {
            var t = height * Math.Tan(5 * Math.PI / 180);
            return height / 6 * ((80 * 50) + ((80 - (2 * t)) * (50 - (2 * t))) + ((160 - (2 * t)) * (100 - (2 * t))));
        }

        Shows(Half(20) + Half(8), "both halves leaning");
    }

    /// <summary>In the panel: no opening, the body picked; undone, and a bevel of two sizes begun with one edge turned.</summary>
    [Fact]
    public void A_body_is_hollow_without_an_opening_and_a_bevel_is_turned_at_one_edge()
    {
        Open(TheBlock);
        Begin("shell");
        More("closed");
        B.Press("[data-testid=form-panel] [data-field=closed]");
        Pick(Top);
        Value("thickness", "2");
        Accept(Block - (56 * 36 * 16));
        Undo();
        Begin("chamfer");
        Pick(TopFrontEdge, CornerEdge);
        Choose("how", "two sizes");
        Value("size", "2");
        Value("second", "6");
        Use("turned");
        Pick(CornerEdge);
        B.Until(() => B.Text("[data-testid=form-state]") == "ready" && Picks().Split('|').Length == 3, "two bevels, one of them turned");
        B.Press("[data-testid=form-cancel]");
    }

    /// <summary>A body with its rounding mirrored as it stands; then hollow, with a wall thicker than the rounding.</summary>
    [Fact]
    public void A_body_is_mirrored_as_it_stands_and_a_thick_wall_stands_behind_a_rounding()
    {
        Open([.. TheBlock, new AddStep(new FilletStep("soft", 0, "Soft", ["block/side/r.bottom^block/side/r.right"]) { Radius = "3 mm" })]);
        var rounded = Block - ((1 - (Math.PI / 4)) * 9 * 20);
        Shows(rounded, "the rounded block");
        Begin("mirror");
        More("whole");
        B.Press("[data-testid=form-panel] input[data-field=whole]");
        B.Find("[data-testid=form-panel] button[data-field=bodies]");
        Use("bodies");
        Pick(Top);
        Use("about");
        Pick((60, 20, 6));
        Choose("operation", "bodies of their own");
        Accept(2 * rounded);
        Undo();
        Shows(rounded, "one block again");
        Begin("shell");
        Pick(Top);
        Value("thickness", "5");
        Accept(rounded - (50 * 30 * 15));
    }

    private bool Says(string reading, double value) =>
        System
            .Text.RegularExpressions.Regex.Matches(B.Text($"[data-step={reading}]"), @"-?\d+(\.\d+)?")
            .Any(n => Math.Abs(double.Parse(n.Value, System.Globalization.CultureInfo.InvariantCulture) - value) < 0.006);

    /// <summary>A sketch on a leaning face, swept through level: its hole goes with the face.</summary>
    [Fact]
    public void A_leaning_face_goes_through_level_with_its_sketch()
    {
        var tilted = new FrameStep(
            "base",
            0,
            "Base",
            [new DatumCondition("free", []) { Values = ["0 mm", "0 mm", "0 mm", "tilt", "0 deg", "0 deg"] }]
        );
        Open([
            new SetParameter("tilt", "-10 deg"),
            new AddStep(tilted),
            new AddStep(new SketchStep("s", 0, "s", "base", Sketch.Empty)),
            new EditSketch("s", Rectangle(0, 0, 60, 40)),
            new AddStep(new ExtrudeStep("block", 0, "Block", "s") { Length = "20 mm" }),
            Sketched("h", "block/end"),
            new EditSketch("h", Circle("c", 20, 8, 3)),
            new AddStep(
                new HoleStep("hole", 0, "Hole", ["h/c"])
                {
                    Diameter = "6 mm",
                    Depth = "8 mm",
                    Point = "180 deg",
                }
            ),
            new AddStep(new ReadingStep("x_of", 0, "x_of", "place-x", ["h/c@centre"])),
            new AddStep(new ReadingStep("y_of", 0, "y_of", "place-y", ["h/c@centre"])),
        ]);
        Shows(Block - (Math.PI * 9 * 8), "the drilled block");
        foreach (var tilt in new[] { -3, -1, 0, 1, 3, 10 })
        {
            B.Command(Json(new SetParameter("tilt", $"{tilt} deg")));
            B.Settled();
            var y = (8 * Math.Cos(tilt * Math.PI / 180)) - (20 * Math.Sin(tilt * Math.PI / 180));
            B.Until(
                () => Says("x_of", 20) && Says("y_of", y),
                $"the hole at 20, {y:0.###} at {tilt} deg; it says {B.Text("[data-step=x_of]")} {B.Text("[data-step=y_of]")}"
            );
        }

        B.ConsoleErrors().ShouldBeEmpty();
    }
}
