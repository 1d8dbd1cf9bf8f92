using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>Every way of every drawing tool, by pointer and keyboard.</summary>
public class DrawBenchTests(ServerFixture fixture) : SketcherTest(fixture)
{
    /// <summary>One way of drawing: tool, way, freedoms of what it makes, clicks in millimetres, key at the end.</summary>
    private sealed record Case(string Tool, string? Way, int Freedoms, string Places, string End);

    private static readonly Case[] Cases =
    [
        new("line", null, 6, "5,6 25,14 18,31", "escape"),
        new("circle", null, 3, "12,9 23,13", ""),
        new("circle", "diameter", 4, "8,7 31,16", ""),
        new("circle", "three", 3, "8,7 31,16 17,29", ""),
        new("arc", null, 5, "12,9 27,12 15,25", ""),
        new("arc", "three", 5, "8,7 22,18 35,12", ""),
        new("arc", "ends", 5, "8,7 35,12 21,20", ""),
        new("rectangle", null, 4, "8,7 35,22", ""),
        new("rectangle", "side", 5, "8,7 35,16 31,31", ""),
        new("rectangle", "centre-side", 5, "8,7 35,16 31,31", ""),
        new("rectangle", "parallelogram", 6, "8,7 35,16 44,31", ""),
        new("rectangle", "rounded", 5, "8,7 45,32 41,29", ""),
        new("rectangle-centre", null, 4, "8,7 35,22", ""),
        new("slot", null, 5, "8,7 35,16 20,22", ""),
        new("slot", "overall", 5, "8,7 35,16 20,17", ""),
        new("slot", "middle", 5, "8,7 35,16 20,22", ""),
        new("slot", "arc-three", 6, "8,7 22,20 37,11 30,25", ""),
        new("slot", "arc-centre", 6, "8,7 38,11 16,35 31,33", ""),
        new("polygon", null, 4, "8,7 28,12", ""),
        new("polygon", "flat", 4, "8,7 28,12", ""),
        new("ellipse", null, 5, "8,7 33,14 5,18", ""),
        new("ellipse", "arc", 7, "8,7 33,14 5,18 32,16 -12,11", ""),
        new("spline", null, 8, "8,7 20,18 33,11 47,25", "enter"),
        new("spline", "handles", 12, "8,7 20,18 33,11 47,25", "enter"),
        new("point", null, 2, "8,7", ""),
        new("point", "bolts", 4, "8,7 33,16", ""),
        new("point", "grid", 4, "8,7 20,16", ""),
    ];

    public static TheoryData<string> Tools => [.. Cases.Select(c => c.Tool).Distinct()];

    [Theory]
    [MemberData(nameof(Tools))]
    public void Each_way_of_drawing_makes_what_it_says(string tool)
    {
        NewSketch();
        foreach (var drawn in Cases.Where(c => c.Tool == tool))
        {
            B.Tool("Draw", tool, drawn.Way);
            Clicks(drawn.Places);
            if (drawn.End.Length > 0)
            {
                B.Type(drawn.End == "enter" ? Keys.Enter : Keys.Escape);
            }

            B.UntilFreedoms(drawn.Freedoms);
            B.Attribute($"[data-tool={tool}]", "aria-pressed").ShouldBe("true", "a tool stays active until it is left");
            UndoAll();
        }

        NoErrors();
    }

    [Fact]
    public void A_tangent_arc_comes_out_of_the_line_by_a_key_and_goes_back_to_one()
    {
        NewSketch();
        B.Tool("Draw", "line");
        Clicks("-40,-20 10,-20");
        B.Until(() => B.Prompt.Contains("v: tangent arc", StringComparison.Ordinal), "the way to switch in the prompt");
        B.Type("v");
        B.Until(() => B.Prompt.Contains("tangent arc ends", StringComparison.Ordinal), "the arc");
        Clicks("24,-5");
        B.Until(() => B.Prompt.Contains("v: tangent arc", StringComparison.Ordinal), "lines again");
        Clicks("27,33");
        Leave();
        B.UntilFreedoms(7);
        NoErrors();
    }

