using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Tools.Forms;

namespace Ratiogon.Solids.Tests;

/// <summary>A flat face that is clicked on gets the centre of a hole there, sized from its edges.</summary>
public sealed class CentrePlacingTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private static readonly HoleStep Hole = new("", 0, "", []);

    /// <summary>A disc "e" about the origin, 50 mm wide and 10 mm high.</summary>
    private static PartCommand[] Disc =>
        [.. Parts.Sketched("s", World.Xy, Parts.Circle("c", 0, 0, 25)), new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "10 mm" })];

    private static Line3 Down(double x, double y) => new(new Vec3(x, y, 1000), -Vec3.AlongZ);

    private Outcome<PlacedCentre> At(Part part, string face, Line3 ray, double reach = 0.1, FormStep? hole = null) =>
        CentrePlacing.On(Model.Of(part, rebuilder.Rebuild(part, withMesh: false)), face, ray, reach, hole ?? Hole);

    /// <summary>The place of a point of a sketch, as built.</summary>
    private Vec3 PlaceOf(Part part, string reference)
    {
        var built = rebuilder.Rebuild(part, withMesh: false);
        return Model.Of(part, built).Find(reference).Value.Place!.Value;
    }

    [Fact]
    public void It_is_sized_from_two_edges_that_cross_and_can_be_drilled()
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20)]);
        var top = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Bounds.High;
        var placed = At(part, "e/end", Down(top.X - 7.13, top.Y - 11.96)).Value;
        var made = placed.Command.Apply(part).Value;
        var sketch = (SketchStep)made.Steps[^1];
        sketch.On.ShouldBe("e/end");
        sketch.Sketch.Dimensions.Select(d => d.Value).Order().ShouldBe(["12 mm", "7 mm"]);
        Freedoms.Of(sketch.Sketch).Count.ShouldBe(0);
        PlaceOf(made, placed.Reference).DistanceTo(new Vec3(top.X - 7, top.Y - 12, 20)).ShouldBeLessThan(1e-9);
        var drilled = new AddStep(new HoleStep("h", 0, "", [placed.Reference]) { Diameter = "5 mm" }).Apply(made).Value;
        var built = rebuilder.Rebuild(drilled, withMesh: false);
        built.Step("h")!.Message.ShouldBe("");
        built.Bodies[0].Mass.Volume.ShouldBeLessThan((40 * 30 * 20) - 10);
    }

    [Fact]
    public void Wherever_it_is_placed_on_a_block_of_any_size_it_lies_there_and_cannot_move()
    {
        var random = new Random(20261130);
        for (var i = 0; i < 60; i++)
        {
            var scale = Math.Pow(10, (random.NextDouble() * 5) - 1.5);
            double Size() => Math.Round(scale * (1 + (9 * random.NextDouble())), 4);
            var (w, d, h) = (Size(), Size(), Size());
            var part = Parts.Of([.. Parts.Block(w, d, h)]);
            var box = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Bounds;
            var (x, y) = (box.Low.X + (w * (0.1 + (0.8 * random.NextDouble()))), box.Low.Y + (d * (0.1 + (0.8 * random.NextDouble()))));
            var reach = Math.Max(w, d) / 400;
            var placed = At(part, "e/end", Down(x, y), reach);
            placed.Done.ShouldBeTrue($"{w} x {d} at {x}, {y}: {placed.Refusal?.Message}");
            var made = placed.Value.Command.Apply(part).Value;
            var sketch = (SketchStep)made.Steps[^1];
            Freedoms.Of(sketch.Sketch).Count.ShouldBe(0, $"{w} x {d} at {x}, {y}");
            var at = PlaceOf(made, placed.Value.Reference);

            // Rounded to ten steps of four pixels at most, both ways.
            at.DistanceTo(new Vec3(x, y, h)).ShouldBeLessThan(1.5 * 40 * reach, $"{w} x {d} at {x}, {y}");
            at.Z.ShouldBe(h, 1e-9 * Math.Max(1, h));
        }
    }

    [Fact]
    public void One_more_lies_in_the_same_sketch_and_takes_the_copies_that_are_there()
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20)]);
        var low = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Bounds.Low;
        var first = At(part, "e/end", Down(low.X + 8, low.Y + 9)).Value;
        part = first.Command.Apply(part).Value;
        var second = At(part, "e/end", Down(low.X + 12, low.Y + 5), hole: Hole with { Centres = [first.Reference] }).Value;
        World.StepOf(second.Reference).ShouldBe(World.StepOf(first.Reference));
        second.Reference.ShouldNotBe(first.Reference);
        part = second.Command.Apply(part).Value;
        var sketch = (SketchStep)part.Steps[^1];
        sketch.Copies.Length.ShouldBe(2);
        sketch.Sketch.Dimensions.Length.ShouldBe(4);
        Freedoms.Of(sketch.Sketch).Count.ShouldBe(0);
    }

    [Fact]
    public void Of_a_hole_that_is_edited_the_sketch_stands_before_it()
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20)]);
        var low = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Bounds.Low;
        var first = At(part, "e/end", Down(low.X + 8, low.Y + 9)).Value;
        var hole = new HoleStep("h", 0, "", [first.Reference]) { Diameter = "5 mm" };
        part = new AddStep(hole).Apply(first.Command.Apply(part).Value).Value;
        var edited = (HoleStep)part.Find("h")!;
        var other = At(part, "e/side/r.left", new Line3(new Vec3(-1000, low.Y + 12, 10), Vec3.AlongX), hole: edited).Value;
        part = other.Command.Apply(part).Value;
        part.Steps[^1].Id.ShouldBe("h");
        part = new ReplaceStep(edited with { Centres = [.. edited.Centres, other.Reference] }).Apply(part).Value;
        var built = rebuilder.Rebuild(part, withMesh: false);
        built.Step("h")!.Message.ShouldBe("");
        built.Step("h")!.Holes.Length.ShouldBe(2);
    }

    [Fact]
    public void A_round_face_gives_sizes_to_its_middle_and_in_the_middle_there_are_none()
    {
        var part = Parts.Of([.. Disc]);
        var placed = At(part, "e/end", Down(6.04, -9.07)).Value;
        var sketch = (SketchStep)placed.Command.Apply(part).Value.Steps[^1];
        sketch.Sketch.Dimensions.Select(d => $"{d.Kind} {d.Value}").ShouldBe(["horizontal-distance 6 mm", "vertical-distance 9 mm"]);
        Freedoms.Of(sketch.Sketch).Count.ShouldBe(0);
        var middle = At(part, "e/end", Down(0.1, -0.2)).Value;
        var made = middle.Command.Apply(part).Value;
        ((SketchStep)made.Steps[^1]).Sketch.Dimensions.ShouldBeEmpty();
        Freedoms.Of(((SketchStep)made.Steps[^1]).Sketch).Count.ShouldBe(0);
        PlaceOf(made, middle.Reference).DistanceTo(new Vec3(0, 0, 10)).ShouldBeLessThan(1e-9);
    }

    [Fact]
    public void On_an_edge_it_is_tied_to_that()
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20)]);
        var low = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Bounds.Low;
        var made = At(part, "e/end", Down(low.X + 0.1, low.Y + 9)).Value.Command.Apply(part).Value;
        var sketch = ((SketchStep)made.Steps[^1]).Sketch;
        sketch.Dimensions.Select(d => d.Value).ShouldBe(["9 mm"]);
        sketch.Constraints.ShouldContain(c => c.Kind == "on-curve");
        Freedoms.Of(sketch).Count.ShouldBe(0);
    }

    [Fact]
    public void Inches_are_written_in_inches()
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20)]) with { Units = LengthUnit.Inch };
        var low = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Bounds.Low;
        var placed = At(part, "e/end", Down(low.X + 12.6, low.Y + 7.7)).Value;
        var sketch = (SketchStep)placed.Command.Apply(part).Value.Steps[^1];
        sketch.Sketch.Dimensions.Select(d => d.Value).Order().ShouldBe(["0.3 in", "0.5 in"]);
    }

    [Fact]
    public void What_is_no_flat_face_is_refused_with_the_reason()
    {
        var part = Parts.Of([.. Disc]);
        var side = rebuilder.Rebuild(part, withMesh: false).Bodies[0].Names.Faces.Single(f => f.Contains("side", StringComparison.Ordinal));
        At(part, side, Down(3, 3)).Refusal!.Message.ShouldContain("is not flat: pick a flat face, or a point");
        At(part, "e/end", new Line3(new Vec3(-100, 0, 10), Vec3.AlongX)).Refusal!.Message.ShouldContain("edge-on");
        At(part, World.Xy, Down(3, 3)).Refusal!.Code.ShouldBe("hole.place");
        At(part, "nothing/here", Down(3, 3)).Refusal.ShouldNotBeNull();
    }
}
