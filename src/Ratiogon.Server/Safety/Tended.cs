namespace Ratiogon.Server.Safety;

/// <summary>
/// Work beside what is asked, begun again after a while whether it ended or failed. What fails is said, and ends nothing else: a plain
/// background service that fails ends the server.
/// </summary>
/// <param name="again">After how long.</param>
/// <param name="time">Of the waiting.</param>
/// <param name="log">Where failures are said.</param>
public abstract partial class Tended(TimeSpan again, TimeProvider time, ILogger log) : BackgroundService
{
    protected sealed override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await TendAsync(stoppingToken);
            }
            catch (Exception e)
            {
                if (!stoppingToken.IsCancellationRequested)
                {
                    // Of a database that is away nobody needs to see from where it was asked.
                    LogFailed(log, Failing, again, e.GetBaseException().Message, Away.Is(e) ? null : e);
                }
            }

            await Task.Delay(again, time, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    protected TimeProvider Time => time;

    /// <summary>What is the matter when it fails.</summary>
    protected abstract string Failing { get; }

    /// <summary>Does it, once or for as long as it can.</summary>
    protected abstract Task TendAsync(CancellationToken cancel);

    [LoggerMessage(LogLevel.Warning, "{Failing}; begun again in {Again}: {Why}")]
    private static partial void LogFailed(ILogger log, string failing, TimeSpan again, string why, Exception? e);
}
