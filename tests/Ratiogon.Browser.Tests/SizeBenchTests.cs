using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Ratiogon.Browser.Tests;

/// <summary>The dimension tool, texts, the table of sizes, and what explains a sketch, in the browser.</summary>
public class SizeBenchTests(ServerFixture fixture) : SketcherTest(fixture)
{
    private static readonly (string Kind, string? Way, double X, double Y, string[] Picks)[] Cases =
    [
        ("distance", "distance", -36, -46, ["l"]),
        ("horizontal-distance", null, -36, -46, ["l"]),
        ("vertical-distance", "vertical-distance", -36, -46, ["l"]),
        ("distance", null, -44, -6, ["q", "m"]),
        ("angle", "angle", -20, -30, ["l", "n"]),
        ("other-angle", null, -20, -30, ["l", "n"]),
        ("diameter", null, 24, -14, ["k"]),
        ("radius", "radius", 24, -14, ["k"]),
        ("radius", null, 55, 22, ["r"]),
        ("sweep", "sweep", 55, 22, ["r"]),
        ("arc-length", "arc-length", 55, 22, ["r"]),
        ("near-distance", null, 22, -31, ["k", "h"]),
        ("far-distance", null, 53, -40, ["k", "h"]),
        ("horizontal-distance", null, 23, -48, ["k", "h"]),
        ("across-axis", null, 30, 8, ["q", "y-axis"]),
        ("first-semi-axis", "first-semi-axis", -30, 28, ["x"]),
        ("second-semi-axis", "second-semi-axis", -30, 28, ["x"]),
    ];

    [Fact]
    public void Each_dimension_follows_from_picks_pointer_and_way()
    {
        var free = OpenLoose();
        foreach (var (kind, way, x, y, picks) in Cases)
        {
            B.Tool("Size", "dimension");
            foreach (var pick in picks)
            {
                B.ClickSketch(At(pick).X, At(pick).Y);
            }

            B.MoveSketch(x, y);
            if (way is not null)
            {
                B.Press($"[data-way={way}]");
                B.MoveSketch(x, y);
            }

            B.Until(() => B.Prompt.StartsWith(kind.Replace('-', ' '), StringComparison.Ordinal), $"a {kind} to be meant");
            B.ClickSketch(x, y);
            B.Find("[data-field=value]");
            B.Type(Keys.Enter);
            B.UntilFreedoms(free - 1);
            B.Find("[data-dimension=d1]");
            B.Press("[data-testid=undo]");
            B.UntilFreedoms(free);
        }

        NoErrors();
    }

    private void Sized()
    {
        NewSketch();
        B.Tool("Draw", "rectangle");
        Clicks("5,6 45,31");
        B.Tool("Draw", "select");
        B.ClickSketch(20, 6);
        B.Press("[data-offer=size-distance]");
        B.UntilFreedoms(3);
    }

    [Fact]
    public void A_text_is_moved_and_its_value_stepped_by_wheel_and_keys()
    {
        Sized();
        var before = B.Find("[data-dimension=d1]").Location;
        B.Act().MoveToElement(B.Find("[data-dimension=d1]")).ClickAndHold().MoveByOffset(20, 45).MoveByOffset(5, 5).Release().Perform();
        B.Until(() => B.Find("[data-dimension=d1]").Location is var now && now.Y > before.Y + 30, "the text to be elsewhere");
        B.Until(() => B.Text("[data-testid=undo]").Length > 0, "the change to be kept");
        B.Quiet();
        var text = B.Text("[data-dimension=d1]");
        var value = double.Parse(text.Split(' ')[0]);
        B.Driver.ExecuteScript("document.querySelector('[data-dimension=d1]').focus()");
        B.Type(Keys.ArrowUp);
        B.Until(() => Math.Abs(double.Parse(B.Text("[data-dimension=d1]").Split(' ')[0]) - (value + 1)) < 1e-6, "one more");
        B.Driver.ExecuteScript(
            "document.querySelector('[data-dimension=d1]').dispatchEvent(new WheelEvent('wheel', { deltaY: 100, bubbles: "
                + "true, cancelable: true }))"
        );
        B.Until(() => Math.Abs(double.Parse(B.Text("[data-dimension=d1]").Split(' ')[0]) - value) < 1e-6, "one less");
        NoErrors();
    }

