using System.Collections.Immutable;
using Microsoft.Extensions.Options;
using Orleans.Concurrency;
using Orleans.Placement;
using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Server.Parts;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Cluster;

/// <summary>
/// The owner of a part, at the server through which it was asked for first. What is asked comes side by side, and none of it is worked
/// out on the cluster's own threads; the part itself keeps edits in their order.
/// </summary>
[Reentrant, PreferLocalPlacement]
internal sealed class PartGrain(PartStore store, Keeper keeper, WorkerPool workers, IOptions<LiveOptions> options, ILogger<PartGrain> log)
    : Grain,
        IPartGrain
{
    /// <summary>What is answered for a part that is not there.</summary>
    public static readonly Refusal Gone = new("part.unknown", "There is no such part.");

    private readonly Guid me = Guid.NewGuid();
    private readonly Followers followers = new();
    private Task<OwnedPart?>? loading;

    private Guid Id => this.GetPrimaryKey(out _);

    private Guid Owner
    {
        get
        {
            _ = this.GetPrimaryKey(out var owner);
            return Guid.Parse(owner!);
        }
    }

    /// <summary>The part, read once whoever asks at the same time; what failed is tried again by the next.</summary>
    private async Task<OwnedPart?> PartAsync()
    {
        var mine = loading ??= LoadAsync();
        try
        {
            if (await mine is { } part)
            {
                return part;
            }
        }
        catch
        {
            Forget(mine);
            throw;
        }

        Forget(mine);
        return null;
    }

    /// <summary>The same, not older than who asks has it: a server that was given up may have kept one more edit.</summary>
    private async Task<OwnedPart?> PartAsync(long known)
    {
        var part = await PartAsync();
        if (part is not null && part.Now.Stored.Revision < known)
        {
            await Task.Run(() => part.HearAsync(known));
        }

        return part;
    }

    private void Forget(Task<OwnedPart?> loaded)
    {
        if (ReferenceEquals(loading, loaded))
        {
            loading = null;
        }
    }

    private async Task<OwnedPart?> LoadAsync()
    {
        var (id, owner) = (Id, Owner);
        return await Task.Run(async () =>
            await store.LoadAsync(id, owner) is { } stored
                ? new OwnedPart(stored, store, keeper, workers, followers, options.Value, log)
                : null
        );
    }

    public override Task OnDeactivateAsync(DeactivationReason reason, CancellationToken cancellationToken)
    {
        if (loading is { IsCompletedSuccessfully: true, Result: { } part })
        {
            part.Dispose();
        }

        return base.OnDeactivateAsync(reason, cancellationToken);
    }

    public async Task<Followed?> FollowAsync(IPartFollower follower, Known known)
    {
        // Deleted by another server a moment ago, it may be live here still; who only says that it goes on following would have heard.
        var (id, owner) = (Id, Owner);
        var there = known.Owner == me || await Task.Run(() => store.IsThereAsync(id, owner));
        if (!there || await PartAsync(known.Stored) is not { } part)
        {
            await GoneAsync();
            return null;
        }

        return new Followed(me, followers.Add(follower, part, known.Owner == me ? known : known with { Built = 0 }));
    }

    public Task UnfollowAsync(IPartFollower follower)
    {
        if (followers.Remove(follower))
        {
            DeactivateOnIdle();
        }

        return Task.CompletedTask;
    }

    public async Task HearAsync(long revision)
    {
        if (loading is { } mine && await mine is { } part)
        {
            await Task.Run(() => part.HearAsync(revision));
        }
    }

    public Task GoneAsync()
    {
        DeactivateOnIdle();
        return Task.CompletedTask;
    }

    public Task<EditAnswer> ApplyAsync(Carried<PartCommand> command, Guid account, long? expected, long known) =>
        EditedAsync(known, part => part.ApplyAsync(command.Value, account, expected));

    public Task<EditAnswer> UndoAsync(Guid account, long? expected, long known) =>
        EditedAsync(known, part => part.UndoAsync(account, expected));

    public Task<EditAnswer> RedoAsync(Guid account, long? expected, long known) =>
        EditedAsync(known, part => part.RedoAsync(account, expected));

    public Task<EditAnswer> ReplaceAsync(Carried<Part> state, string words, Guid account, long? expected, long known) =>
        EditedAsync(known, part => part.ReplaceAsync(state.Value, words, account, expected));

    public Task<EditAnswer> ImportBodyAsync(Carried<byte[]> file, string name, string? step, Guid account, long known) =>
        EditedAsync(known, part => part.ImportBodyAsync(file.Value, name, step, account));

    public Task<EditAnswer> ImportMeshAsync(
        Carried<byte[]> file,
        string name,
        Core.Meshes.MeshUnit? unit,
        string? step,
        Guid account,
        long known
    ) => ReadAsync(known, part => part.ImportMeshAsync(file.Value, name, unit, step, account));

    public Task<EditAnswer> ImportSvgAsync(Carried<byte[]> file, string name, string? sketch, Guid account, long known) =>
        ReadAsync(known, part => part.ImportSvgAsync(file.Value, name, sketch, account));

    public Task<Answer<string>> GaugeAsync(string draft, string? input) => AskedAsync(part => part.GaugeAsync(draft, input));

    public Task<Answer<DrivesReply>> DrivesAsync(string reading) => AskedAsync(part => part.DrivesAsync(reading));

    public Task<Answer<byte[]>> AskAsync(Carried<Question> question) => AskedAsync(part => part.AskAsync(question.Value));

    public Task<Answer<byte[]>> ExportVariantsAsync(string ending, string? only) =>
        AskedAsync(part => part.ExportVariantsAsync(ending, only));

    public Task<Answer<ImmutableArray<GaugeShown>>> ReadingsAsync(Carried<ImmutableArray<string>> picks) =>
        AskedAsync<ImmutableArray<GaugeShown>>(async part => await part.ReadingsAsync(picks.Value));

    public Task<Answer<SectionAnswer>> SectionAsync(double[] plane) => AskedAsync(part => part.SectionAsync(plane));

    public Task<Answer<byte[]>> ExportAsync(string ending, Carried<ExportOptions> options) =>
        AskedAsync(part => part.ExportAsync(ending, options.Value));

    public Task<Answer<ExportPreview>> PreviewExportAsync(string ending, Carried<ExportOptions> options) =>
        AskedAsync(part => part.PreviewExportAsync(ending, options.Value));

    public Task<Answer<RebuildResult>> TryAsync(Carried<Part> part, bool quick) => AskedAsync(own => own.TryAsync(part.Value, quick));

    public Task<Answer<byte[]?>> PictureAsync(Carried<Part> state, bool dark) => AskedAsync(part => part.PictureAsync(state.Value, dark));

    public Task<Answer<ImmutableArray<Stretch>>> ProbeAsync(double[] line) => AskedAsync(part => part.ProbeAsync(line));

    public Task<Answer<ImmutableArray<Inertia>>> InertiaAsync() => AskedAsync(part => part.InertiaAsync());

    public async Task<bool> StopAsync() => await PartAsync() is { } part && part.Stop();

    private async Task<Answer<T>> AskedAsync<T>(Func<OwnedPart, Task<Outcome<T>>> ask) =>
        Answer<T>.Of(await PartAsync() is { } part ? await Task.Run(() => ask(part)) : Gone);

    private async Task<EditAnswer> EditedAsync(long known, Func<OwnedPart, Task<Outcome<StoredPart>>> edit) =>
        await PartAsync(known) is { } part ? Told(part, await Task.Run(() => edit(part)), known) : Told(Gone);

    private async Task<EditAnswer> ReadAsync(long known, Func<OwnedPart, Task<Outcome<Imported>>> read)
    {
        if (await PartAsync(known) is not { } part)
        {
            return Told(Gone);
        }

        var done = await Task.Run(() => read(part));
        return Told(part, done.Map(d => d.Part), known, done.Done ? [.. done.Value.Said] : []);
    }

    private static EditAnswer Told(Refusal refusal) => new() { Refusal = new(refusal) };

    /// <summary>Who is refused because the part is another one by now gets that with the refusal.</summary>
    private static EditAnswer Told(OwnedPart part, Outcome<StoredPart> done, long known, string[]? said = null)
    {
        var stored = done.Done ? done.Value : part.Now.Stored;
        return new EditAnswer
        {
            News = done.Done || stored.Revision != known ? MomentNews.Of(stored, part.Recent.Find(known), null, null) : null,
            Refusal = done.Done ? null : new(done.Refusal!),
            Said = said ?? [],
        };
    }
}
