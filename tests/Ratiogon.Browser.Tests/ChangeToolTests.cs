using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Ratiogon.Browser.Tests;

/// <summary>Trim, extend, split, corners, offset, copies, moves, merging and removing, in the browser.</summary>
public class ChangeToolTests(ServerFixture fixture) : SketcherTest(fixture)
{
    private void SetRectangle()
    {
        NewSketch();
        B.Tool("Draw", "rectangle-centre");
        B.ClickSketch(0, 0);
        B.MoveSketch(30, 20);
        B.Type("8", "0", Keys.Tab, "50", Keys.Enter);
        B.UntilFreedoms(0);
    }

    [Fact]
    public void A_stretch_is_trimmed_an_end_extended_and_a_curve_split()
    {
        OpenLoose();
        var free = B.Freedoms;
        B.Tool("Draw", "line");
        Clicks("-47.8,-4.4 -30.5,-27");
        Leave();
        B.UntilFreedoms(free + 4);
        B.Tool("Draw", "trim");
        B.MoveSketch(At("m").X - 5, At("m").Y - 2.1);
        B.ClickSketch(At("m").X - 5, At("m").Y - 2.1);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-constraint]")).Count >= 1, "the cut end on the line");
        B.UntilFreedoms(free + 3);
        B.Tool("Draw", "extend");
        B.ClickSketch(-3, -21.4);
        B.Until(() => B.Refusal.Contains("no curve ahead", StringComparison.Ordinal) || B.Freedoms != free + 3, "an answer");
        B.Tool("Draw", "split");
        B.ClickSketch(At("k").X, At("k").Y);
        B.Until(() => B.Freedoms > free + 3, "two arcs instead of a circle");
        NoErrors();
    }

    [Fact]
    public void A_stretch_is_trimmed_and_the_sized_line_kept_whole_as_construction()
    {
        OpenSketch(
            """
            {"kind":"point","id":"a","at":[-40,0]},{"kind":"point","id":"b","at":[40,0]},{"kind":"line","id":"l","from":"a","to":"b"},
            {"kind":"point","id":"c","at":[-10,-30]},{"kind":"point","id":"d","at":[-10,30]},{"kind":"line","id":"m","from":"c","to":"d"},
            {"kind":"point","id":"e","at":[15,-30]},{"kind":"point","id":"f","at":[15,30]},{"kind":"line","id":"n","from":"e","to":"f"}
            """
        );
        B.Command(
            """{"command":"edit-sketch","step":"loose","edit":{"size":[{"id":"w","kind":"distance","of":["l"],"value":"80 mm"}]},"what":"size"}"""
        );
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Any(e => e.Text == "80 mm"), "the size");
        var free = B.Freedoms;
        B.Tool("Draw", "trim");
        B.MoveSketch(2, 0);
        B.Until(() => B.Text("[data-testid=note]").StartsWith("Lets go", StringComparison.Ordinal), "what would go, before");
        B.Press("[data-way=keep]");
        B.MoveSketch(2, 1);
        B.MoveSketch(2, 0);
        B.Until(() => !B.Has("[data-testid=note]"), "nothing to go");
        B.ClickSketch(2, 0);
        B.Until(() => Kept<string[]>("all.filter(e => e.kind === 'line').map(e => e.id)").Length == 5, "two pieces on the line");
        Kept<string[]>("all.filter(e => e.construction).map(e => e.id)").ShouldBe(["l"]);
        B.Driver.FindElements(By.CssSelector("[data-dimension]")).ShouldContain(e => e.Text == "80 mm");
        B.UntilFreedoms(free);
        NoErrors();
    }

    [Fact]
    public void Corners_are_rounded_and_chamfered_and_keep_the_sizes()
    {
        SetRectangle();
        B.Tool("Draw", "corner");
        B.Type("6", Keys.Enter);
        B.ClickSketch(40, 25);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Any(e => e.Text == "R 6 mm"), "the radius");
        B.ClickSketch(-40, 25);
        B.Press("[data-way=chamfer]");
        B.ClickSketch(40, -25);
        B.UntilFreedoms(0);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Any(e => e.Text == "80 mm"), "the width, as before");
        NoErrors();
    }

    [Fact]
    public void A_chain_is_offset_at_a_typed_distance_and_one_that_swallows_it_is_refused()
    {
        SetRectangle();
        B.Tool("Draw", "offset");
        B.ClickSketch(15, 25);
        B.MoveSketch(15, 33);
        B.Type("5", Keys.Enter);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Count == 3, "the offset with its size");
        B.UntilFreedoms(0);
        B.ClickSketch(15, 25);
        B.MoveSketch(15, 8);
        B.Type("3", "0", Keys.Enter);
        B.Until(() => B.Refusal.Contains("swallowed", StringComparison.Ordinal), "the refusal");
        NoErrors();
    }

    [Fact]
    public void Picks_are_mirrored_and_repeated_in_rows_and_rings()
    {
        OpenLoose();
        var free = B.Freedoms;
        Pick("k");
        B.Tool("Draw", "mirror");
        B.ClickSketch(0, 50);
        B.Until(() => B.Prompt.StartsWith("Pick what to mirror", StringComparison.Ordinal), "the next mirror");
        B.UntilFreedoms(free);
        B.Tool("Draw", "select");
        Pick("h");
        B.Tool("Draw", "pattern-ring");
        B.Type("6", Keys.Enter);
        B.ClickSketch(0, 0);
        B.Until(() => B.Prompt.StartsWith("Pick what to repeat", StringComparison.Ordinal), "the ring to be there");
        B.UntilFreedoms(free);
        B.Press("[data-testid=open-sizes]");
        B.Fill("[data-size='loose/ring1.count']", "4" + Keys.Enter);
        B.Until(() => B.Attribute("[data-size='loose/ring1.count']", "value") == "4", "four of them");
        B.Press("[aria-label='Close the sizes']");
        B.Tool("Draw", "select");
        Pick("q");
        B.Tool("Draw", "pattern-row");
        B.ClickSketch(-33, 7);
        B.UntilFreedoms(free + 2);
        NoErrors();
    }

    [Fact]
    public void What_is_picked_is_moved_copied_turned_and_scaled()
    {
        OpenLoose();
        var free = B.Freedoms;
        Pick("l");
        B.Tool("Draw", "move");
        Clicks("-50,-40 -44,-52");
        B.Tool("Draw", "select");
        B.ClickSketch(-44, -52);
        B.Until(() => B.Picks.Contains("a"), "the end where it was moved");
        Pick("h");
        B.Tool("Draw", "move", "copy");
        Clicks("35,-32 40,42");
        B.UntilFreedoms(free + 3);
        B.Tool("Draw", "select");
        Pick("m");
        B.Tool("Draw", "move", "turn");
        B.ClickSketch(-50, -20);
        B.MoveSketch(-30, -15);
        B.Type("3", "0", Keys.Enter);
        B.Tool("Draw", "select");
        Pick("k");
        B.Tool("Draw", "move", "scale");
        B.ClickSketch(12, -30);
        B.MoveSketch(18, -28);
        B.Type("2", Keys.Enter);
        B.Until(() => B.Prompt.StartsWith("Pick what to move", StringComparison.Ordinal), "the circle to be scaled");
        B.Tool("Draw", "select");
        B.ClickSketch(12, -16);
        B.Find("[data-offer=size-diameter]");
        OfferValue("size-diameter").ShouldBe(28, 1e-6);
        NoErrors();
    }

    [Fact]
    public void Copy_and_paste_by_the_usual_keys()
    {
        OpenLoose();
        var free = B.Freedoms;
        Pick("k");
        B.Act().KeyDown(Keys.Control).SendKeys("c").KeyUp(Keys.Control).Perform();
        B.Until(() => B.Refusal.Contains("1 copied", StringComparison.Ordinal), "the copy");
        B.MoveSketch(10, 12);
        B.Act().KeyDown(Keys.Control).SendKeys("v").KeyUp(Keys.Control).Perform();
        B.UntilFreedoms(free + 3);
        NoErrors();
    }

    [Fact]
    public void Removing_shows_first_what_hangs_on_it_and_undo_brings_it_back()
    {
        OpenLoose();
        var free = B.Freedoms;
        Pick("l");
        B.Press("[data-offer=tie-horizontal]");
        B.UntilFreedoms(free - 1);
        B.ClickSketch(-50, -37);
        B.Until(() => B.Picks.Contains("a"), "the end of the line to be picked");
        B.Type(Keys.Delete);
        B.Until(
            () =>
                B.Text("[data-testid=asked]") is var t
                && t.Split('\n').Contains("l")
                && t.Contains("horizontal: l", StringComparison.Ordinal),
            "what would go"
        );
        B.Press("[data-testid=confirm-remove]");
        B.UntilFreedoms(free - 4);
        B.Act().KeyDown(Keys.Control).SendKeys("z").KeyUp(Keys.Control).Perform();
        B.UntilFreedoms(free - 1);
        NoErrors();
    }

    [Fact]
    public void Points_are_merged_and_parted()
    {
        OpenLoose();
        var free = B.Freedoms;
        Pick("b", "e");
        B.Press("[data-offer=merge]");
        B.UntilFreedoms(free - 2);
        B.ClickSketch(-25, -34);
        B.Press("[data-offer=part]");
        B.UntilFreedoms(free);
        B.Tool("Tie", "merge");
        Clicks("-50,-20 -40,5");
        B.UntilFreedoms(free - 2);
        NoErrors();
    }

    [Fact]
    public void A_box_picks_what_lies_inside()
    {
        OpenLoose();
        B.DragSketch(-2, -50, 50, -20);
        B.Until(() => B.Picks.Contains("k") && B.Picks.Contains("h"), "both circles");
        B.Press("[data-offer=tie-equal]");
        NoErrors();
    }
}
