using System.Text.Json;
using OpenQA.Selenium;
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

/// <summary>Measuring, readings with limits, and handing over, in the browser. The scene is a block from the origin to
/// (60, 40, 20) with two bores of 8 and 6, and a pin of its own beside it.</summary>
public class GaugeBenchTests(ServerFixture fixture) : BrowserTest(fixture, fresh: false)
{
    private static readonly (double X, double Y, double Z) RimA = (15 - (4 * 0.7071), 10 - (4 * 0.7071), 20),
        RimB = (45 - (3 * 0.7071), 30 - (3 * 0.7071), 20),
        FrontEdge = (30, 0, 20),
        Right = (60, 20, 6);

    private static string Json(PartCommand command) => JsonSerializer.Serialize(command, PartJson.Compact);

    private static SketchEdit Circle(string id, double x, double y, double r) =>
        new() { Add = [new PointEntity(id + "c", new Vec2(x, y)), new CircleEntity(id, id + "c", r)] };

    private static PartCommand[] Scene =>
        [
            new AddStep(new SketchStep("base", 0, "Base", World.Xy, Sketch.Empty)),
            new EditSketch("base", ShapeCatalog.RectangleByCentre("r", new Vec2(30, 20), new Vec2(60, 40))),
            new AddStep(new ExtrudeStep("block", 0, "Block", "base") { Length = "20 mm" }),
            new AddStep(new SketchStep("holes", 0, "Holes", "block/end", Sketch.Empty)),
            new EditSketch("holes", Circle("a", 15, 10, 4).With(Circle("b", 45, 30, 3))),
            new AddStep(new ExtrudeStep("bores", 0, "Bores", "holes") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
            new AddStep(new SketchStep("pins", 0, "Pins", World.Xy, Sketch.Empty)),
            new EditSketch("pins", Circle("p", 80, 20, 5)),
            new AddStep(new ExtrudeStep("pin", 0, "Pin", "pins") { Length = "20 mm", Operation = FormOperation.Body }),
        ];

    private const double Block = (60 * 40 * 20) - (Math.PI * (16 + 9) * 20);

    private void Open(params PartCommand[] more)
    {
        OpenNew("Gauged", Json(new Several([.. Scene, .. more], "scene")));
        B.Press("[data-view=fit]");
        B.Drawn();
        B.PressBench("Gauge");
    }

    private void Click((double X, double Y, double Z) at, bool extend = false) => B.ClickPlace(at.X, at.Y, at.Z, extend);

    private void Slot(string slot, (double X, double Y, double Z) at)
    {
        B.Press($"[data-slot={slot}]");
        B.Until(() => B.Attribute($"[data-slot={slot}]", "aria-pressed") == "true", $"{slot} to be active");
        var before = B.Text($"[data-slot={slot}]");
        Click(at);
        B.Until(() => B.Text($"[data-slot={slot}]") != before, $"{slot} to be filled");
    }

    private void Reads(string what, string shown) =>
        B.Until(
            () => B.Has($"[data-value-of={what}]") && B.Text($"[data-value-of={what}] [data-value]") == shown,
            $"{what} of {shown}; it is {(B.Has($"[data-value-of={what}]") ? B.Text($"[data-value-of={what}]") : "not there")}"
        );

    [Fact]
    public void Two_slots_and_a_direction_each_replaced_without_starting_again()
    {
        Open();
        B.Press("[data-tool=measure]");
        B.Until(() => B.Prompt.Contains("measure from", StringComparison.Ordinal), "the prompt");
        Click(RimA);
        Reads("diameter", "8 mm");
        Click(RimB);
        Reads("centre-distance", "36.056 mm");
        Reads("angle", "0 deg");
        Slot("along", FrontEdge);
        Reads("distance-along", "30 mm");
        B.Text("[data-value-of=distance-along]").ShouldContain("36.056 mm apart");
        B.Text("[data-value-of=distance-along]").ShouldContain("33.69 deg off the direction");

        // The direction by numbers, a wrong one with its reason and nothing lost.
        B.Press("[data-slot=along]");
        B.Fill("[data-testid=gauge-direction]", "0 0 0" + Keys.Enter);
        B.Until(
            () =>
                B.Has("[data-testid=gauge-refusal]")
                && B.Text("[data-testid=gauge-refusal]").Contains("points nowhere", StringComparison.Ordinal),
            "the reason"
        );
        Reads("distance-along", "30 mm");
        B.Fill("[data-testid=gauge-direction]", Keys.Control + "a" + Keys.Null + "0, 1, 0" + Keys.Enter);
        Reads("distance-along", "20 mm");

        // The first slot replaced by a face, the second by a place made on the spot.
        Slot("first", Right);
        Reads("distance", "12 mm");
        Slot("second", FrontEdge);
        Reads("distance", "0 mm");
        B.Press("[data-snap='second middle']");
        Reads("distance", "30 mm");
        B.Fill("[data-share=second]", "0.75" + Keys.Tab);
        B.Until(() => B.Text("[data-value-of=distance] [data-value]") is "15 mm" or "45 mm", "a quarter from one end");
        B.Press("[data-snap='second start']");

        // A point by its coordinates.
        B.Press("[data-slot=second]");
        B.Fill("[data-testid=gauge-panel] [data-field=place]", "100, 20, 6" + Keys.Enter);
        Reads("distance", "40 mm");

        // A crossing of two edges, by Shift.
        B.Press("[aria-label='Clear to']");
        Click(FrontEdge);
        B.Until(() => B.Text("[data-slot=second]").Length > 8, "an edge");
        B.Press("[data-slot=second]");
        Click((60, 20, 20), extend: true);
        B.Until(
            () => B.Text("[data-slot=second]").Contains("crossing", StringComparison.Ordinal),
            "the crossing; it says " + B.Text("[data-slot=second]")
        );
        Reads("distance", "0 mm");
        B.Type(Keys.Escape);
        B.Until(() => !B.Has("[data-testid=gauge-panel]"), "the tool to be left");

        // Bodies by their rows: what is between them, and one of them in another frame.
        B.Press("[data-tool=measure]");
        B.Find("[data-testid=gauge-panel]");
        B.Press("[data-edit=block]");
        Reads("volume", $"{Block:0.###} mm³");
        B.Press("[data-edit=pin]");
        Reads("gap", "15 mm");
        B.Press("[aria-label='Clear from']");
        B.Press("[aria-label='Clear to']");
        B.Press("[data-slot=first]");
        B.Press("[data-edit=pin]");
        Reads("box-x", "10 mm");
        Slot("in", Right);
        Reads("box-z", "10 mm");
        B.Press("[aria-label='Leave measuring']");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void Distance_between_hole_centres_along_a_direction_takes_three_picks()
    {
        Open();
        Click(RimA);
        Click(RimB, extend: true);
        Click(FrontEdge, extend: true);
        B.Until(
            () => B.Has("[data-offer=distance-along]") && B.Text("[data-offer=distance-along] [data-value]") == "30 mm",
            "the distance among the offers"
        );
        B.Press("[data-offer=distance-along]");
        B.Until(() => B.Has("[data-step=reading1]"), "the reading kept");
        B.Until(() => B.Text("[data-step=reading1]").Contains("30 mm", StringComparison.Ordinal), "its value in the build sheet");
        B.Until(() => B.Has("[data-reading-label=reading1]"), "its label in the view");
    }

    [Theory]
    [InlineData("face-area", "a face", 0)]
    [InlineData("edge-length", "an edge", 1)]
    [InlineData("radius", "a rim", 2)]
    public void One_pick_offers_what_it_has(string offer, string words, int which)
    {
        Open();
        Click(
            which == 0 ? Right
            : which == 1 ? FrontEdge
            : RimA
        );
        B.Until(() => B.Has($"[data-offer={offer}]"), $"{offer} of {words}");
        B.Text($"[data-offer={offer}] [data-value]")
            .ShouldBe(
                which == 0 ? "800 mm²"
                : which == 1 ? "60 mm"
                : "4 mm"
            );
    }

    [Fact]
    public void Every_kind_of_reading_is_kept_listed_limited_and_used_in_formulas()
    {
        ReadingStep Kept(string what, params string[] of) => new($"k_{what.Replace('-', '_')}", 0, "", what, [.. of]);
        var (a, b) = ("block/end^bores/side/a", "block/end^bores/side/b");
        (ReadingStep Step, string Shown)[] all =
        [
            (Kept("distance", "bores/side/a", "bores/side/b"), "29.056 mm"),
            (Kept("distance-along", a, b) with { Along = "world/y" }, "20 mm"),
            (Kept("centre-distance", a, b), "36.056 mm"),
            (Kept("axis-distance", "bores/side/a", "bores/side/b"), "36.056 mm"),
            (Kept("angle", "block/end", "block/side/r.right"), "90 deg"),
            (Kept("radius", "bores/side/a"), "4 mm"),
            (Kept("diameter", b), "6 mm"),
            (Kept("edge-length", "block/end^block/side/r.bottom"), "60 mm"),
            (Kept("face-area", "block/side/r.right"), "800 mm²"),
            (Kept("perimeter", "block/side/r.right"), "120 mm"),
            (Kept("bend-radius", a), "4 mm"),
            (Kept("place-x", $"{b}@centre"), "45 mm"),
            (Kept("place-y", $"{b}@centre"), "30 mm"),
            (Kept("place-z", "block/end@middle"), "20 mm"),
            (Kept("gap", "block", "pin"), "15 mm"),
            (Kept("overlap", "block", "pin"), "0 mm³"),
            (Kept("volume", "pin"), "1570.796 mm³"),
            (Kept("box-z", "pin"), "20 mm"),
            (Kept("centre-x", "pin"), "80 mm"),
            (Kept("wall", "block") with { Along = "world/x" }, "11 mm"),
        ];
        Open([.. all.Select(r => new AddStep(r.Step))]);
        B.Press("[data-tool=readings]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-reading]")).Count == all.Length, "every reading in the table");
        foreach (var (step, shown) in all)
        {
            B.Until(
                () => B.Text($"[data-reading={step.Id}]").Contains(shown, StringComparison.Ordinal),
                $"{step.What} of {shown}; the row says {B.Text($"[data-reading={step.Id}]")}"
            );
        }

        // Limits: pass, near, fail; a wrong one is refused and the field keeps what was.
        void Verdict(string word) => B.Until(() => B.Has($"[data-reading=k_gap] [data-verdict={word}]"), $"the gap to {word}");
        B.Fill("[data-least=k_gap]", "10" + Keys.Tab);
        Verdict("pass");
        B.Fill("[data-most=k_gap]", "15.2" + Keys.Tab);
        Verdict("near");
        B.Fill("[data-least=k_gap]", Keys.Control + "a" + Keys.Null + "15.1" + Keys.Tab);
        Verdict("fail");
        B.Until(
            () => B.Find("[data-step=k_gap]").FindElements(By.CssSelector(".text-alert")).Count > 0,
            "the failing reading in the build sheet"
        );
        B.Fill("[data-most=k_gap]", Keys.Control + "a" + Keys.Null + "3 deg" + Keys.Tab);
        B.Until(() => B.Refusal.Contains("A length is needed", StringComparison.Ordinal), "why it is refused");
        B.Attribute("[data-most=k_gap]", "value").ShouldBe("15.2 mm");
        var csv = (string)
            B.Driver.ExecuteAsyncScript(
                "const done = arguments[0]; fetch(document.querySelector('[data-testid=readings-csv]').href).then(r => r.text()).then(done)"
            )!;
        csv.TrimEnd().Split('\n').Length.ShouldBe(all.Length + 1);
        csv.ShouldContain("gap between bodies,block to pin,15,mm,15.1 mm,15.2 mm,fail");

        // A later form takes its length from a reading, and follows.
        B.Command(
            Json(
                new Several(
                    [
                        new AddStep(new SketchStep("more", 0, "More", World.Xy, Sketch.Empty)),
                        new EditSketch("more", Circle("q", 110, 20, 5)),
                        new AddStep(new ExtrudeStep("stud", 0, "Stud", "more") { Length = "gap * 2", Operation = FormOperation.Body }),
                        new AddStep(new ReadingStep("tall", 0, "tall", "box-z", ["stud"])),
                    ],
                    "more"
                )
            )
        );
        B.Until(() => B.Text("[data-reading=tall]").Contains("30 mm", StringComparison.Ordinal), "twice the gap");
        B.Command(Json(new EditSketch("pins", new SketchEdit { Remove = ["p", "pc"], Add = [.. Circle("p2", 84, 20, 5).Add] })));
        B.Settled();
    }

