using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Blocks, bars, balls, rings and cones crossing each other anywhere: whatever their shape, what they have together
/// is what each has less what they have in common.</summary>
public sealed class CombiningTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private static SketchEdit Outline(params Vec2[] corners) =>
        new()
        {
            Add =
            [
                .. corners.Select((c, i) => (SketchEntity)new PointEntity($"p{i}", c)),
                .. corners.Select((_, i) => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{(i + 1) % corners.Length}")),
            ],
        };

    /// <summary>A body in a place that is often a round number, so that axes meet and faces touch.</summary>
    private static PartCommand[] Body(string id, Random random, FormOperation operation)
    {
        double Some(int low, int high) =>
            random.Next(2) == 0 ? random.Next(low, high) : Math.Round(low + (random.NextDouble() * (high - low)), 2);
        var plane = new[] { World.Xy, World.Xz, World.Yz }[random.Next(3)];
        var axis = plane == World.Yz ? "world/y" : "world/x";
        var (x, y, size, length) = (Some(-8, 8), Some(-8, 8), Some(3, 12), Some(4, 30));
        var (sketch, extruded) = ($"{id}_s", FormattableString.Invariant($"{length} mm"));
        PartCommand[] Extruded(SketchEdit profile) =>
            [
                .. Parts.Sketched(sketch, plane, profile),
                new AddStep(
                    new ExtrudeStep(id, 0, "", sketch)
                    {
                        Length = extruded,
                        Extent = ExtrudeExtent.Symmetric,
                        Operation = operation,
                    }
                ),
            ];
        PartCommand[] Turned(SketchEdit profile) =>
            [.. Parts.Sketched(sketch, plane, profile), new AddStep(new RevolveStep(id, 0, "", sketch, axis) { Operation = operation })];
        return random.Next(5) switch
        {
            0 => Extruded(Parts.Rectangle(size * 2, length, new Vec2(x, y))),
            1 => Extruded(Parts.Circle("c", x, y, size)),
            2 => Turned(
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("m", Vec2.Zero),
                        new PointEntity("a", new Vec2(-size, 0)),
                        new PointEntity("b", new Vec2(size, 0)),
                        new ArcEntity("r", "m", "b", "a", size),
                        new LineEntity("l", "a", "b"),
                    ],
                }
            ),
            3 => Turned(Parts.Circle("c", 0, size + 4 + random.Next(6), size / 2)),
            _ => Turned(Outline(new Vec2(x, 0), new Vec2(x + (size * 2), 0), new Vec2(x, size))),
        };
    }

    /// <summary>The volume of what stands; nothing where nothing is left or nothing is met.</summary>
    private double Volume(params PartCommand[] commands)
    {
        var result = rebuilder.Rebuild(Parts.Of(commands), withMesh: false);
        var failed = result.Steps.Where(s => s.State == StepState.Failed).ToList();
        if (failed.Count == 0)
        {
            return result.Bodies.Sum(b => b.Mass.Volume);
        }

        failed.Single().Message.ShouldMatch("nothing would be left|leave nothing|meets no material|takes nothing");
        return
            failed[0].Message.Contains("no material", StringComparison.Ordinal)
            || failed[0].Message.Contains("takes nothing", StringComparison.Ordinal)
            ? double.NaN
            : 0;
    }

    [Theory]
    [InlineData(0, 20)]
    [InlineData(40, 60)]
    [InlineData(220, 240)]
    public void What_two_bodies_have_together_and_in_common_adds_up(int from, int to)
    {
        var crossing = 0;
        for (var seed = from; seed < to; seed++)
        {
            PartCommand[] First() => Body("a", new Random(seed), FormOperation.Body);
            PartCommand[] Second(FormOperation operation)
            {
                var random = new Random(seed);
                Body("a", random, operation);
                return Body("b", random, operation);
            }

            // The bodies are kept from one to the next: what one of these did to them would show in the others.
            var (a, b) = (Volume(First()), Volume(Second(FormOperation.Body)));
            var join = Volume([.. First(), .. Second(FormOperation.Join)]);
            var cut = Volume([.. First(), .. Second(FormOperation.Cut)]);
            var common = Volume([.. First(), .. Second(FormOperation.Intersect)]);
            crossing += common > 0 ? 1 : 0;
            join.ShouldBe(a + b - common, a * 1e-6, $"together, {seed}");
            (double.IsNaN(cut) ? a : cut).ShouldBe(a - common, a * 1e-6, $"the first less the second, {seed}");
        }

        crossing.ShouldBeGreaterThan((to - from) / 3);
    }
}
