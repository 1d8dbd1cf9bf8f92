using OpenQA.Selenium;

namespace Ratiogon.Browser.Tests;

/// <summary>What moves a reading, asked on its row.</summary>
public class DrivesTests(ServerFixture fixture) : BrowserTest(fixture)
{
    [Fact]
    public void The_motor_plate_says_what_moves_its_wall()
    {
        EnterDemo();
        B.Go("/parts");
        B.PressPart("Motor plate");
        B.Settled();
        B.PressBench("Gauge");
        B.Press("[data-tool=readings]");
        B.Press("[data-moves=wall]");
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-drive]")).Count == 3, "what moves the wall");
        B.Text("[data-drive=plate_h]").ShouldContain("+0.5 mm per 1 mm");
        B.Text("[data-drive=bore]").ShouldContain("-0.5 mm per 1 mm");

        // A reading of another kind, with another unit; and after a change the answer is said to be old.
        B.Find("[aria-label='which reading'] option[value=plate_mass]").Click();
        B.Until(() => B.Driver.FindElements(By.CssSelector("[data-drive]")).Count == 7, "what moves the mass");
        B.Text("[data-drive=thick]").ShouldContain("g per 1 mm");
        B.Command("""{"command":"set-parameter","name":"thick","value":"7 mm"}""");
        B.Until(() => B.Text("[data-testid=drives]").Contains("has changed since", StringComparison.Ordinal), "it to be old");
        B.PressText("Ask again");
        B.Until(() => B.Text("[data-drive=thick]").Contains("7 mm", StringComparison.Ordinal), "the answer for 7 mm");
        B.ConsoleErrors().ShouldBeEmpty();
    }
}
