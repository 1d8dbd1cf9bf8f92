using System.Collections.Immutable;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Picks;
using Arcs = Ratiogon.Core.Sketches.Arcs;

namespace Ratiogon.Core.Tests.Tools;

/// <summary>Trim, extend, split, corners, offset, mirror, patterns, move: what they keep and what they refuse.</summary>
public class EditToolTests : ToolDriver
{
    private void Line(double ax, double ay, double bx, double by)
    {
        Take("line");
        Do(InputKind.Click, ax, ay, suppress: true);
        Do(InputKind.Click, bx, by, suppress: true);
        Do(InputKind.Cancel);
    }

    private void Circle(double x, double y, double r)
    {
        Take("circle");
        Do(InputKind.Click, x, y, suppress: true);
        Do(InputKind.Click, x + r, y, suppress: true);
    }

    private void Rectangle(double w = 80, double h = 50)
    {
        Take("rectangle-centre");
        Click(0, 0);
        Type("width", $"{w}");
        Type("height", $"{h}");
        Enter();
    }

    [Fact]
    public void A_line_is_trimmed_between_two_crossings_and_keeps_its_rules()
    {
        Line(0.3, 10, 60, 10.4);
        Line(20, -5, 22, 30);
        Line(40, -5, 38, 30);
        Tie("horizontal", "l1");
        Take("trim");
        Do(InputKind.Move, 30, 10).Preview.Single().Role.ShouldBe("gone");
        Click(30, 10);
        Drawn.Entities.OfType<LineEntity>().Count().ShouldBe(4);
        Drawn.Constraints.Select(c => c.Kind).ShouldBe(["horizontal", "on-curve", "on-curve", "collinear"], ignoreOrder: true);
        Free().ShouldBe(12 - 1, "trimming frees nothing and ties nothing");
    }

    [Fact]
    public void The_end_of_a_line_is_trimmed_back_to_a_corner()
    {
        Line(0, 0.4, 60, 0.8);
        Line(20, -15, 20, 30);
        Take("trim");
        Click(50, 0.7);
        var l = (LineEntity)Drawn.Find("l1")!;
        Drawn.At(l.To).X.ShouldBe(20, 1e-6);
        Click(20, -10);
        Drawn.Entities.OfType<LineEntity>().Select(e => e.From).ShouldContain(l.To, "the second cut takes the corner that is there");
        Drawn.Entities.OfType<PointEntity>().Count().ShouldBe(3);
    }

    [Fact]
    public void Sizes_of_what_is_trimmed_stay_where_their_points_do()
    {
        Rectangle();
        Line(10, -40, 10, 40);
        Take("trim");
        Click(25, -25);
        Drawn.Dimensions.ShouldContain(d => d.Id == "r1.width" && d.Of.SequenceEqual(new[] { "r1.p1", "r1.p2" }));
        Free().ShouldBe(4, "the crossing line is as free as before");
        Measured("distance", "r1.p1", "r1.p2").ShouldBe(80, 1e-9);
    }

    [Fact]
    public void A_circle_becomes_an_arc_with_its_size_and_tangencies()
    {
        Circle(0, 0.3, 20);
        Line(-30, 5, 30, 6);
        Size("diameter", "40 mm", "c1");
        Take("trim");
        Click(0, 20.3);
        var arc = (ArcEntity)Drawn.Find("c1")!;
        arc.Radius.ShouldBe(20, 1e-9);
        Arcs.Sweep(Drawn, arc).ShouldBeGreaterThan(Math.PI);
        Drawn.Dimensions.Single().Kind.ShouldBe("diameter");
        Drawn.Constraints.Count(c => c.Kind == "on-curve").ShouldBe(2);
    }

    [Fact]
    public void A_curve_that_nothing_crosses_goes_whole()
    {
        Circle(0, 0.3, 20);
        Line(40, 0, 80, 9);
        Take("trim");
        Click(0, 20.3);
        Click(60, 4.5);
        Drawn.Entities.ShouldBeEmpty();
        Click(0, 20.3).Refusal!.Code.ShouldBe("tool.nothing-here");
    }

