using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Browser.Tests;

/// <summary>What the pointer alone does: a face that is clicked on takes a hole, an offer that is pointed at shows what it would make.</summary>
public class PointingTests(ServerFixture fixture) : FormBench(fixture)
{
    [Fact]
    public void A_click_on_a_face_places_a_hole_with_sizes_to_the_edges()
    {
        Open(TheBlock);
        Begin("hole");
        B.Prompt.ShouldStartWith("Click on a flat face");
        Pick(Top);
        var sketch = Picks().Split('/')[0];
        Pick((15, 12, 20));
        Picks().Split('|').Select(p => p.Split('/')[0]).ShouldBe([sketch, sketch]);
        Value("diameter", "6");
        Choose("extent", "through all");
        Accept(Block - (2 * Math.PI * 9 * 20));

        // The sizes are those of a sketch that is fully set.
        B.Text($"[data-step={sketch}]").ShouldContain("set");
        B.Press($"[data-edit={sketch}]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-dimension]")).Count == 4, "four sizes on the drawing");
        B.UntilFreedoms(0);

        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void An_offer_under_the_pointer_shows_what_it_would_make()
    {
        Open([.. TheBlock, Point("d", 30, 20, 34)]);
        B.ClickPlace(Top.Item1, Top.Item2, Top.Item3);
        B.Until(() => B.Has("[data-pick='block/end']"), "the top face");
        B.ClickPlace(30, 20, 34, extend: true);
        B.Until(() => B.Has("[data-offer=distance]"), "offers for a face and a point");
        B.Quiet();

        // A reading is drawn with its value where it would stand.
        B.Has("[data-reading-label=measured]").ShouldBeFalse();
        Over(B.Find("[data-offer=distance]"));
        B.Until(() => B.Has("[data-reading-label=measured]"), "the distance in the view");
        B.Text("[data-reading-label=measured]").ShouldBe("14 mm");

        // A datum is drawn as it would lie, and goes with the pointer.
        Away();
        var before = Picture();
        B.Has("[data-reading-label=measured]").ShouldBeFalse();
        Over(B.Driver.FindElements(By.CssSelector("[data-offer^=plane-]"))[0]);
        B.Until(() => Picture() != before, "the plane in the view");
        Away();
        B.Until(() => Picture() == before, "the view as it was");

        // So is a form.
        B.ClickPlace(TopFrontEdge.Item1, TopFrontEdge.Item2, TopFrontEdge.Item3);
        B.Until(() => B.Has("[data-offer=form-fillet]"), "rounding to be offered");
        B.Quiet();
        before = Picture();
        Over(B.Find("[data-offer=form-fillet]"));
        B.Until(() => Picture() != before, "the rounding in the view", TimeSpan.FromSeconds(30));
        Away();
        B.Until(() => Picture() == before, "the view as it was");
        B.Driver.FindElements(By.CssSelector("[data-step]")).Count.ShouldBe(3);
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void In_perspective_the_same_is_picked_and_sketches_stay_parallel()
    {
        Open(TheBlock);
        var flat = Picture();
        B.Press("[data-testid=perspective]");
        B.Until(() => Picture() != flat, "the picture in perspective");
        foreach (
            var (place, name) in new[]
            {
                (Top, "block/end"),
                (Front, "block/side/r.bottom"),
                (TopFrontEdge, "block/end^block/side/r.bottom"),
            }
        )
        {
            B.ClickPlace(place.Item1, place.Item2, place.Item3);
            B.Until(() => B.Has($"[data-pick='{name}']"), $"{name} to be picked");
        }

        // A sketch is seen in parallel, and drawn where the pointer is: on the centre of the rectangle.
        B.Press("[data-edit=base]");
        B.UntilFreedoms(4);
        B.Tool("Draw", "circle");
        B.ClickSketch(30, 20);
        B.ClickSketch(38, 20);
        B.UntilFreedoms(5);
        B.ConsoleErrors().ShouldBeEmpty();

        // It is remembered on this browser.
        B.Driver.Navigate().Refresh();
        B.Settled();
        B.Attribute("[data-testid=perspective]", "aria-pressed").ShouldBe("true");
        B.Press("[data-testid=perspective]");
    }

    [Fact]
    public void The_view_leans_when_a_form_begins_square_to_its_sketch()
    {
        Open(Sketched("base", World.Xy), new EditSketch("base", Rectangle(30, 20, 60, 40)));
        B.Press("[data-view=top]");
        B.Drawn();
        var (left, right) = (B.Seen(0, 0, 0), B.Seen(0, 0, 30));
        (Math.Abs(left.X - right.X) + Math.Abs(left.Y - right.Y)).ShouldBeLessThan(3, "square to the sketch nothing of its height is seen");
        Begin("extrude");
        B.Until(() => Math.Abs(B.Seen(0, 0, 0).Y - B.Seen(0, 0, 30).Y) > 40, "the height to be seen");
        B.Press("[data-testid=form-cancel]");

        // A view that shows depth already stays as it is.
        B.Press("[data-view=front]");
        B.Drawn();
        var before = B.Seen(10, 10, 10);
        Begin("extrude");
        B.Drawn();
        B.Seen(10, 10, 10).ShouldBe(before);
        B.ConsoleErrors().ShouldBeEmpty();
    }

    private void Over(IWebElement element) => new Actions(B.Driver).MoveToElement(element).Perform();

    /// <summary>Where the pointer is over nothing that answers to it.</summary>
    private void Away() => new Actions(B.Driver).MoveToElement(B.Find("[data-testid=prompt]")).Perform();

    private string Picture()
    {
        B.Drawn();
        return ((ITakesScreenshot)B.Find("canvas")).GetScreenshot().AsBase64EncodedString;
    }
}
