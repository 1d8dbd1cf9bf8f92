using System.Net;
using System.Net.Sockets;
using Orleans.Runtime;
using Ratiogon.Server.Parts;
using Ratiogon.Server.Safety;

namespace Ratiogon.Server.Cluster;

/// <summary>
/// Finds out at once that another server has ended: where it should listen, connections are refused. That is certain, unlike an answer
/// that does not come; it needs no patience with those that are only busy. What one owned that has ended, however that was found out, is
/// followed anew.
/// </summary>
internal sealed partial class Neighbours(
    ISiloStatusOracle servers,
    IClusterMembershipService members,
    IPartSessions sessions,
    TimeProvider time,
    ILogger<Neighbours> log
) : Tended(TimeSpan.FromSeconds(0.5), time, log), ISiloStatusListener
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(1);

    /// <summary>Those that refused the last time: a port may be between two listeners.</summary>
    private HashSet<SiloAddress> refused = [];

    protected override string Failing => "Whether other servers have ended is not known just now";

    public override Task StartAsync(CancellationToken cancellationToken)
    {
        servers.SubscribeToSiloStatusEvents(this);
        return base.StartAsync(cancellationToken);
    }

    public override Task StopAsync(CancellationToken cancellationToken)
    {
        servers.UnSubscribeFromSiloStatusEvents(this);
        return base.StopAsync(cancellationToken);
    }

    public void SiloStatusChangeNotification(SiloAddress updatedSilo, SiloStatus status)
    {
        if (status == SiloStatus.Dead)
        {
            _ = Task.Run(sessions.FollowAgainAsync);
        }
    }

    protected override async Task TendAsync(CancellationToken cancel)
    {
        var others = members
            .CurrentSnapshot.Members.Values.Where(m => m.Status == SiloStatus.Active && !m.SiloAddress.Equals(servers.SiloAddress))
            .Select(m => m.SiloAddress)
            .ToList();
        var refuses = await Task.WhenAll(others.Select(o => RefusesAsync(o.Endpoint, cancel)));
        var now = others.Zip(refuses).Where(o => o.Second).Select(o => o.First).ToHashSet();
        foreach (var ended in now.Where(refused.Contains))
        {
            if (await members.TryKill(ended))
            {
                LogEnded(log, ended.Endpoint);
            }
        }

        refused = now;
    }

    private static async Task<bool> RefusesAsync(EndPoint at, CancellationToken cancel)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(Patience);
        using var socket = new Socket(SocketType.Stream, ProtocolType.Tcp);
        try
        {
            await socket.ConnectAsync(at, limit.Token);
            return false;
        }
        catch (SocketException e)
        {
            return e.SocketErrorCode == SocketError.ConnectionRefused;
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return false;
        }
    }

    [LoggerMessage(LogLevel.Warning, "The server at {Address} has ended; its parts are taken over")]
    private static partial void LogEnded(ILogger log, EndPoint address);
}
