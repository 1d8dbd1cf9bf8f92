using System.Text.Json;
using System.Text.RegularExpressions;

namespace Ratiogon.Server;

/// <summary>JSON that does not fit: where, and what is wrong, in terms of JSON. What does not say of which kind it is makes the reader
/// throw
/// an exception of another kind than everything else.</summary>
internal static partial class BadJson
{
    /// <summary>Place and reason; null for an exception of another cause.</summary>
    public static (string Path, string Why)? Of(Exception? e) =>
        e switch
        {
            JsonException json => (json.Path ?? "$", json.Message.Split(" Path:")[0]),
            BadHttpRequestException { InnerException: JsonException json } => Of(json),
            NotSupportedException kind
                when Place().Match(kind.Message) is { Success: true } at
                    && kind.Message.Contains("type discriminator", StringComparison.Ordinal) => (
                at.Groups[1].Value,
                "It does not say of which kind it is."
            ),
            _ => null,
        };

    [GeneratedRegex(@"Path: (\S+) \|")]
    private static partial Regex Place();
}
