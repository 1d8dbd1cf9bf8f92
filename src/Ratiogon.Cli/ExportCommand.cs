using Ratiogon.Core;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Exchange;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon export FILE OUT</c>.</summary>
internal static class ExportCommand
{
    public static int Run(FileInfo file, FileInfo target, TextWriter output, TextWriter error)
    {
        var written = PartInput.Read(file).Then(part => Bytes(part, target.Extension.ToLowerInvariant()));
        if (!written.Done)
        {
            return PartInput.Refuse(written.Refusal!, error);
        }

        try
        {
            File.WriteAllBytes(target.FullName, written.Value);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return PartInput.Refuse(new Refusal("file.unwritable", $"{target.Name} cannot be written: {e.Message}"), error);
        }

        output.WriteLine($"{target.Name}: {written.Value.Length} bytes");
        return ExitCodes.Done;
    }

    private static Outcome<byte[]> Bytes(Part part, string ending)
    {
        switch (ending)
        {
            case ".json":
                return PartFile.Write(part);
            case ".step" or ".stp":
                using (var rebuilder = new Rebuilder(new NativeKernel()))
                {
                    var failing = rebuilder.Rebuild(part, withMesh: false).Steps.FirstOrDefault(s => s.State == StepState.Failed);
                    return failing is null ? rebuilder.WriteStep(part) : new Refusal("export.failing", $"Step {failing.Id} fails: {failing.Message}");
                }

            default:
                return new Refusal("export.format", $"'{ending}' is no known format; use .step, .stp or .json.");
        }
    }
}
