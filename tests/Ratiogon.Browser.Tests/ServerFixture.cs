using Ratiogon.TestHost;

namespace Ratiogon.Browser.Tests;

/// <summary>One server with demo data for all tests of the assembly.</summary>
public sealed class ServerFixture : IAsyncLifetime
{
    private readonly Lazy<Browser> browser;

    public ServerFixture() => browser = new Lazy<Browser>(() => new Browser(Server.Address));

    public ServerProcess Server { get; private set; } = null!;

    /// <summary>One browser for all tests, of the usual size, as if opened anew unless whoever was signed in may stay so.</summary>
    public Browser Take(bool fresh)
    {
        browser.Value.Resize();
        if (fresh)
        {
            browser.Value.Forget();
        }

        return browser.Value;
    }

    public async ValueTask InitializeAsync() => Server = await ServerProcess.StartAsync(demo: true);

    public async ValueTask DisposeAsync()
    {
        if (browser.IsValueCreated)
        {
            browser.Value.Dispose();
        }

        await Server.DisposeAsync();
    }
}

/// <summary>Tests share the server and run one after the other: the machine is small.</summary>
[CollectionDefinition("browser", DisableParallelization = true)]
public sealed class BrowserCollection : ICollectionFixture<ServerFixture>;

/// <summary>What every browser test begins with.</summary>
[Collection("browser")]
public abstract class BrowserTest(ServerFixture fixture, bool fresh = true)
{
    protected Browser B { get; } = fixture.Take(fresh);

    protected ServerProcess Server => fixture.Server;

    protected void SignUp()
    {
        TrySignUp("moss nursery");
        B.Press("[data-testid=code-kept]");
        B.Find("input[aria-label='Name of a new part']");
    }

    /// <summary>As <see cref="SignUp"/>, whatever comes of it.</summary>
    protected void TrySignUp(string password)
    {
        B.Go("/sign-in");
        B.PressText("No account yet? Sign up");
        B.Fill("input[name=email]", $"u{Guid.NewGuid():N}@ratiogon.example");
        B.Fill("input[name=password]", password);
        B.PressText("Sign up");
    }

    protected void NewPart(string name)
    {
        B.Fill("input[aria-label='Name of a new part']", name);
        B.PressText("New part");
        B.Find("[data-testid=build-sheet]");
        B.Settled();
        B.Quiet();
    }

    /// <summary>A new part, open, of whoever is signed in. What the test before left in the console, wanted refusals among
    /// it, is none of this one's. Answers the part's id.</summary>
    protected string OpenNew(string name, string command = "")
    {
        B.Leave();
        B.Driver.ExecuteScript("localStorage.removeItem('offers-taken')");
        if (!B.SignedIn)
        {
            SignUp();
            B.Leave();
        }

        var part = B.Create(name, command);
        B.Go($"/parts/{part}");
        B.Settled();
        return part;
    }

    protected void EnterDemo()
    {
        B.Go("/sign-in");
        B.Press("[data-testid=enter-demo]");
        B.PressPart("Motor plate");
        B.Settled();
    }

    /// <summary>The shown value of an offer, as a number.</summary>
    protected double OfferValue(string offer)
    {
        var text = B.Text($"[data-offer='{offer}'] [data-value]");
        return double.Parse(text.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
    }
}
