using System.Text;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests;

/// <summary>The hole table, the mass table and the Probe.</summary>
public sealed class TableTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    [Fact]
    public void Holes_are_listed_with_place_size_and_thread()
    {
        var part = MotorPlate.Build();
        var rows = HoleTable.Of(part, rebuilder.Rebuild(part, withMesh: false));
        rows.Select(r => (r.Number, r.X, r.Y, r.Z))
            .ShouldBe([(1, "-38", "-25", "6"), (2, "38", "-25", "6"), (3, "38", "25", "6"), (4, "-38", "25", "6")]);
        rows.ShouldAllBe(r =>
            r.Size == "M5" && r.Diameter == "4.2" && r.Thread == "M5 through" && r.Depth == "through" && r.Direction == "0 0 -1"
        );
        var inches = HoleTable.Of(part with { Units = LengthUnit.Inch }, rebuilder.Rebuild(part, withMesh: false));
        inches[0].X.ShouldBe("-1.4961");
    }

    [Fact]
    public void Csv_quotes_what_it_must_and_keeps_formulas_texts()
    {
        var part = new RenameStep("drilling", "=HYPERLINK(\"x\"), 4x").Apply(MotorPlate.Build()).Value;
        var lines = Encoding.UTF8.GetString(HoleTable.Csv(part, rebuilder.Rebuild(part, withMesh: false))).Split("\r\n");
        lines[0].ShouldBe("number,step,centre,x,y,z,direction,size,diameter,thread,depth,unit");
        lines[1].ShouldBe("1,\"'=HYPERLINK(\"\"x\"\"), 4x\",corners/h1.rim,-38,-25,6,0 0 -1,M5,4.2,M5 through,through,mm");
        lines.Length.ShouldBe(6);
    }

    [Fact]
    public void Copies_of_holes_are_in_the_table_too()
    {
        var part = Spout.Build();
        var rows = HoleTable.Of(part, rebuilder.Rebuild(part, withMesh: false));
        rows.Select(r => (r.X, r.Y)).ShouldBe([("19", "11"), ("-19", "11"), ("19", "-11"), ("-19", "-11")], ignoreOrder: true);
    }

    [Fact]
    public void Bodies_together_have_the_inertia_of_the_whole()
    {
        // Two blocks side by side that are one block of 80 x 50 x 24 cut in two: the sum about the common centre is the whole's.
        var half = Parts.Of([
            .. Parts.Block(80, 50, 12),
            new AddStep(
                new PatternStep("p", 0, "", ["e"])
                {
                    Along = "world/z",
                    Count = "2",
                    Spacing = "12 mm",
                }
            ),
        ]);
        var apart = Parts.Of([
            .. Parts.Block(80, 50, 24),
            new AddStep(new PlaneStep("x", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["12 mm"] }])),
            new AddStep(new SplitStep("k", 0, "", "x")),
        ]);
        var whole = MassTable.Of(half, rebuilder.Rebuild(half, withMesh: false), rebuilder.Inertias(half))[^1];
        var both = MassTable.Of(apart, rebuilder.Rebuild(apart, withMesh: false), rebuilder.Inertias(apart));
        both.Length.ShouldBe(3);
        (both[2].Volume, both[2].Mass, both[2].Size, both[2].Inertia).ShouldBe((whole.Volume, whole.Mass, whole.Size, whole.Inertia));
    }

    [Fact]
    public void The_probe_lists_the_stretches_of_material_along_a_line()
    {
        var part = Parts.Of([
            .. Parts.Block(80, 50, 12),
            new AddStep(new SketchStep("s2", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s2", Parts.Rectangle(20, 20, Vec2.Zero)),
            new AddStep(new ExtrudeStep("f", 0, "", "s2") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
        ]);
        var found = rebuilder.Probe(part, new Line3(new Vec3(-100, 0, 6), Vec3.AlongX));
        found.Select(s => (Math.Round(s.From, 6), Math.Round(s.To, 6))).ShouldBe([(60, 90), (110, 140)]);
        found.Select(s => (s.FaceIn, s.FaceOut)).ShouldBe([("e/side/r.left", "f/side/r.left"), ("f/side/r.right", "e/side/r.right")]);
        found[0].In.ShouldBe(0, 1e-9);
        rebuilder.Probe(part, new Line3(new Vec3(0, 0, 50), Vec3.AlongX)).ShouldBeEmpty();
        var slanted = rebuilder.Probe(part, new Line3(new Vec3(-30, 0, 20), new Vec3(1, 0, -1).Unit));
        slanted.Single().In.ShouldBe(Math.PI / 4, 1e-9);
        (slanted.Single().To - slanted.Single().From).ShouldBe(12 * Math.Sqrt(2), 1e-6);
    }
}
