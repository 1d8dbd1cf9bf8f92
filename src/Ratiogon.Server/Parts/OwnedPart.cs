using System.Collections.Immutable;
using System.Text.Json;
using System.Threading.Channels;
using MessagePack;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Server.Cluster;
using Ratiogon.Server.Operating;
using Ratiogon.Server.Safety;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Parts;

/// <summary>Hears what becomes of a part where it is owned.</summary>
internal interface IPartListener
{
    /// <summary>It is another one, or its model is.</summary>
    void Became();

    /// <summary>A rebuild that takes its time has come to a step; null when it has ended.</summary>
    void Building(string? step);

    /// <summary>A long read, write or mesh has come so far, from 0 to 1.</summary>
    void Share(double share);
}

/// <summary>A live part where it is owned: the only place that changes and builds it.</summary>
internal sealed partial class OwnedPart : IDisposable
{
    private readonly PartStore store;
    private readonly Keeper keeper;
    private readonly LiveOptions options;
    private readonly WorkerPool workers;
    private readonly IPartListener listener;
    private readonly ILogger log;
    private static readonly TimeSpan UntilProgress = TimeSpan.FromSeconds(0.4);
    private readonly SemaphoreSlim turn = new(1);
    private readonly Lock gate = new();
    private readonly CancellationTokenSource closing = new();

