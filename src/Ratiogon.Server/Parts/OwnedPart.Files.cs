using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Exchange;
using Ratiogon.Store;

namespace Ratiogon.Server.Parts;

/// <summary>Files going out and coming in.</summary>
internal sealed partial class OwnedPart
{
    public async Task<Outcome<byte[]>> ExportAsync(string ending, ExportOptions options)
    {
        var answer = await InWorkerAsync(worker =>
            worker.ExportAsync(PartBytes(), ending, JsonSerializer.Serialize(options, PartJson.Compact))
        );
        return answer.Then<byte[]>(f => f.File is not null ? f.File : new Refusal("export.refused", f.Refusal ?? "Nothing was written."));
    }

    public async Task<Outcome<ExportPreview>> PreviewExportAsync(string ending, ExportOptions options)
    {
        var answer = await InWorkerAsync(worker =>
            worker.PreviewExportAsync(PartBytes(), ending, JsonSerializer.Serialize(options, PartJson.Compact))
        );
        return answer.Then<ExportPreview>(a =>
            a.Text is not null
                ? JsonSerializer.Deserialize<ExportPreview>(a.Text, PartJson.Compact)!
                : new Refusal("export.refused", a.Refusal ?? "Nothing was written.")
        );
    }

    public async Task<Outcome<StoredPart>> ImportBodyAsync(byte[] file, string name, string? step, Guid account)
    {
        var old = step is null ? null : Present.Find(step) as ImportStep;
        if (step is not null && old is null)
        {
            return new Refusal("import.no-step", $"'{Ids.Shorten(step)}' is no imported body.", step);
        }

        var before =
            old is null ? null
            : ImportedFile.Unpack(old.Content) is { Done: true, Value: var kept } ? kept.ToArray()
            : null;

        // Looked at in a worker first, so that a file that cannot be used never becomes a step.
        var looked = await InWorkerAsync(worker => worker.CheckImportAsync(file, name, before, old?.File ?? "", [.. old?.Faces ?? []]));
        if (!looked.Done || looked.Value.Refusal is not null)
        {
            return looked.Refusal is { } refused
                ? refused with
                {
                    Code = "import.file",
                    Message = $"The file could not be read. {refused.Message}",
                }
                : new Refusal("import.file", looked.Value.Refusal!);
        }

        var found = looked.Value;
        var packed = ImportedFile.Pack(file);
        PartCommand command = old is null
            ? new AddStep(
                new ImportStep("", 0, NameOf(found.Name, name), name, packed)
                {
                    Faces = [.. found.Faces],
                    Colour = found.Colour,
                    Bodies = [.. found.Bodies],
                    Colours = [.. found.Colours],
                    Apart = !now.Result.Bodies.IsEmpty,
                }
            )
            : new ReplaceStep(
                old with
                {
                    File = name,
                    Content = packed,
                    Faces = [.. found.Faces],
                    Colour = found.Colour,
                    Bodies = [.. found.Bodies],
                    Colours = [.. found.Colours],
                    LeftOut = [],
                }
            );
        return await ApplyAsync(command, account);
    }

    public async Task<Outcome<Imported>> ImportMeshAsync(byte[] file, string name, MeshUnit? unit, string? step, Guid account)
    {
        var old = step is null ? null : Present.Find(step) as MeshStep;
        if (step is not null && old is null)
        {
            return new Refusal("import.no-step", $"'{Ids.Shorten(step)}' holds no triangles of a file.", step);
        }

        var read = await InWorkerAsync(worker => worker.ReadMeshAsync(file, name));
        if (!read.Done || read.Value.Mesh is not { } mesh)
        {
            return read.Refusal ?? new Refusal("import.file", read.Value.Refusal!);
        }

        var found = read.Value;
        var made = (old ?? new MeshStep("", 0, NameOf(found.Name, name), name, "")) with
        {
            File = name,
            Content = ImportedFile.Pack(mesh, fast: true),
            Unit = found.Unit ?? unit ?? old?.Unit ?? MeshUnit.Millimetre,
        };
        var kept = await ApplyAsync(old is null ? new AddStep(made) : new ReplaceStep(made), account);
        return kept.Map(part => new Imported(part, [.. found.Said]));
    }

    /// <summary>The name in the file, unless it is only what the writing program calls itself.</summary>
    private static string NameOf(string inside, string file) =>
        Part.CheckName(inside) is null && !inside.Contains("translator", StringComparison.OrdinalIgnoreCase)
            ? inside
            : Path.GetFileNameWithoutExtension(file);

    public async Task<Outcome<Imported>> ImportSvgAsync(byte[] file, string name, string? sketch, Guid account)
    {
        var into = sketch is null ? null : Present.Find(sketch) as SketchStep;
        if (sketch is not null && into is null)
        {
            return new Refusal("import.no-sketch", $"'{Ids.Shorten(sketch)}' is no sketch.", sketch);
        }

        var read = await InWorkerAsync(worker =>
            worker.ReadSvgAsync(file, JsonSerializer.Serialize(into?.Sketch ?? Sketch.Empty, PartJson.Compact))
        );
        if (!read.Done || read.Value.Text is null)
        {
            return read.Refusal ?? new Refusal("import.svg", read.Value.Refusal ?? "Nothing was read.");
        }

        var (edit, said) = JsonSerializer.Deserialize<SvgRead>(read.Value.Text, PartJson.Compact)!;
        var words = $"import {name}";
        var id = into?.Id ?? Ids.Next("sketch", Present.Steps.Select(s => s.Id).ToHashSet(StringComparer.Ordinal));
        var kept = await ApplyAsync(
            into is not null
                ? new EditSketch(id, edit, words)
                : new Several(
                    [
                        new AddStep(new SketchStep(id, 0, Path.GetFileNameWithoutExtension(name), World.Xy, Sketch.Empty)),
                        new EditSketch(id, edit, words),
                    ],
                    words
                ),
            account
        );
        return kept.Map(part => new Imported(part, said));
    }
}
