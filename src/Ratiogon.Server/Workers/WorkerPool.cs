using System.Diagnostics;
using System.IO.Pipes;
using Microsoft.Extensions.Options;
using Ratiogon.Server.Operating;
using Ratiogon.Worker;
using StreamJsonRpc;

namespace Ratiogon.Server.Workers;

/// <summary>How the pool behaves.</summary>
public sealed class WorkerOptions
{
    /// <summary>Worker processes kept ready: one more than there are cores, at least three, since one account has all but one.</summary>
    public int Count { get; set; } = Math.Clamp(Environment.ProcessorCount + 1, 3, 9);

    /// <summary>How long one call may take before its worker is replaced.</summary>
    public TimeSpan Limit { get; set; } = TimeSpan.FromSeconds(60);

    /// <summary>Megabytes that a worker may take while it works for somebody: a share of what the machine has.</summary>
    public int Memory { get; set; } = (int)Math.Clamp((GC.GetGCMemoryInfo().TotalAvailableMemoryBytes >> 20) / 4, LeastMemory, MostMemory);

    /// <summary>How much of an hour all workers together may work for one account; zero for as much as it likes. Somebody at one part,
    /// with a long question beside it, never has more than two.</summary>
    public TimeSpan AccountHour { get; set; } = TimeSpan.FromHours(2);

    private const int LeastMemory = 1000,
        MostMemory = 6000;

    /// <summary>Whether workers are started, and build something, before anybody asks, and one more stands by.</summary>
    public bool Ahead { get; set; } = true;
}

/// <summary>What is heard of work while it is under way.</summary>
/// <param name="Starting">Told the id of each step as it is begun.</param>
/// <param name="Share">Told now and then how far a long read, write or mesh has come, from 0 to 1.</param>
public sealed record WorkerNews(Action<string> Starting, Action<double> Share);

/// <summary>Why a worker gave nothing.</summary>
public enum WorkerFailure
{
    Died,
    TookTooLong,

    /// <summary>It was stopped on request.</summary>
    Stopped,

    /// <summary>It took more memory than there is for one part.</summary>
    TookTooMuch,

    /// <summary>It was not begun: the account has had all that it may have in an hour.</summary>
    NoTimeLeft,
}

/// <summary>A worker died, took too long or was stopped.</summary>
/// <param name="step">Id of the step that it had begun last, or null.</param>
/// <param name="why">What happened.</param>
public sealed class WorkerFailedException(string? step, WorkerFailure why) : Exception($"the worker {why}")
{
    public string? Step { get; } = step;

    public WorkerFailure Why { get; } = why;

    /// <summary>Where there is no time left: when there is again.</summary>
    public TimeSpan Wait { get; init; }

    /// <summary>What became of it, in words that follow "it" or a step.</summary>
    public string Words =>
        Why switch
        {
            WorkerFailure.TookTooLong => "took too long and was stopped",
            WorkerFailure.TookTooMuch => "took more memory than there is for one part and was stopped",
            WorkerFailure.Stopped => "was stopped",
            WorkerFailure.NoTimeLeft =>
                $"was not begun, for this account has had all of the computing that it may have in an hour; there is more in "
                    + $"{Math.Max(1, Math.Ceiling(Wait.TotalMinutes)):0} min",
            _ => "made the geometry worker stop",
        };
}

/// <summary>
/// Processes that do the native geometry, shared out by <see cref="Turns"/>. Work on one part goes to one worker, where its results are
/// cached. A worker that dies is replaced and the work done once more; one that hangs is ended and replaced.
/// </summary>
public sealed class WorkerPool : IAsyncDisposable
{
    private readonly Lane[] lanes;

    /// <summary>Long questions have workers of their own: nobody's rebuild waits for them, and one account has one of them at
    /// most.</summary>
    private readonly Lane[] asides = [new(), new()];
    private readonly Turns turns;
    private readonly Turns asideTurns = new(2, TimeProvider.System);
    private readonly Lock gate = new();
    private readonly CancellationTokenSource closing = new();
    private Task<WorkerProcess>? spare;
    private readonly TimeSpan limit;
    private readonly long memory;
    private readonly ILogger<WorkerPool> log;

