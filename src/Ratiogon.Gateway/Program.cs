using Microsoft.Extensions.Configuration.Memory;
using Ratiogon.Gateway;
using Yarp.ReverseProxy.Configuration;
using Yarp.ReverseProxy.Health;
using Yarp.ReverseProxy.Transforms;

// One address before several servers on the same database. A browser stays with one server, so that a part that it works on is live
// there; where that server ends, it goes on with another, and its session with it: cookies and parts lie in the database.
// Servers: Servers__0=http://127.0.0.1:5181 and so on.
var builder = WebApplication.CreateBuilder(args);

// Nothing is written of requests that go well; that a server does not answer is what it is here for.
((IConfigurationBuilder)builder.Configuration).Sources.Insert(
    0,
    new MemoryConfigurationSource { InitialData = [new("Logging:LogLevel:Default", nameof(LogLevel.Error))] }
);
builder.WebHost.ConfigureKestrel(k => k.AddServerHeader = false);
var servers = builder.Configuration.GetSection("Servers").Get<string[]>() ?? [];
if (servers.Length == 0)
{
    Console.Error.WriteLine("No servers are given: Servers__0=http://127.0.0.1:5181 names the first.");
    return 1;
}

builder.Services.AddSingleton(TimeProvider.System).AddSingleton<Unheard>().AddHostedService(p => p.GetRequiredService<Unheard>());
builder
    .Services.AddReverseProxy()
    .LoadFromMemory(
        [
            new RouteConfig
            {
                RouteId = "all",
                ClusterId = "servers",
                Match = new RouteMatch { Path = "{**rest}" },
            },
        ],
        [
            new ClusterConfig
            {
                ClusterId = "servers",
                LoadBalancingPolicy = "LeastRequests",
                SessionAffinity = new SessionAffinityConfig
                {
                    Enabled = true,
                    Policy = "HashCookie",
                    FailurePolicy = "Redistribute",
                    AffinityKeyName = "ratiogon-server",
                    Cookie = new SessionAffinityCookieConfig { HttpOnly = true, SameSite = SameSiteMode.Lax },
                },
                HealthCheck = new HealthCheckConfig
                {
                    Active = new ActiveHealthCheckConfig
                    {
                        Enabled = true,
                        Interval = TimeSpan.FromSeconds(1),
                        Timeout = TimeSpan.FromSeconds(2),
                        Policy = HealthCheckConstants.ActivePolicy.ConsecutiveFailures,
                        Path = "/health/live",
                    },
                    Passive = new PassiveHealthCheckConfig
                    {
                        Enabled = true,
                        Policy = HealthCheckConstants.PassivePolicy.TransportFailureRate,
                        ReactivationPeriod = TimeSpan.FromSeconds(2),
                    },
                },
                Metadata = new Dictionary<string, string> { [ConsecutiveFailuresHealthPolicyOptions.ThresholdMetadataName] = "1" },
                Destinations = servers
                    .Select((address, i) => (Name: $"server{i + 1}", Address: address))
                    .ToDictionary(s => s.Name, s => new DestinationConfig { Address = s.Address }),
            },
        ]
    )
    // The servers hold the origin of a request against the host that the browser knows, and what it came by against what a proxy
    // before this one says of it.
    .AddTransforms(c => c.AddOriginalHost().AddXForwarded(ForwardedTransformActions.Append));
var app = builder.Build();

// While it finds out that a server has ended, it answers as a server does that cannot just now: pages ask again by themselves.
app.Use(
    (context, next) =>
    {
        context.Response.OnStarting(() =>
        {
            var response = context.Response;
            if (
                response.StatusCode
                is StatusCodes.Status502BadGateway
                    or StatusCodes.Status503ServiceUnavailable
                    or StatusCodes.Status504GatewayTimeout
            )
            {
                response.StatusCode = StatusCodes.Status503ServiceUnavailable;
                response.Headers.RetryAfter = response.Headers.RetryAfter.Count == 0 ? "1" : response.Headers.RetryAfter;
            }

            return Task.CompletedTask;
        });
        return next(context);
    }
);
var unheard = app.Services.GetRequiredService<Unheard>();
app.MapReverseProxy(proxy =>
{
    proxy.UseSessionAffinity();
    proxy.UseLoadBalancing();
    proxy.UsePassiveHealthChecks();
    proxy.Use(
        async (context, next) =>
        {
            if (context.GetReverseProxyFeature().AvailableDestinations is not [var server])
            {
                await next(context);
                return;
            }

            var aborted = context.RequestAborted;
            using var waiting = CancellationTokenSource.CreateLinkedTokenSource(aborted, unheard.Of(server.DestinationId));
            context.RequestAborted = waiting.Token;
            try
            {
                await next(context);
            }
            finally
            {
                context.RequestAborted = aborted;
            }
        }
    );
});
app.Run();
return 0;
