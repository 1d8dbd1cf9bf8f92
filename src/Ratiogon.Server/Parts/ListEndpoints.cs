using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core;
using Ratiogon.Server.Accounts;
using Ratiogon.Server.Safety;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>The tags of a part.</summary>
public sealed record TagsRequest(ImmutableArray<string> Tags);

/// <summary>The part that was made.</summary>
public sealed record Copied(Guid Id);

/// <summary>What is done with parts in their list: copied, tagged, deleted, had back.</summary>
internal static class ListEndpoints
{
    public static void MapList(this RouteGroupBuilder parts)
    {
        parts.MapDelete("/{id:guid}", DeleteAsync).WithName("deletePart");
        parts.MapPost("/{id:guid}/restore", RestoreAsync).WithName("restorePart");
        parts.MapPost("/{id:guid}/copy", CopyAsync).WithName("copyPart");
        parts.MapPut("/{id:guid}/tags", TagAsync).WithName("tagPart");
    }

    /// <param name="id">The part.</param>
    /// <param name="who">Its owner.</param>
    /// <param name="store">Where it is kept.</param>
    /// <param name="sessions">Forget it.</param>
    /// <param name="cancel">Gives up.</param>
    /// <param name="forever">Throws away one that was deleted before; else it can be had back for a while.</param>
    private static async Task<Results<NoContent, ProblemHttpResult>> DeleteAsync(
        Guid id,
        Who who,
        PartStore store,
        IPartSessions sessions,
        CancellationToken cancel,
        bool forever = false
    )
    {
        if (!await (forever ? store.ThrowAwayAsync(id, who.Id, cancel) : store.DeleteAsync(id, who.Id, cancel)))
        {
            return Problems.NoPart();
        }

        sessions.Forget(id, who.Id);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RestoreAsync(
        Guid id,
        Who who,
        PartStore store,
        Room room,
        CancellationToken cancel
    )
    {
        if (await room.CheckAsync(who.Id, 0, cancel) is { } full)
        {
            return Problems.Of(full);
        }

        return await store.RestoreAsync(id, who.Id, cancel) ? TypedResults.NoContent() : Problems.NoPart();
    }

    private static async Task<Results<Created<Copied>, ProblemHttpResult>> CopyAsync(
        Guid id,
        Who who,
        PartStore store,
        Room room,
        CancellationToken cancel
    )
    {
        if (await room.CheckAsync(who.Id, 0, cancel) is { } full)
        {
            return Problems.Of(full);
        }

        if (await store.CopyAsync(id, who.Id, cancel) is not { } copy)
        {
            return Problems.NoPart();
        }

        store.Tell([copy]);
        return TypedResults.Created($"/api/parts/{copy}", new Copied(copy));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TagAsync(
        Guid id,
        TagsRequest request,
        Who who,
        PartStore store,
        CancellationToken cancel
    )
    {
        var tagged = await store.TagAsync(id, who.Id, request.Tags, cancel);
        return !tagged.Done ? Problems.Of(tagged.Refusal!)
            : tagged.Value ? TypedResults.NoContent()
            : Problems.NoPart();
    }
}

/// <summary>Throws away what was deleted long ago.</summary>
internal sealed class Bin(PartStore parts, TimeProvider time, ILogger<Bin> log) : Tended(TimeSpan.FromHours(1), time, log)
{
    protected override string Failing => "Deleted parts were left as they are";

    protected override Task TendAsync(CancellationToken cancel) => parts.ThrowAwayAsync(Time.GetUtcNow() - PartStore.Restorable, cancel);
}
