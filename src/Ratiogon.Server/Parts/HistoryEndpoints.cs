using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core;
using Ratiogon.Core.Parts;
using Ratiogon.Server.Accounts;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>A name for a state; empty takes it away.</summary>
public sealed record StateName(string Name);

/// <summary>A state of a part, in the words of its log.</summary>
/// <param name="Revision">By which it is asked for.</param>
/// <param name="At">When it came about.</param>
/// <param name="Words">What led to it.</param>
/// <param name="How">done, undone or done again.</param>
/// <param name="Name">What somebody called it.</param>
public sealed record StateView(long Revision, DateTimeOffset At, string Words, string How, string? Name);

/// <summary>What a part was before: every edit in words, any state looked at, named, gone back to, or made a part of its own.</summary>
internal static class HistoryEndpoints
{
    private static readonly Refusal Unreadable = new(
        "history.unreadable",
        "What is kept of an edit since then cannot be read any more: states before it cannot be shown."
    );

    public static void MapHistory(this RouteGroupBuilder parts)
    {
        parts
            .MapGet(
                "/{id:guid}/history",
                async Task<Results<Ok<StateView[]>, ProblemHttpResult>> (Guid id, Who who, PartStore store, CancellationToken cancel) =>
                    await store.HistoryAsync(id, who.Id, cancel) is { } states
                        ? TypedResults.Ok(states.Select(s => new StateView(s.Revision, s.At, s.Words, How(s.Kind), s.Name)).ToArray())
                        : Problems.NoPart()
            )
            .WithName("history");
        parts
            .MapGet("/{id:guid}/history/{revision:long}/picture", PictureAsync)
            .WithName("statePicture")
            .RequireRateLimiting(AccountLimits.Files);
        parts.MapPut("/{id:guid}/history/{revision:long}/name", NameAsync).WithName("nameState");
        parts.MapPost("/{id:guid}/history/{revision:long}/back", BackAsync).WithName("goBack");
        parts.MapPost("/{id:guid}/history/{revision:long}/copy", CopyAsync).WithName("copyState");
    }

    private static string How(EditKind kind) =>
        kind switch
        {
            EditKind.Undo => "undone",
            EditKind.Redo => "done again",
            _ => "done",
        };

    /// <summary>A state, or why it cannot be had.</summary>
    internal static async Task<Outcome<Part>> StateAsync(PartStore store, Guid id, Guid owner, long revision, CancellationToken cancel)
    {
        try
        {
            return await store.AtAsync(id, owner, revision, cancel) is { } state
                ? state
                : new Refusal("history.no-state", $"The part was never in a state {revision}.");
        }
        catch (Exception e) when (e is JsonException or NotSupportedException)
        {
            return Unreadable;
        }
    }

    private static async Task<Results<FileContentHttpResult, NoContent, ProblemHttpResult>> PictureAsync(
        Guid id,
        long revision,
        Who who,
        PartStore store,
        IPartSessions sessions,
        CancellationToken cancel,
        bool dark = false
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        var state = await StateAsync(store, id, who.Id, revision, cancel);
        if (!state.Done)
        {
            return Problems.Of(state.Refusal!);
        }

        var picture = await session.PictureAsync(state.Value, dark);
        return !picture.Done ? Problems.Of(picture.Refusal!)
            : picture.Value is { } png ? TypedResults.File(png, "image/png")
            : TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> NameAsync(
        Guid id,
        long revision,
        StateName request,
        Who who,
        PartStore store,
        CancellationToken cancel
    )
    {
        if (request.Name.Trim().Length > 0 && Part.CheckName(request.Name) is { } wrong)
        {
            return Problems.Of(wrong);
        }

        return await store.NameAsync(id, who.Id, revision, request.Name, cancel) ? TypedResults.NoContent() : Problems.NoPart();
    }

    private static async Task<Results<Ok<PartSnapshot>, ProblemHttpResult>> BackAsync(
        Guid id,
        long revision,
        RevisionRequest request,
        Who who,
        PartStore store,
        IPartSessions sessions,
        CancellationToken cancel
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        var state = await StateAsync(store, id, who.Id, revision, cancel);
        if (!state.Done)
        {
            return Problems.Of(state.Refusal!);
        }

        var done = await session.ReplaceAsync(state.Value, $"back to state {revision}", who.Id, request.Revision);
        return done.Done ? TypedResults.Ok(PartSnapshot.Of(done.Value)) : Problems.Of(done.Refusal!);
    }

    private static async Task<Results<Created<Copied>, ProblemHttpResult>> CopyAsync(
        Guid id,
        long revision,
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

        var state = await StateAsync(store, id, who.Id, revision, cancel);
        if (!state.Done)
        {
            return Problems.Of(state.Refusal!);
        }

        var name = $"{state.Value.Name[..Math.Min(state.Value.Name.Length, 90)]}, state {revision}";
        var copy = await store.CreateAsync(who.Id, state.Value with { Name = name }, cancel);
        return TypedResults.Created($"/api/parts/{copy}", new Copied(copy));
    }
}
