using System.Collections.Immutable;
using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Server.Parts;
using Ratiogon.Store;

namespace Ratiogon.Server.Cluster;

/// <summary>A model and the revision that it is of.</summary>
internal sealed record BuiltPart(long Revision, RebuildResult Result)
{
    /// <summary>That of a moment; null before the first.</summary>
    public static BuiltPart? Of(PartMoment moment) => moment.Revision == 0 ? null : new(moment.Revision, moment.Result);
}

/// <summary>
/// What is new of a part. Within one server it is that itself; to another it travels as what changed since what that one has: the change
/// of the part as its log has it, the triangles only of bodies that it has not.
/// </summary>
[Immutable]
internal sealed class MomentNews
{
    private MomentNews() { }

    /// <param name="stored">The part as kept, where that is news.</param>
    /// <param name="storedBefore">What they who hear it have of it; null for none.</param>
    /// <param name="built">The model, where that is news.</param>
    /// <param name="builtBefore">What they have of it.</param>
    public static MomentNews Of(StoredPart? stored, StoredPart? storedBefore, BuiltPart? built, BuiltPart? builtBefore) =>
        new()
        {
            Stored = stored,
            StoredBefore = storedBefore,
            Built = built,
            BuiltBefore = builtBefore,
        };

    private StoredPart? Stored { get; init; }

    private StoredPart? StoredBefore { get; init; }

    private BuiltPart? Built { get; init; }

    private BuiltPart? BuiltBefore { get; init; }

    private Travelling? Came { get; init; }

    public static MomentNews Of(Travelling came) => new() { Came = came };

    /// <summary>The part as kept; null where nothing is new of it.</summary>
    /// <param name="mine">The revisions that are here.</param>
    /// <exception cref="LostThreadException">It builds on what is not there any more.</exception>
    public StoredPart? StoredOver(Func<long, StoredPart?> mine) =>
        Came is not { Stored: { } bytes } ? Stored : JsonSerializer.Deserialize<StoredChange>(bytes, PartJson.Compact)!.Over(mine);

    /// <summary>The model; null where none is new.</summary>
    /// <param name="mine">What there was built.</param>
    /// <exception cref="LostThreadException">It builds on what is not there any more.</exception>
    public BuiltPart? BuiltOver(BuiltPart? mine)
    {
        if (Came is not { Built: { } bytes } came)
        {
            return Built;
        }

        var result = Wire.Read<RebuildResult>(bytes);
        return new BuiltPart(came.BuiltRevision, came.Same.Length == 0 ? result : Meshed(result, came.Same, mine?.Result));
    }

    public Travelling Travel()
    {
        var (lighter, same) = Built is null ? (null, []) : Light(Built.Result, BuiltBefore?.Result);
        return new Travelling
        {
            Stored = Stored is null ? null : JsonSerializer.SerializeToUtf8Bytes(StoredChange.Of(Stored, StoredBefore), PartJson.Compact),
            Built = lighter is null ? null : Wire.Write(lighter),
            BuiltRevision = Built?.Revision ?? 0,
            Same = same,
        };
    }

    private static (RebuildResult Result, string[] Same) Light(RebuildResult result, RebuildResult? before)
    {
        // By what they are, not by the key alone: faces keep the triangles that an earlier body gave them, so that one body may be
        // drawn by others another time.
        var there = MeshesOf(before);
        var same = result
            .Bodies.Concat(result.References)
            .GroupBy(b => b.Key, StringComparer.Ordinal)
            .Where(of => there.TryGetValue(of.Key, out var mesh) && of.All(b => mesh.IsSame(b.Mesh)))
            .Select(of => of.Key)
            .ToHashSet(StringComparer.Ordinal);
        BodyResult Lighter(BodyResult body) => same.Contains(body.Key) ? body with { Mesh = null } : body;
        return same.Count == 0
            ? (result, [])
            : (result with { Bodies = [.. result.Bodies.Select(Lighter)], References = [.. result.References.Select(Lighter)] }, [.. same]);
    }

    private static RebuildResult Meshed(RebuildResult result, string[] same, RebuildResult? mine)
    {
        var there = MeshesOf(mine);
        BodyResult Whole(BodyResult body) =>
            !same.Contains(body.Key) ? body
            : there.TryGetValue(body.Key, out var mesh) ? body with { Mesh = mesh }
            : throw new LostThreadException();
        return result with { Bodies = [.. result.Bodies.Select(Whole)], References = [.. result.References.Select(Whole)] };
    }