    [Fact]
    public void Splines_and_ellipses_keep_their_shape_when_trimmed()
    {
        Take("spline");
        foreach (var (x, y) in new[] { (0.8, 0.9), (12.0, 9.0), (25.0, 3.0), (38.0, 12.0) })
        {
            Do(InputKind.Click, x, y, suppress: true);
        }

        Enter(38, 12);
        Line(18, -10, 19, 30);
        var before = Curves.Of(Drawn, Only<SplineEntity>())!;
        var samples = Enumerable.Range(0, 30).Select(i => before.At(before.End * 0.4 * i / 30)).ToList();
        Take("trim");
        Click(before.At(before.End * 0.8).X, before.At(before.End * 0.8).Y);
        var after = Curves.Of(Drawn, Only<SplineEntity>())!;
        samples.ShouldAllBe(p => after.At(after.Nearest(p)).DistanceTo(p) < 1e-6);
        Drawn.At(Only<SplineEntity>().Through[^1]).X.ShouldBeInRange(18, 19);

        Take("ellipse");
        Click(100, 0.6);
        Click(130, 2);
        Click(100, 14);
        Line(110, -30, 112, 40);
        Take("trim");
        Click(130, 1.9);
        Only<EllipticArcEntity>().ShouldNotBeNull();
    }

    [Fact]
    public void Ends_are_led_on_to_the_next_curve()
    {
        Line(0, 0.4, 20, 1);
        Line(40, -15, 41, 30);
        Take("extend");
        Do(InputKind.Move, 18, 0.9).Preview.ShouldNotBeEmpty();
        Click(18, 0.9);
        Drawn.At(((LineEntity)Drawn.Find("l1")!).To).X.ShouldBeInRange(40, 41);
        Click(2, 0.5).Refusal!.Code.ShouldBe("extend.nothing-ahead");
        Circle(100, 100, 10);
        Take("extend");
        Click(110, 100).Refusal!.Code.ShouldBe("extend.kind");
    }

    [Fact]
    public void Arcs_are_led_on_round_their_centre()
    {
        Take("arc");
        Click(0, 0);
        Do(InputKind.Click, 20, 0.1, suppress: true);
        Do(InputKind.Move, 19, 3);
        Do(InputKind.Click, 12, 16, suppress: true);
        Line(-30, 2, -5, 3);
        var before = Arcs.Sweep(Drawn, Only<ArcEntity>());
        Take("extend");
        Click(12.2, 15.8);
        Arcs.Sweep(Drawn, Only<ArcEntity>()).ShouldBeGreaterThan(before + 1);
    }

    [Fact]
    public void Curves_are_split_in_two_that_share_a_point()
    {
        Line(0, 0.4, 40, 4);
        Circle(80, 0.3, 20);
        var free = Free();
        Take("split");
        Click(25, 2.65);
        Free().ShouldBe(free + 1, "the new point slides along the line");
        Click(80, 20.3);
        Drawn.Entities.OfType<ArcEntity>().Count().ShouldBe(2);
        Click(0.01, 0.4).Refusal!.Code.ShouldBe("split.at-end");
    }

    [Fact]
    public void Corners_are_rounded_with_the_corner_kept_and_further_ones_equal()
    {
        Rectangle();
        Take("corner");
        Type("size", "6");
        Click(40, 25);
        Click(-40, 25);
        Free().ShouldBe(0);
        Drawn.Dimensions.Select(d => d.Kind).ShouldBe(["distance", "distance", "radius"], ignoreOrder: true);
        Area().ShouldBe(4000 - (2 * 36 * (1 - (Math.PI / 4))), 1e-6);
        Set("r1.width", "100");
        Area().ShouldBe(5000 - (2 * 36 * (1 - (Math.PI / 4))), 1e-6);
        Click(40, 25).Refusal.ShouldNotBeNull();
        Type("size", "60");
        Click(50, -25).Refusal!.Message.ShouldContain("the largest here is about");
    }

