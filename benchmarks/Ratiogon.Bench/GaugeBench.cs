using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Exchange;
using Ratiogon.Solids;

namespace Ratiogon.Bench;

/// <summary>Readings between any two things of the demo's part with the most faces, a STEP file of 10 MB beside a small program
/// straight on the geometry library, and a million triangles as STL.</summary>
internal static class GaugeBench
{
    private const int Sampled = 300;

    public static void Run(string direct)
    {
        Readings();
        Masses(direct);
        ReadStep(direct);
        Triangles();
    }

    private static void Readings()
    {
        using var rebuilder = new Rebuilder(new NativeKernel());
        var part = new[]
        {
            MotorPlate.Build(),
            HoseCradle.Build(),
            RotorHub.Build(),
            InletBlock.Build(),
            HoseGuide.Build(),
            Spout.Build(),
        }.MaxBy(p => rebuilder.Rebuild(p, withMesh: false).Bodies.Sum(b => b.Topology.Faces.Length))!;
        var site = rebuilder.Gauge(part);
        var names = site
            .Bodies.SelectMany(b => b.Names.Faces.Concat(b.Names.Edges.Where(e => e.Length > 0)).Concat(b.Names.Vertices))
            .Where(n => site.Model.Find(n).Done)
            .ToList();
        var random = new Random(1);
        foreach (var kind in ReadingCatalog.All.Where(k => k.Most == 2 && k.Name is not ("gap" or "overlap")))
        {
            var times = new List<double>();
            for (var i = 0; i < Sampled; i++)
            {
                var step = new ReadingStep("r", 0, "r", kind.Name, [names[random.Next(names.Count)], names[random.Next(names.Count)]])
                {
                    Along = kind.Way == WayUse.Needed ? "world/x" : null,
                };
                var clock = Stopwatch.StartNew();
                if (Gauger.Read(site, step).Done)
                {
                    times.Add(clock.Elapsed.TotalMilliseconds);
                }
            }

            times.Sort();
            Print(
                $"{kind.Label}, any two things of {part.Name}, median; 99th; most",
                $"{times[times.Count / 2]:0.00} ms; {times[times.Count * 99 / 100]:0.00} ms; {times[^1]:0.00} ms",
                $"aim 5 ms   {(times[^1] <= 5 ? "met" : times[times.Count * 99 / 100] <= 5 ? "met by 99 of 100" : "MISSED")}"
            );
        }
    }

    /// <summary>Volume and area of the guide, whose pipe follows a spline and is cut by its clip.</summary>
    private static void Masses(string direct)
    {
        var kernel = new NativeKernel();
        using var rebuilder = new Rebuilder(kernel);
        var guide = rebuilder.Gauge(HoseGuide.Build()).Bodies.Single().Solid;
        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.step");
        var file = kernel.Write(BodyFormat.Step214, [new NamedSolid("guide", guide, "#806040")]).Value;
        File.WriteAllBytes(path, file);
        try
        {
            var solid = kernel.Read(BodyFormat.Step214, file).Value.Solid;
            var volume = kernel.Mass(solid).Volume;
            var times = Enumerable
                .Range(0, 9)
                .Select(n =>
                {
                    // Of another place each time: what is known of faces stays with them.
                    using var moved = kernel.Move(solid, Rigid.By(new Vec3(1 + n, 0, 0))).Value.Solid;
                    var clock = Stopwatch.StartNew();
                    kernel.Mass(moved);
                    return clock.Elapsed.TotalMilliseconds;
                })
                .Order()
                .ToList();
            using var process = Process.Start(new ProcessStartInfo(direct, ["mass", path]) { RedirectStandardOutput = true })!;
            var said = process
                .StandardOutput.ReadToEnd()
                .Trim()
                .Split('\n')[^1]
                .Split(' ')
                .Select(v => double.Parse(v, CultureInfo.InvariantCulture))
                .ToList();
            Print(
                $"volume and area of the guide (agree to {Math.Abs((said[1] / volume) - 1):0.0e+0})",
                $"{times[4]:0.0} ms = {times[4] / said[0]:0.000} x of {said[0]:0} ms",
                ""
            );
        }
        finally
        {
            File.Delete(path);
        }
    }

