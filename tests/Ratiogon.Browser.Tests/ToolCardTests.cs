using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>Every tool says what it is for and what it needs, with a drawing.</summary>
public sealed class ToolCardTests(ServerFixture fixture) : SketcherTest(fixture)
{
    private const string Rest = "document.querySelector(arguments[0]).dispatchEvent(new PointerEvent('pointerenter'))";

    [Fact]
    public void Every_tool_of_every_bench_has_a_card()
    {
        NewSketch();
        foreach (var bench in new[] { "Draw", "Tie", "Size", "Datum", "Form", "Gauge" })
        {
            B.PressBench(bench);
            var tools = B.Driver.FindElements(By.CssSelector("[data-tool]")).Select(t => t.GetAttribute("data-tool")!).ToList();
            tools.ShouldNotBeEmpty(bench);
            foreach (var tool in tools)
            {
                B.Driver.ExecuteScript(Rest, $"[data-tool='{tool}']");
                B.Until(() => B.Has($"[data-testid=tool-card][data-card='{tool}']"), $"the card of {tool}");
                B.Driver.FindElements(By.CssSelector("[data-testid=tool-scene] path")).Count.ShouldBeGreaterThan(0, tool);
            }
        }

        NoErrors();
    }

    [Fact]
    public void A_card_comes_for_the_pointer_and_the_keyboard_and_goes_when_its_tool_is_taken()
    {
        NewSketch();
        B.PressBench("Form");
        B.Act().MoveToElement(B.Find("[data-tool=hole]")).Perform();
        B.Until(() => B.Has("[data-card=hole]"), "the card under the pointer");
        B.Text("[data-testid=tool-card]").ShouldContain("Hole");
        B.Act().MoveToElement(B.Find("[data-testid=viewport]")).Perform();
        B.Until(() => !B.Has("[data-testid=tool-card]"), "the card to go");

        // By keyboard, and Escape closes it without doing anything else.
        B.Driver.ExecuteScript("document.querySelector('[data-tool=extrude]').focus({ focusVisible: true })");
        B.Act().SendKeys(Keys.Tab).Perform();
        B.Until(() => B.Has("[data-card=revolve]"), "the card of the next tool");
        B.Find("[data-tool=revolve]").GetAttribute("aria-describedby").ShouldBe("tool-card");
        B.Act().SendKeys(Keys.Escape).Perform();
        B.Until(() => !B.Has("[data-testid=tool-card]"), "the card to go");

        B.Act().MoveToElement(B.Find("[data-tool=extrude]")).Perform();
        B.Until(() => B.Has("[data-card=extrude]"), "the card");
        B.Press("[data-tool=extrude]");
        B.Until(() => !B.Has("[data-testid=tool-card]"), "the card to go");
        NoErrors();
    }
}
