using System.Diagnostics;
using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>The first hour of somebody who has never seen it: from signing up to a STEP file, led by the guide and in a way of one's own,
/// each in less than three minutes at one action a second; the examples; the keys; tools found by need.</summary>
public class FirstHourTests(ServerFixture fixture) : BrowserTest(fixture)
{
    private const double MostSeconds = 180;
    private int actions;

    private string At => B.Attribute("[data-testid=guide]", "data-guide-step")!;

    private void Do(Action act)
    {
        act();
        actions++;
    }

    private void UntilStep(int step) => B.Until(() => At == $"{step}", $"step {step + 1} of the guide; it is at {At}");

    private void BeginGuide()
    {
        SignUp();
        Do(() => B.Press("[data-testid=begin-guide]"));
        B.Find("[data-testid=guide]");
        B.Settled();
        UntilStep(0);
    }

    private void HandOver()
    {
        Do(() => B.Press("[data-testid=files]"));
        Do(() => B.Press("[data-testid=export]"));
        Do(() => B.Press("[data-format=step]"));
        Do(() => B.Press("[data-testid=export-write]"));
        B.Until(
            () =>
                Directory
                    .GetFiles(B.Downloads, "*.step")
                    .Any(f => File.ReadAllText(f).Contains("END-ISO-10303-21;", StringComparison.Ordinal)),
            "the STEP file"
        );
        UntilStep(7);
        Do(() => B.Press("[data-testid=end-guide]"));
        B.Until(() => !B.Has("[data-testid=guide]"), "the guide to be gone");
    }

    private void InTime(Stopwatch clock)
    {
        // Signing up took an address, a password and a press more.
        var byHand = actions + 4;
        byHand.ShouldBeLessThan(60, "actions");
        (Math.Max(byHand, 0) + clock.Elapsed.TotalSeconds).ShouldBeLessThan(
            MostSeconds,
            $"{byHand} actions at one a second, {clock.Elapsed.TotalSeconds:0} s here"
        );
        TestContext.Current.TestOutputHelper?.WriteLine($"{byHand} actions, {clock.Elapsed.TotalSeconds:0} s driven");
    }

    [Fact]
    public void The_guide_leads_from_signing_up_to_a_STEP_file()
    {
        var clock = Stopwatch.StartNew();
        BeginGuide();
        Do(() => B.Press("[data-tool=rectangle-centre]"));
        B.Until(() => B.Prompt.Contains("centre of the rectangle", StringComparison.Ordinal), "the tool");
        Do(() => B.ClickSketch(0, 0));
        Do(() => B.MoveSketch(30, 20));
        Do(() => B.Type("8", "0", Keys.Tab, "50", Keys.Enter));
        B.UntilFreedoms(0);
        UntilStep(2);

        // What to press is shown where it is.
        B.Until(() => B.Has("[data-testid=guide-ring]"), "the ring");
        Do(() => B.Press("[data-tool=circle]"));
        B.Until(() => B.Prompt.Contains("centre of the circle", StringComparison.Ordinal), "the circle tool");
        Do(() => B.ClickSketch(18, 8));
        Do(() => B.ClickSketch(24, 8));
        UntilStep(3);
        Do(() => B.Press("[data-testid=leave-sketch]"));
        Do(() => B.PressBench("Form"));
        Do(() => B.Press("[data-tool=extrude]"));
        B.Find("[data-testid=form-panel]");
        Do(() => B.Press("[data-testid=form-accept]"));
        UntilStep(4);
        B.Settled();
        Do(() => B.PressBench("Datum"));
        Do(() => B.ClickView(0, 0));
        B.Until(() => B.Picks.Count > 0, "a pick");
        Do(() => B.Press("[data-offer^=plane]"));
        B.Until(() => At == "5" || B.Has("[data-testid=datum-accept]"), "the plane, or what accepts it");
        if (At != "5")
        {
            Do(() => B.Press("[data-testid=datum-accept]"));
        }

        UntilStep(5);
        Do(() => B.PressBench("Gauge"));
        Do(() => B.Press("[data-tool=volume]"));
        UntilStep(6);
        HandOver();
        InTime(clock);
        B.ConsoleErrors().ShouldBeEmpty();
    }

