using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Ratiogon.Core;
using Ratiogon.Server.Demo;
using Ratiogon.Store;

namespace Ratiogon.Server.Accounts;

/// <summary>An e-mail address and a password.</summary>
public sealed record Credentials(string Email, string Password);

/// <summary>Who is signed in, and whether the demo account can be entered.</summary>
public sealed record AccountView(string? Email, bool Demo);

/// <summary><c>/api/account</c>: sign up, sign in, sign out.</summary>
internal static class AccountEndpoints
{
    public static void MapAccounts(this IEndpointRouteBuilder routes)
    {
        var account = routes.MapGroup("/api/account").WithTags("account");
        account.MapGet("/", (ClaimsPrincipal user, DemoSwitch demo) => TypedResults.Ok(new AccountView(user.Identity?.IsAuthenticated == true ? user.Identity.Name : null, demo.On))).WithName("getAccount");
        account.MapPost("/sign-up", SignUpAsync).WithName("signUp");
        account.MapPost("/sign-in", SignInAsync).WithName("signIn");
        account.MapPost("/sign-out", async (SignInManager<Account> signIn) =>
        {
            await signIn.SignOutAsync();
            return TypedResults.NoContent();
        }).WithName("signOut");
        account.MapPost("/demo", EnterDemoAsync).WithName("enterDemo");
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> SignUpAsync(Credentials credentials, UserManager<Account> users, SignInManager<Account> signIn, DemoSwitch demo)
    {
        var account = new Account { Id = Guid.CreateVersion7(), UserName = credentials.Email, Email = credentials.Email };
        var made = await users.CreateAsync(account, credentials.Password);
        if (!made.Succeeded)
        {
            return Problems.Of(new Refusal("account.sign-up", string.Join(" ", made.Errors.Select(e => e.Code == "DuplicateUserName" ? null : e.Description).OfType<string>().Distinct()) is { Length: > 0 } why ? why : "There is already an account with this address.", "email"));
        }

        await signIn.SignInAsync(account, isPersistent: true);
        return TypedResults.Ok(new AccountView(account.Email, demo.On));
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> SignInAsync(Credentials credentials, SignInManager<Account> signIn, DemoSwitch demo)
    {
        var done = await signIn.PasswordSignInAsync(credentials.Email, credentials.Password, isPersistent: true, lockoutOnFailure: true);
        return done.Succeeded ? TypedResults.Ok(new AccountView(credentials.Email, demo.On))
            : Problems.Of(new Refusal("account.sign-in", done.IsLockedOut ? "Too many attempts; wait five minutes." : "Address and password do not fit together.", "password"));
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> EnterDemoAsync(UserManager<Account> users, SignInManager<Account> signIn, DemoSwitch demo)
    {
        if (!demo.On || await users.FindByNameAsync(DemoSeed.Email) is not { } account)
        {
            return Problems.Of(new Refusal("account.no-demo", "This server was started without demo data."));
        }

        await signIn.SignInAsync(account, isPersistent: true);
        return TypedResults.Ok(new AccountView(account.Email, true));
    }
}