    [Fact]
    public void Every_format_is_written_and_bodies_and_drawings_read_back()
    {
        Open();
        B.Press("[data-testid=files]");
        B.Press("[data-testid=export]");
        B.Press("[data-format=stl]");
        B.Until(() => B.Text("[data-testid=export-preview]").Contains("triangles", StringComparison.Ordinal), "the preview");
        var coarse = B.Text("[data-testid=export-preview]");
        B.Fill("[data-testid=deviation]", Keys.Control + "a" + Keys.Null + "0.005" + Keys.Tab);
        B.Until(
            () => B.Text("[data-testid=export-preview]") is var now && now.Contains("straying", StringComparison.Ordinal) && now != coarse,
            "a finer one"
        );
        B.Fill("[data-testid=deviation]", Keys.Control + "a" + Keys.Null + "90" + Keys.Tab);
        B.Until(
            () =>
                B.Has("[data-testid=export-refusal]")
                && B.Text("[data-testid=export-refusal]").Contains("from 0.0005 to 5 mm", StringComparison.Ordinal),
            "the reason"
        );
        B.Fill("[data-testid=deviation]", Keys.Control + "a" + Keys.Null + "0.05" + Keys.Tab);
        foreach (var ending in new[] { "iges", "stl", "3mf", "glb", "svg", "json", "step" })
        {
            B.Press($"[data-format='{ending}']");
            B.Press("[data-testid=export-write]");
            B.Until(() => Directory.GetFiles(B.Downloads, $"gauged*.{ending}").Length > 0, $"the {ending} file");
        }

        B.Press("[aria-label='Close the export']");
        string File(string ending) =>
            Directory.GetFiles(B.Downloads, $"gauged*.{ending}").OrderByDescending(System.IO.File.GetLastWriteTimeUtc).First();
        var (step, iges, svg) = (File("step"), File("iges"), File("svg"));

        // Read back: bodies as steps whose faces can be picked, a drawing as a sketch.
        foreach (var file in new[] { step, iges })
        {
            B.Go($"/parts/{B.Create("Taken", Json(new SetParameter("spare", "1 mm", "")))}");
            B.Settled();
            B.Driver.FindElement(By.CssSelector("[data-testid=import-file]")).SendKeys(file);
            B.Find("[data-step=import1]");
            B.Settled();
            B.Until(
                () =>
                    double.Parse(
                        B.Text("[data-offer=volume] [data-value]").Split(' ')[0],
                        System.Globalization.CultureInfo.InvariantCulture
                    )
                        is var v
                    && Math.Abs(v - Block - (Math.PI * 25 * 20)) < 0.1,
                "the volume of both bodies"
            );
        }

        // What came in is listed; a body can be left out and taken in again.
        double Volume() =>
            double.Parse(B.Text("[data-offer=volume] [data-value]").Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
        B.Press("[data-sizes-of=import1]");
        B.Driver.FindElements(By.CssSelector("[data-body-in]")).Count.ShouldBe(2);
        B.Text("[data-sizes=import1]").ShouldContain("gauged", Case.Insensitive);
        B.Press("[data-body-in='2']");
        B.Until(
            () => B.Attribute("[data-edit=import1]", "title")!.Contains("(left out)", StringComparison.Ordinal),
            "the second body left out"
        );
        B.Settled();
        B.Until(() => Math.Abs(Volume() - Block) < 0.1, "the volume of the block alone");
        B.Press("[data-body-in='1']");
        B.Until(() => B.Refusal.Contains("last body cannot be left out", StringComparison.Ordinal), "the reason");
        B.Find("[data-body-in='1']").Selected.ShouldBeTrue();
        B.Press("[data-body-in='2']");
        B.Settled();
        B.Until(() => Math.Abs(Volume() - Block - (Math.PI * 25 * 20)) < 0.1, "both bodies again");

        B.Press("[data-view=fit]");
        B.Drawn();
        Click(Right);
        B.Until(() => B.Picks.Any(p => p.Contains("import1/face/", StringComparison.Ordinal)), "a face of the imported body");
        B.Text("[data-offer=face-area] [data-value]").ShouldBe("800 mm²");
        B.Press("[data-offer=face-area]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-step]")).Count == 2, "the reading to be kept");
        B.Settled();