    /// <summary>That there is something to build; one word is as good as many.</summary>
    private readonly Channel<bool> changes = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite, SingleReader = true }
    );
    private volatile PartMoment now;
    private (Part Of, int At)? gaveUp;

    /// <summary>What was to be built when somebody said stop: not begun any more.</summary>
    private long stopped = -1;

    /// <summary>Whether what is built is to be built once more.</summary>
    private volatile bool again;

    /// <summary>A question that this many workers died of, two for each value, is given up.</summary>
    private const int MostDeaths = 8;

    public OwnedPart(
        StoredPart stored,
        PartStore store,
        Keeper keeper,
        WorkerPool workers,
        IPartListener listener,
        LiveOptions options,
        ILogger log
    )
    {
        (this.store, this.keeper, this.workers, this.listener, this.options, this.log) = (store, keeper, workers, listener, options, log);
        now = PartMoment.Of(stored, null);
        Recent.Add(stored);
        changes.Writer.TryWrite(true);
        Figures.Owned(1);
        _ = Task.Run(BuildAsync);
    }

    public Guid Id => now.Stored.Id;

    public PartMoment Now => now;

    private StoredPart Stored => now.Stored;

    private Part Present => now.Present;

    /// <summary>What it was a moment ago.</summary>
    public Recent Recent { get; } = new();

    /// <summary>It is live no longer: nothing more is built.</summary>
    public void Dispose()
    {
        if (closing.IsCancellationRequested)
        {
            return;
        }

        Figures.Owned(-1);
        closing.Cancel();
        changes.Writer.TryComplete();
    }

    /// <summary>Puts another moment in the place of this one.</summary>
    private void Become(Func<PartMoment, PartMoment> change)
    {
        lock (gate)
        {
            now = change(now);
        }
    }

    public Task<Outcome<StoredPart>> ApplyAsync(PartCommand command, Guid account, long? expected = null) =>
        ChangeAsync(
            part => Task.FromResult(Worked(command, part).Map(next => UprightSketches.Of(part, next, now.Result))),
            account,
            EditKind.Do,
            () => (command.Words, null),
            expected
        );

    /// <summary>Within the time that others can wait.</summary>
    private Outcome<Part> Worked(PartCommand command, Part part)
    {
        var took = System.Diagnostics.Stopwatch.StartNew();
        using var patience = Patience.Limit(options.Solving);
        var worked = command.Apply(part);
        workers.Spending.Add(Stored.Owner, took.Elapsed);
        return worked;
    }

    public Task<Outcome<StoredPart>> ReplaceAsync(Part state, string words, Guid account, long? expected = null) =>
        ChangeAsync(_ => Task.FromResult<Outcome<Part>>(state), account, EditKind.Do, () => (words, null), expected);

    public Task<Outcome<byte[]?>> PictureAsync(Part state, bool dark)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(state, PartJson.Compact);
        return InWorkerAsync(worker => worker.PictureAsync(bytes, dark));
    }

    public Task<Outcome<StoredPart>> UndoAsync(Guid account, long? expected = null) => StepBackAsync(account, expected, EditKind.Undo);

    public Task<Outcome<StoredPart>> RedoAsync(Guid account, long? expected = null) => StepBackAsync(account, expected, EditKind.Redo);

    public Task<Outcome<string>> GaugeAsync(string draft, string? input) =>
        InWorkerAsync(worker => worker.GaugeAsync(ShownBytes(), draft, input));

    public async Task<Outcome<byte[]>> AskAsync(Core.Asking.Question question)
    {
        if (!question.Builds)
        {
            return question
                .Ask(Stored.Part, new Core.Asking.Builders([]))
                .Map(a => JsonSerializer.SerializeToUtf8Bytes(a, PartJson.Compact));
        }

        var bytes = JsonSerializer.SerializeToUtf8Bytes(question, PartJson.Compact);
        var asked = await AskedAsync((worker, diary) => worker.AskAsync(ShownBytes(), bytes, diary));
        return asked.Then<byte[]>(a => a.Answer is { } answer ? answer : new Refusal(a.Code ?? "ask", a.Refusal ?? "", a.Where));
    }

    public async Task<Outcome<byte[]>> ExportVariantsAsync(string ending, string? only)
    {
        var written = await AsideAsync(worker => worker.ExportVariantsAsync(PartBytes(), ending, only));
        return written.Then<byte[]>(w => w.File is { } file ? file : new Refusal("export", w.Refusal ?? ""));
    }

    public async Task<Outcome<DrivesReply>> DrivesAsync(string reading)
    {
        var asked = await AskedAsync((worker, diary) => worker.DrivesAsync(ShownBytes(), reading, diary));
        return asked.Then<DrivesReply>(a => a.Refusal is { } refusal ? new Refusal("drives", refusal) : a);
    }

    public async Task<ImmutableArray<GaugeShown>> ReadingsAsync(ImmutableArray<string> picks)
    {
        var answer = await InWorkerAsync(worker => worker.ReadingsAsync(ShownBytes(), [.. picks]));
        return answer.Done ? JsonSerializer.Deserialize<ImmutableArray<GaugeShown>>(answer.Value, PartJson.Compact) : [];
    }

    public Task<Outcome<SectionAnswer>> SectionAsync(double[] plane) => InWorkerAsync(worker => worker.SectionAsync(ShownBytes(), plane));

    public async Task<Outcome<RebuildResult>> TryAsync(Part part, bool quick)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);
        var answer = await InWorkerAsync(worker => quick ? worker.QuickAsync(bytes) : worker.RebuildAsync(bytes, oneByOne: false));
        return answer.Map(packed => MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options));
    }

    public async Task<Outcome<ImmutableArray<Stretch>>> ProbeAsync(double[] line)
    {
        var answer = await InWorkerAsync(worker => worker.ProbeAsync(ShownBytes(), line));
        return answer.Map(packed => MessagePackSerializer.Deserialize<ImmutableArray<Stretch>>(packed, WorkerFormat.Options));
    }

    public async Task<Outcome<ImmutableArray<Inertia>>> InertiaAsync()
    {
        var answer = await InWorkerAsync(worker => worker.InertiaAsync(ShownBytes()));
        return answer.Map(all => all.Select(i => new Inertia(i[0], i[1], i[2], i[3], i[4], i[5])).ToImmutableArray());
    }

    /// <summary>Ends a long question with what it has found, else the rebuild, also one that still waits for a worker, and whatever else
    /// the part has a worker for.</summary>
    /// <returns>Whether there was anything to stop.</returns>
    public bool Stop()
    {
        if (workers.StopAsking(Id))
        {
            return true;
        }

        var at = now;
        if (!at.Settled)
        {
            Volatile.Write(ref stopped, at.Stored.Revision);
        }

        return workers.Stop(Id) || !at.Settled;
    }

    private Task<Outcome<T>> InWorkerAsync<T>(Func<IWorker, Task<T>> work) =>
        WorkedAsync(() => workers.RunAsync(new Work(Stored.Owner, Id), work, new WorkerNews(_ => { }, TellShare)));

    /// <summary>In the worker for what takes long.</summary>
    private Task<Outcome<T>> AsideAsync<T>(Func<IWorker, Task<T>> work) =>
        WorkedAsync(() => workers.AskAsync(new Work(Stored.Owner, Id), work, new WorkerNews(_ => { }, TellShare)));

    /// <summary>A question, asked again where its worker died: the next one knows of what, and goes around it.</summary>
    private async Task<Outcome<T>> AskedAsync<T>(Func<IWorker, string, Task<T>> work)
    {
        var diary = Path.Combine(Path.GetTempPath(), $"ratiogon-diary-{Guid.NewGuid():N}");
        try
        {
            return await WorkedAsync(async () =>
            {
                var news = new WorkerNews(_ => { }, TellShare);
                for (var death = 1; ; death++)
                {
                    try
                    {
                        return await workers.AskAsync(new Work(Stored.Owner, Id), worker => work(worker, diary), news);
                    }
                    catch (WorkerFailedException failure) when (failure.Why == WorkerFailure.Died && death < MostDeaths)
                    {
                        // Once more, around what it died of.
                    }
                }
            });
        }
        finally
        {
            File.Delete(diary);
        }
    }

    private static async Task<Outcome<T>> WorkedAsync<T>(Func<Task<T>> work)
    {
        try
        {
            return await work();
        }
        catch (WorkerFailedException failure)
        {
            return new Refusal(
                "worker.failed",
                failure.Why == WorkerFailure.Died
                    ? "The geometry worker stopped; the part is unchanged. Try again."
                    : $"It {failure.Words}; the part is unchanged."
            );
        }
    }

    private byte[] PartBytes() => JsonSerializer.SerializeToUtf8Bytes(Stored.Part, PartJson.Compact);

    /// <summary>The part as far as it is shown: a question is no reason to begin anew on a step at which a worker gave up.</summary>
    private byte[] ShownBytes() =>
        gaveUp is { } g && ReferenceEquals(g.Of, Stored.Part)
            ? JsonSerializer.SerializeToUtf8Bytes(Stored.Part with { StopLine = g.At - 1 }, PartJson.Compact)
            : PartBytes();
}
