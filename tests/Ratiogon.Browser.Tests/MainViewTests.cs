using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Browser.Tests;

/// <summary>Walks through the main views from demo data, and holds each in light, dark and contrast at three sizes of the window to the
/// rules of every screen. With RATIOGON_PICTURES set to a folder it also takes their pictures, which is how docs/screenshots is
/// refreshed; with RATIOGON_LOOKS, those of all nine.</summary>
public class MainViewTests(ServerFixture fixture) : BrowserTest(fixture)
{
    private static readonly string? Folder = Environment.GetEnvironmentVariable("RATIOGON_PICTURES");
    private static readonly string? Looks = Environment.GetEnvironmentVariable("RATIOGON_LOOKS");
    private static readonly (int Width, int Height)[] Windows = [(1024, 768), (1920, 1080), (1280, 800)];
    private static readonly string[] Themes = ["dark", "contrast"];
    private readonly List<string> wrong = [];

    private void Picture(string name, bool pointerStays = false)
    {
        if (Folder is not null)
        {
            if (!pointerStays && B.Has("[aria-label='Build sheet'] h2"))
            {
                B.Act().MoveToElement(B.Find("[aria-label='Build sheet'] h2")).Perform();
            }

            B.Shoot(Path.Combine(Folder, name + ".png"));
        }

        Seen(name);
    }

    /// <summary>Looks at the view that is open: by all rules as it is, by those on room in every window, by those on colours in every
    /// theme.</summary>
    private void Seen(string name)
    {
        wrong.AddRange(B.Inaccessible().Select(w => $"{name}: {w}"));
        foreach (var theme in Themes)
        {
            B.Theme(theme);
            wrong.AddRange(B.Inaccessible("color-contrast").Select(w => $"{name}, {theme}: {w}"));
        }

        B.Theme("light");
        foreach (var (width, height) in Windows)
        {
            B.Resize(width, height);
            B.Quiet();
            wrong.AddRange(B.OutOfPlace().Select(w => $"{name}, {width} wide: {w}"));
            Shoot(name, width);
        }
    }

    private void Shoot(string name, int width)
    {
        if (Looks is null)
        {
            return;
        }

        foreach (var theme in Themes.Append("light"))
        {
            B.Theme(theme);
            B.Shoot(Path.Combine(Looks, $"{name}-{width}-{theme}.png"));
        }
    }

