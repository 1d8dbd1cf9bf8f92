using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>What every screen is held to, whatever it shows.</summary>
public static class ScreenRules
{
    private static readonly Lazy<string> AxeSource = new(() =>
        File.ReadAllText(Path.Combine(TestHost.ServerProcess.Repository, "web", "node_modules", "axe-core", "axe.min.js"))
    );

    /// <summary>Labels of the picture that cover one another, by more than their margins; text that is cut off; what of the page
    /// lies over something else that is pressed.</summary>
    private const string Misplaced = """
        const found = [];
        const view = (document.querySelector('[data-testid=viewport]') ?? document.body).getBoundingClientRect();
        // What is scrolled away is not there.
        const boxOf = e => {
          const r = e.getBoundingClientRect(), s = e.closest('.overflow-auto')?.getBoundingClientRect();
          return { e, r: s ? { left: r.left, right: r.right, top: Math.max(r.top, s.top), bottom: Math.min(r.bottom, s.bottom), width: r.width } : r };
        };
        const within = ({ r }) => r.width > 0 && r.left > view.left && r.right < view.right && r.top > view.top && r.bottom < view.bottom;
        const labels = [...document.querySelectorAll('[data-dimension],[data-constraint],[data-grip],[data-reading-label]')].map(boxOf).filter(within);
        const over = (a, b, by) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > by && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > by;
        const name = e => e.textContent.trim() || e.getAttribute('aria-label') || e.title || e.tagName;
        labels.forEach((a, i) => labels.slice(i + 1).forEach(b => { if (over(a.r, b.r, 4)) found.push(`'${name(a.e)}' lies on '${name(b.e)}'`); }));
        const pressed = [...document.querySelectorAll('header button, header select, header a, nav button, [role=toolbar] button, [data-testid=temper-bar], [data-testid=finish]')].map(boxOf).filter(b => b.r.width > 0);
        pressed.forEach((a, i) => pressed.slice(i + 1).forEach(b => { if (!a.e.contains(b.e) && !b.e.contains(a.e) && over(a.r, b.r, 1)) found.push(`the button ${name(a.e)} lies on ${name(b.e)}`); }));
        for (const e of document.querySelectorAll('aside *, header *, main section *, main ul *, [data-testid=prompt]')) {
          const own = e.tagName === 'INPUT' ? e.value : e.children.length === 0 ? e.textContent.trim() : '';
          if (!own || e.clientWidth === 0 || e.closest('[title]:not([title=""])')) continue;
          const style = getComputedStyle(e);
          if (style.textOverflow === 'clip' && style.overflowX === 'auto') continue;
          if ((e.tagName === 'INPUT' || style.overflowX !== 'visible') && e.scrollWidth > e.clientWidth + 1) found.push(`'${own}' is cut off`);
        }
        return found.join('\n');
        """;

    /// <summary>What lies where it should not, in words; nothing where all is in order.</summary>
    public static IReadOnlyList<string> OutOfPlace(this Browser browser) =>
        ((string)browser.Driver.ExecuteScript(Misplaced)!).Split('\n', StringSplitOptions.RemoveEmptyEntries);

    /// <summary>Breaches of the accessibility rules (WCAG 2.2, A and AA), or of single ones of them, with the elements.</summary>
    /// <param name="browser">With the screen open.</param>
    /// <param name="rules">Which rules; none given: all of them.</param>
    public static IReadOnlyList<string> Inaccessible(this Browser browser, params string[] rules)
    {
        if (browser.Driver.ExecuteScript("return typeof axe") is not "object")
        {
            browser.Driver.ExecuteScript(AxeSource.Value);
        }

        var found = (string)
            browser.Driver.ExecuteAsyncScript(
                """
                const [rules, done] = arguments;
                const only = rules.length ? { type: 'rule', values: rules } : ['wcag2a', 'wcag2aa', 'wcag22aa'];
                axe.run(document, { runOnly: only, resultTypes: ['violations'] })
                  .then(r => done(r.violations.map(v => `${v.id}: ${v.nodes.map(n => n.html.slice(0, 160)).join(' | ')}`).join('\n')), e => done(String(e)));
                """,
                (object)rules
            )!;
        return found.Split('\n', StringSplitOptions.RemoveEmptyEntries);
    }

    /// <summary>Shows the page in light, dark or contrast, without that being remembered.</summary>
    public static void Theme(this Browser browser, string theme) =>
        browser.Driver.ExecuteScript(
            "document.documentElement.dataset.theme = arguments[0]; window.dispatchEvent(new Event('themechange'))",
            theme
        );
}
