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

/// <summary>Another password by the code that was given when the account was made.</summary>
/// <param name="Email">At most 254 characters.</param>
/// <param name="Code">As it was shown, dashes or not.</param>
/// <param name="Next">8 to 128 characters.</param>
public sealed record Recovery(string Email, string Code, string Next);

/// <summary>The present password, for what cannot be undone.</summary>
public sealed record Confirmation(string Password);

/// <summary>Who is signed in, and whether the demo can be looked at.</summary>
/// <param name="Email">The address; null where nobody is signed in.</param>
/// <param name="Demo">Whether there is a demo to look at.</param>
/// <param name="Visitor">Whether this is a visitor's copy of the demo, which goes after a day.</param>
/// <param name="Code">A new recovery code, told this once.</param>
public sealed record AccountView(string? Email, bool Demo, bool Visitor = false, string? Code = null);

/// <summary><c>/api/account</c>: sign up, sign in, sign out, another password, the code for who lost it, what is kept, taking it home and
/// leaving.</summary>
internal static class AccountEndpoints
{
    private const int LongestEmail = 254;

    /// <summary>Checked for addresses without an account, so that they take as long as others.</summary>
    private static readonly Lazy<string> Nobody = new(() =>
        new PasswordHasher<Account>().HashPassword(new Account(), Guid.NewGuid().ToString())
    );

