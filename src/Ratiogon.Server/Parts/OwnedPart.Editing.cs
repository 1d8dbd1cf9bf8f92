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

/// <summary>What is done to the part: one change after the other, kept before it is told.</summary>
internal sealed partial class OwnedPart
{
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
                    listener.Became();
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

        listener.Became();
        return done;
    }

    /// <summary>Takes what another server has kept, and tells of it; of what was kept here nothing is new.</summary>
    public async Task HearAsync(long revision)
    {
        await turn.WaitAsync();
        try
        {
            if (
                revision <= Stored.Revision
                || await store.LoadAsync(Id, Stored.Owner) is not { } theirs
                || theirs.Revision <= Stored.Revision
            )
            {
                return;
            }

            Take(theirs);
        }
        finally
        {
            turn.Release();
        }

        listener.Became();
    }

    /// <summary>What is kept now; it is built next.</summary>
    private void Take(StoredPart stored)
    {
        Recent.Add(stored);
        Become(at => PartMoment.Of(stored, BuiltPart.Of(at)));
        changes.Writer.TryWrite(true);
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
}
