using Microsoft.AspNetCore.Http.HttpResults;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Exchange;
using Ratiogon.Server.Accounts;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>Reading and writing files: parts, bodies, meshes, drawings and tables.</summary>
internal static class FileEndpoints
{
    private static readonly string[] Bodies = [".step", ".stp", ".iges", ".igs"];

    public static void MapFiles(this RouteGroupBuilder parts)
    {
        parts.MapGet("/{id:guid}/export.{ending}", ExportAsync).WithName("export").RequireRateLimiting(AccountLimits.Files);
        parts
            .MapGet(
                "/{id:guid}/export-preview",
                async Task<Results<Ok<ExportPreview>, ProblemHttpResult>> (
                    Guid id,
                    string ending,
                    double? deviation,
                    bool? text,
                    Who who,
                    IPartSessions sessions
                ) =>
                {
                    if (await sessions.OpenAsync(id, who.Id) is not { } session)
                    {
                        return Problems.NoPart();
                    }

                    if (Odd(deviation) is { } odd)
                    {
                        return Problems.Of(odd);
                    }

                    var preview = await session.PreviewExportAsync(ending, Options(deviation, text, null, null));
                    return preview.Done ? TypedResults.Ok(preview.Value) : Problems.Of(preview.Refusal!);
                }
            )
            .WithName("previewExport");
        MapTable(parts, "holes", "exportHoles", s => HoleTable.Csv(s.Present, s.Result));
        MapTable(parts, "readings", "exportReadings", s => ReadingTable.Csv(s.Present, s.Result));
        MapTable(parts, "parameters", "exportParameters", s => ParameterTable.Csv(s.Present));
        parts
            .MapPost("/{id:guid}/import", ImportAsync)
            .WithName("importFile")
            .RequireRateLimiting(AccountLimits.Files)
            .Accepts<byte[]>("application/octet-stream", "model/step", "model/iges", "image/svg+xml");
        parts
            .MapPost("/import.json", ImportPartAsync)
            .WithName("importPart")
            .RequireRateLimiting(AccountLimits.Files)
            .Accepts<byte[]>("application/json");
        parts
            .MapGet("/archive.zip", async (Who who, PartStore store, CancellationToken cancel) =>
            {
                var all = new List<Part>();
                foreach (var listed in await store.ListAsync(who.Id, cancel: cancel))
                {
                    if (await store.LoadAsync(listed.Id, who.Id, cancel) is { } stored)
                    {
                        all.Add(stored.Part);
                    }
                }

                return TypedResults.File(PartArchive.Write(all), "application/zip", "parts.zip");
            })
            .WithName("exportArchive")
            .RequireRateLimiting(AccountLimits.Files);
        parts
            .MapPost("/import.zip", ImportArchiveAsync)
            .WithName("importArchive")
            .RequireRateLimiting(AccountLimits.Files)
            .Accepts<byte[]>("application/zip");
    }

    private static Refusal? Odd(double? deviation) =>
        deviation is { } d && !double.IsFinite(d)
            ? new Refusal("export.deviation", "The deviation is a number of millimetres.", "deviation")
            : null;

    private static ExportOptions Options(double? deviation, bool? text, bool? ap242, string? of)
    {
        var options = new ExportOptions();
        return options with { Deviation = deviation ?? options.Deviation, Text = text ?? false, Ap242 = ap242 ?? false, Of = of };
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        Guid id,
        string ending,
        double? deviation,
        bool? text,
        bool? ap242,
        string? of,
        Who who,
        IPartSessions sessions
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        if ((Exporter.CheckFormat(ending) ?? Odd(deviation)) is { } unknown)
        {
            return Problems.Of(unknown);
        }

        var written =
            ending == "json" ? PartFile.Write(session.Stored.Part) : await session.ExportAsync(ending, Options(deviation, text, ap242, of));
        return written.Done
            ? TypedResults.File(written.Value, Exporter.Find(ending)!.Type, $"{FileName(session)}.{ending}")
            : Problems.Of(written.Refusal!);
    }

    /// <summary>The header that tells what of a file was left out, percent-encoded.</summary>
    public const string LeftOut = "Left-Out";

