using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Browser.Tests;

/// <summary>Every form built once in the browser.</summary>
public class FormKindTests(ServerFixture fixture) : FormBench(fixture)
{
    [Fact]
    public void Extrude_in_every_way()
    {
        Open([.. TheBlock, Sketched("s", "block/end"), new EditSketch("s", Rectangle(30, 20, 20, 10))]);
        Begin("extrude");
        Value("length", "15");
        Accept(Block + (200 * 15));
        Undo();
        Begin("extrude");
        Choose("operation", "taken away");
        Choose("extent", "through all");
        Accept(Block - (200 * 20));
        Undo();
        Begin("extrude");
        Choose("extent", "a length each way");
        Value("length", "5");
        Value("second", "3");
        Accept(Block + (200 * 5));
        Undo();
        Begin("extrude");
        Choose("extent", "to what is picked");
        B.Prompt.ShouldContain("Pick the face, plane or point");
        B.Press("[data-testid=form-panel] input[data-field=flip]");
        Choose("operation", "taken away");
        B.Press("[data-view=bottom]");
        B.Drawn();
        Pick((5, 5, 0));
        Accept(Block - (200 * 20));
        B.Press("[data-view=corner]");
        Undo();
        Begin("extrude");
        Value("length", "10");
        Value("draft", "10");
        Choose("wall", "thin, inside");
        Value("thickness", "1");
        B.Until(() => B.Text("[data-testid=form-state]") is "ready" or "refused", "an answer");
        B.Press("[data-testid=form-cancel]");
        B.Until(() => !B.Has("[data-testid=form-panel]"), "nothing to be left");
        Volume().ShouldBe(Block, 0.01);
    }

    [Fact]
    public void Regions_are_chosen_by_click_and_the_length_is_dragged()
    {
        Open(
            Sketched("s", World.Xy),
            new EditSketch("s", Rectangle(0, 0, 60, 40).With(Circle("a", -15, 0, 8)).With(Circle("b", 15, 0, 5)))
        );
        Begin("extrude");
        B.Press("[data-view=fit]");
        B.Drawn();
        B.ClickPlace(-15, 0, 0);
        B.Until(() => B.Text("button[data-field=regions]") == "1 chosen", "one region");
        B.ClickPlace(15, 0, 0);
        B.Until(() => B.Text("button[data-field=regions]") == "2 chosen", "two regions");
        B.Until(() => B.Has("[data-grip=length]"), "the grip");
        var grip = B.Find("[data-grip=length]");
        var actions = new OpenQA.Selenium.Interactions.Actions(B.Driver);
        actions.MoveToElement(grip, 0, 20).ClickAndHold().MoveByOffset(0, -20).MoveByOffset(0, -30).Release().Perform();
        B.Until(
            () => B.Attribute("[data-testid=form-panel] input[data-field=length]", "value") != "10 mm",
            "the length to follow the drag"
        );
        Value("length", "12");
        Accept(Math.PI * (64 + 25) * 12);
    }

