using System.Collections.Concurrent;
using System.Text.Json;
using System.Threading.Channels;
using Ratiogon.Core.Parts;
using Ratiogon.Server.Safety;
using Ratiogon.Server.Workers;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Parts;

/// <summary>
/// Keeps what parts are built into, and draws their pictures, once nothing has changed for a moment: opening shows the one before
/// anything is built again, the list of parts shows the other. One part at a time, behind what somebody waits for.
/// </summary>
internal sealed partial class Keeper(PartStore parts, ModelStore models, WorkerPool workers, TimeProvider time, ILogger<Keeper> log)
    : Tended(TimeSpan.FromSeconds(1), time, log)
{
    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(2);
    private readonly Channel<Guid> queue = Channel.CreateUnbounded<Guid>();
    private readonly ConcurrentDictionary<Guid, DateTime> wanted = new();

    private void Want(Guid part)
    {
        var fresh = !wanted.ContainsKey(part);
        wanted[part] = DateTime.UtcNow;
        if (fresh)
        {
            queue.Writer.TryWrite(part);
        }
    }

    /// <summary>What a part is built into, where that is kept.</summary>
    public async Task<Core.Building.RebuildResult?> FindAsync(Guid part, byte[] bytes)
    {
        try
        {
            return await models.FindAsync(part, KeptModel.KeyOf(bytes)) is { } kept ? KeptModel.Unpack(kept) : null;
        }
        catch (Exception e) when (Away.Is(e))
        {
            // It is built instead.
            LogLost(log, e, part);
            return null;
        }
    }

    protected override string Failing => "What parts are built into is not kept just now";

    protected override async Task TendAsync(CancellationToken cancel)
    {
        parts.Kept += Want;
        try
        {
            await WantUndrawnAsync(cancel);
            await foreach (var part in queue.Reader.ReadAllAsync(cancel))
            {
                while (wanted.TryGetValue(part, out var since) && since + Quiet is var due && due > DateTime.UtcNow)
                {
                    await Task.Delay(due - DateTime.UtcNow + TimeSpan.FromMilliseconds(10), cancel);
                }

                wanted.TryRemove(part, out _);
                await TryKeepAsync(part, cancel);
            }
        }
        finally
        {
            parts.Kept -= Want;
        }
    }

    private async Task WantUndrawnAsync(CancellationToken cancel)
    {
        try
        {
            foreach (var part in await models.UndrawnAsync(cancel))
            {
                Want(part);
            }
        }
        catch (Exception e) when (!cancel.IsCancellationRequested)
        {
            LogLost(log, e, default);
        }
    }

    private async Task TryKeepAsync(Guid part, CancellationToken cancel)
    {
        try
        {
            await KeepAsync(part, cancel);
        }
        catch (Exception e) when (!cancel.IsCancellationRequested)
        {
            // Nothing is lost: it is built when it is opened. What ends a worker is not tried again before it is changed.
            LogLost(log, e, part);
        }
    }

    private async Task KeepAsync(Guid part, CancellationToken cancel)
    {
        if (await parts.LoadAsync(part, cancel) is not { } stored)
        {
            return;
        }

        var bytes = JsonSerializer.SerializeToUtf8Bytes(stored.Part, PartJson.Compact);
        var key = KeptModel.KeyOf(bytes);
        if (await models.IsKeptAsync(part, key, stored.Revision, cancel))
        {
            return;
        }

        var kept = await workers.RunAsync(
            new Work(stored.Owner, part, Waited: false),
            worker => worker.KeepsakeAsync(bytes),
            cancel: cancel
        );
        await models.KeepAsync(part, stored.Revision, key, kept.Model, kept.Light, kept.Dark, kept.Failing, cancel);
    }

    [LoggerMessage(LogLevel.Warning, "What part {Part} is built into was not kept")]
    private static partial void LogLost(ILogger log, Exception e, Guid part);
}
