using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>Moves of every day in a sketch, through the interface.</summary>
public class EverydayEditTests(ServerFixture fixture) : SketcherTest(fixture)
{
    private const string Square = """
        {"kind":"point","id":"r1.p1","at":[-30,-20]},{"kind":"point","id":"r1.p2","at":[10,-20]},{"kind":"point","id":"r1.p3","at":[10,20]},{"kind":"point","id":"r1.p4","at":[-30,20]},
        {"kind":"line","id":"r1.bottom","from":"r1.p1","to":"r1.p2"},{"kind":"line","id":"r1.right","from":"r1.p2","to":"r1.p3"},{"kind":"line","id":"r1.top","from":"r1.p3","to":"r1.p4"},{"kind":"line","id":"r1.left","from":"r1.p4","to":"r1.p1"},
        {"kind":"point","id":"a","at":[30,-20]},{"kind":"point","id":"b","at":[50,24]},{"kind":"line","id":"l","from":"a","to":"b"},
        {"kind":"point","id":"c","at":[24,4]},{"kind":"point","id":"d","at":[56,0]},{"kind":"line","id":"m","from":"c","to":"d"}
        """;

    private const string Rules = """
        {"id":"r1.level1","kind":"horizontal","of":["r1.bottom"]},{"id":"r1.upright1","kind":"vertical","of":["r1.right"]},{"id":"r1.level2","kind":"horizontal","of":["r1.top"]},{"id":"r1.upright2","kind":"vertical","of":["r1.left"]},
        {"id":"e","kind":"equal","of":["r1.bottom","r1.right"]}
        """;

    private int Curves(string kind) => Kept<int>("all.filter(e => e.kind === given && !e.construction).length", kind);

    [Fact]
    public void A_corner_of_a_square_is_rounded()
    {
        var free = OpenSketch(Square, Rules);
        B.Tool("Draw", "corner");
        B.ClickSketch(10, 20);
        B.Until(() => Curves("arc") == 1, "the rounding");
        B.UntilFreedoms(free);
        NoErrors();
    }

    [Fact]
    public void A_side_is_deleted_and_the_next_rectangle_drawn()
    {
        OpenSketch(Square, Rules);
        B.ClickSketch(-10, -20);
        B.Until(() => B.Prompt.StartsWith("1 picked", StringComparison.Ordinal), "the side to be picked");
        B.Type(Keys.Delete);

        // Its rules go with it: that is asked about first.
        B.Find("[data-testid=asked]");
        B.Type(Keys.Enter);
        B.Until(() => Curves("line") == 5, "the side to go");
        B.Tool("Draw", "rectangle");
        B.ClickSketch(-24, -10);
        B.ClickSketch(-12, 2);
        B.Until(() => Curves("line") == 9, "the next rectangle");
        NoErrors();
    }

    [Fact]
    public void What_a_cut_would_let_go_is_said_before()
    {
        OpenSketch(Square, """{"id":"e","kind":"equal","of":["l","m"]}""");
        B.Tool("Draw", "trim");
        B.MoveSketch(46, 15);
        B.Until(() => B.Has("[data-testid=note]"), "what would go");
        B.Text("[data-testid=note]").ShouldContain("equal: l, m");
        B.ClickSketch(46, 15);
        B.Until(() => B.Freedoms > 0 && Curves("line") == 6, "the cut");
        NoErrors();
    }

    [Fact]
    public void A_side_with_an_offset_is_cut_in_two_with_it()
    {
        OpenSketch(Square, Rules);
        B.Tool("Draw", "offset");
        B.ClickSketch(-10, -20);
        B.ClickSketch(-10, -27);
        B.Until(() => Curves("line") == 10, "the offset");
        var free = B.Freedoms;
        B.Tool("Draw", "split");
        B.ClickSketch(-18, -20);
        B.Until(() => Curves("line") == 12, "both to be cut in two");
        B.UntilFreedoms(free + 1);
        NoErrors();
    }
}