    [Fact]
    public void Corners_are_chamfered_with_one_size_or_two()
    {
        Rectangle();
        Take("corner", "chamfer");
        Type("size", "5");
        Click(40, 25);
        Type("other", "8");
        Click(-40, -25);
        Free().ShouldBe(0);
        Area().ShouldBe(4000 - 12.5 - 20, 1e-6);
        Type("size", "500");
        Click(40, -25).Refusal!.Code.ShouldBe("corner.too-large");
        Click(0, 0).Refusal!.Code.ShouldBe("corner.nothing-here");
    }

    [Fact]
    public void A_line_meets_an_arc_in_a_rounded_corner()
    {
        Take("line");
        Click(0, 0);
        Do(InputKind.Click, 40, 3, suppress: true);
        Do(InputKind.Cancel);
        Take("arc", "three");
        Click(40, 3);
        Do(InputKind.Click, 30, 25, suppress: true);
        Do(InputKind.Click, 5, 30, suppress: true);
        Take("corner");
        Type("size", "3");
        Click(40, 3);
        Drawn.Constraints.Count(c => c.Kind == "tangent").ShouldBe(2);
        Drawn.Entities.OfType<ArcEntity>().ShouldContain(a => Math.Abs(a.Radius - 3) < 1e-9);
    }

    [Fact]
    public void A_rectangle_is_offset_to_either_side_and_follows()
    {
        Rectangle();
        Take("offset");
        Click(0, 25);
        Type("distance", "5", 0, 40);
        Enter(0, 40);
        Free().ShouldBe(0);
        Arrangement.Of(Drawn).Regions.Select(r => Math.Round(r.Area, 6)).ShouldContain((90 * 60) - 4000);
        Click(0, 25);
        Type("distance", "10", 0, 10);
        Enter(0, 10);
        Set("r1.width", "100");
        Arrangement.Of(Drawn).Regions.Select(r => Math.Round(r.Area, 6)).ShouldContain(80 * 30);
        Set("d1", "7");
        Measured("distance", "l1", "l3").ShouldBeGreaterThan(0);
        Click(0, 25);
        Type("distance", "30", 0, 10);
        Enter(0, 10).Refusal!.Code.ShouldBe("offset.swallowed");
    }

    [Fact]
    public void A_slot_outline_and_a_circle_are_offset()
    {
        Slot(0, 0, "30", "8");
        Take("offset");
        Click(15, 4);
        Type("distance", "3", 15, 9);
        Enter(15, 9);
        Free().ShouldBe(0);
        Set("slot1.width", "10");
        Arrangement.Of(Drawn).Regions.Sum(r => r.Area).ShouldBe((30 * 16) + (Math.PI * 64), 1e-6);
        Circle(100, 100, 10);
        Take("offset");
        Click(110, 100);
        Type("distance", "12", 101, 100);
        Enter(101, 100).Refusal!.Code.ShouldBe("offset.swallowed");
        Type("distance", "2", 120, 100);
        Enter(120, 100);
        Drawn.Entities.OfType<CircleEntity>().Select(c => Math.Round(c.Radius, 6)).ShouldBe([10, 12]);
    }

    [Fact]
    public void Mirror_images_follow_and_share_what_lies_on_the_axis()
    {
        Take("line");
        Click(0, 0);
        Click(20, 7);
        Click(13, 22);
        Do(InputKind.Cancel);
        Circle(15, 8, 3);
        Take("mirror", null, "l1", "l2", "c1");
        Click(0, 90);
        Free().ShouldBe(7);
        Drawn.Entities.OfType<LineEntity>().Count(l => l.From == "origin").ShouldBe(2, "the point on the axis is shared");
        Size("distance", "25 mm", "l1");
        var image = Drawn.Entities.OfType<LineEntity>().Last(l => l.From == "origin");
        Measured("distance", image.Id).ShouldBe(25, 1e-9);
        Take("mirror", null, "c1");
        Click(15.0, 11).Refusal!.Code.ShouldBe("mirror.axis");
    }

