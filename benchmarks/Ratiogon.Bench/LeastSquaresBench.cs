using System.Diagnostics;
using System.Globalization;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Bench;

/// <summary>A changed size, against a general-purpose nonlinear least-squares library on the same equations, unknowns, start
/// and tolerance: both from the ready equations to their solution. Everything from the sketch to the solved and checked
/// sketch stands beside it.</summary>
internal static class LeastSquaresBench
{
    private const int Repeats = 21;

    public static void Run(string program, string folder)
    {
        Directory.CreateDirectory(folder);
        Console.WriteLine(
            $"{"changed size, against general least squares", -58} {"constraints", 11} {"ours ms", 9} {"theirs ms", 10} "
                + $"{"ratio", 7}   {"all in ms", 9} {"ratio", 7}"
        );
        foreach (var (name, sketch, changed, value) in Problems())
        {
            var values = new Dictionary<string, double>(Chains.Values(sketch)) { [changed] = value };
            var (times, all) = (new List<double>(), new List<double>());
            SystemSolution solution = default;
            var system = SystemReduction.Of(SketchCompiler.Write(sketch, values, reducing: true));
            Warm(() => SketchSolver.Solve(sketch, values));
            for (var i = 0; i < Repeats; i++)
            {
                var clock = Stopwatch.StartNew();
                solution = SystemSolver.Solve(system);
                times.Add(clock.Elapsed.TotalMilliseconds);
                if (system.LargestResidual(solution.X) > 1e-10)
                {
                    throw new InvalidOperationException($"{name} does not solve");
                }

                clock.Restart();
                SketchSolver.Solve(sketch, values);
                all.Add(clock.Elapsed.TotalMilliseconds);
            }

            var file = Path.Combine(folder, name.Replace(' ', '-') + ".txt");
            Write(file, sketch, values);
            var ours = Chains.Percentile(times, 0.5);
            var whole = Chains.Percentile(all, 0.5);
            var theirs = Theirs(program, file);
            var count = sketch.Constraints.Length + sketch.Dimensions.Length;
            Console.WriteLine(
                $"{name, -58} {count, 11} {ours, 9:0.000} {theirs.Time, 10:0.000} {ours / theirs.Time, 7:0.000}   "
                    + $"{whole, 9:0.000} {whole / theirs.Time, 7:0.000}   {solution.Steps, 4} steps {solution.Blocks, 4} blocks   aims "
                    + $"0.2, 0.5 all in   {Said(theirs.Time, ours, 0.2)}, {Said(theirs.Time, whole, 0.5)} ({theirs.Solver})"
            );
        }
    }

    private static string Said(double theirs, double ours, double aim) =>
        double.IsNaN(theirs) ? "not compared"
        : ours <= aim * theirs ? "met"
        : "MISSED";

    /// <summary>Lets the runtime compile what is measured, as in a server that has run for a while.</summary>
    internal static void Warm(Action act)
    {
        var clock = Stopwatch.StartNew();
        for (var i = 0; i < 100 || clock.ElapsedMilliseconds < 1500; i++)
        {
            act();
        }
    }

    private static IEnumerable<(string Name, Sketch Sketch, string Changed, double Value)> Problems()
    {
        yield return ("plate of 20 rectangles", Chains.Rectangles(20, obliqueOnly: true), "r0.width", 24);
        yield return ("chain of 100 rectangles", Chains.Rectangles(100), "r50.width", 24);
        yield return ("chain of 100 that can turn", Chains.Rectangles(100, obliqueOnly: true), "x50", 35);
        yield return ("chain of 1000 rectangles", Chains.Rectangles(1000), "r500.width", 24);
        yield return ("truss of 100 triangles", Figures.Truss(100), "s50", 10.4);
        yield return ("truss of 500 triangles", Figures.Truss(500), "s250", 10.4);
        yield return ("rhombi in a row", Figures.Rhombi(60), "r30", 11);
        yield return ("ring of 60 touching circles", Figures.Ring(60), "r0", 5.3);
    }

