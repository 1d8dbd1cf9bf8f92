using Ratiogon.Server.Workers;

namespace Ratiogon.Server.Tests;

/// <summary>Who is next: no account holds up another, nothing waits for ever, one thing of a part at a time.</summary>
public class TurnsTests
{
    private static readonly Guid Heavy = Guid.NewGuid(),
        Light = Guid.NewGuid();

    private sealed class Clock : TimeProvider
    {
        public long Now { get; set; }

        public override long GetTimestamp() => Now;

        public override long TimestampFrequency => 1000;
    }

    /// <summary>The place, once its turn comes; turns are told on other threads.</summary>
    private static Task<int> Came(Task<int> turn) => turn.WaitAsync(TimeSpan.FromSeconds(10));

    private static Task<int> Enter(Turns turns, Guid owner, Guid? key = null, bool waited = true, CancellationToken cancel = default) =>
        turns.EnterAsync(new Work(owner, key ?? Guid.NewGuid(), waited), cancel);

    [Fact]
    public async Task Nine_parts_of_one_account_leave_a_place_for_another()
    {
        var clock = new Clock();
        var turns = new Turns(3, clock);
        var nine = Enumerable.Range(0, 9).Select(_ => Enter(turns, Heavy)).ToList();
        var first = await Came(nine[0]);
        await Came(nine[1]);
        await Came(Enter(turns, Light));
        nine.Count(t => t.IsCompleted).ShouldBe(2);
        var second = Enter(turns, Light);
        clock.Now += 1000;
        turns.Leave(first);
        await Came(second);
        nine.Count(t => t.IsCompleted).ShouldBe(2, "the place goes to the account that has less");
        turns.Waiters.ShouldBe(7);
    }

    [Fact]
    public async Task Of_accounts_that_wait_the_one_that_had_least_is_next()
    {
        var clock = new Clock();
        var turns = new Turns(1, clock);
        var third = Guid.NewGuid();
        var first = await Enter(turns, Heavy);
        clock.Now += 30_000;
        turns.Leave(first);
        var running = await Enter(turns, third);
        var (again, other) = (Enter(turns, Heavy), Enter(turns, Light));
        clock.Now += 1000;
        turns.Leave(running);
        var place = await Came(other);
        again.IsCompleted.ShouldBeFalse();
        turns.Leave(place);
        turns.Leave(await Came(again));

        // What it had fades.
        clock.Now += 3_600_000;
        running = await Enter(turns, Light);
        clock.Now += 100;
        (again, other) = (Enter(turns, Heavy), Enter(turns, third));
        turns.Leave(running);
        await Came(again);
        other.IsCompleted.ShouldBeFalse("an hour ago counts for nothing, and the other came first");
    }

    [Fact]
    public async Task What_somebody_waits_for_goes_first_and_of_a_part_one_thing_at_a_time()
    {
        var turns = new Turns(2, new Clock());
        var (part, owner) = (Guid.NewGuid(), Guid.NewGuid());
        var unseen = await Enter(turns, owner, waited: false);
        var hidden = Enter(turns, Heavy, waited: false);
        var place = await Came(Enter(turns, Light, part));
        hidden.IsCompleted.ShouldBeFalse("what nobody sees never has all places");
        var same = Enter(turns, Light, part);
        var (later, sooner) = (Enter(turns, owner, waited: false), Enter(turns, Heavy));
        turns.Leave(unseen);
        await Came(sooner);
        (later.IsCompleted, same.IsCompleted).ShouldBe((false, false));
        turns.Leave(place);
        (await Came(same)).ShouldBe(place, "where its part was last");
    }

    [Fact]
    public async Task Whoever_gives_up_is_passed_over()
    {
        var turns = new Turns(1, new Clock());
        var running = await Enter(turns, Heavy);
        using var cancel = new CancellationTokenSource();
        var gone = Enter(turns, Light, cancel: cancel.Token);
        var next = Enter(turns, Light);
        await cancel.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(gone);
        turns.Leave(running);
        await Came(next);
        turns.Waiters.ShouldBe(0);
    }

    /// <summary>Whatever comes and goes, every turn comes, no place is given twice and no account has all of them.</summary>
    [Fact]
    public async Task Random_work_is_all_done_and_never_unfairly()
    {
        var random = new Random(7);
        var (clock, places) = (new Clock(), 4);
        var turns = new Turns(places, clock);
        var owners = Enumerable.Range(0, 5).Select(_ => Guid.NewGuid()).ToArray();
        var keys = Enumerable.Range(0, 12).Select(_ => Guid.NewGuid()).ToArray();
        var (open, running, done) = (new List<(Work Work, Task<int> Turn)>(), new List<(Work Work, int Place)>(), 0);
        for (var n = 0; n < 3000 || open.Count + running.Count > 0; n++)
        {
            clock.Now += random.Next(50);
            if (n < 3000 && random.Next(3) > 0)
            {
                var work = new Work(owners[random.Next(5)], keys[random.Next(12)], random.Next(3) > 0);
                open.Add((work, turns.EnterAsync(work, CancellationToken.None)));
            }
            else if (running.Count > 0)
            {
                var (_, place) = running[random.Next(running.Count)];
                running.RemoveAll(r => r.Place == place);
                turns.Leave(place);
                done++;
            }

            foreach (var (work, turn) in open.Where(o => o.Turn.IsCompleted).ToList())
            {
                open.Remove((work, turn));
                running.Add((work, await turn));
            }

            running.Select(r => r.Place).Distinct().Count().ShouldBe(running.Count);
            running.Select(r => r.Work.Key).Distinct().Count().ShouldBe(running.Count);
            running.GroupBy(r => r.Work.Owner).ShouldAllBe(g => g.Count() < places);
        }

        done.ShouldBeGreaterThan(1000);
    }
}