    [Fact]
    public void Revolve_sweep_and_loft()
    {
        Open(Sketched("s", World.Xz), new EditSketch("s", Rectangle(30, 0, 10, 20)));
        Begin("revolve");
        B.Prompt.ShouldContain("Pick the axis");
        B.ClickPlace(30, 0, 10.001);
        B.Until(() => Picks().Contains("s/r.top"), "the axis");
        Choose("extent", "an angle");
        Value("angle", "90");
        Accept(Math.PI / 2 * 10 * 10 * 20);

        Open(
            Sketched("p", World.Xy),
            new EditSketch(
                "p",
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("a", Vec2.Zero),
                        new PointEntity("b", new Vec2(30, 0)),
                        new PointEntity("m", new Vec2(30, 20)),
                        new PointEntity("c", new Vec2(50, 20)),
                        new LineEntity("l", "a", "b"),
                        new ArcEntity("k", "m", "b", "c", 20),
                    ],
                }
            )
        );
        Begin("sweep");
        Choose("profile", "round pipe");
        Value("diameter", "60");
        B.ClickPlace(15, 0, 0);
        B.ClickPlace(30 + (20 * Math.Sin(0.8)), 20 - (20 * Math.Cos(0.8)), 0);
        B.Until(
            () =>
                B.Text("[data-testid=form-refusal]")
                    .Contains("its radius there is 20 mm, and the profile reaches 30 mm inwards", StringComparison.Ordinal),
            "the reason with the place"
        );
        B.Attribute("[data-issue-mark=failing]", "title").ShouldNotBeNull().ShouldContain("too tight");
        Value("diameter", "6");
        Value("bore", "4");
        Accept(Math.PI * 5 * (30 + (Math.PI * 10)), 1e-5);

        Open(
            Sketched("a", World.Xy),
            new EditSketch("a", Circle("c", 0, 0, 10)),
            new AddStep(new PlaneStep("up", 0, "up", [new DatumCondition("offset", [World.Xy]) { Values = ["30 mm"] }])),
            Sketched("b", "up"),
            new EditSketch("b", Circle("c", 0, 0, 5))
        );
        Begin("loft");
        PickRow("a");
        PickRow("b");
        B.Press("[data-testid=form-panel] [data-testid=form-more]");
        B.Press("[data-testid=form-panel] input[data-field=straight]");
        Accept(Math.PI * 10 * (100 + 50 + 25));
    }

    [Fact]
    public void Holes_of_every_kind_with_their_strip_and_table()
    {
        Open([
            .. TheBlock,
            Sketched("h", "block/end"),
            new EditSketch(
                "h",
                new SketchEdit { Add = [new PointEntity("p", new Vec2(15, 10)), new PointEntity("q", new Vec2(45, 10))] }.With(
                    Circle("o", 30, 30, 4)
                )
            ),
            Point("d", 30, 20, 30),
        ]);
        Begin("hole");
        PickRow("h");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-centre]")).Count == 3, "three centres with their reasons");
        B.Text("[data-testid=centres]").ShouldContain("p of h");
        B.Text("[data-testid=centres]").ShouldContain("centre of o of h");
        B.Press("[data-centre='h/o']");
        B.Until(() => !B.Find("[data-centre='h/o']").Selected, "one left out");
        Value("diameter", "6");
        Choose("extent", "through all");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=strip]")).Count == 2, "a strip for each");
        B.Text("[data-stretch]").ShouldBe("20 mm");
        Accept(Block - (2 * Math.PI * 9 * 20));

        // A new stray point never becomes a hole by itself.
        B.Command(Json(new EditSketch("h", new SketchEdit { Add = [new PointEntity("stray", new Vec2(50, 30))] })));
        B.Settled();
        Volume().ShouldBe(Block - (2 * Math.PI * 9 * 20), 0.01);

        // Tapped from a point above, its depth from the first material; then from the point.
        Begin("hole");
        Pick((30, 20, 30));
        Use("along");
        Pick(Top);
        Choose("sizing", "a thread");
        Choose("thread", "M6");
        Value("depth", "8");
        Value("point", "180");
        Accept(Block - (2 * Math.PI * 9 * 20) - (Math.PI * 6.25 * 8));
        B.PressBench("Gauge");
        B.Press("[data-tool=holes]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=hole-table] tbody tr")).Count == 3, "three holes in the table");
        B.Text("[data-testid=hole-table]").ShouldContain("M6 8 deep");
        var csv = (string)
            B.Driver.ExecuteAsyncScript(
                "const done = arguments[0]; fetch(document.querySelector('[data-testid=holes-csv]').href).then(r => r.text()).then(done)"
            )!;
        csv.ShouldStartWith("number,step,centre,x,y,z,direction,size,diameter,thread,depth,unit");
        csv.TrimEnd().Split('\n').Length.ShouldBe(4);
        B.Press("[aria-label='Close the hole table']");

        // Counterbored and countersunk; one that misses says so.
        Begin("hole");
        PickRow("h");
        B.Press("[data-centre='h/p']");
        B.Press("[data-centre='h/q']");
        B.Press("[data-centre='h/stray']");
        Choose("head", "counterbored");
        Value("headDiameter", "10");
        Value("headDepth", "4");
        Choose("extent", "through all");
        Accept(Block - (2 * Math.PI * 9 * 20) - (Math.PI * 6.25 * 8) - (Math.PI * ((25 * 4) + (6.25 * 16))));
        Begin("hole");
        Pick((30, 20, 30));
        Use("along");
        Pick(Front);
        B.Until(() => B.Text("[data-testid=form-refusal]").Contains("meets no material", StringComparison.Ordinal), "the reason");
        B.Text("[data-testid=form-refusal]").ShouldContain("10 mm beside the nearest");
        B.Find("[data-testid=form-accept]").Enabled.ShouldBeFalse();
    }

    [Fact]
    public void A_point_that_a_form_asks_for_may_be_typed()
    {
        const string field = "[data-testid=form-panel] [data-field=place]";
        Open(TheBlock);
        Begin("hole");
        B.Fill(field, "25, 15" + Keys.Enter);
        B.Until(() => B.Refusal.Contains("Three numbers", StringComparison.Ordinal), "the reason");
        B.Attribute(field, "value").ShouldBe("25, 15");
        B.Fill(field, "25, 15, 20" + Keys.Enter);
        B.Until(() => Picks().Length > 0, "the typed point to be picked");
        Use("along");
        Pick(Top);
        Value("diameter", "6");
        Choose("extent", "through all");
        Accept(Block - (Math.PI * 9 * 20));
    }

    [Fact]
    public void Edges_faces_copies_and_bodies()
    {
        Open([
            .. TheBlock,
            Sketched("s", "block/end"),
            new EditSketch("s", Circle("c", 15, 20, 5)),
            new AddStep(new ExtrudeStep("boss", 0, "Boss", "s") { Length = "10 mm" }),
        ]);
        var boss = Math.PI * 25 * 10;
        Begin("fillet");
        Pick(CornerEdge);
        Value("radius", "5");
        Accept(Block + boss - (25 * (1 - (Math.PI / 4)) * 20));
        Undo();
        Begin("fillet");
        Pick(TopRightEdge);
        Value("radius", "80");
        B.Until(
            () =>
                B.Has("[data-testid=form-refusal]")
                && B.Text("[data-testid=form-refusal]").Contains("does not fit", StringComparison.Ordinal),
            "the reason"
        );

        // At its field, and nowhere else; it cannot be accepted, but laid aside with what was typed, and a way on can be pressed.
        B.Has("[data-row=radius] [data-testid=form-refusal]").ShouldBeTrue();
        B.Driver.FindElements(By.CssSelector("[data-testid=form-refusal]")).Count.ShouldBe(1);
        B.Find("[data-testid=form-accept]").Enabled.ShouldBeFalse();
        B.Press("[data-testid=lay-aside]");
        B.Until(() => B.Text("[data-testid=forms-aside]").Contains("New fillet", StringComparison.Ordinal), "the form laid aside");
        B.Press("[data-take-up='0']");
        B.Until(() => B.Attribute("[data-testid=form-panel] input[data-field=radius]", "value") == "80 mm", "its radius");
        B.Has("[data-testid=forms-aside]").ShouldBeFalse();
        B.Press("[data-way=radius]");
        B.Until(() => B.Text("[data-testid=form-state]") == "ready", "what fits");
        B.Press("[data-testid=form-cancel]");
        Begin("chamfer");
        Pick(CornerEdge);
        Value("size", "4");
        Accept(Block + boss - (8 * 20));
        Undo();
        Begin("shell");
        Pick(Front);
        Value("thickness", "2");
        Accept(Block + boss - (56 * 38 * 16) - (Math.PI * 9 * 10));
        Undo();
        Begin("draft");
        Pick(Front);
        Use("neutral");
        Pick(Top);
        Value("angle", "5");
        Accept(Block + boss + (60 * 200 * Math.Tan(5 * Math.PI / 180)), 1e-3);
        Undo();
        Begin("mirror");
        PickRow("boss");
        B.Until(() => B.Prompt.Contains("mirrored in", StringComparison.Ordinal), "the plane to be asked for");
        Use("about");
        Pick((60, 20, 6));
        Accept(Block + (2 * boss));
        Undo();
        Begin("pattern");
        PickRow("boss");
        Use("along");
        Pick(TopFrontEdge);
        Value("count", "3");
        Value("spacing", "15");
        Accept(Block + (3 * boss));
        Undo();
        Begin("split");
        B.ClickPlace(45, 30, 20);
        B.Until(() => Picks().Length > 0, "the plane");
        Accept(Block + boss);
        B.PressBench("Gauge");
        B.Press("[data-tool=mass-card]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=mass-card] [data-mass]")).Count == 3, "two bodies and their sum");
        B.Press("[data-material='steel']");
        B.Until(() => B.Text("[data-testid=material]") == "steel", "the material");
        B.Press("[aria-label='Close mass and material']");
        Begin("combine");
        Pick((20, 0, 8));
        Use("others");
        Pick((15, 15, 26));
        Accept(Block + boss);
    }

    [Fact]
    public void Threads_single_faces_and_open_walls()
    {
        Open([
            .. TheBlock,
            Sketched("s", "block/end"),
            new EditSketch("s", Circle("c", 15, 20, 5)),
            new AddStep(new ExtrudeStep("boss", 0, "Boss", "s") { Length = "10 mm" }),
        ]);
        var boss = Math.PI * 25 * 10;
        Begin("mirror");
        B.Press("[data-testid=form-panel] input[data-field=single]");
        B.Find("[data-testid=form-panel] button[data-field=faces]");
        Use("faces");
        Pick((15, 20, 30), (15, 15, 26));
        Use("about");
        Pick((60, 20, 6));
        Accept(Block + (2 * boss));
        Undo();
        Begin("thread");
        Pick((15, 15, 26));
        Choose("thread", "M10");
        Accept(Block + boss);
        Undo();
        Begin("thread");
        Pick((15, 15, 26));
        Choose("thread", "M10");
        B.Press("[data-testid=form-panel] input[data-field=modelled]");
        Accept(Block + boss - 120, 1e-3);

        Open(
            Sketched("w", World.Xy),
            new EditSketch(
                "w",
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("a", Vec2.Zero),
                        new PointEntity("b", new Vec2(30, 0)),
                        new PointEntity("c", new Vec2(30, 20)),
                        new LineEntity("u", "a", "b"),
                        new LineEntity("v", "b", "c"),
                    ],
                }
            )
        );
        Begin("extrude");
        B.Until(() => B.Text("[data-testid=form-refusal]").Contains("closes no region", StringComparison.Ordinal), "the reason");
        Choose("wall", "thin, outside");
        Value("thickness", "2");
        Value("length", "5");
        Accept(((32 * 2) + (20 * 2)) * 5);
    }
}