    [Fact]
    public void Mirrored_arcs_run_the_other_way_and_stay_true()
    {
        Take("arc", "three");
        Do(InputKind.Click, 5, 3, suppress: true);
        Do(InputKind.Click, 15, 9, suppress: true);
        Do(InputKind.Click, 22, 2, suppress: true);
        Take("mirror");
        Click(15, 9);
        Enter();
        Click(0, 50);
        var arcs = Drawn.Entities.OfType<ArcEntity>().ToList();
        arcs.Count.ShouldBe(2);
        Arcs.Sweep(Drawn, arcs[0]).ShouldBe(Arcs.Sweep(Drawn, arcs[1]), 1e-9);
        Free().ShouldBe(5);
    }

    [Fact]
    public void A_ring_of_slots_takes_its_number_from_a_parameter()
    {
        Part = new SetParameter("holes", "4").Apply(Part).Value;
        Slot(30, 0, "10", "4");
        var free = Free();
        Take("pattern-ring", null, "slot1.end1", "slot1.end2", "slot1.side1", "slot1.side2", "slot1.axis");
        Type("count", "holes");
        Click(0, 0);
        Free().ShouldBe(free, "copies bring no freedom");
        Arrangement.Of(Drawn).Regions.Length.ShouldBe(4);
        Part = new SetParameter("holes", "7").Apply(Part).Value;
        Arrangement.Of(Drawn).Regions.Length.ShouldBe(7);
        Arrangement.Of(Drawn).Regions.ShouldAllBe(r => Math.Abs(r.Area - (40 + (Math.PI * 4))) < 1e-6);
        new SetParameter("holes", "-3").Apply(Part).Refusal!.Code.ShouldBe("count.range");
        new SetParameter("holes", "0").Apply(Part).Refusal!.Code.ShouldBe("count.range");
        new SetParameter("holes", "1e6").Apply(Part).Refusal!.Code.ShouldBe("count.range");
        new RemoveParameter("holes").Apply(Part).Refusal!.Code.ShouldBe("parameter.in-use");
    }

    [Fact]
    public void A_grid_of_circles_follows_its_numbers_and_steps()
    {
        Circle(5, 6, 2);
        Size("diameter", "4 mm", "c1");
        Take("pattern-row", null, "c1");
        Type("columns", "3");
        Type("rows", "2");
        Type("step", "12");
        Type("angle", "0");
        Type("up", "9");
        Enter();
        Free().ShouldBe(2);
        Drawn.Entities.OfType<CircleEntity>().Count().ShouldBe(6);
        Set("grid1.count", "5");
        Set("grid1.rows", "4");
        Drawn.Entities.OfType<CircleEntity>().Count().ShouldBe(20);
        Free().ShouldBe(2);
        var centres = Drawn.Entities.OfType<CircleEntity>().Select(c => Drawn.At(c.Centre)).ToList();
        (centres.Max(p => p.X) - centres.Min(p => p.X)).ShouldBe(48, 1e-9);
        (centres.Max(p => p.Y) - centres.Min(p => p.Y)).ShouldBe(27, 1e-9);
        Set("grid1.count", "2");
        Drawn.Entities.OfType<CircleEntity>().Count().ShouldBe(8);
        Free().ShouldBe(2);
    }

    [Fact]
    public void What_is_free_is_moved_copied_turned_and_scaled()
    {
        Take("rectangle");
        Click(10, 10);
        Click(30, 22);
        string[] sides = ["r1.bottom", "r1.right", "r1.top", "r1.left"];
        Take("move", "move", sides);
        Click(10, 10);
        Type("across", "15");
        Type("up", "-4");
        Enter();
        Drawn.At("r1.p1").DistanceTo(new Vec2(25, 6)).ShouldBe(0, 1e-9);

        Take("move", "copy", sides);
        Click(25, 6);
        Click(80, 80);
        Free().ShouldBe(8);
        Arrangement.Of(Drawn).Regions.Length.ShouldBe(2);

        Size("distance", "20 mm", "r1.bottom");
        Take("move", "scale", sides);
        Click(25, 6);
        Type("factor", "2");
        Enter();
        Measured("distance", "r1.bottom").ShouldBe(40, 1e-9);
        Measured("distance", "r1.right").ShouldBe(24, 1e-9);
        Drawn.Dimensions.Single().Value.ShouldBe("40 mm");

        Take("move", "turn", sides);
        Click(25, 6);
        Type("angle", "30");
        Enter().Refusal!.Message.ShouldContain("held by", Case.Insensitive, "level lines do not turn");
    }

