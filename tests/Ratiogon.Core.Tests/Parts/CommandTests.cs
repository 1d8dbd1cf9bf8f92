using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tests.Parts;

public class CommandTests
{
    private static readonly Part Plate = MotorPlate.Build();

    private static string Code(PartCommand command) => command.Apply(Plate).Refusal!.Code;

    [Fact]
    public void The_sketches_of_the_demo_have_no_freedoms() =>
        Plate.Steps.OfType<SketchStep>().Select(s => (s.Name, Freedoms.Of(s.Sketch).Count)).ShouldAllBe(s => s.Count == 0);

    [Fact]
    public void A_parameter_moves_every_sketch_that_reads_it()
    {
        var wide = new SetParameter("plate_w", "120 mm").Apply(Plate).Value;
        ((SketchStep)wide.Find("outline")!).Sketch.At("frame.p3").X.ShouldBe(60, 1e-9);
        ((SketchStep)wide.Find("corners")!).Sketch.At("h3.centre").X.ShouldBe(53, 1e-9);
        ((SketchStep)wide.Find("corners")!).Sketch.At("h1.centre").X.ShouldBe(-53, 1e-9, "the side is kept");
    }

    [Fact]
    public void A_parameter_that_no_sketch_can_follow_is_refused_with_the_sketch()
    {
        var refusal = new SetParameter("inset", "60 mm").Apply(Plate).Refusal!;
        refusal.Message.ShouldContain("Corner holes");
        Code(new SetParameter("thick", "plate_w - 90 mm")).ShouldBe("size.too-small");
        Code(new SetParameter("thick", "thick * 2")).ShouldBe("parameter.cycle");
        Code(new RemoveParameter("bore")).ShouldBe("parameter.in-use");
    }

    [Fact]
    public void All_formulas_follow_the_new_name_of_a_parameter()
    {
        var renamed = new RenameParameter("plate_w", " breadth ").Apply(Plate).Value;
        renamed.Parameters.Select(p => p.Name).ShouldContain("breadth");
        renamed.Parameters.Select(p => p.Name).ShouldNotContain("plate_w");
        renamed
            .Steps.SelectMany(s => s.NamesUsed())
            .Distinct()
            .Order()
            .ShouldBe(Plate.Steps.SelectMany(s => s.NamesUsed()).Distinct().Select(n => n == "plate_w" ? "breadth" : n).Order());
        var wide = new SetParameter("breadth", "120 mm").Apply(renamed).Value;
        ((SketchStep)wide.Find("outline")!).Sketch.At("frame.p3").X.ShouldBe(60, 1e-9);
        new RenameParameter("breadth", "plate_w").Apply(renamed).Value.ShouldBe(Plate, "there and back is nothing");
    }

    [Theory]
    [InlineData("nothing", "a", "parameter.unknown")]
    [InlineData("plate_w", "bore", "parameter.taken")]
    [InlineData("plate_w", "mm", "parameter.reserved")]
    [InlineData("plate_w", "sin", "parameter.reserved")]
    [InlineData("plate_w", "2w", "parameter.name")]
    [InlineData("plate_w", "", "parameter.name")]
    public void A_parameter_takes_only_a_name_that_means_nothing_else(string name, string to, string code) =>
        Code(new RenameParameter(name, to)).ShouldBe(code);

    [Fact]
    public void A_parameter_does_not_take_the_name_of_a_reading()
    {
        var part = new AddStep(new ReadingStep("", 0, "heft", "mass", [])).Apply(Plate).Value;
        new RenameParameter("plate_w", "heft").Apply(part).Refusal!.Code.ShouldBe("name.taken");
    }

    [Fact]
    public void Names_within_names_and_limits_of_readings_follow_too()
    {
        var part = new SetParameter("w", "10 mm").Apply(new Part { Name = "t" }).Value;
        part = new SetParameter("ww", "2*w + w/w*1 mm").Apply(part).Value;
        part = new AddStep(new ReadingStep("", 0, "long", "distance", ["world/x", "world/y"]) { Most = "w + ww" }).Apply(part).Value;
        var renamed = new RenameParameter("w", "ww2").Apply(part).Value;
        renamed.Parameters.Select(p => p.Value).ShouldBe(["10 mm", "2*ww2 + ww2/ww2*1 mm"]);
        ((ReadingStep)renamed.Steps[0]).Most.ShouldBe("ww2 + ww");
    }

