using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>What is asked of a part: tolerances, aims, courses, flexing, variants and what hangs on what, through the card.</summary>
public class AskTests(ServerFixture fixture) : BrowserTest(fixture)
{
    private void Open(string part, string question)
    {
        EnterDemo();
        B.Go("/parts");
        B.PressPart(part);
        B.Settled();
        B.Press("[data-testid=open-ask]");
        B.Press($"[data-question={question}]");
    }

    private void Choose(string css, string value) => B.Find($"{css} option[value='{value}']").Click();

    /// <summary>Waits for an answer that many builds go into: on a busy machine they take their time.</summary>
    private void Answered(string css, Func<string, bool> says, string what) =>
        B.Until(() => B.Has(css) && says(B.Text(css)), what, TimeSpan.FromSeconds(90));

    private void Change(string css, string text)
    {
        B.Fill(css, text);
        B.Type(Keys.Tab);
    }

    [Fact]
    public void Tolerances_of_the_motor_plate_are_shown_changed_and_drawn()
    {
        Open("Motor plate", "tolerances");
        Choose("[aria-label='which reading']", "wall");
        Answered("[data-testid=worst]", t => t == "9.1895 mm to 9.27 mm", "the worst case");
        B.Text("[data-contribution='bore.d of Outline']").ShouldContain("%");
        Change("[aria-label='tolerance of upper.height of Slots']", "±0.1");
        Answered("[data-testid=worst]", t => t == "9.1095 mm to 9.35 mm", "the worst case with a wider tolerance");
        Change("[aria-label='tolerance of upper.height of Slots']", "wide");
        B.Until(
            () => B.Text("[data-testid=tolerances] [role=alert]").Contains("'wide' is no tolerance", StringComparison.Ordinal),
            "the refusal"
        );
        Change("[aria-label='How many parts to build at random']", "25");
        B.Press("[data-testid=draw-parts]");
        B.Until(() => B.Has("[data-testid=chart] rect"), "the histogram", TimeSpan.FromSeconds(90));
        B.Text("[data-testid=tolerances]").ShouldContain("25 built at random");
        B.Text("[data-testid=within]").ShouldContain("Cpk");
        Choose("[data-testid=general]", "");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-contribution]")).Count == 3, "the sizes with tolerances of their own");
        B.ConsoleErrors().ShouldAllBe(e => e.Contains("422", StringComparison.Ordinal));
    }

    [Fact]
    public void The_mass_is_brought_to_90_grams_and_its_course_drawn()
    {
        Open("Motor plate", "aim");
        Choose("[aria-label='which reading']", "plate_mass");
        B.Fill("[aria-label='value to reach']", "90 g");
        B.Press("[data-testid=aim] [data-knob=thick]");
        B.Press("[data-testid=ask-aim]");
        Answered("[data-testid=aim-said]", t => t == "Mass reads 90 g.", "the goal");
        B.Text("[data-aimed=thick]").ShouldBe("6.1491322 mm");
        B.Press("[data-testid=use-aim]");
        B.Until(() => B.Text("[data-testid=aim]").Contains("undo brings the old ones back", StringComparison.Ordinal), "the values");
        B.Fill("[aria-label='value to reach']", "900 g");
        B.Press("[data-testid=ask-aim]");
        Answered("[data-testid=aim-said]", t => t.StartsWith("Out of reach", StringComparison.Ordinal), "that it is out of reach");
        B.Press("[data-question=course]");
        B.Press("[data-testid=course] [data-knob=bore]");
        B.Until(
            () => B.Driver.FindElements(By.CssSelector("[data-testid=chart] circle")).Count >= 9,
            "the course",
            TimeSpan.FromSeconds(90)
        );
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void The_inlet_block_is_flexed_and_the_range_taken()
    {
        Open("Inlet block", "flex");
        Change("[aria-label='how many tries']", "20");
        B.Press("[data-testid=ask-flex]");
        Answered("[data-testid=flex-said]", t => t.Length > 0, "what came of it");
        B.Text("[data-testid=flex-said]").ShouldStartWith("Of 20 tries");
        B.Text("[data-flex=apart]").ShouldContain("18.9");
        B.Driver.FindElements(By.CssSelector("[data-try=limits]")).Count.ShouldBeGreaterThan(3);
        B.Driver.FindElements(By.CssSelector("[data-try=good]")).Count.ShouldBeGreaterThan(20);

        // A try is looked at on the model; for one that cannot be built, the nearest that can.
        var wall = B.Text("[data-step=between]");
        B.Press("[data-try=failed]");
        B.Until(() => B.Text("[data-testid=flex-seen]").Contains("Shown: the nearest that can be built", StringComparison.Ordinal), "it");
        B.Until(() => B.Text("[data-step=between]") != wall, "another block in the view");
        B.Find("[data-try=failed]").SendKeys(Keys.ArrowUp);
        ((string)B.Driver.ExecuteScript("return document.activeElement.dataset.try ?? ''")!).ShouldNotBe("");
        B.Press("[data-testid=flex-seen] button");
        B.Until(() => B.Text("[data-step=between]") == wall, "the block as it is");
        B.Find("[data-flex=apart] button").Click();
        B.Press("[data-testid=open-parameters]");
        B.Until(() => B.Attribute("[data-knob=apart]", "title")!.Contains("from 18.9", StringComparison.Ordinal), "the range");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void Variants_are_made_chosen_failing_and_gone_again()
    {
        Open("Hose cradle", "variants");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-variant]")).Count == 5, "five variants");
        B.Until(() => B.Text("[data-variant='Hose 12']").Contains(" g", StringComparison.Ordinal), "their masses");
        B.Attribute("[data-testid=variant]", "value").ShouldBe("Hose 8", "the one that fits is said in the header");
        B.Press("[data-choose='Hose 12']");
        B.Until(() => B.Attribute("[data-testid=variant]", "value") == "Hose 12", "the variant in the header");
        Choose("[data-testid=variant]", "Hose 6");
        B.Until(() => B.Text("[data-variant='Hose 6']").Contains("shown", StringComparison.Ordinal), "the variant in the table");

        // One is held against what the part is: what is set and read otherwise, and its body in the view.
        B.Settled();
        var shown = B.Attribute("[data-testid=viewport]", "data-volume");
        B.Press("[data-compare='Hose 12']");
        B.Until(() => B.Has("[data-differs=Mass]"), "what differs");
        B.Text("[data-differs=Mass]").ShouldContain("−");
        B.Text("[data-differs=hose]").ShouldContain("12 mm");
        B.Until(() => B.Attribute("[data-testid=viewport]", "data-volume") != shown, "its body in the view");
        B.Press("[data-compare='Hose 10']");
        B.Until(() => B.Text("[data-differs=hose]").Contains("10 mm", StringComparison.Ordinal), "the other one");
        B.Press("[data-compare='Hose 10']");
        B.Until(
            () => B.Attribute("[data-testid=viewport]", "data-volume") == shown && !B.Has("[data-testid=compared]"),
            "the part as it is"
        );
        B.Press("[data-testid=add-variant]");
        B.Until(() => B.Has("[data-variant='Variant 6']"), "another");
        Change("[aria-label='guide_r of Variant 6']", "hose * what");
        B.Until(() => B.Text("[data-testid=variants] [role=alert]").Contains("'what'", StringComparison.Ordinal), "the refusal");
        B.Press("[aria-label='Remove Variant 6']");
        B.Until(() => !B.Has("[data-variant='Variant 6']"), "it to go");

        // A table that was copied from elsewhere.
        ((IJavaScriptExecutor)B.Driver).ExecuteScript(
            """
            const data = new DataTransfer();
            data.setData('text/plain', 'variant\those\tthick\nTall\t8 mm\t20 mm\nHose 4\t4 mm\t9');
            document.querySelector('[data-testid=variants]').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
            """
        );
        B.Until(() => B.Has("[data-variant=Tall]"), "the pasted one");
        B.Attribute("[aria-label='thick of Hose 4']", "value").ShouldBe("9 mm");
        B.ConsoleErrors().ShouldAllBe(e => e.Contains("422", StringComparison.Ordinal));
    }

    [Fact]
    public void What_hangs_on_what_is_walked()
    {
        Open("Motor plate", "why");
        Choose("[aria-label='of what']", "/bore");
        B.Until(() => B.Has("[data-why='Collar ring']"), "what hangs on the bore");
        B.Press("[data-why=Slotting]");
        B.Until(() => B.Has("[data-why=plate_h]"), "what the slotting hangs on");
        B.Text("[data-testid=why]").ShouldContain("Built again after it, on the same material: 4x M5.");
        Choose("[aria-label='of what']", "slots/");
        Choose("[aria-label='which size']", "upper.r");
        B.Until(() => B.Has("[data-why=slot_w]") && !B.Has("[data-why=travel]"), "what the size alone hangs on");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void Parameters_have_ranges_sliders_headings_uses_and_take_tables()
    {
        EnterDemo();
        B.Go("/parts");
        B.PressPart("Motor plate");
        B.Settled();
        B.Press("[data-testid=open-parameters]");
        B.Press("[data-more=thick]");
        Change("[aria-label='most of thick']", "9");
        B.Until(() => B.Attribute("[data-slide=thick]", "title") == "from 4 mm to 9 mm", "the range");
        B.Press("[data-more=bore]");
        B.Until(() => B.Text("[data-details=bore]").Contains("used by", StringComparison.Ordinal), "where it is used");
        B.Driver.FindElements(By.CssSelector("[data-details=bore] [data-used-by]"))
            .Select(e => e.Text.Trim())
            .ShouldBe(["Outline", "Collar ring"]);
        Change("[aria-label='least of bore']", "wide");
        B.Until(() => B.Text("[data-testid=parameters] [role=alert]").Contains("wide", StringComparison.Ordinal), "the refusal");
        Change("[aria-label='least of bore']", "10 mm");
        Change("[aria-label='heading of bore']", "Bore");
        B.Until(() => B.Text("[data-testid=parameters]").Contains("BORE", StringComparison.OrdinalIgnoreCase), "the heading");

        // A slider is one edit, however far it was moved, and shows the part meanwhile.
        B.Act().MoveToElement(B.Find("[aria-label=Parameters] h2")).ClickAndHold().MoveByOffset(60, 210).Release().Perform();
        B.Find("[data-testid=parameters]").Location.Y.ShouldBeGreaterThan(280, "the card goes where it is dragged");
        var volume = B.Text("[data-step=plate_volume]");
        var slider = B.Find("[data-slide=thick]");
        slider.SendKeys(Keys.End);
        B.Until(() => B.Text("[data-row=thick]").Contains("9 mm", StringComparison.Ordinal), "the value at the end");
        B.Until(() => B.Text("[data-step=plate_volume]") != volume, "the volume at the end");
        B.Press("[data-testid=undo]");
        B.Until(() => B.Text("[data-step=plate_volume]") == volume, "one step back is all of it");
        Change("[data-parameter=thick]", "20 mm");
        B.Until(
            () => B.Text("[data-testid=parameters] [role=alert]").Contains("its range goes from 4 mm to 9 mm", StringComparison.Ordinal),
            "the refusal"
        );
        ((IJavaScriptExecutor)B.Driver).ExecuteScript(
            """
            const data = new DataTransfer();
            data.setData('text/plain', 'name\tvalue\tfor\nplate_w\t100 mm\twidth\ngap\tplate_w / 10\tpasted');
            document.querySelector('[data-testid=parameters]').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
            """
        );
        B.Until(() => B.Text("[data-row=gap]").Contains("10 mm", StringComparison.Ordinal), "the pasted rows");
        B.Attribute("[aria-label='what gap is for']", "value").ShouldBe("pasted");
        B.Press("[aria-label='More of gap']");
        B.Press("[aria-label='Move gap up']");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-row]"))[^1].GetAttribute("data-row") != "gap", "it to go up");
        B.Press("[data-more=bore]");
        B.Press("[data-details=bore] [data-used-by=ring]");
        B.Until(() => B.Has("[data-testid=why]"), "what hangs on the step");
    }
}
