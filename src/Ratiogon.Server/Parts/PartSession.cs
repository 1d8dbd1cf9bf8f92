using System.Collections.Immutable;
using Orleans.Runtime;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Server.Cluster;
using Ratiogon.Server.Safety;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Parts;

/// <summary>
/// A part as this server follows it: how it stands lies here, so that hovering and dragging ask nobody; what changes or builds it is asked
/// of who owns it in the cluster. Where that server ends, the part begins to live at another one and this goes on with it.
/// </summary>
internal sealed class PartSession : IPartSession, IPartFollower, IDisposable
{
    /// <summary>Longer than any rebuild may take.</summary>
    private static readonly TimeSpan MostWaited = TimeSpan.FromMinutes(3);

    /// <summary>Longer than it takes the cluster to find out that a server has ended, and between two tries.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20),
        Again = TimeSpan.FromMilliseconds(200);

    /// <summary>How soon the news of an edit should be here by the cluster, before it is asked for.</summary>
    private static readonly TimeSpan OnTheWay = TimeSpan.FromMilliseconds(500);
    private readonly IPartGrain grain;
    private readonly IPartFollower me;
    private readonly IGrainFactory cluster;
    private readonly IPartAudience audience;
    private readonly Recent recent = new();
    private readonly SemaphoreSlim turn = new(1);
    private readonly Lock gate = new();
    private readonly CancellationTokenSource closing = new();
    private volatile PartMoment now = null!;

    /// <summary>Done when another moment has come.</summary>
    private volatile TaskCompletionSource next = NewSignal();
    private Guid owner;
    private int watchers;

    private PartSession(Guid id, Guid account, IGrainFactory cluster, IPartAudience audience)
    {
        (Id, Owner, this.cluster, this.audience) = (id, account, cluster, audience);
        grain = cluster.GetGrain<IPartGrain>(id, account.ToString("N"));
        me = cluster.CreateObjectReference<IPartFollower>(this);
    }

    /// <summary>Begins to follow a part; null where this account has none of that id.</summary>
    public static async Task<PartSession?> OpenAsync(Guid id, Guid account, IGrainFactory cluster, IPartAudience audience)
    {
        var session = new PartSession(id, account, cluster, audience);
        try
        {
            if (await session.FollowAsync())
            {
                return session;
            }
        }
        catch
        {
            session.Forget();
            throw;
        }

        session.Forget();
        return null;
    }

    public Guid Id { get; }

    public Guid Owner { get; }

    public PartMoment Now => now;

    private StoredPart Stored => now.Stored;

    /// <summary>When somebody asked for it last, or stopped following it.</summary>
    public DateTimeOffset Used { get; set; } = DateTimeOffset.UtcNow;

    /// <summary>Whether anybody follows it.</summary>
    public bool Watched => Volatile.Read(ref watchers) > 0;

    public IDisposable Watch()
    {
        Interlocked.Increment(ref watchers);
        return new Watching(this);
    }

    /// <summary>It is followed no longer.</summary>
    public void Dispose() => closing.Cancel();

    /// <summary>The same, and who owns it is told.</summary>
    public async Task LeaveAsync()
    {
        Dispose();
        try
        {
            await grain.UnfollowAsync(me);
        }
        catch (OrleansException)
        {
            // Who owned it has ended.
        }

        Forget();
    }

    private void Forget()
    {
        Dispose();
        cluster.DeleteObjectReference<IPartFollower>(me);
    }

    /// <summary>Begins to follow the part, or makes sure that it is followed still and that nothing was missed. Answers whether it is
    /// there.</summary>
    public async Task<bool> FollowAsync(bool anew = false)
    {
        await turn.WaitAsync();
        try
        {
            while (true)
            {
                var known = anew || now is null ? default : new Known(owner, Stored.Revision, now.Revision);
                if (await OwnerAsync(g => g.FollowAsync(me, known)) is not { } followed)
                {
                    return false;
                }

                owner = followed.Owner;
                try
                {
                    await TakeAsync(followed.News);
                    return true;
                }
                catch (LostThreadException) when (!anew)
                {
                    // What is here is too old to build on: all of it, once.
                    anew = true;
                }
            }
        }
        finally
        {
            turn.Release();
        }
    }

    public async Task BecameAsync(MomentNews news)
    {
        try
        {
            await turn.WaitAsync();
            try
            {
                await TakeAsync(news);
            }
            finally
            {
                turn.Release();
            }
        }
        catch (LostThreadException)
        {
            // It asks by itself, once this call is over.
            _ = FollowAsync(anew: true).ContinueWith(t => t.Exception, TaskScheduler.Default);
        }
    }

    public Task BuildingAsync(string? step) => audience.BuildingAsync(Id, step);

