using Microsoft.EntityFrameworkCore;
using Npgsql;
using Ratiogon.Core;

namespace Ratiogon.Server.Safety;

/// <summary>The database that does not answer, refuses, or has no room: nobody's fault who asks, and over after a while.</summary>
internal static class Away
{
    /// <summary>Code of the refusal; answered with 503 and when to ask again.</summary>
    public const string Code = "store.away";

    /// <summary>Seconds after which to ask again.</summary>
    public const int Again = 3;

    public static readonly Refusal Refusal = new(
        Code,
        "The database does not answer just now, so this was not done. What was kept before is safe. Try again in a moment."
    );

    /// <summary>Code of the refusal while there is no room; answered likewise.</summary>
    public const string FullCode = "store.full";

    public static readonly Refusal Full = new(
        FullCode,
        "The service has no room left on its disk, so this was not kept. What was kept before is safe. Whoever runs the service has to "
            + "make room; try again after that."
    );

    /// <summary>Code of the refusal while nobody owns a part, for the server that did has ended; answered likewise.</summary>
    public const string OwnerCode = "part.away";

    public static readonly Refusal Owner = new(
        OwnerCode,
        "The server that had this part has ended and another has not taken it up yet, so this was not done. What was kept before is safe. "
            + "Try again in a moment."
    );

    /// <summary>What to answer for an exception that <see cref="Is"/> such a one.</summary>
    public static Refusal Of(Exception? e) =>
        e is AwayException { Code: var code }
            ? (
                code == OwnerCode ? Owner
                : code == FullCode ? Full
                : Refusal
            )
        : HasNoRoom(e) ? Full
        : Refusal;

    /// <summary>Whether a disk is full: the database's (SQLSTATE 53100) or this server's (ENOSPC, POSIX.1, 28 on Linux).</summary>
    private static bool HasNoRoom(Exception? e) =>
        e switch
        {
            PostgresException refused => refused.SqlState == "53100",
            IOException { HResult: 28 } => true,
            null => false,
            _ => HasNoRoom(e.InnerException),
        };

    /// <summary>Classes of SQLSTATE (PostgreSQL, appendix A): connection, transaction rolled back, no room, not in the state for it,
    /// ended by an operator, a system's error; and a database that may only be read.</summary>
    private static readonly string[] Classes = ["08", "40", "53", "55", "57", "58", "25006"];

    /// <summary>Whether an exception says so.</summary>
    public static bool Is(Exception? e) =>
        e switch
        {
            PostgresException refused => Classes.Any(c => refused.SqlState.StartsWith(c, StringComparison.Ordinal)),
            NpgsqlException or TimeoutException or AwayException => true,
            IOException => HasNoRoom(e),
            DbUpdateException or InvalidOperationException => Is(e.InnerException),
            _ => false,
        };
}

/// <summary>The same, told by another server.</summary>
/// <param name="code">Of the refusal.</param>
/// <param name="cause">What it was there.</param>
[GenerateSerializer]
public sealed class AwayException(string code, Exception? cause = null) : Exception(code, cause)
{
    [Id(0)]
    public string Code { get; } = code;
}
