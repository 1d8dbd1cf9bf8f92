using Ratiogon.Core;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketching;
using Ratiogon.Exchange;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon import FILE OUT</c>: a body or a drawing as a new part file.</summary>
internal static class ImportCommand
{
    public static int Run(FileInfo file, FileInfo target, TextWriter output, TextWriter error)
    {
        var made = Read(file).Then(bytes => Part(file.Name, bytes, error)).Then<byte[]>(part => PartFile.Write(part));
        return made.Done ? Output.Write(target, made.Value, output, error) : PartInput.Refuse(made.Refusal!, error);
    }

    private static Outcome<byte[]> Read(FileInfo file)
    {
        try
        {
            return !file.Exists ? new Refusal("file.missing", $"There is no file {file.Name}.")
                : file.Length > ImportedFile.LargestBytes ? new Refusal("import.too-large", $"The file has {file.Length >> 20} MB; up to {ImportedFile.LargestBytes >> 20} MB are read.")
                : File.ReadAllBytes(file.FullName);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new Refusal("file.unreadable", $"{file.Name} cannot be read: {e.Message}");
        }
    }

    private static Outcome<Part> Part(string name, byte[] file, TextWriter said)
    {
        var begun = new Part { Name = Path.GetFileNameWithoutExtension(name) };
        switch (Path.GetExtension(name).ToLowerInvariant())
        {
            case ".svg":
                var read = SvgSketch.ReadAll(file, Sketch.Empty);
                foreach (var words in read.Done ? read.Value.Said : [])
                {
                    said.WriteLine($"{name}: {words}");
                }

                return read.Map(r => r.Edit).Then(edit => new Several([new AddStep(new SketchStep("sketch", 0, begun.Name, World.Xy, Sketch.Empty)), new EditSketch("sketch", edit)], "import").Apply(begun));
            case ".step" or ".stp" or ".iges" or ".igs":
                var kernel = new NativeKernel();
                return kernel.Read(ImportedFile.FormatOf(name), file).Then(read =>
                {
                    using var solid = read.Solid;
                    Refs faces = [.. Enumerable.Range(1, kernel.Describe(solid).Faces.Length).Select(i => $"{i}")];
                    return new AddStep(new ImportStep("import", 0, begun.Name, name, ImportedFile.Pack(file)) { Faces = faces, Colour = read.Colour }).Apply(begun);
                });
            default:
                return new Refusal("import.format", $"'{Path.GetExtension(name)}' is no format that is read; use .step, .stp, .iges, .igs or .svg.");
        }
    }
}
