using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>What a sketch says of itself, through the interface: freedoms in general and at these sizes, the smallest set of a
/// clash beside much else, a value's other side, and a drag along a curve past its knots.</summary>
public class JudgementTests(ServerFixture fixture) : SketcherTest(fixture)
{
    /// <summary>Where a point of the last step is, as kept.</summary>
    private double[] Kept(string point) => Kept<double[]>("all.find(e => e.id === given).numbers", point);

    [Fact]
    public void Equal_cranks_are_said_to_move_at_these_sizes_only()
    {
        OpenSketch(
            """
            {"kind":"point","id":"o1","at":[0,0]},{"kind":"point","id":"o2","at":[30,0]},{"kind":"point","id":"o3","at":[60,0]},
            {"kind":"point","id":"a","at":[6,8]},{"kind":"point","id":"b","at":[36,8]},{"kind":"point","id":"c","at":[66,8]},
            {"kind":"line","id":"k1","from":"o1","to":"a"},{"kind":"line","id":"k2","from":"o2","to":"b"},{"kind":"line","id":"k3","from":"o3","to":"c"},{"kind":"line","id":"bar","from":"a","to":"c"}
            """,
            """{"id":"f","kind":"fixed","of":["o1","o2","o3"]},{"id":"on","kind":"on-curve","of":["b","bar"]}"""
        );
        Sizes(
            """{"id":"d1","kind":"distance","of":["k1"],"value":"10 mm"},{"id":"d2","kind":"distance","of":["k2"],"value":"10 mm"},{"id":"d3","kind":"distance","of":["k3"],"value":"10 mm"},{"id":"d4","kind":"distance","of":["a","b"],"value":"30 mm"},{"id":"d5","kind":"distance","of":["bar"],"value":"60 mm"}"""
        );
        B.UntilFreedoms(0);
        B.Text("[data-testid=temper-bar]").ShouldContain("moves here");
        B.Press("[data-testid=temper-bar]");
        B.Text("[data-testid=freedom-remark]").ShouldContain("at these sizes");
        NoErrors();
    }

    private void Sizes(string sizes)
    {
        B.Command($$$"""{"command":"edit-sketch","step":"loose","edit":{"size":[{{{sizes}}}] } }""");
        B.Drawn();
    }

    [Fact]
    public void A_triangle_that_cannot_close_names_its_sides_beside_much_else()
    {
        var others = string.Join(
            ',',
            Enumerable
                .Range(0, 24)
                .Select(i =>
                    $$"""{"kind":"point","id":"u{{i}}","at":[{{(i * 8) - 90}},60]},{"kind":"point","id":"v{{i}}","at":[{{(i * 8) - 84}},66]},{"kind":"line","id":"w{{i}}","from":"u{{i}}","to":"v{{i}}"}"""
                )
        );
        OpenSketch(
            $$"""{"kind":"point","id":"a","at":[0,0]},{"kind":"point","id":"b","at":[40,2]},{"kind":"point","id":"c","at":[12,30]},{"kind":"line","id":"ab","from":"a","to":"b"},{"kind":"line","id":"bc","from":"b","to":"c"},{"kind":"line","id":"ca","from":"c","to":"a"},{{others}}"""
        );
        Sizes(
            """{"id":"d1","kind":"distance","of":["ab"],"value":"40 mm"},{"id":"d2","kind":"distance","of":["bc"],"value":"35 mm"},"""
                + string.Join(
                    ',',
                    Enumerable.Range(0, 24).Select(i => $$"""{"id":"x{{i}}","kind":"distance","of":["w{{i}}"],"value":"8.5 mm"}""")
                )
        );
        B.Tool("Size", "dimension");
        B.ClickSketch(6, 15);
        B.ClickSketch(-8, 18);
        B.Find("[data-field=value]");
        B.Type("120", Keys.Enter);
        B.Until(() => B.Refusal.Contains("clashes with", StringComparison.Ordinal), "the clash");
        B.Refusal.ShouldContain("distance 40 mm of ab");
        B.Refusal.ShouldContain("distance 35 mm of bc");
        B.Refusal.ShouldNotContain("8.5 mm");
        B.Find("[data-testid=ways-out]");
        NoErrors();
    }