    public Task ShareAsync(double share) => audience.ShareAsync(Id, share);

    /// <summary>Takes what is newer than what is here, and tells who looks on.</summary>
    private async Task TakeAsync(MomentNews news)
    {
        var stored = news.StoredOver(recent.Find);
        var (changed, built, before) = (false, default(BuiltPart), default(PartMoment));
        lock (gate)
        {
            before = now;
            var mine = before is null ? null : BuiltPart.Of(before);
            built = news.BuiltOver(mine);
            built = built?.Revision >= (mine?.Revision ?? 0) ? built : null;
            changed = stored is not null && stored.Revision > (before?.Stored.Revision ?? 0);
            if (!changed && built is null)
            {
                return;
            }

            if (changed)
            {
                recent.Add(stored!);
            }

            now = PartMoment.Of(changed ? stored! : before!.Stored, built ?? mine);
            var told = next;
            next = NewSignal();
            told.TrySetResult();
        }

        if (changed && before is not null)
        {
            await audience.ChangedAsync(Id, stored!.Revision);
        }

        if (built is not null)
        {
            var of = recent.Find(built.Revision)?.Part ?? Stored.Part;
            await audience.RebuiltAsync(Id, of, built.Revision, built.Result);
        }
    }

    /// <summary>Hears of a revision from the database: usually the cluster was faster.</summary>
    public async Task HearAsync(long revision)
    {
        if (now.Revision < revision)
        {
            await Task.Delay(OnTheWay);
        }

        if (now.Revision >= revision)
        {
            return;
        }

        // Not here, or not built: who owns it may not have heard, or have heard and not have reached who follows here.
        await OwnerAsync(async g =>
        {
            await g.HearAsync(revision);
            return true;
        });
        await FollowAsync();
    }

    private static TaskCompletionSource NewSignal() => new(TaskCreationOptions.RunContinuationsAsynchronously);

    public async Task<Model> ModelAsync()
    {
        var at = await SettledAsync();
        return Model.Of(at.Present, at.Result);
    }

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

    public Task<Outcome<StoredPart>> ApplyAsync(PartCommand command, Guid account, long? expected = null) =>
        EditAsync(command.Words, expected, (g, on, known) => g.ApplyAsync(new(command), account, on, known));

    public Task<Outcome<StoredPart>> UndoAsync(Guid account, long? expected = null) =>
        EditAsync(null, expected, (g, on, known) => g.UndoAsync(account, on, known));

    public Task<Outcome<StoredPart>> RedoAsync(Guid account, long? expected = null) =>
        EditAsync(null, expected, (g, on, known) => g.RedoAsync(account, on, known));

    public Task<Outcome<StoredPart>> ReplaceAsync(Part state, string words, Guid account, long? expected = null) =>
        EditAsync(words, expected, (g, on, known) => g.ReplaceAsync(new(state), words, account, on, known));

    public Task<Outcome<StoredPart>> ImportBodyAsync(byte[] file, string name, string? step, Guid account) =>
        EditAsync(null, null, (g, _, known) => g.ImportBodyAsync(new(file), name, step, account, known));

    public Task<Outcome<Imported>> ImportMeshAsync(byte[] file, string name, MeshUnit? unit, string? step, Guid account) =>
        ReadAsync((g, known) => g.ImportMeshAsync(new(file), name, unit, step, account, known));

    public Task<Outcome<Imported>> ImportSvgAsync(byte[] file, string name, string? sketch, Guid account) =>
        ReadAsync((g, known) => g.ImportSvgAsync(new(file), name, sketch, account, known));

    private async Task<Outcome<Imported>> ReadAsync(Func<IPartGrain, long, Task<EditAnswer>> read)
    {
        var said = ImmutableArray<string>.Empty;
        var done = await EditAsync(null, null, async (g, _, known) =>
        {
            var answer = await read(g, known);
            said = [.. answer.Said];
            return answer;
        });
        return done.Map(part => new Imported(part, said));
    }

    /// <summary>An edit, made once: where who owned the part ended before it answered, the part itself says whether it was made.</summary>
    /// <param name="words">By which it would stand last in the log; null where that says nothing.</param>
    /// <param name="expected">The revision that it is made on; null for whichever there is.</param>
    /// <param name="edit">Asks for it, of the owner, on a revision, by one who has that.</param>
    private async Task<Outcome<StoredPart>> EditAsync(string? words, long? expected, Func<IPartGrain, long?, long, Task<EditAnswer>> edit)
    {
        var from = Stored;
        try
        {
            return await TakenAsync(await edit(grain, expected, from.Revision), from);
        }
        catch (OrleansException)
        {
            // Looked at below.
        }

        if (!await FollowAsync())
        {
            return PartGrain.Gone;
        }

        var (there, on) = (Stored, expected ?? from.Revision);
        if (there.Revision == on)
        {
            return await TakenAsync(await OwnerAsync(g => edit(g, on, on)), there);
        }

        return
            there.Revision == on + 1
            && words is not null
            && !there.Undo.IsEmpty
            && there.Undo.Peek() is var last
            && last.Revision == there.Revision
            && last.Words == words
            ? there
            : new Refusal(
                "edit.unsure",
                "The server that had this part ended before it answered. Look at the part: the change may have been made already."
            );
    }

