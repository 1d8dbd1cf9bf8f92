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

    /// <summary>Classes of SQLSTATE (PostgreSQL, appendix A): connection, transaction rolled back, no room, not in the state for it,
    /// ended by an
    /// operator, a system's error; and a database that may only be read.</summary>
    private static readonly string[] Classes = ["08", "40", "53", "55", "57", "58", "25006"];

    /// <summary>Whether an exception says so.</summary>
    public static bool Is(Exception? e) =>
        e switch
        {
            PostgresException refused => Classes.Any(c => refused.SqlState.StartsWith(c, StringComparison.Ordinal)),
            NpgsqlException or TimeoutException => true,
            DbUpdateException or InvalidOperationException => Is(e.InnerException),
            _ => false,
        };
}