    [Fact]
    public void A_turned_copy_keeps_what_still_holds()
    {
        Line(10, 10, 30, 14);
        Take("move", "turn", "l1");
        Click(10, 10);
        Type("angle", "90");
        Enter();
        var l = Only<LineEntity>();
        Drawn.At(l.To).DistanceTo(new Vec2(6, 30)).ShouldBeLessThan(1e-9);
    }

    [Fact]
    public void A_piece_is_cut_out_and_pasted_into_another_sketch()
    {
        Rectangle();
        var piece = Clipping.Cut(Drawn, ["r1.bottom", "r1.right", "r1.top", "r1.left"]).Value;
        piece.Constraints.Length.ShouldBe(4);
        piece.Dimensions.Length.ShouldBe(2);
        var pasted = SketchEditor
            .Apply(
                Sketch.Empty,
                Clipping.Paste(Sketch.Empty, piece, new Similarity(default, new Vec2(100, 0), 0, 1)).Value,
                Core.Quantities.ParameterValues.None
            )
            .Value;
        Core.Sketches.Solving.Freedoms.Of(pasted).Count.ShouldBe(2);
        Clipping.Paste(Sketch.Empty, Sketch.Empty, default).Refusal!.Code.ShouldBe("copy.nothing");
    }

    [Fact]
    public void Points_become_one_and_part_again_without_breaking_rules()
    {
        Line(0.3, 0.4, 20, 5);
        Line(22, 7, 40, 30);
        Tie("horizontal", "p2", "p3");
        var free = Free();
        Take("merge");
        Click(22, Drawn.At("p3").Y);
        Click(20, Drawn.At("p2").Y);
        Drawn.Find("p3").ShouldBeNull();
        ((LineEntity)Drawn.Find("l2")!).From.ShouldBe("p2");
        Drawn.Constraints.ShouldBeEmpty("level with itself says nothing");
        Free().ShouldBe(free - 1);
        var parted = Offers.InSketch(Part, (Core.Parts.Steps.SketchStep)Part.Find("s")!, ["p2"]).Single(o => o.Id == "part");
        Part = parted.Command!.Apply(Part).Value;
        Free().ShouldBe(8);
    }

    [Fact]
    public void Points_of_one_line_and_points_held_apart_cannot_merge()
    {
        Line(0.3, 0.4, 20, 5);
        Line(22, 7, 40, 30);
        Merging.Check(Drawn, ImmutableDictionary<string, string>.Empty.Add("p1", "p2"))!.Code.ShouldBe("merge.collapses");
        Size("distance", "5 mm", "p2", "p3");
        Merging.Check(Drawn, ImmutableDictionary<string, string>.Empty.Add("p3", "p2"))!.Involved.ShouldBe(["d1"]);
        Merging.Check(Drawn, ImmutableDictionary<string, string>.Empty.Add("origin", "p2"))!.Code.ShouldBe("merge.built-in");
    }

    [Fact]
    public void A_box_picks_everything_inside()
    {
        Rectangle(20, 10);
        Circle(60, 0.3, 5);
        Take("select");
        Do(InputKind.DragStart, -30, -30);
        Do(InputKind.Drag, 40, 40).Preview.ShouldNotBeEmpty();
        Do(InputKind.DragEnd, 40, 40).Picks!.Value.Length.ShouldBe(5, "four sides and the centre");
    }
}