    /// <param name="answer">To an edit.</param>
    /// <param name="from">What was here when it was asked for.</param>
    private async Task<Outcome<StoredPart>> TakenAsync(EditAnswer answer, StoredPart from)
    {
        var stored = answer.News?.StoredOver(revision => revision == from.Revision ? from : null);
        if (stored is not null)
        {
            await TakeAsync(MomentNews.Of(stored, null, null, null));
        }

        return answer.Refusal is { } refused ? refused.Value : stored!;
    }

    public Task<Outcome<string>> GaugeAsync(string draft, string? input) => AskedAsync(g => g.GaugeAsync(draft, input));

    public Task<Outcome<DrivesReply>> DrivesAsync(string reading) => AskedAsync(g => g.DrivesAsync(reading));

    public Task<Outcome<byte[]>> AskAsync(Core.Asking.Question question) => AskedAsync(g => g.AskAsync(new(question)));

    public Task<Outcome<byte[]>> ExportVariantsAsync(string ending, string? only) => AskedAsync(g => g.ExportVariantsAsync(ending, only));

    public async Task<ImmutableArray<GaugeShown>> ReadingsAsync(ImmutableArray<string> picks)
    {
        var readings = await AskedAsync(g => g.ReadingsAsync(new(picks)));
        return readings.Done ? readings.Value : [];
    }

    public async Task<Outcome<ImmutableArray<SectionCurve>>> SectionAsync(Frame plane)
    {
        var (o, x, y) = (plane.Origin, plane.X, plane.Y);
        var answer = await AskedAsync(g => g.SectionAsync([o.X, o.Y, o.Z, x.X, x.Y, x.Z, y.X, y.Y, y.Z]));
        return answer.Then<ImmutableArray<SectionCurve>>(a => a.Refusal is { } refused ? new Refusal("copy.section", refused) : Curves(a));
    }

    private static ImmutableArray<SectionCurve> Curves(SectionAnswer section) =>
        [
            .. section
                .Faces.Select(
                    (face, i) =>
                        (
                            face,
                            Curve: ShapeNumbers.CurveOf(
                                new EdgeShape(section.Curves[i], [], [], 0, Vec3.Zero) { Numbers = [.. section.Numbers[i]] }
                            )
                        )
                )
                .Where(c => c.Curve is not null)
                .Select(c => new SectionCurve(c.face, c.Curve!)),
        ];

    public Task<Outcome<byte[]>> ExportAsync(string ending, ExportOptions options) => AskedAsync(g => g.ExportAsync(ending, new(options)));

    public Task<Outcome<ExportPreview>> PreviewExportAsync(string ending, ExportOptions options) =>
        AskedAsync(g => g.PreviewExportAsync(ending, new(options)));

    public Task<Outcome<RebuildResult>> TryAsync(Part part, bool quick = false) => AskedAsync(g => g.TryAsync(new(part), quick));

    public Task<Outcome<byte[]?>> PictureAsync(Part state, bool dark) => AskedAsync(g => g.PictureAsync(new(state), dark));

    public Task<Outcome<ImmutableArray<Stretch>>> ProbeAsync(Line3 line)
    {
        var (o, d) = (line.Origin, line.Direction);
        return AskedAsync(g => g.ProbeAsync([o.X, o.Y, o.Z, d.X, d.Y, d.Z]));
    }

    public Task<Outcome<ImmutableArray<Inertia>>> InertiaAsync() => AskedAsync(g => g.InertiaAsync());

    public Task<bool> StopAsync() => OwnerAsync(g => g.StopAsync());

    private async Task<Outcome<T>> AskedAsync<T>(Func<IPartGrain, Task<Answer<T>>> ask) => (await OwnerAsync(ask)).Outcome;

    /// <summary>Asks who owns the part; where that server has ended, whoever owns it next.</summary>
    private async Task<T> OwnerAsync<T>(Func<IPartGrain, Task<T>> ask)
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        while (true)
        {
            try
            {
                return await ask(grain);
            }
            catch (OrleansException e)
            {
                if (clock.Elapsed > Patience)
                {
                    throw new AwayException(Away.OwnerCode, e);
                }

                await Task.Delay(Again);
            }
        }
    }

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
