using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core.Asking;
using Ratiogon.Exchange;
using Ratiogon.Server.Accounts;

namespace Ratiogon.Server.Parts;

/// <summary>What is asked of a part: tolerances, aims, courses, flexing, variants, what hangs on what. Answers change nothing; how far a
/// long one is comes over the live link, and <c>stop</c> ends it with what was found.</summary>
internal static class AskEndpoints
{
    public static void MapQuestions(this RouteGroupBuilder parts)
    {
        parts.MapPost("/{id:guid}/ask", AskAsync).WithName("askPart").Produces<Answer>().RequireRateLimiting(AccountLimits.Files);
        parts.MapGet("/{id:guid}/variants.zip", ExportAsync).WithName("exportVariants").RequireRateLimiting(AccountLimits.Files);
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> AskAsync(
        Guid id,
        Question question,
        Who who,
        IPartSessions sessions
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        using var following = session.Watch();
        var answer = await session.AskAsync(question);
        return answer.Done ? TypedResults.File(answer.Value, "application/json") : Problems.Of(answer.Refusal!);
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        Guid id,
        string? format,
        string? only,
        Who who,
        IPartSessions sessions
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        using var following = session.Watch();
        var zip = await session.ExportVariantsAsync(format ?? "step", only);
        return zip.Done
            ? TypedResults.File(zip.Value, "application/zip", $"{PartArchive.PlainName(session.Present.Name)} variants.zip")
            : Problems.Of(zip.Refusal!);
    }
}
