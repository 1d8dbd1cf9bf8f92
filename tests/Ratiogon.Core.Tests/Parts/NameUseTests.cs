using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tests.Parts;

/// <summary>Parameters and readings share one name space; formulas follow, or the change is refused with those that use it.</summary>
public class NameUseTests
{
    /// <summary>A rectangle, a reading of it called gap, and a second rectangle whose width uses that.</summary>
    private static Part Measured()
    {
        var part = Applied(new Part(), new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)));
        part = Applied(part, new EditSketch("s", ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(30, 20))));
        part = Applied(part, new AddStep(new ReadingStep("m", 0, "gap", "edge-length", ["s/r.bottom"])));
        part = part with { Readings = part.Readings.SetItem("gap", Quantity.Length(30)) };
        part = Applied(part, new AddStep(new SketchStep("t", 0, "", World.Xy, Sketch.Empty)));
        var edit = ShapeCatalog.RectangleByCorners("q", Vec2.Zero, new Vec2(30, 20));
        return Applied(part, new EditSketch("t", edit with { Size = [ShapeCatalog.Width("q", "gap + 1 mm")] }));
    }

    private static Part Applied(Part part, PartCommand command)
    {
        var next = command.Apply(part);
        next.Refusal?.Message.ShouldBeNull();
        return next.Value;
    }

    private static Refusal Refused(Part part, PartCommand command) =>
        command.Apply(part).Refusal ?? throw new ShouldAssertException($"{command.Words} was not refused");

    [Fact]
    public void Formulas_follow_the_name_of_a_reading()
    {
        var renamed = Applied(Measured(), new RenameStep("m", "clearance"));
        ((SketchStep)renamed.Find("t")!).Sketch.Dimensions.Single().Value.ShouldBe("clearance + 1 mm");
        renamed.Values.Of("clearance").Value.Value.ShouldBe(30);
    }

    [Fact]
    public void A_reading_that_is_used_gets_no_name_that_formulas_cannot_read()
    {
        var refusal = Refused(Measured(), new RenameStep("m", "the gap"));
        refusal.Message.ShouldContain("step 30 t");
    }

    [Fact]
    public void What_uses_a_reading_is_named_when_it_goes_is_left_out_or_comes_later()
    {
        var part = Measured();
        foreach (
            var command in new PartCommand[] { new RemoveStep("m", Anyway: true), new SuppressStep("m", true), new MoveStep("t", "s") }
        )
        {
            Refused(part, command).Message.ShouldMatch("[23]0 t", command.Words);
        }
    }

    [Fact]
    public void A_name_means_one_thing()
    {
        var part = Measured();
        Refused(part, new SetParameter("gap", "5 mm")).Code.ShouldBe("name.taken");
        Refused(part, new AddStep(new ReadingStep("n", 0, "gap", "edge-length", ["s/r.top"]))).Code.ShouldBe("name.taken");
        var other = Applied(part, new AddStep(new ReadingStep("n", 0, "other", "edge-length", ["s/r.top"])));
        Refused(other, new RenameStep("n", "gap")).Code.ShouldBe("name.taken");
    }

    [Fact]
    public void A_size_uses_no_reading_that_is_taken_later()
    {
        var refusal = Refused(
            Measured(),
            new EditSketch("s", new Core.Sketches.Editing.SketchEdit { Size = [ShapeCatalog.Height("r", "gap / 2")] })
        );
        refusal.Code.ShouldBe("name.late");
        refusal.Message.ShouldContain("step 20");
    }

    [Theory]
    [InlineData("gap + 1 mm", "w + 1 mm")]
    [InlineData("2*gap-gap2", "2*w-gap2")]
    [InlineData("sqrt(gap*gap)", "sqrt(w*w)")]
    [InlineData("my_gap", "my_gap")]
    public void Only_the_name_itself_is_written_anew(string formula, string expected) =>
        FormulaNames.Renamed(formula, "gap", "w").ShouldBe(expected);
}