    [Fact]
    public void A_minus_puts_a_point_on_the_other_side_and_nothing_is_offered_as_a_tie()
    {
        OpenSketch("""{"kind":"point","id":"p","at":[25,15]},{"kind":"point","id":"q","at":[-30,-20]}""");
        Sizes("""{"id":"d","kind":"horizontal-distance","of":["origin","p"],"value":"25 mm"}""");
        B.Command("""{"command":"set-size","step":"loose","field":"d","value":"-25 mm"}""");
        B.Until(
            () => B.Driver.FindElements(By.CssSelector("[data-dimension=d]")).Any(e => e.Text.Contains("25", StringComparison.Ordinal)),
            "the size as shown"
        );
        B.ClickSketch(-25, 15);
        B.Until(() => B.Prompt.StartsWith("1 picked", StringComparison.Ordinal), "the point to be there");
        B.Type(Keys.Escape);
        B.Tool("Size", "dimension");
        B.ClickSketch(-25, 15);
        B.ClickSketch(-30, -20);
        B.ClickSketch(-40, 0);
        B.Find("[data-field=value]");
        B.Type("0", Keys.Enter);
        B.Until(() => B.Refusal.Contains("tie them instead", StringComparison.Ordinal), "the refusal of nothing");
        B.Find("[data-testid=ways-out]");
        NoErrors();
    }

    /// <summary>A material that is thrown away takes its shader program along: 70 % of a drag went into linking the same few
    /// again.</summary>
    [Fact]
    public void A_drag_links_no_shader_program_again_and_an_untouched_page_draws_nothing()
    {
        OpenSketch(
            """{"kind":"point","id":"a","at":[-40,-10]},{"kind":"point","id":"b","at":[0,20]},{"kind":"point","id":"c","at":[40,-10]},{"kind":"line","id":"l","from":"a","to":"b"},{"kind":"line","id":"m","from":"b","to":"c"}""",
            ""
        );
        B.DragSketch(0, 20, 6, 26);
        B.Drawn();
        B.Driver.ExecuteScript(
            "window.links = 0; const link = WebGL2RenderingContext.prototype.linkProgram; "
                + "WebGL2RenderingContext.prototype.linkProgram = function (p) { window.links++; return link.call(this, p) }"
        );
        B.DragSketch(6, 26, -12, 14);
        B.Drawn();
        Kept("b")[0].ShouldBeLessThan(0, "it was dragged");
        ((long)B.Driver.ExecuteScript("return window.links")!).ShouldBeLessThan(3);

        B.Driver.ExecuteScript(
            "window.frames_asked = 0; const ask = window.requestAnimationFrame; window.requestAnimationFrame = f => { "
                + "window.frames_asked++; return ask(f) }"
        );
        B.Quiet();
        B.Driver.ExecuteScript("window.frames_asked = 0");
        Thread.Sleep(1500);
        ((long)B.Driver.ExecuteScript("return window.frames_asked")!).ShouldBe(0, "frames asked for while nobody touches the page");

        // It wakes again.
        B.DragSketch(-12, 14, 0, 20);
        B.Until(() => Math.Abs(Kept("b")[0]) < 1, "the drag after the sleep");
        NoErrors();
    }

    [Fact]
    public void A_point_is_drawn_along_a_spline_past_its_knots()
    {
        OpenSketch(
            """
            {"kind":"point","id":"a","at":[-60,0]},{"kind":"point","id":"b","at":[-20,25]},{"kind":"point","id":"c","at":[20,-5]},{"kind":"point","id":"d","at":[60,20]},
            {"kind":"spline","id":"s","through":["a","b","c","d"],"spans":[1,1,1]},{"kind":"point","id":"q","at":[-45,13]}
            """,
            """{"id":"f","kind":"fixed","of":["s"]},{"id":"on","kind":"on-curve","of":["q","s"]}"""
        );
        B.UntilFreedoms(1);
        var at = Kept("q");
        B.DragSketch(at[0], at[1], 48, 14);
        B.Drawn();
        B.Until(() => Kept("q")[0] != at[0], "the release to be kept");
        var after = Kept("q");
        after[0].ShouldBeGreaterThan(25, "two knots were passed");
        B.Refusal.ShouldBeEmpty();
        NoErrors();
    }

    [Fact]
    public void Four_holes_are_finished_by_symmetry()
    {
        OpenSketch(
            string.Join(
                ',',
                new[] { (30, 15), (-30, 15), (-30, -15), (30, -15) }.Select(
                    (p, i) =>
                        $$"""{"kind":"point","id":"p{{i}}","at":[{{p.Item1}},{{p.Item2}}]},{"kind":"circle","id":"c{{i}}","centre":"p{{i}}","radius":4}"""
                )
            )
        );
        B.UntilFreedoms(12);
        B.Press("[data-testid=finish]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=finish-panel] input")).Count == 6, "six proposals");
        B.Text("[data-testid=finish-panel]").ShouldContain("symmetric");
        B.Press("[data-testid=apply-finish]");
        B.UntilFreedoms(0);
        NoErrors();
    }
}
