using Microsoft.AspNetCore.Identity;
using Ratiogon.Store;

namespace Ratiogon.Server.Accounts;

/// <summary>What a password must be: 8 to 128 characters, none of those that are tried first, and not the address itself.</summary>
internal sealed class PasswordRules : IPasswordValidator<Account>
{
    public const int Shortest = 8,
        Longest = 128;

    public static readonly string Length = $"A password has {Shortest} to {Longest} characters.";

    // Of the lists of the password meter zxcvbn (MIT licence), those of eight characters and more, the most used first.
    private static readonly Lazy<HashSet<string>> Common = new(() =>
    {
        using var list = new StreamReader(typeof(PasswordRules).Assembly.GetManifestResourceStream("common-passwords.txt")!);
        return [.. list.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries)];
    });

    public Task<IdentityResult> ValidateAsync(UserManager<Account> manager, Account user, string? password) =>
        Task.FromResult(
            Wrong(password ?? "", user?.Email ?? "") is { } why
                ? IdentityResult.Failed(new IdentityError { Code = "Password", Description = why })
                : IdentityResult.Success
        );

    /// <summary>Why a password will not do; null where it does.</summary>
    internal static string? Wrong(string password, string email)
    {
        var plain = password.Trim().ToLowerInvariant();
        return password.Length is < Shortest or > Longest ? Length
            : IsCommon(plain) ? "This password is one of those that are tried first. Take a longer one, such as four words."
            : plain.Length > 0 && plain.Distinct().Count() < 3
                ? "A password of one or two different characters is tried first. Take a longer one, such as four words."
            : email.Length > 0 && new[] { email, email.Split('@')[0] }.Contains(plain, StringComparer.OrdinalIgnoreCase)
                ? "The address itself is no password."
            : null;
    }

    /// <summary>With figures or marks put behind it as well.</summary>
    private static bool IsCommon(string plain) =>
        Common.Value.Contains(plain)
        || (plain.TrimEnd([.. "0123456789!.?"]) is { Length: >= Shortest } stem && Common.Value.Contains(stem));
}
