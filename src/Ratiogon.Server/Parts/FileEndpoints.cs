using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Exchange;
using Ratiogon.Server.Accounts;
using Ratiogon.Server.Workers;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>Reading and writing files: a part as JSON, bodies as STEP.</summary>
internal static class FileEndpoints
{
    public static void MapFiles(this RouteGroupBuilder parts)
    {
        parts.MapGet("/{id:guid}/export.step", async Task<Results<FileContentHttpResult, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
        {
            if (await sessions.OpenAsync(id, who.Id) is not { } session)
            {
                return Problems.NoPart();
            }

            var written = await session.WriteStepAsync();
            return written.Done ? TypedResults.File(written.Value, "model/step", $"{FileName(session)}.step") : Problems.Of(written.Refusal!);
        }).WithName("exportStep");
        parts.MapGet("/{id:guid}/export.json", async Task<Results<FileContentHttpResult, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
            await sessions.OpenAsync(id, who.Id) is { } session
                ? TypedResults.File(PartFile.Write(session.Stored.Part), "application/json", $"{FileName(session)}.json")
                : Problems.NoPart()).WithName("exportJson");
        MapTable(parts, "holes", "exportHoles", s => HoleTable.Csv(s.Present, s.Built.Result));
        MapTable(parts, "readings", "exportReadings", s => ReadingTable.Csv(s.Present, s.Built.Result));
        MapTable(parts, "parameters", "exportParameters", s => ParameterTable.Csv(s.Present));
        parts.MapPost("/{id:guid}/import.step", ImportStepAsync).WithName("importStep").Accepts<byte[]>("model/step");
        parts.MapPost("/import.json", ImportPartAsync).WithName("importPart").Accepts<byte[]>("application/json");
    }

    /// <summary>A table of the part, once it is built, as CSV.</summary>
    private static void MapTable(RouteGroupBuilder parts, string table, string name, Func<IPartSession, byte[]> csv) =>
        parts.MapGet($"/{{id:guid}}/{table}.csv", async Task<Results<FileContentHttpResult, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
        {
            if (await sessions.OpenAsync(id, who.Id) is not { } session)
            {
                return Problems.NoPart();
            }

            await session.SettledAsync();
            return TypedResults.File(csv(session), "text/csv; charset=utf-8", $"{FileName(session)}-{table}.csv");
        }).WithName(name);

    private static async Task<Results<Ok<PartSnapshot>, ProblemHttpResult>> ImportStepAsync(Guid id, string? name, HttpRequest request, Who who, IPartSessions sessions, WorkerPool workers, CancellationToken cancel)
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        var file = await Uploads.ReadAsync(request, ImportedFile.LargestBytes, cancel);
        if (file is null)
        {
            return Problems.Of(new Refusal("import.too-large", $"A STEP file may have up to {ImportedFile.LargestBytes >> 20} MB."));
        }

        // Looked at in a worker first, so that a file that cannot be used never becomes a step.
        try
        {
            var check = await workers.RunAsync(id, w => w.CheckStepAsync(file), null, cancel);
            if (check.Refusal is not null)
            {
                return Problems.Of(new Refusal("import.step", check.Refusal));
            }
        }
        catch (WorkerFailedException failure)
        {
            return Problems.Of(new Refusal("import.step", failure.Why == WorkerFailure.TookTooLong ? "Reading the file took too long; nothing was changed." : "The file made the geometry worker stop; nothing was changed."));
        }

        var plain = string.IsNullOrWhiteSpace(name) ? "imported.step" : Path.GetFileName(name);
        plain = plain.Length > 100 ? plain[..100] : plain;
        var added = await session.ApplyAsync(new AddStep(new ImportStep("", 0, Path.GetFileNameWithoutExtension(plain), plain, ImportedFile.Pack(file))), who.Id);
        return added.Done ? TypedResults.Ok(PartSnapshot.Of(added.Value)) : Problems.Of(added.Refusal!);
    }

    private static async Task<Results<Created<PartSnapshot>, ProblemHttpResult>> ImportPartAsync(HttpRequest request, Who who, PartStore store, IPartSessions sessions, CancellationToken cancel)
    {
        var file = await Uploads.ReadAsync(request, PartFile.LargestBytes, cancel);
        if (file is null)
        {
            return Problems.Of(new Refusal("file.too-large", $"A part file may have up to {PartFile.LargestBytes >> 20} MB."));
        }

        var part = PartFile.Read(file).Then(p => PartSolver.Resolve(p, p.Steps));
        if (!part.Done)
        {
            return Problems.Of(part.Refusal!);
        }

        var id = await store.CreateAsync(who.Id, part.Value, cancel);
        var session = await sessions.OpenAsync(id, who.Id);
        return TypedResults.Created($"/api/parts/{id}", PartSnapshot.Of(session!.Stored));
    }

    private static string FileName(IPartSession session) =>
        string.Concat(session.Stored.Part.Name.Select(c => char.IsAsciiLetterOrDigit(c) ? char.ToLowerInvariant(c) : '-')).Trim('-') is { Length: > 0 } name ? name : "part";
}
