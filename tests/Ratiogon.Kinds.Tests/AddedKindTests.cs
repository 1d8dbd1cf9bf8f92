using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Forms;
using Ratiogon.Solids;

[assembly: BringsKinds]

namespace Ratiogon.Kinds.Tests;

/// <summary>A constraint and a form that the core knows nothing of, one file each: docs/adding-a-kind.md is true.</summary>
public sealed class AddedKindTests
{
    private static Part Made(params PartCommand[] commands) => commands.Aggregate(new Part(), (part, command) => command.Apply(part).Value);

    [Fact]
    public void A_constraint_is_a_file()
    {
        var drawn = new SketchStep("s", 0, "S", World.Xy, Sketch.Empty);
        SketchEdit edit = new()
        {
            Add = [new PointEntity("p", new(10, 4)), new PointEntity("q", new(-9, -5))],
            Tie = [new SketchConstraint("c", "opposite", ["p", "q"])],
            Size = [new SketchDimension("d", "horizontal-distance", [Sketch.Origin, "p"], "12 mm")],
        };
        var part = Made(new AddStep(drawn), new EditSketch("s", edit));
        var sketch = ((SketchStep)part.Find("s")!).Sketch;
        sketch.At("p").X.ShouldBe(12, 1e-9);
        sketch.At("q").X.ShouldBe(-12, 1e-9);
        (sketch.At("p").Y + sketch.At("q").Y).ShouldBe(0, 1e-9);
        Kept(part).ShouldBe(part);
        var tool = ToolCatalog.Find("tie-opposite")!;
        (tool.Label, tool.Stroke, tool.Icon.Length > 0).ShouldBe(("Opposite", 'j', true));
        new EditSketch("s", new SketchEdit { Tie = [new SketchConstraint("e", "opposite", ["p"])] })
            .Apply(part)
            .Refusal!.Message.ShouldContain("two points");
    }

    [Fact]
    public void A_form_is_a_file()
    {
        var part = Kept(
            Made(
                new AddStep(new PegStep("peg", 0, "Peg", World.Xy) { Diameter = "10 mm", Length = "25 mm" }),
                new SetSize("peg", "length", "30 mm")
            )
        );
        using var rebuilder = new Rebuilder(new NativeKernel());
        var built = rebuilder.Rebuild(part, withMesh: false);
        built.Step("peg")!.Message.ShouldBe("");
        built.Bodies.Single().Mass.Volume.ShouldBe(Math.PI * 25 * 30, 1e-6);
        built.Bodies.Single().Names.Faces.Order().ShouldBe(["peg/foot", "peg/side", "peg/top"]);
        new PegStep("other", 0, "Peg", "").Check()!.Message.ShouldBe("On: a pick is needed.");
        var tool = FormCatalog.Find("peg")!;
        (tool.Label, tool.Tool.Stroke, tool.Tool.Icon.Length > 0).ShouldBe(("Peg", 'g', true));
        tool.Make().ShouldBe(new PegStep("", 0, "", ""));
        var begun = FormDrafting.Begin(new Model(part), tool, [World.Xy]);
        begun.Refusal.ShouldBeNull();
        ((PegStep)begun.Draft.Step).On.ShouldBe(World.Xy);
    }

    /// <summary>Written to a file and read from it again.</summary>
    private static Part Kept(Part part) =>
        JsonSerializer.Deserialize<Part>(JsonSerializer.Serialize(part, PartJson.Compact), PartJson.Compact)!;
}
