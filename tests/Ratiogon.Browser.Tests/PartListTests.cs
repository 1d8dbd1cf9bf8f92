using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>The list of parts, by pointer and by keyboard: found, ordered, tagged, renamed, copied, deleted and had back.</summary>
public class PartListTests(ServerFixture fixture) : BrowserTest(fixture)
{
    /// <summary>The names on the cards, read at once: cards come and go meanwhile.</summary>
    private IReadOnlyList<string> Names =>
        [
            .. ((IJavaScriptExecutor)B.Driver).ExecuteScript(
                "return [...document.querySelectorAll('[data-part]')].map(e => e.dataset.part)"
            )
                is IEnumerable<object> names
                ? names.Cast<string>()
                : [],
        ];

    private void UntilNames(params string[] names) =>
        B.Until(
            () => Names.Order().SequenceEqual(names.Order()),
            $"the parts {string.Join(", ", names)}; there are {string.Join(", ", Names)}"
        );

    private static string Card(string name, string act) => $"[data-part='{name}'] [data-do='{act}']";

    [Fact]
    public void Parts_are_found_named_copied_deleted_and_had_back()
    {
        EnterDemo();
        B.Go("/parts");
        B.Until(() => Names.Count == 6, "the demo parts");

        // Found by words, and nothing where nothing is called so.
        B.Fill("[data-testid=search-parts]", "hose");
        UntilNames("Hose cradle", "Hose guide");
        B.Fill("[data-testid=search-parts]", "nobody");
        B.PressText("Show all");
        B.Until(() => Names.Count == 6, "all of them");
        B.Find("[data-testid=order-parts] option[value=name]").Click();
        B.Until(() => Names.SequenceEqual(Names.Order(StringComparer.OrdinalIgnoreCase)), "the order of names");

        // Tagged and kept to a tag.
        B.Press(Card("Spout", "tag"));
        B.Type("cast, water", Keys.Enter);
        B.Press("[data-tag=water]");
        UntilNames("Spout");
        B.Press("[data-tag=water]");

        // Renamed and copied, by keyboard.
        B.Find(Card("Spout", "rename")).SendKeys(Keys.Enter);
        B.Until(() => B.Has("[aria-label='Name of the part']"), "the field for the name");
        B.Type("Beak", Keys.Enter);
        B.Until(() => Names.Contains("Beak"), "the new name");
        B.Find(Card("Beak", "copy")).SendKeys(Keys.Enter);
        B.Until(() => Names.Contains("Beak, copy"), "the copy");
        B.Driver.FindElements(By.CssSelector("[data-part='Beak, copy'] [data-testid=part-tag]"))
            .Select(e => e.Text)
            .ShouldBe(["cast", "water"]);

        // Several at once, and back at once.
        B.Find("[aria-label='Choose Beak']").SendKeys(Keys.Space);
        B.Press("[aria-label='Choose Beak, copy']");
        B.Until(() => B.Text("[data-testid=chosen-parts]").StartsWith("2 of 7", StringComparison.Ordinal), "two chosen");
        B.Press("[data-all=delete]");
        B.Until(() => Names.Count == 5, "both gone");
        B.Press("[data-testid=undelete]");
        B.Until(() => Names.Count == 7, "both back");

        // Deleted, found among the deleted, had back; another thrown away.
        B.Press(Card("Beak", "delete"));
        B.Until(() => !Names.Contains("Beak"), "it to be gone");
        B.Press(Card("Beak, copy", "delete"));
        B.Until(() => Names.Count == 5, "its copy as well");
        B.Press("[data-testid=deleted-parts]");
        UntilNames("Beak", "Beak, copy");
        B.Press(Card("Beak, copy", "forever"));
        UntilNames("Beak");
        B.Press(Card("Beak", "restore"));
        B.Until(() => Names.Count == 0, "nothing more to bring back");
        B.Press("[data-testid=deleted-parts]");
        B.Until(() => Names.Contains("Beak") && Names.Count == 6, "it to be in the list");

        // What it was is all there.
        B.PressPart("Beak");
        B.Settled();
        B.Driver.FindElements(By.CssSelector("[data-edit]")).Count.ShouldBeGreaterThan(3);
        B.ConsoleErrors().ShouldBeEmpty();
    }

    [Fact]
    public void A_state_of_the_history_is_looked_at_and_gone_back_to()
    {
        SignUp();
        NewPart("Steps taken");
        B.Type("d", "m");
        B.Until(() => B.Prompt.Contains("centre of the rectangle", StringComparison.Ordinal), "the tool");
        B.ClickSketch(0, 0);
        B.MoveSketch(30, 20);
        B.Type("8", "0", Keys.Tab, "50", Keys.Enter);
        B.UntilFreedoms(0);
        B.Press("[data-testid=leave-sketch]");
        B.Type("f", "e");
        B.Find("[data-testid=form-panel]");
        B.PressText("Accept");
        var volume = B.Until(() => !B.Has("[data-testid=form-panel]") && Volume() is > 0 and var v ? new[] { v } : null, "the body")![0];
        B.Press("[data-testid=open-history]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-state]")).Count > 2, "the states");

        // The first state has no body yet; by keyboard from there towards the present.
        B.Press("[data-state='1']");
        B.Until(() => Volume() == 0, "the part as it began");
        B.Find("[data-state='1']").SendKeys(Keys.Up);
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-state='2'][aria-pressed=true]")).Count == 1, "the next state");
        B.Fill("[aria-label='A name for this state']", "outline");
        B.PressText("Name it");
        B.Until(() => B.Text("[data-state='2']").Contains("outline", StringComparison.Ordinal), "its name");
        B.Press("[aria-label='Close the history']");
        B.Until(() => Math.Abs(Volume() - volume) < 1e-6, "the part as it is");

        // Back to the outline, and undone.
        B.Press("[data-testid=open-history]");
        B.Press("[data-state='2']");
        B.Press("[data-testid=go-back]");
        B.Until(() => Volume() == 0, "no body any more");
        B.Press("[aria-label='Close the history']");
        B.Press("[data-testid=undo]");
        B.Until(() => Math.Abs(Volume() - volume) < 1e-6, "the body again");
        B.ConsoleErrors().ShouldBeEmpty();
    }

    /// <summary>Of all bodies shown, in mm³.</summary>
    private double Volume() =>
        double.Parse(B.Attribute("[data-testid=viewport]", "data-volume") ?? "0", System.Globalization.CultureInfo.InvariantCulture);
}
