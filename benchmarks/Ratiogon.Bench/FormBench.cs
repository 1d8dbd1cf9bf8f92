using System.Diagnostics;
using System.Globalization;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Solids;

namespace Ratiogon.Bench;

/// <summary>Solid features: a changed size beside the same operations coded straight against the geometry library, many equal
/// holes beside one boolean of as many cylinders, and rebuild time over the number of steps.</summary>
internal static class FormBench
{
    /// <summary>Where the time of one late change, one early change and a grid of holes goes.</summary>
    public static void Profile()
    {
        Holes(400, true);
        foreach (
            var (what, first, then) in new[]
            {
                ("late change", MotorPlate.Build(), new SetParameter("inset", "8 mm").Apply(MotorPlate.Build()).Value),
                ("early change", MotorPlate.Build(), new SetParameter("plate_w", "95 mm").Apply(MotorPlate.Build()).Value),
            }
        )
        {
            var kernel = TimedKernel.About(new NativeKernel());
            using var rebuilder = new Rebuilder(kernel);
            rebuilder.Rebuild(first);
            rebuilder.Rebuild(new SetParameter("inset", "9 mm").Apply(first).Value);
            ((TimedKernel)(object)kernel).Spent.Clear();
            var clock = Stopwatch.StartNew();
            rebuilder.Rebuild(then);
            Console.WriteLine($"{what}: {clock.Elapsed.TotalMilliseconds:0.0} ms, of it " + $"{((TimedKernel)(object)kernel).Told}");
        }
    }

    public static void Run(string direct)
    {
        Changed(direct);
        Holes(400);
        Growth();
        Branches(2);
        Branches(4);
    }

