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

/// <summary>Hears what happens to a part; the live link tells it to the browsers.</summary>
public interface IPartAudience
{
    Task ChangedAsync(Guid part, long revision);

    Task RebuiltAsync(Guid id, Part part, long revision, RebuildResult result);

    /// <summary>A rebuild that takes its time has come to a step; null when it has ended.</summary>
    Task BuildingAsync(Guid part, string? step);
}

/// <summary>One live part: the only place that changes it. Kept behind an interface so that it can live on another machine.</summary>
public interface IPartSession
{
    Guid Id { get; }

    /// <summary>The part as kept now.</summary>
    StoredPart Stored { get; }

    /// <summary>The last rebuild that ended, and the revision it was of.</summary>
    (RebuildResult Result, long Revision) Built { get; }

    /// <summary>The part with its sketches as the model has moved what they copy from it.</summary>
    Part Present { get; }

    /// <summary>What references name, as last built; waits for a rebuild under way.</summary>
    Task<Model> ModelAsync();

    /// <summary>Makes and keeps a change. With an expected revision a stale command is refused.</summary>
    Task<Outcome<StoredPart>> ApplyAsync(PartCommand command, Guid account, long? expected = null);

    Task<Outcome<StoredPart>> UndoAsync(Guid account, long? expected = null);

    Task<Outcome<StoredPart>> RedoAsync(Guid account, long? expected = null);

    /// <summary>Does one thing to a draft of the measuring tool, all of it JSON.</summary>
    Task<Outcome<string>> GaugeAsync(string draft, string? input);

    /// <summary>Every reading that picks have.</summary>
    Task<ImmutableArray<GaugeShown>> ReadingsAsync(ImmutableArray<string> picks);

    /// <summary>The curves where the body meets a plane.</summary>
    Task<Outcome<ImmutableArray<SectionCurve>>> SectionAsync(Frame plane);

    /// <summary>The part as a file of a format.</summary>
    Task<Outcome<byte[]>> ExportAsync(string ending, ExportOptions options);

    /// <summary>What that file would come to.</summary>
    Task<Outcome<ExportPreview>> PreviewExportAsync(string ending, ExportOptions options);

    /// <summary>Adds the body of a STEP or IGES file as a step, or puts it in place of the file of one that is there.</summary>
    Task<Outcome<StoredPart>> ImportBodyAsync(byte[] file, string name, string? step, Guid account);

    /// <summary>Adds the curves of an SVG file to a sketch, or as a new one on the world's xy plane.</summary>
    Task<Outcome<StoredPart>> ImportSvgAsync(byte[] file, string name, string? sketch, Guid account);

    /// <summary>Builds another state of the part without keeping it. The model as kept is not touched.</summary>
    Task<Outcome<RebuildResult>> TryAsync(Part part);

    /// <summary>The stretches of material along a line.</summary>
    Task<Outcome<ImmutableArray<Stretch>>> ProbeAsync(Line3 line);

    /// <summary>The inertia of every body.</summary>
    Task<Outcome<ImmutableArray<Inertia>>> InertiaAsync();

    /// <summary>Stops a rebuild under way; the part is not changed by it.</summary>
    bool Stop();

    /// <summary>Waits until the present revision is rebuilt.</summary>
    Task SettledAsync();
}

internal sealed class PartSession : IPartSession
{
    private readonly PartStore store;
    private readonly WorkerPool workers;
    private readonly IPartAudience audience;
    private readonly ILogger log;
    private static readonly TimeSpan UntilProgress = TimeSpan.FromSeconds(0.4);
    private readonly SemaphoreSlim turn = new(1);
    private readonly Lock rebuildGate = new();
    private Task rebuilding = Task.CompletedTask;
    private bool again;
    private (Part Of, Part Part)? followed;

