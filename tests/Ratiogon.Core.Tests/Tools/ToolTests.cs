using System.Collections.Immutable;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Picks;

namespace Ratiogon.Core.Tests.Tools;

/// <summary>A user without a screen: tools driven by clicks and typed text.</summary>
public class ToolTests : ToolDriver
{
    [Fact]
    public void Two_strokes_one_click_two_values_and_enter_make_a_set_rectangle()
    {
        Take("rectangle-centre");
        Click(0.2, -0.1);
        Do(InputKind.Typed, 20, 10, "width", "80")
            .Fields.Single(f => f.Name == "width")
            .ShouldBe(new ToolField("width", "width", "80 mm", true));
        Do(InputKind.Typed, 20, 10, "height", "plate_h").Refusal!.Code.ShouldBe("formula.unknown-name");
        Do(InputKind.Typed, 20, 10, "height", "2*25");
        Do(InputKind.Accept, 20, 10).Command.ShouldNotBeNull();
        Free().ShouldBe(0);
        Drawn.At("r1.p3").ShouldBe(new Vec2(40, 25));
    }

    [Fact]
    public void A_rectangle_by_corners_follows_the_pointer()
    {
        Take("rectangle");
        Click(10, 10);
        var preview = Do(InputKind.Move, 40, 30);
        preview.Preview.Length.ShouldBe(4);
        preview.Fields.Single(f => f.Name == "width").Text.ShouldBe("30 mm");
        Click(40, 30);
        Free().ShouldBe(4);
        Take("rectangle");
        Click(50, 50);
        Click(50, 50).Refusal!.Code.ShouldBe("tool.no-size");
    }

    [Fact]
    public void Lines_chain_snap_and_level_themselves()
    {
        Take("line");
        Click(10, 10);
        Do(InputKind.Move, 30, 10.2).Inferred.ShouldContain("horizontal");
        Click(30, 10.2);
        Click(30.1, 25);
        Click(10, 10).Command.ShouldNotBeNull();
        Drawn.Entities.OfType<LineEntity>().Count().ShouldBe(3);
        Drawn.Entities.OfType<PointEntity>().Count().ShouldBe(3, "the chain shares its corners");
        Drawn.Constraints.Select(c => c.Kind).ShouldBe(["horizontal", "vertical"], ignoreOrder: true);
        Free().ShouldBe(4);
        Do(InputKind.Cancel).Leave.ShouldBeTrue("the chain ended where it began");
    }

    [Fact]
    public void A_held_key_suppresses_inference()
    {
        Take("line");
        Do(InputKind.Click, 0.1, 0.1, suppress: true);
        Do(InputKind.Click, 30, 0.2, suppress: true);
        Drawn.Constraints.ShouldBeEmpty();
        Free().ShouldBe(4);
    }