        // A newer file in its place: the reading stays on its face. One that cannot be used changes nothing.
        string Row(string id) => B.Text($"[data-step={id}]");
        var reading = B.Driver.FindElements(By.CssSelector("[data-step]"))[1].GetAttribute("data-step")!;
        Row(reading).ShouldContain("800 mm²");
        var bad = Path.Combine(B.Downloads, "bad.step");
        System.IO.File.WriteAllText(bad, "ISO-10303-21; nothing");
        foreach (var (file, taken) in new[] { (bad, false), (step, true) })
        {
            B.Press("[data-more=import1]");
            B.PressText("Put another file in its place");
            B.Driver.FindElement(By.CssSelector("[data-testid=replace-file]")).SendKeys(file);
            if (taken)
            {
                B.Until(
                    () => B.Attribute("[data-edit=import1]", "title")!.Contains(Path.GetFileName(step), StringComparison.Ordinal),
                    "the newer file"
                );
            }
            else
            {
                B.Until(() => B.Refusal.Contains("cannot be used", StringComparison.Ordinal), "the reason");
                B.Attribute("[data-edit=import1]", "title")!.ShouldContain(Path.GetFileName(iges));
            }

            B.Settled();
            Row(reading).ShouldContain("800 mm²");
        }

        B.Driver.FindElement(By.CssSelector("[data-testid=import-file]")).SendKeys(svg);
        B.Find("[data-step=sketch1]");
        B.Driver.FindElement(By.CssSelector("[data-testid=import-file]")).SendKeys(bad);
        B.Until(() => B.Refusal.Contains("cannot be used", StringComparison.Ordinal), "the reason");
        B.Has("[data-step=import2]").ShouldBeFalse();

