using System.Security.Cryptography;
using System.Text;

namespace Ratiogon.Store;

/// <summary>A code that lets the owner of an account in without the password, for there is no mail: 100 random bits, written as four
/// groups of five letters and digits that are not mistaken for each other (Crockford's base 32). Only its hash is kept.</summary>
public static class RecoveryCode
{
    private const string Letters = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";
    private const int Groups = 4,
        OfGroup = 5;

    /// <summary>A code that nobody has yet.</summary>
    public static string New() =>
        string.Join("-", Enumerable.Range(0, Groups).Select(_ => RandomNumberGenerator.GetString(Letters, OfGroup)));

    /// <summary>The hash of a code, however it was typed: in small letters, with or without dashes, o for zero, i or l for one.</summary>
    public static byte[] Hash(string code)
    {
        ArgumentNullException.ThrowIfNull(code);
        var plain = new string([
            .. code.ToUpperInvariant()
                .Where(c => c is not ('-' or ' '))
                .Select(c =>
                    c switch
                    {
                        'O' => '0',
                        'I' or 'L' => '1',
                        _ => c,
                    }
                ),
        ]);
        return SHA256.HashData(Encoding.UTF8.GetBytes(plain));
    }

    /// <summary>Whether a code is the one that was kept; takes as long where none was.</summary>
    public static bool Fits(byte[]? kept, string code) =>
        CryptographicOperations.FixedTimeEquals(kept ?? new byte[SHA256.HashSizeInBytes], Hash(code)) && kept is not null;
}
