using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests;

/// <summary>Bodies as they stand: mirrored, repeated and combined with all that was done to them.</summary>
public sealed class WholeBodyTests : BuildTest
{
    private static readonly double Rounded = (40 * 30 * 12) - ((1 - (Math.PI / 4)) * 9 * 12) - (Math.PI * 9 * 12);

    /// <summary>A block beside the origin with one rounded edge and a tapped hole.</summary>
    private static PartCommand[] Worked() =>
        [
            .. Parts.Sketched("s", World.Xy, Parts.Rectangle(40, 30, new Vec2(25, 0))),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" }),
            new AddStep(new FilletStep("round", 0, "", ["e/side/r.bottom^e/side/r.right"]) { Radius = "3 mm" }),
            .. Parts.Sketched("h", "e/end", Parts.Circle("c", 20, 3, 2)),
            new AddStep(new HoleStep("hole", 0, "", ["h/c"]) { Diameter = "6 mm", Extent = HoleExtent.Through }),
        ];

    [Theory]
    [InlineData("e/body", false)]
    [InlineData("e", true)]
    public void A_mirrored_body_has_its_fillet_and_its_hole(string of, bool whole)
    {
        var part = Parts.Of([
            .. Worked(),
            new AddStep(new MirrorStep("twin", 0, "", [of], World.Yz) { Operation = FormOperation.Body, Whole = whole }),
        ]);
        var built = Built(part);
        built.Bodies.Select(b => b.Name).ShouldBe(["e", "twin"]);
        built.Bodies.ShouldAllBe(b => Math.Abs(b.Mass.Volume - Rounded) < 1e-6 * Rounded);
        built.Bodies[1].Mass.Centre.X.ShouldBe(-built.Bodies[0].Mass.Centre.X, 1e-9);
        HoleTable.Of(part, built).Select(h => (h.Step, h.X)).ShouldBe([("hole", "20"), ("twin", "-20")]);
    }

    [Fact]
    public void By_its_forms_name_alone_only_the_form_is_repeated()
    {
        var built = Built(
            Parts.Of([.. Worked(), new AddStep(new MirrorStep("twin", 0, "", ["e"], World.Yz) { Operation = FormOperation.Body })])
        );
        built.Bodies.Sum(b => b.Mass.Volume).ShouldBe(Rounded + (40 * 30 * 12), 1e-3);
    }

    [Fact]
    public void A_body_repeated_stands_alone_or_becomes_one_with_the_original()
    {
        var apart = Built(
            Parts.Of([
                .. Worked(),
                new AddStep(
                    new PatternStep("row", 0, "", ["e/body"])
                    {
                        Along = "world/y",
                        Count = "3",
                        Spacing = "40 mm",
                        Operation = FormOperation.Body,
                    }
                ),
            ])
        );
        apart.Bodies.Length.ShouldBe(3);
        apart.Bodies.Sum(b => b.Mass.Volume).ShouldBe(3 * Rounded, 1e-6 * Rounded);

        // 30 mm deep, 28 apart: each overlaps the next by 2 mm; the rounded corner of one lies within the next but for what it leaves open.
        var one = Built(
            Parts.Of([
                .. Worked(),
                new AddStep(
                    new PatternStep("row", 0, "", ["e/body"])
                    {
                        Along = "world/y",
                        Count = "3",
                        Spacing = "30 mm",
                    }
                ),
            ])
        );
        one.Bodies.Single().Mass.Volume.ShouldBe(3 * Rounded, 1e-6 * Rounded);
    }

    [Fact]
    public void What_is_done_to_the_body_later_is_in_its_copies_and_theirs()
    {
        var part = Parts.Of([
            .. Worked(),
            new AddStep(new MirrorStep("twin", 0, "", ["e/body"], World.Yz) { Operation = FormOperation.Body }),
            new AddStep(new MirrorStep("again", 0, "", ["twin/body", "e/body"], World.Xz) { Operation = FormOperation.Body }),
            new AddStep(new CombineStep("both", 0, "", "e/body", ["twin/body"])),
        ]);
        var built = Built(part);
        built.Bodies.Select(b => b.Name).ShouldBe(["e", "again", "again/body/2"]);
        built.Bodies.Sum(b => b.Mass.Volume).ShouldBe(4 * Rounded, 1e-6 * Rounded);

        // A changed radius is in every copy.
        var softer = new SetSize("round", "radius", "5 mm").Apply(part).Value;
        var now = (40 * 30 * 12) - ((1 - (Math.PI / 4)) * 25 * 12) - (Math.PI * 9 * 12);
        Built(softer).Bodies.Sum(b => b.Mass.Volume).ShouldBe(4 * now, 1e-6 * now);
    }

    [Fact]
    public void A_body_that_is_not_there_is_refused_with_those_that_are()
    {
        var part = Parts.Of([
            .. Worked(),
            .. Parts.Sketched("t", World.Xy, Parts.Circle("d", 25, 0, 4)),
            new AddStep(new ExtrudeStep("boss", 0, "", "t") { Length = "20 mm" }),
            new AddStep(new MirrorStep("twin", 0, "", ["boss/body"], World.Yz)),
        ]);
        var twin = Tried(part).Step("twin")!;
        twin.State.ShouldBe(StepState.Failed);
        twin.Message.ShouldContain("boss is no body of its own now. There are: e.");
    }

    [Fact]
    public void A_sketch_that_is_added_on_a_face_is_turned_upright_once()
    {
        var part = Parts.Of([
            .. Parts.Sketched("s", World.Xz, Parts.Rectangle(40, 30, Vec2.Zero)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "12 mm" }),
        ]);
        var next = new AddStep(new SketchStep("top", 0, "", "e/side/r.top", Sketch.Empty)).Apply(part).Value;
        var turned = UprightSketches.Of(part, next, Built(part));
        ((SketchStep)turned.Find("top")!).Turn.ShouldBe("180 deg");
        var frame = Built(turned).Step("top")!.Frame!.Value;
        frame.X.DistanceTo(Vec3.AlongX).ShouldBeLessThan(1e-9);
        frame.Y.DistanceTo(Vec3.AlongY).ShouldBeLessThan(1e-9);

        // On the front it stands upright as it is; what was there before keeps its angle.
        var front = new AddStep(new SketchStep("front", 0, "", "e/end", Sketch.Empty)).Apply(turned).Value;
        UprightSketches.Of(turned, front, Built(turned)).ShouldBe(front);
    }

    [Fact]
    public void The_faces_beside_an_edge_are_named_in_any_order()
    {
        var part = Parts.Of([
            .. Parts.Block(40, 30, 12),
            new AddStep(new FilletStep("round", 0, "", ["e/side/r.right^e/side/r.bottom"]) { Radius = "3 mm" }),
            Parts.Point("p", Vec3.Zero),
            new AddStep(new PointStep("q", 0, "", [new DatumCondition("at", ["e/side/r.top^e/end^e/side/r.left^"])])),
        ]);
        Built(part).Bodies.Single().Mass.Volume.ShouldBe((40 * 30 * 12) - ((1 - (Math.PI / 4)) * 9 * 12), 1e-6);
    }
}
