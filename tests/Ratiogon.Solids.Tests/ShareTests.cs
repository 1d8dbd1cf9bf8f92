using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Solids.Tests;

/// <summary>The library tells of one long work at a time: no other test may mesh meanwhile.</summary>
[CollectionDefinition("alone", DisableParallelization = true)]
public sealed class AloneCollection;

[Collection("alone")]
public class ShareTests
{
    private static readonly NativeKernel Kernel = new();

    /// <summary>What is told of a long work, asked for all the while that it goes on.</summary>
    private static List<double> Shares(Action work)
    {
        var told = new List<double>();
        var done = false;
        var watch = new Thread(() =>
        {
            while (!Volatile.Read(ref done))
            {
                if (NativeKernel.Share is { } share && (told.Count == 0 || told[^1] != share))
                {
                    told.Add(share);
                }
            }
        });
        watch.Start();
        work();
        Volatile.Write(ref done, true);
        watch.Join();
        return told;
    }

    [Theory]
    [InlineData(BodyFormat.Step214)]
    [InlineData(BodyFormat.Iges)]
    public void Long_reads_and_writes_tell_how_far_they_have_come(BodyFormat format)
    {
        using var own = new Rebuilder(Kernel);
        var plate = Kernel
            .Write(BodyFormat.Step214, [new NamedSolid("Plate", own.Gauge(MotorPlate.Build()).Bodies.Single().Solid, "#336699")])
            .Value;
        using var solid = Kernel.Read(BodyFormat.Step214, plate).Value.Solid;
        NamedSolid[] Many(int count) =>
            [
                .. Enumerable
                    .Range(0, count)
                    .Select(i => new NamedSolid(
                        $"Plate {i}",
                        Kernel.Move(solid, Rigid.By(new Vec3(200 * i, 0, 0))).Value.Solid,
                        "#336699"
                    )),
            ];
        byte[] file = [];

        // Whoever asks on a busy machine hears little of short work.
        foreach (var count in new[] { 40, 160, 640 })
        {
            var many = Many(count);
            List<double>[] all =
            [
                Shares(() => file = Kernel.Write(format, many).Value),
                Shares(() => Kernel.Read(format, file).Done.ShouldBeTrue()),
            ];
            if (count < 640 && all.Any(told => told.Count <= 5 || told[^1] <= 0.6))
            {
                continue;
            }

            foreach (var told in all)
            {
                told.Count.ShouldBeGreaterThan(5);
                told.ShouldBe(told.Order());
                told.ShouldAllBe(s => s >= 0 && s <= 1);
                told[^1].ShouldBeGreaterThan(0.6);
            }

            break;
        }

        NativeKernel.Share.ShouldBeNull("nothing is under way");
    }
}