    public WorkerPool(IOptions<WorkerOptions> options, ILogger<WorkerPool> log)
    {
        ArgumentNullException.ThrowIfNull(options);
        (limit, memory, this.log) = (options.Value.Limit, (long)options.Value.Memory << 20, log);
        Spending = new Spending(options.Value.AccountHour, TimeProvider.System);
        lanes = [.. Enumerable.Range(0, Math.Max(1, options.Value.Count)).Select(_ => new Lane())];
        turns = new Turns(lanes.Length, TimeProvider.System);
    }

    /// <summary>What accounts had of the last hour.</summary>
    public Spending Spending { get; }

    /// <summary>Process ids of the workers that are running.</summary>
    public IReadOnlyList<int> ProcessIds =>
        [.. lanes.Concat(asides).Select(l => l.Worker).Where(w => w is { Alive: true }).Select(w => w!.ProcessId)];

    /// <summary>Starts every worker and lets it build a little of everything, so that the first part does not wait for what comes
    /// but once; then one more, which takes the place of the next that dies.</summary>
    public async Task WarmUpAsync()
    {
        await Task.WhenAll(lanes.Select(lane => WarmAsync(work => RunAsync(lane, work, null, closing.Token))));
        await Spare();
    }

    /// <summary>Part by part, so that work that somebody waits for goes in between.</summary>
    private static async Task WarmAsync(Func<Func<IWorker, Task<bool>>, Task<bool>> run)
    {
        for (var number = 0; await run(worker => worker.WarmAsync(number)); number++) { }
    }

    /// <summary>The worker that stands ready, started if there is none.</summary>
    private Task<WorkerProcess> Spare()
    {
        lock (gate)
        {
            return spare ??= MadeReadyAsync();
        }
    }

    private static async Task<WorkerProcess> MadeReadyAsync()
    {
        var worker = await WorkerProcess.StartAsync();
        await WarmAsync(work => work(worker.Proxy));
        return worker;
    }

    /// <summary>A worker for a lane that has none: the one that stands ready, whose place another takes.</summary>
    private async Task<WorkerProcess> NextAsync()
    {
        Task<WorkerProcess>? ready = null;
        lock (gate)
        {
            if (spare is { IsCompleted: true })
            {
                (ready, spare) = (spare, null);
            }
        }

        if (ready is null)
        {
            return await WorkerProcess.StartAsync();
        }

        _ = Spare();
        return ready is { IsCompletedSuccessfully: true, Result: { Alive: true } worker } ? worker : await WorkerProcess.StartAsync();
    }

    /// <summary>How much waits for a worker.</summary>
    public int Waiting => turns.Waiters + asideTurns.Waiters;

    /// <param name="key">What the work is for, and whose it is.</param>
    /// <param name="work">Calls the worker.</param>
    /// <param name="told">Hears of what is under way.</param>
    /// <param name="cancel">Gives up waiting for a turn.</param>
    public Task<T> RunAsync<T>(Guid key, Func<IWorker, Task<T>> work, WorkerNews? told = null, CancellationToken cancel = default) =>
        RunAsync(new Work(key, key), work, told, cancel);

    /// <param name="of">Whose work it is and for which part; a part's goes to the worker that had it last, where that is free.</param>
    /// <param name="work">Calls the worker.</param>
    /// <param name="told">Hears of what is under way.</param>
    /// <param name="cancel">Gives up waiting for a turn.</param>
    /// <exception cref="WorkerFailedException">It died twice, took too long or too much, or there is no time left for its
    /// account.</exception>
    public async Task<T> RunAsync<T>(Work of, Func<IWorker, Task<T>> work, WorkerNews? told = null, CancellationToken cancel = default)
    {
        MayBegin(of);
        var waited = Stopwatch.StartNew();
        var place = await turns.EnterAsync(of, cancel);
        Figures.Waited(waited.Elapsed);
        var lane = lanes[place];
        var took = Stopwatch.StartNew();
        try
        {
            return await RunAsync(lane, work, told, cancel, of.Key);
        }
        catch (WorkerFailedException failure) when (failure.Why == WorkerFailure.Died)
        {
            log.LogWarning("A geometry worker died; its work is done once more");
            return await RunAsync(lane, work, told, cancel, of.Key);
        }
        finally
        {
            Spending.Add(of.Owner, took.Elapsed);
            turns.Leave(place);
        }
    }

