using System.Collections.Immutable;
using System.Text.Json;
using MessagePack;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;
using Ratiogon.Exchange;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Parts;

internal sealed partial class PartSession : IPartSession
{
    private readonly PartStore store;
    private readonly Keeper keeper;
    private readonly WorkerPool workers;
    private readonly IPartAudience audience;
    private readonly ILogger log;
    private static readonly TimeSpan UntilProgress = TimeSpan.FromSeconds(0.4);

    /// <summary>The page that opens a part has enough to do at first.</summary>
    private static readonly TimeSpan UntilPrepared = TimeSpan.FromSeconds(1);
    private readonly SemaphoreSlim turn = new(1);
    private readonly Lock rebuildGate = new();
    private Task rebuilding = Task.CompletedTask;
    private bool again;
    private (Part Of, Part Part)? followed;
    private (Part Of, int At)? gaveUp;

    public PartSession(StoredPart stored, PartStore store, Keeper keeper, WorkerPool workers, IPartAudience audience, ILogger log)
    {
        (Stored, this.store, this.keeper, this.workers, this.audience, this.log) = (stored, store, keeper, workers, audience, log);
        StartRebuild();
    }

    public Guid Id => Stored.Id;

    public StoredPart Stored { get; private set; }

    public (RebuildResult Result, long Revision) Built { get; private set; } = (RebuildResult.Empty, 0);

    public Part Present => followed is { } f && ReferenceEquals(f.Of, Stored.Part) ? f.Part : Stored.Part;

    public async Task<Model> ModelAsync()
    {
        await SettledAsync();
        var (part, result) = (Present, Built.Result);
        return Model.Of(part, result);
    }

    public Task<Outcome<StoredPart>> ApplyAsync(PartCommand command, Guid account, long? expected = null) =>
        ChangeAsync(part => Task.FromResult(command.Apply(part).Map(next => UprightSketches.Of(part, next, Built.Result))), account, EditKind.Do, () => (command.Words, null), expected);

    public Task<Outcome<StoredPart>> UndoAsync(Guid account, long? expected = null) => StepBackAsync(account, expected, EditKind.Undo);

    public Task<Outcome<StoredPart>> RedoAsync(Guid account, long? expected = null) => StepBackAsync(account, expected, EditKind.Redo);

    public Task<Outcome<string>> GaugeAsync(string draft, string? input) => InWorkerAsync(worker => worker.GaugeAsync(ShownBytes(), draft, input));

    public async Task<ImmutableArray<GaugeShown>> ReadingsAsync(ImmutableArray<string> picks)
    {
        var answer = await InWorkerAsync(worker => worker.ReadingsAsync(ShownBytes(), [.. picks]));
        return answer.Done ? JsonSerializer.Deserialize<ImmutableArray<GaugeShown>>(answer.Value, PartJson.Compact) : [];
    }

    public async Task<Outcome<ImmutableArray<SectionCurve>>> SectionAsync(Frame plane)
    {
        double[] numbers = [plane.Origin.X, plane.Origin.Y, plane.Origin.Z, plane.X.X, plane.X.Y, plane.X.Z, plane.Y.X, plane.Y.Y, plane.Y.Z];
        var answer = await InWorkerAsync(worker => worker.SectionAsync(ShownBytes(), numbers));
        return answer.Then<ImmutableArray<SectionCurve>>(a => a.Refusal is not null ? new Refusal("copy.section", a.Refusal)
            : a.Faces.Select((face, i) => (face, Curve: ShapeNumbers.CurveOf(new EdgeShape(a.Curves[i], [], [], 0, Vec3.Zero) { Numbers = [.. a.Numbers[i]] })))
                .Where(c => c.Curve is not null).Select(c => new SectionCurve(c.face, c.Curve!)).ToImmutableArray());
    }