    [Fact]
    public void Values_are_typed_at_every_stage_and_two_numbers_place_a_point()
    {
        NewSketch();
        B.Tool("Draw", "slot", "arc-centre");
        B.Type("0", ",", "0", Keys.Enter);
        B.Until(() => B.Prompt.Contains("centre line begins", StringComparison.Ordinal), "the next stage");
        B.MoveSketch(28, 4);
        B.Type("3", "0", Keys.Enter);
        B.Until(() => B.Prompt.Contains("centre line ends", StringComparison.Ordinal), "the sweep");
        B.MoveSketch(25, 14);
        B.MoveSketch(12, 27);
        B.Type("6", "0", Keys.Enter);
        B.Until(() => B.Prompt.Contains("how wide", StringComparison.Ordinal), "the width");
        B.Type("8", Keys.Enter);
        B.UntilFreedoms(1);
        NoErrors();
    }

    [Fact]
    public void A_polygon_changes_its_number_of_sides_afterwards()
    {
        NewSketch();
        B.Tool("Draw", "polygon");
        Clicks("8,7");
        B.MoveSketch(28, 12);
        B.Type("4", "0", Keys.Tab, "5", Keys.Enter);
        B.UntilFreedoms(3);
        B.Press("[data-testid=open-sizes]");
        B.Fill("[data-size='sketch1/g1.count']", "8" + Keys.Enter);
        B.Until(() => B.Attribute("[data-size='sketch1/g1.count']", "value") == "8", "eight sides");
        B.UntilFreedoms(3);
        B.Fill("[data-size='sketch1/g1.count']", "-3" + Keys.Enter);
        B.Until(
            () =>
                B
                    .Driver.FindElements(By.CssSelector("[role=alert]"))
                    .Any(e => e.Text.Contains("between 3 and 200", StringComparison.Ordinal)),
            "the refusal"
        );
        NoErrors();
    }

    [Fact]
    public void Circles_touch_two_and_three_lines_and_every_solution_can_be_stepped_through()
    {
        NewSketch();
        B.Tool("Draw", "line");
        Clicks("-50,-30 50,-26 5,44 -50,-30");
        B.Tool("Draw", "circle", "touch-three");
        Clicks("-10,-28.4 29,6.7 -30.7,-3.7");
        B.MoveSketch(0, -5);
        B.Until(() => B.Prompt.Contains("1 of 4", StringComparison.Ordinal), "four solutions");
        B.Type("n");
        B.Until(() => B.Prompt.Contains("2 of 4", StringComparison.Ordinal), "the second");
        B.Press("[data-testid=next-solution]");
        B.Press("[data-testid=next-solution]");
        B.Press("[data-testid=next-solution]");
        B.Until(() => B.Prompt.Contains("1 of 4", StringComparison.Ordinal), "the first again");
        B.ClickSketch(0, -5);
        B.UntilFreedoms(6);
        B.Press("[data-way=touch-two]");
        Clicks("-20,-28.8 29,6.7");
        B.MoveSketch(30, -15);
        B.Type("8", Keys.Enter);
        B.UntilFreedoms(6);
        NoErrors();
    }

    [Fact]
    public void Snaps_are_named_and_inference_is_held_back_by_a_key()
    {
        NewSketch();
        B.Tool("Draw", "circle");
        Clicks("10,-12 22,-12");
        B.Tool("Draw", "line");
        Clicks("-40,20");
        B.MoveSketch(10.2, -24.3);
        B.Until(() => B.Text("[data-testid=snap]") == "quadrant", "the quadrant");
        B.MoveSketch(-39.8, -12.2);
        B.Until(() => B.Text("[data-testid=snap]") is "line up" or "upright" or "level", "the line-up");
        B.MoveSketch(17, 27);
        B.Until(() => !B.Has("[data-testid=snap]"), "nothing near");
        NoErrors();
    }

    [Fact]
    public void Construction_is_switched_while_drawing()
    {
        NewSketch();
        B.Tool("Draw", "circle");
        B.Type("c");
        B.Until(() => B.Attribute("[data-testid=construction]", "aria-pressed") == "true", "construction");
        Clicks("10,-12 22,-10");
        B.UntilFreedoms(3);
        B.Type("c");
        B.Tool("Draw", "select");
        B.ClickSketch(22, -10);
        B.Press("[data-offer=construction]");
        B.Until(
            () =>
                B
                    .Driver.FindElements(By.CssSelector("[data-testid=undo]"))
                    .Any(e => e.GetAttribute("title")?.Contains("construction", StringComparison.Ordinal) == true),
            "the change to be kept"
        );
        NoErrors();
    }
}