    private void MayBegin(Work of)
    {
        if (Spending.Wait(of.Owner) is { } wait)
        {
            throw new WorkerFailedException(null, WorkerFailure.NoTimeLeft) { Wait = wait };
        }
    }

    /// <summary>Does something long in one of the workers that are kept for that. It may take as long as it likes, as long as
    /// it goes on telling how far it is.</summary>
    /// <exception cref="WorkerFailedException">It died, or nothing was heard of it for too long.</exception>
    public async Task<T> AskAsync<T>(Work of, Func<IWorker, Task<T>> work, WorkerNews? told = null, CancellationToken cancel = default)
    {
        MayBegin(of);
        var place = await asideTurns.EnterAsync(of, cancel);
        var took = Stopwatch.StartNew();
        try
        {
            return await RunAsync(asides[place], work, told, cancel, of.Key);
        }
        finally
        {
            Spending.Add(of.Owner, took.Elapsed);
            asideTurns.Leave(place);
        }
    }

    /// <summary>Ends a long question of a key with what it has found.</summary>
    /// <returns>Whether there was one.</returns>
    public bool StopAsking(Guid key)
    {
        if (Array.Find(asides, l => l.Working == key)?.Worker is not { } asked)
        {
            return false;
        }

        _ = asked.Proxy.StopAskingAsync().ContinueWith(t => t.Exception, TaskScheduler.Default);
        return true;
    }

    /// <summary>Stops what is under way for a key: its worker is ended, and another started when there is work again.</summary>
    /// <returns>Whether anything was under way.</returns>
    public bool Stop(Guid key)
    {
        if (Array.Find(lanes, l => l.Working == key) is not { } lane)
        {
            return false;
        }

        lane.Stopped = true;
        lane.Worker?.End();
        return true;
    }

    public async ValueTask DisposeAsync()
    {
        await closing.CancelAsync();
        lock (gate)
        {
            // One that is still being made ready ends once it is.
            spare?.ContinueWith(
                made => made.Result.End(),
                CancellationToken.None,
                TaskContinuationOptions.OnlyOnRanToCompletion,
                TaskScheduler.Default
            );
        }

        foreach (var lane in lanes.Concat(asides))
        {
            lane.Worker?.End();
        }

        closing.Dispose();
    }

    private async Task<T> RunAsync<T>(
        Lane lane,
        Func<IWorker, Task<T>> work,
        WorkerNews? told,
        CancellationToken cancel,
        Guid key = default
    )
    {
        await lane.Turn.WaitAsync(cancel);
        string? step = null;
        (lane.Working, lane.Stopped) = (key, false);
        try
        {
            if (lane.Worker is not { Alive: true })
            {
                lane.Worker?.End();
                lane.Worker = await NextAsync();
            }

            var worker = lane.Worker;
            var heard = Stopwatch.StartNew();
            worker.Told = new WorkerNews(
                id =>
                {
                    step = id;
                    told?.Starting(id);
                },
                share =>
                {
                    if (asides.Contains(lane))
                    {
                        heard.Restart();
                    }

                    told?.Share(share);
                }
            );
            var call = work(worker.Proxy);
            using var over = new CancellationTokenSource();
            var large = worker.TakesMoreAsync(memory, over.Token);
            var first = await Task.WhenAny(call, worker.Ended, OverdueAsync(heard), large);
            await over.CancelAsync();
            if (first == call)
            {
                return await call;
            }

            var why =
                lane.Stopped ? WorkerFailure.Stopped
                : first == large ? WorkerFailure.TookTooMuch
                : worker.Ended.IsCompleted ? WorkerFailure.Died
                : WorkerFailure.TookTooLong;
            worker.End();
            Figures.Ended(
                why switch
                {
                    WorkerFailure.Stopped => "stopped",
                    WorkerFailure.TookTooMuch => "too much",
                    WorkerFailure.Died => "died",
                    _ => "too long",
                }
            );
            _ = call.ContinueWith(t => t.Exception, TaskScheduler.Default);
            throw new WorkerFailedException(step, why);
        }
        catch (ConnectionLostException)
        {
            lane.Worker?.End();
            throw new WorkerFailedException(step, lane.Stopped ? WorkerFailure.Stopped : WorkerFailure.Died);
        }
        finally
        {
            lane.Working = default;
            if (lane.Worker is { } used)
            {
                // Whoever listened is not kept alive by it.
                used.Told = null;
            }

            lane.Turn.Release();
        }
    }

