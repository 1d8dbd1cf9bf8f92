using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>Every constraint in the browser: by its tool, by offers, and greyed with its reason where it does not fit.</summary>
public class TieBenchTests(ServerFixture fixture) : SketcherTest(fixture)
{
    [Theory]
    [InlineData("coincident", 2, "b", "e")]
    [InlineData("on-curve", 1, "q", "l")]
    [InlineData("crossing", 2, "q", "l", "n")]
    [InlineData("midpoint", 2, "q", "m")]
    [InlineData("horizontal", 1, "l")]
    [InlineData("vertical", 1, "n")]
    [InlineData("parallel", 1, "l", "m")]
    [InlineData("perpendicular", 1, "l", "n")]
    [InlineData("collinear", 2, "l", "m")]
    [InlineData("tangent", 1, "n", "k")]
    [InlineData("tangent", 1, "k", "x")]
    [InlineData("tangent", 1, "k", "s")]
    [InlineData("concentric", 2, "k", "h")]
    [InlineData("equal", 1, "l", "m")]
    [InlineData("symmetric", 2, "a", "c", "y-axis")]
    [InlineData("same", 3, "k", "h")]
    [InlineData("fixed", 4, "l")]
    public void Each_constraint_is_tied_by_its_tool(string kind, int takes, params string[] picks)
    {
        var free = OpenLoose();
        B.Tool("Tie", $"tie-{kind}");
        foreach (var pick in picks)
        {
            B.ClickSketch(At(pick).X, At(pick).Y);
        }

        B.UntilFreedoms(free - takes);
        NoErrors();
    }

    [Fact]
    public void Picks_come_first_as_well_and_more_than_two_where_it_makes_sense()
    {
        var free = OpenLoose();
        Pick("k", "h", "r");
        B.Press("[data-offer=tie-equal]");
        B.UntilFreedoms(free - 2);
        Pick("l", "m", "n");
        B.PressBench("Tie");
        B.Press("[data-tool=tie-parallel]");
        B.UntilFreedoms(free - 4);
        B.Tool("Tie", "tie-equal");
        foreach (var pick in new[] { "l", "m", "n" })
        {
            B.ClickSketch(B.Freedoms == free - 4 ? At(pick).X : At(pick).X, At(pick).Y);
        }

        B.Until(() => B.Freedoms <= free - 5, "lines of one length");
        NoErrors();
    }

    [Fact]
    public void A_circle_picked_anywhere_serves_by_its_centre()
    {
        var free = OpenLoose();
        Pick("k", "q");
        B.Press("[data-offer=tie-coincident]");
        B.UntilFreedoms(free - 2);
        NoErrors();
    }

    [Fact]
    public void What_cannot_apply_is_greyed_with_its_reason()
    {
        OpenLoose();
        Pick("l");
        B.PressBench("Tie");
        B.Until(() => B.Find("[data-tool=tie-parallel]").GetAttribute("aria-disabled") == "true", "the greyed tool");
        B.Find("[data-tool=tie-parallel]").GetAttribute("title")!.ShouldContain("two or more lines");
        B.Find("[data-tool=tie-horizontal]").GetAttribute("aria-disabled").ShouldBe("false");
    }

    [Fact]
    public void Two_curves_get_a_new_point_where_they_cross()
    {
        var free = OpenLoose();
        Pick("l", "n");
        B.Press("[data-offer=tie-crossing]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-constraint]")).Count == 1, "the crossing");
        B.Freedoms.ShouldBe(free);
        NoErrors();
    }

    [Fact]
    public void A_spline_goes_over_smoothly_into_a_line()
    {
        var free = OpenSketch("""
            {"kind":"point","id":"a","at":[-50,-10]},{"kind":"point","id":"b","at":[-20,-4]},{"kind":"line","id":"l","from":"a","to":"b"},
            {"kind":"point","id":"c","at":[5,15]},{"kind":"point","id":"d","at":[35,2]},{"kind":"spline","id":"s","through":["b","c","d"],"spans":[1,1]}
            """);
        B.Tool("Tie", "tie-smooth");
        B.ClickSketch(-40, -8);
        B.Until(() => B.Prompt.Contains("picked", StringComparison.Ordinal), "the line to be picked");
        ClickOnSpline();
        B.UntilFreedoms(free - 1);
        NoErrors();
    }

    /// <summary>Tries places about the middle of the last span until one lies on the curve.</summary>
    private void ClickOnSpline()
    {
        for (var y = 13.0; y > 5; y -= 1.2)
        {
            B.MoveSketch(22, y);
            Thread.Sleep(60);
            var before = B.Prompt;
            B.ClickSketch(22, y);
            if (B.Prompt != before || B.Driver.FindElements(By.CssSelector("[data-constraint]")).Count > 0)
            {
                return;
            }
        }
    }

    [Fact]
    public void A_constraint_is_picked_by_its_mark_and_removed()
    {
        var free = OpenLoose();
        Pick("l");
        B.Press("[data-offer=tie-horizontal]");
        B.UntilFreedoms(free - 1);
        B.Press("[data-constraint]");
        B.Press("[data-offer=remove]");
        B.UntilFreedoms(free);
        NoErrors();
    }
}
