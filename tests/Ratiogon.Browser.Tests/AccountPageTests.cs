namespace Ratiogon.Browser.Tests;

/// <summary>The page of the account: another password, the recovery code, leaving.</summary>
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
        B.Until(
            () => B.Text("[role=status]").Contains("other browsers are signed out", StringComparison.Ordinal),
            "the password to be changed"
        );

        // This browser goes on.
        B.Press("a[href='/parts']");
        B.Find("input[aria-label='Name of a new part']");
    }

    [Fact]
    public void Who_lost_the_password_comes_back_with_the_code_and_may_leave_for_good()
    {
        TrySignUp("moss nursery");
        var code = B.Text("[data-testid=recovery-code] code");
        code.Split('-').Length.ShouldBe(4);
        B.Press("[data-testid=code-kept]");
        NewPart("Mine");
        B.Go("/account");
        var address = B.Text("h1 + p");
        B.Until(() => B.Text("[data-testid=kept]").Contains("parts", StringComparison.Ordinal), "what is kept");
        B.Go("/parts");
        B.PressText("Sign out");

        B.Press("[data-testid=lost-password]");
        B.Fill("input[name=email]", address);
        B.Fill("input[name=code]", "00000-00000-00000-00000");
        B.Fill("input[name=password]", "otter lantern");
        B.PressText("Take the new password");
        B.Until(() => B.Text("[role=alert]") == "Address and code do not fit together.", "the refusal");
        B.Fill("input[name=code]", code.Replace("-", " ", StringComparison.Ordinal).ToLowerInvariant());
        B.PressText("Take the new password");
        B.Text("[data-testid=recovery-code] code").ShouldNotBe(code);
        B.Press("[data-testid=code-kept]");
        B.PressPart("Mine");
        B.Settled();

        B.Go("/account");
        B.PressText("Delete the account …");
        B.Fill("input[name=confirm-leave]", "moss nursery");
        B.Press("[data-testid=leave-for-good]");
        B.Until(() => B.Text("[role=alert]").Contains("The password is another one", StringComparison.Ordinal), "the refusal");
        B.Fill("input[name=confirm-leave]", "otter lantern");
        B.Press("[data-testid=leave-for-good]");
        B.Fill("input[name=email]", address);
        B.Fill("input[name=password]", "otter lantern");
        B.PressText("Sign in");
        B.Until(() => B.Text("[role=alert]") == "Address and password do not fit together.", "nobody to be there");
    }
}