    [Fact]
    public void Length_and_angle_are_typed_and_kept()
    {
        Take("line");
        Click(0, 0);
        Do(InputKind.Typed, 9, 9, "length", "25");
        Do(InputKind.Typed, 9, 9, "angle", "30");
        Do(InputKind.Accept, 9, 9);
        Free().ShouldBe(0);
        var line = Drawn.Entities.OfType<LineEntity>().Single();
        Drawn.At(line.To).DistanceTo(Vec2.Polar(Math.PI / 6, 25)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Two_numbers_place_a_point_at_every_stage()
    {
        Take("circle");
        Do(InputKind.Typed, field: "point", text: "20, 1/2 in").Refusal.ShouldBeNull();
        Do(InputKind.Typed, 25, 20, "diameter", "12");
        Do(InputKind.Accept, 25, 20);
        var circle = Drawn.Entities.OfType<CircleEntity>().Single();
        circle.Radius.ShouldBe(6);
        Drawn.At(circle.Centre).ShouldBe(new Vec2(20, 12.7));
        Take("point");
        Do(InputKind.Typed, field: "point", text: "5").Refusal!.Code.ShouldBe("tool.coordinates");
        Do(InputKind.Typed, field: "point", text: "5, 7");
        Drawn
            .Dimensions.Count(d => d.Kind.EndsWith("distance", StringComparison.Ordinal))
            .ShouldBe(4, "the circle's centre is placed as well");
    }

    [Theory]
    [InlineData("0")]
    [InlineData("-4")]
    [InlineData("1e9")]
    [InlineData("30 deg")]
    [InlineData("bad +")]
    public void Typed_sizes_that_make_no_sense_are_refused_at_their_field(string text)
    {
        Take("circle");
        Click(10, 10);
        Do(InputKind.Typed, 12, 10, "diameter", text).Refusal!.Where.ShouldBe("diameter");
        Drawn.Entities.ShouldBeEmpty();
    }

    [Fact]
    public void Arcs_go_round_the_way_the_pointer_went()
    {
        Take("arc");
        Click(20, 20);
        Click(30, 20);
        Do(InputKind.Move, 29.5, 17);
        Click(20, 10);
        var arc = Drawn.Entities.OfType<ArcEntity>().Single();
        Arcs.Sweep(Drawn, arc).ShouldBe(Math.PI / 2, 1e-6);
        Drawn.At(arc.To).DistanceTo(new Vec2(30, 20)).ShouldBe(0, 1e-9, "clockwise as drawn is counterclockwise from the other end");
    }

    [Fact]
    public void The_dimension_tool_reads_picks_and_pointer()
    {
        Take("rectangle");
        Click(10, 10);
        Click(50, 30);
        Take("dimension");
        Click(30, 10);
        Do(InputKind.Move, 30, 2).Prompt.ShouldContain("distance 40 mm");
        Click(30, 2);
        Do(InputKind.Typed, 30, 2, "value", "44");
        Drawn.Dimensions.Single().Value.ShouldBe("44 mm");

        Click(10, 10);
        Click(Drawn.At("r1.p3").X, Drawn.At("r1.p3").Y);
        Click(30, 60);
        Do(InputKind.Cancel);
        Drawn.Dimensions.Length.ShouldBe(1);
        Click(100, 100).Refusal!.Code.ShouldBe("dimension.pick");
    }

    [Fact]
    public void Ties_are_collected_until_they_fit()
    {
        Take("line");
        Click(5, 5);
        Click(20, 8);
        Do(InputKind.Cancel);
        Click(7, 20);
        Click(24, 27);
        Do(InputKind.Cancel);
        Take("tie-parallel");
        Click(12.5, 6.5).Prompt.ShouldContain("picked l1");
        Click(15.5, 23.5).Command.ShouldNotBeNull();
        Drawn.Constraints.Single().Kind.ShouldBe("parallel");
        Click(200, 200).Refusal!.Code.ShouldBe("tie.nothing-here");
    }

    [Fact]
    public void Dragging_moves_what_is_free_and_says_why_the_rest_stays()
    {
        Take("rectangle");
        Click(10, 10);
        Click(50, 30);
        Take("select");
        Do(InputKind.DragStart, 50, 30);
        Do(InputKind.Drag, 60, 40).Dragged!.At("r1.p3").DistanceTo(new Vec2(60, 40)).ShouldBeLessThan(0.01);
        Do(InputKind.DragEnd, 60, 40).Command.ShouldNotBeNull();
        Drawn.At("r1.p3").DistanceTo(new Vec2(60, 40)).ShouldBeLessThan(0.01);

        Click(30, 10);
        Part = new EditSketch("s", new Core.Sketches.Editing.SketchEdit { Tie = [new SketchConstraint("f", "fixed", ["r1.bottom"])] })
            .Apply(Part)
            .Value;
        var refused = Do(InputKind.DragStart, 30, 10);
        refused.Refusal!.Code.ShouldBe("drag.set");
        refused.Refusal.Message.ShouldContain("fixed");
    }

    [Fact]
    public void Picks_grow_shrink_and_clear()
    {
        Take("rectangle");
        Click(10, 10);
        Click(50, 30);
        Take("select");
        Do(InputKind.Click, 30, 10).Picks.ShouldBe(ImmutableArray.Create("r1.bottom"));
        Do(InputKind.Click, 30, 30, extend: true).Picks!.Value.Length.ShouldBe(2);
        Do(InputKind.Click, 30, 30, extend: true).Picks!.Value.Length.ShouldBe(1);
        Do(InputKind.Click, 300, 300).Picks!.Value.ShouldBeEmpty();
    }

    [Fact]
    public void Offers_hold_everything_two_lines_can_become()
    {
        Take("rectangle");
        Click(10, 10);
        Click(50, 30);
        var offers = Offers.InSketch(Part, (SketchStep)Part.Find("s")!, ["r1.bottom", "r1.top"]);
        offers
            .Where(o => o.Command is not null || o.Detail.Length > 0)
            .Select(o => o.Id)
            .ShouldBe([
                "size-distance",
                "size-angle",
                "size-other-angle",
                "tie-horizontal",
                "tie-vertical",
                "tie-parallel",
                "tie-perpendicular",
                "tie-collinear",
                "tie-equal",
                "tie-fixed",
                "construction",
                "remove",
            ]);
        offers[0].Detail.ShouldBe("20 mm");
        offers[0].Command!.Apply(Part).Done.ShouldBeTrue();
        offers.Single(o => o.Id == "tie-parallel").Command!.Apply(Part).Refusal!.Code.ShouldBe("sketch.redundant");
    }

    [Fact]
    public void Every_tool_has_a_stroke_of_its_own_on_its_bench() =>
        ToolCatalog.All.GroupBy(t => (t.Bench, t.Stroke)).ShouldAllBe(g => g.Count() == 1);

    [Fact]
    public void Inches_are_shown_and_typed_where_chosen()
    {
        Part = new SetUnits(LengthUnit.Inch).Apply(Part).Value;
        Take("circle");
        Click(0, 0);
        Do(InputKind.Move, 12.7, 0).Fields.Single(f => f.Name == "radius").Text.ShouldBe("0.5 in");
        Do(InputKind.Typed, 12.7, 0, "diameter", "2");
        Do(InputKind.Accept, 12.7, 0);
        Drawn.Entities.OfType<CircleEntity>().Single().Radius.ShouldBe(25.4);
    }
}
