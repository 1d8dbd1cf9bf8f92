using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;
using Ratiogon.Server.Workers;

namespace Ratiogon.Server.Tests;

/// <summary>The pool by itself: what becomes of work right after a worker was given up.</summary>
[Collection("workers of this process")]
public class WorkerPoolTests
{
    private static WorkerPool Pool(TimeSpan limit, int memory = 8000, TimeSpan hour = default) =>
        new(
            Options.Create(
                new WorkerOptions
                {
                    Count = 1,
                    Limit = limit,
                    Memory = memory,
                    AccountHour = hour,
                }
            ),
            NullLogger<WorkerPool>.Instance
        );

    [Fact]
    public async Task Work_that_comes_in_the_moment_a_hung_worker_is_ended_goes_to_a_new_one()
    {
        await using var pool = Pool(TimeSpan.FromSeconds(30));
        var seen = new HashSet<int> { await pool.RunAsync(Guid.Empty, w => w.HelloAsync()) };
        for (var i = 0; i < 3; i++)
        {
            var key = Guid.NewGuid();
            var hung = pool.RunAsync(key, async w =>
            {
                await w.MisbehaveAsync(end: false, megabytes: 600);
                return 0;
            });
            await HoldsAsync(pool.ProcessIds.Single(), 600);
            pool.Stop(key).ShouldBeTrue();

            // Waits for its turn, and has it as soon as the other is given up.
            var next = pool.RunAsync(Guid.Empty, w => w.HelloAsync());
            (await Should.ThrowAsync<WorkerFailedException>(hung)).Why.ShouldBe(WorkerFailure.Stopped);
            seen.Add(await next).ShouldBeTrue("the ended worker is asked for nothing more");
        }
    }

    [Fact]
    public async Task One_that_stood_ready_takes_the_place_of_one_that_dies()
    {
        await using var pool = Pool(TimeSpan.FromSeconds(60));
        await pool.WarmUpAsync();
        var first = await pool.RunAsync(Guid.Empty, w => w.HelloAsync());
        var death = DateTime.Now;
        Client.Kill(first);
        var next = await pool.RunAsync(Guid.Empty, w => w.HelloAsync());
        next.ShouldNotBe(first);
        System.Diagnostics.Process.GetProcessById(next).StartTime.ShouldBeLessThan(death);
    }

    [Fact]
    public async Task One_that_dies_while_it_starts_is_replaced_at_once()
    {
        await using var pool = Pool(TimeSpan.FromSeconds(60));
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var answer = pool.RunAsync(Guid.Empty, w => w.HelloAsync());
        var first = 0;
        while (first == 0)
        {
            // The newest process of this one that is a worker, before it is there.
            first = Directory
                .GetDirectories("/proc")
                .Select(d => int.TryParse(Path.GetFileName(d), out var pid) ? pid : 0)
                .Where(StartedHere)
                .DefaultIfEmpty()
                .Max();
            await Task.Yield();
        }

        Client.Kill(first);
        (await answer).ShouldNotBe(first);
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(20));
    }

    private static bool StartedHere(int pid)
    {
        try
        {
            return pid > 0
                && File.ReadAllText($"/proc/{pid}/stat").Split(' ')[3]
                    == Environment.ProcessId.ToString(System.Globalization.CultureInfo.InvariantCulture)
                && File.ReadAllText($"/proc/{pid}/cmdline").Contains("Ratiogon.Worker", StringComparison.Ordinal)
                && !pid.Equals(Environment.ProcessId);
        }
        catch (IOException)
        {
            return false;
        }
    }

    private static async Task HoldsAsync(int pid, int megabytes)
    {
        for (var tries = 0; System.Diagnostics.Process.GetProcessById(pid).WorkingSet64 < (long)megabytes << 20; tries++)
        {
            tries.ShouldBeLessThan(1000);
            await Task.Delay(10);
        }
    }

    [Fact]
    public async Task Work_that_kills_every_worker_it_gets_is_given_up_and_the_next_is_done()
    {
        await using var pool = Pool(TimeSpan.FromSeconds(20));
        var tries = 0;
        var failure = await Should.ThrowAsync<WorkerFailedException>(pool.RunAsync(Guid.Empty, async w =>
            {
                tries++;
                await w.MisbehaveAsync(end: true, megabytes: 0);
                return 0;
            }));
        (failure.Why, tries).ShouldBe((WorkerFailure.Died, 2));
        (await pool.RunAsync(Guid.Empty, w => w.HelloAsync())).ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task Work_that_takes_too_much_memory_is_ended_and_the_next_is_done()
    {
        await using var pool = Pool(TimeSpan.FromSeconds(60), memory: 400);
        var first = await pool.RunAsync(Guid.Empty, w => w.HelloAsync());
        var failure = await Should.ThrowAsync<WorkerFailedException>(pool.RunAsync(Guid.Empty, async w =>
            {
                await w.MisbehaveAsync(end: false, megabytes: 700);
                return 0;
            }));
        failure.Why.ShouldBe(WorkerFailure.TookTooMuch);
        failure.Words.ShouldContain("memory");
        (await pool.RunAsync(Guid.Empty, w => w.HelloAsync())).ShouldNotBe(first);
    }

    [Fact]
    public async Task An_account_that_has_had_its_hour_waits_and_another_does_not()
    {
        await using var pool = Pool(TimeSpan.FromSeconds(60), hour: TimeSpan.FromMilliseconds(1));
        var (one, other) = (Guid.NewGuid(), Guid.NewGuid());
        await pool.RunAsync(new Work(one, Guid.NewGuid()), w => w.HelloAsync());
        var failure = await Should.ThrowAsync<WorkerFailedException>(pool.RunAsync(new Work(one, Guid.NewGuid()), w => w.HelloAsync()));
        failure.Why.ShouldBe(WorkerFailure.NoTimeLeft);
        failure.Wait.ShouldBeInRange(TimeSpan.FromMinutes(55), TimeSpan.FromMinutes(65));
        failure.Words.ShouldContain(" min");
        (await pool.RunAsync(new Work(other, Guid.NewGuid()), w => w.HelloAsync())).ShouldBeGreaterThan(0);
    }
}
