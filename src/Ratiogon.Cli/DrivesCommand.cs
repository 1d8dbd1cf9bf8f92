using System.Globalization;
using System.Text.Json;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Quantities;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon drives FILE READING</c>: which parameters and sizes move a reading, and by how much.</summary>
internal static class DrivesCommand
{
    public static int Run(FileInfo file, string reading, bool json, TextWriter output, TextWriter error, CancellationToken cancel = default)
    {
        var read = PartInput.Read(file);
        if (!read.Done)
        {
            return PartInput.Refuse(read.Refusal!, error);
        }

        using var rebuilder = new Rebuilder(new NativeKernel());
        var asked = DrivesOf.Of(read.Value, reading, part => rebuilder.Rebuild(part, withMesh: false), new TellingShare(error), cancel);
        if (!asked.Done)
        {
            return PartInput.Refuse(asked.Refusal!, error);
        }

        var answer = asked.Value;
        if (json)
        {
            output.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        part = read.Value.Name,
                        reading = answer.Reading,
                        value = answer.Value,
                        unit = answer.Kind.Unit,
                        tried = answer.Tried,
                        stopped = answer.Stopped,
                        drives = answer.Drives.Select(d => new
                        {
                            d.Step,
                            d.Name,
                            d.Words,
                            d.Value,
                            unit = d.Kind.Unit,
                            d.Slope,
                            d.SlopeDown,
                            d.Error,
                            d.Share,
                            d.Kink,
                        }),
                        left = answer.Left.Select(l => new { l.Words, l.Why }),
                    },
                    Output.Json
                )
            );
            return ExitCodes.Done;
        }

        output.WriteLine($"{answer.Reading}: {Units.Show(new Quantity(answer.Value, answer.Kind), read.Value.Units)}");
        foreach (var drive in answer.Drives)
        {
            var kink = drive.Kink ? $", {Number(drive.SlopeDown)} downwards" : "";
            output.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {drive.Share * 100, 7:0.0} %  {drive.Words} = "
                        + $"{Units.Show(new Quantity(drive.Value, drive.Kind), read.Value.Units)}: "
                ) + $"{Number(drive.Slope)}{kink} {Per(answer.Kind, drive.Kind)} (to within {Number(drive.Error)})"
            );
        }

        if (answer.Drives.IsEmpty)
        {
            output.WriteLine("  nothing moves it");
        }

        foreach (var left in answer.Left)
        {
            output.WriteLine($"  not tried: {left.Words}: {left.Why}");
        }

        return ExitCodes.Done;
    }

    private static string Number(double value) => value.ToString("G6", CultureInfo.InvariantCulture);

    private static string Per(Dimension of, Dimension by) => by.Unit.Length > 0 ? $"{of.Unit} per {by.Unit}" : $"{of.Unit} for one more";
}
