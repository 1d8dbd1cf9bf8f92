using System.Globalization;
using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Browser.Tests;

/// <summary>What surrounds datums: offers, quick planes, curves in space, sketches that follow, the build sheet.</summary>
public class DatumBenchTests(ServerFixture fixture) : DatumBench(fixture)
{
    [Fact]
    public void Offers_come_before_any_tool_and_few_moves_make_a_datum()
    {
        Open();

        // An axis where two faces would meet: two picks, one press.
        B.ClickPlace(BossTop.Item1, BossTop.Item2, BossTop.Item3);
        B.ClickPlace(Right.Item1, Right.Item2, Right.Item3, extend: true);
        B.Until(
            () =>
                B
                    .Driver.FindElements(By.CssSelector("[data-offer^=axis]"))
                    .Any(e => e.Text.Contains("two planes meet", StringComparison.Ordinal)),
            "the axis among the offers"
        );
        var rows = Rows();
        B.Driver.FindElements(By.CssSelector("[data-offer^=axis]"))
            .First(e => e.Text.Contains("two planes meet", StringComparison.Ordinal))
            .Click();
        B.Until(() => Rows() == rows + 1, "the axis");

        // A plane tangent to a cylinder at 45 degrees to a plane: two picks, one press, one value.
        B.ClickPlace(Boss.Item1, Boss.Item2, Boss.Item3);
        B.ClickPlace(Right.Item1, Right.Item2, Right.Item3, extend: true);
        B.Until(
            () =>
                B
                    .Driver.FindElements(By.CssSelector("[data-offer^=plane]"))
                    .Any(e => e.Text.Contains("4 solutions", StringComparison.Ordinal)),
            "the tangent plane among the offers"
        );
        B.Driver.FindElements(By.CssSelector("[data-offer^=plane]"))
            .First(e => e.Text.Contains("4 solutions", StringComparison.Ordinal))
            .Click();
        B.Find("[data-testid=datum-panel]");
        B.Quiet();
        B.Type("4", "5", Keys.Enter);
        B.Until(() => Rows() == rows + 2, "the plane");
        Math.Abs(Last().Z.X).ShouldBe(Math.Sqrt(0.5), 1e-9);
        NoErrors();
    }

    [Fact]
    public void Three_typed_places_hold_a_plane()
    {
        Open();
        Begin("plane");
        B.Fill("footer [data-field=place]", "10, 0" + Keys.Enter);
        B.Until(() => B.Refusal.Contains("Three numbers", StringComparison.Ordinal), "the reason");
        B.Attribute("footer [data-field=place]", "value").ShouldBe("10, 0");
        var rows = Rows();
        foreach (var (n, place) in new[] { "10, 0, 5", "0, 10, 5", "0, 0, 1 mm + 1 mm" }.Index())
        {
            B.Fill("footer [data-field=place]", place + Keys.Enter);
            B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count == n + 1, $"point {n + 1}");
        }