    private static async Task<Results<Ok<PartSnapshot>, ProblemHttpResult>> ImportAsync(
        Guid id,
        string name,
        string? step,
        string? unit,
        HttpRequest request,
        Who who,
        IPartSessions sessions,
        Room room,
        CancellationToken cancel
    )
    {
        if (await sessions.OpenAsync(id, who.Id) is not { } session)
        {
            return Problems.NoPart();
        }

        var plain = string.IsNullOrWhiteSpace(name) ? "" : Path.GetFileName(name);
        plain = plain.Length > 100 ? plain[^100..] : plain;
        var svg = plain.EndsWith(".svg", StringComparison.OrdinalIgnoreCase);
        var mesh = MeshFile.Is(plain);
        if (!svg && !mesh && !Bodies.Contains(Path.GetExtension(plain).ToLowerInvariant()))
        {
            return Problems.Of(
                new Refusal(
                    "import.format",
                    $"'{Ids.Shorten(plain)}' is no file that is read here: use {string.Join(", ", Bodies.Concat(MeshFile.Endings))} "
                        + "or .svg.",
                    "name"
                )
            );
        }

        var measure = unit is null ? default : MeshUnits.Of(unit).Map(u => (MeshUnit?)u);
        if (unit is not null && !measure.Done)
        {
            return Problems.Of(measure.Refusal!);
        }

        var most =
            svg ? SvgSketch.LargestBytes
            : mesh ? MeshFile.LargestBytes
            : ImportedFile.LargestBytes;
        var file = await Uploads.ReadAsync(request, most, cancel);
        if (file is null)
        {
            return Problems.Of(
                new Refusal(
                    "import.too-large",
                    $"A {(svg ? "SVG file" : mesh ? "file of triangles" : "STEP or IGES file")} may have up to {most >> 20} MB."
                )
            );
        }

        if (await room.CheckAsync(who.Id, file.Length, cancel) is { } full)
        {
            return Problems.Of(full);
        }

        var added =
            svg ? await session.ImportSvgAsync(file, plain, step, who.Id)
            : mesh ? await session.ImportMeshAsync(file, plain, unit is null ? null : measure.Value, step, who.Id)
            : (await session.ImportBodyAsync(file, plain, step, who.Id)).Map(part => new Imported(part, []));
        if (!added.Done)
        {
            return Problems.Of(added.Refusal!);
        }

        if (!added.Value.Said.IsEmpty)
        {
            // What was left out goes beside the part: it is of the file, not of the part.
            request.HttpContext.Response.Headers[LeftOut] = Uri.EscapeDataString(string.Join("; ", added.Value.Said));
        }

        return TypedResults.Ok(PartSnapshot.Of(added.Value.Part));
    }

    private static async Task<Results<Ok<int>, ProblemHttpResult>> ImportArchiveAsync(
        HttpRequest request,
        Who who,
        PartStore store,
        Room room,
        CancellationToken cancel
    )
    {
        var file = await Uploads.ReadAsync(request, PartArchive.LargestBytes, cancel);
        if (file is null)
        {
            return Problems.Of(new Refusal("archive.too-large", $"An archive may have up to {PartArchive.LargestBytes >> 20} MB."));
        }

        if (await room.CheckAsync(who.Id, file.Length, cancel) is { } full)
        {
            return Problems.Of(full);
        }

        var parts = PartArchive
            .Read(file)
            .Then(all =>
                all.Select(p => PartSolver.Resolve(p, p.Steps)).FirstOrDefault(p => !p.Done).Refusal is { } wrong
                    ? wrong
                    : (Outcome<IReadOnlyList<Part>>)all.ToList()
            );
        if (!parts.Done)
        {
            return Problems.Of(parts.Refusal!);
        }

        foreach (var part in parts.Value)
        {
            await store.CreateAsync(who.Id, PartSolver.Resolve(part, part.Steps).Value, cancel);
        }

        return TypedResults.Ok(parts.Value.Count);
    }

    /// <summary>A table of the part, once it is built, as CSV.</summary>
    private static void MapTable(RouteGroupBuilder parts, string table, string name, Func<PartMoment, byte[]> csv) =>
        parts
            .MapGet(
                $"/{{id:guid}}/{table}.csv",
                async Task<Results<FileContentHttpResult, ProblemHttpResult>> (Guid id, Who who, IPartSessions sessions) =>
                {
                    if (await sessions.OpenAsync(id, who.Id) is not { } session)
                    {
                        return Problems.NoPart();
                    }

                    return TypedResults.File(
                        csv(await session.SettledAsync()),
                        "text/csv; charset=utf-8",
                        $"{FileName(session)}-{table}.csv"
                    );
                }
            )
            .WithName(name);

    private static async Task<Results<Created<PartSnapshot>, ProblemHttpResult>> ImportPartAsync(
        HttpRequest request,
        Who who,
        PartStore store,
        IPartSessions sessions,
        Room room,
        CancellationToken cancel
    )
    {
        var file = await Uploads.ReadAsync(request, PartFile.LargestBytes, cancel);
        if (file is null)
        {
            return Problems.Of(new Refusal("file.too-large", $"A part file may have up to {PartFile.LargestBytes >> 20} MB."));
        }

        if (await room.CheckAsync(who.Id, file.Length, cancel) is { } full)
        {
            return Problems.Of(full);
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

    private static string FileName(IPartSession session) => PartArchive.PlainName(session.Stored.Part.Name);
}
