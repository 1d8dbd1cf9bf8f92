using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.Configuration.Memory;
using Npgsql;
using OpenTelemetry.Exporter;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;
using Ratiogon.Store;

namespace Ratiogon.Server.Operating;

/// <summary>What whoever runs the service sees of it: structured logs on wish, and metrics and traces by OTLP where an endpoint is
/// named.</summary>
internal static class Telemetry
{
    public static void AddOperating(this WebApplicationBuilder builder)
    {
        // Before all other sources, so that each of them says otherwise: a journal keeps what somebody has to look at.
        ((IConfigurationBuilder)builder.Configuration).Sources.Insert(
            0,
            new MemoryConfigurationSource { InitialData = [new("Logging:LogLevel:Default", nameof(LogLevel.Warning))] }
        );
        if (builder.Configuration["Logs:Format"] == "json")
        {
            builder.Logging.ClearProviders().AddJsonConsole(o => o.IncludeScopes = true);
        }

        builder.Services.AddDataProtection().SetApplicationName("Ratiogon").PersistKeysToDbContext<RatiogonDb>();
        builder.Services.AddHealth();
        if (builder.Configuration["Telemetry:Endpoint"] is not { Length: > 0 } endpoint)
        {
            return;
        }

        // OTLP over HTTP has a path for each kind; over gRPC one address serves both.
        var http = builder.Configuration["Telemetry:Protocol"] == "http";
        void Send(OtlpExporterOptions options, string path)
        {
            options.Protocol = http ? OtlpExportProtocol.HttpProtobuf : OtlpExportProtocol.Grpc;
            options.Endpoint = new Uri(http ? $"{endpoint.TrimEnd('/')}/{path}" : endpoint);
        }

        var every = builder.Configuration.GetValue("Telemetry:Every", 30_000);
        builder
            .Services.AddOpenTelemetry()
            .ConfigureResource(r => r.AddService("ratiogon", serviceInstanceId: Environment.MachineName))
            .WithMetrics(m =>
                m.AddMeter(Figures.Name)
                    .AddMeter("Npgsql")
                    .AddAspNetCoreInstrumentation()
                    .AddOtlpExporter(
                        (o, reader) =>
                        {
                            Send(o, "v1/metrics");
                            reader.PeriodicExportingMetricReaderOptions.ExportIntervalMilliseconds = every;
                        }
                    )
            )
            .WithTracing(t =>
                t.AddSource(Figures.Name)
                    .AddNpgsql()
                    .AddAspNetCoreInstrumentation(o => o.Filter = c => !c.Request.Path.StartsWithSegments("/health"))
                    .AddOtlpExporter(o => Send(o, "v1/traces"))
            );
    }
}
