using System.Collections.Immutable;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>Moves of every day that must neither be refused nor lose or move what they should not.</summary>
public class EverydayEditsTests
{
    [Theory]
    [InlineData("r1.bottom")]
    [InlineData("r1.p2")]
    [InlineData("r1.level1")]
    public void After_a_side_is_deleted_the_next_rectangle_can_be_drawn(string gone)
    {
        var sketch = Applied(
            Core.Sketches.Sketch.Empty,
            ShapeCatalog.RectangleByCorners(new Draft(Core.Sketches.Sketch.Empty).NewId("r"), Vec2.Zero, new Vec2(30, 20))
        );
        sketch = Applied(sketch, new SketchEdit { Remove = [gone] });
        for (var i = 0; i < 3; i++)
        {
            sketch = Applied(sketch, ShapeCatalog.RectangleByCorners(new Draft(sketch).NewId("r"), new Vec2(40, 0), new Vec2(60, 20)));
        }

        SketchCheck.Check(sketch).ShouldBeNull();
    }

    [Fact]
    public void Every_corner_of_a_square_can_be_rounded_or_cut()
    {
        foreach (var round in new[] { true, false })
        {
            var sketch = Applied(Core.Sketches.Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(30, 30)));
            sketch = Applied(
                sketch,
                new SketchEdit
                {
                    Tie = [new SketchConstraint("e", "equal", ["r.bottom", "r.right"])],
                    Size = [ShapeCatalog.Width("r", "30 mm")],
                }
            );
            var free = Freedoms.Of(sketch).Count;
            foreach (var corner in new[] { "r.p1", "r.p2", "r.p3", "r.p4" })
            {
                sketch = Applied(
                    sketch,
                    (round ? Corners.Fillet(sketch, corner, 4, "4 mm") : Corners.Chamfer(sketch, corner, 4, 4, "4 mm", null)).Value
                );
            }

            Freedoms.Of(sketch).Count.ShouldBe(free);
            var wider = Applied(
                sketch,
                new SketchEdit { Size = [sketch.Dimensions.Single(d => d.Value == "30 mm") with { Value = "36 mm" }] }
            );
            wider.At("r.p3").DistanceTo(wider.At("r.p2")).ShouldBe(36, 1e-7, "it is still square");
        }
    }

    [Theory]
    [InlineData(12)]
    [InlineData(19.9)]
    [InlineData(20)]
    [InlineData(25)]
    [InlineData(60)]
    public void A_slot_along_an_arc_is_never_turned_inside_out_by_its_width(double width)
    {
        var slot = Applied(Core.Sketches.Sketch.Empty, Slots.AlongArc("s", new Vec2(10, 0), new Vec2(-10, 0), new Vec2(0, 10), 3));
        var size = D("w", "distance", null, "s.a1", "s.b1");
        var sized = slot.Dimensions.FirstOrDefault(d => d.Driving) is { } own ? own : size;
        var after = Edit(
            slot,
            new SketchEdit
            {
                Size =
                [
                    sized with
                    {
                        Id = slot.Dimensions.Contains(sized) ? sized.Id : "w",
                        Value = FormattableString.Invariant($"{width} mm"),
                    },
                ],
            }
        );
        if (after.Done)
        {
            var (outer, inner) = ((ArcEntity)after.Value.Find("s.outer")!, (ArcEntity)after.Value.Find("s.inner")!);
            outer.Radius.ShouldBeGreaterThan(inner.Radius);
            (outer.Radius - inner.Radius).ShouldBe(width, 1e-6);
            foreach (var cap in new[] { "s.end1", "s.end2" }.Select(id => (ArcEntity)after.Value.Find(id)!))
            {
                cap.Radius.ShouldBe(width / 2, 1e-6);
                Arcs.Sweep(after.Value, cap).ShouldBe(Math.PI, 1e-6);
            }
        }
        else
        {
            after.Refusal!.Message.ShouldNotBeEmpty();
        }
    }

    [Theory]
    [InlineData("row")]
    [InlineData("ring")]
    [InlineData("mirror")]
    public void One_copy_goes_its_own_way_or_is_left_out_and_the_others_stay(string way)
    {
        var sketch = Of(
            [P("m", 30, 0), new CircleEntity("c", "m", 5), P("x", 0, -50), P("y", 0, 50), L("axis", "x", "y")],
            [K("held", "fixed", "x", "y")]
        );
        var of = Copying.Whole(sketch, ["c"]);
        var copied = Applied(
            sketch,
            way switch
            {
                "row" => Patterns.Grid("g", of, 4, new Vec2(20, 0), 1, Vec2.Zero, "4", "1"),
                "ring" => Patterns.Ring("g", sketch, of, "x", 4, 30, "4"),
                _ => Mirroring.Of(sketch, ["c"], "axis").Value,
            }
        );
        var part = new AddStep(new SketchStep("s", 0, "", World.Xy, copied)).Apply(new Part()).Value;
        var pick = copied.Entities.OfType<CircleEntity>().First(c => c.Id != "c").Id;
        var offers = Core.Tools.Picks.Offers.InSketch(part, (SketchStep)part.Find("s")!, [pick]).ToDictionary(o => o.Id);
        Core.Sketches.Sketch After(string offer) => ((SketchStep)offers[offer].Command!.Apply(part).Value.Find("s")!).Sketch;
        var went = After("copy-go");
        went.Entities.OfType<CircleEntity>().Count().ShouldBe(copied.Entities.OfType<CircleEntity>().Count());
        Freedoms.Of(went).Count.ShouldBe(Freedoms.Of(copied).Count + 3, "a centre and a radius");
        var away = After("copy-out");
        away.Entities.OfType<CircleEntity>().Count().ShouldBe(copied.Entities.OfType<CircleEntity>().Count() - 1);
        Freedoms.Of(away).Count.ShouldBeLessThanOrEqualTo(Freedoms.Of(copied).Count);
        if (way != "mirror")
        {
            var larger = Applied(went, new SketchEdit { Size = [D("r", "radius", "8 mm", "c")] });
            larger.Entities.OfType<CircleEntity>().Count(c => Math.Abs(c.Radius - 8) < 1e-9).ShouldBe(3, "the original and two copies");
        }
    }

    [Theory]
    [InlineData("line")]
    [InlineData("middle")]
    [InlineData("circle")]
    [InlineData("arc")]
    [InlineData("ellipse")]
    public void A_curve_that_is_trimmed_but_kept_as_construction_keeps_every_rule_and_frees_nothing(string what)
    {
        var (own, id, at) = what switch
        {
            "line" or "middle" => ([P("a", 0, 0), P("b", 60, 0), L("c", "a", "b")], "c", new Vec2(what == "line" ? 50 : 30, 0)),
            "circle" => ([P("m", 30, 0), new CircleEntity("c", "m", 20)], "c", new Vec2(50, 0)),
            "arc" => ([P("m", 30, 0), P("a", 50, 0), P("b", 10, 0), new ArcEntity("c", "m", "a", "b", 20)], "c", new Vec2(30, 20)),
            _ => (
                (SketchEntity[])[P("m", 30, 0), P("f", 50, 0), P("s", 30, 10), new EllipseEntity("c", "m", "f", "s")],
                "c",
                new Vec2(50, 0)
            ),
        };
        var sketch = Of(
            [.. own, P("p", 20, -40), P("q", 20, 40), P("r", 40, -40), P("t", 40, 40), L("low", "p", "q"), L("high", "r", "t")],
            [K("held", "fixed", "p", "q", "r", "t")],
            what is "circle" or "arc" ? [D("d", "diameter", "40 mm", "c")]
                : what == "ellipse" ? [D("d", "first-semi-axis", "20 mm", "c")]
                : [D("d", "distance", "60 mm", "c")]
        );
        var free = Freedoms.Of(sketch).Count;
        var trimmed = Applied(sketch, Trimming.TrimKeeping(sketch, id, at).Value);
        Freedoms.Of(trimmed).Count.ShouldBe(free);
        trimmed.Find(id)!.Construction.ShouldBeTrue();
        trimmed.Dimensions.ShouldHaveSingleItem().Driving.ShouldBeTrue();
        sketch.Constraints.ShouldBeSubsetOf(trimmed.Constraints);
        Diagnosis.AllRedundant(trimmed).ShouldBeEmpty();
        var pieces = trimmed.Entities.Where(e => sketch.Find(e.Id) is null && e is not PointEntity).ToList();
        pieces.Count.ShouldBe(what is "middle" or "arc" ? 2 : 1);
        pieces.ShouldAllBe(e => !e.Construction);
        Ratiogon.Core.Sketches.SketchCurve.Of(trimmed, pieces[0])!.Value.ParameterOf(at).ShouldBeNull("the stretch is gone");
    }

    [Theory]
    [InlineData(0.001)]
    [InlineData(0.4)]
    [InlineData(0.999)]
    public void Of_a_round_end_cut_in_two_the_piece_that_has_the_joint_goes_on_touching(double share)
    {
        var slot = Applied(Core.Sketches.Sketch.Empty, Slots.Straight("s", Vec2.Zero, new Vec2(40, 10), 6));
        var cap = (ArcEntity)slot.Find("s.end1")!;
        var at = slot.At(cap.Centre) + (Vec2.Polar(Arcs.Start(slot, cap) + (Arcs.Sweep(slot, cap) * share), cap.Radius));
        var cut = Applied(slot, Trimming.Split(slot, cap.Id, at).Value);
        Diagnosis.AllRedundant(cut).ShouldBeEmpty();
        foreach (var touch in cut.Constraints.Where(c => c.Kind == "tangent"))
        {
            cut.Find(touch.Of[0])!
                .Points.Intersect(cut.Find(touch.Of[1])!.Points)
                .ShouldNotBeEmpty($"{touch.Id} of {string.Join(" and ", touch.Of)}");
        }

        Freedoms.Of(cut).Count.ShouldBe(Freedoms.Of(slot).Count + 1, "where the cut is");
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void A_line_cut_many_times_in_any_order_says_nothing_twice(int seed)
    {
        var random = new Random(seed);
        var sketch = Applied(Core.Sketches.Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(90, 30)));
        var free = Freedoms.Of(sketch).Count;
        for (var cuts = 1; cuts <= 8; cuts++)
        {
            var pieces = sketch.Entities.OfType<LineEntity>().Where(l => Math.Abs(sketch.At(l.From).Y + sketch.At(l.To).Y) < 1e-9).ToList();
            pieces.Count.ShouldBe(cuts);
            var piece = pieces[random.Next(cuts)];
            var at = sketch.At(piece.From) + ((sketch.At(piece.To) - sketch.At(piece.From)) * (0.2 + (0.6 * random.NextDouble())));
            sketch = Applied(sketch, Trimming.Split(sketch, piece.Id, at).Value);
            Diagnosis.AllRedundant(sketch).ShouldBeEmpty();
            Freedoms.Of(sketch).Count.ShouldBe(free + cuts, "each cut slides along");
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void An_arc_kept_whole_below_a_piece_that_ends_at_a_point_on_it_says_nothing_twice(bool construction)
    {
        // The line ends on the arc, and is known to.
        var sketch = Of(
            [
                P("m", 0, 0),
                P("a", 20, 0),
                P("b", -20, 0),
                new ArcEntity("c", "m", "a", "b", 20) { Construction = construction },
                P("p", 12, 16),
                P("q", 30, 30),
                L("l", "p", "q"),
            ],
            [K("on", "on-curve", "p", "c")]
        );
        var free = Freedoms.Of(sketch).Count;
        var trimmed = Applied(sketch, Trimming.TrimKeeping(sketch, "c", new Vec2(0, 20)).Value);
        Diagnosis.AllRedundant(trimmed).ShouldBeEmpty();
        Freedoms.Of(trimmed).Count.ShouldBe(free);
    }

    [Fact]
    public void An_offset_that_would_fold_back_on_itself_is_refused()
    {
        // Two lines on one, the second going back over the first.
        var sketch = Of(
            [P("a", 0, 0), P("b", 20, 0), P("c", 50, 0), L("ab", "a", "b"), L("bc", "b", "c")],
            [K("k", "collinear", "ab", "bc")]
        );
        var offset = Applied(sketch, Offsetting.Of(sketch, "ab", 5, new Vec2(10, 5), "5 mm").Value);
        var sized = Applied(offset, new SketchEdit { Size = [D("ac", "horizontal-distance", "50 mm", "a", "c")] });
        var longer = Edit(sized, new SketchEdit { Size = [D("ab.w", "horizontal-distance", "70 mm", "a", "b")] });
        (longer.Done ? SketchSolver.Meets(longer.Value, Values(longer.Value)) : longer.Refusal!.Message.Length > 0).ShouldBeTrue();
        var wider = Applied(sized, new SketchEdit { Size = [D("ab.w", "horizontal-distance", "30 mm", "a", "b")] });
        (wider.At("b") - wider.At("a")).X.ShouldBe(30, 1e-9);
    }

    [Fact]
    public void A_tie_that_can_only_be_met_with_a_corner_turned_over_says_so()
    {
        var sketch = Of(
            [P("a", 0, 0), P("b", 10, 0), P("c", 13, 4), P("d", 13, -4), L("ab", "a", "b"), L("bc", "b", "c")],
            [K("f", "fixed", "a"), K("g", "fixed", "b"), K("h", "fixed", "d")]
        );
        var part = new AddStep(new SketchStep("s", 0, "", World.Xy, sketch)).Apply(new Part()).Value;
        var tie = new EditSketch("s", new SketchEdit { Tie = [K("t", "coincident", "c", "d")] });
        var after = tie.Apply(part).Value;
        ((SketchStep)after.Find("s")!).Sketch.At("c").DistanceTo(new Vec2(13, -4)).ShouldBe(0, 1e-9);
        tie.Said(part, after)!.ShouldContain("corner at b");
        var level = new EditSketch("s", new SketchEdit { Tie = [K("t", "vertical", "bc")] });
        level.Said(part, level.Apply(part).Value).ShouldBeNull();
    }

    [Fact]
    public void Equal_sides_stay_equal_when_one_is_cut_in_two()
    {
        var sketch = Applied(Core.Sketches.Sketch.Empty, ShapeCatalog.RectangleByCorners("r", Vec2.Zero, new Vec2(30, 30)));
        sketch = Applied(
            sketch,
            new SketchEdit
            {
                Tie = [new SketchConstraint("e", "equal", ["r.bottom", "r.right"])],
                Size = [ShapeCatalog.Width("r", "30 mm")],
            }
        );
        var free = Freedoms.Of(sketch).Count;
        sketch = Applied(sketch, Trimming.Split(sketch, "r.bottom", new Vec2(12, 0)).Value);
        Freedoms.Of(sketch).Count.ShouldBe(free + 1, "where the cut is");
        var wider = Applied(sketch, new SketchEdit { Size = [sketch.Dimensions.Single(d => d.Value == "30 mm") with { Value = "36 mm" }] });
        wider.At("r.p3").DistanceTo(wider.At("r.p2")).ShouldBe(36, 1e-7);
    }

    private static Sketch Row(int columns = 4, int rows = 2)
    {
        var sketch = Applied(
            Core.Sketches.Sketch.Empty,
            new SketchEdit { Add = [new PointEntity("c", Vec2.Zero), new CircleEntity("k", "c", 3)] }
        );
        return Applied(
            sketch,
            Patterns.Grid(
                "g",
                [sketch.Find("c")!, sketch.Find("k")!],
                columns,
                new Vec2(10, 1),
                rows,
                new Vec2(0, 12),
                $"{columns}",
                $"{rows}"
            )
        );
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(4)]
    [InlineData(7)]
    public void One_copy_can_go_and_the_others_stay_in_step(int copy)
    {
        var row = Row();
        var free = Freedoms.Of(row).Count;
        var fewer = Applied(row, new SketchEdit { Remove = [Patterns.CopyId("g", copy, 1)] });
        fewer.Entities.OfType<CircleEntity>().Count().ShouldBe(7);
        Freedoms.Of(fewer).Count.ShouldBe(free);
        fewer.Shapes.ShouldContain(s => s.Id == "g");

        // With other numbers it stays left out, and all others stand where they would.
        var more = Applied(
            fewer with
            {
                Shapes = [fewer.Shapes.Single() with { Count = "5" }],
            },
            new SketchEdit { ToggleConstruction = ["k"] }
        );
        more.Entities.OfType<CircleEntity>().Count().ShouldBe(9);
        Freedoms.Of(more).Count.ShouldBe(free);
    }

    [Fact]
    public void A_copy_that_is_cut_goes_its_own_way_and_the_others_stay()
    {
        var row = Row(4, 1);
        var crossed = Applied(
            row,
            new SketchEdit
            {
                Add = [new PointEntity("a", new Vec2(20, -9)), new PointEntity("b", new Vec2(20, 20)), new LineEntity("l", "a", "b")],
            }
        );
        var free = Freedoms.Of(crossed).Count;
        var cut = Applied(crossed, Trimming.Trim(crossed, Patterns.CopyId("g", 2, 1), new Vec2(22.9, 2)).Value);
        Freedoms.Of(cut).Count.ShouldBeLessThanOrEqualTo(free + 3, "the centre and the radius of the one that was cut");
        var moved = Applied(
            cut,
            new SketchEdit
            {
                Resize = cut.Entities.OfType<CircleEntity>().Take(1).ToDictionary(c => c.Id, _ => 2.0).ToImmutableDictionary(),
            }
        );
        moved.Entities.OfType<CircleEntity>().Select(c => c.Radius).Distinct().Count().ShouldBe(1, "copies have one size");
    }

    [Fact]
    public void An_arc_whose_end_is_clicked_on_a_corner_it_cannot_reach_leaves_the_corner_where_it_is()
    {
        var part = new AddStep(new SketchStep("s", 0, "", World.Xy, Core.Sketches.Sketch.Empty)).Apply(new Part()).Value;
        part = new EditSketch("s", ShapeCatalog.RectangleByCorners("r", new Vec2(20, 10), new Vec2(50, 40))).Apply(part).Value;
        var tool = Core.Tools.ToolCatalog.Find("arc")!.Make();
        Core.Tools.ToolAnswer answer = null!;
        foreach (var at in new[] { Vec2.Zero, new Vec2(15, 0), new Vec2(20, 10) })
        {
            var step = (SketchStep)part.Find("s")!;
            tool.Handle(new(part, step), new(Core.Tools.InputKind.Move, at, 0.5));
            answer = tool.Handle(new(part, step), new(Core.Tools.InputKind.Click, at, 0.5));
        }

        answer.Note.ShouldNotBeNull().ShouldContain("Not joined to r.p1");
        var after = ((SketchStep)answer.Command!.Apply(part).Value.Find("s")!).Sketch;
        after.At("r.p1").ShouldBe(new Vec2(20, 10));
        after.Entities.OfType<ArcEntity>().Single().Radius.ShouldBe(15, 1e-9);
    }

    [Fact]
    public void A_command_that_meets_a_defect_reports_it_and_changes_nothing()
    {
        var refusal = new Broken().Apply(new Part()).Refusal!;
        refusal.Code.ShouldBe(PartCommand.Defect);
        refusal.Message.ShouldContain("nothing was changed");
        refusal.Message.ShouldContain("a bolt fell out");
    }

    private sealed record Broken : PartCommand
    {
        public override string Words => "break";

        protected override Outcome<Part> Make(Part part) => throw new InvalidOperationException("a bolt fell out");
    }
}