    /// <summary>Nothing was wrong with what was seen, and the page complained of nothing.</summary>
    private void AllWell()
    {
        wrong.Distinct().ShouldBeEmpty();
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void Every_main_view_opens_without_errors()
    {
        B.Go("/sign-in");
        B.Find("[data-testid=enter-demo]");
        EnterDemo();
        B.Quiet();
        B.Type("g", Keys.Escape);
        B.ClickView(-96, 87);
        B.ClickView(-76, -16, extend: true);
        B.Find("[data-offer=distance]");
        Picture("workspace");
        B.Press("[data-testid=open-parameters]");
        B.Find("[data-parameter=plate_w]");
        B.Press("[aria-label='Close the parameters']");

        B.Press("[data-edit=slots]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Count == 8, "the sizes of the slots");
        Picture("sketch-set");
        B.Press("[data-testid=leave-sketch]");
        B.Press("[data-edit=slotting]");
        B.Find("[data-testid=form-panel]");
        B.Press("[data-view=corner]");
        B.Drawn();
        B.PressText("Cancel");

        B.Go("/parts");
        B.Find("a[href^='/parts/']");
        B.Until(() => B.Driver.FindElements(By.CssSelector("main li")).Count > 0, "the list");
        Picture("parts");

        B.PressPart("Hose cradle");
        B.Settled();
        B.Press("[data-edit=profile]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Count == 15, "the sizes of the cradle");
        B.Press("[data-view=fit]");
        B.Drawn();
        B.Press("[data-testid=open-sizes]");
        B.Find("[data-size='profile/fixing.count']");
        B.Go("/parts");

        NewPart("Bracket");
        B.Type("d", "m");
        B.Until(() => B.Prompt.Contains("centre of the rectangle", StringComparison.Ordinal), "the tool");
        B.ClickSketch(0, 0);
        B.MoveSketch(30, 20);
        B.Type("8", "0", Keys.Tab, "50", Keys.Enter);
        B.UntilFreedoms(0);
        B.Press("[data-tool=circle]");
        B.ClickSketch(-20, 8);
        B.ClickSketch(-12, 8);
        B.ClickSketch(22, 12);
        B.ClickSketch(27, 12);
        B.Press("[data-tool=line]");
        B.ClickSketch(5, -14);
        B.ClickSketch(28, -8);
        B.Type(Keys.Escape);
        B.Press("[data-tool=select]");
        B.ClickSketch(-12, 8);
        B.Press("[data-offer=size-diameter]");
        B.UntilFreedoms(9);
        B.ClickSketch(22, 12);
        B.Press("[data-testid=temper-bar]");
        B.Quiet();
        Picture("sketch-temper");
        B.Press("[data-testid=temper-bar]");
        B.Press("[data-testid=finish]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=finish-panel] input")).Count == 9, "nine proposals");
        B.Quiet();
        Picture("finish");
        B.Press("[data-testid=finish]");
        B.ClickSketch(48, 36);
        B.Type("s", "d");
        B.Until(() => B.Prompt.StartsWith("Pick what", StringComparison.Ordinal), "the dimension tool");
        B.ClickSketch(-8, 25);
        B.ClickSketch(-8, 33);
        B.Find("[data-field=value]");
        B.Type("90", Keys.Enter);
        B.Until(() => B.Refusal.Contains("clashes with", StringComparison.Ordinal), "the clash explained");
        B.Act().MoveToElement(B.Driver.FindElements(By.CssSelector("[data-testid=ways-out] button"))[1]).Perform();
        B.Quiet();
        Picture("clash", pointerStays: true);
        AllWell();
    }

    [Fact]
    public void Every_datum_view_opens_without_errors()
    {
        EnterDemo();
        Open("Rotor hub");

        // A cylinder and a point of the hub: what they determine, before any tool.
        B.ClickPlace(6.32, -10.2, 14);
        B.ClickPlace(1.5, 6.5, 28, extend: true);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-offer^=plane]")).Count > 2, "planes among the offers");
        Picture("offers");
        B.Type(Keys.Escape);
        B.Press("[data-edit=seat]");
        B.Until(() => B.Text("[data-testid=datum-state]") == "4 solutions", "the tangent planes");
        B.Quiet();
        Picture("tangent-plane");
        B.Press("[data-testid=datum-cancel]");

        Open("Hose guide");
        B.Press("[data-edit=half]");
        B.Until(() => B.Has("[data-grip=fraction]"), "the handle on the path");
        B.Quiet();
        Picture("point-on-path");
        B.Press("[data-testid=datum-cancel]");

        Open("Inlet block");
        B.PressBench("Datum");
        B.Press("[data-edit=left_frame]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-grip]")).Count >= 4, "the handles of the frame");
        B.Quiet();
        Picture("frames");
        B.Press("[data-testid=datum-cancel]");
        B.ClickPlace(30, -15, 28);
        B.Press("[data-offer=quick]");
        B.Until(() => B.Prompt.StartsWith("Quick plane", StringComparison.Ordinal), "the quick plane");
        B.Quiet();
        B.Type(Keys.Escape);
        AllWell();
    }

    [Fact]
    public void Every_form_view_opens_without_errors()
    {
        EnterDemo();
        Open("Inlet block");

        // A hole at an angle, edited, with the strip of material along it.
        B.Press("[data-edit=left_drill]");
        B.Until(() => B.Has("[data-testid=form-state]") && B.Text("[data-testid=form-state]") == "ready", "the hole");
        B.Find("[data-testid=strip]");
        B.Driver.ExecuteScript("document.querySelector('[data-testid=form-notes]').scrollIntoView()");
        B.Quiet();
        Picture("hole-strip");
        B.Press("[data-testid=form-cancel]");
        B.Press("[data-testid=section]");
        B.Find("[data-testid=section-bar]");
        B.Quiet();
        B.Has("[data-testid=section-bar] input").ShouldBeTrue();
        B.Press("[aria-label='Close the section']");

        // A sweep too thick for its bends: refused with the place, the radius and the largest that fits.
        Open("Hose guide");
        B.Press("[data-edit=tube_e]");
        B.Until(() => B.Has("[data-testid=form-state]") && B.Text("[data-testid=form-state]") == "ready", "the sweep");
        B.Fill("[data-testid=form-panel] input[data-field=diameter]", "120" + Keys.Tab);
        B.Until(
            () =>
                B.Has("[data-testid=form-refusal]")
                && B.Text("[data-testid=form-refusal]").Contains("too tight at", StringComparison.Ordinal),
            "the reason"
        );
        B.Quiet();
        Picture("sweep-refused");
        B.Press("[data-testid=form-cancel]");

        Open("Spout");
        B.Press("[data-edit=hollow]");
        B.Until(() => B.Has("[data-testid=form-state]") && B.Text("[data-testid=form-state]") == "ready", "the loft");
        B.Quiet();
        Picture("loft-cut");
        B.Press("[data-testid=form-cancel]");
        B.PressBench("Gauge");
        B.Press("[data-tool=holes]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=hole-table] tbody tr")).Count == 4, "four holes");
        Picture("hole-table");
        AllWell();
    }

    [Fact]
    public void Every_gauge_and_exchange_view_opens_without_errors()
    {
        EnterDemo();
        Open("Motor plate");

        // The distance between two hole centres along an edge, with the true one beside it.
        B.PressBench("Gauge");
        B.Press("[data-tool=measure]");
        B.Find("[data-testid=gauge-panel]");
        B.Press("[data-view=top]");
        B.Drawn();
        foreach (var (x, y) in new[] { (-38.0, -25.0), (38.0, 25.0) })
        {
            var before = B.Text("[data-testid=gauge-panel]");
            B.ClickPlace(x + (2.1 * 0.8), y + (2.1 * 0.6), 6);
            B.Until(() => B.Text("[data-testid=gauge-panel]") != before, "a rim");
        }

        B.Press("[data-slot=along]");
        B.ClickPlace(0, -32, 6);
        B.Until(() => B.Has("[data-value-of=distance-along]"), "the distance along the edge");
        B.Press("[data-view=corner]");
        B.Drawn();
        B.Driver.ExecuteScript("document.querySelector('[data-value-of=distance-along]').focus()");
        Picture("measure");
        B.Press("[aria-label='Leave measuring']");

        // The table of readings with one that fails, for as long as the limit stands.
        B.Press("[data-tool=readings]");
        B.Fill("[data-least=wall]", Keys.Control + "a" + Keys.Null + "9.5" + Keys.Tab);
        B.Until(() => B.Has("[data-reading=wall] [data-verdict=fail]"), "the failing limit");
        B.Settled();
        Picture("readings");
        B.Press("[data-testid=undo]");
        B.Until(() => !B.Has("[data-reading=wall] [data-verdict=fail]"), "the limit as it was");
        B.Settled();
        B.Press("[data-moves=wall]");
        B.Press("[data-question=tolerances]");
        B.Until(() => B.Has("[data-contribution]"), "what tolerances do");
        B.Press("[data-testid=draw-parts]");
        // A thousand builds of the part: a busy machine takes a while.
        B.Until(() => B.Has("[data-testid=chart] rect"), "the parts at random", TimeSpan.FromSeconds(120));
        Picture("ask");
        B.Press("[aria-label='Close the questions']");
        B.Press("[data-testid=files]");
        B.Press("[data-testid=export]");
        B.Press("[data-format='3mf']");
        B.Until(() => B.Text("[data-testid=export-preview]").Contains("triangles", StringComparison.Ordinal), "the preview");
        Picture("export");
        B.Press("[aria-label='Close the export']");

        var part = B.Create("Motor mount", JsonSerializer.Serialize<PartCommand>(MotorMount.Scene(), PartJson.Compact));
        B.Go($"/parts/{part}");
        B.Settled();
        B.Press("[data-view=fit]");
        B.Drawn();
        B.Until(
            () => B.Driver.FindElements(By.CssSelector("[data-state=failed]")).Count == 0 && B.Has("[data-reading-label=gap]"),
            "the mount on its motor"
        );
        Picture("imported");
        AllWell();
    }

    [Fact]
    public void Every_card_and_page_besides_opens_without_errors()
    {
        B.Go("/sign-in");
        B.Find("[data-testid=enter-demo]");
        Seen("sign-in");
        EnterDemo();
        B.Press("[data-testid=open-history]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=history] li")).Count > 0, "the history");
        Seen("history");
        B.Press("[aria-label='Close the history']");
        B.Type("?");
        B.Find("[data-testid=keys]");
        Seen("keys");
        B.Type(Keys.Escape);
        B.Press("[data-testid=open-parameters]");
        B.Press("[data-more=bore]");
        B.Until(() => B.Text("[data-details=bore]").Contains("used by", StringComparison.Ordinal), "where it is used");
        Seen("parameters");
        B.Press("[aria-label='Close the parameters']");
        B.PressBench("Gauge");
        B.Press("[data-tool=mass-card]");
        B.Find("[data-testid=mass-card]");
        Seen("mass");
        B.PressBench("Form");
        B.Act().MoveToElement(B.Find("[data-tool=hole]")).Perform();
        B.Find("[data-card=hole]");
        Seen("tool-card");
        B.Type("/");
        B.Find("input[aria-label='Find a tool by name']").SendKeys("angle");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[role=option]")).Count > 0, "what was found");
        Seen("find");
        B.Type(Keys.Escape);

        Open("Inlet block");
        Ask("flex");
        B.Fill("[aria-label='how many tries']", "12" + Keys.Tab);
        B.Press("[data-testid=ask-flex]");
        B.Until(() => B.Has("[data-testid=flex-said]"), "what came of it", TimeSpan.FromSeconds(90));
        Seen("flex");
        Open("Hose cradle");
        Ask("variants");
        B.Until(() => B.Text("[data-variant='Hose 12']").Contains(" g", StringComparison.Ordinal), "their masses");
        Seen("variants");
        B.Press("[data-question=why]");
        B.Find("[data-testid=why]");
        Seen("why");
        B.Go("/account");
        B.Find("main h1, main h2");
        Seen("account");
        AllWell();

        void Ask(string question)
        {
            B.Press("[data-testid=open-ask]");
            B.Press($"[data-question={question}]");
        }
    }

    private void Open(string part)
    {
        B.Go("/parts");
        B.PressPart(part);
        B.Settled();
        B.Press("[data-view=fit]");
        B.Drawn();
    }
}
