using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Exchange;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon export FILE OUT</c>: the ending of the target chooses the format.</summary>
internal static class ExportCommand
{
    public static int Run(FileInfo file, FileInfo target, ExportOptions options, TextWriter output, TextWriter error)
    {
        var written = PartInput.Read(file).Then(part => Bytes(part, target.Extension.TrimStart('.').ToLowerInvariant(), options));
        return written.Done ? Output.Write(target, written.Value, output, error) : PartInput.Refuse(written.Refusal!, error);
    }

    private static Outcome<byte[]> Bytes(Part part, string ending, ExportOptions options)
    {
        if (Exporter.Find(ending) is not { } format)
        {
            return Exporter.CheckFormat(ending)!;
        }

        if (format == PartFile.Written)
        {
            return PartFile.Write(part);
        }

        using var rebuilder = new Rebuilder(new NativeKernel());
        var failing = rebuilder.Rebuild(part, withMesh: false).Steps.FirstOrDefault(s => s.State == StepState.Failed);
        return failing is null
            ? Exporter.Write(rebuilder.Gauge(part), ending, options)
            : new Refusal("export.failing", $"Step {failing.Id} fails: {failing.Message}");
    }
}
