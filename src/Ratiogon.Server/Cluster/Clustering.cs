using System.Net;
using Microsoft.AspNetCore.Connections;
using Orleans.Configuration;
using Orleans.Runtime;
using Orleans.Serialization.Configuration;
using Ratiogon.Server.Parts;
using Ratiogon.Server.Safety;

namespace Ratiogon.Server.Cluster;

/// <summary>How servers on one database find each other.</summary>
public sealed class ClusterOptions
{
    /// <summary>Where the other servers reach this one; 0 where there are no others.</summary>
    public int Port { get; set; }

    /// <summary>The address that they reach it by.</summary>
    public string Address { get; set; } = "127.0.0.1";
}

/// <summary>
/// Every part has one owner among the servers (Microsoft Orleans: a grain for each part). One server alone is a cluster of itself, and
/// listens nowhere; several find each other through the database that they share.
/// </summary>
internal static class Clustering
{
    private const string Name = "ratiogon";

    /// <summary>A number for who listens at none.</summary>
    private const int NoPort = 1;

    /// <summary>A server that hangs, or that nobody reaches, is given up after so many of these without an answer, or of the second where
    /// answers are slow already: long enough for one that is only busy. One that has ended <see cref="Neighbours"/> find out. Each says
    /// so often in the database that it is there.</summary>
    private static readonly TimeSpan Probe = TimeSpan.FromSeconds(1.5),
        SlowProbe = TimeSpan.FromSeconds(3),
        Alive = TimeSpan.FromSeconds(2);

    private const int MostMissed = 4;

    /// <summary>What is asked of another server may take as long as the longest question; where that server ends, the asking
    /// does.</summary>
    private static readonly TimeSpan LongestQuestion = TimeSpan.FromMinutes(30);

    public static void AddCluster(this IHostApplicationBuilder builder)
    {
        var options = builder.Configuration.GetSection("Cluster").Get<ClusterOptions>() ?? new ClusterOptions();
        builder.UseOrleans(silo =>
        {
            silo.Configure<ClusterOptions>(builder.Configuration.GetSection("Cluster"))
                .Configure<SiloMessagingOptions>(o => (o.ResponseTimeout, o.SystemResponseTimeout) = (LongestQuestion, Probe * 7))
                .Configure<GrainCollectionOptions>(o => o.CollectionAge = TimeSpan.FromMinutes(2))
                .Configure<TypeManifestOptions>(Allow)
                .AddIncomingGrainCallFilter<AwayCalls>();
            if (options.Port == 0)
            {
                Alone(silo);
            }
            else
            {
                Together(silo, options, builder.Configuration["Database"]!);
            }
        });
        builder.Services.AddHostedService<Neighbours>();

        // It takes the machine's age for the time since it looked last, the first time.
        builder.Logging.AddFilter("Orleans.Runtime.Watchdog", LogLevel.Error);
    }

    /// <summary>What may come from another server: what owners are asked and answer, and nothing else.</summary>
    private static void Allow(TypeManifestOptions options)
    {
        foreach (
            var carried in typeof(IPartGrain)
                .GetMethods()
                .SelectMany(m => m.GetParameters().Select(p => p.ParameterType).Concat(m.ReturnType.GenericTypeArguments))
                .SelectMany(t => t.GenericTypeArguments)
                .Append(typeof(Core.Refusal))
        )
        {
            options.AddAllowedType(carried);
            foreach (var of in carried.GenericTypeArguments)
            {
                options.AddAllowedType(of);
            }
        }
    }

    private static void Alone(ISiloBuilder silo)
    {
        silo.UseLocalhostClustering(NoPort, gatewayPort: 0, serviceId: Name, clusterId: Name);
        foreach (
            var listening in silo.Services.Where(s => s.IsKeyedService && s.ServiceType == typeof(IConnectionListenerFactory)).ToList()
        )
        {
            silo.Services.Remove(listening);
            silo.Services.AddKeyedSingleton<IConnectionListenerFactory>(listening.ServiceKey, (_, _) => new NoListener());
        }
    }

    private static void Together(ISiloBuilder silo, ClusterOptions options, string database) =>
        silo.UseAdoNetClustering(o => (o.Invariant, o.ConnectionString) = ("Npgsql", database))
            .Configure<Orleans.Configuration.ClusterOptions>(o => (o.ServiceId, o.ClusterId) = (Name, Name))
            .ConfigureEndpoints(IPAddress.Parse(options.Address), options.Port, gatewayPort: 0)
            .Configure<ClusterMembershipOptions>(o =>
            {
                (o.ProbeTimeout, o.MaxProbeTimeout, o.NumMissedProbesLimit, o.NumVotesForDeathDeclaration) = (
                    Probe,
                    SlowProbe,
                    MostMissed,
                    1
                );
                (o.TableRefreshTimeout, o.IAmAliveTablePublishTimeout) = (Alive, Alive);
                (o.DefunctSiloExpiration, o.DefunctSiloCleanupPeriod) = (TimeSpan.FromHours(1), TimeSpan.FromMinutes(10));
            });

    /// <summary>Takes part in the cluster without a port: nobody is to come.</summary>
    private sealed class NoListener : IConnectionListenerFactory
    {
        public ValueTask<IConnectionListener> BindAsync(EndPoint endpoint, CancellationToken cancellationToken = default) =>
            new(new Nobody(endpoint));

        private sealed class Nobody(EndPoint at) : IConnectionListener
        {
            private readonly TaskCompletionSource<ConnectionContext?> never = new();

            public EndPoint EndPoint => at;

            public ValueTask<ConnectionContext?> AcceptAsync(CancellationToken cancellationToken = default) => new(never.Task);

            public ValueTask UnbindAsync(CancellationToken cancellationToken = default) => DisposeAsync();

            public ValueTask DisposeAsync()
            {
                never.TrySetResult(null);
                return default;
            }
        }
    }
}

/// <summary>What the database refuses at an owner reaches who asked as that, from whichever server.</summary>
internal sealed class AwayCalls : IIncomingGrainCallFilter
{
    public async Task Invoke(IIncomingGrainCallContext context)
    {
        try
        {
            await context.Invoke();
        }
        catch (Exception e) when (Away.Is(e) && e is not AwayException)
        {
            throw new AwayException(Away.Of(e).Code);
        }
    }
}
