namespace Ratiogon.Browser.Tests;

/// <summary>The page of the account: another password.</summary>
public class AccountPageTests(ServerFixture fixture) : BrowserTest(fixture)
{
    [Fact]
    public void Another_password_is_refused_with_the_reason_and_taken()
    {
        SignUp();
        B.Go("/parts");
        B.Press("a[href='/account']");
        B.Fill("input[name=current]", "not this one");
        B.Fill("input[name=next]", "otter lantern");
        B.PressText("Change the password");
        B.Until(() => B.Text("[role=alert]").Contains("present password is another", StringComparison.Ordinal), "the refusal");
        B.Fill("input[name=current]", "moss nursery");
        B.PressText("Change the password");
        B.Until(() => B.Text("[role=status]").Contains("other browsers are signed out", StringComparison.Ordinal), "the password to be changed");

        // This browser goes on.
        B.Press("a[href='/parts']");
        B.Find("input[aria-label='Name of a new part']");
    }
}