    public static void MapAccounts(this IEndpointRouteBuilder routes)
    {
        var account = routes
            .MapGroup("/api/account")
            .WithTags("account")
            .WithMetadata(new RequestSizeLimitAttribute(AccountLimits.LargestAccountRequest));
        account
            .MapGet("/", (ClaimsPrincipal user, DemoSwitch demo) =>
                TypedResults.Ok(
                    user.Identity?.IsAuthenticated == true
                        ? new AccountView(user.Identity.Name, demo.On, Visitors.Is(user.Identity.Name))
                        : new AccountView(null, demo.On)
                )
            )
            .WithName("getAccount");
        account.MapPost("/sign-up", SignUpAsync).WithName("signUp").RequireRateLimiting(AccountLimits.Account);
        account.MapPost("/sign-in", SignInAsync).WithName("signIn").RequireRateLimiting(AccountLimits.Account);
        account
            .MapPost("/sign-out", async (ClaimsPrincipal user, SignInManager<Account> signIn, Sessions sessions, AccountLog log) =>
            {
                // Whoever leaves the page meanwhile is signed out all the same.
                await sessions.EndAsync(user, CancellationToken.None);
                await signIn.SignOutAsync();
                log.Changed("signed out", user);
                return TypedResults.NoContent();
            })
            .WithName("signOut");
        account
            .MapPost("/password", ChangePasswordAsync)
            .WithName("changePassword")
            .RequireRateLimiting(AccountLimits.Account)
            .RequireAuthorization();
        account.MapPost("/recover", RecoverAsync).WithName("recover").RequireRateLimiting(AccountLimits.Account);
        account
            .MapPost("/code", NewCodeAsync)
            .WithName("newRecoveryCode")
            .RequireRateLimiting(AccountLimits.Account)
            .RequireAuthorization();
        account.MapPost("/delete", DeleteAsync).WithName("deleteAccount").RequireRateLimiting(AccountLimits.Account).RequireAuthorization();
        account
            .MapGet(
                "/kept",
                async Task<Results<Ok<AccountKept>, ProblemHttpResult>> (Who who, AccountStore accounts, CancellationToken cancel) =>
                    await accounts.KeptAsync(who.Id, cancel) is { } kept ? TypedResults.Ok(kept) : Gone()
            )
            .WithName("getKept")
            .RequireAuthorization();
        account
            .MapGet("/everything.zip", EverythingAsync)
            .WithName("getEverything")
            .RequireRateLimiting(AccountLimits.Files)
            .RequireAuthorization();
        account.MapPost("/demo", EnterDemoAsync).WithName("enterDemo").RequireRateLimiting(AccountLimits.Account);
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> SignUpAsync(
        Credentials credentials,
        UserManager<Account> users,
        SignInManager<Account> signIn,
        DemoSwitch demo,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context
    )
    {
        if (Odd(credentials) is { } odd)
        {
            return odd;
        }

        if (Visitors.Is(credentials.Email))
        {
            return Problems.Of(new Refusal("account.email", "Addresses of this kind are for visitors of the demo.", "email"));
        }

        var code = RecoveryCode.New();
        var account = new Account
        {
            Id = Guid.CreateVersion7(),
            UserName = credentials.Email,
            Email = credentials.Email,
            Recovery = RecoveryCode.Hash(code),
        };
        var made = IdentityResult.Failed();
        if (!await hashing.RunAsync(async () => made = await users.CreateAsync(account, credentials.Password), context.RequestAborted))
        {
            return AccountLimits.TooMany(context);
        }

        if (!made.Succeeded)
        {
            return Problems.Of(
                new Refusal(
                    "account.sign-up",
                    string.Join(
                        " ",
                        made.Errors.Select(e => e.Code == "DuplicateUserName" ? null : e.Description).OfType<string>().Distinct()
                    )
                        is { Length: > 0 } why
                        ? why
                        : "There is already an account with this address.",
                    made.Errors.Any(e => e.Code == "Password") ? "password" : "email"
                )
            );
        }

        await EnterAsync(signIn, account, credentials.Stay);
        log.Entered("made", account.Id);
        tries.Mark(context, credentials.Email);
        return TypedResults.Ok(new AccountView(account.Email, demo.On, Code: code));
    }

    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> SignInAsync(
        Credentials credentials,
        UserManager<Account> users,
        SignInManager<Account> signIn,
        DemoSwitch demo,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context
    )
    {
        if (Odd(credentials) is { } odd)
        {
            return odd;
        }

        using var lease = tries.Take(context, credentials.Email);
        if (!lease.IsAcquired)
        {
            log.Refused("too many tries to sign in", null);
            return AccountLimits.TooMany(context, lease);
        }

        var account = await users.FindByNameAsync(credentials.Email);
        var fits = false;
        if (
            !await hashing.RunAsync(
                async () =>
                    fits = account is not null
                        ? await users.CheckPasswordAsync(account, credentials.Password)
                        : FitsNobody(users.PasswordHasher, credentials.Password),
                context.RequestAborted
            )
        )
        {
            return AccountLimits.TooMany(context);
        }

        if (!fits || account is null)
        {
            log.Refused("a password that does not fit", account?.Id);
            return Problems.Of(new Refusal("account.sign-in", "Address and password do not fit together.", "password"));
        }

        await EnterAsync(signIn, account, credentials.Stay);
        log.Entered("signed in", account.Id);
        tries.Mark(context, credentials.Email);
        return TypedResults.Ok(new AccountView(account.Email, demo.On));
    }

    /// <summary>Each visitor has a copy of the demo parts, and changes nobody else's.</summary>
    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> EnterDemoAsync(
        UserManager<Account> users,
        SignInManager<Account> signIn,
        DemoSwitch demo,
        AccountStore accounts,
        PartStore store,
        AccountLog log,
        HttpContext context
    )
    {
        if (!demo.On || await users.FindByNameAsync(DemoSeed.Email) is not { } shown)
        {
            return Problems.Of(new Refusal("account.no-demo", "This server was started without demo data."));
        }

        await accounts.TrimVisitorsAsync(Visitors.Most - 1, context.RequestAborted);
        var id = Guid.CreateVersion7();
        var visitor = new Account
        {
            Id = id,
            UserName = Visitors.AddressOf(id),
            Email = Visitors.AddressOf(id),
            Visitor = true,
        };
        var made = await users.CreateAsync(visitor);
        if (!made.Succeeded)
        {
            return Problems.Of(new Refusal("account.no-demo", string.Join(" ", made.Errors.Select(e => e.Description))));
        }

        // Copies of what is not drawn yet are drawn themselves.
        store.Tell(await accounts.CopyPartsAsync(shown.Id, id, context.RequestAborted));
        await EnterAsync(signIn, visitor, stay: false);
        log.Entered("made as a visitor's", id);
        return TypedResults.Ok(new AccountView(visitor.Email, true, Visitor: true));
    }

    /// <summary>Another password by the recovery code; every session of the account ends, and the code is another one from then on. The
    /// same words and the same work whether there is such an account or not.</summary>
    private static async Task<Results<Ok<AccountView>, ProblemHttpResult>> RecoverAsync(
        Recovery recovery,
        UserManager<Account> users,
        SignInManager<Account> signIn,
        DemoSwitch demo,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context
    )
    {
        if (Odd(new Credentials(recovery.Email, recovery.Next)) is { } odd)
        {
            return odd;
        }

        using var lease = tries.Take(context, recovery.Email);
        if (!lease.IsAcquired)
        {
            return AccountLimits.TooMany(context, lease);
        }

        var account = await users.FindByNameAsync(recovery.Email);
        if (recovery.Code.Length > 100 || !RecoveryCode.Fits(account?.Recovery, recovery.Code) || account is null)
        {
            log.Refused("a recovery code that does not fit", account?.Id);
            return Problems.Of(new Refusal("account.recover", "Address and code do not fit together.", "code"));
        }

        var code = RecoveryCode.New();
        account.Recovery = RecoveryCode.Hash(code);
        var changed = IdentityResult.Failed();
        if (
            !await hashing.RunAsync(
                async () =>
                    changed = await users.ResetPasswordAsync(account, await users.GeneratePasswordResetTokenAsync(account), recovery.Next),
                context.RequestAborted
            )
        )
        {
            return AccountLimits.TooMany(context);
        }

        if (!changed.Succeeded)
        {
            return Problems.Of(new Refusal("account.password", string.Join(" ", changed.Errors.Select(e => e.Description)), "next"));
        }

        await EnterAsync(signIn, account, stay: false);
        log.Entered("was recovered by its code", account.Id);
        tries.Mark(context, recovery.Email);
        return TypedResults.Ok(new AccountView(account.Email, demo.On, Code: code));
    }

    /// <summary>Another recovery code; the one before is good for nothing.</summary>
    private static Task<Results<Ok<AccountView>, NoContent, ProblemHttpResult>> NewCodeAsync(
        Confirmation confirmation,
        UserManager<Account> users,
        DemoSwitch demo,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context
    ) => ConfirmedAsync(confirmation, users, hashing, tries, log, context, async account =>
        {
            var code = RecoveryCode.New();
            account.Recovery = RecoveryCode.Hash(code);
            await users.UpdateAsync(account);
            log.Changed("another recovery code", context.User);
            return TypedResults.Ok(new AccountView(account.Email, demo.On, Code: code));
        });

    /// <summary>Takes the account away with everything that it keeps; its sessions and live links end with it.</summary>
    private static Task<Results<Ok<AccountView>, NoContent, ProblemHttpResult>> DeleteAsync(
        Confirmation confirmation,
        UserManager<Account> users,
        SignInManager<Account> signIn,
        AccountStore accounts,
        Parts.IPartSessions live,
        Sessions sessions,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context
    ) => ConfirmedAsync(confirmation, users, hashing, tries, log, context, async account =>
        {
            var parts = await accounts.PartsAsync(account.Id, CancellationToken.None);
            await sessions.EndAsync(context.User, CancellationToken.None);
            await accounts.DeleteAsync(account.Id, CancellationToken.None);
            foreach (var part in parts)
            {
                live.Forget(part, account.Id);
            }

            log.Changed("deleted", context.User);
            await signIn.SignOutAsync();
            return TypedResults.NoContent();
        });

    /// <summary>Does what wants the present password; a visitor has none.</summary>
    private static async Task<Results<Ok<AccountView>, NoContent, ProblemHttpResult>> ConfirmedAsync(
        Confirmation confirmation,
        UserManager<Account> users,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context,
        Func<Account, Task<Results<Ok<AccountView>, NoContent, ProblemHttpResult>>> work
    )
    {
        if (await users.GetUserAsync(context.User) is not { Email: { } email } account)
        {
            return Gone();
        }

        if (account.Visitor)
        {
            return await work(account);
        }

        if (Odd(new Credentials(email, confirmation.Password)) is { } odd)
        {
            return odd;
        }

        using var lease = tries.Take(context, email);
        if (!lease.IsAcquired)
        {
            return AccountLimits.TooMany(context, lease);
        }

        var fits = false;
        if (
            !await hashing.RunAsync(
                async () => fits = await users.CheckPasswordAsync(account, confirmation.Password),
                context.RequestAborted
            )
        )
        {
            return AccountLimits.TooMany(context);
        }

        if (!fits)
        {
            log.Refused("a password that does not fit, for something about the account", account.Id);
            return Problems.Of(new Refusal("account.password", "The password is another one; nothing was done.", "password"));
        }

        return await work(account);
    }

    /// <summary>Everything that is kept, as a zip archive; made on disk, for it may be large.</summary>
    private static async Task<FileStreamHttpResult> EverythingAsync(Who who, AccountStore accounts, CancellationToken cancel)
    {
        var file = new FileStream(
            Path.GetTempFileName(),
            FileMode.Open,
            FileAccess.ReadWrite,
            FileShare.None,
            81920,
            FileOptions.DeleteOnClose | FileOptions.Asynchronous
        );
        try
        {
            await accounts.WriteEverythingAsync(who.Id, Exchange.PartFile.Write, Exchange.PartArchive.PlainName, file, cancel);
            file.Position = 0;
            return TypedResults.File(file, "application/zip", "ratiogon-everything.zip");
        }
        catch
        {
            await file.DisposeAsync();
            throw;
        }
    }

    private static ProblemHttpResult Gone() => Problems.Of(new Refusal("account.gone", "This account is not there any more."));

    /// <summary>Every other session of the account ends with it; this one goes on as a new one.</summary>
    private static async Task<Results<NoContent, ProblemHttpResult>> ChangePasswordAsync(
        PasswordChange change,
        UserManager<Account> users,
        SignInManager<Account> signIn,
        Hashing hashing,
        SignInTries tries,
        AccountLog log,
        HttpContext context
    )
    {
        if (await users.GetUserAsync(context.User) is not { Email: { } email } account)
        {
            return Gone();
        }

        if (account.Visitor)
        {
            return Problems.Of(new Refusal("account.demo", "This is a visitor's copy of the demo: it has no password to change."));
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
        if (
            !await hashing.RunAsync(
                async () => changed = await users.ChangePasswordAsync(account, change.Current, change.Next),
                context.RequestAborted
            )
        )
        {
            return AccountLimits.TooMany(context);
        }

        if (!changed.Succeeded)
        {
            var mismatch = changed.Errors.Any(e => e.Code == nameof(IdentityErrorDescriber.PasswordMismatch));
            log.Refused(mismatch ? "a password that does not fit, for another one" : "a password that is no good", account.Id);
            return Problems.Of(
                new Refusal(
                    "account.password",
                    mismatch ? "The present password is another one." : string.Join(" ", changed.Errors.Select(e => e.Description)),
                    mismatch ? "current" : "next"
                )
            );
        }

        var stay = (await context.AuthenticateAsync(IdentityConstants.ApplicationScheme)).Properties?.IsPersistent == true;
        await EnterAsync(signIn, account, stay);
        log.Changed("another password; its other sessions end", context.User);
        tries.Mark(context, email);
        return TypedResults.NoContent();
    }

    private static bool FitsNobody(IPasswordHasher<Account> hasher, string password)
    {
        hasher.VerifyHashedPassword(new Account(), Nobody.Value, password);
        return false;
    }

    private static Task EnterAsync(SignInManager<Account> signIn, Account account, bool stay) =>
        signIn.SignInWithClaimsAsync(account, new AuthenticationProperties { IsPersistent = stay }, Sessions.New());

    /// <summary>What is too long, or no text, is refused before anything is hashed or asked of the database.</summary>
    private static ProblemHttpResult? Odd(Credentials credentials) =>
        credentials.Email.Length > LongestEmail || credentials.Email.Any(char.IsControl)
            ? Problems.Of(new Refusal("account.email", $"An address has at most {LongestEmail} characters.", "email"))
        : credentials.Password.Length > PasswordRules.Longest || credentials.Password.Contains('\0')
            ? Problems.Of(new Refusal("account.password", PasswordRules.Length, "password"))
        : null;
}
