using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Quantities;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon measure FILE --between REF REF [--along WAY]</c>.</summary>
internal static class MeasureCommand
{
    public static int Run(FileInfo file, string[] between, string? along, bool json, TextWriter output, TextWriter error)
    {
        var read = PartInput.Read(file);
        if (!read.Done)
        {
            return PartInput.Refuse(read.Refusal!, error);
        }

        using var rebuilder = new Rebuilder(new NativeKernel());
        var site = rebuilder.Gauge(read.Value);
        var ask = Gauger.Ask(site.Model, [.. between], along, null);
        if (!ask.Done)
        {
            return PartInput.Refuse(ask.Refusal!, error);
        }

        var values = Gauger.All(site, ask.Value).Where(v => !v.Kind.Whole || between.Length == 0).ToList();
        if (values.Count == 0)
        {
            return PartInput.Refuse(
                new("measure.nothing", $"{string.Join(" and ", ask.Value.Of.Select(t => t.Words))} have no reading together."),
                error
            );
        }

        if (json)
        {
            output.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        part = read.Value.Name,
                        between = ask.Value.Of.Select(t => new { reference = t.Reference, words = t.Words }),
                        along = ask.Value.Along?.Words,
                        readings = values.Select(v => new
                        {
                            what = v.Kind.Name,
                            value = v.Value.Value,
                            unit = v.Kind.Kind.Unit,
                            kind = v.Kind.Kind.Words,
                            shown = Units.Show(new Quantity(v.Value.Value, v.Kind.Kind), read.Value.Units),
                            points = v.Value.Points,
                            note = v.Value.Note,
                        }),
                    },
                    Output.Json
                )
            );
        }
        else
        {
            foreach (var (kind, value) in values)
            {
                output.WriteLine(
                    $"{kind.Label}: "
                        + Units.Show(new Quantity(value.Value, kind.Kind), read.Value.Units)
                        + (value.Note.Length > 0 ? $" ({value.Note})" : "")
                );
            }
        }

        return ExitCodes.Done;
    }
}
