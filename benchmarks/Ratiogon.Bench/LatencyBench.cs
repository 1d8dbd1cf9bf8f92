namespace Ratiogon.Bench;

/// <summary>From a move of the pointer to the changed picture, in a real browser on loopback: a sketch of 300 entities, one
/// corner of it dragged.</summary>
internal static class LatencyBench
{
    private const double Aim = 33;

    public static void Run(Uri address)
    {
        using var browser = new Browser.Tests.Browser(address);
        browser.Go("/sign-in");
        browser.Press("[data-testid=enter-demo]");
        browser.Find("input[aria-label='Name of a new part']");
        browser.Fill("input[aria-label='Name of a new part']", "Latency");
        browser.PressText("New part");
        browser.Find("[data-testid=build-sheet]");
        browser.Settled();
        var chain = Chains.Rectangles(37);
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
        browser.Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(100);
        const string Script = """
            const done = arguments[2], x0 = arguments[0], y0 = arguments[1], view = document.querySelector('[data-testid=viewport]'), canvas = view.querySelector('canvas');
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
              for (let i = 1; i <= 160; i++) {
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
        var said = (string)browser.Driver.ExecuteAsyncScript(Script, corner.X, corner.Y)!;
        if (said.StartsWith("failed", StringComparison.Ordinal))
        {
            throw new InvalidOperationException(said);
        }

        var (times, answers) = (
            said.Split(';')[0].Split(' ').Select(double.Parse).ToList(),
            said.Split(';')[1].Split(' ').Select(double.Parse).ToList()
        );
        var p95 = Chains.Percentile(times, 0.95);
        Console.WriteLine(
            $"{"pointer move to changed picture, 333 entities that all move, loopback", -72} p95 {p95, 8:0.0} ms   median "
                + $"{times[times.Count / 2]:0.0} ms   aim {Aim} ms   {(p95 <= Aim ? "met" : "MISSED")}"
        );
        Console.WriteLine(
            $"{"of it until the answer is there", -72} p95 {Chains.Percentile(answers, 0.95), 8:0.0} ms   median "
                + $"{answers[answers.Count / 2]:0.0} ms"
        );
    }
}
