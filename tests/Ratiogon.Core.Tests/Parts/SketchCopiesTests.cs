using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Parts;

public sealed class SketchCopiesTests
{
    private Part part = new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)).Apply(new Part()).Value;

    private SketchStep Step => (SketchStep)part.Find("s")!;

    public SketchCopiesTests()
    {
        // The datums stand before the sketch.
        foreach (
            var step in new Step[]
            {
                new PointStep("p", 1, "p", [Say("coordinates", "5 mm", "0 mm", "-10 mm")]),
                new PointStep("q", 2, "q", [Say("coordinates", "5 mm", "20 mm", "30 mm")]),
                new CurveStep("line", 3, "line", CurveShape.Line, ["p", "q"]),
                new CurveStep("ring", 4, "ring", CurveShape.Circle, ["q"]) { Support = World.Xy, Radius = "6 mm" },
                new FrameStep("tilted", 5, "tilted", [Say("free", "0 mm", "0 mm", "0 mm", "60 deg", "0 deg", "0 deg")]),
                new CurveStep("leaning", 6, "leaning", CurveShape.Circle, ["q"]) { Support = "tilted", Radius = "10 mm" },
                new CurveStep("upright", 7, "upright", CurveShape.Arc, ["q"])
                {
                    Support = World.Xz,
                    Radius = "10 mm",
                    From = "0 deg",
                    To = "180 deg",
                },
                PlaneStep.Offset("level", 8, "level", World.Xy, "7 mm"),
            }
        )
        {
            part = new AddStep(step).Apply(part).Value;
        }
    }

    private static DatumCondition Say(string relation, params string[] values) => new(relation, []) { Values = [.. values] };

    private Model Model()
    {
        var model = new Model(part);
        foreach (var step in part.Steps)
        {
            _ = step switch
            {
                DatumStep d => model.Build(d).Refusal,
                CurveStep c => model.Build(c).Refusal,
                _ => null,
            };
        }

        return model;
    }

    private Sketch Take(CopyHow how, string reference)
    {
        var taken = SketchCopies.Take(Model(), Step, how, reference);
        taken.Refusal?.Message.ShouldBeNull();
        var applied = taken.Value.Apply(part);
        applied.Refusal?.Message.ShouldBeNull();
        part = applied.Value;
        Freedoms.Of(Step.Sketch).Count.ShouldBe(0, "a copy is set");
        return Step.Sketch;
    }

    private Outcome<Sketch> Follow() => SketchCopies.Followed(Model(), Step, Step.PlaneIn(Model()).Value);

    private void SetSize(string step, string field, string value) => part = new SetSize(step, field, value).Apply(part).Value;

    [Fact]
    public void A_crossing_point_follows_where_the_line_meets_the_plane()
    {
        var sketch = Take(CopyHow.Crossing, "line");
        var point = sketch.Entities.OfType<PointEntity>().ShouldHaveSingleItem();
        point.At.DistanceTo(new Vec2(5, 5)).ShouldBe(0, 1e-9);
        SetSize("p", "z", "-30 mm");
        Follow().Value.At(point.Id).DistanceTo(new Vec2(5, 10)).ShouldBe(0, 1e-9);
        SetSize("p", "z", "1 mm");
        Follow().Refusal!.Message.ShouldContain("does not meet the sketch plane: its nearest place is 1 mm off");
    }

    [Fact]
    public void Copies_are_drawn_as_seen_square_onto_the_plane()
    {
        var line = Take(CopyHow.Copy, "line").Entities.OfType<LineEntity>().ShouldHaveSingleItem();
        line.Construction.ShouldBeTrue();
        Step.Sketch.At(line.To).DistanceTo(new Vec2(5, 20)).ShouldBe(0, 1e-9);
        Take(CopyHow.Copy, "ring").Entities.OfType<CircleEntity>().ShouldHaveSingleItem().Radius.ShouldBe(6, 1e-9);
        var ellipse = Take(CopyHow.Copy, "leaning").Entities.OfType<EllipseEntity>().ShouldHaveSingleItem();
        var (a, b) = (
            Step.Sketch.At(ellipse.First).DistanceTo(Step.Sketch.At(ellipse.Centre)),
            Step.Sketch.At(ellipse.Second).DistanceTo(Step.Sketch.At(ellipse.Centre))
        );
        Math.Max(a, b).ShouldBe(10, 1e-9);
        Math.Min(a, b).ShouldBe(5, 1e-9, "cos 60 deg of 10");
        var flat = Take(CopyHow.Copy, "upright").Entities.OfType<LineEntity>().Last();
        Step.Sketch.At(flat.From).DistanceTo(Step.Sketch.At(flat.To)).ShouldBe(20, 1e-6, "an arc seen edge-on is as long as it reaches");
    }

    [Fact]
    public void Copies_follow_and_what_hangs_on_them_follows_too()
    {
        var circle = Take(CopyHow.Copy, "ring").Entities.OfType<CircleEntity>().Single();
        SetSize("ring", "radius", "9 mm");
        SetSize("q", "x", "12 mm");
        var followed = Follow().Value;
        ((CircleEntity)followed.Find(circle.Id)!).Radius.ShouldBe(9, 1e-9);
        followed.At(circle.Centre).DistanceTo(new Vec2(12, 20)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void What_cannot_be_copied_is_refused_with_the_reason()
    {
        string Why(CopyHow how, string of) => SketchCopies.Take(Model(), Step, how, of).Refusal!.Message;
        Why(CopyHow.Copy, "level").ShouldContain("parallel to the sketch plane, 7 mm off");
        Why(CopyHow.Crossing, "p").ShouldContain("no curve");
        Why(CopyHow.Crossing, "ring").ShouldContain("nearest place is 30 mm off");
        Why(CopyHow.Section, "ring").ShouldContain("no body");
        Why(CopyHow.Copy, "s/none").ShouldContain("cannot copy from itself");
    }

    [Fact]
    public void Taking_away_the_entities_or_their_fixing_lets_the_copy_go()
    {
        Take(CopyHow.Crossing, "line");
        Step.References.ShouldContain("line");
        var let = new EditSketch("s", new Core.Sketches.Editing.SketchEdit { Remove = [Step.Sketch.Constraints.Single().Id] })
            .Apply(part)
            .Value;
        ((SketchStep)let.Find("s")!).Copies.ShouldBeEmpty();
        new RemoveStep("line").Apply(part).Refusal!.Code.ShouldBe("step.in-use");
    }

    [Fact]
    public void A_curve_that_only_looks_as_if_it_met_a_place_says_how_far_off_it_is()
    {
        var ray = new Line3(new Vec3(5, 20, 100), -Vec3.AlongZ);
        var apart = SketchCopies.Apart(Model(), Step, "line", new Vec2(5, 20), ray, null).Value;
        apart.Words.ShouldContain("30 mm away, in front of the sketch plane");
        apart.Crossing.ShouldBeOfType<TakeIntoSketch>();
        apart.There.DistanceTo(new Vec3(5, 20, 30)).ShouldBe(0, 1e-6);
        var ring = SketchCopies.Apart(Model(), Step, "ring", new Vec2(11, 20), new Line3(new Vec3(11, 20, 99), -Vec3.AlongZ), null).Value;
        ring.Crossing.ShouldBeNull();
        ring.WhyNoCrossing!.ShouldContain("30 mm off");
        ring.Copy.ShouldNotBeNull();
    }

    [Fact]
    public void With_a_point_picked_the_crossing_is_taken_and_tied_to_it_at_once()
    {
        part = new EditSketch("s", new Core.Sketches.Editing.SketchEdit { Add = [new PointEntity("mine", new Vec2(1, 1))] })
            .Apply(part)
            .Value;
        var apart = SketchCopies.Apart(Model(), Step, "line", new Vec2(5, 5), new Line3(new Vec3(5, 5, 9), -Vec3.AlongZ), "mine").Value;
        part = apart.Crossing!.Apply(part).Value;
        Step.Sketch.At("mine").DistanceTo(new Vec2(5, 5)).ShouldBe(0, 1e-9);
        Freedoms.Of(Step.Sketch).Count.ShouldBe(0);
    }
}
