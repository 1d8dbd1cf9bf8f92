using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Parts;

public sealed class ModelTests
{
    private static DatumCondition Say(string relation, string[] of, params string[] values) =>
        new(relation, [.. of]) { Values = [.. values] };

    private static Part With(Part part, params Step[] steps) => steps.Aggregate(part, (p, s) =>
        {
            var next = new AddStep(s).Apply(p);
            next.Refusal?.Message.ShouldBeNull();
            return next.Value;
        });

    private static PointStep At(string id, double x, double y, double z) =>
        new(id, 0, "", [Say("coordinates", [], $"{x} mm", $"{y} mm", $"{z} mm")]);

    private static Model Built(Part part)
    {
        var model = new Model(part);
        foreach (var step in part.Steps)
        {
            var refusal = step switch
            {
                DatumStep d => model.Build(d).Refusal,
                CurveStep c => model.Build(c).Refusal,
                SketchStep s => s.PlaneIn(model).Map(f => Kept(model, s, f)).Refusal,
                _ => null,
            };
            refusal?.Message.ShouldBeNull(step.Id);
        }

        return model;
    }

    private static bool Kept(Model model, SketchStep step, Frame plane)
    {
        model.Add(step, step.Sketch, plane);
        return true;
    }

    [Fact]
    public void The_world_and_frames_hold_planes_directions_and_an_origin()
    {
        var part = With(
            new Part(),
            At("o", 1, 2, 3),
            new FrameStep("f", 0, "", [Say("origin", ["o"]), Say("x", ["world/y"]), Say("z-square", [World.Xy])])
        );
        var model = Built(part);
        model.Find("f/x").Value.Line!.Value.Direction.DistanceTo(Vec3.AlongY).ShouldBe(0, 1e-12);
        model.Find("f/y").Value.Line!.Value.Direction.DistanceTo(-Vec3.AlongX).ShouldBe(0, 1e-12);
        model.Find("f/origin").Value.Point!.Value.ShouldBe(new Vec3(1, 2, 3));
        model.Find("f/yz").Value.Plane!.Value.Z.DistanceTo(Vec3.AlongY).ShouldBe(0, 1e-12);
        model.Find("world/origin").Value.Point.ShouldBe(Vec3.Zero);
        model.Find("world/nowhere").Refusal!.Code.ShouldBe("name.lost");
        model.Find("gone").Refusal!.Message.ShouldContain("There are:");
    }

