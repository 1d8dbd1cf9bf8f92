using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon rebuild FILE --json</c>.</summary>
internal static class RebuildCommand
{
    public static int Run(FileInfo file, bool json, TextWriter output, TextWriter error)
    {
        var read = PartInput.Read(file);
        if (!read.Done)
        {
            return PartInput.Refuse(read.Refusal!, error);
        }

        var part = read.Value;
        using var rebuilder = new Rebuilder(new NativeKernel());
        var result = rebuilder.Rebuild(part, withMesh: false);
        var readings = part
            .Steps.OfType<ReadingStep>()
            .Select(s => (Step: s, Result: result.Step(s.Id)!))
            .Where(r => r.Result.Reading is not null)
            .ToList();
        if (json)
        {
            output.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        part = part.Name,
                        parameters = part.Parameters.ToDictionary(p => p.Name, p => Shown(part, p)),
                        steps = part
                            .Steps.Select(s => (s, r: result.Step(s.Id)!))
                            .Select(p => new
                            {
                                number = p.s.Number,
                                kind = p.s.Kind,
                                name = p.s.Name,
                                state = State(p.r),
                                freedoms = p.r.Freedoms,
                                message = p.r.Message,
                            }),
                        bodies = result.Bodies.Select(b => new
                        {
                            name = b.Name,
                            volume_mm3 = b.Mass.Volume,
                            area_mm2 = b.Mass.Area,
                            mass_g = Mass.Grams(b.Mass.Volume, part.Material),
                            centre_mm = b.Mass.Centre,
                        }),
                        references = result.References.Select(r => new
                        {
                            name = r.Name,
                            faces = r.Topology.Faces.Length,
                            area_mm2 = r.Mass.Area,
                            low_mm = r.Bounds.Low,
                            high_mm = r.Bounds.High,
                        }),
                        readings = readings.Select(r => new
                        {
                            name = r.Step.Name,
                            what = r.Step.What,
                            value = r.Result.Reading,
                            unit = ReadingCatalog.Find(r.Step.What)!.Kind.Unit,
                            kind = ReadingCatalog.Find(r.Step.What)!.Kind.Words,
                        }),
                    },
                    Output.Json
                )
            );
        }
        else
        {
            foreach (var step in part.Steps)
            {
                var r = result.Step(step.Id)!;
                output.WriteLine(
                    $"{step.Number, 5} {step.Kind, -8} {step.Name, -20} "
                        + $"{State(r), -8}{(r.Freedoms is { } f ? $" {f} freedoms" : "")}{(r.Message.Length > 0 ? $" {r.Message}" : "")}"
                );
            }

            foreach (var body in result.Bodies)
            {
                output.WriteLine(
                    $"body {body.Name}: {Units.Show(new Quantity(body.Mass.Volume, Dimension.OfVolume), part.Units)}, "
                        + $"{Units.Show(new Quantity(Mass.Grams(body.Mass.Volume, part.Material), Dimension.OfMass))} of "
                        + $"{part.Material.Name}"
                );
            }

            foreach (var (step, r) in readings)
            {
                output.WriteLine(
                    $"{step.Name}: {Units.Show(new Quantity(r.Reading!.Value, ReadingCatalog.Find(step.What)!.Kind), part.Units)}"
                );
            }
        }

        return result.Steps.Any(s => s.State is StepState.Failed or StepState.Waiting) ? ExitCodes.FailingSteps : ExitCodes.Done;
    }

    private static string State(StepResult result) => result.State.ToString().ToLowerInvariant();

    private static object? Shown(Part part, Parameter parameter) =>
        part.Values.Of(parameter.Name) is { Done: true } v
            ? new { formula = parameter.Value, shown = Units.Show(v.Value, part.Units, 6) }
            : null;
}
