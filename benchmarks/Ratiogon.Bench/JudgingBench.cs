using System.Diagnostics;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Bench;

/// <summary>What a sketch says of itself: freedoms with their motions, rules that follow, sets that clash.</summary>
internal static class JudgingBench
{
    public static void Run()
    {
        Growth("freedoms and motions of a loose chain of lines", [100, 1000, 10_000], 1000, 50, Loose, s =>
            Freedoms.Of(s, Freedoms.MostMotions).Motions.Count
        );
        Growth("redundancy with circles tangent to a line", [40, 400, 4000], 400, 50, Touching, s =>
            Diagnosis.AnyDependent(s, [new Owner(OwnerKind.Constraint, "t0")]) ? 1 : 0
        );
        var redundant = Doubled(800);
        Time("one redundant rule among 800, with its set", 300, () => Diagnosis.AllRedundant(redundant).Count);
        var (clashing, values) = Clashing(330);
        Time("a clash among 1000 rules, with its set", 200, () => Conflicts.Find(clashing, values)!.Rules.Count);
        var turning = Chains.Rectangles(400, obliqueOnly: true);
        var changed = new Dictionary<string, double>(Chains.Values(turning)) { ["x200"] = 33 };
        LeastSquaresBench.Warm(() => SketchSolver.Solve(turning, changed));
        LeastSquaresBench.Warm(() => Freedoms.Of(turning, 0));
        var solve = Median(() => SketchSolver.Solve(turning, changed));
        var count = Median(() => Freedoms.Of(turning, 0));
        Console.WriteLine(
            $"{"counting freedoms against the solve, 400 that turn", -58} {count, 9:0.0} ms = {count / solve:0.00} x of "
                + $"{solve:0.0} ms   aim 2   {(count <= 2 * solve ? "met" : "MISSED")}"
        );
    }

    private static void Growth(string what, int[] sizes, int at, double aim, Func<int, Sketch> make, Func<Sketch, int> act)
    {
        var times = new List<(int N, double Ms)>();
        foreach (var n in sizes)
        {
            var sketch = make(n);
            times.Add((n, Median(() => act(sketch))));
        }

        var mine = times.Single(t => t.N == at).Ms;
        var exponent = Math.Log(times[^1].Ms / times[0].Ms) / Math.Log((double)times[^1].N / times[0].N);
        Console.WriteLine(
            $"{$"{what}, {at}", -58} {mine, 9:0.0} ms   aim {aim}   {(mine <= aim ? "met" : "MISSED")}   exponent "
                + $"{exponent:0.00} (aim 1.15) over {string.Join(", ", times.Select(t => $"{t.N}: {t.Ms:0.0}"))}"
        );
    }

    private static void Time(string what, double aim, Func<int> act)
    {
        var ms = Median(() => act());
        Console.WriteLine($"{what, -58} {ms, 9:0.0} ms   aim {aim}   {(ms <= aim ? "met" : "MISSED")}");
    }

    private static double Median(Action act)
    {
        act();
        var times = new List<double>();
        var all = Stopwatch.StartNew();
        while (times.Count < 3 || (times.Count < 15 && all.ElapsedMilliseconds < 2000))
        {
            var clock = Stopwatch.StartNew();
            act();
            times.Add(clock.Elapsed.TotalMilliseconds);
        }

        return Chains.Percentile(times, 0.5);
    }

    private static Sketch Loose(int count)
    {
        var random = new Random(1);
        var entities = new List<SketchEntity> { new PointEntity("p0", Vec2.Zero) };
        var at = Vec2.Zero;
        for (var i = 1; i <= count; i++)
        {
            at += Vec2.Polar(random.NextDouble() * 2, 10);
            entities.Add(new PointEntity($"p{i}", at));
            entities.Add(new LineEntity($"l{i}", $"p{i - 1}", $"p{i}"));
        }

        return
            new Sketch
            {
                Entities = [.. entities],
                Constraints =
                [
                    .. Enumerable
                        .Range(1, count / 2)
                        .Select(i => new SketchConstraint($"k{i}", "parallel", [$"l{(2 * i) - 1}", $"l{2 * i}"])),
                ],
            }
                is var drawn
            && SketchSolver.Solve(drawn, new Dictionary<string, double>()) is { Solved: true } solved
            ? solved.Sketch
            : new Sketch { Entities = [.. entities] };
    }

    private static Sketch Touching(int count)
    {
        var entities = new List<SketchEntity>
        {
            new PointEntity("a", new(0, 1)),
            new PointEntity("b", new(20 * count, 3)),
            new LineEntity("m", "a", "b"),
        };
        var u = (new Vec2(20 * count, 3) - new Vec2(0, 1)).Unit;
        var ties = new List<SketchConstraint>();
        for (var i = 0; i < count; i++)
        {
            entities.Add(new PointEntity($"c{i}", new Vec2(0, 1) + (u * (20 * i)) + (u.Left * 5)));
            entities.Add(new CircleEntity($"k{i}", $"c{i}", 5));
            ties.Add(new SketchConstraint($"t{i}", "tangent", ["m", $"k{i}"]));
        }

        return new Sketch { Entities = [.. entities], Constraints = [.. ties] };
    }

    private static Sketch Doubled(int count)
    {
        var sketch = Chains.Rectangles(count / 10);
        return sketch with { Constraints = sketch.Constraints.Add(new SketchConstraint("again", "parallel", ["r3.bottom", "r3.top"])) };
    }

    private static (Sketch Sketch, IReadOnlyDictionary<string, double> Values) Clashing(int others)
    {
        var entities = new List<SketchEntity>
        {
            new PointEntity("a", new(0, 0)),
            new PointEntity("b", new(10, 1)),
            new PointEntity("c", new(3, 8)),
            new LineEntity("ab", "a", "b"),
            new LineEntity("bc", "b", "c"),
            new LineEntity("ca", "c", "a"),
        };
        var sizes = new List<SketchDimension>
        {
            new("d1", "distance", ["ab"], "10 mm"),
            new("d2", "distance", ["bc"], "11 mm"),
            new("d3", "distance", ["ca"], "30 mm"),
        };
        var ties = new List<SketchConstraint>();
        for (var i = 0; i < others; i++)
        {
            entities.AddRange([
                new PointEntity($"u{i}", new(20 * i, 100)),
                new PointEntity($"v{i}", new((20 * i) + 10, 108)),
                new LineEntity($"w{i}", $"u{i}", $"v{i}"),
            ]);
            sizes.Add(new SketchDimension($"x{i}", "distance", [$"w{i}"], "13 mm"));
            ties.Add(new SketchConstraint($"y{i}", "horizontal", [i == 0 ? "c" : $"u{i - 1}", $"u{i}"]));
        }

        var sketch = new Sketch
        {
            Entities = [.. entities],
            Constraints = [.. ties],
            Dimensions = [.. sizes],
        };
        return (sketch, Chains.Values(sketch));
    }
}
