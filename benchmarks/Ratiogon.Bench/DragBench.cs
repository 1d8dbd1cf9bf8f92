using System.Diagnostics;
using Ratiogon.Core;
using Ratiogon.Core.Sketches.Drawing;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Bench;

/// <summary>One drag frame as the server works it out: solve, and the entities as they are sent.</summary>
internal static class DragBench
{
    private const int Frames = 1200;

    public static void Run(int rectangles, double aim) =>
        Measure($"drag frame, {rectangles} rectangles, all sized", Chains.Rectangles(rectangles), $"r{rectangles / 2}.p1", aim);

    /// <summary>Linked by true distances alone: every link can turn, so the whole chain is one under-determined part.</summary>
    public static void RunObliqueChain(int rectangles, double aim) =>
        Measure(
            $"drag frame, {rectangles} rectangles, links that turn",
            Chains.Rectangles(rectangles, obliqueOnly: true),
            $"r{rectangles / 2}.p1",
            aim
        );

    private static void Measure(string what, Core.Sketches.Sketch sketch, string grabbed, double aim)
    {
        var at = sketch.At(grabbed);
        var drag = new DragSession(sketch, Chains.Values(sketch), grabbed, at);
        var times = new List<double>();
        for (var frame = 0; frame < Frames; frame++)
        {
            var pointer = at + Vec2.Polar(frame * 0.05, 12);
            var clock = Stopwatch.StartNew();
            drag.MoveTo(pointer);
            SketchView.EntitiesOf(drag.Current(), null);
            times.Add(clock.Elapsed.TotalMilliseconds);
        }

        var p95 = Chains.Percentile(times[400..], 0.95);
        Console.WriteLine($"{what, -58} p95 {p95, 8:0.000} ms   aim {aim} ms   {(p95 <= aim ? "met" : "MISSED")}");
    }
}

/// <summary>A changed size, and the count of freedoms against it.</summary>
internal static class SolveBench
{
    public static void Run(int rectangles)
    {
        var sketch = Chains.Rectangles(rectangles, obliqueOnly: true);
        var (solve, count) = (new List<double>(), new List<double>());
        for (var i = 0; i < 30; i++)
        {
            var values = new Dictionary<string, double>(Chains.Values(sketch)) { ["r0.width"] = 20 + (i % 5) };
            var clock = Stopwatch.StartNew();
            SketchSolver.Solve(sketch, values);
            solve.Add(clock.Elapsed.TotalMilliseconds);
            clock.Restart();
            Freedoms.Of(sketch, Freedoms.MostMotions);
            count.Add(clock.Elapsed.TotalMilliseconds);
        }

        Console.WriteLine(
            $"{$"changed size, {rectangles} rectangles, links that turn", -58} median {Chains.Percentile(solve, 0.5), 5:0.00} "
                + $"ms; counting freedoms {Chains.Percentile(count, 0.5):0.00} ms"
        );
    }
}
