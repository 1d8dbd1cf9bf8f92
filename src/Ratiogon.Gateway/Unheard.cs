using System.Collections.Concurrent;
using Yarp.ReverseProxy;
using Yarp.ReverseProxy.Model;

namespace Ratiogon.Gateway;

/// <summary>
/// Servers of which nothing is heard, though their connections stand: what waits for one is answered as if it had ended, so that whoever
/// asked can ask again, elsewhere. What it still may have kept stands in the part, and an edit is made on a revision: it is not made twice.
/// </summary>
internal sealed class Unheard(IProxyStateLookup proxy, TimeProvider time) : BackgroundService
{
    private static readonly TimeSpan Look = TimeSpan.FromSeconds(0.5),
        Patience = TimeSpan.FromSeconds(2);
    private readonly ConcurrentDictionary<string, Standing> all = new();

    /// <summary>Of a server: ends when nothing has been heard of it for as long as is waited after it was first missed.</summary>
    public CancellationToken Of(string destination) => all.GetOrAdd(destination, _ => new Standing()).Heard.Token;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Look, time);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (var destination in proxy.GetClusters().SelectMany(c => c.Destinations.Values))
            {
                See(all.GetOrAdd(destination.DestinationId, _ => new Standing()), destination.Health.Active == DestinationHealth.Unhealthy);
            }
        }
    }

    private void See(Standing server, bool missed)
    {
        if (!missed)
        {
            server.Since = null;
            return;
        }

        server.Since ??= time.GetUtcNow();
        if (time.GetUtcNow() - server.Since <= Patience)
        {
            return;
        }

        // Who asks it from now on waits by another: it may be there again.
        var waiting = server.Heard;
        server.Heard = new CancellationTokenSource();

        // What fails in who waited is theirs.
        _ = waiting.CancelAsync().ContinueWith(t => t.Exception, TaskScheduler.Default);
    }

    private sealed class Standing
    {
        public CancellationTokenSource Heard { get; set; } = new();

        /// <summary>Since when it is missed.</summary>
        public DateTimeOffset? Since { get; set; }
    }
}
