using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Exchange;
using Ratiogon.Solids;

namespace Ratiogon.Cli;

/// <summary>Questions to a part: <c>tolerances</c>, <c>aim</c>, <c>course</c>, <c>flex</c>, <c>variants</c> and <c>why</c>. Progress goes
/// to the stream for errors; an interrupt ends the question, and what was found until then is printed.</summary>
internal static class AskCommands
{
    /// <summary>Asks, and prints the answer in words or as JSON.</summary>
    public static int Ask(FileInfo file, Question question, bool json, TextWriter output, TextWriter error, CancellationToken cancel)
    {
        var read = PartInput.Read(file);
        if (!read.Done)
        {
            return PartInput.Refuse(read.Refusal!, error);
        }

        var rebuilders = Enumerable.Range(0, Environment.ProcessorCount).Select(_ => new Rebuilder(new NativeKernel())).ToArray();
        try
        {
            var builders = new Builders([.. rebuilders.Select(r => (Func<Part, RebuildResult>)(p => r.Rebuild(p, withMesh: false)))]);
            var asked = question.Ask(read.Value, builders, new TellingShare(error), cancel);
            if (!asked.Done)
            {
                return PartInput.Refuse(asked.Refusal!, error);
            }

            if (json)
            {
                output.WriteLine(JsonSerializer.Serialize(asked.Value, Output.Json));
            }
            else
            {
                Print(asked.Value, read.Value, output);
            }

            return HasFailed(asked.Value) ? ExitCodes.FailingSteps : ExitCodes.Done;
        }
        finally
        {
            foreach (var rebuilder in rebuilders)
            {
                rebuilder.Dispose();
            }
        }
    }

    /// <summary>Reads <c>READING=VALUE</c>, where the value may be <c>limits</c>, <c>least</c> or <c>most</c>.</summary>
    public static Outcome<AimQuestion> Aim(string target, string[] by)
    {
        var at = target.LastIndexOf('=');
        if (at < 1 || at == target.Length - 1)
        {
            return new Refusal("aim.target", "Write READING=VALUE, or READING=limits, READING=least, READING=most.");
        }

        var (reading, value) = (target[..at].Trim(), target[(at + 1)..].Trim());
        var goal = value switch
        {
            "limits" => AimGoal.Limits,
            "least" => AimGoal.Least,
            "most" => AimGoal.Most,
            _ => AimGoal.Value,
        };
        return new AimQuestion(reading, goal, Names(by)) { Value = goal == AimGoal.Value ? value : null };
    }

    /// <summary>A parameter, a step by its id, or a size as <c>STEP/FIELD</c>.</summary>
    public static WhyQuestion Why(FileInfo file, string name)
    {
        var part = PartInput.Read(file);
        var slash = name.IndexOf('/', StringComparison.Ordinal);
        return slash > 0 ? new WhyQuestion(name[..slash], name[(slash + 1)..])
            : part.Done && part.Value.Find(name) is not null && part.Value.Parameters.All(p => p.Name != name) ? new WhyQuestion(name)
            : new WhyQuestion("", name);
    }