    [Fact]
    public void Datums_follow_their_parents_through_a_chain()
    {
        var part = With(
            new Part(),
            PlaneStep.Offset("a", 0, "", World.Xy, "10 mm"),
            PlaneStep.Offset("b", 0, "", "a", "10 mm"),
            new AxisStep("x", 0, "", [Say("meeting", ["b", World.Yz])]),
            new PointStep("p", 0, "", [Say("on-line", ["x"]), Say("on-plane", [World.Xz])])
        );
        Built(part).Find("p").Value.Point!.Value.DistanceTo(new Vec3(0, 0, 20)).ShouldBe(0, 1e-9);
        part = new SetSize("a", "distance", "-3").Apply(part).Value;
        Built(part).Find("p").Value.Point!.Value.DistanceTo(new Vec3(0, 0, 7)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void A_datum_that_leaves_something_free_or_whose_side_is_gone_is_not_built()
    {
        var part = With(new Part(), At("p", 0, 0, 0), At("q", 5, 0, 0));
        var model = Built(part);
        model
            .Build(new PlaneStep("n", 0, "", [Say("through", ["p"]), Say("through", ["q"])]))
            .Refusal!.Message.ShouldContain("One freedom is left");
        var two = new PlaneStep("n", 0, "", [Say("through-line", ["world/x"]), Say("angle", [World.Xy], "30 deg")]);
        model.Build(two with { Choice = "elsewhere" }).Refusal!.Code.ShouldBe("datum.side-gone");
        var plane = model.Build(two).Value;
        model.Build(two with { Flip = true }).Value.Z.DistanceTo(-plane.Z).ShouldBe(0, 1e-12);
    }

    [Fact]
    public void Curves_in_space_run_through_their_points_and_serve_as_paths_and_axes()
    {
        var part = With(
            new Part(),
            At("p", 0, 0, 0),
            At("q", 30, 40, 0),
            At("r", 60, 40, 20),
            new CurveStep("line", 0, "", CurveShape.Line, ["p", "q"]) { Before = "5 mm", After = "10 mm" },
            new CurveStep("hose", 0, "", CurveShape.Spline, ["p", "q", "r"]),
            new CurveStep("ring", 0, "", CurveShape.Circle, ["q"]) { Support = World.Xz, Diameter = "12 mm" },
            new PointStep("half", 0, "", [Say("at-fraction", ["hose"], "0.5")]),
            new PlaneStep("end", 0, "", [Say("normal-at-fraction", ["hose"], "1")])
        );
        var model = Built(part);
        var line = model.Find("line").Value;
        line.Path!.Length.ShouldBe(65, 1e-9);
        line.Line!.Value.Direction.DistanceTo(new Vec3(0.6, 0.8, 0)).ShouldBe(0, 1e-12);
        var ring = model.Find("ring").Value;
        ring.Path!.Length.ShouldBe(12 * Math.PI, 1e-9);
        ring.Centre!.Value.ShouldBe(new Vec3(30, 40, 0));
        var hose = model.Find("hose").Value.Path!;
        hose.AtLength(hose.Nearest(new Vec3(30, 40, 0))).At.DistanceTo(new Vec3(30, 40, 0)).ShouldBe(0, 1e-8);
        model.Find("end").Value.Plane!.Value.Origin.DistanceTo(new Vec3(60, 40, 20)).ShouldBeLessThan(40);
        Plane3.Of(model.Find("end").Value.Plane!.Value).Side(new Vec3(60, 40, 20)).ShouldBe(0, 1e-9);
        new AddStep(new CurveStep("bad", 0, "", CurveShape.Line, ["p"])).Apply(part).Refusal!.Code.ShouldBe("curve.points");
        model.Build(new CurveStep("bad", 0, "", CurveShape.Line, ["p", "p"])).Refusal!.Code.ShouldBe("curve.same-point");
        model
            .Build(new CurveStep("bad", 0, "", CurveShape.Line, ["p", "q"]) { After = "-60 mm" })
            .Refusal!.Message.ShouldContain("50 mm long");
    }

    [Fact]
    public void Entities_of_a_sketch_are_curves_and_points_in_space()
    {
        var sketch = new Sketch
        {
            Entities =
            [
                new PointEntity("c", new Vec2(3, 4)),
                new PointEntity("d", new Vec2(5, 4)),
                new CircleEntity("round", "c", 2),
                new LineEntity("l", "c", "d"),
            ],
        };
        var model = Built(With(new Part(), new SketchStep("s", 0, "", World.Xz, sketch)));
        model.Find("s/c").Value.Point!.Value.ShouldBe(new Vec3(3, 0, 4));
        model.Find("s/round").Value.Axis!.Value.Direction.Y.ShouldBe(-1, 1e-12);
        model.Find("s/l").Value.Path!.Length.ShouldBe(2, 1e-12);
        model.Find("s/none").Refusal!.Code.ShouldBe("name.lost");
    }

    [Fact]
    public void A_sketch_can_lie_on_a_frame_and_be_turned_and_moved_to_another_plane()
    {
        var part = With(
            new Part(),
            new FrameStep("f", 0, "", [Say("free", [], "5 mm", "0 mm", "0 mm", "90 deg", "0 deg", "0 deg")]),
            new SketchStep("s", 0, "", "f", Sketch.Empty)
        );
        Frame Plane(Part p) => ((SketchStep)p.Find("s")!).PlaneIn(Built(p)).Value;
        Plane(part).Z.DistanceTo(-Vec3.AlongY).ShouldBe(0, 1e-12);
        part = new PlaceSketch("s", World.Xy, "90", "10", "0").Apply(part).Value;
        Plane(part).X.DistanceTo(Vec3.AlongY).ShouldBe(0, 1e-12);
        Plane(part).Origin.DistanceTo(new Vec3(10, 0, 0)).ShouldBe(0, 1e-12);
        part = new SetSize("s", "turn", "180").Apply(part).Value;
        Plane(part).X.DistanceTo(-Vec3.AlongX).ShouldBe(0, 1e-12);
        new PlaceSketch("s", "nothing").Apply(part).Refusal!.Code.ShouldBe("step.reference");
    }

    [Fact]
    public void A_step_moves_only_where_nothing_it_stands_on_or_holds_is_passed()
    {
        var part = With(
            new Part(),
            At("p", 0, 0, 0),
            At("q", 1, 0, 0),
            PlaneStep.Offset("a", 0, "", World.Xy, "1 mm"),
            PlaneStep.Offset("b", 0, "", "a", "1 mm")
        );
        var moved = new MoveStep("q", null).Apply(part).Value;
        moved.Steps.Select(s => s.Id).ShouldBe(["q", "p", "a", "b"]);
        moved.Steps.Select(s => s.Number).ShouldBe([10, 20, 30, 40]);
        new MoveStep("b", "q").Apply(part).Refusal!.Message.ShouldContain("stands on a");
        new MoveStep("a", "b").Apply(part).Refusal!.Message.ShouldContain("b (step 40) stands on a");
        new MoveStep("q", "none").Apply(part).Refusal!.Code.ShouldBe("step.unknown");
    }

    [Fact]
    public void A_lost_parent_stays_written_down_until_it_is_replaced()
    {
        var part = With(new Part(), PlaneStep.Offset("a", 0, "", World.Xy, "1 mm"), PlaneStep.Offset("b", 0, "", "a", "1 mm"));
        new RemoveStep("a").Apply(part).Refusal!.Code.ShouldBe("step.in-use");
        part = new RemoveStep("a", Anyway: true).Apply(part).Value;
        new Model(part).Build((DatumStep)part.Find("b")!).Refusal!.Message.ShouldContain("'a' is gone");

        // Its other fields can be changed before the pick is mended, and mending works.
        part = new SetSize("b", "distance", "4").Apply(part).Value;
        part = new ReplaceStep(PlaneStep.Offset("b", 0, "b", World.Xy, "4 mm")).Apply(part).Value;
        new Model(part).Build((DatumStep)part.Find("b")!).Value.Origin.Z.ShouldBe(4, 1e-12);
        new ReplaceStep(PlaneStep.Offset("b", 0, "b", "never", "4 mm")).Apply(part).Refusal!.Code.ShouldBe("step.reference");
    }

    [Fact]
    public void Hiding_is_kept_singly_and_by_kind_and_changes_nothing_built()
    {
        var part = With(new Part(), At("p", 0, 0, 0), At("q", 1, 0, 0));
        new ShowStep("p", false).Apply(part).Value.Find("p")!.Hidden.ShouldBe(true);
        var none = new ShowKind("point", false).Apply(part).Value;
        none.Steps.ShouldAllBe(s => s.Hidden == true);
        new ShowKind("axis", false).Apply(part).Refusal!.Code.ShouldBe("step.no-kind");
    }

    [Fact]
    public void Several_commands_are_done_together_or_not_at_all()
    {
        var part = new Part();
        new Several([new AddStep(At("p", 0, 0, 0)), new AddStep(At("p", 1, 0, 0))], "two")
            .Apply(part)
            .Refusal!.Code.ShouldBe("step.duplicate");
        new Several([new AddStep(At("p", 0, 0, 0)), new AddStep(At("q", 1, 0, 0))], "two").Apply(part).Value.Steps.Length.ShouldBe(2);
    }
}