        var plane = Accept(keep: true);
        Rows().ShouldBe(rows + 4, "three points and the plane");
        OnPlane(plane, new Vec3(10, 0, 5), new Vec3(0, 10, 5), new Vec3(0, 0, 2));
        NoErrors();
    }

    [Fact]
    public void Curves_in_space_on_points_that_are_there_or_made_on_the_way()
    {
        Open();
        B.PressBench("Datum");
        B.Press("[data-tool=space-line]");
        B.Find("[data-testid=datum-panel]");
        B.ClickPlace(P.Item1, P.Item2, P.Item3);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count == 1, "the first point");
        B.Fill("footer [data-field=place]", "60, 0, 40" + Keys.Enter);
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("length 40 mm", StringComparison.Ordinal), "the line's length");
        Value("after", "5");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("length 45 mm", StringComparison.Ordinal), "the line lengthened");
        var rows = Rows();
        B.Press("[data-testid=datum-accept]");
        B.Until(() => Rows() == rows + 2, "the point and the line");

        B.Press("[data-tool=space-spline]");
        foreach (var at in new[] { P, Corner, TopFrontEdge })
        {
            var n = B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count;
            B.ClickPlace(at.Item1, at.Item2, at.Item3);
            B.Until(
                () => B.Driver.FindElements(By.CssSelector("[data-testid=datum-panel] [data-pick]")).Count == n + 1,
                "a point of the spline"
            );
        }

        B.Type(Keys.Enter);
        B.Until(() => !B.Has("[data-testid=datum-panel]"), "the spline to be accepted");
        B.Settled();
        B.Find("tr[data-state=built][data-step^=curve]");

        B.Press("[data-tool=space-circle]");
        B.ClickPlace(Q.Item1, Q.Item2, Q.Item3);
        B.Until(() => B.Has("footer [data-field=diameter]"), "the circle's sizes");
        B.ClickPlace(Right.Item1, Right.Item2, Right.Item3);
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("block/side", StringComparison.Ordinal), "the support");
        Value("diameter", "12");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("length 37.699 mm", StringComparison.Ordinal), "its length");
        B.Press("[data-testid=datum-accept]");
        B.Until(() => !B.Has("[data-testid=datum-panel]"), "the circle");
        NoErrors();
    }

    [Fact]
    public void Quick_planes_follow_the_view_and_are_fixed_by_drawing()
    {
        Open();
        B.ClickPlace(Corner.Item1, Corner.Item2, Corner.Item3);
        B.Press("[data-offer=quick]");
        B.Until(() => B.Prompt.StartsWith("Quick plane", StringComparison.Ordinal), "the quick plane");
        B.Press("[data-view=top]");
        B.Drawn();
        B.Press("[data-testid=quick-draw]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Settled();
        var sketch = Last();
        sketch.Z.Z.ShouldBe(1, 1e-9, "it faced the view from the top");
        OnPlane(sketch, V(40, 0, 20));
        B.Until(() => B.Prompt.Contains("line", StringComparison.Ordinal), "the line tool");
        B.ClickSketch(0, 0);
        B.ClickSketch(10, 5);
        B.Press("[data-testid=leave-sketch]");

        // Two points: turned about their line; kept as a datum.
        B.Press("[data-view=corner]");
        B.Drawn();
        B.ClickPlace(P.Item1, P.Item2, P.Item3);
        B.ClickPlace(Q.Item1, Q.Item2, Q.Item3, extend: true);
        B.Press("[data-offer=quick]");
        B.Until(() => B.Prompt.StartsWith("Quick plane", StringComparison.Ordinal), "the quick plane");
        B.Quiet();
        var rows = Rows();
        B.Press("[data-testid=quick-keep]");
        B.Until(() => Rows() == rows + 1, "the datum");
        OnPlane(Last(), V(60, 0, 0), V(60, 30, 30));

        // A plane seen edge-on is not drawn on, and the prompt says which way to turn.
        B.PressBench("Draw");
        B.Press("[data-edit=base]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch on XY");
        B.Press("[data-view=front]");
        B.Drawn();
        B.ClickView(40, 40);
        B.Until(() => B.Driver.PageSource.Contains("turn the view", StringComparison.Ordinal), "which way to turn");
        NoErrors();
    }

    [Fact]
    public void Sketches_take_copies_sections_and_crossings_that_follow()
    {
        Open();
        B.ClickPlace(Front.Item1, Front.Item2, Front.Item3);
        B.Press("[data-offer=sketch-here]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Settled();
        B.Quiet();

        // Seen square on, x runs along the block and y up.
        B.Press("[data-tool=take-copy]");
        B.Until(() => B.Prompt.Contains("live copy", StringComparison.Ordinal), "what to pick");
        B.ClickSketch(40, 10);
        B.Until(() => B.Freedoms == 0, "a copied edge, set");
        B.Press("[data-tool=take-crossing]");
        B.ClickSketch(60, 15);
        B.Until(
            () =>
                B.Text("footer").Length > 0
                && B.Driver.FindElements(By.CssSelector("[data-constraint], [data-testid=viewport] svg")).Count >= 0,
            "the crossing"
        );
        B.Type(Keys.Escape);

        // An edge behind the plane only looks as if it were there.
        B.Press("[data-tool=select]");
        B.ClickSketch(17, 35);
        B.Until(() => B.Has("[data-testid=apart]"), "the word that it lies elsewhere");
        B.Text("[data-testid=apart]").ShouldContain("mm away");
        B.Press("[data-testid=apart-copy]");
        B.Until(() => !B.Has("[data-testid=apart]"), "the copy to be taken");
        B.Press("[data-testid=leave-sketch]");

        // On a plane through the middle the whole section comes in, and follows when the block grows.
        B.Command(Json(new AddStep(PlaneStep.Offset("mid", 0, "Mid", World.Xz, "-15 mm"))));
        B.Command(Json(new AddStep(new SketchStep("cut", 0, "Cut", "mid", Sketch.Empty))));
        B.Settled();
        B.Press("[data-edit=cut]");
        B.Until(() => B.Has("[data-testid=leave-sketch]"), "the sketch");
        B.Press("[data-tool=take-section]");
        B.Until(() => B.Prompt.Contains("section", StringComparison.Ordinal), "what to pick");
        B.Type(Keys.Enter);
        B.UntilFreedoms(0);
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("[data-step=cut] [data-sizes-of]")).Count == 1
                && !B.Driver.PageSource.Contains("misses", StringComparison.Ordinal),
            "the section"
        );
        B.Press("[data-testid=leave-sketch]");
        NoErrors();
    }

    [Fact]
    public void Datums_live_in_the_build_sheet()
    {
        Open();
        B.Command(
            Json(
                new Several(
                    [
                        new AddStep(PlaneStep.Offset("a", 0, "Shelf", "block/end", "5 mm")),
                        new AddStep(PlaneStep.Offset("b", 0, "Upper shelf", "a", "5 mm")),
                        Point("lone", 9, 9, 60),
                    ],
                    "shelves"
                )
            )
        );
        B.Settled();
        FrameOf("b").Origin.Z.ShouldBe(30, 1e-9);

        // A size edited in place moves what hangs on it.
        B.Fill("[data-size='a/distance']", "8" + Keys.Enter);
        B.Until(() => Math.Abs(FrameOf("b").Origin.Z - 33) < 1e-9, "the upper shelf to follow");

        // Moved where dependencies allow; refused with what forbids it.
        B.Press("[data-more=lone]");
        B.PressText("Move up");
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("tr[data-step]")).Select(e => e.GetAttribute("data-step")).ToList() is var ids
                && ids.IndexOf("lone") < ids.IndexOf("b"),
            "the point to move up"
        );
        B.Press("[data-more=a]");
        B.PressText("Move down");
        B.Until(
            () =>
                B.Driver.FindElements(By.CssSelector("tr[data-step]")).Select(e => e.GetAttribute("data-step")).ToList() is var ids
                && ids.IndexOf("lone") < ids.IndexOf("a"),
            "the shelf to move below the point"
        );
        B.Press("[data-more=a]");
        B.PressText("Move down");
        B.Until(() => B.Driver.PageSource.Contains("stands on Shelf", StringComparison.Ordinal), "why not further");

        // Hidden singly and by kind.
        B.Press("[data-more=a]");
        B.PressText("Hide");
        B.Press("[data-testid=shown-kinds]");
        B.Press("[data-show-kind=plane]");
        B.Quiet();

        // Removed anyway: the child fails with what was lost, and is mended by replacing its pick.
        B.Press("[data-more=a]");
        B.PressText("Remove, 1 then wait");
        B.Until(() => B.Attribute("tr[data-step=b]", "data-state") == "failed", "the child to fail");
        B.Driver.PageSource.ShouldContain("'a' is gone");
        B.Press("[data-edit=b]");
        B.Until(() => B.Text("[data-testid=datum-panel]").Contains("is lost", StringComparison.Ordinal), "the lost pick");
        B.Press("[data-testid=datum-panel] [data-pick=a]");
        B.Until(() => B.Prompt == "Pick what takes its place", "the prompt");
        B.ClickPlace(Top.Item1, Top.Item2, Top.Item3);
        B.Until(() => B.Find("[data-testid=datum-accept]").Enabled, "it to be whole again");
        B.Press("[data-testid=datum-accept]");
        B.Until(() => Math.Abs(FrameOf("b").Origin.Z - 25) < 1e-9, "the shelf on the top");
        NoErrors();
    }
}
