using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

public class LookTests
{
    [Fact]
    public void Look()
    {
        using var b = new Browser(new Uri(Environment.GetEnvironmentVariable("LOOK") ?? "http://127.0.0.1:5180"));
        try
        {
            b.Go("/");
            b.Find("[data-testid=enter-demo]");
            b.Shoot("/tmp/w/s1.png");
            b.Press("[data-testid=enter-demo]");
            b.Press("a[href^='/parts/']");
            b.Settled();
            Thread.Sleep(1500);
            b.Shoot("/tmp/w/s2.png");
            b.Press("[data-edit=slots]");
            Thread.Sleep(800);
            b.Shoot("/tmp/w/s3.png");
            b.Go("/parts");
            Thread.Sleep(500);
            b.Fill("input[aria-label='Name of a new part']", "Bracket");
            b.PressText("New part");
            b.Find("[data-testid=build-sheet]");
            Thread.Sleep(800);
            b.Type("d", "m");
            Thread.Sleep(1500);
            b.ClickSketch(0, 0);
            b.MoveSketch(30, 20);
            b.Type("8", "0", Keys.Tab, "50");
            b.Shoot("/tmp/w/s4.png");
            b.Type(Keys.Enter);
            Thread.Sleep(800);
            b.Shoot("/tmp/w/s5.png");
        }
        finally
        {
            Console.WriteLine(string.Join("\n", b.ConsoleErrors()));
        }
    }
}
