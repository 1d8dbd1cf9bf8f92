using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Browser.Tests;

/// <summary>What surrounds forms: few moves, long rebuilds, the build sheet, looks and sections.</summary>
public class FormBenchTests(ServerFixture fixture) : FormBench(fixture)
{
    [Fact]
    public void A_long_rebuild_says_where_it_is_and_can_be_stopped()
    {
        Open(
            Sketched("s", World.Xy),
            new EditSketch("s", Circle("c", 0, 0, 5)),
            new AddStep(new ExtrudeStep("shaft", 0, "Shaft", "s") { Length = "170 mm" })
        );
        var plain = Volume();
        B.Command(Json(new AddStep(new ThreadStep("cut", 0, "Long thread", "shaft/side/c") { Thread = "M10", Modelled = true })));
        B.Until(() => B.Text("header").Contains("Long thread, 3 of 3", StringComparison.Ordinal), "the step that is being built");
        Volume().ShouldBe(plain, "the part stays as it was meanwhile");
        B.Press("[data-testid=stop-building]");
        B.Until(() => B.Attribute("[data-step=cut]", "data-state") == "failed", "the step to be stopped");
        B.Text("[data-testid=build-sheet]").ShouldContain("This step was stopped. Nothing is lost");
        Volume().ShouldBe(plain);
        Choice("cut", "Suppress");
        B.Settled();
        B.Until(
            () =>
                B.Attribute("[data-step=shaft]", "data-state") == "built"
                && !B.Text("header").Contains("building", StringComparison.Ordinal),
            "the rest to be built by a new worker"
        );
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void A_hole_at_an_angle_takes_few_moves()
    {
        // A point on the front top edge and a line that leans by 30 degrees.
        Open([
            .. TheBlock,
            Point("p", 30, 0, 20),
            Point("q", 30, 20 * Math.Tan(Math.PI / 6), 0),
            new AddStep(new CurveStep("lean", 0, "Lean", CurveShape.Line, ["p", "q"])),
        ]);
        B.ClickPlace(30, 0, 20);
        B.ClickPlace(30, 10 * Math.Tan(Math.PI / 6), 10, extend: true);
        B.Until(() => B.Has("[data-offer=form-hole]"), "the hole among the offers");
        B.Press("[data-offer=form-hole]");
        B.Find("[data-testid=form-panel]");
        B.Quiet();
        B.Type("4", Keys.Tab, "6", Keys.Enter);
        B.Until(() => !B.Has("[data-testid=form-panel]"), "the hole to be made");
        B.Settled();
        B.Until(() => Volume() < Block - 20 && Volume() > Block - (Math.PI * 4 * 9), $"a hole of 4 and 6, not {Volume()}");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void The_build_sheet_inserts_edits_in_place_groups_finds_and_mends()
    {
        Open([
            .. TheBlock,
            Sketched("s", "block/end"),
            new EditSketch("s", Rectangle(30, 20, 20, 10)),
            new AddStep(new ExtrudeStep("top", 0, "Top", "s") { Length = "5 mm" }),
            new AddStep(new FilletStep("soft", 0, "Soft", ["top/end^top/side/r.left"]) { Radius = "1 mm" }),
            new AddStep(new ReadingStep("v", 0, "V", "volume", [])),
        ]);

        // A form is edited with the model as it stood: what comes later is not there.
        B.Press("[data-edit=top]");
        B.Find("[data-testid=form-panel]");
        Value("length", "8");
        B.Until(() => B.Text("[data-testid=form-state]") == "ready", "the change");
        B.Press("[data-testid=form-accept]");
        B.Until(() => !B.Has("[data-testid=form-panel]"), "accepted");
        B.Settled();

        // Inserted below the block; the steps behind it are built again.
        Choice("block", "Insert below");
        B.Until(() => B.Has(".stop-line"), "the stop line");
        Begin("fillet");
        Pick(CornerEdge);
        Value("radius", "5");
        B.Until(() => B.Text("[data-testid=form-state]") == "ready", "the fillet");
        B.Press("[data-testid=form-accept]");
        B.Until(() => !B.Has("[data-testid=form-panel]"), "accepted");
        B.PressText("build all");
        B.Settled();
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-state=built]")).Count == 7, "all seven steps built");

        Choice("soft", "Duplicate");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-step]")).Count == 8, "the copy");
        Choice("soft", "Put into a group");
        B.Fill("[data-testid=grouping] input", "Finish" + Keys.Enter);
        B.Until(() => B.Has("[data-group=Finish]"), "the group");
        B.Press("[data-group=Finish] button");
        B.Until(() => !B.Has("[data-step=soft]"), "the group folded");
        B.Press("[data-group=Finish] button");
        B.Fill("[data-testid=search-sheet]", "top");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-step]")).Count < 8, "fewer rows");
        B.Fill("[data-testid=search-sheet]", Keys.Backspace);

