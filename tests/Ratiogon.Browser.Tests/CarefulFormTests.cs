using System.Globalization;
using System.Text.Json;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Browser.Tests;

/// <summary>Forms where something easily goes wrong in silence, as a user meets them.</summary>
public class CarefulFormTests(ServerFixture fixture) : BrowserTest(fixture)
{
    private static string Json(PartCommand command) => JsonSerializer.Serialize(command, PartJson.Compact);

    private static PartCommand[] Sketched(string id, Vec2 centre, Vec2 corner) => [new AddStep(new SketchStep(id, 0, id, World.Xy, Sketch.Empty)), new EditSketch(id, ShapeCatalog.RectangleByCentre("r", centre, corner))];

    private void Open(string name, params PartCommand[] commands)
    {
        B.Go($"/parts/{B.Create(name, Json(new Several([.. commands], "scene")))}");
        B.Settled();
    }

    private double Volume => double.Parse(B.Find("[data-offer=volume] [data-value]").Text.Split(' ')[0], CultureInfo.InvariantCulture);

    private void Shows(double volume, string what) => B.Until(() => Math.Abs(Volume - volume) < 0.01 * Math.Max(1, volume * 1e-4), what);

    /// <summary>An edge that a notch divides is bevelled whole; its length is asked of a piece.</summary>
    [Fact]
    public void A_divided_edge_means_all_its_pieces()
    {
        SignUp();
        Open(
            "Divided",
            [
                .. Sketched("base", new(0, 0), new(45, 20)), new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm" }),
                .. Sketched("notch", new(0, 20), new(15, 30)), new AddStep(new ExtrudeStep("cut", 0, "Notch", "notch") { Length = "20 mm", Operation = FormOperation.Cut }),
                new AddStep(new ChamferStep("bevel", 0, "Bevel", ["block/end^block/side/r.top"]) { Size = "2 mm" }),
            ]);
        Shows((90 * 40 * 20) - (30 * 10 * 20) - (60 * 2), "both pieces bevelled");
        B.Command(Json(new AddStep(new ReadingStep("long", 0, "long", "edge-length", ["block/side/r.top^block/start"]))));
        B.Until(() => B.Text("[aria-label='Build sheet']").Contains("is in 2 pieces now", StringComparison.Ordinal), "the pieces to be told");
        var offers = B.Text("[aria-label='Build sheet']").Split('\n').Where(t => t.StartsWith("take ", StringComparison.Ordinal)).ToList();
        offers.Count.ShouldBe(2);
        B.PressText(offers[0]);
        B.Until(() => B.Text("[data-step=long]").Contains("30 mm", StringComparison.Ordinal), "the length of one piece");
    }

    /// <summary>Both ways from the sketch plane, changed from a straight extrude in its panel.</summary>
    [Fact]
    public void Draft_leans_both_ways_from_the_sketch_plane()
    {
        SignUp();
        Open("Leaning", [.. Sketched("base", new(0, 0), new(40, 25)), new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm", Second = "8 mm", Extent = ExtrudeExtent.TwoLengths })]);
        Shows(80 * 50 * 28, "the straight block");
        B.Command(Json(new ReplaceStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm", Second = "8 mm", Extent = ExtrudeExtent.TwoLengths, Draft = "5 deg" })));
        static double Half(double height)
        {
            var t = height * Math.Tan(5 * Math.PI / 180);
            return height / 6 * ((80 * 50) + ((80 - (2 * t)) * (50 - (2 * t))) + ((160 - (2 * t)) * (100 - (2 * t))));
        }

        Shows(Half(20) + Half(8), "both halves leaning");
    }
}
