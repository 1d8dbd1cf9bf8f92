using System.Globalization;
using Npgsql;

namespace Ratiogon.Server.Parts;

/// <summary>
/// Hears from the database of parts that other servers change or delete (PostgreSQL's LISTEN and NOTIFY, told with the transaction by a
/// trigger on the table of parts), so that nobody who looks at one here goes on looking at what was. Where the connection was away,
/// every live part is looked at again.
/// </summary>
internal sealed partial class PartNews(IConfiguration configuration, IPartSessions sessions, ILogger<PartNews> log) : BackgroundService
{
    private const string Channel = "ratiogon_parts";
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await ListenAsync(stoppingToken);
            }
            catch (Exception e) when (e is NpgsqlException or IOException or TimeoutException)
            {
                LogAway(log, OwnedPart.OneLine(e.Message));
                await Task.Delay(Again, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
            catch (OperationCanceledException)
            {
                return;
            }
        }
    }

    private async Task ListenAsync(CancellationToken cancel)
    {
        var own = new NpgsqlConnectionStringBuilder(configuration["Database"]) { Pooling = false, KeepAlive = 10 };
        await using var connection = new NpgsqlConnection(own.ToString());
        connection.Notification += (_, told) => Hear(told.Payload);
        await connection.OpenAsync(cancel);
        await using (var listen = connection.CreateCommand())
        {
            listen.CommandText = $"listen {Channel}";
            await listen.ExecuteNonQueryAsync(cancel);
        }

        // What was told while nobody listened is made up for.
        await sessions.LookAgainAsync();
        while (true)
        {
            await connection.WaitAsync(cancel);
        }
    }

    /// <summary>Part, owner and revision, 0 for one that is gone.</summary>
    private void Hear(string payload)
    {
        if (
            payload.Split(' ') is [var part, var owner, var revision]
            && Guid.TryParse(part, out var id)
            && Guid.TryParse(owner, out var whose)
            && long.TryParse(revision, CultureInfo.InvariantCulture, out var number)
        )
        {
            _ = sessions.HearAsync(id, whose, number).ContinueWith(t => t.Exception, TaskScheduler.Default);
        }
    }

    [LoggerMessage(LogLevel.Warning, "The database is away; other servers are heard again when it answers: {Why}")]
    private static partial void LogAway(ILogger log, string why);
}
