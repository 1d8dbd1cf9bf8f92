using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>What drives a reading, against closed forms.</summary>
public sealed class DrivesTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private DrivesAnswer Asked(Part part, string reading, CancellationToken cancel = default) =>
        DrivesOf.Of(part, reading, p => rebuilder.Rebuild(p, withMesh: false), null, cancel).Value;

    private static PartCommand[] Read(string what, params string[] of) => [new AddStep(new ReadingStep("r", 0, "Read", what, [.. of]))];

    /// <summary>A plate w x h x t with a hole d: the slopes of its volume, and no drive that does not move it.</summary>
    [Fact]
    public void Of_a_plate_with_a_hole()
    {
        var part = Parts.Of([
            new SetParameter("t", "8 mm"),
            new SetParameter("twice", "2 * t"),
            new SetParameter("unused", "3 mm"),
            .. Parts.Block(80, 50, 8),
            new SetSize("e", "length", "t"),
            .. Parts.Sketched("k", World.Xy, Parts.Circle("c", 12, 4, 10) with { Size = [new("d", "diameter", ["c"], "20 mm")] }),
            new AddStep(new ExtrudeStep("x", 0, "Bore", "k") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
            .. Read("volume"),
        ]);
        var answer = Asked(part, "Read");
        answer.Value.ShouldBe(((80 * 50) - (Math.PI * 100)) * 8, 1e-6);
        answer.Left.ShouldBeEmpty();
        answer.Tried.ShouldBe(5);
        answer.Drives.Select(d => d.Words).ShouldBe(["t", "r.width of s", "r.height of s", "d of k"], ignoreOrder: true);
        foreach (
            var (words, slope) in new[]
            {
                ("t", (80 * 50) - (Math.PI * 100)),
                ("r.width of s", 50.0 * 8),
                ("r.height of s", 80.0 * 8),
                ("d of k", -Math.PI * 10 * 8),
            }
        )
        {
            var drive = answer.Drives.Single(d => d.Words == words);
            drive.Slope.ShouldBe(slope, 1e-6 * Math.Abs(slope), words);
            Math.Abs(drive.Slope - slope)
                .ShouldBeLessThanOrEqualTo(drive.Error + (1e-9 * Math.Abs(slope)), "within the error that is told");
            drive.Kink.ShouldBeFalse();
        }

        answer.Drives.Sum(d => Math.Abs(d.Share)).ShouldBe(1, 1e-12);
        answer.Drives[^1].Share.ShouldBeLessThan(0, "a larger bore takes away, and least of all");
    }

    /// <summary>The larger of two that are alike: what is moved upwards counts, downwards the other one holds.</summary>
    [Fact]
    public void A_kink_has_two_slopes()
    {
        var part = Parts.Of([
            new SetParameter("a", "8 mm"),
            new SetParameter("b", "8 mm"),
            .. Parts.Block(10, 10, 8),
            new SetSize("e", "length", "max(a, b)"),
            .. Read("volume"),
        ]);
        var a = Asked(part, "r").Drives.Single(d => d.Words == "a");
        (a.Kink, a.Slope, a.SlopeDown).ShouldBe((true, 100, 0), new Within(1e-5));
    }

    [Fact]
    public void What_cannot_be_asked_is_refused_and_what_is_stopped_keeps_what_was_found()
    {
        var part = Parts.Of([.. Parts.Block(10, 10, 8), .. Read("volume")]);
        DrivesOf
            .Of(part, "gone", p => rebuilder.Rebuild(p, false))
            .Refusal!.Message.ShouldBe("There is no reading 'gone'. There are: Read.");
        var lost = Parts.Of([.. Parts.Block(10, 10, 8), .. Read("distance", "e/end", "e/nothing")]);
        DrivesOf.Of(lost, "Read", p => rebuilder.Rebuild(p, false)).Refusal!.Code.ShouldBe("ask.failing");
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        var stopped = Asked(part, "Read", stop.Token);
        (stopped.Stopped, stopped.Drives.Length).ShouldBe((true, 0));
    }

    /// <summary>Bore to slot of the motor plate lies half the plate's height off, less both radii and the slot's place.</summary>
    [Fact]
    public void Of_the_motor_plate()
    {
        var answer = Asked(MotorPlate.Build(), "wall");
        answer.Drives.Select(d => (d.Name, Math.Round(d.Slope, 6))).ShouldBe([("plate_h", 0.5), ("bore", -0.5), ("slot_w", -0.5)]);
    }

    private sealed class Within(double slack) : IEqualityComparer<(bool, double, double)>
    {
        public bool Equals((bool, double, double) x, (bool, double, double) y) =>
            x.Item1 == y.Item1 && Math.Abs(x.Item2 - y.Item2) < slack && Math.Abs(x.Item3 - y.Item3) < slack;

        public int GetHashCode((bool, double, double) of) => 0;
    }
}
