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
        var sketch = System.Text.Json.JsonSerializer.Serialize(Chains.Rectangles(37), Core.Parts.PartJson.Compact);
        browser.Command("{\"command\":\"add-step\",\"step\":{\"kind\":\"sketch\",\"id\":\"chain\",\"number\":0,\"name\":\"chain\",\"on\":\"world/xy\",\"sketch\":" + sketch + "}}");
        browser.Press("[data-edit=chain]");
        browser.Find("[data-testid=temper-bar]");
        Thread.Sleep(1500);
        browser.Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(100);
        const string Script = """
            const done = arguments[0], view = document.querySelector('[data-testid=viewport]'), canvas = view.querySelector('canvas');
            const box = view.getBoundingClientRect(), n = (a) => Number(view.getAttribute(a));
            const at = (x, y) => ({ clientX: box.left + n('data-origin-x') + x / n('data-per-pixel'), clientY: box.top + n('data-origin-y') - y / n('data-per-pixel') });
            const fire = (kind, p, buttons) => canvas.dispatchEvent(new PointerEvent(kind, { ...p, bubbles: true, button: 0, buttons, pointerId: 1 }));
            const times = [];
            const wait = (was) => new Promise((r) => {
              const began = performance.now(), look = () => view.dataset.answered !== was || performance.now() - began > 500 ? r() : requestAnimationFrame(look);
              look();
            });
            const far = 60 * n('data-per-pixel');
            (async () => {
              fire('pointermove', at(20, 10), 0);
              fire('pointerdown', at(20, 10), 1);
              fire('pointermove', at(20 + far, 10 + far), 1);
              await new Promise((r) => setTimeout(r, 500));
              for (let i = 1; i <= 160; i++) {
                const was = view.dataset.answered, began = performance.now();
                fire('pointermove', at(20 + far * Math.cos(i / 9), 10 + far * Math.cos(i / 11)), 1);
                await wait(was);
                await new Promise((r) => requestAnimationFrame(r));
                if (i > 20) times.push(performance.now() - began);
              }
              fire('pointerup', at(20, 10), 0);
              return times.sort((a, b) => a - b).join(' ');
            })().then(done, (error) => done('failed: ' + error));
            """;
        var said = (string)browser.Driver.ExecuteAsyncScript(Script)!;
        if (said.StartsWith("failed", StringComparison.Ordinal))
        {
            throw new InvalidOperationException(said);
        }

        var times = said.Split(' ').Select(double.Parse).ToList();
        var p95 = Chains.Percentile(times, 0.95);
        Console.WriteLine($"{"pointer move to changed picture, 333 entities, loopback",-58} p95 {p95,8:0.0} ms   median {times[times.Count / 2]:0.0} ms   aim {Aim} ms   {(p95 <= Aim ? "met" : "MISSED")}");
    }
}
