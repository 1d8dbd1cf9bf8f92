using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>Nothing on the screen is called by the name that it has in files, nothing that is written lies on something else, and no text
/// is cut off without saying all of itself under the pointer. Walks through every demo part with every step opened for editing, and
/// reads what is written, said and explained there.</summary>
public class PlainWordsTests(ServerFixture fixture) : BrowserTest(fixture)
{
    /// <summary>What stands on the page, its tooltips and what a screen reader is told.</summary>
    private const string Said = """
        const told = [document.body.innerText];
        for (const e of document.querySelectorAll('[title],[aria-label],[placeholder]'))
          told.push(e.title, e.getAttribute('aria-label'), e.getAttribute('placeholder'));
        return told.filter(t => t).join('\n');
        """;

    /// <summary>The ids of the steps of the part that is open, but for readings, which have no editor.</summary>
    private const string Ids = """
        const done = arguments[0];
        fetch('/api' + location.pathname).then(r => r.json()).then(p => done(p.steps.filter(s => s.kind !== 'reading').map(s => s.id).join(' ')), e => done(''));
        """;

    [Theory]
    [InlineData("Motor plate")]
    [InlineData("Hose cradle")]
    [InlineData("Rotor hub")]
    [InlineData("Inlet block")]
    [InlineData("Hose guide")]
    [InlineData("Spout")]
    public void No_path_is_shown(string name)
    {
        EnterDemo();
        B.Go("/parts");
        B.PressPart(name);
        B.Settled();
        var ids = ((string)((IJavaScriptExecutor)B.Driver).ExecuteAsyncScript(Ids)!).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        ids.Length.ShouldBeGreaterThan(1);
        var (shown, misplaced) = (new List<string>(), new List<string>());
        Read("the part");
        foreach (var id in ids)
        {
            if (B.Driver.FindElements(By.CssSelector($"[data-edit='{id}']")).Count == 0)
            {
                continue;
            }

            B.Press($"[data-edit='{id}']");
            B.Until(
                () =>
                    B.Has("[data-testid=leave-sketch]")
                    || B.Has("[data-testid=form-panel]")
                    || B.Has("[data-testid=datum-panel]")
                    || B.Has("[data-testid=gauge-panel]")
                    || !B.Has($"[data-edit='{id}']:focus"),
                $"the editor of {id}"
            );
            Read(id);
            B.Type(Keys.Escape, Keys.Escape);
            if (B.Has("[data-testid=leave-sketch]"))
            {
                B.Press("[data-testid=leave-sketch]");
            }

            B.Until(
                () => !B.Has("[data-testid=form-panel]") && !B.Has("[data-testid=leave-sketch]") && !B.Has("[data-testid=datum-panel]"),
                $"{id} to close"
            );
        }

        // What lies under the pointer, and what can be made of it.
        B.Type("g", Keys.Escape);
        B.ClickView(0, 0);
        B.Until(() => !Words().Contains('…', StringComparison.Ordinal) || B.Has("[data-offer]"), "words");
        Read("a pick");
        B.Resize(1024, 768);
        B.Quiet();
        Lies("the part in a narrow window");
        B.Resize();
        B.Quiet();
        shown.ShouldBeEmpty();
        misplaced.Distinct().ShouldBeEmpty();

        void Lies(string where)
        {
            B.Drawn();
            misplaced.AddRange(B.OutOfPlace().Select(line => $"{where}: {line}"));
        }

        void Read(string where)
        {
            Lies(where);
            shown.AddRange(
                Words()
                    .Split('\n')
                    .Where(line =>
                        line.Contains('^', StringComparison.Ordinal) || ids.Any(id => line.Contains($"{id}/", StringComparison.Ordinal))
                    )
                    .Select(line => $"{where}: {line}")
            );
        }
    }

    private string Words() => (string)((IJavaScriptExecutor)B.Driver).ExecuteScript(Said)!;
}
