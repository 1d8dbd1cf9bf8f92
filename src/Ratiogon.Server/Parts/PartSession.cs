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
using Ratiogon.Server.Operating;
using Ratiogon.Server.Safety;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Parts;

internal sealed partial class PartSession : IPartSession, IDisposable
{
    private readonly PartStore store;
    private readonly Keeper keeper;
    private readonly LiveOptions options;
    private readonly WorkerPool workers;
    private readonly IPartAudience audience;
    private readonly ILogger log;
    private static readonly TimeSpan UntilProgress = TimeSpan.FromSeconds(0.4);

    /// <summary>Longer than any rebuild may take.</summary>
    private static readonly TimeSpan MostWaited = TimeSpan.FromMinutes(3);
    private readonly SemaphoreSlim turn = new(1);
    private readonly Lock gate = new();
    private readonly CancellationTokenSource closing = new();

    /// <summary>That there is something to build; one word is as good as many.</summary>
    private readonly Channel<bool> changes = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite, SingleReader = true }
    );
    private volatile PartMoment now;

    /// <summary>Done when another moment has come.</summary>
    private volatile TaskCompletionSource next = NewSignal();
    private (Part Of, int At)? gaveUp;

    /// <summary>A question that this many workers died of, two for each value, is given up.</summary>
    private const int MostDeaths = 8;
    private int watchers;

    public PartSession(
        StoredPart stored,
        PartStore store,
        Keeper keeper,
        WorkerPool workers,
        IPartAudience audience,
        LiveOptions options,
        ILogger log
    )
    {
        this.options = options;
        (now, this.store, this.keeper, this.workers, this.audience, this.log) = (
            new PartMoment(stored, stored.Part, RebuildResult.Empty, 0),
            store,
            keeper,
            workers,
            audience,
            log
        );
        Used = DateTimeOffset.UtcNow;
        changes.Writer.TryWrite(true);
        _ = Task.Run(BuildAsync);
    }

    public Guid Id => now.Stored.Id;

    public PartMoment Now => now;

    private StoredPart Stored => now.Stored;

    private Part Present => now.Present;

    /// <summary>When somebody asked for it last, or stopped following it.</summary>
    public DateTimeOffset Used { get; set; }

    /// <summary>Whether anybody follows it.</summary>
    public bool Watched => Volatile.Read(ref watchers) > 0;

    public IDisposable Watch()
    {
        Interlocked.Increment(ref watchers);
        return new Watching(this);
    }

    /// <summary>It is live no longer: nothing more is built.</summary>
    public void Dispose()
    {
        closing.Cancel();
        changes.Writer.TryComplete();
    }

    private static TaskCompletionSource NewSignal() => new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>Puts another moment in the place of this one, and wakes who waits for it.</summary>
    private PartMoment Become(Func<PartMoment, PartMoment> change)
    {
        lock (gate)
        {
            now = change(now);
            var told = next;
            next = NewSignal();
            told.TrySetResult();
            return now;
        }
    }

    public async Task<Model> ModelAsync()
    {
        var at = await SettledAsync();
        return Model.Of(at.Present, at.Result);
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
        using var patience = Patience.Limit(options.Solving);
        return command.Apply(part);
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

    public async Task<Outcome<ImmutableArray<SectionCurve>>> SectionAsync(Frame plane)
    {
        double[] numbers =
        [
            plane.Origin.X,
            plane.Origin.Y,
            plane.Origin.Z,
            plane.X.X,
            plane.X.Y,
            plane.X.Z,
            plane.Y.X,
            plane.Y.Y,
            plane.Y.Z,
        ];
        var answer = await InWorkerAsync(worker => worker.SectionAsync(ShownBytes(), numbers));
        return answer.Then<ImmutableArray<SectionCurve>>(a =>
            a.Refusal is not null
                ? new Refusal("copy.section", a.Refusal)
                : a
                    .Faces.Select(
                        (face, i) =>
                            (
                                face,
                                Curve: ShapeNumbers.CurveOf(
                                    new EdgeShape(a.Curves[i], [], [], 0, Vec3.Zero) { Numbers = [.. a.Numbers[i]] }
                                )
                            )
                    )
                    .Where(c => c.Curve is not null)
                    .Select(c => new SectionCurve(c.face, c.Curve!))
                    .ToImmutableArray()
        );
    }

    public async Task<Outcome<RebuildResult>> TryAsync(Part part, bool quick = false)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);
        var answer = await InWorkerAsync(worker => quick ? worker.QuickAsync(bytes) : worker.RebuildAsync(bytes, oneByOne: false));
        return answer.Map(packed => MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options));
    }

    public async Task<Outcome<ImmutableArray<Stretch>>> ProbeAsync(Line3 line)
    {
        double[] numbers = [line.Origin.X, line.Origin.Y, line.Origin.Z, line.Direction.X, line.Direction.Y, line.Direction.Z];
        var answer = await InWorkerAsync(worker => worker.ProbeAsync(ShownBytes(), numbers));
        return answer.Map(packed => MessagePackSerializer.Deserialize<ImmutableArray<Stretch>>(packed, WorkerFormat.Options));
    }

    public async Task<Outcome<ImmutableArray<Inertia>>> InertiaAsync()
    {
        var answer = await InWorkerAsync(worker => worker.InertiaAsync(ShownBytes()));
        return answer.Map(all => all.Select(i => new Inertia(i[0], i[1], i[2], i[3], i[4], i[5])).ToImmutableArray());
    }

    public bool Stop() => workers.Stop(Id);

    public async Task<PartMoment> SettledAsync()
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(closing.Token);
        limit.CancelAfter(MostWaited);
        while (true)
        {
            // The signal first: a moment that comes in between has set it.
            var coming = next.Task;
            var at = now;
            if (at.Settled)
            {
                return at;
            }

            try
            {
                await coming.WaitAsync(limit.Token);
            }
            catch (OperationCanceledException)
            {
                return now;
            }
        }
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
                failure.Why switch
                {
                    WorkerFailure.TookTooLong => "The geometry took too long and was stopped; the part is unchanged.",
                    WorkerFailure.Stopped => "It was stopped; the part is unchanged.",
                    _ => "The geometry worker stopped; the part is unchanged. Try again.",
                }
            );
        }
    }

    private byte[] PartBytes() => JsonSerializer.SerializeToUtf8Bytes(Stored.Part, PartJson.Compact);

    /// <summary>The part as far as it is shown: a question is no reason to begin anew on a step at which a worker gave up.</summary>
    private byte[] ShownBytes() =>
        gaveUp is { } g && ReferenceEquals(g.Of, Stored.Part)
            ? JsonSerializer.SerializeToUtf8Bytes(Stored.Part with { StopLine = g.At - 1 }, PartJson.Compact)
            : PartBytes();

    private sealed class Watching(PartSession session) : IDisposable
    {
        private int left;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref left, 1) == 0)
            {
                session.Used = DateTimeOffset.UtcNow;
                Interlocked.Decrement(ref session.watchers);
            }
        }
    }
}
