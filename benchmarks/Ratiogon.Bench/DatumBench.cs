using System.Diagnostics;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Solids;

namespace Ratiogon.Bench;

/// <summary>Datums: all solutions of one, and a long chain of them rebuilt.</summary>
internal static class DatumBench
{
    private const int Rounds = 400;

    public static void Run()
    {
        Thing Face(Surface s, Vec3 at) => Thing.OfSurface("f", s.Word, s, at);
        Thing Point(double x, double y, double z) => Thing.OfPoint("p", "point", new Vec3(x, y, z));
        Thing Line(Vec3 at, Vec3 way) => Thing.OfLine("l", "line", new Line3(at, way.Unit));
        Thing Ball(double x, double y, double r) => Face(new SphereSurface(new Vec3(x, y, 0), r), new Vec3(x, y, r));
        var (level, wall) = (
            Thing.OfPlane("a", "plane", Frame.World),
            Thing.OfPlane("b", "plane", Frame.Facing(new Vec3(9, 0, 0), new Vec3(1, 0.2, 0)))
        );
        var shaft = Face(new CylinderSurface(new Line3(Vec3.Zero, Vec3.AlongZ), 12), new Vec3(12, 0, 5));
        var torus = Face(new TorusSurface(new Line3(Vec3.Zero, Vec3.AlongZ), 20, 4), new Vec3(24, 0, 0));
        var (u, v) = (Vec3.AlongX * 9, Vec3.AlongY * 9);
        var ring = Thing.OfCurve("c", "circle", CurvePath.Of(new RoundCurve(Vec3.Zero, u, v, 0, 2 * Math.PI)).Value);
        var hose = Thing.OfCurve(
            "h",
            "spline",
            CurvePath.Of(BSplineCurve.Through([Vec3.Zero, new(30, 5, 9), new(50, 30, 20), new(60, 60, 40)])).Value
        );
        Measure(
            "plane on three points",
            DatumKind.Plane,
            Say(DatumKind.Plane, "through", Point(0, 0, 0)),
            Say(DatumKind.Plane, "through", Point(9, 1, 2)),
            Say(DatumKind.Plane, "through", Point(3, 8, 1))
        );
        Measure(
            "plane tangent to a cylinder at an angle",
            DatumKind.Plane,
            Say(DatumKind.Plane, "tangent", shaft),
            Say(DatumKind.Plane, "angle", wall, 0.8)
        );
        Measure(
            "plane tangent to three spheres, 8 solutions",
            DatumKind.Plane,
            Say(DatumKind.Plane, "tangent", Ball(0, 0, 1)),
            Say(DatumKind.Plane, "tangent", Ball(9, 1, 2)),
            Say(DatumKind.Plane, "tangent", Ball(2, 10, 1.5))
        );
        Measure(
            "plane tangent to a torus through two points",
            DatumKind.Plane,
            Say(DatumKind.Plane, "tangent", torus),
            Say(DatumKind.Plane, "through", Point(60, 0, 0)),
            Say(DatumKind.Plane, "through", Point(55, 9, 3))
        );
        Measure(
            "axis where two planes meet",
            DatumKind.Axis,
            new Condition(RelationCatalog.Find(DatumKind.Axis, "meeting")!, [level, wall], [])
        );
        Measure(
            "axis crossing four lines, 2 solutions",
            DatumKind.Axis,
            [
                .. new[]
                {
                    Line(Vec3.Zero, new(0, 1, 0)),
                    Line(new(1, 0, 0), new(0, 1, 1)),
                    Line(new(2, 0, 0), new(0, 1, 2)),
                    Line(new(0, 0, 0.5), new(1, 1, 0)),
                }.Select(l => Say(DatumKind.Axis, "meets", l)),
            ]
        );
        Measure(
            "point where three planes meet",
            DatumKind.Point,
            Say(DatumKind.Point, "on-plane", level),
            Say(DatumKind.Point, "on-plane", wall),
            Say(DatumKind.Point, "on-plane", Thing.OfPlane("c", "plane", Frame.Facing(Vec3.Zero, Vec3.AlongY)))
        );
        Measure(
            "point where a circle meets a plane, 2 solutions",
            DatumKind.Point,
            Say(DatumKind.Point, "on-curve", ring),
            Say(DatumKind.Point, "on-plane", Thing.OfPlane("d", "plane", Frame.Facing(new Vec3(3, 0, 0), Vec3.AlongX)))
        );
        Measure(
            "point on three spheres, 2 solutions",
            DatumKind.Point,
            Say(DatumKind.Point, "on-face", Ball(0, 0, 5)),
            Say(DatumKind.Point, "on-face", Ball(4, 0, 5)),
            Say(DatumKind.Point, "on-face", Ball(0, 4, 5))
        );
        Measure("point at a fraction of a spline", DatumKind.Point, Say(DatumKind.Point, "at-fraction", hose, 0.37));
        Chain(1000, 50);
    }

    private static Condition Say(DatumKind kind, string relation, Thing thing, params double[] values) =>
        new(RelationCatalog.Find(kind, relation)!, [thing], [.. values]);

    private static void Measure(string what, DatumKind kind, params Condition[] conditions)
    {
        var times = new List<double>();
        for (var i = 0; i < 2 * Rounds; i++)
        {
            var clock = Stopwatch.StartNew();
            var answer = DatumSolver.Solve(kind, conditions);
            times.Add(clock.Elapsed.TotalMilliseconds);
            if (answer.Solutions.IsEmpty)
            {
                throw new InvalidOperationException($"{what}: {answer.Refusal?.Message}");
            }
        }

        var median = Chains.Percentile(times[Rounds..], 0.5);
        Console.WriteLine($"{what, -58} median {median, 7:0.0000} ms   aim 0.2 ms   {(median <= 0.2 ? "met" : "MISSED")}");
    }

    /// <summary>Planes, axes and points that each stand on the ones before, with one size changed at the beginning.</summary>
    private static void Chain(int count, double aim)
    {
        var steps = new List<Step>();
        for (var i = 0; steps.Count < count; i++)
        {
            var (plane, before) = ($"p{i}", i == 0 ? World.Xy : $"p{i - 1}");
            steps.Add(PlaneStep.Offset(plane, steps.Count + 1, plane, before, i == 0 ? "first" : "1 mm"));
            steps.Add(new AxisStep($"a{i}", steps.Count + 1, $"a{i}", [new DatumCondition("meeting", [plane, World.Yz])]));
            steps.Add(
                new PointStep(
                    $"o{i}",
                    steps.Count + 1,
                    $"o{i}",
                    [new DatumCondition("on-line", [$"a{i}"]), new DatumCondition("on-plane", [World.Xz])]
                )
            );
        }

        using var rebuilder = new Rebuilder(new NativeKernel());
        var times = new List<double>();
        for (var i = 0; i < 40; i++)
        {
            var part = new Part { Parameters = [new("first", $"{1 + (0.1 * i)} mm", "")], Steps = [.. steps.Take(count)] };
            var clock = Stopwatch.StartNew();
            var result = rebuilder.Rebuild(part, withMesh: false);
            times.Add(clock.Elapsed.TotalMilliseconds);
            if (result.Steps.Any(s => s.State != StepState.Built))
            {
                throw new InvalidOperationException(result.Steps.First(s => s.State != StepState.Built).Message);
            }
        }

        var median = Chains.Percentile(times[10..], 0.5);
        Console.WriteLine(
            $"{$"{count} datums in chains, rebuilt", -58} median {median, 7:0.0} ms   aim {aim} ms   {(median <= aim ? "met" : "MISSED")}"
        );
    }
}
