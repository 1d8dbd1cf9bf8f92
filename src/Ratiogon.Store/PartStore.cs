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
/// <param name="Failing">How many of its steps failed when it was drawn.</param>
/// <param name="Tags">Words that its owner put on it.</param>
/// <param name="Deleted">When it was deleted; null while it is there.</param>
public sealed record PartListing(
    Guid Id,
    string Name,
    DateTimeOffset Changed,
    int Steps,
    bool HasPicture,
    long Drawn,
    long Revision,
    int Failing,
    string[] Tags,
    DateTimeOffset? Deleted
);

/// <summary>An edit that can be taken back or made again.</summary>
public sealed record UndoEntry(long Revision, string Words);

/// <summary>A state that a part was in.</summary>
/// <param name="Revision">By which it is asked for.</param>
/// <param name="At">When it came about.</param>
/// <param name="Words">What led to it.</param>
/// <param name="Kind">Whether that was done, undone or done again.</param>
/// <param name="Name">What somebody called it; null for most.</param>
public sealed record PartState(long Revision, DateTimeOffset At, string Words, EditKind Kind, string? Name);

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

    /// <summary>How long a deleted part can be had back.</summary>
    public static readonly TimeSpan Restorable = TimeSpan.FromDays(30);

    /// <param name="owner">Whose.</param>
    /// <param name="deleted">Whether those are wanted that were deleted and can be had back, and no others.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<PartListing>> ListAsync(Guid owner, bool deleted = false, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await (deleted ? db.Parts.IgnoreQueryFilters().Where(p => p.Deleted != null) : db.Parts)
            .Where(p => p.OwnerId == owner)
            .OrderByDescending(p => p.Deleted ?? p.Changed)
            .Select(p => new PartListing(
                p.Id,
                p.Name,
                p.Changed,
                db.Steps.Count(s => s.PartId == p.Id),
                p.Picture != null,
                p.PictureOf,
                p.Revision,
                p.Failing,
                p.Tags,
                p.Deleted
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

    /// <summary>Whether there is a part of that id, and whether it is this account's.</summary>
    public async Task<bool> IsThereAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Parts.AnyAsync(p => p.Id == id && p.OwnerId == owner, cancel);
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

        var (head, unread) = PartReading.HeadOf(row.Header, row.Name);
        var part = head with
        {
            Steps =
            [
                .. unread is null
                    ? []
                    : new Step[] { unread with { Number = Math.Min(unread.Number, steps.FirstOrDefault()?.Number - 1 ?? 0) } },
                .. steps.Where(s => s.StepId != unread?.Id).Select(s => PartReading.StepOf(s.StepId, s.Number, s.Body)),
            ],
        };
        return new StoredPart(id, row.OwnerId, part, row.Revision, row.Changed, undo, redo);
    }

    /// <summary>Every state of a part, the one that it is in first; null where there is no such part.</summary>
    public async Task<IReadOnlyList<PartState>?> HistoryAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        if (
            await db.Parts.Where(p => p.Id == id && p.OwnerId == owner).Select(p => (DateTimeOffset?)p.Created).FirstOrDefaultAsync(cancel)
            is not { } created
        )
        {
            return null;
        }

        var states = await db
            .Edits.Where(e => e.PartId == id)
            .OrderByDescending(e => e.Revision)
            .Select(e => new PartState(e.Revision, e.At, e.Words, e.Kind, e.Name))
            .ToListAsync(cancel);
        return [.. states, new PartState(1, created, "begun", EditKind.Do, null)];
    }

    /// <summary>A part as it was, found by taking back one edit after the other; null where there is no such part or state.</summary>
    /// <exception cref="JsonException">What is kept of an edit since cannot be read any more.</exception>
    public async Task<Part?> AtAsync(Guid id, Guid owner, long revision, CancellationToken cancel = default)
    {
        if (await LoadAsync(id, owner, cancel) is not { } stored || revision < 1 || revision > stored.Revision)
        {
            return null;
        }

        await using var db = await databases.CreateDbContextAsync(cancel);
        var since = await db
            .Edits.Where(e => e.PartId == id && e.Revision > revision && e.Revision <= stored.Revision)
            .OrderByDescending(e => e.Revision)
            .Select(e => e.Change)
            .ToListAsync(cancel);

        // A part that came here with a higher revision than its log reaches back to was never in states before that.
        return since.Count < stored.Revision - revision
            ? null
            : since.Aggregate(stored.Part, (part, change) => PartChange.FromJson(change).Reversed().Apply(part));
    }

    /// <summary>Gives a state a name, or takes it away where that is empty.</summary>
    public async Task<bool> NameAsync(Guid id, Guid owner, long revision, string? name, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var mine = db.Parts.Where(p => p.Id == id && p.OwnerId == owner).Select(p => p.Id);
        return await db
                .Edits.Where(e => mine.Contains(e.PartId) && e.Revision == revision)
                .ExecuteUpdateAsync(u => u.SetProperty(e => e.Name, string.IsNullOrWhiteSpace(name) ? null : name.Trim()), cancel) > 0;
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

        // What cannot be read of the head stands beside the steps from now on; until now it stood in the head alone.
        var unread = PartReading.HeadOf(row.Header, row.Name).Unread?.Id;
        (row.Revision, row.Changed, row.Name, row.Header) = (before.Revision + 1, Now(), after.Name, Header(after));
        foreach (var step in change.StepsBefore.Where(s => s.Id != unread && after.Find(s.Id) is null))
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

        if (after.Find(unread ?? "") is { } kept)
        {
            db.Steps.Add(Row(before.Id, kept));
        }

        foreach (var step in change.StepsAfter.Select(s => after.Find(s.Id)!).Where(s => s.Id != unread))
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

    /// <summary>Takes a part out of the list; it can be had back for <see cref="Restorable"/>.</summary>
    public async Task<bool> DeleteAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db
                .Parts.Where(p => p.Id == id && p.OwnerId == owner)
                .ExecuteUpdateAsync(u => u.SetProperty(p => p.Deleted, Now()), cancel) > 0;
    }

    /// <summary>Brings a deleted part back as it was.</summary>
    public async Task<bool> RestoreAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db
                .Parts.IgnoreQueryFilters()
                .Where(p => p.Id == id && p.OwnerId == owner && p.Deleted != null)
                .ExecuteUpdateAsync(u => u.SetProperty(p => p.Deleted, (DateTimeOffset?)null), cancel) > 0;
    }

    /// <summary>Throws a deleted part away, with its steps and its log.</summary>
    public async Task<bool> ThrowAwayAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db
                .Parts.IgnoreQueryFilters()
                .Where(p => p.Id == id && p.OwnerId == owner && p.Deleted != null)
                .ExecuteDeleteAsync(cancel) > 0;
    }

    /// <summary>Throws away what was deleted before a time; answers how many parts.</summary>
    public async Task<int> ThrowAwayAsync(DateTimeOffset before, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Parts.IgnoreQueryFilters().Where(p => p.Deleted < before).ExecuteDeleteAsync(cancel);
    }

    /// <summary>Another part with the same steps, picture and model, without the log; null where there is no such part.</summary>
    public async Task<Guid?> CopyAsync(Guid id, Guid owner, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var taken = await db.Parts.Where(p => p.OwnerId == owner).Select(p => new { p.Id, p.Name }).ToListAsync(cancel);
        if (taken.Find(p => p.Id == id) is not { } original)
        {
            return null;
        }

        await using var whole = await db.Database.BeginTransactionAsync(cancel);
        var name = Core.Ids.Free(
            $"{original.Name[..Math.Min(original.Name.Length, LongestCopied)]}, copy",
            " ",
            taken.Select(p => p.Name).ToHashSet(StringComparer.Ordinal)
        );
        var copy = await CopyAsync(db, id, owner, cancel);
        await db.Database.ExecuteSqlAsync(
            $"""
            update parts set "Name" = {name}, "Changed" = {Now()}, "Header" = jsonb_set("Header", ARRAY['name'], to_jsonb({name}::text))
            where "Id" = {copy}
            """,
            cancel
        );
        await whole.CommitAsync(cancel);
        return copy;
    }

    /// <summary>Of a long name, what its copy is called by.</summary>
    private const int LongestCopied = 100;

    internal static async Task<Guid> CopyAsync(RatiogonDb db, Guid part, Guid to, CancellationToken cancel)
    {
        var copy = Guid.CreateVersion7();
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into parts ("Id", "OwnerId", "Name", "Header", "Revision", "Created", "Changed", "Picture", "PictureDark", "PictureOf",
              "Failing", "Tags")
            select {copy}, {to}, "Name", "Header", "Revision", now(), "Changed", "Picture", "PictureDark", "PictureOf", "Failing", "Tags"
            from parts where "Id" = {part}
            """,
            cancel
        );
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into steps ("PartId", "StepId", "Number", "Body")
            select {copy}, "StepId", "Number", "Body" from steps where "PartId" = {part}
            """,
            cancel
        );
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into models ("PartId", "Key", "Model", "Used")
            select {copy}, "Key", "Model", now() from models where "PartId" = {part}
            """,
            cancel
        );
        return copy;
    }

    /// <summary>The most tags on a part, and the longest.</summary>
    public const int MostTags = 12,
        LongestTag = 40;

    /// <summary>Puts tags on a part in place of those that it has: cut at their ends, each once, in the order of the alphabet.</summary>
    public async Task<Core.Outcome<bool>> TagAsync(Guid id, Guid owner, IEnumerable<string> tags, CancellationToken cancel = default)
    {
        string[] wanted =
        [
            .. tags.Select(t => t.Trim())
                .Where(t => t.Length > 0)
                .Distinct(StringComparer.OrdinalIgnoreCase)
                .Order(StringComparer.OrdinalIgnoreCase),
        ];
        if (wanted.Length > MostTags || wanted.Any(t => t.Length > LongestTag || t.Any(c => char.IsControl(c) || c == ',')))
        {
            return new Core.Refusal(
                "part.tags",
                $"A part has up to {MostTags} tags of {LongestTag} characters, without commas or line breaks.",
                "tags"
            );
        }

        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db
                .Parts.Where(p => p.Id == id && p.OwnerId == owner)
                .ExecuteUpdateAsync(u => u.SetProperty(p => p.Tags, wanted), cancel) > 0;
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
}