    /// <summary>Names, each by itself or several with commas.</summary>
    public static ImmutableArray<string> Names(string[]? given) =>
        [.. (given ?? []).SelectMany(g => g.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))];

    /// <summary>Writes every variant as a file of its own; one that fails says so and the others are written.</summary>
    public static int Export(
        FileInfo file,
        DirectoryInfo folder,
        string ending,
        TextWriter output,
        TextWriter error,
        CancellationToken cancel
    )
    {
        var read = PartInput.Read(file);
        if (!read.Done)
        {
            return PartInput.Refuse(read.Refusal!, error);
        }

        if (read.Value.Variants.IsEmpty)
        {
            return PartInput.Refuse(new Refusal("variant.none", "The part has no variants."), error);
        }

        if (Exporter.CheckFormat(ending) is { } unknown)
        {
            return PartInput.Refuse(unknown, error);
        }

        folder.Create();
        using var rebuilder = new Rebuilder(new NativeKernel());
        var worst = ExitCodes.Done;
        foreach (var variant in read.Value.Variants.TakeWhile(_ => !cancel.IsCancellationRequested))
        {
            var written = VariantFiles.Write(read.Value, variant.Name, ending, rebuilder);
            if (!written.Done)
            {
                error.WriteLine($"ratiogon: {variant.Name}: {written.Refusal!.Message.ReplaceLineEndings(" ")}");
                worst = ExitCodes.FailingSteps;
                continue;
            }

            var target = new FileInfo(Path.Combine(folder.FullName, $"{PartArchive.PlainName(variant.Name)}.{ending}"));
            worst = Math.Max(worst, Output.Write(target, written.Value, output, error));
        }

        return worst;
    }

    private static bool HasFailed(Answer answer) =>
        answer is AimAnswer { Met: false }
        || (answer is FlexAnswer flex && flex.Tries.Any(t => t.State is FlexState.Failed or FlexState.Clash));

    private static void Print(Answer answer, Part part, TextWriter output)
    {
        switch (answer)
        {
            case ToleranceAnswer tolerances:
                Print(tolerances, output);
                break;
            case AimAnswer aim:
                output.WriteLine(aim.Said);
                foreach (var knob in aim.Knobs)
                {
                    output.WriteLine(
                        $"  {knob.Knob.Words}: {knob.Measure.Show(knob.Knob.Value.Value)} -> {knob.Measure.Show(knob.To)}  ({knob.Text})"
                    );
                }

                output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  {aim.Tries.Length} tries"));
                break;
            case CourseAnswer course:
                foreach (var point in course.Points)
                {
                    output.WriteLine(
                        $"  {course.By.Show(point.At[0]), 16}  "
                            + $"{(point.Reading is { } r ? course.Measure.Show(r) : $"not built: {point.Why}")}"
                    );
                }

                break;
            case FlexAnswer flex:
                Print(flex, output);
                break;
            case VariantsAnswer variants:
                output.WriteLine($"{"", -24}{string.Concat(variants.Columns.Select(c => $"{c.Name, 22}"))}");
                foreach (var row in variants.Rows)
                {
                    var name =
                        row.Name.Length == 0 ? "(as it is)"
                        : row.Fits ? $"{row.Name} *"
                        : row.Name;
                    var readings = row.Readings.Select(
                        (r, i) => (r is { } v ? variants.Columns[i].Measure.Show(v) : "-") + (row.Out[i] ? " !" : "")
                    );
                    output.WriteLine(
                        $"{name, -24}{string.Concat(readings.Select(r => $"{r, 22}"))}{(row.Why is null ? "" : $"  {row.Why}")}"
                    );
                }

                break;
            case WhyAnswer why:
                output.WriteLine(why.Words);
                foreach (var (heading, nodes) in new[] { ("hangs on", why.Above), ("and on it hang", why.Below) })
                {
                    output.WriteLine($"  {heading}{(nodes.IsEmpty ? ": nothing" : "")}");
                    foreach (var node in nodes)
                    {
                        output.WriteLine($"  {new string(' ', 2 * node.Away)}{node.Words}  ({node.Via})");
                    }
                }

                if (!why.After.IsEmpty)
                {
                    output.WriteLine($"  built again after it: {string.Join(", ", why.After)}");
                }

                break;
        }
    }

    private static void Print(ToleranceAnswer answer, TextWriter output)
    {
        string Show(double v) => answer.Measure.Show(v);
        output.WriteLine($"{answer.Reading}: {Show(answer.Value)}");
        output.WriteLine($"  worst case         {Show(answer.WorstLeast)} to {Show(answer.WorstMost)}");
        output.WriteLine(
            $"  root of squares    {Show(answer.Mean)} ± {Show(answer.Spread)}{(answer.Linear ? "" : "  (contributions do not add up)")}"
        );
        if (answer.Sampled is { } drawn)
        {
            output.WriteLine(
                string.Create(CultureInfo.InvariantCulture, $"  {drawn.Runs} built at random, seed {drawn.Seed}: ")
                    + $"{Show(drawn.Mean)}, deviation {Show(drawn.Deviation)}, {Show(drawn.Least)} to {Show(drawn.Most)}"
                    + (drawn.Failed > 0 ? $"; {drawn.Failed} could not be built: {drawn.Why}" : "")
            );
        }

        if (answer.Within is { } within)
        {
            output.WriteLine(
                string.Create(CultureInfo.InvariantCulture, $"  within its limits  {within * 100:0.###} %")
                    + (answer.Cp is { } cp ? string.Create(CultureInfo.InvariantCulture, $", Cp {cp:0.00}") : "")
                    + (answer.Cpk is { } cpk ? string.Create(CultureInfo.InvariantCulture, $", Cpk {cpk:0.00}") : "")
            );
        }

        foreach (var c in answer.Contributions)
        {
            output.WriteLine(
                string.Create(CultureInfo.InvariantCulture, $"  {c.Share * 100, 6:0.0} %  ")
                    + $"{c.Words} {c.Written}: {Show(c.AtLower)} … {Show(c.AtUpper)}; half as wide ± "
                    + $"{Show(c.Tightened)}, twice ± {Show(c.Opened)}"
            );
        }

        foreach (var left in answer.Left)
        {
            output.WriteLine($"  not tried: {left}");
        }
    }

    private static void Print(FlexAnswer answer, TextWriter output)
    {
        output.WriteLine(answer.Said);
        foreach (var k in answer.Knobs)
        {
            output.WriteLine(
                $"  {k.Knob.Words}: tried {k.Measure.Show(k.Least)} to "
                    + $"{k.Measure.Show(k.Most)}{(k.Given ? "" : " (assumed)")}, alone it holds from "
                    + $"{k.Measure.Show(k.HoldsFrom)} to {k.Measure.Show(k.HoldsTo)}{(k.Border is null ? "" : $": {k.Border}")}"
            );
        }

        foreach (var why in answer.Tries.Where(t => t.Why is not null).GroupBy(t => t.Why).OrderByDescending(g => g.Count()))
        {
            output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  {why.Count(), 5} x  {why.Key}"));
        }
    }
}
