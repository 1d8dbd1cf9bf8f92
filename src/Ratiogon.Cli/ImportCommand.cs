using System.Globalization;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Exchange;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon import FILE OUT</c>: a body or a drawing as a new part file.</summary>
internal static class ImportCommand
{
    /// <summary>Set in the process that does the reading.</summary>
    private const string Inside = "RATIOGON_READS_INSIDE";

    /// <summary>Sets another limit than the file's size does, in seconds.</summary>
    private const string Limit = "RATIOGON_READS_AT_MOST";

    /// <summary>Ten times what a file of this size takes on a slow machine; on some damaged ones the library never ends.</summary>
    private static TimeSpan Longest(FileInfo file) =>
        TimeSpan.FromSeconds(
            double.TryParse(Environment.GetEnvironmentVariable(Limit), NumberStyles.Float, CultureInfo.InvariantCulture, out var set)
                ? set
                : 60 + (file.Exists ? file.Length / 1e6 * 10 : 0)
        );

    /// <summary>Bodies are read in a process of their own: a file that brings the geometry library down is then refused like any
    /// other.</summary>
    public static int Run(FileInfo file, FileInfo target, string? unit, TextWriter output, TextWriter error)
    {
        if (
            Environment.GetEnvironmentVariable(Inside) is null
            && !file.Extension.Equals(".svg", StringComparison.OrdinalIgnoreCase)
            && !MeshFile.Is(file.Name)
        )
        {
            var apart = new System.Diagnostics.ProcessStartInfo(Environment.ProcessPath!)
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            };
            if (Path.GetFileNameWithoutExtension(Environment.ProcessPath) == "dotnet")
            {
                apart.ArgumentList.Add(typeof(ImportCommand).Assembly.Location);
            }

            foreach (var argument in new[] { "import", file.FullName, target.FullName })
            {
                apart.ArgumentList.Add(argument);
            }

            apart.Environment[Inside] = "1";
            using var reading = System.Diagnostics.Process.Start(apart)!;
            var (said, wrong) = (reading.StandardOutput.ReadToEndAsync(), reading.StandardError.ReadToEndAsync());
            var longest = Longest(file);
            if (!reading.WaitForExit(longest))
            {
                reading.Kill(entireProcessTree: true);
                return PartInput.Refuse(
                    new Refusal(
                        "import.broken",
                        $"{file.Name} cannot be used: the geometry library was not done with it after {longest.TotalSeconds:0} s. The "
                            + "file is damaged, or holds what it does not know."
                    ),
                    error
                );
            }

            reading.WaitForExit();
            if (reading.ExitCode is < 0 or >= 100)
            {
                return PartInput.Refuse(
                    new Refusal(
                        "import.broken",
                        $"{file.Name} cannot be used: the geometry library gave up on it. The file is damaged, or holds what it does not "
                            + "know."
                    ),
                    error
                );
            }

            output.Write(said.Result);
            error.Write(wrong.Result);
            return reading.ExitCode;
        }

        var made = Read(file).Then(bytes => Part(file.Name, bytes, unit, error)).Then<byte[]>(part => PartFile.Write(part));
        return made.Done ? Output.Write(target, made.Value, output, error) : PartInput.Refuse(made.Refusal!, error);
    }

    private static Outcome<byte[]> Read(FileInfo file)
    {
        try
        {
            return !file.Exists ? new Refusal("file.missing", $"There is no file {file.Name}.")
                : file.Length > Largest(file.Name)
                    ? new Refusal("import.too-large", $"The file has {file.Length >> 20} MB; up to {Largest(file.Name) >> 20} MB are read.")
                : File.ReadAllBytes(file.FullName);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new Refusal("file.unreadable", $"{file.Name} cannot be read: {e.Message}");
        }
    }

    private static int Largest(string name) => MeshFile.Is(name) ? MeshFile.LargestBytes : ImportedFile.LargestBytes;

    /// <summary>Triangles; where the format has no unit, it has to be said.</summary>
    private static Outcome<Part> Mesh(Part begun, string name, byte[] file, string? unit, TextWriter said)
    {
        if (unit is null && MeshFile.HasNoUnit(name))
        {
            return new Refusal(
                "mesh.unit",
                $"{name} does not say what its numbers mean: add --unit {string.Join(", ", MeshUnits.All.Select(u => u.Symbol))}."
            );
        }

        return MeshFile
            .Read(name, file)
            .Then(read =>
            {
                foreach (var words in read.Said)
                {
                    said.WriteLine($"{name}: {words}");
                }

                var meant = unit is null ? read.Unit!.Value : MeshUnits.Of(unit);
                return meant.Then(u =>
                    new AddStep(
                        new MeshStep("mesh", 0, begun.Name, name, ImportedFile.Pack(read.Mesh.ToBytes())) { Unit = read.Unit ?? u }
                    ).Apply(begun)
                );
            });
    }

    private static Outcome<Part> Part(string name, byte[] file, string? unit, TextWriter said)
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

                return read.Map(r => r.Edit)
                    .Then(edit =>
                        new Several(
                            [new AddStep(new SketchStep("sketch", 0, begun.Name, World.Xy, Sketch.Empty)), new EditSketch("sketch", edit)],
                            "import"
                        ).Apply(begun)
                    );
            case ".step" or ".stp" or ".iges" or ".igs":
                var kernel = new NativeKernel();
                return kernel
                    .Read(ImportedFile.FormatOf(name), file)
                    .Then(read =>
                    {
                        using var solid = read.Solid;
                        foreach (var words in read.Said)
                        {
                            said.WriteLine($"{name}: {words}");
                        }

                        Refs faces = [.. Enumerable.Range(1, kernel.Faces(solid)).Select(i => $"{i}")];
                        return new AddStep(
                            new ImportStep("import", 0, begun.Name, name, ImportedFile.Pack(file))
                            {
                                Faces = faces,
                                Colour = read.Colour,
                                Bodies = read.NamesOfSeveral,
                                Colours = read.ColoursOfSeveral,
                            }
                        ).Apply(begun);
                    });
            case var ending when MeshFile.Endings.Contains(ending):
                return Mesh(begun, name, file, unit, said);
            default:
                return new Refusal(
                    "import.format",
                    $"'{Path.GetExtension(name)}' is no format that is read; use .step, .stp, .iges, .igs, "
                        + $"{string.Join(", ", MeshFile.Endings)} or .svg."
                );
        }
    }
}
