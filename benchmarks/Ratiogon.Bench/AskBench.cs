using System.Diagnostics;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Solids;

namespace Ratiogon.Bench;

/// <summary>How long questions take: drives as a ratio to warm rebuilds of the same run, draws, flexing.</summary>
internal static class AskBench
{
    public static void Run()
    {
        var rebuilders = Enumerable
            .Range(0, Math.Min(4, Environment.ProcessorCount))
            .Select(_ => new Rebuilder(new NativeKernel()))
            .ToArray();
        RebuildResult Build(Part p) => rebuilders[0].Rebuild(p, withMesh: false);
        var builders = new Builders([.. rebuilders.Select(r => (Func<Part, RebuildResult>)(p => r.Rebuild(p, withMesh: false)))]);
        var plate = MotorPlate.Build();
        Build(plate);

        // Warm rebuilds, each with another value, as slopes need them.
        var parameters = Knob.All(plate).Where(k => k.Step.Length == 0).ToList();
        var clock = Stopwatch.StartNew();
        foreach (var knob in parameters.Prepend(parameters[0]))
        {
            Build(knob.At(plate, knob.Value.Value * 1.0123));
        }

        var rebuilds = clock.Elapsed.TotalMilliseconds;
        clock.Restart();
        var answers = plate.Steps.OfType<ReadingStep>().Select(r => DrivesOf.Of(plate, r.Id, Build).Value).ToList();
        var slopes = clock.Elapsed.TotalMilliseconds;
        Row(
            $"slopes of {answers.Count} readings to {parameters.Count} parameters, x of {parameters.Count + 1} warm rebuilds",
            slopes / rebuilds,
            "x",
            1.2
        );

        var flat = new AddStep(new ReadingStep("flat", 0, "Flat", "distance", ["outline/bore.rim", "outline/frame.top"]))
            .Apply(plate)
            .Value;
        clock.Restart();
        ToleranceStudy.Of(flat, "flat", 1000, 1, builders);
        Row("1000 parts drawn at random, a reading of sketches alone", clock.Elapsed.TotalSeconds, "s", 1);
        clock.Restart();
        ToleranceStudy.Of(plate, "wall", 100, 1, builders);
        Row("100 parts drawn at random, bore to slot of the motor plate", clock.Elapsed.TotalSeconds, "s", null);
        clock.Restart();
        var flexed = FlexOf.Of(plate, new FlexQuestion([.. parameters.Select(k => k.Name)], 240), builders).Value;
        Row($"{flexed.Tries.Length} tries of the motor plate, {builders.Count} side by side", clock.Elapsed.TotalSeconds, "s", 20);
        clock.Restart();
        AimOf.Of(plate, new AimQuestion("plate_mass", AimGoal.Value, ["thick"]) { Value = "90 g" }, builders);
        Row("its mass brought to 90 g by one parameter", clock.Elapsed.TotalSeconds, "s", null);
        foreach (var rebuilder in rebuilders)
        {
            rebuilder.Dispose();
        }
    }

    private static void Row(string what, double value, string unit, double? aim) =>
        Console.WriteLine(
            $"{what, -84} {value, 8:0.00} {unit}{(aim is { } a ? $"   aim {a} {unit}   {(value <= a ? "met" : "MISSED")}" : "")}"
        );
}