    public PartSession(StoredPart stored, PartStore store, WorkerPool workers, IPartAudience audience, ILogger log)
    {
        (Stored, this.store, this.workers, this.audience, this.log) = (stored, store, workers, audience, log);
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
        ChangeAsync(part => Task.FromResult(command.Apply(part)), account, EditKind.Do, () => (command.Words, null), expected);

    public Task<Outcome<StoredPart>> UndoAsync(Guid account, long? expected = null) => StepBackAsync(account, expected, EditKind.Undo);

    public Task<Outcome<StoredPart>> RedoAsync(Guid account, long? expected = null) => StepBackAsync(account, expected, EditKind.Redo);

    public Task<Outcome<string>> GaugeAsync(string draft, string? input) => InWorkerAsync(worker => worker.GaugeAsync(PartBytes(), draft, input));

    public async Task<ImmutableArray<GaugeShown>> ReadingsAsync(ImmutableArray<string> picks)
    {
        var answer = await InWorkerAsync(worker => worker.ReadingsAsync(PartBytes(), [.. picks]));
        return answer.Done ? JsonSerializer.Deserialize<ImmutableArray<GaugeShown>>(answer.Value, PartJson.Compact) : [];
    }

    public async Task<Outcome<ImmutableArray<SectionCurve>>> SectionAsync(Frame plane)
    {
        double[] numbers = [plane.Origin.X, plane.Origin.Y, plane.Origin.Z, plane.X.X, plane.X.Y, plane.X.Z, plane.Y.X, plane.Y.Y, plane.Y.Z];
        var answer = await InWorkerAsync(worker => worker.SectionAsync(PartBytes(), numbers));
        return answer.Then<ImmutableArray<SectionCurve>>(a => a.Refusal is not null ? new Refusal("copy.section", a.Refusal)
            : a.Faces.Select((face, i) => (face, Curve: ShapeNumbers.CurveOf(new EdgeShape(a.Curves[i], [], [], 0, Vec3.Zero) { Numbers = [.. a.Numbers[i]] })))
                .Where(c => c.Curve is not null).Select(c => new SectionCurve(c.face, c.Curve!)).ToImmutableArray());
    }

    public async Task<Outcome<byte[]>> ExportAsync(string ending, ExportOptions options)
    {
        var answer = await InWorkerAsync(worker => worker.ExportAsync(PartBytes(), ending, JsonSerializer.Serialize(options, PartJson.Compact)));
        return answer.Then<byte[]>(f => f.File is not null ? f.File : new Refusal("export.refused", f.Refusal ?? "Nothing was written."));
    }

    public async Task<Outcome<ExportPreview>> PreviewExportAsync(string ending, ExportOptions options)
    {
        var answer = await InWorkerAsync(worker => worker.PreviewExportAsync(PartBytes(), ending, JsonSerializer.Serialize(options, PartJson.Compact)));
        return answer.Then<ExportPreview>(a => a.Text is not null ? JsonSerializer.Deserialize<ExportPreview>(a.Text, PartJson.Compact)! : new Refusal("export.refused", a.Refusal ?? "Nothing was written."));
    }

    public async Task<Outcome<StoredPart>> ImportBodyAsync(byte[] file, string name, string? step, Guid account)
    {
        var old = step is null ? null : Present.Find(step) as ImportStep;
        if (step is not null && old is null)
        {
            return new Refusal("import.no-step", $"'{Ids.Shorten(step)}' is no imported body.", step);
        }

        var before = old is null ? null : ImportedFile.Unpack(old.Content) is { Done: true, Value: var kept } ? kept.ToArray() : null;

        // Looked at in a worker first, so that a file that cannot be used never becomes a step.
        var looked = await InWorkerAsync(worker => worker.CheckImportAsync(file, name, before, old?.File ?? "", [.. old?.Faces ?? []]));
        if (!looked.Done || looked.Value.Refusal is not null)
        {
            return looked.Refusal is { } refused ? refused with { Code = "import.file", Message = $"The file could not be read. {refused.Message}" } : new Refusal("import.file", looked.Value.Refusal!);
        }

        var found = looked.Value;
        var packed = ImportedFile.Pack(file);
        PartCommand command = old is null
            ? new AddStep(new ImportStep("", 0, Path.GetFileNameWithoutExtension(name), name, packed) { Faces = [.. found.Faces], Colour = found.Colour, Apart = !Built.Result.Bodies.IsEmpty })
            : new ReplaceStep(old with { File = name, Content = packed, Faces = [.. found.Faces], Colour = found.Colour });
        return await ApplyAsync(command, account);
    }

    public async Task<Outcome<StoredPart>> ImportSvgAsync(byte[] file, string name, string? sketch, Guid account)
    {
        var into = sketch is null ? null : Present.Find(sketch) as SketchStep;
        if (sketch is not null && into is null)
        {
            return new Refusal("import.no-sketch", $"'{Ids.Shorten(sketch)}' is no sketch.", sketch);
        }

        var read = await InWorkerAsync(worker => worker.ReadSvgAsync(file, JsonSerializer.Serialize(into?.Sketch ?? Sketch.Empty, PartJson.Compact)));
        if (!read.Done || read.Value.Text is null)
        {
            return read.Refusal ?? new Refusal("import.svg", read.Value.Refusal ?? "Nothing was read.");
        }

        var edit = JsonSerializer.Deserialize<SketchEdit>(read.Value.Text, PartJson.Compact)!;
        var words = $"import {name}";
        var id = into?.Id ?? Ids.Next("sketch", Present.Steps.Select(s => s.Id).ToHashSet(StringComparer.Ordinal));
        return await ApplyAsync(into is not null ? new EditSketch(id, edit, words)
            : new Several([new AddStep(new SketchStep(id, 0, Path.GetFileNameWithoutExtension(name), World.Xy, Sketch.Empty)), new EditSketch(id, edit, words)], words), account);
    }

    public async Task<Outcome<RebuildResult>> TryAsync(Part part)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(part, PartJson.Compact);
        var answer = await InWorkerAsync(worker => worker.RebuildAsync(bytes));
        return answer.Map(packed => MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options));
    }

    public async Task<Outcome<ImmutableArray<Stretch>>> ProbeAsync(Line3 line)
    {
        double[] numbers = [line.Origin.X, line.Origin.Y, line.Origin.Z, line.Direction.X, line.Direction.Y, line.Direction.Z];
        var answer = await InWorkerAsync(worker => worker.ProbeAsync(PartBytes(), numbers));
        return answer.Map(packed => MessagePackSerializer.Deserialize<ImmutableArray<Stretch>>(packed, WorkerFormat.Options));
    }

    public async Task<Outcome<ImmutableArray<Inertia>>> InertiaAsync()
    {
        var answer = await InWorkerAsync(worker => worker.InertiaAsync(PartBytes()));
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
            Built = (result, stored.Revision);
            await audience.RebuiltAsync(Id, stored.Part, stored.Revision, result);
        }
    }

    private async Task<RebuildResult> RebuildOnceAsync(StoredPart stored)
    {
        var bytes = JsonSerializer.SerializeToUtf8Bytes(stored.Part, PartJson.Compact);
        try
        {
            var slow = DateTime.UtcNow + UntilProgress;
            var told = false;
            var packed = await workers.RunAsync(Id, worker => worker.RebuildAsync(bytes), step =>
            {
                if (DateTime.UtcNow > slow)
                {
                    told = true;
                    _ = audience.BuildingAsync(Id, step);
                }
            });
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

    /// <summary>What is shown when a worker gave up: the step it was at, with the bodies as they last were.</summary>
    private RebuildResult Unfinished(Part part, string? step, string what)
    {
        var at = part.Find(step ?? "")?.Number ?? 0;
        return new RebuildResult(
            [.. part.Steps.Select(s => s.Number < at ? Built.Result.Step(s.Id) ?? new StepResult(s.Id, StepState.Waiting, "")
                : new StepResult(s.Id, s.Id == step || step is null ? StepState.Failed : StepState.Waiting,
                    s.Id == step || step is null ? $"This step {what}. Nothing is lost: change it, suppress it or undo." : $"Waits for step {at}."))],
            Built.Result.Bodies);
    }

    private async Task<Outcome<T>> InWorkerAsync<T>(Func<IWorker, Task<T>> work)
    {
        try
        {
            return await workers.RunAsync(Id, work);
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

    private byte[] PartBytes() => JsonSerializer.SerializeToUtf8Bytes(Stored.Part, PartJson.Compact);
}

/// <summary>The live parts of this server.</summary>
public interface IPartSessions
{
    /// <summary>The session of a part, or null when there is none of that id for this owner.</summary>
    Task<IPartSession?> OpenAsync(Guid id, Guid owner);

    /// <summary>Forgets a part that was deleted.</summary>
    void Forget(Guid id);
}

internal sealed class PartSessions(PartStore store, WorkerPool workers, IPartAudience audience, ILogger<PartSessions> log) : IPartSessions
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

            var session = new PartSession(stored, store, workers, audience, log);
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
