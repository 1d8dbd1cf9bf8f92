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
    private readonly TimeSpan prepare;
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
    private int watchers;

    public PartSession(
        StoredPart stored,
        PartStore store,
        Keeper keeper,
        WorkerPool workers,
        IPartAudience audience,
        TimeSpan prepare,
        ILogger log
    )
    {
        this.prepare = prepare;
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
            part => Task.FromResult(command.Apply(part).Map(next => UprightSketches.Of(part, next, now.Result))),
            account,
            EditKind.Do,
            () => (command.Words, null),
            expected
        );

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
        var asked = await AsideAsync(worker => worker.AskAsync(ShownBytes(), bytes));
        return asked.Then<byte[]>(a => a.Answer is { } answer ? answer : new Refusal(a.Code ?? "ask", a.Refusal ?? "", a.Where));
    }

    public async Task<Outcome<byte[]>> ExportVariantsAsync(string ending, string? only)
    {
        var written = await AsideAsync(worker => worker.ExportVariantsAsync(PartBytes(), ending, only));
        return written.Then<byte[]>(w => w.File is { } file ? file : new Refusal("export", w.Refusal ?? ""));
    }

    public async Task<Outcome<DrivesReply>> DrivesAsync(string reading)
    {
        var asked = await AsideAsync(worker => worker.DrivesAsync(ShownBytes(), reading));
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

    private Task<Outcome<StoredPart>> StepBackAsync(Guid account, long? expected, EditKind kind)
    {
        var entry = default(UndoEntry);
        return ChangeAsync(
            async part =>
            {
                var stack = kind == EditKind.Undo ? Stored.Undo : Stored.Redo;
                if (stack.IsEmpty)
                {
                    return new Refusal("edit.nothing", kind == EditKind.Undo ? "There is nothing to undo." : "There is nothing to redo.");
                }

                entry = stack.Peek();
                PartChange change;
                try
                {
                    change = await store.ChangeAsync(Id, entry.Revision);
                }
                catch (JsonException)
                {
                    return new Refusal(
                        "history.unreadable",
                        $"What is kept of '{entry.Words}' cannot be read any more, so it cannot be taken back or made again. The part is "
                            + "as it was."
                    );
                }

                return (kind == EditKind.Undo ? change.Reversed() : change).Apply(part);
            },
            account,
            kind,
            () => (entry!.Words, entry.Revision),
            expected
        );
    }

    [LoggerMessage(LogLevel.Warning, "Part {Part}: '{Words}' was not kept, for the database is away: {Why}")]
    private static partial void LogAway(ILogger log, Guid part, string words, string why);

    [LoggerMessage(LogLevel.Error, "Part {Part}: '{Words}' met a defect. {Report}")]
    private static partial void LogDefect(ILogger log, Guid part, string words, string report);

    /// <summary>What people typed does not begin lines of its own in the log.</summary>
    internal static string OneLine(string text) => string.Create(text.Length, text, (line, from) =>
        {
            for (var i = 0; i < line.Length; i++)
            {
                line[i] = char.IsControl(from[i]) || from[i] is '\u2028' or '\u2029' ? ' ' : from[i];
            }
        });

    private async Task<Outcome<StoredPart>> ChangeAsync(
        Func<Part, Task<Outcome<Part>>> change,
        Guid account,
        EditKind kind,
        Func<(string Words, long? Of)> about,
        long? expected
    )
    {
        using var span = Figures.Begin("edit");
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var changed = await ChangeInTurnAsync(change, account, kind, about, expected);
        Figures.Edited(clock.Elapsed, changed.Done);
        return changed;
    }

    private async Task<Outcome<StoredPart>> ChangeInTurnAsync(
        Func<Part, Task<Outcome<Part>>> change,
        Guid account,
        EditKind kind,
        Func<(string Words, long? Of)> about,
        long? expected
    )
    {
        StoredPart done;
        await turn.WaitAsync();
        try
        {
            if (expected is { } revision && revision != Stored.Revision)
            {
                return new Refusal(
                    "edit.stale",
                    $"The part has changed since (revision {Stored.Revision}, not {revision}). Look at it again and repeat the change."
                );
            }

            var next = await change(Present);
            if (!next.Done)
            {
                if (next.Refusal!.Code == PartCommand.Defect)
                {
                    LogDefect(log, Id, OneLine(about().Words), OneLine(next.Refusal.Message));
                }

                return next.Refusal!;
            }

            if (next.Value.Equals(Stored.Part))
            {
                return Stored;
            }

            var (words, of) = about();
            var saved = await store.SaveAsync(Stored, next.Value, account, kind, words, of);
            if (saved is null)
            {
                // Another server changed the part; take its state and let the user look.
                if (await store.LoadAsync(Id, Stored.Owner) is { } theirs)
                {
                    Take(theirs);
                }

                return new Refusal(
                    "edit.stale",
                    "The part was changed elsewhere at the same moment. Look at it again and repeat the change."
                );
            }

            Take(saved);
            done = saved;
        }
        catch (Microsoft.EntityFrameworkCore.DbUpdateException e)
            when (e.InnerException is Npgsql.PostgresException { SqlState: "22021" or "22P05" })
        {
            // Class 22 of SQLSTATE: characters that no text of the database can hold.
            return new Refusal("input.text", "A text holds characters that cannot be kept; nothing was changed.");
        }
        catch (Exception e) when (Away.Is(e))
        {
            LogAway(log, Id, OneLine(about().Words), OneLine(e.Message));
            return Away.Of(e);
        }
        finally
        {
            turn.Release();
        }

        await audience.ChangedAsync(Id, done.Revision);
        return done;
    }

    /// <summary>What is kept now; it is built next.</summary>
    private void Take(StoredPart stored)
    {
        Become(at => at with { Stored = stored, Present = stored.Part });
        changes.Writer.TryWrite(true);
    }

    /// <summary>Builds the newest there is, again and again, for as long as the part is live.</summary>
    private async Task BuildAsync()
    {
        try
        {
            await foreach (var _ in changes.Reader.ReadAllAsync(closing.Token))
            {
                var stored = Stored;
                if (now.Settled)
                {
                    continue;
                }

                var result = await BuiltAsync(stored);
                var (present, before) = (Followed(stored.Part, result), now.Result);

                // A change that came meanwhile has written another word.
                Become(at =>
                    at with
                    {
                        Result = result,
                        Revision = stored.Revision,
                        Present = ReferenceEquals(at.Stored.Part, stored.Part) ? present : at.Present,
                    }
                );
                await audience.RebuiltAsync(Id, stored.Part, stored.Revision, result, before);
            }
        }
        catch (OperationCanceledException) when (closing.IsCancellationRequested)
        {
            // Live no longer.
        }
    }

    /// <summary>Whatever goes wrong is a result: a part that nobody builds would be waited for without end.</summary>
    private async Task<RebuildResult> BuiltAsync(StoredPart stored)
    {
        try
        {
            return await RebuildOnceAsync(stored);
        }
        catch (Exception e)
        {
            log.LogError(e, "Rebuild of part {Part} failed", Id);
            return Unfinished(stored.Part, null, "could not be built: the server met a defect");
        }
    }

    private async Task<RebuildResult> RebuildOnceAsync(StoredPart stored)
    {
        using var span = Figures.Begin("rebuild");
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var bytes = JsonSerializer.SerializeToUtf8Bytes(stored.Part, PartJson.Compact);
        if (now.Revision == 0 && await keeper.FindAsync(Id, bytes) is { } kept)
        {
            _ = PrepareAsync(bytes);
            Figures.Rebuilt(clock.Elapsed, "kept", 0);
            return kept;
        }

        byte[] packed;
        try
        {
            var (step, told, tries) = (default(string), false, 0);
            void Tell()
            {
                told = true;
                _ = audience.BuildingAsync(Id, step);
            }

            void Building(string now)
            {
                step = now;
                if (told)
                {
                    Tell();
                }
            }

            // Nothing is said of a rebuild that is over at once; then of every step, the one under way first.
            await using (new Timer(_ => Tell(), null, UntilProgress, Timeout.InfiniteTimeSpan))
            {
                packed = await workers.RunAsync(
                    new Work(stored.Owner, Id),
                    worker => worker.RebuildAsync(bytes, oneByOne: tries++ > 0),
                    new WorkerNews(Building, TellShare)
                );
            }

            if (told)
            {
                await audience.BuildingAsync(Id, null);
            }

            Figures.Rebuilt(clock.Elapsed, "built", packed.Length);
            return MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options);
        }
        catch (WorkerFailedException failure)
        {
            Figures.Rebuilt(clock.Elapsed, "failed", 0);
            await audience.BuildingAsync(Id, null);
            return Unfinished(
                stored.Part,
                failure.Step,
                failure.Why switch
                {
                    WorkerFailure.TookTooLong => "took too long and was stopped",
                    WorkerFailure.Stopped => "was stopped",
                    _ => "made the geometry worker stop",
                }
            );
        }
        catch (Exception e)
            when (e
                    is StreamJsonRpc.RemoteInvocationException
                        or IOException
                        or OperationCanceledException
                        or MessagePackSerializationException
            )
        {
            log.LogError(e, "Rebuild of part {Part} failed", Id);
            return Unfinished(stored.Part, null, "could not be built: the geometry worker reported a defect");
        }
    }

    /// <summary>Lets the worker build what is shown already, so that the first change finds it built.</summary>
    private async Task PrepareAsync(byte[] bytes)
    {
        await Task.Delay(prepare);
        try
        {
            await workers.RunAsync(new Work(Stored.Owner, Id, Waited: false), async worker =>
            {
                await worker.PrepareAsync(bytes);
                return true;
            });
        }
        catch (Exception e)
            when (e is WorkerFailedException or StreamJsonRpc.RemoteInvocationException or IOException or OperationCanceledException)
        {
            // The change that needs it will say so.
            log.LogDebug(e, "Part {Part} was not made ready", Id);
        }
    }

    /// <summary>What is shown when a worker gave up: the step it was at, with the bodies as they last were.</summary>
    private RebuildResult Unfinished(Part part, string? step, string what)
    {
        var at = part.Find(step ?? "")?.Number ?? 0;
        gaveUp = at > 0 ? (part, at) : null;
        return new RebuildResult(
            [
                .. part.Steps.Select(s =>
                    s.Number < at
                        ? now.Result.Step(s.Id) ?? new StepResult(s.Id, StepState.Waiting, "")
                        : new StepResult(
                            s.Id,
                            s.Id == step || step is null ? StepState.Failed : StepState.Waiting,
                            s.Id == step || step is null
                                ? $"This step {what}. Nothing is lost: change it, suppress it or undo."
                                : $"Waits for step {at}."
                        )
                ),
            ],
            now.Result.Bodies
        )
        {
            References = now.Result.References,
        };
    }

    private Task<Outcome<T>> InWorkerAsync<T>(Func<IWorker, Task<T>> work) =>
        WorkedAsync(() => workers.RunAsync(new Work(Stored.Owner, Id), work, new WorkerNews(_ => { }, TellShare)));

    /// <summary>In the worker for what takes long.</summary>
    private Task<Outcome<T>> AsideAsync<T>(Func<IWorker, Task<T>> work) =>
        WorkedAsync(() => workers.AskAsync(new Work(Stored.Owner, Id), work, new WorkerNews(_ => { }, TellShare)));

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

    /// <summary>The part with the sketches that moved with what they copy, and the readings that formulas may use.</summary>
    private static Part Followed(Part part, RebuildResult result)
    {
        var moved = part;
        foreach (var step in part.Steps.OfType<SketchStep>())
        {
            if (result.Step(step.Id)?.Followed() is { } sketch)
            {
                moved = moved.With(step with { Sketch = sketch });
            }
        }

        var readings = part
            .Steps.OfType<ReadingStep>()
            .Where(r => r.Named && result.Step(r.Id) is { Reading: not null })
            .GroupBy(r => r.Name)
            .ToImmutableDictionary(
                g => g.Key,
                g => new Quantity(result.Step(g.Last().Id)!.Reading!.Value, ReadingCatalog.Find(g.Last().What)!.Kind)
            );
        return readings.IsEmpty && moved.Readings.IsEmpty ? moved : moved with { Readings = readings };
    }

    private void TellShare(double share) => _ = audience.ShareAsync(Id, share);

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
