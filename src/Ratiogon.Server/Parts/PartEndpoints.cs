using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Server.Accounts;
using Ratiogon.Server.Workers;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>A change and the revision it was made on.</summary>
public sealed record CommandRequest(long Revision, PartCommand Command);

/// <summary>The revision an undo or redo was asked for on.</summary>
public sealed record RevisionRequest(long Revision);

/// <summary>A name for a new part.</summary>
public sealed record NewPart(string Name);

/// <summary><c>/api/parts</c>: parts of the account that is signed in, and of nobody else.</summary>
internal static class PartEndpoints
{
    public static void MapParts(this IEndpointRouteBuilder routes)
    {
        var parts = routes.MapGroup("/api/parts").RequireAuthorization().WithTags("parts");
        parts
            .MapGet("/", async (Who who, PartStore store, CancellationToken cancel, bool deleted = false) =>
                TypedResults.Ok(await store.ListAsync(who.Id, deleted, cancel))
            )
            .WithName("listParts");
        parts.MapPost("/", CreateAsync).WithName("createPart");
        parts
            .MapGet("/{id:guid}", async Task<Results<Ok<PartSnapshot>, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
                await sessions.OpenAsync(id, who.Id) is { } session
                    ? TypedResults.Ok(PartSnapshot.Of(session.Stored, session.Present))
                    : Problems.NoPart()
            )
            .WithName("getPart");
        parts
            .MapPost("/{id:guid}/commands", (Guid id, CommandRequest request, Who who, IPartSessions sessions) =>
                ChangeAsync(id, who, sessions, s => s.ApplyAsync(request.Command, who.Id, request.Revision), request.Command)
            )
            .WithName("changePart");
        parts
            .MapPost("/{id:guid}/undo", (Guid id, RevisionRequest request, Who who, IPartSessions sessions) =>
                ChangeAsync(id, who, sessions, s => s.UndoAsync(who.Id, request.Revision))
            )
            .WithName("undo");
        parts
            .MapPost("/{id:guid}/redo", (Guid id, RevisionRequest request, Who who, IPartSessions sessions) =>
                ChangeAsync(id, who, sessions, s => s.RedoAsync(who.Id, request.Revision))
            )
            .WithName("redo");
        parts
            .MapPost("/{id:guid}/stop", async Task<Results<Ok<Stopped>, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
                await sessions.OpenAsync(id, who.Id) is { } session
                    ? TypedResults.Ok(new Stopped(await session.StopAsync()))
                    : Problems.NoPart()
            )
            .WithName("stopWork");
        parts
            .MapGet(
                "/{id:guid}/picture",
                async Task<Results<FileContentHttpResult, ProblemHttpResult>> (
                    Guid id,
                    bool? dark,
                    Who who,
                    PartStore store,
                    CancellationToken cancel
                ) =>
                    await store.PictureAsync(id, who.Id, dark ?? false, cancel) is { } png
                        ? TypedResults.File(png, "image/png")
                        : Problems.NoPart()
            )
            .WithName("getPicture");
        parts
            .MapGet(
                "/{id:guid}/holes",
                async Task<Results<Ok<ImmutableArray<HoleTableRow>>, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
                    await SettledAsync(sessions, id, who) is (_, var at)
                        ? TypedResults.Ok(HoleTable.Of(at.Present, at.Result))
                        : Problems.NoPart()
            )
            .WithName("getHoles");
        parts
            .MapGet(
                "/{id:guid}/readings",
                async Task<Results<Ok<ImmutableArray<ReadingRow>>, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
                    await SettledAsync(sessions, id, who) is (_, var at)
                        ? TypedResults.Ok(ReadingTable.Of(at.Present, at.Result))
                        : Problems.NoPart()
            )
            .WithName("getReadings");
        parts
            .MapGet(
                "/{id:guid}/mass",
                async Task<Results<Ok<ImmutableArray<MassRow>>, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
                {
                    if (await SettledAsync(sessions, id, who) is not var (session, at))
                    {
                        return Problems.NoPart();
                    }

                    var inertias = await session.InertiaAsync();
                    return inertias.Done
                        ? TypedResults.Ok(MassTable.Of(at.Present, at.Result, inertias.Value))
                        : Problems.Of(inertias.Refusal!);
                }
            )
            .WithName("getMass");
        routes
            .MapGet("/api/materials", () => TypedResults.Ok(Materials.All))
            .RequireAuthorization()
            .WithTags("parts")
            .WithName("listMaterials");
        parts.MapList();
        parts.MapHistory();
        parts.MapQuestions();
        parts.MapFiles();
    }

    private static async Task<(IPartSession Session, PartMoment At)?> SettledAsync(IPartSessions sessions, Guid id, Who who) =>
        await sessions.OpenAsync(id, who.Id) is { } session ? (session, await session.SettledAsync()) : null;

    private static async Task<Results<Created<PartSnapshot>, ProblemHttpResult>> CreateAsync(
        NewPart request,
        Who who,
        PartStore store,
        IPartSessions sessions,
        Room room,
        CancellationToken cancel
    )
    {
        if ((Part.CheckName(request.Name) ?? await room.CheckAsync(who.Id, 0, cancel)) is { } wrong)
        {
            return Problems.Of(wrong);
        }

        var id = await store.CreateAsync(who.Id, new Part { Name = request.Name.Trim() }, cancel);
        var session = await sessions.OpenAsync(id, who.Id);
        return TypedResults.Created($"/api/parts/{id}", PartSnapshot.Of(session!.Stored));
    }

    private static async Task<Results<Ok<PartSnapshot>, ProblemHttpResult>> ChangeAsync(
        Guid id,
        Who who,
        IPartSessions sessions,
        Func<IPartSession, Task<Outcome<StoredPart>>> change,
        PartCommand? command = null
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        var before = session.Present;
        var changed = await change(session);
        return changed.Done
            ? TypedResults.Ok(PartSnapshot.Of(changed.Value) with { Said = command?.Said(before, changed.Value.Part) })
            : Problems.Of(changed.Refusal!);
    }
}

/// <summary>Whether anything was under way that could be stopped: a rebuild, a preview, a file.</summary>
public sealed record Stopped(bool UnderWay);
