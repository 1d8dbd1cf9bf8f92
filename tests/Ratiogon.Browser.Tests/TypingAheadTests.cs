using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Ratiogon.Browser.Tests;

/// <summary>Nothing typed or clicked is lost or misread, however fast the hand and however slow the link.</summary>
public class TypingAheadTests(ServerFixture fixture) : SketcherTest(fixture)
{
    /// <summary>How many points are typed; RATIOGON_POINTS sets another number, for a long run.</summary>
    private static int Many => int.TryParse(Environment.GetEnvironmentVariable("RATIOGON_POINTS"), out var n) ? n : 30;

    private static (double X, double Y)[] Places(int count) =>
        [
            .. Enumerable
                .Range(0, count)
                .Select(i => (Math.Round(-45 + (3.1 * (i % 30)) + (0.01 * i), 2), Math.Round(40 - (7.3 * (i % 11)), 2))),
        ];

    /// <summary>A sketch with one fixed point far off.</summary>
    private void Open() =>
        OpenSketch(
            """{"kind":"point","id":"z","at":[60,60]},{"kind":"point","id":"y","at":[-60,-60]}""",
            """{"id":"f","kind":"fixed","of":["z","y"]}"""
        );

    /// <summary>The places of the points of the sketch, as kept.</summary>
    private List<(double X, double Y)> Kept() =>
        [
            .. Kept<double[][]>("all.filter(e => e.kind === 'point' && !['y', 'z'].includes(e.id)).map(e => e.numbers)")
                .Select(n => (Math.Round(n[0], 9), Math.Round(n[1], 9))),
        ];

    /// <summary>Everything that the page sends over the live link comes later.</summary>
    private void Slow(int milliseconds) =>
        B.Driver.ExecuteScript(
            "const late = arguments[0], send = WebSocket.prototype.send; if (late) WebSocket.prototype.send = function (d) { "
                + "setTimeout(() => this.readyState === 1 && send.call(this, d), late) }",
            milliseconds
        );

    private static string Text((double X, double Y) p) => FormattableString.Invariant($"{p.X}, {p.Y}");

    [Theory]
    [InlineData(0, 0)]
    [InlineData(100, 20)]
    [InlineData(250, 0)]
    [InlineData(1000, 70)]
    public void Points_typed_without_a_pause_are_all_where_they_were_typed(int delay, int each)
    {
        Open();
        B.Tool("Draw", "point");
        Slow(delay);
        var places = Places(
            delay == 0 ? Many
            : delay < 1000 ? 30
            : 8
        );
        foreach (var some in places.Chunk(50))
        {
            var keys = new Actions(B.Driver, TimeSpan.Zero);
            foreach (var place in some)
            {
                foreach (var key in Text(place))
                {
                    keys.SendKeys(key.ToString()).Pause(TimeSpan.FromMilliseconds(each));
                }

                keys.SendKeys(Keys.Enter).Pause(TimeSpan.FromMilliseconds(each));
            }

            keys.Perform();
        }

        var (until, count) = (DateTime.UtcNow.AddSeconds(30 + (places.Length * (0.1 + (delay / 250.0)))), -1);
        while (Kept().Count is var now && now < places.Length && (DateTime.UtcNow < until || now > count))
        {
            count = now;
            Thread.Sleep(1000);
        }

        Kept().Order().ShouldBe(places.Order());
        B.UntilFreedoms(0);
        NoErrors();
    }

    [Fact]
    public void A_line_by_length_and_angle_is_typed_ahead_of_the_answers()
    {
        Open();
        Slow(200);
        B.Tool("Draw", "line");
        new Actions(B.Driver, TimeSpan.Zero)
            .SendKeys("8 \t -6")
            .SendKeys(Keys.Enter)
            .SendKeys("25")
            .SendKeys(Keys.Tab)
            .SendKeys("30")
            .SendKeys(Keys.Enter)
            .Perform();
        B.Until(() => Kept().Count == 2, "the line");
        Kept().ShouldContain((8, -6));
        Kept().ShouldContain(p => Math.Abs(p.X - (8 + (25 * Math.Cos(Math.PI / 6)))) < 1e-6 && Math.Abs(p.Y - (-6 + 12.5)) < 1e-6);
        B.UntilFreedoms(0);
        NoErrors();
    }

    [Fact]
    public void A_refused_value_stays_in_its_field_and_is_typed_over()
    {
        Open();
        B.Tool("Draw", "circle");
        B.ClickSketch(10, 10);
        B.Find("[data-field=diameter]");
        B.Type("0", Keys.Enter);
        B.Until(() => B.Refusal.Contains("more than zero", StringComparison.Ordinal), "the refusal");
        B.Driver.SwitchTo().ActiveElement().GetAttribute("data-field").ShouldBe("diameter");
        B.Type("60", Keys.Enter);
        B.Until(() => Kept().Count == 1, "the circle");
        B.Driver.FindElements(By.CssSelector("[data-dimension]")).ShouldContain(e => e.Text.Contains("60", StringComparison.Ordinal));
    }

    [Fact]
    public void A_line_that_was_begun_goes_on_when_the_link_is_back_after_a_minute()
    {
        B.Driver.ExecuteCdpCommand(
            "Page.addScriptToEvaluateOnNewDocument",
            new Dictionary<string, object?>
            {
                ["source"] = """
                const Socket = window.WebSocket; const all = []; window.away = false;
                window.WebSocket = class extends Socket { constructor(...a) { super(...(window.away ? ['ws://127.0.0.1:9/'] : a)); all.push(this) } };
                const reach = window.fetch; window.fetch = (...a) => window.away && String(a[0].url ?? a[0]).includes('/live') ? Promise.reject(new TypeError('away')) : reach(...a);
                window.cut = () => { window.away = true; all.forEach(s => s.close()) };
                """,
            }
        );
        Open();
        B.Tool("Draw", "line");
        B.ClickSketch(-20, -10);
        B.Until(() => B.Prompt.StartsWith("Click where it ends", StringComparison.Ordinal), "the line to be begun");
        B.Driver.ExecuteScript("window.cut()");
        B.Until(() => B.Prompt.StartsWith("The link to the server is away", StringComparison.Ordinal), "the link to be told as away");
        B.ClickSketch(30, 15);
        Thread.Sleep(TimeSpan.FromSeconds(60));
        Kept().ShouldBeEmpty();
        B.Prompt.ShouldStartWith("The link to the server is away");
        B.ConsoleErrors().Count.ShouldBeLessThan(60, "no flood of errors");
        B.Driver.ExecuteScript("window.away = false");
        B.Until(() => Kept().Count == 2, "the line");
        Kept().ShouldContain(p => Math.Abs(p.X - 30) < 0.5 && Math.Abs(p.Y - 15) < 0.5);
        B.Until(() => B.Prompt.StartsWith("Click where it ends", StringComparison.Ordinal), "the chain to go on");
    }
}
