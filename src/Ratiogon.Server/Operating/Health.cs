using Microsoft.AspNetCore.Diagnostics.HealthChecks;
using Microsoft.Extensions.Diagnostics.HealthChecks;
using Orleans.Runtime;
using Ratiogon.Server.Workers;
using Ratiogon.Store;

namespace Ratiogon.Server.Operating;

/// <summary>Whether the database answers.</summary>
internal sealed class DatabaseHealth(RatiogonDb db) : IHealthCheck
{
    public async Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default) =>
        await db.Database.CanConnectAsync(cancellationToken)
            ? HealthCheckResult.Healthy("it answers")
            : HealthCheckResult.Unhealthy("it does not answer");
}

/// <summary>Whether work gets a worker: a queue that grows is told before it is an outage.</summary>
internal sealed class WorkerHealth(WorkerPool pool) : IHealthCheck
{
    /// <summary>So much that waits is more than the service should have.</summary>
    private const int Many = 100;

    public Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
    {
        var says = $"{pool.ProcessIds.Count} workers, {pool.Waiting} waiting";
        return Task.FromResult(pool.Waiting > Many ? HealthCheckResult.Degraded(says) : HealthCheckResult.Healthy(says));
    }
}

/// <summary>Whether there is room for what is written meanwhile, such as archives.</summary>
internal sealed class DiskHealth : IHealthCheck
{
    private const long Little = 200L << 20,
        Enough = 1L << 30;

    public Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
    {
        var free = new DriveInfo(Path.GetTempPath()).AvailableFreeSpace;
        var says = $"{free >> 20} MB free";
        return Task.FromResult(
            free < Little ? HealthCheckResult.Unhealthy(says)
            : free < Enough ? HealthCheckResult.Degraded(says)
            : HealthCheckResult.Healthy(says)
        );
    }
}

/// <summary>Whether this server takes part in the cluster, and how many do.</summary>
internal sealed class ServersHealth(ISiloStatusOracle servers) : IHealthCheck
{
    public Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
    {
        var says = $"{servers.GetApproximateSiloStatuses(onlyActive: true).Count} of them";
        return Task.FromResult(
            servers.CurrentStatus == SiloStatus.Active
                ? HealthCheckResult.Healthy(says)
                : HealthCheckResult.Unhealthy("this one has no part")
        );
    }
}

/// <summary>The routes that a supervisor asks: <c>/health/live</c> (the process answers) and <c>/health/ready</c> (it can do its
/// work).</summary>
internal static class Health
{
    public static void AddHealth(this IServiceCollection services) =>
        services
            .AddHealthChecks()
            .AddCheck<DatabaseHealth>("database", timeout: TimeSpan.FromSeconds(5))
            .AddCheck<ServersHealth>("servers")
            .AddCheck<WorkerHealth>("workers")
            .AddCheck<DiskHealth>("disk");

    public static void MapHealth(this IEndpointRouteBuilder routes)
    {
        routes.MapHealthChecks("/health/live", new HealthCheckOptions { Predicate = _ => false, ResponseWriter = WriteAsync });
        routes.MapHealthChecks("/health/ready", new HealthCheckOptions { ResponseWriter = WriteAsync });

        // Never the page: a supervisor would take that for an answer.
        routes.Map("/health/{**rest}", () => Results.NotFound()).ExcludeFromDescription();
    }

    private static Task WriteAsync(HttpContext context, HealthReport report)
    {
        context.Response.Headers.CacheControl = "no-store";
        return context.Response.WriteAsJsonAsync(
            new
            {
                status = report.Status.ToString().ToLowerInvariant(),
                checks = report.Entries.ToDictionary(
                    e => e.Key,
                    e => new
                    {
                        status = e.Value.Status.ToString().ToLowerInvariant(),
                        says = e.Value.Description ?? e.Value.Exception?.GetType().Name,
                    }
                ),
            }
        );
    }
}
