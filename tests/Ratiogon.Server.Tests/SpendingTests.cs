using Ratiogon.Server.Workers;

namespace Ratiogon.Server.Tests;

/// <summary>What accounts had of the last hour.</summary>
public class SpendingTests
{
    private sealed class Clock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 11, 30, 8, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }

    /// <summary>Random spending against a list of all of it: never more than the bound of any hour, but for the work that goes over it,
    /// and who is told to wait may go on then and not much before.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void No_hour_has_more_than_the_bound(int seed)
    {
        var (random, clock, most, longest) = (new Random(seed), new Clock(), TimeSpan.FromMinutes(10), TimeSpan.FromMinutes(2));
        var spending = new Spending(most, clock);
        var (account, all, waits) = (Guid.NewGuid(), new List<(DateTimeOffset At, TimeSpan Took)>(), 0);
        for (var i = 0; i < 3000; i++)
        {
            clock.Now += TimeSpan.FromSeconds(random.NextDouble() * 30);
            var hour = all.Where(s => s.At > clock.Now - TimeSpan.FromHours(1)).Aggregate(TimeSpan.Zero, (sum, s) => sum + s.Took);
            hour.ShouldBeLessThan(most + longest);
            if (spending.Wait(account) is not { } wait)
            {
                var took = longest * random.NextDouble();
                spending.Add(account, took);
                all.Add((clock.Now, took));
                continue;
            }

            waits++;
            wait.ShouldBeInRange(TimeSpan.Zero, TimeSpan.FromMinutes(62.1));
            var until = clock.Now + wait;
            clock.Now = until - TimeSpan.FromMinutes(2.1);
            if (wait > TimeSpan.FromMinutes(2.1))
            {
                spending.Wait(account).ShouldNotBeNull("not much before");
            }

            clock.Now = until + TimeSpan.FromSeconds(1);
            spending.Wait(account).ShouldBeNull("as it was told");
        }

        waits.ShouldBeGreaterThan(10);
    }

    [Fact]
    public void No_bound_is_none()
    {
        var spending = new Spending(TimeSpan.Zero, new Clock());
        var account = Guid.NewGuid();
        spending.Add(account, TimeSpan.FromHours(9));
        spending.Wait(account).ShouldBeNull();
    }
}