    [Fact]
    public void New_steps_take_numbers_of_ten_and_land_above_the_stop_line()
    {
        Plate.Steps.Select(s => s.Number).ShouldBe(Enumerable.Range(1, Plate.Steps.Length).Select(n => 10 * n));
        var stopped = new SetStopLine(20).Apply(Plate).Value;
        var added = new AddStep(new ReadingStep("", 0, "", "volume", [])).Apply(stopped).Value;
        added.Find("reading1")!.Number.ShouldBeInRange(21, 29);
        added.StopLine.ShouldBe(added.Find("reading1")!.Number);
    }

    [Fact]
    public void When_no_number_is_left_the_steps_behind_make_room()
    {
        var part = new SetStopLine(20).Apply(Plate).Value;
        for (var i = 0; i < 12; i++)
        {
            part = new AddStep(new ReadingStep("", 0, "", "volume", [])).Apply(part).Value;
        }

        part.Steps.Select(s => s.Number).ShouldBeUnique();
        part.Steps.Select(s => s.Id).Take(2).ShouldBe(["outline", "plate"]);
        part.Steps.Length.ShouldBe(Plate.Steps.Length + 12);
    }

    [Fact]
    public void Steps_cannot_refer_to_what_is_not_there_or_comes_later()
    {
        Code(new AddStep(new ExtrudeStep("x", 0, "x", "nowhere"))).ShouldBe("step.reference");
        Code(new AddStep(new SketchStep("x", 5, "x", "plate/end", Sketch.Empty))).ShouldBe("step.order");
        Code(new AddStep(new SketchStep("x", 0, "x", "world/nowhere", Sketch.Empty))).ShouldBe("step.reference");
        Code(new AddStep(new SketchStep("plate", 0, "x", World.Xy, Sketch.Empty))).ShouldBe("step.duplicate");
        Code(new AddStep(new SketchStep("<b>", 0, "x", World.Xy, Sketch.Empty))).ShouldBe("id.malformed");
        Code(new ReplaceStep(new SketchStep("plate", 0, "x", World.Xy, Sketch.Empty))).ShouldBe("step.kind");
        Code(new AddStep(new ExtrudeStep("x", 0, "x", "outline") { Extent = ExtrudeExtent.ThroughAll })).ShouldBe("extrude.through-join");
        Code(new AddStep(new ReadingStep("x", 0, "x", "colour", []))).ShouldBe("reading.unknown");
        Code(new AddStep(new ReadingStep("x", 0, "x", "distance", []))).ShouldBe("reading.picks");
    }

    [Fact]
    public void Names_are_text_whatever_they_hold()
    {
        new RenamePart("<script>alert(1)</script>").Apply(Plate).Value.Name.ShouldBe("<script>alert(1)</script>");
        Code(new RenamePart(new string('x', 121))).ShouldBe("name.too-long");
        Code(new RenamePart("a\nb")).ShouldBe("name.control");
    }

    [Fact]
    public void A_command_that_changes_nothing_gives_an_equal_part() => new RenamePart(Plate.Name).Apply(Plate).Value.ShouldBe(Plate);

    [Fact]
    public void Every_command_survives_json()
    {
        PartCommand[] commands =
        [
            new RenamePart("a"),
            new SetUnits(Core.Quantities.LengthUnit.Inch),
            new SetMaterial("brass", 8.4),
            new SetParameter("a", "1 mm"),
            new RenameParameter("a", "b"),
            new RemoveParameter("a"),
            new AddStep(Plate.Steps[0]),
            new ReplaceStep(Plate.Steps[1]),
            new RemoveStep("a"),
            new RenameStep("a", "b"),
            new SuppressStep("a", true),
            new SetSize("a", "b", "c"),
            new SetStopLine(3),
            new EditSketch(
                "a",
                new Core.Sketches.Editing.SketchEdit { Remove = ["x"], Tie = [new SketchConstraint("k", "equal", ["a", "b"])] }
            ),
        ];
        foreach (var command in commands)
        {
            var json = System.Text.Json.JsonSerializer.Serialize(command, PartJson.Compact);
            System
                .Text.Json.JsonSerializer.Serialize(
                    System.Text.Json.JsonSerializer.Deserialize<PartCommand>(json, PartJson.Compact),
                    PartJson.Compact
                )
                .ShouldBe(json);
        }
    }