    private static void ReadStep(string direct)
    {
        var kernel = new NativeKernel();
        var sieves = Enumerable.Range(0, 24).Select(i => Sieve(kernel, 9, 100.0 * i)).ToList();
        var file = kernel.Write(BodyFormat.Step214, [.. sieves.Select((s, i) => new NamedSolid($"sieve {i}", s, "#806040"))]).Value;
        sieves.ForEach(s => s.Dispose());
        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.step");
        File.WriteAllBytes(path, file);
        try
        {
            double Ours()
            {
                var clock = Stopwatch.StartNew();
                var read = kernel.Read(BodyFormat.Step214, file).Value.Solid;
                var time = clock.Elapsed.TotalMilliseconds;
                read.Dispose();
                return time;
            }

            double Straight()
            {
                using var process = Process.Start(new ProcessStartInfo(direct, [path]) { RedirectStandardOutput = true })!;
                return double.Parse(process.StandardOutput.ReadToEnd().Trim().Split('\n')[^1], CultureInfo.InvariantCulture);
            }

            // In turn, so that both meet the machine in the same state.
            Ours();
            var pairs = Enumerable.Range(0, 5).Select(_ => (Ours: Ours(), Straight: Straight())).ToList();
            var (ours, straight) = (pairs.Select(p => p.Ours).Order().ElementAt(2), pairs.Select(p => p.Straight).Order().ElementAt(2));
            Print(
                $"STEP of {file.Length / 1e6:0.0} MB read, with names and colours",
                $"{ours:0} ms = {ours / straight:0.00} x of {straight:0} ms",
                $"aim 1.1 x   {(ours <= 1.1 * straight ? "met" : "MISSED")}"
            );
        }
        finally
        {
            File.Delete(path);
        }

        // As the import does it: read ahead, then rebuilt with what was read.
        using var rebuilder = new Rebuilder(kernel);
        var whole = Stopwatch.StartNew();
        var bodies = rebuilder.Read(BodyFormat.Step214, file).Value.Bodies;
        var reading = whole.Elapsed.TotalMilliseconds;
        var part = new Part
        {
            Name = "sieves",
            Steps =
            [
                new ImportStep("import1", 1, "Sieves", "sieves.step", ImportedFile.Pack(file)) { Bodies = [.. bodies.Select(b => b.Name)] },
            ],
        };
        whole.Restart();
        var built = rebuilder.Rebuild(part);
        var after = whole.Elapsed.TotalMilliseconds;
        Print(
            $"what follows: {built.Bodies.Length} bodies described, named, first triangles",
            $"{after:0} ms = {after / reading:0.00} x of reading",
            $"aim 0.3 x   {(after <= 0.3 * reading ? "met" : "MISSED")}"
        );
    }

    /// <summary>A plate with a square of round holes, every face of it a different one.</summary>
    private static ISolid Sieve(NativeKernel kernel, int side, double at)
    {
        var half = side * 5.0;
        Vec2[] corners = [new(-half, -half), new(half, -half), new(half, half), new(-half, half)];
        var outer = corners
            .Select((c, i) => new ProfileEdge($"l{i}", c, corners[(i + 1) % 4], Vec2.Zero, 0, true, true))
            .ToImmutableArray();
        var holes = Enumerable
            .Range(0, side * side)
            .Select(i => new Vec2((10 * (i % side)) + 5 - half, (10 * (i / side)) + 5 - half))
            .Select((c, i) => ImmutableArray.Create(new ProfileEdge($"c{i}", c + new Vec2(3, 0), c + new Vec2(3, 0), c, 3, false, true)))
            .ToImmutableArray();
        return kernel
            .Prism(new Profile(Frame.World with { Origin = new Vec3(at, 0, 0) }, [new Region("sieve", outer, holes, 0)]), Vec3.AlongZ * 8)
            .Value.Solid;
    }

    internal static void Triangles()
    {
        // A wavy sheet of 1000 x 500 squares.
        const int Across = 1000,
            Up = 500;
        var places = new float[3 * (Across + 1) * (Up + 1)];
        for (var i = 0; i < places.Length / 3; i++)
        {
            var (x, y) = (i % (Across + 1), i / (Across + 1));
            (places[3 * i], places[(3 * i) + 1], places[(3 * i) + 2]) = (x * 0.1f, y * 0.1f, MathF.Sin(x * 0.03f) * MathF.Cos(y * 0.05f));
        }

        var corners = new uint[6 * Across * Up];
        for (var s = 0; s < Across * Up; s++)
        {
            var a = (uint)(((s / Across) * (Across + 1)) + (s % Across));
            uint[] two = [a, a + 1, a + Across + 2, a, a + Across + 2, a + Across + 1];
            two.CopyTo(corners, 6 * s);
        }

        var mesh = new SolidMesh(Bytes<float>(places), [], Bytes<uint>(corners), [], [], []);
        var clock = Stopwatch.StartNew();
        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.stl");
        File.WriteAllBytes(path, StlFile.Binary([new MeshBody("sheet", "#808080", mesh)]));
        var time = clock.Elapsed.TotalMilliseconds;
        var file = File.ReadAllBytes(path);
        File.Delete(path);
        Print("binary STL of 1 million triangles written", $"{time:0} ms", $"aim 1000 ms   {(time <= 1000 ? "met" : "MISSED")}");
        clock.Restart();
        var read = MeshFile.Read("sheet.stl", file).Value.Mesh;
        var parsed = clock.Elapsed.TotalMilliseconds;
        var reference = new ReferenceBody("mesh1", "key", read);
        var segmented = clock.Elapsed.TotalMilliseconds;
        reference.Drawn();
        var all = clock.Elapsed.TotalMilliseconds;
        Print(
            $"the same read as a reference, {reference.Topology.Faces.Length} faces",
            $"{all:0} ms ({parsed:0} read, {segmented - parsed:0} faces and edges, {all - segmented:0} for drawing)",
            $"aim 3000 ms   {(all <= 3000 ? "met" : "MISSED")}"
        );
    }

    private static byte[] Bytes<T>(T[] values)
        where T : unmanaged => System.Runtime.InteropServices.MemoryMarshal.AsBytes(values.AsSpan()).ToArray();

    private static void Print(string what, string value, string aim) => Console.WriteLine($"{what, -72} {value, -40} {aim}");
}
