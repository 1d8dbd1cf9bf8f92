using System.Globalization;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;

namespace Ratiogon.Browser.Tests;

/// <summary>A headless browser with the few words that the tests speak: press, type, click on the sketch.</summary>
public sealed class Browser : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private readonly string profile = Directory.CreateTempSubdirectory("ratiogon-browser").FullName;
    private readonly ChromeDriver driver;

    public Browser(Uri address)
    {
        Address = address;
        Downloads = Directory.CreateDirectory(Path.Combine(profile, "downloads")).FullName;
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--use-angle=swiftshader",
            "--enable-unsafe-swiftshader",
            "--force-prefers-reduced-motion",
            "--window-size=1280,800",
            "--force-device-scale-factor=1",
            "--hide-scrollbars",
            $"--user-data-dir={Path.Combine(profile, "data")}"
        );
        options.AddUserProfilePreference("download.default_directory", Downloads);
        options.SetLoggingPreference(LogType.Browser, LogLevel.Severe);
        driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options, TimeSpan.FromSeconds(60));
        Resize();
        driver.Manage().Timeouts().AsynchronousJavaScript = Patience;
    }

    public Uri Address { get; }

    public string Downloads { get; }

    public ChromeDriver Driver => driver;

    public void Dispose()
    {
        driver.Quit();
        driver.Dispose();
        Directory.Delete(profile, recursive: true);
    }

    /// <summary>Makes the page as large as on a screen of that size; every test begins at the usual one.</summary>
    public void Resize(int width = 1280, int height = 800) =>
        driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );

    /// <summary>Forgets who was signed in and whatever was kept.</summary>
    public void Forget()
    {
        foreach (var other in driver.WindowHandles.Skip(1))
        {
            driver.SwitchTo().Window(other).Close();
        }

        driver.SwitchTo().Window(driver.WindowHandles[0]);
        driver.ExecuteScript("localStorage.clear()");
        driver.Manage().Cookies.DeleteAllCookies();
        driver.Navigate().GoToUrl("about:blank");
        driver.Manage().Logs.GetLog(LogType.Browser);
    }

    /// <summary>Away from the application, to a picture of the same origin; what it left in the console is forgotten.</summary>
    public void Leave()
    {
        Go("/mark.svg");
        driver.Manage().Logs.GetLog(LogType.Browser);
    }

    /// <summary>Whether somebody is signed in; on a page of the same origin.</summary>
    public bool SignedIn => driver.Manage().Cookies.GetCookieNamed("ratiogon") is not null;

    public void Go(string path) => driver.Navigate().GoToUrl(new Uri(Address, path));

    public IWebElement Find(string css) =>
        Until(() => driver.FindElements(By.CssSelector(css)).FirstOrDefault(Shown), $"'{css}' to be there")!;

    public bool Has(string css) => driver.FindElements(By.CssSelector(css)).Any(Shown);

    public void Press(string css) => Retry(() => Find(css).Click());

    public void PressText(string text) =>
        Retry(() =>
            Until(() => driver.FindElements(By.XPath($"//button[normalize-space()='{text}']")).FirstOrDefault(Shown), $"a button '{text}'")!
                .Click()
        );

    public void Fill(string css, string text)
    {
        var field = Find(css);
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text);
    }

    /// <summary>Keys to whatever has the focus.</summary>
    public void Type(params string[] strokes)
    {
        foreach (var stroke in strokes)
        {
            Act().SendKeys(stroke).Perform();
            Drawn();
        }

        Quiet();
    }

    /// <summary>Opens a part from the list.</summary>
    public void PressPart(string name) =>
        Retry(() =>
            Until(
                    () => driver.FindElements(By.XPath($"//a[.//span[normalize-space()='{name}']]")).FirstOrDefault(Shown),
                    $"a part '{name}'"
                )!
                .Click()
        );

    /// <summary>Takes up a tool by its button, and a way of drawing within it.</summary>
    public void Tool(string bench, string name, string? way = null)
    {
        PressBench(bench);
        Press($"[data-tool={name}]");
        Until(
            () =>
                Attribute($"[data-tool={name}]", "aria-pressed") == "true"
                && Prompt.Length > 0
                && Has("[data-testid=temper-bar], [data-testid=viewport]"),
            $"the tool {name}"
        );
        Quiet();
        if (way is not null)
        {
            Press($"[data-way={way}]");
            Until(() => Attribute($"[data-way={way}]", "aria-checked") == "true", $"the way {way}");
        }
    }

    public void PressBench(string bench) =>
        Until(
            () =>
            {
                driver.FindElements(By.CssSelector("[role=tab]")).First(e => e.Text.StartsWith(bench, StringComparison.Ordinal)).Click();
                return true;
            },
            $"the bench {bench}"
        );

    /// <summary>Makes a part, with one change where that is given; answers its id.</summary>
    public string Create(string name, string command)
    {
        const string Script = """
            const [name, command, done] = arguments;
            const send = (path, body) => fetch(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }).then(async r => r.ok ? r.json() : Promise.reject(await r.text()));
            send('/api/parts', { name }).then(p => command ? send(`/api/parts/${p.id}/commands`, { revision: p.revision, command: JSON.parse(command) }) : p).then(p => done(p.id), e => done('!' + e));
            """;
        var answer = (string)driver.ExecuteAsyncScript(Script, name, command)!;
        return answer.StartsWith('!') ? throw new InvalidOperationException(answer) : answer;
    }

    /// <summary>Makes a change of the open part without the interface, to set a scene.</summary>
    public void Command(string json)
    {
        const string Script = """
            const [command, done] = arguments;
            const id = location.pathname.split('/').pop();
            fetch(`/api/parts/${id}`).then(r => r.json())
              .then(p => fetch(`/api/parts/${id}/commands`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ revision: p.revision, command: JSON.parse(command) }) }))
              .then(async r => done(r.ok ? '' : await r.text()), e => done(String(e)));
            """;
        var answer = (string)driver.ExecuteAsyncScript(Script, json)!;
        if (answer.Length > 0)
        {
            throw new InvalidOperationException(answer);
        }
    }

    public string Text(string css) => Until(() => new[] { Find(css).Text }, $"the text of '{css}'")[0];

    public string? Attribute(string css, string name) => Until(() => new[] { Find(css).GetAttribute(name) }, $"'{name}' of '{css}'")[0];

    /// <summary>Waits until something holds; fails with what was waited for.</summary>
    public T Until<T>(Func<T> probe, string what, TimeSpan? patience = null)
    {
        var until = DateTime.UtcNow + (patience ?? Patience);
        Exception? last = null;
        while (DateTime.UtcNow < until)
        {
            try
            {
                var value = probe();
                if (value is not null && !Equals(value, false))
                {
                    return value;
                }
            }
            catch (Exception e) when (e is WebDriverException or FormatException)
            {
                last = e;
            }

            Thread.Sleep(50);
        }

        throw new TimeoutException(
            $"waited {(patience ?? Patience).TotalSeconds} s for {what}; prompt: {Prompt}; refusal: {Refusal}; {last?.Message}"
        );
    }

    public string Prompt => Words("[data-testid=prompt]");

    public string Refusal => Words("[data-testid=refusal]");

    /// <summary>What a place says at this moment; nothing where it is not there or is just being replaced.</summary>
    private string Words(string css) => Standing(() => driver.FindElements(By.CssSelector(css)).FirstOrDefault()?.Text, null) ?? "";

    /// <summary>Whether an element is seen; one that the page replaced since it was found is not.</summary>
    private static bool Shown(IWebElement element) => Standing(() => element.Displayed, false);

    private static T Standing<T>(Func<T> ask, T gone)
    {
        try
        {
            return ask();
        }
        catch (StaleElementReferenceException)
        {
            return gone;
        }
    }

    /// <summary>References of what is picked, in order; on the screen they are said in words.</summary>
    public IReadOnlyList<string> Picks =>
        ((IJavaScriptExecutor)driver).ExecuteScript("return [...document.querySelectorAll('[data-pick]')].map(e => e.dataset.pick)")
            is IEnumerable<object> picks
            ? [.. picks.Cast<string>()]
            : [];

    public int Freedoms => int.Parse(Attribute("[data-testid=temper-bar]", "data-freedoms")!, CultureInfo.InvariantCulture);

    public void UntilFreedoms(int count) => Until(() => Freedoms == count, $"{count} freedoms (there are {Freedoms})");

    /// <summary>Waits until the model is built for what is shown, and the picture stands still.</summary>
    public void Settled()
    {
        Until(() => Attribute("[data-testid=viewport]", "data-settled") == "true", "the model to be built");
        Quiet();
    }

    /// <summary>Moves to a place on the open sketch, in millimetres, and clicks.</summary>
    public void ClickSketch(double x, double y, bool extend = false)
    {
        var (px, py) = OnScreen(x, y);
        var view = Find("[data-testid=viewport]");
        var act = Act().MoveToElement(view, px - 3, py - 2).MoveToElement(view, px, py);
        act = extend ? act.KeyDown(Keys.Shift).Click().KeyUp(Keys.Shift) : act.Click();
        act.Perform();
        Quiet();
    }

    public void MoveSketch(double x, double y)
    {
        var (px, py) = OnScreen(x, y);
        Act().MoveToElement(Find("[data-testid=viewport]"), px, py).Perform();
        Quiet();
    }

    public void DragSketch(double fromX, double fromY, double toX, double toY)
    {
        var (ax, ay) = OnScreen(fromX, fromY);
        var (bx, by) = OnScreen(toX, toY);
        var view = Find("[data-testid=viewport]");
        var act = Act().MoveToElement(view, ax, ay).ClickAndHold();
        for (var i = 1; i <= 8; i++)
        {
            act = act.MoveToElement(view, ax + ((bx - ax) * i / 8), ay + ((by - ay) * i / 8)).Pause(TimeSpan.FromMilliseconds(30));
        }

        act.Pause(TimeSpan.FromMilliseconds(150)).Release().Perform();
        Quiet();
    }

    /// <summary>Clicks in the viewport, in pixels from its middle.</summary>
    public void ClickView(int fromMiddleX, int fromMiddleY, bool extend = false)
    {
        Quiet();
        var view = Find("[data-testid=viewport]");
        var act = Act().MoveToElement(view, fromMiddleX - 2, fromMiddleY).MoveToElement(view, fromMiddleX, fromMiddleY);
        act = extend ? act.KeyDown(Keys.Shift).Click().KeyUp(Keys.Shift) : act.Click();
        act.Perform();
        Quiet();
    }

    /// <summary>Clicks where a place in space is seen, in millimetres.</summary>
    public void ClickPlace(double x, double y, double z, bool extend = false)
    {
        Quiet();
        var (px, py) = Seen(x, y, z);
        ClickView(px, py, extend);
    }

    /// <summary>Drags from where one place in space is seen to where another is.</summary>
    public void DragPlace((double X, double Y, double Z) from, (double X, double Y, double Z) to)
    {
        var ((ax, ay), (bx, by)) = (Seen(from.X, from.Y, from.Z), Seen(to.X, to.Y, to.Z));
        DragView(ax, ay, bx, by);
    }

    /// <summary>Drags in the viewport, in pixels from its middle.</summary>
    public void DragView(int ax, int ay, int bx, int by, bool right = false)
    {
        var mouse = new PointerInputDevice(PointerKind.Mouse);
        var button = right ? MouseButton.Right : MouseButton.Left;
        var view = Find("[data-testid=viewport]");
        var act = new ActionBuilder()
            .AddAction(mouse.CreatePointerMove(view, ax, ay, TimeSpan.FromMilliseconds(60)))
            .AddAction(mouse.CreatePointerDown(button));
        for (var i = 1; i <= 8; i++)
        {
            act.AddAction(mouse.CreatePointerMove(view, ax + ((bx - ax) * i / 8), ay + ((by - ay) * i / 8), TimeSpan.FromMilliseconds(50)));
        }

        act.AddAction(mouse.CreatePointerUp(button));
        driver.PerformActions(act.ToActionSequenceList());
        Quiet();
    }

    /// <summary>Where a place in space is seen, in pixels from the middle of the viewport.</summary>
    public (int X, int Y) Seen(double x, double y, double z)
    {
        var view = Find("[data-testid=viewport]");
        var m = Until(() => view.GetAttribute("data-look"), "a picture")!
            .Split(' ')
            .Select(v => double.Parse(v, CultureInfo.InvariantCulture))
            .ToArray();
        double Row(int r) => (m[r] * x) + (m[4 + r] * y) + (m[8 + r] * z) + m[12 + r];
        return ((int)Math.Round(Row(0) / Row(3) * view.Size.Width / 2), (int)Math.Round(-Row(1) / Row(3) * view.Size.Height / 2));
    }

    public IReadOnlyList<string> ConsoleErrors() =>
        [.. driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level == LogLevel.Severe).Select(l => l.Message)];

    public void Shoot(string path)
    {
        Quiet();
        driver.GetScreenshot().SaveAsFile(path);
    }

    /// <summary>Offsets from the middle of the viewport, as the driver counts them.</summary>
    private (int X, int Y) OnScreen(double x, double y)
    {
        var view = Find("[data-testid=viewport]");
        double Number(string name) => double.Parse(view.GetAttribute(name)!, CultureInfo.InvariantCulture);
        var perPixel = Number("data-per-pixel");
        return (
            (int)Math.Round(Number("data-origin-x") + (x / perPixel) - (view.Size.Width / 2.0)),
            (int)Math.Round(Number("data-origin-y") - (y / perPixel) - (view.Size.Height / 2.0))
        );
    }

    /// <summary>Gestures of a quick hand; the driver's own take a quarter of a second for every move.</summary>
    public Actions Act() => new(driver, TimeSpan.FromMilliseconds(20));

    /// <summary>Waits until the page waits for nothing and draws nothing any more; of what takes longer than five seconds not
    /// the end.</summary>
    public void Quiet() =>
        driver.ExecuteAsyncScript(
            """
            const done = arguments[0], until = performance.now() + 5000
            let still = 0
            const look = () => {
              const canvas = document.querySelector('[data-testid=viewport] canvas')
              const rests = Number(document.documentElement.dataset.busy ?? 0) === 0 && (canvas?.dataset.still ?? 'true') === 'true'
              still = rests ? still + 1 : 0
              if (still > 2 || performance.now() > until) done()
              else requestAnimationFrame(look)
            }
            requestAnimationFrame(look)
            """
        );

    /// <summary>Waits until the picture shows what was last asked of it.</summary>
    public void Drawn() =>
        driver.ExecuteAsyncScript(
            "const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(() => done())))"
        );

    /// <summary>Whether views glide from now on, as they do for those who have not asked for less motion.</summary>
    public void Glide(bool on) =>
        driver.ExecuteCdpCommand(
            "Emulation.setEmulatedMedia",
            new Dictionary<string, object?>
            {
                ["features"] = on
                    ? new[]
                    {
                        new Dictionary<string, object?> { ["name"] = "prefers-reduced-motion", ["value"] = "no-preference" },
                    }
                    : Array.Empty<object>(),
            }
        );

    private void Retry(Action act) =>
        Until(
            () =>
            {
                act();
                return true;
            },
            "a press"
        );
}