    private static Part WithSketch(Sketch sketch) => new() { Name = "t", Steps = [new SketchStep("s", 10, "S", World.Xy, sketch)] };

    private static Sketch Two() =>
        new()
        {
            Entities = [new PointEntity("a", new(0, 0)), new PointEntity("b", new(10, 6)), new LineEntity("m", "a", "b")],
            Constraints = [new SketchConstraint("f", "coincident", ["origin", "a"])],
        };

    private static Sketch SketchOf(Part part) => ((SketchStep)part.Find("s")!).Sketch;

    [Theory]
    [InlineData("-30 mm", -30, "30 mm")]
    [InlineData("-30", -30, "30 mm")]
    [InlineData("-(10 + 5)", -15, "-((-(10 + 5)) mm)")]
    [InlineData("30 mm", 30, "30 mm")]
    public void A_negative_distance_along_an_axis_is_the_other_side_and_stays_there(string typed, double x, string kept)
    {
        var part = new EditSketch(
            "s",
            new Core.Sketches.Editing.SketchEdit { Size = [new SketchDimension("d", "horizontal-distance", ["a", "b"], typed)] }
        )
            .Apply(WithSketch(Two()))
            .Value;
        SketchOf(part).At("b").X.ShouldBe(x, 1e-9);
        SketchOf(part).Dimensions.Single().Value.ShouldBe(kept);
        var longer = new SetSize("s", "d", "40 mm").Apply(part).Value;
        SketchOf(longer).At("b").X.ShouldBe(x < 0 ? -40 : 40, 1e-9, "the side is kept");
        SketchOf(new SetSize("s", "d", "-40 mm").Apply(part).Value).At("b").X.ShouldBe(x < 0 ? 40 : -40, 1e-9, "and left again by a minus");
    }

    [Fact]
    public void A_distance_of_nothing_is_refused_with_the_tie_that_says_it()
    {
        var part = WithSketch(Two());
        var command = new EditSketch(
            "s",
            new Core.Sketches.Editing.SketchEdit { Size = [new SketchDimension("d", "horizontal-distance", ["a", "b"], "0")] }
        );
        var refusal = command.Apply(part).Refusal!;
        refusal.Code.ShouldBe("dimension.value");
        refusal.Message.ShouldContain("tie them instead");
        var way = Core.Tools.WaysOut.Of(part, command, refusal).Single();
        SketchOf(way.Command.Apply(part).Value).At("b").X.ShouldBe(0, 1e-9);
    }

    [Fact]
    public void A_name_typed_with_a_size_makes_the_parameter_and_uses_it()
    {
        var part = new EditSketch(
            "s",
            new Core.Sketches.Editing.SketchEdit { Size = [new SketchDimension("d", "distance", ["m"], "reach = 25")] }
        )
            .Apply(WithSketch(Two()))
            .Value;
        part.Parameters.Single().ShouldBe(new Core.Quantities.Parameter("reach", "25 mm"));
        SketchOf(part).Dimensions.Single().Value.ShouldBe("reach");
        SketchOf(new SetParameter("reach", "12 mm").Apply(part).Value).At("b").Length.ShouldBe(12, 1e-9);
        new SetSize("s", "d", "reach = 3").Apply(part).Refusal!.Code.ShouldBe("parameter.taken");
        new SetSize("s", "d", "far = reach * 2").Apply(part).Value.Parameters.Select(p => p.Value).ShouldBe(["25 mm", "reach * 2"]);
        new SetSize("s", "d", "2x = 3").Apply(part).Done.ShouldBeFalse();
        new SetSize(Plate.Steps.OfType<ExtrudeStep>().First().Id, "length", "tall = 9")
            .Apply(Plate)
            .Value.Parameters.ShouldContain(p => p.Name == "tall" && p.Value == "9 mm");
    }
}
