using System.Diagnostics;
using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
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

        SlopesOfASketch(Build);
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

    /// <summary>Slopes of a reading to all sizes of a sketch of 300 entities, to one solve of it.</summary>
    private static void SlopesOfASketch(Func<Part, RebuildResult> build)
    {
        const int Links = 100;
        var edit = new SketchEdit
        {
            Add =
            [
                .. Enumerable.Range(0, Links + 1).Select(i => new PointEntity($"p{i}", new Vec2(3 * i, i % 2 * 4))),
                .. Enumerable.Range(0, Links).Select(i => new LineEntity($"l{i}", $"p{i}", $"p{i + 1}")),
                .. Enumerable.Range(0, Links).Select(i => new CircleEntity($"c{i}", $"p{i}", 1)),
            ],
            Tie = [new("t", "coincident", ["p0", Sketch.Origin]), new("h", "horizontal", ["l0"])],
            Size =
            [
                .. Enumerable.Range(0, Links).Select(i => new SketchDimension($"d{i}", "distance", [$"l{i}"], "5 mm")),
                .. Enumerable.Range(0, Links - 1).Select(i => new SketchDimension($"a{i}", "angle", [$"l{i}", $"l{i + 1}"], "100 deg")),
                .. Enumerable.Range(0, Links).Select(i => new SketchDimension($"r{i}", "radius", [$"c{i}"], "1 mm")),
            ],
        };
        var part = new Several(
            [
                new AddStep(new SketchStep("s", 0, "Chain", World.Xy, Sketch.Empty)),
                new EditSketch("s", edit),
                new AddStep(new ReadingStep("far", 0, "Far", "distance", ["s/p0", "s/p100"])),
            ],
            "chain"
        )
            .Apply(new Part())
            .Value;
        var knobs = Knob.All(part);
        build(part);
        var clock = Stopwatch.StartNew();
        const int Solves = 10;
        for (var i = 0; i < Solves; i++)
        {
            build(knobs[i].At(part, knobs[i].Value.Value * 1.001));
        }

        var solve = clock.Elapsed.TotalMilliseconds / Solves;
        DrivesOf.Of(part, "far", build);
        clock.Restart();
        var answer = DrivesOf.Of(part, "far", build).Value;
        Row(
            $"slopes of a reading to {answer.Tried} sizes of a sketch of {3 * Links} entities, {answer.Drives.Count(d => d.Exact)} derived, x of a solve",
            clock.Elapsed.TotalMilliseconds / solve,
            "x",
            2
        );
    }

    private static void Row(string what, double value, string unit, double? aim) =>
        Console.WriteLine(
            $"{what, -84} {value, 8:0.00} {unit}{(aim is { } a ? $"   aim {a} {unit}   {(value <= a ? "met" : "MISSED")}" : "")}"
        );
}