    /// <summary>No rectangle, no size by the prompt, a hole drilled into the body, an axis for a plane, a mass for a distance.</summary>
    [Fact]
    public void Another_way_counts_as_well_and_the_guide_can_be_left_and_taken_up()
    {
        BeginGuide();
        var clock = Stopwatch.StartNew();
        Do(() => B.Type("d", "c"));
        B.Until(() => B.Prompt.Contains("centre", StringComparison.Ordinal), "the circle tool");
        Do(() => B.ClickSketch(0, 0));
        Do(() => B.ClickSketch(25, 0));
        B.UntilFreedoms(1);
        Do(() => B.Press("[aria-label='Leave the guide']"));
        B.Until(() => !B.Has("[data-testid=guide]"), "the guide to be gone");
        Do(() => B.Press("[data-testid=leave-sketch]"));
        Do(() => B.Type("f", "e"));
        B.Find("[data-testid=form-panel]");
        Do(() => B.Type(Keys.Enter));
        B.Until(() => !B.Has("[data-testid=form-panel]"), "the body");
        B.Settled();
        Do(() => B.Press("[aria-label=Account]"));
        Do(() => B.Press("[data-testid=take-up-guide]"));

        // A round body counts for the rectangle, its sizes and the hole.
        UntilStep(4);
        Do(() => B.PressBench("Datum"));
        Do(() => B.ClickView(0, 0));
        B.Until(() => B.Picks.Count > 0, "a pick");
        Do(() => B.Press("[data-offer^=plane]"));
        B.Until(() => At == "5" || B.Has("[data-testid=datum-accept]"), "the plane, or what accepts it");
        if (At != "5")
        {
            Do(() => B.Press("[data-testid=datum-accept]"));
        }

        UntilStep(5);
        Do(() => B.Type("g", "m"));
        UntilStep(6);
        HandOver();
        InTime(clock);
    }

