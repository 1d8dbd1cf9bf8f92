using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Npgsql;
using Ratiogon.Server.Safety;

namespace Ratiogon.Server.Tests;

/// <summary>Work beside what is asked: whatever it fails by, the server stays and the work is begun again.</summary>
public sealed class TendedTests
{
    public static TheoryData<string> Failures => ["wrapped", "plain", "away", "timeout", "cancelled"];

    [Theory, MemberData(nameof(Failures))]
    public async Task What_fails_is_begun_again_and_ends_nothing(string kind)
    {
        var cancel = TestContext.Current.CancellationToken;
        var work = new Fails(() =>
            kind switch
            {
                // As Entity Framework tells of a connection that the database ends.
                "wrapped" => new InvalidOperationException(
                    "likely transient",
                    new PostgresException("terminating", "FATAL", "FATAL", "57P01")
                ),
                "away" => new NpgsqlException("gone"),
                "timeout" => new TimeoutException(),
                "cancelled" => new OperationCanceledException(),
                _ => new ArgumentException("anything"),
            }
        );
        var builder = Host.CreateApplicationBuilder();
        builder.Logging.ClearProviders();
        builder.Services.AddHostedService(_ => work);
        using var host = builder.Build();
        await host.StartAsync(cancel);
        await work.Thrice.Task.WaitAsync(TimeSpan.FromSeconds(20), cancel);
        host.Services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping.IsCancellationRequested.ShouldBeFalse();
        await host.StopAsync(cancel);
        work.ExecuteTask!.Status.ShouldBe(TaskStatus.RanToCompletion, $"{work.ExecuteTask.Exception}");
    }

    private sealed class Fails(Func<Exception> how) : Tended(TimeSpan.FromMilliseconds(5), TimeProvider.System, NullLogger.Instance)
    {
        private int times;

        public TaskCompletionSource Thrice { get; } = new();

        protected override string Failing => "It fails";

        protected override Task TendAsync(CancellationToken cancel)
        {
            if (Interlocked.Increment(ref times) == 3)
            {
                Thrice.TrySetResult();
            }

            throw how();
        }
    }
}