    /// <summary>Over when nothing was heard for as long as a call may take.</summary>
    private async Task OverdueAsync(Stopwatch heard)
    {
        while (heard.Elapsed < limit)
        {
            await Task.Delay(limit - heard.Elapsed + TimeSpan.FromMilliseconds(1), CancellationToken.None);
        }
    }

    private sealed class Lane
    {
        public SemaphoreSlim Turn { get; } = new(1);

        public WorkerProcess? Worker { get; set; }

        /// <summary>What it works for now.</summary>
        public Guid Working { get; set; }

        /// <summary>Whether that was stopped on request.</summary>
        public bool Stopped { get; set; }
    }

    private sealed class WorkerProcess
    {
        private const int StartTries = 3;
        private static readonly TimeSpan StartLimit = TimeSpan.FromSeconds(30),
            Looked = TimeSpan.FromMilliseconds(250);
        private readonly Process process;
        private readonly NamedPipeServerStream pipe;
        private volatile bool ended;

        private WorkerProcess(Process process, NamedPipeServerStream pipe)
        {
            (this.process, this.pipe) = (process, pipe);
            var rpc = new JsonRpc(WorkerFormat.Over(pipe));
            Proxy = rpc.Attach<IWorker>();
            rpc.AddLocalRpcMethod("starting", (string step) => Told?.Starting(step));
            rpc.AddLocalRpcMethod("share", (double share) => Told?.Share(share));
            rpc.StartListening();
            Ended = process.WaitForExitAsync();
        }

        public IWorker Proxy { get; }

        public WorkerNews? Told { get; set; }

        public Task Ended { get; }

        /// <summary>False from the moment it was told to end: a killed process counts as running until the system has buried it.</summary>
        public bool Alive => !ended && !process.HasExited;

        public int ProcessId => process.Id;

        /// <summary>Over when it takes more memory than this; never where it does not.</summary>
        public async Task TakesMoreAsync(long most, CancellationToken over)
        {
            try
            {
                do
                {
                    await Task.Delay(Looked, over);
                    process.Refresh();
                } while (ended || process.HasExited || process.WorkingSet64 <= most);
            }
            catch (Exception e) when (e is OperationCanceledException or InvalidOperationException)
            {
                // The work is over, or the worker is: others see to that.
                await Task.Delay(Timeout.Infinite, over).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }

        /// <exception cref="WorkerFailedException">It ended before it was there, again and again.</exception>
        public static async Task<WorkerProcess> StartAsync()
        {
            for (var tries = 0; tries < StartTries; tries++)
            {
                if (await TryStartAsync() is { } worker)
                {
                    return worker;
                }
            }

            throw new WorkerFailedException(null, WorkerFailure.Died);
        }

        /// <summary>Null where the process ended, or was not there in time.</summary>
        private static async Task<WorkerProcess?> TryStartAsync()
        {
            var name = $"ratiogon-{Guid.NewGuid():N}";
            var pipe = new NamedPipeServerStream(
                name,
                PipeDirection.InOut,
                1,
                PipeTransmissionMode.Byte,
                PipeOptions.Asynchronous | PipeOptions.CurrentUserOnly
            );
            var assembly = typeof(IWorker).Assembly.Location;
            var process = Process.Start(new ProcessStartInfo("dotnet", [assembly, name]) { UseShellExecute = false })!;
            using var limit = new CancellationTokenSource(StartLimit);
            var there = pipe.WaitForConnectionAsync(limit.Token);
            await Task.WhenAny(there, process.WaitForExitAsync(limit.Token));
            if (there.IsCompletedSuccessfully)
            {
                return new WorkerProcess(process, pipe);
            }

            await limit.CancelAsync();
            _ = there.ContinueWith(t => t.Exception, TaskScheduler.Default);
            if (!process.HasExited)
            {
                process.Kill(entireProcessTree: true);
            }

            await pipe.DisposeAsync();
            return null;
        }

        public void End()
        {
            ended = true;
            try
            {
                process.Kill(entireProcessTree: true);
            }
            catch (InvalidOperationException)
            {
                // It had ended by itself.
            }

            pipe.Dispose();
        }
    }
}