    private static void Write(string file, Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        var system = SystemReduction.Of(SketchCompiler.Write(sketch, values, reducing: true));
        using var writer = new StreamWriter(file);
        string Text(double v) => v.ToString("r", CultureInfo.InvariantCulture);
        writer.WriteLine($"{system.UnknownCount} {system.Equations.Length}");
        writer.WriteLine(string.Join(' ', system.Start.Select(Text)));
        foreach (var equation in system.Equations)
        {
            var (name, constants) = equation.Plain ?? throw new InvalidOperationException($"{equation.GetType().Name} has no plain form");
            writer.Write($"{name} {equation.RawVariables.Length} {constants.Length}");
            foreach (var raw in equation.RawVariables)
            {
                writer.Write($" {system.UnknownOf(raw)} {Text(system.OffsetOf(raw))}");
            }

            writer.WriteLine(" " + string.Join(' ', constants.Select(Text)));
        }
    }

    private static (double Time, string Solver) Theirs(string program, string file)
    {
        using var run = Process.Start(
            new ProcessStartInfo(program, [file, Repeats.ToString(CultureInfo.InvariantCulture)]) { RedirectStandardOutput = true }
        )!;
        var line = run.StandardOutput.ReadToEnd().Split(' ', StringSplitOptions.RemoveEmptyEntries);
        run.WaitForExit();
        return run.ExitCode == 0
            ? (double.Parse(line[0], CultureInfo.InvariantCulture), line[1])
            : (double.NaN, "it did not converge in 200 steps");
    }
}

/// <summary>How solving, counting freedoms and the search for dependent rules grow with the sketch.</summary>
internal static class GrowthBench
{
    private static readonly int[] Sizes = [12, 40, 120, 400, 1200];

    public static void Run()
    {
        var solve = new List<(double N, double Ms)>();
        var count = new List<(double N, double Ms)>();
        var diagnose = new List<(double N, double Ms)>();
        foreach (var rectangles in Sizes)
        {
            var sketch = Chains.Rectangles(rectangles);
            var n = sketch.Constraints.Length + sketch.Dimensions.Length;
            var values = new Dictionary<string, double>(Chains.Values(sketch)) { ["r0.width"] = 23 };
            LeastSquaresBench.Warm(() => SketchSolver.Solve(sketch, values));
            LeastSquaresBench.Warm(() => Freedoms.Of(sketch, Freedoms.MostMotions));
            solve.Add((n, Median(() => SketchSolver.Solve(sketch, values))));
            count.Add((n, Median(() => Freedoms.Of(sketch, Freedoms.MostMotions))));
            diagnose.Add((n, Median(() => Diagnosis.AnyDependent(sketch, [new Owner(OwnerKind.Dimension, "r0.width")]))));
            Console.WriteLine(
                $"{$"{rectangles} rectangles, {n} constraints", -58} solve {solve[^1].Ms, 9:0.000} ms   freedoms "
                    + $"{count[^1].Ms, 9:0.000} ms ({count[^1].Ms / solve[^1].Ms:0.00} x the solve)   dependence "
                    + $"{diagnose[^1].Ms, 9:0.000} ms"
            );
        }

        foreach (var (name, aim, figures) in new[] { ("solving", 1.10, solve), ("freedoms", 1.15, count), ("dependence", 1.15, diagnose) })
        {
            var exponent = Math.Log(figures[^1].Ms / figures[1].Ms) / Math.Log(figures[^1].N / figures[1].N);
            Console.WriteLine(
                $"{$"growth of {name}, exponent", -58} {exponent, 9:0.00}   aim {aim:0.00}   {(exponent <= aim ? "met" : "MISSED")}"
            );
        }
    }

    private static double Median(Action act)
    {
        var times = new List<double>();
        var all = Stopwatch.StartNew();
        while (times.Count < 5 || (times.Count < 25 && all.ElapsedMilliseconds < 3000))
        {
            var clock = Stopwatch.StartNew();
            act();
            times.Add(clock.Elapsed.TotalMilliseconds);
        }

        return Chains.Percentile(times, 0.5);
    }
}
