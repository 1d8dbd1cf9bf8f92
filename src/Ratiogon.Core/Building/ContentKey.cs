using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Building;

/// <summary>Keys by content: what has the same key need not be built again.</summary>
internal static class ContentKey
{
    /// <summary>A key for a file of bodies.</summary>
    public static string Of(BodyFormat format, ReadOnlyMemory<byte> file) =>
        $"{format} {Convert.ToHexString(SHA256.HashData(file.Span).AsSpan(0, 16))}";

    /// <summary>A key for a step together with the keys of what it is built on and the values its formulas read.</summary>
    public static string Of(Step step, params IEnumerable<string> inputs)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);

        // Neither its name nor its number changes what a step builds.
        hash.AppendData(
            JsonSerializer.SerializeToUtf8Bytes(step with { Name = "", Number = 0, Hidden = null, Group = null }, PartJson.Compact)
        );
        foreach (var input in inputs)
        {
            hash.AppendData([0]);
            hash.AppendData(Encoding.UTF8.GetBytes(input));
        }

        return Convert.ToHexString(hash.GetHashAndReset().AsSpan(0, 16));
    }
}