        // All parts as one archive, and back.
        B.Go("/parts");
        B.Find("[data-testid=save-archive]");
        B.Press("[data-testid=save-archive]");
        var archive = B.Until(() => Directory.GetFiles(B.Downloads, "parts*.zip").FirstOrDefault(), "the archive")!;
        var before = B.Driver.FindElements(By.CssSelector("a[href^='/parts/']")).Count;
        B.Driver.FindElement(By.CssSelector("[data-testid=import-part]")).SendKeys(archive);
        B.Until(() => B.Driver.FindElements(By.CssSelector("a[href^='/parts/']")).Count == 2 * before, "twice the parts");

        // What was refused, and nothing else.
        B.ConsoleErrors().ShouldAllBe(e => e.Contains("422", StringComparison.Ordinal));
    }

    /// <summary>A box from the origin to a corner as STL, as text.</summary>
    private static string Brick(double w, double d, double h)
    {
        int[] sides = [0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4, 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5];
        var triangles = sides
            .Select(i => FormattableString.Invariant($"vertex {(i & 1) * w} {((i >> 1) & 1) * d} {((i >> 2) & 1) * h}"))
            .Chunk(3);
        return $"solid cover\n{string.Concat(triangles.Select(t => $"facet normal 0 0 0\nouter loop\n{string.Join('\n', t)}\nendloop\nendfacet\n"))}endsolid cover\n";
    }

    /// <summary>Triangles of a file: asked for their unit, measured by their faces beside a body, read in another unit and hidden; a
    /// damaged file changes nothing.</summary>
    [Fact]
    public void An_assembly_a_scan_and_a_drawing_of_other_hands_come_into_one_part()
    {
        // Two bodies of one file, each with its own name and colour.
        var kernel = new Solids.NativeKernel();
        using var rebuilder = new Core.Building.Rebuilder(kernel);
        var two = rebuilder.Gauge(((Several)new Several([.. Scene], "scene")).Apply(new Part()).Value).Bodies;
        two.Length.ShouldBeGreaterThan(1);
        var (step, stl, svg) = (
            Path.Combine(B.Downloads, "pair.step"),
            Path.Combine(B.Downloads, "cover.stl"),
            Path.Combine(B.Downloads, "holes.svg")
        );
        File.WriteAllBytes(
            step,
            kernel
                .Write(Core.Kernel.BodyFormat.Step214, [new("Träger", two[0].Solid, "#5b7d8c"), new("Stift 3", two[1].Solid, "#a8482a")])
                .Value
        );
        File.WriteAllText(stl, Brick(60, 40, 20));
        File.WriteAllText(
            svg,
            """
            <svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="120mm" height="60mm" viewBox="0 0 120 60">
              <defs><g id="hole"><circle r="4"/><circle r="7"/></g></defs>
              <rect x="10" y="10" width="100" height="40"/><use xlink:href="#hole" x="30" y="30"/><use href="#hole" transform="translate(90 30) scale(1.5)"/><text x="1" y="1">left out</text>
            </svg>
            """
        );
        OpenNew("Of other hands");
        void Import(string file) => B.Driver.FindElement(By.CssSelector("[data-testid=import-file]")).SendKeys(file);
        Import(step);
        B.Find("[data-step^=import]");
        B.Settled();
        B.PressBench("Gauge");
        var volume = two.Sum(b => b.Mass.Volume);
        B.Until(
            () =>
                Math.Abs(
                    double.Parse(
                        B.Text("[data-offer=volume] [data-value]").Split(' ')[0],
                        System.Globalization.CultureInfo.InvariantCulture
                    ) - volume
                ) < 0.01,
            "both bodies"
        );
        B.Press($"[data-more={B.Attribute("[data-step^=import]", "data-step")}]");
        B.Until(
            () =>
                B.Driver.PageSource.Contains("Träger", StringComparison.Ordinal)
                && B.Driver.PageSource.Contains("Stift 3", StringComparison.Ordinal),
            "the names of both"
        );
        new OpenQA.Selenium.Interactions.Actions(B.Driver).SendKeys(Keys.Escape).Perform();
        Import(stl);
        B.Press("[data-testid=unit-mm]");
        B.Find("[data-step=mesh1]");
        B.Settled();
        Import(svg);
        B.Find("[data-step^=sketch]");
        B.Settled();
        var drawing = B.Attribute("[data-step^=sketch]", "data-step")!;
        B.Until(
            () =>
                B.Driver.PageSource.Contains("left out", StringComparison.Ordinal)
                || B.Driver.PageSource.Contains("text", StringComparison.Ordinal),
            "what was left out"
        );
        B.Press("[data-view=fit]");
        B.Drawn();
        B.Driver.ExecuteScript(
                $"return fetch('{new Uri(B.Driver.Url).AbsolutePath.Replace("/parts/", "/api/parts/", StringComparison.Ordinal)}').then(r => r.json()).then(p => p.steps.find(s => s.id === '{drawing}').sketch.entities.filter(e => e.kind === 'circle').length)"
            )
            .ShouldBe(4L);
    }

    [Fact]
    public void Triangles_of_a_file_are_measured_beside_bodies_and_are_none()
    {
        var (stl, cut) = (Path.Combine(B.Downloads, "cover.stl"), Path.Combine(B.Downloads, "cut.stl"));
        File.WriteAllText(stl, Brick(60, 40, 20));
        File.WriteAllText(cut, Brick(60, 40, 20)[..400]);
        OpenNew("With a scan", Json(new Several([.. Scene[^3..]], "scene")));
        void Import(string file, string unit)
        {
            B.Driver.FindElement(By.CssSelector("[data-testid=import-file]")).SendKeys(file);
            B.Text("[data-testid=unit-question]").ShouldContain(Path.GetFileName(file));
            B.Press($"[data-testid=unit-{unit}]");
        }

        Import(cut, "mm");
        B.Until(() => B.Refusal.Contains("it is cut", StringComparison.Ordinal), "the reason");
        B.Has("[data-step=mesh1]").ShouldBeFalse();
        Import(stl, "mm");
        B.Find("[data-step=mesh1]");
        B.Settled();
        B.Attribute("[data-edit=mesh1]", "title")!.ShouldContain("cover.stl, in mm");
        B.Press("[data-view=fit]");
        B.Drawn();
        B.PressBench("Gauge");
        Click(Right);
        B.Until(() => B.Picks.Any(p => p.Contains("mesh1/face/", StringComparison.Ordinal)), "a face of the triangles");
        B.Text("[data-offer=face-area] [data-value]").ShouldBe("800 mm²");

        // To the pin beside it, whose radius is 5 about x = 80; the material is the pin's alone.
        Click((80, 20, 20), extend: true);
        B.Until(() => B.Has("[data-offer=distance]"), "a distance");
        B.Text("[data-offer=distance] [data-value]").ShouldBe("15 mm");
        B.Press("[data-offer=distance]");
        B.Until(() => B.Has("[data-step^=reading]"), "the reading to be kept");
        B.Settled();
        var reading = B.Attribute("[data-step^=reading]", "data-step")!;
        B.Text($"[data-step={reading}]").ShouldContain("15 mm");

        // Read in centimetres it reaches through the pin; hidden it is not picked.
        B.Press("[data-more=mesh1]");
        B.PressText("Its numbers are centimetres");
        B.Settled();
        B.Until(() => B.Text($"[data-step={reading}]").Contains("515 mm", StringComparison.Ordinal), "the face ten times as far");
        B.Press("[data-more=mesh1]");
        B.PressText("Its numbers are millimetres");
        B.Settled();
        B.Until(() => B.Text($"[data-step={reading}]").Contains("15 mm", StringComparison.Ordinal), "the face where it was");
        B.Press("[data-more=mesh1]");
        B.PressText("Hide");
        B.Until(
            () =>
            {
                Click((30, 20, 20));
                return !B.Picks.Any(p => p.Contains("mesh1/face/", StringComparison.Ordinal));
            },
            "nothing of the hidden triangles to be picked"
        );
        B.ConsoleErrors().ShouldAllBe(e => e.Contains("422", StringComparison.Ordinal));
    }
}