    [Fact]
    public void Examples_become_parts_keys_are_shown_and_tools_found_by_what_they_are_for()
    {
        SignUp();
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-example]")).Count == 6, "the examples");
        B.Until(
            () =>
                (bool)
                    B.Driver.ExecuteScript(
                        "return [...document.querySelectorAll('[data-example] img')].every(i => i.complete && i.naturalWidth > 0)"
                    )!,
            "the pictures"
        );
        B.Press("[data-example=inlet-block]");
        B.Settled();
        B.Text("[data-testid=part-name]").ShouldBe("Inlet block");
        B.PressBench("Form");
        B.Type("?");
        B.Until(() => B.Has("[data-testid=keys]"), "the keys");
        B.Text("[data-key-of=extrude]").ShouldContain("Extrude");
        B.Press("[aria-label='Close the keys']");
        B.Type("/");
        var box = B.Find("input[aria-label='Find a tool by name']");
        box.SendKeys("angle hole");
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("[role=option]")) is [var one] && one.Text.Contains("Hole", StringComparison.Ordinal),
            "the hole"
        );
        box.SendKeys(Keys.Control + "a" + Keys.Null + "fillet");
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("[role=option]")) is [var first, ..]
                && first.Text.Contains("Form", StringComparison.Ordinal),
            "with a body, the form before the sketch's"
        );
        box.SendKeys(Keys.Escape);
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void Examples_have_pictures_for_light_and_for_dark()
    {
        SignUp();
        var shown = new List<string>();
        foreach (var theme in new[] { "light", "dark" })
        {
            B.Driver.ExecuteScript("localStorage.setItem('theme', arguments[0])", theme);
            B.Go("/parts");
            B.Until(() => B.Driver.FindElements(By.CssSelector("[data-example] img")).Count == 6, "the examples");
            var pictures = B.Driver.FindElements(By.CssSelector("[data-example] img"));
            B.Until(
                () => pictures.All(i => (bool)B.Driver.ExecuteScript("return arguments[0].complete && arguments[0].naturalWidth > 0", i)!),
                $"the pictures in {theme}"
            );
            shown.AddRange(pictures.Select(i => i.GetAttribute("src")!));
        }

        shown.Distinct().Count().ShouldBe(12);
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void The_sheet_is_widened_rows_and_view_light_each_other_and_escape_closes_the_top_card()
    {
        EnterDemo();
        B.Go("/parts");
        B.PressPart("Motor plate");
        B.Settled();
        var handle = B.Find("[data-testid=sheet-width]");
        var before = B.Find("aside").Size.Width;
        B.Act().MoveToElement(handle).ClickAndHold().MoveByOffset(-120, 0).Release().Perform();
        B.Find("aside").Size.Width.ShouldBeInRange(before + 120 - 4, before + 120 + 4);
        B.Driver.Navigate().Refresh();
        B.Settled();
        B.Find("aside").Size.Width.ShouldBeInRange(before + 120 - 4, before + 120 + 4);
        B.Find("[data-testid=sheet-width]").SendKeys(Keys.ArrowRight);
        B.Find("aside").Size.Width.ShouldBeInRange(before + 104 - 4, before + 104 + 4);

        // What is under the pointer says which step made it.
        B.Until(
            () =>
            {
                var view = B.Find("[data-testid=viewport] canvas");
                B.Act().MoveToElement(view, 90, 60).MoveByOffset(2, 2).Perform();
                return B.Driver.FindElements(By.CssSelector("[data-seen=true]")).Count == 1;
            },
            "the row of what is under the pointer"
        );
        B.Act().MoveToElement(B.Find("[data-testid=part-name]")).Perform();
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-seen=true]")).Count == 0, "nothing under the pointer");

        // The card on top goes first.
        B.Press("[data-testid=open-ask]");
        B.Press("[data-testid=open-parameters]");
        B.Until(() => B.Has("[data-testid=parameters]") && B.Has("[data-testid=ask-card]"), "two cards");
        B.Find("[data-testid=viewport]");
        B.Act().SendKeys(Keys.Escape).Perform();
        B.Until(() => !B.Has("[data-testid=parameters]") && B.Has("[data-testid=ask-card]"), "the one on top to go");
        B.Act().SendKeys(Keys.Escape).Perform();
        B.Until(() => !B.Has("[data-testid=ask-card]"), "the other");

        // An end of the marker of directions is looked from.
        double Near(string end) =>
            double.Parse(B.Attribute($"[data-sprig='{end}'] circle", "r")!, System.Globalization.CultureInfo.InvariantCulture);
        B.Press("[data-sprig=x]");
        B.Until(() => Near("x") > 7.99, "the view from x");
        B.Press("[data-sprig=z]");
        B.Until(() => Near("z") > 7.99, "the view from above");

        // A figure presses the offer that shows it.
        B.Press("[data-world='world/xy']");
        B.Act().KeyDown(Keys.Shift).Click(B.Find("[data-world='world/xz']")).KeyUp(Keys.Shift).Perform();
        B.Until(() => B.Has("[data-offer-key='1']"), "an offer with a figure");
        var offered = B.Attribute("[data-offer-key='1']", "data-offer")!;
        B.Act().SendKeys("1").Perform();
        B.Until(() => B.Has("[data-testid=datum-panel]") || !B.Has($"[data-offer={offered}]"), "the offer to be taken");
        B.Type(Keys.Escape);

        // Three looks, kept.
        B.Press("[aria-label=Account]");
        B.Press("[data-theme-choice=contrast]");
        B.Until(() => (string?)B.Driver.ExecuteScript("return document.documentElement.dataset.theme") == "contrast", "high contrast");
        B.Driver.Navigate().Refresh();
        B.Settled();
        B.Driver.ExecuteScript("return document.documentElement.dataset.theme").ShouldBe("contrast");
        B.Press("[aria-label=Account]");
        B.Press("[data-theme-choice=light]");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    /// <summary>Where a body hides the origin, rows and lists serve as picks in every tool alike.</summary>
    [Fact]
    public void World_and_rows_are_picked_from_the_sheet_in_every_tool()
    {
        EnterDemo();
        B.Go("/parts");
        B.PressPart("Inlet block");
        B.Settled();
        B.Press("[data-world='world/yz']");
        B.Until(() => B.Picks.SequenceEqual(["world/yz"]), "the plane as a pick");
        B.Press("[data-world='world/yz']");
        B.Until(() => B.Picks.Count == 0, "nothing picked");

        // A frame's row takes a new sketch; so does a world plane.
        B.PressBench("Draw");
        B.Press("[data-tool=new-sketch]");
        B.Press("[data-edit=top]");
        B.Until(() => B.Attribute("[data-testid=viewport]", "data-sketch") != "", "a sketch on the frame");
        B.Press("[data-testid=leave-sketch]");
        B.Press("[data-tool=new-sketch]");
        B.Press("[data-world='world/xz']");
        B.Until(() => B.Attribute("[data-testid=viewport]", "data-sketch") != "", "a sketch on the world's plane");
        B.Press("[data-testid=leave-sketch]");

        // The plane tool takes it as well.
        B.PressBench("Datum");
        B.Press("[data-tool=plane]");
        B.Find("[data-testid=datum-panel]");
        B.Press("[data-world='world/xy']");
        B.Until(() => B.Has("[data-testid=datum-accept]") && B.Find("[data-testid=datum-accept]").Enabled, "a plane by the world's");
        B.ConsoleErrors().ShouldBeEmpty();
    }
}
