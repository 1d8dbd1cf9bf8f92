using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Ratiogon.Core;
using Ratiogon.Server.Demo;
using Ratiogon.Store;

namespace Ratiogon.Server.Accounts;

/// <summary>An e-mail address and a password.</summary>
/// <param name="Email">At most 254 characters.</param>
/// <param name="Password">8 to 128 characters.</param>
/// <param name="Stay">Whether the browser stays signed in after it is closed.</param>
public sealed record Credentials(string Email, string Password, bool Stay = true);

/// <summary>Another password for the account that is signed in.</summary>
/// <param name="Current">The present one.</param>
/// <param name="Next">8 to 128 characters.</param>
public sealed record PasswordChange(string Current, string Next);

/// <summary>Who is signed in, and whether the demo account can be entered.</summary>
public sealed record AccountView(string? Email, bool Demo);

/// <summary><c>/api/account</c>: sign up, sign in, sign out, another password.</summary>
internal static class AccountEndpoints
{
    private const int LongestEmail = 254;

    /// <summary>Checked for addresses without an account, so that they take as long as others.</summary>
    private static readonly Lazy<string> Nobody = new(() => new PasswordHasher<Account>().HashPassword(new Account(), Guid.NewGuid().ToString()));

    public static void MapAccounts(this IEndpointRouteBuilder routes)
    {
        var account = routes.MapGroup("/api/account").WithTags("account").WithMetadata(new RequestSizeLimitAttribute(AccountLimits.LargestAccountRequest));
        account.MapGet("/", (ClaimsPrincipal user, DemoSwitch demo) => TypedResults.Ok(new AccountView(user.Identity?.IsAuthenticated == true ? user.Identity.Name : null, demo.On))).WithName("getAccount");
        account.MapPost("/sign-up", SignUpAsync).WithName("signUp").RequireRateLimiting(AccountLimits.Account);
        account.MapPost("/sign-in", SignInAsync).WithName("signIn").RequireRateLimiting(AccountLimits.Account);
        account.MapPost("/sign-out", async (ClaimsPrincipal user, SignInManager<Account> signIn, Sessions sessions) =>
        {
            // Whoever leaves the page meanwhile is signed out all the same.
            await sessions.EndAsync(user, CancellationToken.None);
            await signIn.SignOutAsync();
            return TypedResults.NoContent();
        }).WithName("signOut");
        account.MapPost("/password", ChangePasswordAsync).WithName("changePassword").RequireRateLimiting(AccountLimits.Account).RequireAuthorization();
        account.MapPost("/demo", EnterDemoAsync).WithName("enterDemo").RequireRateLimiting(AccountLimits.Account);
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> SignUpAsync(
        Credentials credentials, UserManager<Account> users, SignInManager<Account> signIn, DemoSwitch demo, Hashing hashing, SignInTries tries, HttpContext context)
    {
        if (Odd(credentials) is { } odd)
        {
            return odd;
        }

        var account = new Account { Id = Guid.CreateVersion7(), UserName = credentials.Email, Email = credentials.Email };
        var made = IdentityResult.Failed();
        if (!await hashing.RunAsync(async () => made = await users.CreateAsync(account, credentials.Password), context.RequestAborted))
        {
            return AccountLimits.TooMany(context);
        }

        if (!made.Succeeded)
        {
            return Problems.Of(new Refusal("account.sign-up", string.Join(" ", made.Errors.Select(e => e.Code == "DuplicateUserName" ? null : e.Description).OfType<string>().Distinct()) is { Length: > 0 } why ? why : "There is already an account with this address.", made.Errors.Any(e => e.Code == "Password") ? "password" : "email"));
        }

        await EnterAsync(signIn, account, credentials.Stay);
        tries.Mark(context, credentials.Email);
        return TypedResults.Ok(new AccountView(account.Email, demo.On));
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> SignInAsync(
        Credentials credentials, UserManager<Account> users, SignInManager<Account> signIn, DemoSwitch demo, Hashing hashing, SignInTries tries, HttpContext context)
    {
        if (Odd(credentials) is { } odd)
        {
            return odd;
        }

        using var lease = tries.Take(context, credentials.Email);
        if (!lease.IsAcquired)
        {
            return AccountLimits.TooMany(context, lease);
        }

        var account = await users.FindByNameAsync(credentials.Email);
        var fits = false;
        if (!await hashing.RunAsync(
            async () => fits = account is not null ? await users.CheckPasswordAsync(account, credentials.Password) : FitsNobody(users.PasswordHasher, credentials.Password),
            context.RequestAborted))
        {
            return AccountLimits.TooMany(context);
        }

        if (!fits || account is null)
        {
            return Problems.Of(new Refusal("account.sign-in", "Address and password do not fit together.", "password"));
        }

        await EnterAsync(signIn, account, credentials.Stay);
        tries.Mark(context, credentials.Email);
        return TypedResults.Ok(new AccountView(account.Email, demo.On));
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> EnterDemoAsync(UserManager<Account> users, SignInManager<Account> signIn, DemoSwitch demo)
    {
        if (!demo.On || await users.FindByNameAsync(DemoSeed.Email) is not { } account)
        {
            return Problems.Of(new Refusal("account.no-demo", "This server was started without demo data."));
        }

        await EnterAsync(signIn, account, stay: true);
        return TypedResults.Ok(new AccountView(account.Email, true));
    }

    /// <summary>Every other session of the account ends with it; this one goes on as a new one.</summary>
    private static async Task<Results<NoContent, ProblemHttpResult>> ChangePasswordAsync(
        PasswordChange change, UserManager<Account> users, SignInManager<Account> signIn, Hashing hashing, SignInTries tries, HttpContext context)
    {
        if (await users.GetUserAsync(context.User) is not { Email: { } email } account)
        {
            return Problems.Of(new Refusal("account.gone", "This account is not there any more."));
        }

        if (email == DemoSeed.Email)
        {
            return Problems.Of(new Refusal("account.demo", "The demo account is everybody's: it has no password to change."));
        }

        if ((Odd(new Credentials(email, change.Current)) ?? Odd(new Credentials(email, change.Next))) is { } odd)
        {
            return odd;
        }

        using var lease = tries.Take(context, email);
        if (!lease.IsAcquired)
        {
            return AccountLimits.TooMany(context, lease);
        }

        var changed = IdentityResult.Failed();
        if (!await hashing.RunAsync(async () => changed = await users.ChangePasswordAsync(account, change.Current, change.Next), context.RequestAborted))
        {
            return AccountLimits.TooMany(context);
        }

        if (!changed.Succeeded)
        {
            var mismatch = changed.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.PasswordMismatch));
            return Problems.Of(new Refusal("account.password", mismatch ? "The present password is another one." : string.Join(" ", changed.Errors.Select(e => e.Description)), mismatch ? "current" : "next"));
        }

        var stay = (await context.AuthenticateAsync(IdentityConstants.ApplicationScheme)).Properties?.IsPersistent == true;
        await EnterAsync(signIn, account, stay);
        tries.Mark(context, email);
        return TypedResults.NoContent();
    }

    private static bool FitsNobody(IPasswordHasher<Account> hasher, string password)
    {
        hasher.VerifyHashedPassword(new Account(), Nobody.Value, password);
        return false;
    }

    private static Task EnterAsync(SignInManager<Account> signIn, Account account, bool stay) => signIn.SignInWithClaimsAsync(account, new AuthenticationProperties { IsPersistent = stay }, Sessions.New());

    /// <summary>What is too long, or no text, is refused before anything is hashed or asked of the database.</summary>
    private static ProblemHttpResult? Odd(Credentials credentials) =>
        credentials.Email.Length > LongestEmail || credentials.Email.Any(char.IsControl) ? Problems.Of(new Refusal("account.email", $"An address has at most {LongestEmail} characters.", "email"))
        : credentials.Password.Length > PasswordRules.Longest || credentials.Password.Contains('\0') ? Problems.Of(new Refusal("account.password", PasswordRules.Length, "password"))
        : null;
}
