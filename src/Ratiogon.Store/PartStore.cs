using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Store;

/// <summary>A part in the list.</summary>
/// <param name="Id">Of the part.</param>
/// <param name="Name">As it is called.</param>
/// <param name="Changed">When it was changed last.</param>
/// <param name="Steps">How many it has.</param>
/// <param name="HasPicture">Whether there is anything to see of it.</param>
/// <param name="Drawn">The revision that its picture shows; 0 where none was drawn yet.</param>
/// <param name="Revision">The revision that it has.</param>
public sealed record PartListing(Guid Id, string Name, DateTimeOffset Changed, int Steps, bool HasPicture, long Drawn, long Revision);

/// <summary>An edit that can be taken back or made again.</summary>
public sealed record UndoEntry(long Revision, string Words);

/// <summary>A part as kept, with what can be undone and redone, the next one last.</summary>
public sealed record StoredPart(
    Guid Id,
    Guid Owner,
    Part Part,
    long Revision,
    DateTimeOffset Changed,
    ImmutableStack<UndoEntry> Undo,
    ImmutableStack<UndoEntry> Redo
);

/// <summary>Reads and writes parts. Everything is asked for by owner; what belongs to somebody else is not there.</summary>
public sealed class PartStore(IDbContextFactory<RatiogonDb> databases)
{
    /// <summary>Told the id of a part that was made or changed here, once that is kept.</summary>
    public event Action<Guid>? Kept;

    /// <summary>Says so of parts that were made otherwise.</summary>
    public void Tell(IEnumerable<Guid> made)
    {
        ArgumentNullException.ThrowIfNull(made);
        foreach (var part in made)
        {
            Kept?.Invoke(part);
        }
    }

    public async Task<IReadOnlyList<PartListing>> ListAsync(Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db
            .Parts.Where(p => p.OwnerId == owner)
            .OrderByDescending(p => p.Changed)
            .Select(p => new PartListing(
                p.Id,
                p.Name,
                p.Changed,
                db.Steps.Count(s => s.PartId == p.Id),
                p.Picture != null,
                p.PictureOf,
                p.Revision
            ))
            .ToListAsync(cancel);
    }

    public async Task<Guid> CreateAsync(Guid owner, Part part, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(part);
        await using var db = await databases.CreateDbContextAsync(cancel);
        var row = new PartRow
        {
            Id = Guid.CreateVersion7(),
            OwnerId = owner,
            Name = part.Name,
            Header = Header(part),
            Revision = 1,
            Created = Now(),
            Changed = Now(),
        };
        db.Parts.Add(row);
        db.Steps.AddRange(part.Steps.Select(s => Row(row.Id, s)));
        await db.SaveChangesAsync(cancel);
        Kept?.Invoke(row.Id);
        return row.Id;
    }

