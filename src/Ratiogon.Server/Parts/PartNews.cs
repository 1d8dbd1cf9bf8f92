using System.Globalization;
using Npgsql;
using Ratiogon.Server.Safety;

namespace Ratiogon.Server.Parts;

/// <summary>
/// Hears from the database of parts that other servers change or delete (PostgreSQL's LISTEN and NOTIFY, told with the transaction by a
/// trigger on the table of parts), so that nobody who looks at one here goes on looking at what was. Where the connection was away,
/// every live part is looked at again.
/// </summary>
internal sealed class PartNews(IConfiguration configuration, IPartSessions sessions, TimeProvider time, ILogger<PartNews> log)
    : Tended(TimeSpan.FromSeconds(1), time, log)
{
    private const string Channel = "ratiogon_parts";

    protected override string Failing => "Other servers are not heard just now";

    protected override async Task TendAsync(CancellationToken cancel)
    {
        var own = new NpgsqlConnectionStringBuilder(configuration["Database"]) { Pooling = false, KeepAlive = 10 };
        await using var connection = new NpgsqlConnection(own.ToString());
        var missed = new TaskCompletionSource();
        connection.Notification += (_, told) =>
            _ = HearAsync(told.Payload)
                .ContinueWith(
                    t => missed.TrySetException(t.Exception!),
                    cancel,
                    TaskContinuationOptions.OnlyOnFaulted,
                    TaskScheduler.Default
                );
        await connection.OpenAsync(cancel);
        await using (var listen = connection.CreateCommand())
        {
            listen.CommandText = $"listen {Channel}";
            await listen.ExecuteNonQueryAsync(cancel);
        }

        // What was told while nobody listened is made up for.
        await sessions.LookAgainAsync();
        using var ending = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var waiting = Task.CompletedTask;
        while (!missed.Task.IsCompleted)
        {
            await waiting;
            waiting = connection.WaitAsync(ending.Token);
            await Task.WhenAny(waiting, missed.Task);
        }

        // Of what was told one could not be looked at: all is, by beginning again.
        await ending.CancelAsync();
        await waiting.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        await missed.Task;
    }

    /// <summary>Part, owner and revision, 0 for one that is gone.</summary>
    private async Task HearAsync(string payload)
    {
        if (
            payload.Split(' ') is [var part, var owner, var revision]
            && Guid.TryParse(part, out var id)
            && Guid.TryParse(owner, out var whose)
            && long.TryParse(revision, CultureInfo.InvariantCulture, out var number)
        )
        {
            await sessions.HearAsync(id, whose, number);
        }
    }
}