    private static Dictionary<string, SolidMesh> MeshesOf(RebuildResult? result) =>
        (result is null ? [] : result.Bodies.Concat(result.References))
            .Where(b => b.Mesh is not null)
            .DistinctBy(b => b.Key)
            .ToDictionary(b => b.Key, b => b.Mesh!, StringComparer.Ordinal);
}

/// <summary>News on the way to another server.</summary>
[GenerateSerializer]
internal struct Travelling
{
    /// <summary>A <see cref="StoredChange"/> as JSON.</summary>
    [Id(0)]
    public byte[]? Stored;

    /// <summary>The model.</summary>
    [Id(1)]
    public byte[]? Built;

    [Id(2)]
    public long BuiltRevision;

    /// <summary>Keys of the bodies whose triangles are the same still.</summary>
    [Id(3)]
    public string[] Same;
}

[RegisterConverter]
internal sealed class MomentNewsConverter : IConverter<MomentNews, Travelling>
{
    public MomentNews ConvertFromSurrogate(in Travelling surrogate) => MomentNews.Of(surrogate);

    public Travelling ConvertToSurrogate(in MomentNews value) => value.Travel();
}

/// <summary>From one revision of a part to another.</summary>
/// <param name="Id">Of the part.</param>
/// <param name="Owner">Whose.</param>
/// <param name="Since">The revision that it is made on; 0 for none.</param>
/// <param name="Revision">The one that it leads to.</param>
/// <param name="Changed">When.</param>
/// <param name="Change">Of the part.</param>
/// <param name="Undo">What can be taken back.</param>
/// <param name="Redo">What can be made again.</param>
internal sealed record StoredChange(
    Guid Id,
    Guid Owner,
    long Since,
    long Revision,
    DateTimeOffset Changed,
    PartChange Change,
    StackChange Undo,
    StackChange Redo
)
{
    private static readonly Part Nothing = new() { Name = "" };

    public static StoredChange Of(StoredPart stored, StoredPart? before) =>
        new(
            stored.Id,
            stored.Owner,
            before?.Revision ?? 0,
            stored.Revision,
            stored.Changed,
            PartChange.Between(before?.Part ?? Nothing, stored.Part),
            StackChange.Of(stored.Undo, before?.Undo ?? []),
            StackChange.Of(stored.Redo, before?.Redo ?? [])
        );

    public StoredPart Over(Func<long, StoredPart?> mine)
    {
        var before = Since == 0 ? null : mine(Since) ?? throw new LostThreadException();
        return new StoredPart(
            Id,
            Owner,
            Change.Apply(before?.Part ?? Nothing),
            Revision,
            Changed,
            Undo.Over(before?.Undo ?? []),
            Redo.Over(before?.Redo ?? [])
        );
    }
}

/// <summary>From one stack of edits to another.</summary>
/// <param name="Kept">How many stay, from the ground.</param>
/// <param name="Pushed">What lies on those, the lowest first.</param>
internal sealed record StackChange(int Kept, ImmutableArray<UndoEntry> Pushed)
{
    public static StackChange Of(ImmutableStack<UndoEntry> now, ImmutableStack<UndoEntry> before)
    {
        var (to, from) = (now.Reverse().ToArray(), before.Reverse().ToArray());
        var kept = 0;
        while (kept < to.Length && kept < from.Length && to[kept] == from[kept])
        {
            kept++;
        }

        return new StackChange(kept, [.. to.Skip(kept)]);
    }

    public ImmutableStack<UndoEntry> Over(ImmutableStack<UndoEntry> before)
    {
        for (var left = before.Count(); left > Kept; left--)
        {
            before = before.Pop();
        }

        return Pushed.Aggregate(before, (stack, entry) => stack.Push(entry));
    }
}

/// <summary>News came that builds on what is not there any more: all is asked for anew.</summary>
internal sealed class LostThreadException : Exception;

/// <summary>The last few revisions of a part, on which changes that are under way build.</summary>
internal sealed class Recent
{
    private const int Most = 16;
    private readonly Lock gate = new();
    private readonly LinkedList<StoredPart> parts = [];

    public void Add(StoredPart stored)
    {
        lock (gate)
        {
            parts.AddFirst(stored);
            if (parts.Count > Most)
            {
                parts.RemoveLast();
            }
        }
    }

    public StoredPart? Find(long revision)
    {
        lock (gate)
        {
            return parts.FirstOrDefault(p => p.Revision == revision);
        }
    }
}