        // A lost edge: the step says so and offers the closest.
        Choice("top", "Suppress, with 2 on it");
        B.Until(() => B.Attribute("[data-step=soft]", "data-state") == "waiting", "what hangs on it to wait");
        Choice("top", "Build again");
        B.Settled();
        B.Command(Json(new ReplaceStep(new FilletStep("soft", 0, "Soft", ["top/end^top/side/gone"]) { Radius = "1 mm" })));
        B.Until(() => B.Attribute("[data-step=soft]", "data-state") == "failed", "the step to fail");
        B.Press("[data-mend]");
        B.Until(() => B.Attribute("[data-step=soft]", "data-state") == "built", "the step to be mended");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void Looks_sections_the_probe_and_what_lies_behind()
    {
        Open([
            .. TheBlock,
            Sketched("h", "block/end"),
            new EditSketch("h", new SketchEdit { Add = [new PointEntity("p", new Vec2(30, 20))] }),
            new AddStep(new HoleStep("bore", 0, "Bore", ["h/p"]) { Diameter = "12 mm", Extent = HoleExtent.Through }),
        ]);
        foreach (var mode in new[] { "shaded", "through", "wire", "edges" })
        {
            B.Find($"[data-testid=look] option[value={mode}]").Click();
            B.Quiet();
        }

        // Cut through the middle, the wall of the bore can be picked from the front.
        B.Press("[data-testid=section]");
        B.Find("[data-testid=section-bar]");
        B.Fill("[data-testid=section-offset]", "-20" + Keys.Tab);
        B.Press("[data-view=front]");
        B.Drawn();
        B.ClickPlace(30, 26, 10);
        B.Until(() => B.Picks.Any(p => p.Contains("bore/wall/(h/p)", StringComparison.Ordinal)), "the wall behind the cut");
        B.PressBench("Gauge");
        B.Press("[data-tool=probe]");
        B.Until(
            () => B.Text("[data-testid=probe-card]").Contains("no material along this axis", StringComparison.Ordinal),
            "the probe of a bore"
        );
        B.Press("[aria-label='Close the probe']");
        B.Press("[aria-label='Close the section']");
        B.Press("[data-view=corner]");
        B.Drawn();

        // A right click lists everything in order of depth: the far side is there too.
        var (x, y) = B.Seen(50, 0, 12);
        new OpenQA.Selenium.Interactions.Actions(B.Driver).MoveToElement(B.Find("[data-testid=viewport]"), x, y).ContextClick().Perform();
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-under]")).Count >= 2, "what lies under the pointer");
        var names = B.Driver.FindElements(By.CssSelector("[data-under]")).Select(e => e.GetAttribute("data-under")).ToList();
        names[0].ShouldBe("block/side/r.bottom");
        B.Driver.FindElements(By.CssSelector("[data-under]"))[^1].Click();
        B.Until(() => B.Picks.Any(p => p.Contains(names[^1]!, StringComparison.Ordinal)), "the far one picked");
        B.ConsoleErrors().ShouldBeEmpty();
    }
}
