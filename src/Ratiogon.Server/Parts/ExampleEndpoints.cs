using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core.Demo;
using Ratiogon.Server.Accounts;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>A part that can be looked into, with what it shows.</summary>
/// <param name="Name">By which it is asked for.</param>
/// <param name="Title">As it is called.</param>
/// <param name="Shows">What is to be seen in it.</param>
public sealed record ExampleView(string Name, string Title, string Shows);

/// <summary><c>/api/examples</c>: the parts of the dosing pump, each as a part of one's own to take apart.</summary>
internal static class ExampleEndpoints
{
    /// <summary>What each of them shows, in the order in which they are best looked at.</summary>
    internal static readonly (string Name, string Title, string Shows)[] Shown =
    [
        ("motor-plate", "Motor plate", "Parameters, sketches on faces, slots, tapped holes, readings with limits, tolerances."),
        ("hose-cradle", "Hose cradle", "Arc slots, a hexagon and a grid of holes in one sketch; five variants for five hoses."),
        (
            "inlet-block",
            "Inlet block",
            "Frames that lean, holes at an angle, axes of holes and the point where they would meet; ranges to flex."
        ),
        ("hose-guide", "Hose guide", "A path in space, a swept tube, points along it and planes square to it."),
        ("rotor-hub", "Rotor hub", "A turned body, a plane tangent to it, holes round it, mirrored and repeated forms."),
        ("spout", "Spout", "Lofts from one outline to another, walls, draft and threads."),
    ];

    public static void MapExamples(this IEndpointRouteBuilder routes)
    {
        var examples = routes.MapGroup("/api/examples").RequireAuthorization().WithTags("parts");
        examples
            .MapGet("/", () => TypedResults.Ok(Shown.Select(e => new ExampleView(e.Name, e.Title, e.Shows)).ToArray()))
            .WithName("listExamples");
        examples.MapPost("/{name}", TakeAsync).WithName("takeExample").RequireRateLimiting(AccountLimits.Files);
    }

    private static async Task<Results<Created<PartSnapshot>, ProblemHttpResult>> TakeAsync(
        string name,
        Who who,
        PartStore store,
        IPartSessions sessions,
        Room room,
        CancellationToken cancel
    )
    {
        if (DemoParts.All.FirstOrDefault(d => d.File == name).Build is not { } build)
        {
            return Problems.NoPart();
        }

        if (await room.CheckAsync(who.Id, 0, cancel) is { } full)
        {
            return Problems.Of(full);
        }

        var id = await store.CreateAsync(who.Id, build(), cancel);
        var session = await sessions.OpenAsync(id, who.Id);
        return TypedResults.Created($"/api/parts/{id}", PartSnapshot.Of(session!.Stored));
    }
}
