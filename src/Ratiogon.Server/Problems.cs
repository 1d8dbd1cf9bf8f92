using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core;
using Ratiogon.Server.Safety;

namespace Ratiogon.Server;

/// <summary>Refusals as problem details (RFC 9457).</summary>
internal static class Problems
{
    public static ProblemHttpResult Of(Refusal refusal) =>
        TypedResults.Problem(
            detail: refusal.Message,
            statusCode: refusal.Code switch
            {
                "edit.stale" or "edit.unsure" => StatusCodes.Status409Conflict,
                Away.Code or Away.FullCode or Away.OwnerCode => StatusCodes.Status503ServiceUnavailable,
                "part.unknown" => StatusCodes.Status404NotFound,
                _ => StatusCodes.Status422UnprocessableEntity,
            },
            title: "Refused",
            type: $"urn:ratiogon:{refusal.Code}",
            extensions: new Dictionary<string, object?>
            {
                ["code"] = refusal.Code,
                ["where"] = refusal.Where,
                ["involved"] = refusal.Involved,
            }
        );

    /// <summary>The same answer whether a part is not there or somebody else's.</summary>
    public static ProblemHttpResult NoPart() =>
        TypedResults.Problem(
            detail: "There is no such part.",
            statusCode: StatusCodes.Status404NotFound,
            title: "Not found",
            type: "urn:ratiogon:part.unknown",
            extensions: new Dictionary<string, object?> { ["code"] = "part.unknown" }
        );
}
