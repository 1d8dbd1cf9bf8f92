using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>What the tests of the sketcher share: a new part, and a loose sketch to work on.</summary>
public abstract class SketcherTest(ServerFixture fixture) : BrowserTest(fixture, fresh: false)
{
    /// <summary>Lines l, m, n; point q; circles k and h; arc r; ellipse x; spline s: all loose.</summary>
    private const string LooseEntities = """
        {"kind":"point","id":"a","at":[-50,-40]},{"kind":"point","id":"b","at":[-25,-34]},{"kind":"line","id":"l","from":"a","to":"b"},
        {"kind":"point","id":"c","at":[-50,-20]},{"kind":"point","id":"d","at":[-22,-8]},{"kind":"line","id":"m","from":"c","to":"d"},
        {"kind":"point","id":"e","at":[-10,-45]},{"kind":"point","id":"f","at":[-2,-18]},{"kind":"line","id":"n","from":"e","to":"f"},
        {"kind":"point","id":"q","at":[-40,5]},
        {"kind":"point","id":"k1","at":[12,-30]},{"kind":"circle","id":"k","centre":"k1","radius":7},
        {"kind":"point","id":"h1","at":[35,-32]},{"kind":"circle","id":"h","centre":"h1","radius":9},
        {"kind":"point","id":"r1","at":[40,5]},{"kind":"point","id":"r2","at":[52,6]},{"kind":"point","id":"r3","at":[39,17]},{"kind":"arc","id":"r","centre":"r1","from":"r2","to":"r3","radius":12},
        {"kind":"point","id":"x1","at":[-45,35]},{"kind":"point","id":"x2","at":[-28,38]},{"kind":"point","id":"x3","at":[-46.5,43.5]},{"kind":"ellipse","id":"x","centre":"x1","first":"x2","second":"x3"},
        {"kind":"point","id":"s1","at":[-10,28]},{"kind":"point","id":"s2","at":[20,36]},{"kind":"spline","id":"s","through":["s1","s2"],"spans":[1]}
        """;

    /// <summary>Where each of the loose entities is picked.</summary>
    protected static (double X, double Y) At(string id) =>
        id switch
        {
            "a" => (-50, -40),
            "b" => (-25, -34),
            "c" => (-50, -20),
            "d" => (-22, -8),
            "e" => (-10, -45),
            "f" => (-2, -18),
            "q" => (-40, 5),
            "l" => (-41.67, -38),
            "m" => (-40.67, -16),
            "n" => (-7.33, -36),
            "k" => (12, -23),
            "h" => (44, -32),
            "r" => (48.7, 13.2),
            "x" => (-34.04, 43.13),
            "s" => (0, 30.67),
            "y-axis" => (0, 50),
            "x-axis" => (-58, 0),
            _ => throw new ArgumentOutOfRangeException(nameof(id), id, "not in the loose sketch"),
        };

    /// <summary>A new part, open. Whoever is signed in stays so, and the part is made without the interface: other tests
    /// do both by hand.</summary>
    protected void NewSketch(string commands = "")
    {
        OpenNew("Sketch", commands);
        B.Find("[data-testid=build-sheet]");
        B.Quiet();
    }

    /// <summary>The loose sketch, open, with nothing picked.</summary>
    protected int OpenLoose() => OpenSketch(LooseEntities);

    /// <summary>A sketch of given entities, open; answers its freedoms.</summary>
    protected int OpenSketch(string entities, string constraints = "")
    {
        NewSketch(
            $$$"""{"command":"add-step","step":{"kind":"sketch","id":"loose","number":0,"name":"loose","on":"world/xy","sketch":{"entities":[{{{entities}}}],"constraints":[{{{constraints}}}],"dimensions":[],"shapes":[] } } }"""
        );
        B.Press("[data-edit=loose]");
        B.Find("[data-testid=temper-bar]");
        B.Press("[data-view=fit]");
        B.Drawn();
        B.Until(() => B.Prompt.StartsWith("Pick geometry", StringComparison.Ordinal), "the sketch to be open");
        return B.Freedoms;
    }

    protected void Pick(params string[] ids)
    {
        for (var i = 0; i < ids.Length; i++)
        {
            var (x, y) = At(ids[i]);
            B.ClickSketch(x, y, extend: i > 0);
        }
    }

    protected void Clicks(string places)
    {
        foreach (var place in places.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            var xy = place.Split(',');
            B.ClickSketch(double.Parse(xy[0]), double.Parse(xy[1]));
        }
    }

    /// <summary>Takes back everything drawn in the open sketch.</summary>
    protected void UndoAll()
    {
        for (var i = 0; i < 20 && B.Has("[data-testid=temper-bar]"); i++)
        {
            B.Press("[data-testid=undo]");
            B.Quiet();
        }

        B.Until(() => !B.Has("[data-testid=temper-bar]"), "an empty sketch");
    }

    /// <summary>What a script makes of the entities of the last step's sketch, as kept; it answers JSON.</summary>
    /// <param name="script">An expression of <c>all</c>, the entities, and <c>given</c>.</param>
    /// <param name="given">What it is given.</param>
    protected T Kept<T>(string script, string given = "") =>
        System.Text.Json.JsonSerializer.Deserialize<T>(
            B.Driver.ExecuteAsyncScript(
                    "const [given, done] = arguments; fetch('/api/parts/' + location.pathname.split('/').pop()).then(r => "
                        + $"r.json()).then(p => {{ const all = p.steps.at(-1).sketch.entities; done(JSON.stringify({script})) }})",
                    given
                )!
                .ToString()!
        )!;

    protected void Leave() => B.Type(Keys.Escape);

    /// <summary>Nothing went wrong in the browser; a refused command is an answer, not an error.</summary>
    protected void NoErrors() => B.ConsoleErrors().Where(e => !e.Contains("422", StringComparison.Ordinal)).ShouldBeEmpty();
}
