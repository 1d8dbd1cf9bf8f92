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

/// <summary>The part rebuilt after each change, by a worker.</summary>
internal sealed partial class OwnedPart
{
    /// <summary>Builds the newest there is, again and again, for as long as the part is live.</summary>
    private async Task BuildAsync()
    {
        try
        {
            await foreach (var _ in changes.Reader.ReadAllAsync(closing.Token))
            {
                var stored = Stored;
                if (now.Settled && !again)
                {
                    continue;
                }

                again = false;

                var result = await BuiltAsync(stored);

                // A change that came meanwhile has written another word.
                Become(at => PartMoment.Of(at.Stored, new BuiltPart(stored.Revision, result)));
                listener.Became();
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
                listener.Building(step);
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
                    worker =>
                        Volatile.Read(ref stopped) >= stored.Revision
                            ? throw new WorkerFailedException(null, WorkerFailure.Stopped)
                            : worker.RebuildAsync(bytes, oneByOne: tries++ > 0),
                    new WorkerNews(Building, TellShare)
                );
            }

            if (told)
            {
                listener.Building(null);
            }

            Figures.Rebuilt(clock.Elapsed, "built", packed.Length);
            return MessagePackSerializer.Deserialize<RebuildResult>(packed, WorkerFormat.Options);
        }
        catch (WorkerFailedException failure)
        {
            Figures.Rebuilt(clock.Elapsed, "failed", 0);
            listener.Building(null);
            if (failure.Why == WorkerFailure.NoTimeLeft)
            {
                _ = AgainAfterAsync(failure.Wait);
            }

            return Unfinished(stored.Part, failure.Step, failure.Words);
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

    /// <summary>Builds it once more when there is time for its account again.</summary>
    private async Task AgainAfterAsync(TimeSpan wait)
    {
        await Task.Delay(wait, closing.Token).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        again = true;
        changes.Writer.TryWrite(true);
    }

    /// <summary>Lets the worker build what is shown already, so that the first change finds it built.</summary>
    private async Task PrepareAsync(byte[] bytes)
    {
        await Task.Delay(options.Prepare);
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

    private void TellShare(double share) => listener.Share(share);
}
