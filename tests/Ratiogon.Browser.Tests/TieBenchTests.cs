using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>Every constraint in the browser: by its tool, by offers, and greyed with its reason where it does not fit.</summary>
public class TieBenchTests(ServerFixture fixture) : SketcherTest(fixture)
{
    private static readonly (string Kind, int Takes, string[] Picks)[] Cases =
    [
        ("coincident", 2, ["b", "e"]),
        ("on-curve", 1, ["q", "l"]),
        ("crossing", 2, ["q", "l", "n"]),
        ("midpoint", 2, ["q", "m"]),
        ("horizontal", 1, ["l"]),
        ("vertical", 1, ["n"]),
        ("parallel", 1, ["l", "m"]),
        ("perpendicular", 1, ["l", "n"]),
        ("collinear", 2, ["l", "m"]),
        ("tangent", 1, ["n", "k"]),
        ("tangent", 1, ["k", "x"]),
        ("tangent", 1, ["k", "s"]),
        ("concentric", 2, ["k", "h"]),
        ("equal", 1, ["l", "m"]),
        ("symmetric", 2, ["a", "c", "y-axis"]),
        ("same", 3, ["k", "h"]),
        ("fixed", 4, ["l"]),
    ];

    [Fact]
    public void Each_constraint_is_tied_by_its_tool()
    {
        var free = OpenLoose();
        foreach (var (kind, takes, picks) in Cases)
        {
            B.Tool("Tie", $"tie-{kind}");
            foreach (var pick in picks)
            {
                B.ClickSketch(At(pick).X, At(pick).Y);
            }

            B.UntilFreedoms(free - takes);
            B.Press("[data-testid=undo]");
            B.UntilFreedoms(free);
        }

        NoErrors();
    }

    [Fact]
    public void Picks_come_first_as_well_and_more_than_two_where_it_makes_sense()
    {
        var free = OpenLoose();
        B.Tool("Tie", "tie-concentric");
        foreach (var pick in new[] { "k", "h", "r" })
        {
            B.ClickSketch(At(pick).X, At(pick).Y);
        }

        B.UntilFreedoms(free - 4);
        B.Press("[data-testid=undo]");
        B.UntilFreedoms(free - 2);
        B.Press("[data-testid=undo]");
        B.UntilFreedoms(free);
        B.Tool("Draw", "select");
        Pick("k", "h", "r");
        B.Press("[data-offer=tie-equal]");
        B.UntilFreedoms(free - 2);
        Pick("l", "m", "n");
        B.PressBench("Tie");
        B.Press("[data-tool=tie-parallel]");
        B.UntilFreedoms(free - 4);

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
        B.Until(() => B.Attribute("[data-tool=tie-parallel]", "aria-disabled") == "true", "the greyed tool");
        B.Attribute("[data-tool=tie-parallel]", "title")!.ShouldContain("two or more lines");
        B.Attribute("[data-tool=tie-horizontal]", "aria-disabled").ShouldBe("false");
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
        var free = OpenSketch(
            """
            {"kind":"point","id":"a","at":[-50,-10]},{"kind":"point","id":"b","at":[-20,-4]},{"kind":"line","id":"l","from":"a","to":"b"},
            {"kind":"point","id":"c","at":[5,15]},{"kind":"point","id":"d","at":[35,2]},{"kind":"spline","id":"s","through":["b","c","d"],"spans":[1,1]}
            """
        );
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
            B.Quiet();
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