    public async Task<Outcome<RebuildResult>> TryAsync(Part part)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);
        var answer = await InWorkerAsync(worker => worker.RebuildAsync(bytes, oneByOne: false));
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

    public async Task SettledAsync()
    {
        while (Built.Revision < Stored.Revision)
        {
            await rebuilding;
            await Task.Yield();
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
                var change = await store.ChangeAsync(Id, entry.Revision);
                return (kind == EditKind.Undo ? change.Reversed() : change).Apply(part);
            },
            account, kind, () => (entry!.Words, entry.Revision), expected);
    }

    [LoggerMessage(LogLevel.Error, "Part {Part}: '{Words}' met a defect. {Report}")]
    private static partial void LogDefect(ILogger log, Guid part, string words, string report);

    private async Task<Outcome<StoredPart>> ChangeAsync(Func<Part, Task<Outcome<Part>>> change, Guid account, EditKind kind, Func<(string Words, long? Of)> about, long? expected)
    {
        await turn.WaitAsync();
        try
        {
            if (expected is { } revision && revision != Stored.Revision)
            {
                return new Refusal("edit.stale", $"The part has changed since (revision {Stored.Revision}, not {revision}). Look at it again and repeat the change.");
            }

            var next = await change(Present);
            if (!next.Done)
            {
                if (next.Refusal!.Code == PartCommand.Defect)
                {
                    LogDefect(log, Id, about().Words, next.Refusal.Message);
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
                Stored = await store.LoadAsync(Id, Stored.Owner) ?? Stored;
                return new Refusal("edit.stale", "The part was changed elsewhere at the same moment. Look at it again and repeat the change.");
            }

            Stored = saved;
        }
        finally
        {
            turn.Release();
        }

        StartRebuild();
        await audience.ChangedAsync(Id, Stored.Revision);
        return Stored;
    }

    private void StartRebuild()
    {
        lock (rebuildGate)
        {
            again = true;
            if (rebuilding.IsCompleted)
            {
                rebuilding = Task.Run(RebuildAsync);
            }
        }
    }

    private async Task RebuildAsync()
    {
        while (true)
        {
            lock (rebuildGate)
            {
                if (!again)
                {
                    // Completed under the gate, so that a change that comes now starts a new run.
                    return;
                }

                again = false;
            }

            var stored = Stored;
            var result = await RebuildOnceAsync(stored);
            followed = Followed(stored.Part, result);
            var before = Built.Result;
            Built = (result, stored.Revision);
            await audience.RebuiltAsync(Id, stored.Part, stored.Revision, result, before);
        }
    }

    private async Task<RebuildResult> RebuildOnceAsync(StoredPart stored)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(stored.Part, PartJson.Compact);
        if (Built.Revision == 0 && await keeper.FindAsync(Id, bytes) is { } kept)
        {
            _ = PrepareAsync(bytes);
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
                packed = await workers.RunAsync(Id, worker => worker.RebuildAsync(bytes, oneByOne: tries++ > 0), new WorkerNews(Building, TellShare));
            }

            if (told)
            {
                await audience.BuildingAsync(Id, null);
            }

            return MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options);
        }
        catch (WorkerFailedException failure)
        {
            await audience.BuildingAsync(Id, null);
            return Unfinished(stored.Part, failure.Step, failure.Why switch { WorkerFailure.TookTooLong => "took too long and was stopped", WorkerFailure.Stopped => "was stopped", _ => "made the geometry worker stop" });
        }
        catch (Exception e) when (e is StreamJsonRpc.RemoteInvocationException or IOException or OperationCanceledException or MessagePackSerializationException)
        {
            log.LogError(e, "Rebuild of part {Part} failed", Id);
            return Unfinished(stored.Part, null, "could not be built: the geometry worker reported a defect");
        }
    }

    /// <summary>Lets the worker build what is shown already, so that the first change finds it built.</summary>
    private async Task PrepareAsync(byte[] bytes)
    {
        await Task.Delay(UntilPrepared);
        try
        {
            await workers.RunAsync(Id, async worker =>
            {
                await worker.PrepareAsync(bytes);
                return true;
            });
        }
        catch (Exception e) when (e is WorkerFailedException or StreamJsonRpc.RemoteInvocationException or IOException or OperationCanceledException)
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
            [.. part.Steps.Select(s => s.Number < at ? Built.Result.Step(s.Id) ?? new StepResult(s.Id, StepState.Waiting, "")
                : new StepResult(s.Id, s.Id == step || step is null ? StepState.Failed : StepState.Waiting,
                    s.Id == step || step is null ? $"This step {what}. Nothing is lost: change it, suppress it or undo." : $"Waits for step {at}."))],
            Built.Result.Bodies)
        { References = Built.Result.References };
    }

    private async Task<Outcome<T>> InWorkerAsync<T>(Func<IWorker, Task<T>> work)
    {
        try
        {
            return await workers.RunAsync(Id, work, new WorkerNews(_ => { }, TellShare));
        }
        catch (WorkerFailedException failure)
        {
            return new Refusal("worker.failed", failure.Why switch
            {
                WorkerFailure.TookTooLong => "The geometry took too long and was stopped; the part is unchanged.",
                WorkerFailure.Stopped => "It was stopped; the part is unchanged.",
                _ => "The geometry worker stopped; the part is unchanged. Try again.",
            });
        }
    }

    /// <summary>The part with the sketches that moved with what they copy, and the readings that formulas may use; null where
    /// there are neither.</summary>
    private static (Part, Part)? Followed(Part part, RebuildResult result)
    {
        var moved = part;
        foreach (var step in part.Steps.OfType<SketchStep>())
        {
            if (result.Step(step.Id)?.Followed() is { } sketch)
            {
                moved = moved.With(step with { Sketch = sketch });
            }
        }

        var readings = part.Steps.OfType<ReadingStep>().Where(r => r.Named && result.Step(r.Id) is { Reading: not null })
            .GroupBy(r => r.Name).ToImmutableDictionary(g => g.Key, g => new Quantity(result.Step(g.Last().Id)!.Reading!.Value, ReadingCatalog.Find(g.Last().What)!.Kind));
        moved = readings.IsEmpty && moved.Readings.IsEmpty ? moved : moved with { Readings = readings };
        return ReferenceEquals(moved, part) ? null : (part, moved);
    }

    private void TellShare(double share) => _ = audience.ShareAsync(Id, share);

    private byte[] PartBytes() => JsonSerializer.SerializeToUtf8Bytes(Stored.Part, PartJson.Compact);

    /// <summary>The part as far as it is shown: a question is no reason to begin anew on a step at which a worker gave up.</summary>
    private byte[] ShownBytes() => gaveUp is { } g && ReferenceEquals(g.Of, Stored.Part)
        ? JsonSerializer.SerializeToUtf8Bytes(Stored.Part with { StopLine = g.At - 1 }, PartJson.Compact)
        : PartBytes();
}

