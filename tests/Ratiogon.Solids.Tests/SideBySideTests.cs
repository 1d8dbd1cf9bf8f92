using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests;

/// <summary>Bodies that do not meet are built side by side, and what comes of it is what one after the other gives.</summary>
public class SideBySideTests
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    /// <summary>A block of 30 x 20 x "h" with a slot, a round corner and a bevelled edge; the slot names its body.</summary>
    private static PartCommand[] Block(string id, double x) =>
        [
            new SetParameter($"h_{id}", "12 mm"),
            new SetParameter($"r_{id}", "3 mm"),
            new AddStep(new SketchStep($"s_{id}", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch($"s_{id}", Parts.Rectangle(30, 20, new Vec2(x, 0))),
            new AddStep(new ExtrudeStep(id, 0, "", $"s_{id}") { Length = $"h_{id}", Operation = FormOperation.Body }),
            new AddStep(new SketchStep($"c_{id}", 0, "", $"{id}/end", Sketch.Empty)),
            new EditSketch($"c_{id}", Parts.Rectangle(4, 30, new Vec2(x, 0))),
            new AddStep(
                new ExtrudeStep($"slot_{id}", 0, "", $"c_{id}")
                {
                    Length = "5 mm",
                    Flip = true,
                    Operation = FormOperation.Cut,
                    Bodies = [id],
                }
            ),
            new AddStep(new FilletStep($"round_{id}", 0, "", [$"{id}/side/r.bottom^{id}/side/r.left"]) { Radius = $"r_{id}" }),
            new AddStep(new ChamferStep($"bevel_{id}", 0, "", [$"{id}/side/r.right^{id}/start"]) { Size = "1 mm" }),
            new AddStep(new ReadingStep($"v_{id}", 0, $"v_{id}", "volume", [id])),
        ];

    private static Part Blocks(int count, params PartCommand[] more) =>
        Parts.Of([.. Enumerable.Range(0, count).SelectMany(i => Block($"b{i}", i * 40)), .. more]);

    /// <summary>Everything that a rebuild says, as one text.</summary>
    private static string Told(RebuildResult built) =>
        string.Join(
            '\n',
            built
                .Steps.Select(s => $"{s.Id} {s.State} {s.Message} {s.Reading:R} {s.Frame?.ToExact()} {string.Join(' ', s.Lost)}")
                .Concat(
                    built.Bodies.Select(b =>
                        $"{b.Name} {b.Mass.Volume:R} {b.Mass.Area:R} {string.Join(' ', b.Names.Faces)} {string.Join(' ', b.Names.Edges)} "
                        + $"{b.Key}"
                    )
                )
        );

    private static RebuildResult Build(Part part, bool sideBySide)
    {
        using var own = new Rebuilder(new NativeKernel()) { SideBySide = sideBySide };
        return own.Rebuild(part, withMesh: false);
    }

    [Fact]
    public void Two_bodies_are_rounded_at_the_same_time()
    {
        // Each fillet waits until the other one has begun: one after the other, the first would wait in vain.
        using var both = new Barrier(2);
        var met = 0;
        var kernel = CountingKernel.About(new NativeKernel());
        kernel.Before = method =>
        {
            if (method == "Fillet" && both.SignalAndWait(Patience))
            {
                Interlocked.Increment(ref met);
            }
        };
        using var own = new Rebuilder((ISolidKernel)kernel);
        own.Rebuild(Blocks(2), withMesh: false).Steps.ShouldAllBe(s => s.State == StepState.Built);
        met.ShouldBe(2);
    }

    [Fact]
    public void A_change_of_one_body_makes_nothing_of_the_other_again()
    {
        var kernel = CountingKernel.About(new NativeKernel());
        using var own = new Rebuilder((ISolidKernel)kernel);
        var part = Blocks(2);
        var before = own.Rebuild(part);
        int[] Calls() => [kernel.Calls("Prism"), kernel.Calls("Fillet"), kernel.Calls("Chamfer"), kernel.Calls("Mesh")];
        var first = Calls();
        var after = own.Rebuild(new SetParameter("h_b0", "15 mm").Apply(part).Value);
        Calls().Zip(first, (now, then) => now - then).ShouldBe([2, 1, 1, 1], "a block, its slot, its corner and its bevel");
        after.Bodies[1].Key.ShouldBe(before.Bodies[1].Key);
        (after.Bodies[0].Mass.Volume - before.Bodies[0].Mass.Volume).ShouldBe(
            3 * ((30 * 20) - (4 * 20) - (9 * (1 - (Math.PI / 4)))) + (3 * 80),
            1e-6
        );
    }

    [Fact]
    public void A_part_of_many_forms_is_not_built_again_from_the_start()
    {
        var kernel = CountingKernel.About(new NativeKernel());
        using var own = new Rebuilder((ISolidKernel)kernel);
        var part = Parts.Of([
            .. Enumerable
                .Range(0, 120)
                .SelectMany(i =>
                    new PartCommand[]
                    {
                        new AddStep(new SketchStep($"s{i}", 0, "", World.Xy, Sketch.Empty)),
                        new EditSketch($"s{i}", Parts.Rectangle(5, 5, new Vec2(10 * i, 0))),
                        new AddStep(new ExtrudeStep($"e{i}", 0, "", $"s{i}") { Operation = FormOperation.Body }),
                    }
                ),
        ]);
        own.Rebuild(part, withMesh: false).Bodies.Length.ShouldBe(120);
        own.Rebuild(new SetSize("e119", "length", "11 mm").Apply(part).Value, withMesh: false);
        kernel.Calls("Prism").ShouldBe(121);
    }

    [Fact]
    public void It_gives_what_one_after_the_other_gives_under_any_change()
    {
        var random = new Random(20261127);
        var part = Blocks(
            4,
            new AddStep(new ReadingStep("all", 0, "all", "volume", [])),
            new AddStep(new SketchStep("x", 0, "", World.Xz, Sketch.Empty)),
            new EditSketch("x", Parts.Circle("k", 0, 6, 2)),
            new AddStep(new ExtrudeStep("through", 0, "", "x") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
            new AddStep(new FilletStep("last", 0, "", ["b3/end^b3/side/r.top"]) { Radius = "1 mm" })
        );
        using var kept = new Rebuilder(new NativeKernel());
        for (var round = 0; round < 25; round++)
        {
            var id = $"b{random.Next(4)}";
            PartCommand change = random.Next(5) switch
            {
                0 => new SetParameter($"h_{id}", $"{random.Next(6, 20)} mm"),
                1 => new SetParameter($"r_{id}", $"{random.Next(1, 14)} mm"),
                2 => new SuppressStep($"slot_{id}", random.Next(2) == 0),
                3 => new SuppressStep($"round_{id}", random.Next(2) == 0),
                _ => new SuppressStep(id, random.Next(3) == 0),
            };
            part = change.Apply(part).Value;
            Told(kept.Rebuild(part, withMesh: false)).ShouldBe(Told(Build(part, sideBySide: false)), $"after change {round}, {change}");
        }
    }

    [Fact]
    public void Bodies_keep_the_order_of_the_steps_that_began_them()
    {
        // The second body has next to nothing to do and is there long before the first.
        var part = Parts.Of([
            .. Block("a", 0),
            new AddStep(new SketchStep("sz", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("sz", Parts.Rectangle(5, 5, new Vec2(80, 0))),
            new AddStep(new ExtrudeStep("z", 0, "", "sz") { Operation = FormOperation.Body }),
        ]);
        Build(part, sideBySide: true).Bodies.Select(b => b.Name).ShouldBe(["a", "z"]);
    }

    [Fact]
    public void The_demos_parts_come_out_the_same()
    {
        foreach (var (name, build) in DemoParts.All)
        {
            Told(Build(build(), sideBySide: true)).ShouldBe(Told(Build(build(), sideBySide: false)), name);
        }
    }

    [Fact]
    public void A_rebuild_that_is_stopped_leaves_nothing_running()
    {
        using var stop = new CancellationTokenSource();
        var inside = 0;
        var kernel = CountingKernel.About(new NativeKernel());
        kernel.Before = method =>
        {
            if (method == "Fillet")
            {
                Interlocked.Increment(ref inside);
                stop.Cancel();
                Thread.Sleep(150);
                Interlocked.Decrement(ref inside);
            }
        };
        using var own = new Rebuilder((ISolidKernel)kernel);
        Should.Throw<OperationCanceledException>(() => own.Rebuild(Blocks(3), cancel: stop.Token));
        inside.ShouldBe(0);
        kernel.Before = _ => { };
        own.Rebuild(Blocks(3)).Bodies.Length.ShouldBe(3);
    }

    [Fact]
    public void A_kernel_that_gives_out_on_one_body_is_heard_of()
    {
        var kernel = CountingKernel.About(new NativeKernel());
        kernel.Before = method => _ = method == "Fillet" ? throw new InvalidOperationException("out of order") : true;
        using var own = new Rebuilder((ISolidKernel)kernel);
        Should.Throw<InvalidOperationException>(() => own.Rebuild(Blocks(2))).Message.ShouldBe("out of order");
    }
}
