using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Ratiogon.Browser.Tests;

/// <summary>The rest of the workspace, through the real interface.</summary>
public class WorkspaceTests(ServerFixture fixture) : BrowserTest(fixture)
{
    private void Rectangle(double x1, double y1, double x2, double y2)
    {
        B.Type("d", "r");
        B.Until(() => B.Prompt.StartsWith("Click a corner", StringComparison.Ordinal), "the rectangle tool");
        B.ClickSketch(x1, y1);
        B.ClickSketch(x2, y2);
        B.UntilFreedoms(4);
    }

    [Fact]
    public void A_free_corner_follows_the_pointer_and_escape_leaves_step_by_step()
    {
        SignUp();
        NewPart("Drag");
        Rectangle(5, 5, 35, 25);
        B.Press("[data-tool=select]");
        B.DragSketch(35, 25, 45, 38);
        B.ClickSketch(45, 38);
        B.Until(() => B.Picks.Any(p => p.Contains("r1.p3", StringComparison.Ordinal)), "the corner to be where it was dragged");
        B.ClickSketch(45, 20);
        B.Find("[data-offer=size-distance]");
        OfferValue("size-distance").ShouldBe(33, 0.5);
        B.Type(Keys.Escape, Keys.Escape);
        B.Until(() => B.Attribute("[data-testid=viewport]", "data-sketch") == "", "the sketch to be left");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void A_dimension_is_changed_by_a_double_click_and_bad_values_are_refused_there()
    {
        SignUp();
        NewPart("Sizes");
        Rectangle(5, 5, 35, 25);
        B.Press("[data-tool=select]");
        B.ClickSketch(20, 5);
        B.Press("[data-offer=size-distance]");
        B.UntilFreedoms(3);
        var drawn = B.Until(() => B.Text("[data-dimension=d1]"), "the dimension");
        B.Act().DoubleClick(B.Find("[data-dimension=d1]")).Perform();
        foreach (var (bad, why) in new[] { ("0", "more than zero"), ("30 +", "Expected"), ("30 deg", "length"), ("1e300 mm", "between") })
        {
            B.Fill("[data-dimension-field=d1]", bad + Keys.Enter);
            B.Until(
                () => B.Driver.FindElements(By.CssSelector("[role=alert]")).Any(e => e.Text.Contains(why, StringComparison.Ordinal)),
                $"'{bad}' to be refused with '{why}'"
            );
        }

        B.Fill("[data-dimension-field=d1]", "1 1/2 in" + Keys.Enter);
        B.Until(() => B.Text("[data-dimension=d1]") == "38.1 mm", "the new size");
        B.Act().KeyDown(Keys.Control).SendKeys("z").KeyUp(Keys.Control).Perform();
        B.Until(() => B.Text("[data-dimension=d1]") == drawn, "the size taken back");
    }

    [Fact]
    public void What_is_too_much_is_refused_with_its_reason_and_can_be_kept_as_a_reference()
    {
        SignUp();
        NewPart("Redundant");
        Rectangle(5, 5, 35, 25);
        B.Press("[data-tool=select]");
        B.ClickSketch(20, 5);
        B.Press("[data-offer=size-distance]");
        B.UntilFreedoms(3);
        B.Type("s", "d");
        B.Until(() => B.Prompt.StartsWith("Pick what to dimension", StringComparison.Ordinal), "the dimension tool");
        B.ClickSketch(20, 25);
        B.ClickSketch(20, 31);
        B.Find("[data-field=value]");
        B.Type(Keys.Enter);
        B.Until(() => B.Refusal.Contains("follows already from", StringComparison.Ordinal), "the refusal");
        B.PressText("→ keep this size as a reference");
        B.Until(
            () =>
                B
                    .Driver.FindElements(By.CssSelector("[data-dimension]"))
                    .Any(e => e.Text.StartsWith('(') && e.Text.EndsWith(" mm)", StringComparison.Ordinal)),
            "the reference dimension"
        );
        B.Freedoms.ShouldBe(3);
    }

    [Fact]
    public void Freedoms_are_listed_in_words()
    {
        SignUp();
        NewPart("Temper");
        B.Type("d", "c");
        B.Until(() => B.Prompt.Contains("centre", StringComparison.Ordinal), "the circle tool");
        B.ClickSketch(0, 0);
        B.ClickSketch(12, 0);
        B.UntilFreedoms(1);
        B.Press("[data-testid=temper-bar]");
        B.PressText("circle c1 grows");
    }

    [Fact]
    public void Ties_are_made_from_picks_and_by_tool()
    {
        SignUp();
        NewPart("Ties");
        B.Type("d", "l");
        B.Until(() => B.Prompt.Contains("line begins", StringComparison.Ordinal), "the line tool");
        foreach (var (x, y) in new[] { (5.0, 5.0), (30.0, 12.0) })
        {
            B.ClickSketch(x, y);
        }

        B.Type(Keys.Escape);
        B.ClickSketch(8, 20);
        B.ClickSketch(35, 31);
        B.Type(Keys.Escape);
        B.UntilFreedoms(8);
        B.Press("[data-tool=select]");
        B.ClickSketch(17.5, 8.5);
        B.ClickSketch(21.5, 25.5, extend: true);
        B.Press("[data-offer=tie-parallel]");
        B.UntilFreedoms(7);
        B.Type("t", "h");
        B.Until(() => B.Prompt.StartsWith("horizontal", StringComparison.Ordinal), "the tool");
        B.ClickSketch(17.5, 8.5);
        B.UntilFreedoms(6);
    }

    [Fact]
    public void Faces_edges_and_planes_are_picked_and_offer_what_they_determine()
    {
        EnterDemo();
        B.Press("[data-view=top]");
        B.Drawn();
        B.ClickView(-180, 40);
        B.Find("[data-offer=sketch-here]");
        B.Text("[data-offer='face-area'] [data-value]").ShouldEndWith("mm²");
        B.Press("[data-offer=sketch-here]");
        B.Until(() => B.Attribute("[data-testid=viewport]", "data-sketch") != "", "the sketch on the face");
        B.Press("[data-testid=undo]");
        B.Until(() => !B.Has("[data-step=sketch1]"), "the sketch to be gone");
    }

    [Fact]
    public void Two_tabs_see_each_others_edits_and_stale_ones_change_nothing()
    {
        SignUp();
        NewPart("Tabs");
        Rectangle(5, 5, 35, 25);
        var address = B.Driver.Url;
        var first = B.Driver.CurrentWindowHandle;
        B.Driver.SwitchTo().NewWindow(WindowType.Tab);
        B.Driver.Navigate().GoToUrl(address);
        B.Find("[data-step=sketch1]");
        B.Press("[data-testid=part-name]");
        B.Fill("input[aria-label='Name of the part']", "From the second" + Keys.Enter);
        B.Until(() => B.Text("[data-testid=part-name]") == "From the second", "the name here");
        B.Driver.SwitchTo().Window(first);
        B.Until(() => B.Text("[data-testid=part-name]") == "From the second", "the name in the first tab");
    }

    [Fact]
    public void Whoever_was_signed_out_elsewhere_is_told_and_goes_on_after_signing_in()
    {
        TrySignUp("password1");
        B.Until(
            () => B.Driver.FindElements(By.CssSelector("[role=alert]")).Any(e => e.Text.Contains("tried first", StringComparison.Ordinal)),
            "why that password is none"
        );
        SignUp();
        NewPart("Left open");
        Rectangle(5, 5, 35, 25);

        // As another tab of the same browser does it.
        B.Driver.ExecuteScript("fetch('/api/account/sign-out', { method: 'POST' })");
        B.Until(
            () =>
                B
                    .Driver.FindElements(By.CssSelector("[role=alert]"))
                    .Any(e => e.Text.Contains("You were signed out", StringComparison.Ordinal)),
            "to be told"
        );
        B.ConsoleErrors()
            .ShouldAllBe(e =>
                e.Contains("401", StringComparison.Ordinal)
                || e.Contains("422", StringComparison.Ordinal)
                || e.Contains("live", StringComparison.Ordinal)
            );
    }

    [Fact]
    public void Parameters_drive_sizes_and_say_what_is_wrong_with_them()
    {
        EnterDemo();
        var before = OfferValue("volume");
        B.Press("[data-testid=open-parameters]");
        B.Fill("[data-parameter=thick]", "thick * 2" + Keys.Enter);
        B.Until(() => B.Text("[data-testid=parameters]").Contains("depends on itself", StringComparison.Ordinal), "the cycle to be told");
        B.Fill("[data-parameter=thick]", "8 mm" + Keys.Enter);
        B.Until(() => Math.Abs(OfferValue("volume") - Core.Demo.MotorPlate.VolumeByHand(t: 8)) < 0.01, "the volume of a thicker plate");
        B.Press("[data-testid=undo]");
        B.Until(() => Math.Abs(OfferValue("volume") - before) < 0.01, "the volume as it was");
    }

    [Fact]
    public void A_parameter_takes_another_name_and_all_formulas_follow()
    {
        EnterDemo();
        var before = OfferValue("volume");
        B.Press("[data-testid=open-parameters]");
        B.Fill("[aria-label='name of thick']", "bore" + Keys.Enter);
        B.Until(
            () => B.Text("[data-testid=parameters]").Contains("There is a parameter 'bore' already", StringComparison.Ordinal),
            "the taken name to be told"
        );
        B.Find("[aria-label='name of thick']").GetDomProperty("value").ShouldBe("bore", "what was typed stays");
        B.Type("depth" + Keys.Enter);
        B.Find("[data-parameter=depth]");
        B.Has("[data-parameter=thick]").ShouldBeFalse();
        B.Fill("[data-parameter=depth]", "8 mm" + Keys.Enter);
        B.Until(() => Math.Abs(OfferValue("volume") - Core.Demo.MotorPlate.VolumeByHand(t: 8)) < 0.01, "the volume of a thicker plate");
        B.Press("[data-testid=undo]");
        B.Press("[data-testid=undo]");
        B.Find("[data-parameter=thick]");
        B.Until(() => Math.Abs(OfferValue("volume") - before) < 0.01, "the volume as it was");
    }

    [Fact]
    public void Tools_are_found_by_name_and_the_card_of_second_strokes_appears()
    {
        SignUp();
        NewPart("Find");
        B.Type("t");
        B.Text("[data-testid=stroke-card]").ShouldContain("Perpendicular");
        B.Type(Keys.Escape);
        B.Until(() => !B.Has("[data-testid=stroke-card]"), "the card to go");
        B.Type("/");
        B.Find("input[aria-label='Find a tool by name']").SendKeys("centre");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[role=option]")).Count > 0, "what was found");
        B.Type(Keys.ArrowDown, Keys.Enter);
        B.Until(() => B.Has("[data-testid=temper-bar]") || B.Prompt.Length > 0, "the tool");
    }

    [Fact]
    public void A_failing_step_says_why_and_the_rest_waits()
    {
        EnterDemo();
        B.Fill("[data-size='collar/length']", "0" + Keys.Enter);
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("[role=alert]")).Any(e => e.Text.Contains("more than zero", StringComparison.Ordinal)),
            "the refusal"
        );
        B.Find("[data-size='collar/length']").SendKeys(Keys.Escape);
        B.Press("[data-more=plate]");
        B.PressText("Suppress, with 8 on it");
        B.Until(() => B.Attribute("[data-step=drilling]", "data-state") == "waiting", "the drilling to wait");
        B.Press("[data-testid=undo]");
        B.Until(() => B.Attribute("[data-step=drilling]", "data-state") == "built", "the drilling to be back");
    }

    [Fact]
    public void Somebody_elses_part_is_not_there()
    {
        EnterDemo();
        var address = B.Driver.Url;
        B.Press("[aria-label=Account]");
        B.PressText("Sign out");
        SignUp();
        B.Driver.Navigate().GoToUrl(address);
        B.Until(
            () => B.Driver.FindElement(By.TagName("body")).Text.Contains("There is no such part", StringComparison.Ordinal),
            "the refusal"
        );
    }

    [Fact]
    public void A_view_stays_fitted_in_a_window_of_another_size()
    {
        // The plate of the demo, 90 by 64 about the origin, in a view seen from above.
        EnterDemo();
        B.Press("[data-view=top]");
        B.Quiet();
        var wide = Plate();
        B.Resize(1024, 620);
        B.Until(() => Plate().Height < wide.Height * 0.8, "a view fitted to less room");
        Plate().Share.ShouldBe(wide.Share, 0.05);
    }

    /// <summary>How high the demo's plate is in the picture, in pixels and as a share of the picture's shorter side.</summary>
    private (double Height, double Share) Plate()
    {
        var view = B.Find("[data-testid=viewport]").Size;
        var high = Math.Abs(B.Seen(0, 32, 0).Y - B.Seen(0, -32, 0).Y);
        return (high, high / (double)Math.Min(view.Width, view.Height));
    }

    [Fact]
    public void A_view_is_kept_under_a_name_and_looked_at_again()
    {
        EnterDemo();
        B.Press("[data-view=front]");
        B.Quiet();
        var look = Corners();
        B.Press("[data-testid=named-views]");
        B.Type("B", "o", "r", "e", Keys.Enter);
        B.Find("[data-named-view=Bore]");
        B.Type(Keys.Escape);
        B.Until(() => !B.Has("[data-named-view=Bore]"), "the list to close");
        B.Press("[data-view=corner]");
        B.DragView(0, 0, 60, 20, right: true);
        Corners().ShouldNotBe(look);

        // It is there when the page is loaded anew.
        B.Driver.Navigate().Refresh();
        B.Settled();
        B.Press("[data-testid=named-views]");
        B.Press("[data-named-view=Bore]");
        B.Until(() => Corners() == look, "the view as it was kept");
        B.Press("[aria-label='Forget Bore']");
        B.Until(() => !B.Has("[data-named-view=Bore]"), "it to be forgotten");
        B.ConsoleErrors().ShouldBeEmpty();

        ((int, int), (int, int)) Corners() => (B.Seen(-45, -32, 0), B.Seen(45, 32, 6));
    }

    [Fact]
    public void Main_screens_pass_the_accessibility_rules()
    {
        EnterDemo();
        Axe("the workspace");
        B.PressBench("Datum");
        B.Press("[data-tool=plane]");
        B.Find("[data-testid=datum-panel]");
        B.ClickView(-96, 87);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-condition]")).Count == 1, "a pick");
        Axe("the Datum bench");
        B.Press("[data-testid=datum-cancel]");
        B.Press("[data-edit=drilling]");
        B.Until(() => B.Has("[data-testid=form-state]") && B.Text("[data-testid=form-state]") == "ready", "the hole form");
        Axe("the Form bench");
        B.Press("[data-testid=form-cancel]");
        B.PressBench("Gauge");
        B.Press("[data-tool=mass-card]");
        B.Find("[data-testid=mass-card]");
        B.Press("[data-testid=section]");
        Axe("mass, material and a section");
    }

    private void Axe(string where) => B.Inaccessible().ShouldBeEmpty(where);

    [Fact]
    public void Views_glide_unless_less_motion_is_asked_for()
    {
        SignUp();
        NewPart("Glide");
        const string Script = """
            const [view, done] = arguments;
            const picture = document.querySelector('[data-testid=viewport]');
            const seen = new Set([picture.dataset.look]);
            new MutationObserver(() => seen.add(picture.dataset.look)).observe(picture, { attributes: true, attributeFilter: ['data-look'] });
            document.querySelector(`[data-view=${view}]`).click();
            setTimeout(() => done(seen.size), 2500);
            """;
        long Pictures(string view) => (long)B.Driver.ExecuteAsyncScript(Script, view)!;
        Pictures("top").ShouldBe(2);
        B.Glide(true);
        try
        {
            // The one before, the one it ends at, and some between: how many depends on the machine.
            Pictures("right").ShouldBeGreaterThan(2);
        }
        finally
        {
            B.Glide(false);
        }

        Pictures("front").ShouldBe(2);
    }
}