/// <summary>The live parts of this server.</summary>
public interface IPartSessions
{
    /// <summary>The session of a part, or null when there is none of that id for this owner.</summary>
    Task<IPartSession?> OpenAsync(Guid id, Guid owner);

    /// <summary>Forgets a part that was deleted.</summary>
    void Forget(Guid id);
}

internal sealed partial class PartSessions(PartStore store, Keeper keeper, WorkerPool workers, IPartAudience audience, ILogger<PartSessions> log) : IPartSessions
{
    private const int MostLive = 200;
    private readonly Dictionary<Guid, (IPartSession Session, DateTime Used)> live = [];
    private readonly SemaphoreSlim turn = new(1);

    public async Task<IPartSession?> OpenAsync(Guid id, Guid owner)
    {
        await turn.WaitAsync();
        try
        {
            if (live.TryGetValue(id, out var known))
            {
                if (known.Session.Stored.Owner != owner)
                {
                    return null;
                }

                live[id] = (known.Session, DateTime.UtcNow);
                return known.Session;
            }

            if (await store.LoadAsync(id, owner) is not { } stored)
            {
                return null;
            }

            var session = new PartSession(stored, store, keeper, workers, audience, log);
            live[id] = (session, DateTime.UtcNow);
            if (live.Count > MostLive)
            {
                live.Remove(live.MinBy(p => p.Value.Used).Key);
            }

            return session;
        }
        finally
        {
            turn.Release();
        }
    }

    public void Forget(Guid id)
    {
        turn.Wait();
        live.Remove(id);
        turn.Release();
    }
}
