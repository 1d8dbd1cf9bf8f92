using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Tools.Datums;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Tools;

public sealed class DatumDraftingTests
{
    private Part part = new Part();

    public DatumDraftingTests()
    {
        foreach (
            var step in new Step[]
            {
                new PointStep("p", 0, "", [Say("coordinates", "0 mm", "0 mm", "0 mm")]),
                new PointStep("q", 0, "", [Say("coordinates", "40 mm", "0 mm", "10 mm")]),
                new CurveStep("line", 0, "", CurveShape.Line, ["p", "q"]),
                new CurveStep("ring", 0, "", CurveShape.Circle, ["q"]) { Support = World.Xy, Radius = "6 mm" },
                PlaneStep.Offset("top", 0, "", World.Xy, "25 mm"),
                new AxisStep("skew", 0, "", [new DatumCondition("meeting", ["top", World.Xz])]),
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

    private DatumAnswer Pick(DatumKind kind, params string[] picks) =>
        DatumDrafting.Answer(Model(), new DatumDraft { Makes = kind, Picks = [.. picks] });

    [Fact]
    public void Nothing_picked_says_what_is_free_and_what_to_pick()
    {
        var answer = DatumDrafting.Answer(Model(), new DatumDraft { Makes = DatumKind.Axis });
        answer.Free.ShouldBe(4);
        answer.Prompt.ShouldContain("Pick");
        answer.Command.ShouldBeNull();
    }

    /// <summary>Where things happen to stand alike, fewer picks would do; what was picked is meant all the same.</summary>
    [Theory]
    [InlineData(10, 0, 5, 0, 10, 5, 0, 0, 2)]
    [InlineData(10, 0, 0, -10, 0, 0, 0, 0, 5)]
    [InlineData(-7, 3, 1, 7, 3, 1, 0, 9, 40)]
    [InlineData(3, 4, 5, 60, -2, 9, 11, 30, -8)]
    public void Three_points_make_the_plane_through_all_of_them(
        double ax,
        double ay,
        double az,
        double bx,
        double by,
        double bz,
        double cx,
        double cy,
        double cz
    )
    {
        Vec3[] places = [new(ax, ay, az), new(bx, by, bz), new(cx, cy, cz)];
        foreach (var (i, at) in places.Index())
        {
            part = new AddStep(
                new PointStep(
                    $"t{i}",
                    0,
                    "",
                    [
                        Say(
                            "coordinates",
                            FormattableString.Invariant($"{at.X} mm"),
                            FormattableString.Invariant($"{at.Y} mm"),
                            FormattableString.Invariant($"{at.Z} mm")
                        ),
                    ]
                )
            )
                .Apply(part)
                .Value;
        }

        foreach (var order in new[] { new[] { 0, 1, 2 }, [2, 0, 1], [1, 2, 0] })
        {
            var answer = Pick(DatumKind.Plane, $"t{order[0]}");
            answer = DatumDrafting.Answer(Model(), answer.Draft with { Picks = [$"t{order[1]}"] });
            answer = DatumDrafting.Answer(Model(), answer.Draft with { Picks = [$"t{order[2]}"] });
            var plane = Plane3.Of(Model().Build((PlaneStep)((AddStep)answer.Command!).Step).Value);
            places
                .Select(plane.Side)
                .ShouldAllBe(off => Math.Abs(off) < 1e-9, string.Join(", ", answer.Draft.Conditions.Select(c => c.Relation)));
        }
    }

    [Fact]
    public void Picks_come_one_by_one_and_keep_what_was_said()
    {
        var one = Pick(DatumKind.Plane, "p");
        one.Free.ShouldBe(2);
        one.Prompt.ShouldStartWith("2 freedoms left");
        var two = DatumDrafting.Answer(Model(), one.Draft with { Picks = ["top"] });
        two.Free.ShouldBe(0);
        two.Draft.Conditions.Select(c => c.Relation).ShouldBe(["through", "parallel"]);
        var step = (PlaneStep)((AddStep)two.Command!).Step;
        Model().Build(step).Value.Z.Z.ShouldBe(1, 1e-12);
    }

    [Fact]
    public void A_relation_is_changed_in_place_and_its_value_typed()
    {
        var answer = Pick(DatumKind.Plane, "line", "top");
        answer.Free.ShouldBe(0);
        var reading = answer.Readings.First(r => r.Words.Contains("at an angle", StringComparison.Ordinal) && r.Solutions == 2);
        var angled = DatumDrafting.Answer(Model(), answer.Draft with { Conditions = reading.Conditions });
        angled.Solutions.Length.ShouldBe(2);
        angled.Fields.ShouldHaveSingleItem().Shown.ShouldBe("45 deg");
        angled.Draft.Choice.ShouldNotBeNull("the chosen solution is remembered by its label");
        var second = DatumDrafting.Answer(Model(), angled.Draft with { Choice = angled.Solutions[1].Label });
        second.Chosen.ShouldBe(1);
        var view = second.Conditions.Single(c => c.Condition.Relation == "angle");
        view.Others.ShouldContain(o => o.Condition.Relation == "parallel");
        view.Of.ShouldHaveSingleItem().Words.ShouldBe("top");
    }

    [Fact]
    public void A_pick_that_was_lost_is_marked_and_can_be_replaced()
    {
        var draft = new DatumDraft { Makes = DatumKind.Plane, Conditions = [new DatumCondition("offset", ["gone"]) { Values = ["5 mm"] }] };
        var lost = DatumDrafting.Answer(Model(), draft);
        lost.Refusal!.Code.ShouldBe("name.lost");
        lost.Conditions.Single().Of.Single().Lost.ShouldBeTrue();
        DatumDrafting
            .Answer(Model(), draft with { Conditions = [new DatumCondition("offset", ["top"]) { Values = ["5 mm"] }] })
            .Command.ShouldNotBeNull();
    }

    [Fact]
    public void Skew_lines_are_refused_with_their_distance_and_the_halfway_point_is_offered()
    {
        var skew = DatumDrafting.Answer(
            Model(),
            new DatumDraft
            {
                Makes = DatumKind.Point,
                Conditions = [new DatumCondition("on-line", ["skew"]), new DatumCondition("on-line", ["world/y"])],
            }
        );
        skew.Refusal!.Message.ShouldContain("25 mm apart");
        var instead = DatumDrafting.Answer(Model(), skew.Instead!);
        instead.Solutions.Single().Frame.Origin.DistanceTo(new Vec3(0, 0, 12.5)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void A_distance_is_dragged_by_its_handle_and_rounded_to_what_the_pointer_can_aim()
    {
        var draft = new DatumDraft { Makes = DatumKind.Plane, Conditions = [new DatumCondition("offset", ["top"]) { Values = ["10 mm"] }] };
        var field = DatumDrafting.Answer(Model(), draft).Fields.Single();
        field.Way.DistanceTo(Vec3.AlongZ).ShouldBe(0, 1e-6);
        var ray = new Line3(field.Grip!.Value + new Vec3(0, -100, 7.27), Vec3.AlongY);
        var dragged = DatumDrafting.Drag(Model(), draft, "distance", ray, 0.9)!;
        dragged.Conditions[0].Values[0].ShouldBe("17.3 mm");
        DatumDrafting.Drag(Model(), draft, "nothing", ray, 1).ShouldBeNull();
    }

    [Fact]
    public void Along_a_path_the_point_stays_in_detents_and_stops_at_the_ends()
    {
        var draft = new DatumDraft
        {
            Makes = DatumKind.Point,
            Conditions = [new DatumCondition("at-fraction", ["line"]) { Values = ["0.2"] }],
        };
        string Dragged(double x, double reach) =>
            DatumDrafting.Drag(Model(), draft, "fraction", new Line3(new Vec3(x, -50, x / 4), Vec3.AlongY), reach)!.Conditions[0].Values[0];
        Dragged(20.4, 1).ShouldBe("0.5");
        Dragged(13.5, 1).ShouldBe("1/3");
        Dragged(15.2, 0.2).ShouldBe("0.38");
        Dragged(90, 1).ShouldBe("1");
    }

    [Fact]
    public void An_angle_is_dragged_in_whole_degrees()
    {
        var answer = DatumDrafting.Answer(
            Model(),
            new DatumDraft
            {
                Makes = DatumKind.Plane,
                Conditions =
                [
                    new DatumCondition("through-line", ["world/x"]),
                    new DatumCondition("angle", [World.Xy]) { Values = ["45 deg"] },
                ],
            }
        );
        var grip = answer.Fields.Single();
        var eye = new Line3(grip.Grip!.Value.Turned(Vec3.AlongX, 0.2) + new Vec3(-80, 0, 0), Vec3.AlongX);
        DatumDrafting
            .Drag(Model(), answer.Draft, "angle", eye, 0.5)!
            .Conditions[1]
            .Values[0]
            .ShouldBeOneOf("33 deg", "34 deg", "56 deg", "57 deg");
    }

    [Fact]
    public void A_frame_as_seen_looks_as_the_view_did()
    {
        var view = Frame.OfAxes(new Vec3(1, 2, 3), new Vec3(0.3, -0.8, 0.5), new Vec3(1, 0.4, 0));
        var step = (FrameStep)DatumDrafting.AsViewed(view, LengthUnit.Millimetre).ToStep();
        var built = Model().Build(step).Value;
        built.X.DistanceTo(view.X).ShouldBeLessThan(1e-5);
        built.Z.DistanceTo(view.Z).ShouldBeLessThan(1e-5);
        built.Origin.DistanceTo(view.Origin).ShouldBeLessThan(1e-3);
    }

    [Fact]
    public void A_free_frame_is_aimed_at_an_edge_or_a_face_and_keeps_its_place()
    {
        var free = new DatumDraft
        {
            Makes = DatumKind.Frame,
            Conditions = [new DatumCondition("free", []) { Values = ["1 mm", "2 mm", "3 mm", "0 deg", "0 deg", "0 deg"] }],
        };
        var aimed = DatumDrafting.Answer(Model(), free with { Picks = [World.Yz] });
        aimed.Draft.Conditions.Length.ShouldBe(2);
        var frame = aimed.Solutions.Single().Frame;
        frame.Origin.ShouldBe(new Vec3(1, 2, 3));
        frame.Z.DistanceTo(Vec3.AlongX).ShouldBe(0, 1e-12);
        var along = DatumDrafting.Answer(Model(), free with { Picks = ["line"] }).Solutions.Single().Frame;
        along.X.DistanceTo(new Vec3(40, 0, 10).Unit).ShouldBe(0, 1e-12);
        along.Origin.ShouldBe(new Vec3(1, 2, 3));
        var tied = DatumDrafting.Answer(Model(), free with { Picks = ["q"] });
        tied.Draft.Conditions.ShouldHaveSingleItem().Of.ShouldBe(["q"]);
    }

    [Fact]
    public void Paths_run_over_chains_of_curves_and_say_where_they_do_not_follow()
    {
        part = new AddStep(new PointStep("r", 0, "", [Say("coordinates", "40 mm", "30 mm", "10 mm")])).Apply(part).Value;
        part = new AddStep(new CurveStep("further", 0, "", CurveShape.Line, ["q", "r"])).Apply(part).Value;
        var draft = new DatumDraft
        {
            Makes = DatumKind.Point,
            Conditions = [new DatumCondition("at-length", ["line + further"]) { Values = [$"{Math.Sqrt(1700) + 12} mm"] }],
        };
        var answer = DatumDrafting.Answer(Model(), draft);
        answer.Solutions.Single().Frame.Origin.DistanceTo(new Vec3(40, 12, 10)).ShouldBe(0, 1e-6);
        answer.Conditions.Single().Of.Single().Words.ShouldBe("a path over 2 edges");
        draft.ToStep().References.ShouldBe(["line", "further"]);
        var apart = draft with { Conditions = [draft.Conditions[0] with { Of = ["line + ring"] }] };
        DatumDrafting.Answer(Model(), apart).Refusal!.Message.ShouldContain("do not follow each other");
    }

    [Fact]
    public void Three_points_on_one_line_say_so_beside_what_is_left()
    {
        part = new AddStep(new PointStep("m", 0, "", [Say("coordinates", "20 mm", "0 mm", "5 mm")])).Apply(part).Value;
        var answer = DatumDrafting.Answer(
            Model(),
            new DatumDraft
            {
                Makes = DatumKind.Plane,
                Conditions =
                [
                    new DatumCondition("through", ["p"]),
                    new DatumCondition("through", ["q"]),
                    new DatumCondition("through", ["m"]),
                ],
            }
        );
        answer.Free.ShouldBe(1);
        answer.Prompt.ShouldContain("lie on one line to within");
        answer.Command.ShouldBeNull();
    }

    [Fact]
    public void A_place_on_a_curve_or_a_face_becomes_a_point_there()
    {
        var onLine = DatumDrafting.PointAt(Model(), "line", new Line3(new Vec3(20, -9, 5), Vec3.AlongY)).Value;
        onLine.Relation.ShouldBe("at-fraction");
        onLine.Values[0].ShouldBe("0.5");
        var onPlane = DatumDrafting.PointAt(Model(), "top", new Line3(new Vec3(3, 4, 99), -Vec3.AlongZ)).Value;
        onPlane.Values.ShouldBe(["3 mm", "4 mm"]);
        DatumDrafting.PointAt(Model(), "p", new Line3(Vec3.Zero, Vec3.AlongZ)).Value.Relation.ShouldBe("at");
        DatumDrafting.PointAt(Model(), "skew", new Line3(Vec3.Zero, Vec3.AlongZ)).Refusal!.Code.ShouldBe("datum.no-place");
    }

    [Fact]
    public void Extensions_are_shown_where_edges_go_on_beyond_their_ends()
    {
        var answer = DatumDrafting.Answer(
            Model(),
            new DatumDraft
            {
                Makes = DatumKind.Point,
                Conditions = [new DatumCondition("on-line", ["line"]), new DatumCondition("on-plane", ["top"])],
            }
        );
        answer.Solutions.Single().Frame.Origin.DistanceTo(new Vec3(100, 0, 25)).ShouldBe(0, 1e-9);
        answer.Extensions.Length.ShouldBe(2);
        answer.Extensions[0].DistanceTo(new Vec3(40, 0, 10)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Quick_planes_face_the_view_and_say_when_they_cannot()
    {
        Frame Plane(Vec3 towards, params string[] picks) =>
            Model().Build((DatumStep)QuickPlanes.Of(Model(), [.. picks], towards.Unit).Value.ToStep()).Value;
        Plane(new Vec3(0.2, -0.9, 0.3), "p").Z.DistanceTo(-Vec3.AlongY).ShouldBe(0, 1e-9);
        Plane(new Vec3(0.2, 0.1, 0.9), "ring").Origin.Z.ShouldBe(10, 1e-9);
        var both = Plane(new Vec3(0.1, -0.8, 0.5), "p", "q");
        Plane3.Of(both).Side(new Vec3(40, 0, 10)).ShouldBe(0, 1e-6);
        var along = new Vec3(40, 0, 10).Unit;
        var best = new Vec3(0.1, -0.8, 0.5).Unit is var t ? (t - (along * t.Dot(along))).Unit : default;
        both.Z.AngleTo(best).ShouldBeLessThan(1e-3);
        QuickPlanes.Of(Model(), ["p", "q"], along).Refusal!.Message.ShouldContain("turn the view aside");
        QuickPlanes.Of(Model(), ["top"], Vec3.AlongZ).Refusal!.Code.ShouldBe("quick.no-point");
        QuickPlanes.SeenEdgeOn(Frame.World, Vec3.AlongX)!.Message.ShouldContain("turn the view up or down");
        QuickPlanes.SeenEdgeOn(Frame.World, Vec3.AlongZ).ShouldBeNull();
    }

    [Fact]
    public void Offers_hold_what_picks_determine_before_any_tool_is_taken()
    {
        var offers = Ratiogon.Core.Tools.Picks.Offers.OnModel(part, Built(), ["p", "q"], []);
        offers.ShouldContain(o => o.Id == "quick");
        var axis = offers.First(o => o.Id.StartsWith("axis-", StringComparison.Ordinal));
        axis.Command.ShouldBeOfType<AddStep>("nothing is left to say");
        var turned = offers.First(o => o.Label.Contains("turned about", StringComparison.Ordinal));
        turned.Command.ShouldBeNull();
        turned.Draft.ShouldNotBeNull("it wants a value");
        offers.ShouldContain(o => o.Group == "New point" && o.Label == "halfway between them");
    }

    [Fact]
    public void A_point_of_a_curve_that_is_nothing_is_passed_over()
    {
        var answer = CurveDrafting.Answer(
            Ratiogon.Core.Building.Model.Of(part, Built()),
            new CurveDraft { Shape = CurveShape.Line, Points = [new CurvePoint(), new CurvePoint { Reference = "p" }] }
        );
        answer.Draft.Points.ShouldBe([new CurvePoint { Reference = "p" }]);
        answer.Command.ShouldBeNull("another point is wanted");
    }

    [Fact]
    public void Curves_ask_for_their_points_and_make_those_that_are_missing()
    {
        var draft = new CurveDraft { Shape = CurveShape.Line };
        CurveDrafting.Answer(Model(), draft).Prompt.ShouldContain("begins");
        draft = draft with
        {
            Points = [new CurvePoint { Reference = "p" }, new CurvePoint { Made = Say("coordinates", "0 mm", "30 mm", "40 mm") }],
        };
        var answer = CurveDrafting.Answer(Model(), draft);
        answer.Length.ShouldBe("50 mm");
        var made = answer.Command.ShouldBeOfType<Several>().Apply(part).Value;
        made.Steps.Length.ShouldBe(part.Steps.Length + 2);
        ((CurveStep)made.Steps[^1]).Points.ShouldBe(["p", made.Steps[^2].Id]);
        var ring = CurveDrafting.Answer(Model(), new CurveDraft { Shape = CurveShape.Arc, Points = [new CurvePoint { Reference = "q" }] });
        ring.Draft.Support.ShouldBe(World.Xy);
        ring.Drawn.Length.ShouldBeGreaterThan(4);
        CurveDrafting
            .Answer(
                Model(),
                new CurveDraft
                {
                    Shape = CurveShape.Line,
                    Points = [new CurvePoint { Reference = "p" }, new CurvePoint { Reference = "p" }],
                }
            )
            .Refusal!.Code.ShouldBe("curve.same-point");
    }

    private Core.Building.RebuildResult Built()
    {
        var model = Model();
        return new Core.Building.RebuildResult(
            [
                .. part.Steps.Select(s => new Core.Building.StepResult(s.Id, Core.Building.StepState.Built, "")
                {
                    Frame = s is DatumStep d ? model.Build(d).Value : null,
                }),
            ],
            ImmutableArray<Core.Building.BodyResult>.Empty
        );
    }
}