    [Fact]
    public void All_sizes_are_edited_in_one_table_and_made_to_drive_or_only_read()
    {
        Sized();
        B.Press("[data-testid=open-sizes]");
        B.Fill("[data-size='sketch1/d1']", "42" + Keys.Enter);
        B.Until(() => B.Text("[data-dimension=d1]") == "42 mm", "the new size");
        B.Press("[aria-label='d1 drives']");
        B.Until(() => B.Text("[data-dimension=d1]") == "(42 mm)", "a reference");
        B.UntilFreedoms(4);
        B.Press("[aria-label='d1 drives']");
        B.UntilFreedoms(3);
        NoErrors();
    }

    [Fact]
    public void A_clash_is_explained_with_ways_out_that_are_shown_and_taken()
    {
        Sized();
        B.Tool("Size", "dimension");
        B.ClickSketch(20, 31);
        B.ClickSketch(20, 38);
        B.Find("[data-field=value]");
        B.Type("77", Keys.Enter);
        B.Until(() => B.Refusal.Contains("clashes with", StringComparison.Ordinal), "the clash");
        B.Find("[data-testid=ways-out]");
        B.Driver.FindElements(By.CssSelector(".clash-label")).Count.ShouldBeGreaterThan(0, "what fights is marked");
        B.PressText("→ keep this size as a reference");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Any(e => e.Text.StartsWith('(')), "the reference");
        B.Until(() => !B.Has("[data-testid=ways-out]"), "the refusal to be gone");
        NoErrors();
    }

    [Fact]
    public void Finish_it_proposes_what_would_set_the_rest_and_applies_some_or_all()
    {
        Sized();
        B.Press("[data-testid=finish]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=finish-panel] input")).Count == 3, "three proposals");
        B.Driver.FindElements(By.CssSelector("[data-testid=finish-panel] input"))[2].Click();
        B.Press("[data-testid=apply-finish]");
        B.UntilFreedoms(1);
        B.Press("[data-testid=finish]");
        B.Press("[data-testid=apply-finish]");
        B.UntilFreedoms(0);
        NoErrors();
    }

    [Fact]
    public void A_gap_is_shown_and_closed_by_one_press()
    {
        OpenSketch(
            """
            {"kind":"point","id":"a","at":[0,0.5]},{"kind":"point","id":"b","at":[40,1]},{"kind":"line","id":"ab","from":"a","to":"b"},
            {"kind":"point","id":"c","at":[22,30]},{"kind":"line","id":"bc","from":"b","to":"c"},{"kind":"point","id":"d","at":[0.4,1.1]},{"kind":"line","id":"cd","from":"c","to":"d"}
            """
        );
        B.Find("[data-issue-mark=gap]");
        B.Press("[data-testid=issues]");
        B.Press("[data-testid=mend]");
        B.Until(() => !B.Has("[data-testid=issues]"), "the profile to be closed");
        B.UntilFreedoms(6);
        NoErrors();
    }

    [Fact]
    public void Motions_are_listed_and_played()
    {
        OpenLoose();
        B.Press("[data-testid=temper-bar]");
        B.Until(
            () => B.Driver.FindElements(By.CssSelector("[aria-expanded=true] ~ div li, [data-testid=temper-bar] ~ div li")).Count >= 12,
            "the motions in words"
        );
        B.Driver.FindElements(By.CssSelector("[data-testid=temper-bar] ~ div li button"))[0].Click();
        B.Quiet();
        NoErrors();
    }
}
