namespace Ratiogon.Bench;

/// <summary>In a real browser on loopback: from a move of the pointer to the changed picture of a sketch, one corner of it dragged; from a
/// changed size to the changed picture of the demo plate; and what an open page takes of a core while nobody touches it.</summary>
internal static class LatencyBench
{
    public static void Run(Uri address)
    {
        using var browser = new Browser.Tests.Browser(address);
        browser.Go("/sign-in");
        browser.Press("[data-testid=enter-demo]");
        Sizes(browser);
        Idle(browser);
        Drag(browser, 37, 25);
        Drag(browser, 200, 50);
    }

    /// <summary>A parameter of the motor plate changed until the page has drawn the part so.</summary>
    private static void Sizes(Browser.Tests.Browser browser)
    {
        browser.Find("input[aria-label='Name of a new part']");
        browser.PressPart("Motor plate");
        browser.Find("[data-testid=build-sheet]");
        browser.Settled();
        browser.Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(240);
        const string Script = """
            const done = arguments[0], view = document.querySelector('[data-testid=viewport]'), id = location.pathname.split('/').pop(), times = [];
            const drawn = (was) => new Promise((r) => {
              const observer = new MutationObserver(() => { if (view.dataset.volume !== was) { observer.disconnect(); requestAnimationFrame(r); } });
              observer.observe(view, { attributes: true, attributeFilter: ['data-volume'] });
            });
            (async () => {
              let revision = (await (await fetch(`/api/parts/${id}`)).json()).revision;
              for (let i = 0; i < 24; i++) {
                const was = view.dataset.volume, began = performance.now(), changed = drawn(was);
                const answer = await fetch(`/api/parts/${id}/commands`, { method: 'POST', headers: { 'Content-Type': 'application/json' },
                  body: JSON.stringify({ revision, command: { command: 'set-parameter', name: 'thick', value: `${7.05 + (i % 5) / 4} mm` } }) });
                revision = (await answer.json()).revision;
                await changed;
                if (i > 3) times.push(performance.now() - began);
                await new Promise((r) => setTimeout(r, 300));
              }
              return times.sort((a, b) => a - b).join(' ');
            })().then(done, (error) => done('failed: ' + error));
            """;
        Print("changed size to changed picture, motor plate, loopback", Numbers((string)browser.Driver.ExecuteAsyncScript(Script)!), 60);
    }

    /// <summary>Seconds of a core that the browser's processes take in ten, while a part is open and nothing happens.</summary>
    private static void Idle(Browser.Tests.Browser browser)
    {
        Thread.Sleep(5000);
        var before = Ticks();
        Thread.Sleep(10_000);
        var share = (Ticks() - before) / 100.0 / 10 * 100;
        Console.WriteLine(
            $"{"an open page that nobody touches, share of a core", -72} {share, 8:0.0} %   aim 1 %   {(share <= 1 ? "met" : "MISSED")}"
        );
        browser.Go("/parts");
    }

    /// <summary>Processor time of all of the browser's processes, in hundredths of a second.</summary>
    private static double Ticks() =>
        Processes
            .Of("chromium", folder =>
            {
                var fields = File.ReadAllText($"{folder}/stat").Split(')')[^1].Split(' ', StringSplitOptions.RemoveEmptyEntries);
                return fields[11..13].Sum(f => double.Parse(f, System.Globalization.CultureInfo.InvariantCulture));
            })
            .Sum();

    private static void Drag(Browser.Tests.Browser browser, int rectangles, double aim)
    {
        browser.Find("input[aria-label='Name of a new part']");
        browser.Fill("input[aria-label='Name of a new part']", $"Latency {rectangles}");
        browser.PressText("New part");
        browser.Find("[data-testid=build-sheet]");
        browser.Settled();
        var chain = Chains.Rectangles(rectangles);
        var corner = chain.At("r0.p3");
        var sketch = System.Text.Json.JsonSerializer.Serialize(chain, Core.Parts.PartJson.Compact);
        browser.Command(
            "{\"command\":\"add-step\",\"step\":{\"kind\":\"sketch\",\"id\":\"chain\",\"number\":0,\"name\":\"chain\",\"on\":\"world/xy\",\"sketch\":"
                + sketch
                + "}}"
        );
        browser.Press("[data-edit=chain]");
        browser.Find("[data-testid=temper-bar]");
        Thread.Sleep(1500);
        browser.Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(240);
        const string Script = """
            const [x0, y0, moves, done] = arguments, view = document.querySelector('[data-testid=viewport]'), canvas = view.querySelector('canvas');
            const box = view.getBoundingClientRect(), n = (a) => Number(view.getAttribute(a));
            const at = (x, y) => ({ clientX: box.left + n('data-origin-x') + x / n('data-per-pixel'), clientY: box.top + n('data-origin-y') - y / n('data-per-pixel') });
            const fire = (kind, p, buttons) => canvas.dispatchEvent(new PointerEvent(kind, { ...p, bubbles: true, button: 0, buttons, pointerId: 1 }));
            const times = [], answers = [];
            const wait = (was) => new Promise((r) => {
              const late = setTimeout(r, 500);
              const observer = new MutationObserver(() => { if (view.dataset.answered !== was) { observer.disconnect(); clearTimeout(late); r(); } });
              observer.observe(view, { attributes: true, attributeFilter: ['data-answered'] });
            });
            const far = 60 * n('data-per-pixel');
            (async () => {
              fire('pointermove', at(x0, y0), 0);
              fire('pointerdown', at(x0, y0), 1);
              fire('pointermove', at(x0 + far, y0 + far), 1);
              await new Promise((r) => setTimeout(r, 500));
              for (let i = 1; i <= moves; i++) {
                const was = view.dataset.answered, began = performance.now();
                fire('pointermove', at(x0 + far * Math.cos(i / 9), y0 + far * Math.cos(i / 11)), 1);
                await wait(was);
                const answer = performance.now() - began;
                await new Promise((r) => requestAnimationFrame(r));
                if (i > 20) { times.push(performance.now() - began); answers.push(answer); }
              }
              const dragged = document.body.innerText.includes('Dragging r0.p3');
              fire('pointerup', at(x0, y0), 0);
              if (!dragged) throw new Error('the corner was not dragged');
              const sorted = (list) => list.sort((a, b) => a - b).join(' ');
              return sorted(times) + ';' + sorted(answers);
            })().then(done, (error) => done('failed: ' + error));
            """;
        var said = (string)browser.Driver.ExecuteAsyncScript(Script, corner.X, corner.Y, rectangles > 100 ? 60 : 160)!;
        var halves = said.Split(';');
        Print($"pointer move to changed picture, {9 * rectangles} entities that all move, loopback", Numbers(halves[0]), aim);
        Print("of it until the answer is there", Numbers(halves[^1]), 4);
        browser.Go("/parts");
    }

    private static List<double> Numbers(string said) =>
        said.StartsWith("failed", StringComparison.Ordinal)
            ? throw new InvalidOperationException(said)
            : said.Split(' ').Select(n => double.Parse(n, System.Globalization.CultureInfo.InvariantCulture)).ToList();

    private static void Print(string what, List<double> times, double aim)
    {
        var p95 = Chains.Percentile(times, 0.95);
        Console.WriteLine(
            $"{what, -72} p95 {p95, 8:0.0} ms   median {times[times.Count / 2]:0.0} ms   aim {aim} ms   {(p95 <= aim ? "met" : "MISSED")}"
        );
    }
}