    /// <summary>Bodies that do not meet, built side by side and one after the other in turn; then one of them changed.</summary>
    private static void Branches(int count)
    {
        var part = Made(Enumerable.Range(0, count).SelectMany(i => Perforated($"b{i}", i * 200)));
        List<double> Times(bool sideBySide, int rounds)
        {
            var times = new List<double>();
            for (var i = 0; i < rounds; i++)
            {
                using var rebuilder = new Rebuilder(new NativeKernel()) { SideBySide = sideBySide };
                var clock = Stopwatch.StartNew();
                rebuilder.Rebuild(part, withMesh: false);
                times.Add(clock.Elapsed.TotalMilliseconds);
            }

            return times;
        }

        Times(true, 1);
        List<double> together = [],
            apart = [];
        for (var i = 0; i < 7; i++)
        {
            together.AddRange(Times(true, 1));
            apart.AddRange(Times(false, 1));
        }

        double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);
        Print(
            $"{count} bodies that do not meet, side by side on {Environment.ProcessorCount} cores",
            $"{Median(together):0} ms = {Median(together) / Median(apart):0.00} x of {Median(apart):0} ms",
            "none"
        );
        using var kept = new Rebuilder(new NativeKernel());
        kept.Rebuild(part, withMesh: false);
        var changed = part.With((ExtrudeStep)part.Find("b0")! with { Length = "21 mm" });
        var again = Stopwatch.StartNew();
        kept.Rebuild(changed, withMesh: false);
        Print(
            $"one of the {count} changed from its first form on",
            $"{again.Elapsed.TotalMilliseconds:0} ms = {again.Elapsed.TotalMilliseconds / Median(apart):0.00} x of all",
            "none"
        );
    }

    /// <summary>A body with 24 slots cut one after the other and its upright corners rounded.</summary>
    private static IEnumerable<PartCommand> Perforated(string id, double x)
    {
        SketchEdit Box(double cx, double cy, double w, double h) =>
            ShapeCatalog.RectangleByCentre("r", new Vec2(x + cx, cy), new Vec2(x + cx + (w / 2), cy + (h / 2)));
        yield return new AddStep(new SketchStep($"s_{id}", 0, "", World.Xy, Sketch.Empty));
        yield return new EditSketch($"s_{id}", Box(0, 0, 180, 120));
        yield return new AddStep(new ExtrudeStep(id, 0, "", $"s_{id}") { Length = "20 mm", Operation = FormOperation.Body });
        for (var i = 0; i < 24; i++)
        {
            yield return new AddStep(new SketchStep($"c{i}_{id}", 0, "", World.Xy, Sketch.Empty));
            yield return new EditSketch($"c{i}_{id}", Box(-70 + (28 * (i % 6)), -45 + (30 * (i / 6)), 18, 12));
            yield return new AddStep(
                new ExtrudeStep($"e{i}_{id}", 0, "", $"c{i}_{id}")
                {
                    Length = "9 mm",
                    Operation = FormOperation.Cut,
                    Bodies = [id],
                }
            );
        }

        yield return new AddStep(
            new FilletStep(
                $"f_{id}",
                0,
                "",
                [
                    $"{id}/side/r.bottom^{id}/side/r.left",
                    $"{id}/side/r.bottom^{id}/side/r.right",
                    $"{id}/side/r.top^{id}/side/r.left",
                    $"{id}/side/r.top^{id}/side/r.right",
                ]
            )
            {
                Radius = "6 mm",
            }
        );
    }

    private static void Changed(string direct)
    {
        using var process = Process.Start(new ProcessStartInfo(direct) { RedirectStandardOutput = true })!;
        var straight = double.Parse(process.StandardOutput.ReadToEnd(), CultureInfo.InvariantCulture);
        using var rebuilder = new Rebuilder(new NativeKernel());
        var part = MotorPlate.Build();
        rebuilder.Rebuild(part);
        double Median(Func<int, PartCommand> change)
        {
            var times = new List<double>();
            for (var i = 0; i < 31; i++)
            {
                var changed = change(i).Apply(part).Value;
                var clock = Stopwatch.StartNew();
                rebuilder.Rebuild(changed);
                times.Add(clock.Elapsed.TotalMilliseconds);
            }

            times.Sort();
            return times[times.Count / 2];
        }

        var late = Median(i => new SetParameter("inset", $"{(7 + (0.01 * i)).ToString(CultureInfo.InvariantCulture)} mm"));
        var early = Median(i => new SetParameter("plate_w", $"{(90 + (0.1 * i)).ToString(CultureInfo.InvariantCulture)} mm"));
        Print("motor plate coded straight against the library", $"{straight:0.0} ms");
        Print("a size of its last form changed, warm", $"{late:0.0} ms = {late / straight:0.00} x", "0.5 x", late <= 0.5 * straight);
        Print("a size of its first form changed, all rebuilt", $"{early:0.0} ms = {early / straight:0.00} x", "none");
    }

    private static void Holes(int count, bool profile = false)
    {
        var side = (int)Math.Ceiling(Math.Sqrt(count));
        var kernel = new NativeKernel();
        var timed = TimedKernel.About(kernel);
        using var rebuilder = new Rebuilder(timed);
        var part = Made([
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Rectangle((side + 1) * 10, (side + 1) * 10)),
            new AddStep(new ExtrudeStep("plate", 0, "", "s") { Length = "8 mm" }),
            new AddStep(new SketchStep("h", 0, "", "plate/end", Sketch.Empty)),
            new EditSketch("h", new SketchEdit { Add = [new PointEntity("p", new Vec2(-(side - 1) * 5, -(side - 1) * 5))] }),
            new AddStep(new HoleStep("hole", 0, "", ["h/p"]) { Diameter = "5 mm", Extent = HoleExtent.Through }),
        ]);
        var pattern = new AddStep(
            new PatternStep("grid", 0, "", ["hole"])
            {
                Along = "world/x",
                Spacing = "10 mm",
                Count = $"{side}",
                Across = "world/y",
                Rows = $"{side}",
                RowSpacing = "10 mm",
            }
        ).Apply(part).Value;
        rebuilder.Rebuild(part, withMesh: false);
        var clock = Stopwatch.StartNew();
        var body = rebuilder.Rebuild(pattern, withMesh: false).Bodies[0];
        var ours = clock.Elapsed.TotalMilliseconds;
        if (profile)
        {
            Console.WriteLine($"holes: {ours:0.0} ms, of it {((TimedKernel)(object)timed).Told}");
        }

        // The same plate, cut by all cylinders in one boolean.
        var plate = kernel
            .Prism(
                new Profile(Frame.World, [.. Core.Sketches.Regions.Arrangement.Of(((SketchStep)part.Find("s")!).Sketch).Regions]),
                Vec3.AlongZ * 8
            )
            .Value.Solid;
        var tools = Enumerable
            .Range(0, side * side)
            .Select(i =>
                new RoundTool(
                    new Line3(new Vec3((-(side - 1) * 5) + (10 * (i % side)), (-(side - 1) * 5) + (10 * (i / side)), 9), -Vec3.AlongZ),
                    [new(0, 0, ""), new(0, 2.5, "top"), new(10, 2.5, "wall"), new(10, 0, "end")],
                    "",
                    ""
                )
                    .Make(kernel)
                    .Value.Solid
            )
            .ToList();
        clock.Restart();
        var cut = kernel.Cut(plate, tools).Value.Solid;
        var naive = clock.Elapsed.TotalMilliseconds;
        Print(
            $"{side * side} equal holes in a plate (volumes agree to "
                + $"{Math.Abs(kernel.Mass(cut).Volume - body.Mass.Volume) / body.Mass.Volume:0.0e0})",
            $"{ours:0} ms = {ours / naive:0.000} x of {naive:0} ms",
            "0.1 x",
            ours <= 0.1 * naive
        );
    }

    /// <summary>Parts of 10 to 200 steps, all built, then the last step changed.</summary>
    public static void Growth()
    {
        var (points, started) = (new List<(double Steps, double Time)>(), false);
        // The first part is built for the process alone: code is compiled, libraries are loaded.
        foreach (var steps in new[] { 25, 10, 25, 50, 100, 200 })
        {
            var commands = new List<PartCommand>
            {
                new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
                new EditSketch("s", Rectangle(400, 400)),
                new AddStep(new ExtrudeStep("plate", 0, "", "s") { Length = "10 mm" }),
            };
            for (var i = 0; commands.Count(c => c is AddStep) < steps; i++)
            {
                var (x, y) = (-180 + (36 * (i % 11)), -180 + (36 * (i / 11)));
                commands.Add(new AddStep(new SketchStep($"s{i}", 0, "", World.Xy, Sketch.Empty)));
                commands.Add(
                    new EditSketch($"s{i}", new SketchEdit { Add = [new PointEntity("c", new Vec2(x, y)), new CircleEntity("k", "c", 10)] })
                );
                commands.Add(
                    new AddStep(
                        new ExtrudeStep($"e{i}", 0, "", $"s{i}")
                        {
                            Length = i % 2 == 0 ? "25 mm" : "4 mm",
                            Operation = i % 2 == 0 ? FormOperation.Join : FormOperation.Cut,
                        }
                    )
                );
            }

            var part = Made(commands);
            var clock = Stopwatch.StartNew();
            for (var again = 0; again < 2; again++)
            {
                using var other = new Rebuilder(new NativeKernel());
                other.Rebuild(part, withMesh: false);
            }

            var before = clock.Elapsed.TotalMilliseconds / 2;
            using var rebuilder = new Rebuilder(new NativeKernel());
            clock.Restart();
            rebuilder.Rebuild(part, withMesh: false);
            var cold = Math.Min(before, clock.Elapsed.TotalMilliseconds);
            var changed = part.With(part.Steps[^1] is ExtrudeStep e ? e with { Length = "7 mm" } : part.Steps[^1]);
            clock.Restart();
            rebuilder.Rebuild(changed, withMesh: false);
            if (!started)
            {
                started = true;
                continue;
            }

            points.Add((part.Steps.Length, cold));
            Print(
                $"{part.Steps.Length} steps, all built; the last changed",
                $"{cold:0} ms; {clock.Elapsed.TotalMilliseconds:0.0} ms",
                "none"
            );
        }

        Print(
            "memory of the process with what it keeps of all of them",
            $"{Environment.WorkingSet / 1048576} MB",
            "300 MB",
            Environment.WorkingSet < 300L * 1048576
        );
        var (mx, my) = (points.Average(p => Math.Log(p.Steps)), points.Average(p => Math.Log(p.Time)));
        Print(
            "rebuild time over steps, exponent",
            $"{points.Sum(p => (Math.Log(p.Steps) - mx) * (Math.Log(p.Time) - my)) / points.Sum(p => Math.Pow(Math.Log(p.Steps) - mx, 2)):0.00}",
            "1.15"
        );
    }

    /// <summary>The 200 upright edges of 50 posts rounded by one form, with all that follows it.</summary>
    public static void Fillets()
    {
        var (points, lines, edges) = (new List<SketchEntity>(), new List<SketchEntity>(), new List<string>());
        for (var post = 0; post < 50; post++)
        {
            var (x, y) = (-190 + (40 * (post % 10)), -90 + (40 * (post / 10)));
            for (var i = 0; i < 4; i++)
            {
                points.Add(new PointEntity($"p{post}_{i}", new Vec2(x + (i is 1 or 2 ? 20 : 0), y + (i is 2 or 3 ? 20 : 0))));
                lines.Add(new LineEntity($"l{post}_{i}", $"p{post}_{i}", $"p{post}_{(i + 1) % 4}"));
                edges.Add($"e/side/l{post}_{i}^e/side/l{post}_{(i + 1) % 4}");
            }
        }

        var part = Made([
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Rectangle(400, 240)),
            new AddStep(new ExtrudeStep("plate", 0, "", "s") { Length = "10 mm" }),
            new AddStep(new SketchStep("t", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("t", new SketchEdit { Add = [.. points, .. lines] }),
            new AddStep(new ExtrudeStep("e", 0, "", "t") { Length = "30 mm" }),
            new AddStep(new FilletStep("f", 0, "", [.. edges]) { Radius = "3 mm" }),
        ]);
        using var rebuilder = new Rebuilder(new NativeKernel());
        rebuilder.Rebuild(part.With((FilletStep)part.Steps[^1] with { Radius = "2 mm" }), withMesh: false);
        var clock = Stopwatch.StartNew();
        var built = rebuilder.Rebuild(part, withMesh: false);
        var time = clock.Elapsed.TotalMilliseconds;
        if (built.Steps[^1].State != StepState.Built)
        {
            throw new InvalidOperationException(built.Steps[^1].Message);
        }

        Print($"a fillet on {edges.Count} edges of 50 posts, with all that follows it", $"{time:0} ms", "2000 ms", time <= 2000);
    }

    private static SketchEdit Rectangle(double w, double h)
    {
        var edit = ShapeCatalog.RectangleByCentre("r", Vec2.Zero, new Vec2(w / 2, h / 2));
        return edit with { Size = [ShapeCatalog.Width("r", $"{w} mm"), ShapeCatalog.Height("r", $"{h} mm")] };
    }

    private static Part Made(IEnumerable<PartCommand> commands) =>
        commands.Aggregate(new Part(), (p, c) =>
            c.Apply(p) is { Done: true } next ? next.Value : throw new InvalidOperationException(c.Apply(p).Refusal!.Message)
        );

    private static void Print(string what, string value, string aim = "", bool met = true) =>
        Console.WriteLine($"{what, -72} {value, -30} {(aim is "" or "none" ? "" : $"aim {aim}   {(met ? "met" : "MISSED")}")}");
}
