using System.Diagnostics;
using System.Text.Json;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon solve FILE [--set name=value …] --json</c>.</summary>
internal static class SolveCommand
{
    public static int Run(FileInfo file, string[] set, bool json, TextWriter output, TextWriter error)
    {
        var read = PartInput.Read(file);
        if (!read.Done)
        {
            return PartInput.Refuse(read.Refusal!, error);
        }

        var part = read.Value;
        foreach (var assignment in set)
        {
            var at = assignment.IndexOf('=', StringComparison.Ordinal);
            var name = at > 0 ? assignment[..at] : assignment;
            if (at <= 0 || part.Parameters.FirstOrDefault(p => p.Name == name) is not { } parameter)
            {
                return PartInput.Refuse(new("parameter.unknown", $"--set {assignment}: the part has no parameter '{name}'."), error);
            }

            part = part with { Parameters = part.Parameters.Replace(parameter, parameter with { Value = assignment[(at + 1)..] }) };
        }

        if (part.Values.FirstRefusal is { } wrong)
        {
            return PartInput.Refuse(wrong, error);
        }

        var reports = part.Steps.OfType<SketchStep>().Select(s => Solve(s, part.Values)).ToList();
        if (json)
        {
            output.WriteLine(JsonSerializer.Serialize(new { part = part.Name, sketches = reports.Select(r => r.Json) }, Output.Json));
        }
        else
        {
            reports.ForEach(r => output.WriteLine(r.Line));
        }

        return reports.TrueForAll(r => r.Solved) ? ExitCodes.Done : ExitCodes.FailingSteps;
    }

    private static (bool Solved, object Json, string Line) Solve(SketchStep step, ParameterValues parameters)
    {
        var values = SketchValues.Of(step.Sketch, parameters);
        if (!values.Done)
        {
            return (
                false,
                new
                {
                    number = step.Number,
                    name = step.Name,
                    status = "bad-value",
                    message = values.Refusal!.Message,
                    where = values.Refusal.Where,
                },
                $"{step.Number} {step.Name}: {values.Refusal.Message}"
            );
        }

        var clock = Stopwatch.StartNew();
        var report = SketchSolver.Solve(step.Sketch, values.Value);
        var time = clock.Elapsed.TotalMilliseconds;
        var freedoms = Freedoms.Of(report.Sketch);
        var redundant = Diagnosis
            .AllRedundant(report.Sketch)
            .Select(r => new { rule = r.Rule.Id, others = r.Others.Select(o => o.Id) })
            .ToList();
        var conflict = report.Solved ? null : Conflicts.Find(step.Sketch, values.Value);
        var clashing = Clashing(conflict);
        var json = new
        {
            number = step.Number,
            name = step.Name,
            status = report.Solved ? "solved" : report.End.ToString().ToLowerInvariant(),
            message = conflict is null
                ? report.Message
                : $"These cannot all hold: "
                    + $"{SketchWords.List(step.Sketch, conflict.Rules)}.{(conflict.Note is { } note ? $" ({note})" : "")}",
            freedoms = freedoms.Count,
            freedoms_at_these_sizes = freedoms.AtTheseSizes,
            remark = freedoms.Remark,
            largest_residual = report.LargestResidual,
            time_ms = time,
            steps = report.Steps,
            blocks = report.Blocks,
            entities = report.Sketch.Entities.Select(e => Entity(report.Sketch, e, freedoms)),
            redundant = redundant.Count > 0 ? redundant : null,
            clashing,
        };
        return (
            report.Solved,
            json,
            $"{step.Number} {step.Name}: {report.Message}, {freedoms.Count} freedoms, largest residual "
                + $"{report.LargestResidual:e1}, {time:0.0} ms"
        );
    }

    private static List<string>? Clashing(Conflict? conflict) => conflict is null ? null : [.. conflict.Rules.Select(o => o.Id)];

    private static object Entity(Sketch sketch, SketchEntity entity, Freedoms freedoms) =>
        entity switch
        {
            PointEntity p => new
            {
                id = p.Id,
                kind = "point",
                at = p.At,
                freedoms = freedoms.OfEntity[p.Id],
            },
            LineEntity l => new
            {
                id = l.Id,
                kind = "line",
                from = sketch.At(l.From),
                to = sketch.At(l.To),
                freedoms = freedoms.OfEntity[l.Id],
            },
            CircleEntity c => new
            {
                id = c.Id,
                kind = "circle",
                centre = sketch.At(c.Centre),
                radius = c.Radius,
                freedoms = freedoms.OfEntity[c.Id],
            },
            ArcEntity a => new
            {
                id = a.Id,
                kind = "arc",
                centre = sketch.At(a.Centre),
                from = sketch.At(a.From),
                to = sketch.At(a.To),
                radius = a.Radius,
                freedoms = freedoms.OfEntity[a.Id],
            },
            _ => new { id = entity.Id, kind = entity.Word },
        };
}