    /// <summary>The part, or null when there is none of that id or it is somebody else's.</summary>
    public async Task<StoredPart?> LoadAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var row = await db.Parts.AsNoTracking().FirstOrDefaultAsync(p => p.Id == id && p.OwnerId == owner, cancel);
        return row is null ? null : await LoadAsync(db, row, cancel);
    }

    /// <summary>The part, whoever owns it: for what the server does by itself.</summary>
    public async Task<StoredPart?> LoadAsync(Guid id, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var row = await db.Parts.AsNoTracking().FirstOrDefaultAsync(p => p.Id == id, cancel);
        return row is null ? null : await LoadAsync(db, row, cancel);
    }

    private static async Task<StoredPart> LoadAsync(RatiogonDb db, PartRow row, CancellationToken cancel)
    {
        var id = row.Id;

        var steps = await db
            .Steps.Where(s => s.PartId == id)
            .OrderBy(s => s.Number)
            .Select(s => new
            {
                s.StepId,
                s.Number,
                s.Body,
            })
            .ToListAsync(cancel);
        var edits = await db
            .Edits.Where(e => e.PartId == id)
            .OrderBy(e => e.Revision)
            .Select(e => new
            {
                e.Revision,
                e.Kind,
                e.Words,
                e.Of,
            })
            .ToListAsync(cancel);
        var (undo, redo) = (ImmutableStack<UndoEntry>.Empty, ImmutableStack<UndoEntry>.Empty);
        foreach (var edit in edits)
        {
            switch (edit.Kind)
            {
                case EditKind.Do:
                    (undo, redo) = (undo.Push(new UndoEntry(edit.Revision, edit.Words)), []);
                    break;
                case EditKind.Undo:
                    (undo, redo) = (undo.Pop(out var undone), redo.Push(undone));
                    break;
                default:
                    redo = redo.Pop(out var redone);
                    undo = undo.Push(redone);
                    break;
            }
        }

        var part = JsonSerializer.Deserialize<Part>(row.Header, PartJson.Compact)! with
        {
            Steps = [.. steps.Select(s => StepOf(s.StepId, s.Number, s.Body))],
        };
        return new StoredPart(id, row.OwnerId, part, row.Revision, row.Changed, undo, redo);
    }

    /// <summary>Keeps one change and its entry in the edit log, in one transaction. Null when somebody else was faster.</summary>
    public async Task<StoredPart?> SaveAsync(
        StoredPart before,
        Part after,
        Guid account,
        EditKind kind,
        string words,
        long? of,
        CancellationToken cancel = default
    )
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        var change = PartChange.Between(before.Part, after);
        await using var db = await databases.CreateDbContextAsync(cancel);
        var row = await db.Parts.FirstOrDefaultAsync(p => p.Id == before.Id, cancel);
        if (row is null || row.Revision != before.Revision)
        {
            return null;
        }

        (row.Revision, row.Changed, row.Name, row.Header) = (before.Revision + 1, Now(), after.Name, Header(after));
        foreach (var step in change.StepsBefore.Where(s => after.Find(s.Id) is null))
        {
            db.Steps.Remove(
                new StepRow
                {
                    PartId = before.Id,
                    StepId = step.Id,
                    Body = "",
                }
            );
        }

        foreach (var step in change.StepsAfter)
        {
            db.Entry(Row(before.Id, step)).State = before.Part.Find(step.Id) is null ? EntityState.Added : EntityState.Modified;
        }

        db.Edits.Add(
            new EditRow
            {
                PartId = before.Id,
                Revision = row.Revision,
                At = row.Changed,
                AccountId = account,
                Kind = kind,
                Of = of,
                Words = words.Length > 300 ? words[..300] : words,
                Change = change.ToJson(),
            }
        );
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateConcurrencyException)
        {
            return null;
        }

        Kept?.Invoke(before.Id);
        var entry = new UndoEntry(row.Revision, words);
        var (undo, redo) = kind switch
        {
            EditKind.Do => (before.Undo.Push(entry), []),
            EditKind.Undo => (before.Undo.Pop(), before.Redo.Push(before.Undo.Peek())),
            _ => (before.Undo.Push(before.Redo.Peek()), before.Redo.Pop()),
        };
        return before with { Part = after, Revision = row.Revision, Changed = row.Changed, Undo = undo, Redo = redo };
    }

    public async Task<PartChange> ChangeAsync(Guid id, long revision, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return PartChange.FromJson(
            await db.Edits.Where(e => e.PartId == id && e.Revision == revision).Select(e => e.Change).SingleAsync(cancel)
        );
    }

    public async Task<bool> DeleteAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Parts.Where(p => p.Id == id && p.OwnerId == owner).ExecuteDeleteAsync(cancel) > 0;
    }

    public async Task<byte[]?> PictureAsync(Guid id, Guid owner, bool dark, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db
            .Parts.Where(p => p.Id == id && p.OwnerId == owner)
            .Select(p => dark ? p.PictureDark : p.Picture)
            .FirstOrDefaultAsync(cancel);
    }

    /// <summary>The time as the database keeps it: whole microseconds.</summary>
    private static DateTimeOffset Now() => new(DateTimeOffset.UtcNow.Ticks / 10 * 10, TimeSpan.Zero);

    private static string Header(Part part) => JsonSerializer.Serialize(PartChange.Head(part), PartJson.Compact);

    private static StepRow Row(Guid part, Step step) =>
        new()
        {
            PartId = part,
            StepId = step.Id,
            Number = step.Number,
            Body = JsonSerializer.Serialize(step, PartJson.Compact),
        };

    /// <summary>A step as it was kept; one that cannot be read any more is shown as failing, and the part opens all the same.</summary>
    private static Step StepOf(string id, int number, string body)
    {
        var name = id;
        try
        {
            // Older rows may hold a short form.
            var node = System.Text.Json.Nodes.JsonNode.Parse(body)!.AsObject();
            name = node["name"] is System.Text.Json.Nodes.JsonValue said && said.TryGetValue<string>(out var text) ? text : id;
            StepShortForm.Expand(node);
            var step = node.Deserialize<Step>(PartJson.Compact)!;
            return step.Id == id ? step : throw new JsonException($"It says that it is '{step.Id}'.");
        }
        catch (Exception e)
            when (e is JsonException or NotSupportedException or InvalidOperationException or FormatException or ArgumentException)
        {
            return new UnreadStep(
                id,
                number,
                name,
                body,
                $"What is kept of this step cannot be read: {e.Message.Split(" Path:")[0].Split('\n')[0]} The rest of the part "
                    + "goes on; take the step away, or undo what led to it."
            );
        }
    }
}
