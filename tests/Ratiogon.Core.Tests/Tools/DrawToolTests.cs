using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Tools;

namespace Ratiogon.Core.Tests.Tools;

/// <summary>Every way of every drawing tool: what it makes, how free that is, and that its sizes stay editable.</summary>
public class DrawToolTests : ToolDriver
{
    [Fact]
    public void A_tangent_arc_leaves_the_line_and_goes_back_to_one()
    {
        Take("line");
        Click(3, 4);
        Click(23, 4.1);
        Do(InputKind.Way).Way.ShouldBe("arc");
        Do(InputKind.Move, 30, 14).Preview.ShouldNotBeEmpty();
        Click(31, 15);
        var arc = Only<ArcEntity>();
        Drawn.Constraints.ShouldContain(c => c.Kind == "tangent");
        var end = Drawn.At(arc.To);
        Do(InputKind.Move, 33, 40).Way.ShouldBe("line", "the arc went back to lines");
        Click(31.5, 47);
        Drawn.Entities.OfType<LineEntity>().Count().ShouldBe(2);
        Drawn.Entities.OfType<LineEntity>().Last().From.ShouldBe(arc.To);
        Math.Abs((Drawn.At(arc.From) - Drawn.At(arc.Centre)).X)
            .ShouldBeLessThan(1e-9, "it leaves a level line: its centre stands above the joint");
        end.DistanceTo(new Vec2(31, 15)).ShouldBeLessThan(0.5);
    }

    [Fact]
    public void A_tangent_arc_takes_a_typed_radius_and_sweep()
    {
        Take("line");
        Click(0, 0);
        Click(20, 0.1);
        Do(InputKind.Way);
        Type("radius", "8", 30, 6);
        Type("sweep", "90", 30, 6);
        Enter(30, 6);
        var arc = Only<ArcEntity>();
        arc.Radius.ShouldBe(8, 1e-9);
        Arcs.Sweep(Drawn, arc).ShouldBe(Math.PI / 2, 1e-9);
        Drawn.At(arc.To).DistanceTo(new Vec2(28, 8)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void A_line_reaches_past_either_place_by_what_is_typed()
    {
        Take("line");
        Click(10, 10);
        Type("length", "30", 40, 12);
        Type("angle", "0", 40, 12);
        Type("before", "4", 40, 12);
        Type("beyond", "6", 40, 12);
        Enter(40, 12);
        var line = Only<LineEntity>();
        Drawn.At(line.From).DistanceTo(Drawn.At(line.To)).ShouldBe(40, 1e-9);
        Free().ShouldBe(2, "only where it lies");
    }

    [Theory]
    [InlineData("side", 5, 600)]
    [InlineData("centre-side", 5, 2400)]
    [InlineData("parallelogram", 6, 600)]
    public void Rectangles_by_three_points(string way, int freedoms, double area)
    {
        Take("rectangle", way);
        Click(11, 7);
        Do(InputKind.Move, 31, 22).Preview.ShouldNotBeEmpty();
        Click(31, 22);
        var depth = new Vec2(-15, 20).Unit * 24;
        Click(31 + depth.X, 22 + depth.Y);
        Free().ShouldBe(freedoms);
        Area().ShouldBe(area, area * 1e-9);
    }

    [Fact]
    public void A_turned_rectangle_takes_typed_length_angle_and_depth()
    {
        Take("rectangle", "side");
        Click(0, 0);
        Type("length", "40", 30, 20);
        Type("angle", "30", 30, 20);
        Enter(30, 20);
        Type("depth", "25", 0, 30);
        Enter(0, 30);
        Free().ShouldBe(0);
        Area().ShouldBe(1000, 1e-6);
        Drawn.At("r1.p2").DistanceTo(Vec2.Polar(Math.PI / 6, 40)).ShouldBe(0, 1e-8);
    }

    [Fact]
    public void A_rounded_rectangle_is_set_by_width_height_and_radius()
    {
        Take("rectangle", "rounded");
        Click(0, 0);
        Type("width", "60", 50, 30);
        Type("height", "40", 50, 30);
        Enter(50, 30);
        Do(InputKind.Typed, 50, 30, "radius", "21").Refusal.ShouldBeNull();
        Enter(50, 30).Refusal!.Code.ShouldBe("tool.too-round");
        Type("radius", "8", 50, 30);
        Enter(50, 30);
        Free().ShouldBe(2);
        Area().ShouldBe((60 * 40) - ((4 - Math.PI) * 64), 1e-6);
        Set("r1.radius", "12");
        Area().ShouldBe((60 * 40) - ((4 - Math.PI) * 144), 1e-6);
    }

    [Fact]
    public void A_circle_by_the_ends_of_a_diameter()
    {
        Take("circle", "diameter");
        Click(10, 10);
        Type("diameter", "30", 20, 10);
        Enter(20, 10);
        Free().ShouldBe(3);
        Only<CircleEntity>().Radius.ShouldBe(15, 1e-9);
        Drawn.At(Only<CircleEntity>().Centre).DistanceTo(new Vec2(25, 10)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void A_circle_through_three_points()
    {
        Take("point");
        Click(20, 0.9);
        Take("circle", "three");
        Click(3, 17.5);
        Click(-14, 1.2);
        Click(20, 0.9);
        var circle = Only<CircleEntity>();
        foreach (var p in new Vec2[] { new(3, 17.5), new(-14, 1.2), new(20, 0.9) })
        {
            Drawn.At(circle.Centre).DistanceTo(p).ShouldBe(circle.Radius, 1e-9);
        }

        Drawn.Constraints.Count(c => c.Kind == "on-curve").ShouldBe(1, "the point that was there");
        Click(40, 40);
        Click(60, 60);
        Click(80, 80).Refusal!.Code.ShouldBe("tool.on-a-line");
    }

    [Fact]
    public void A_circle_touching_two_lines_with_a_size_has_four_places()
    {
        Take("line");
        Click(0, 3);
        Click(50, 3);
        Do(InputKind.Cancel);
        Click(3, 9);
        Click(3, 50);
        Do(InputKind.Cancel);
        Take("circle", "touch-two");
        Click(20, 3);
        Click(3, 20);
        Type("radius", "5", 8, 8);
        var shown = Do(InputKind.Move, 8, 8);
        shown.Solutions.ShouldBe(4);
        shown.Prompt.ShouldContain("1 of 4");
        Do(InputKind.Next, 8, 8).Prompt.ShouldContain("2 of 4");
        Do(InputKind.Next, 8, 8, text: "-");
        Enter(8, 8);
        var circle = Only<CircleEntity>();
        Drawn.At(circle.Centre).DistanceTo(new Vec2(8, 8)).ShouldBe(0, 1e-8);
        Free().ShouldBe(5, "the lines can move; the circle follows");
    }

    [Fact]
    public void A_circle_touching_three_circles_steps_through_all_eight()
    {
        Take("circle");
        foreach (var (x, y, r) in new[] { (0.0, 0.0, 8.0), (60.0, 5.0, 10.0), (25.0, 55.0, 12.0) })
        {
            Do(InputKind.Click, x, y, suppress: true);
            Do(InputKind.Click, x + r, y, suppress: true);
        }

        Take("circle", "touch-three");
        Click(8, 0);
        Click(50, 5);
        Click(25, 43);
        var first = Do(InputKind.Move, 30, 20);
        first.Solutions.ShouldBe(8);
        first.Prompt.ShouldContain("⌀");
        var radii = new HashSet<double>();
        for (var i = 0; i < 8; i++)
        {
            radii.Add(Math.Round(Do(InputKind.Next, 30, 20).Preview[0].Numbers[2], 6));
        }

        radii.Count.ShouldBe(8);
        Click(30, 20);
        Drawn.Constraints.Count(c => c.Kind == "tangent").ShouldBe(3);
        Free().ShouldBe(9, "three free circles carry the fourth");
    }

    [Fact]
    public void Curves_that_cannot_be_touched_are_refused_with_the_reason()
    {
        Take("circle", "touch-two");
        Click(40, 40).Refusal!.Code.ShouldBe("tool.pick-curve");
        Take("line");
        Click(0, 3);
        Click(50, 3);
        Do(InputKind.Cancel);
        Click(0, 40);
        Click(50, 40);
        Take("circle", "touch-two");
        Click(20, 3);
        Click(20, 3).Refusal!.Code.ShouldBe("tool.same-twice");
        Click(20, 40);
        Type("radius", "5", 20, 20);
        Enter(20, 20).Refusal!.Message.ShouldContain("No circle of ⌀ 10 mm touches");
    }

    [Theory]
    [InlineData("three")]
    [InlineData("ends")]
    public void Arcs_through_three_points(string way)
    {
        Take("arc", way);
        Click(10, 0.7);
        Click(way == "three" ? 7.2 : -10, way == "three" ? 7.9 : 0.9);
        Click(way == "three" ? -10 : 7.2, way == "three" ? 0.9 : 7.9);
        var arc = Only<ArcEntity>();
        Drawn.At(arc.Centre).DistanceTo(new Vec2(7.2, 7.9)).ShouldBe(arc.Radius, 1e-9);
        Arcs.Sweep(Drawn, arc).ShouldBeInRange(2.5, 3.5);
        Free().ShouldBe(5);
    }

    [Fact]
    public void An_arc_by_ends_takes_a_typed_radius_and_refuses_one_too_small()
    {
        Take("arc", "ends");
        Click(0.7, 10);
        Click(20.7, 10.6);
        Do(InputKind.Typed, 10, 20, "radius", "4").Refusal!.Message.ShouldContain("at least half");
        Type("radius", "12", 10, 20);
        Enter(10, 20);
        Only<ArcEntity>().Radius.ShouldBe(12, 1e-9);
        Arcs.Sweep(Drawn, Only<ArcEntity>()).ShouldBeLessThan(Math.PI);
    }

    [Fact]
    public void An_arc_goes_on_tangentially_from_an_end()
    {
        Take("line");
        Click(0, 0);
        Click(20, 0.1);
        Do(InputKind.Cancel);
        Take("arc", "tangent");
        Click(50, 50).Refusal!.Code.ShouldBe("tool.no-tangent");
        Click(20, 0);
        Click(31, -9).Refusal?.Message.ShouldBeNull();
        Drawn.Constraints.ShouldContain(c => c.Kind == "tangent");
        Arcs.Sweep(Drawn, Only<ArcEntity>()).ShouldBeLessThan(Math.PI);
    }

    [Fact]
    public void Arcs_take_a_typed_radius_and_sweep()
    {
        Take("arc");
        Click(0, 0);
        Type("radius", "15", 20, 0.1);
        Enter(20, 0);
        Do(InputKind.Move, 19, 3);
        Type("sweep", "120", 10, 15);
        Enter(10, 15);
        var arc = Only<ArcEntity>();
        arc.Radius.ShouldBe(15, 1e-9);
        Arcs.Sweep(Drawn, arc).ShouldBe(Math.PI * 2 / 3, 1e-9);
        Free().ShouldBe(1, "only the heading is left");
    }

    [Theory]
    [InlineData("centres", 30, 8)]
    [InlineData("overall", 22, 8)]
    [InlineData("middle", 30, 8)]
    public void Straight_slots_are_set_by_length_width_and_heading(string way, double centres, double width)
    {
        Slot(0, 0, "30", "8", way);
        Free().ShouldBe(way == "overall" ? 1 : 0, "by its ends it can still slide along the point it begins at");
        Area().ShouldBe((centres * width) + (Math.PI * width * width / 4), 1e-6);
        Set("slot1.width", "10");
        var now = way == "overall" ? 20 : 30;
        Area().ShouldBe((now * 10) + (Math.PI * 25), 1e-6);
        Measured("far-distance", "slot1.end1", "slot1.end2").ShouldBe(now + 10, 1e-8);
    }

    [Fact]
    public void A_slot_drawn_freely_has_five_freedoms_and_one_too_wide_is_refused()
    {
        Take("slot");
        Click(3, 5);
        Click(23, 12);
        Click(11, 14);
        Free().ShouldBe(5);
        Take("slot", "overall");
        Click(0, 50);
        Click(20, 50);
        Type("width", "21", 10, 55);
        Enter(10, 55).Refusal!.Code.ShouldBe("tool.too-wide");
    }

    [Fact]
    public void An_arc_slot_by_centre_is_set_by_radius_sweep_and_width_and_stays_editable()
    {
        Take("slot", "arc-centre");
        Click(0, 0);
        Type("radius", "30", 30, 2);
        Enter(30, 0.1);
        Do(InputKind.Move, 29, 5);
        Type("sweep", "60", 20, 25);
        Enter(20, 25);
        Type("width", "8", 30, 20);
        Enter(30, 20);
        Free().ShouldBe(1);
        static double Expected(double r, double sweep, double w) => (r * sweep * w) + (Math.PI * w * w / 4);
        Area().ShouldBe(Expected(30, Math.PI / 3, 8), 1e-6);
        Set("slot1.radius", "40");
        Set("slot1.sweep", "100 deg");
        Set("slot1.width", "12");
        Area().ShouldBe(Expected(40, Math.PI * 100 / 180, 12), 1e-6);
        Take("slot", "arc-centre");
        Click(200, 0);
        Click(210, 0);
        Click(200, 10);
        Type("width", "21", 210, 5);
        Enter(210, 5).Refusal!.Code.ShouldBe("tool.too-wide");
    }

    [Fact]
    public void An_arc_slot_by_three_points_has_six_freedoms()
    {
        Take("slot", "arc-three");
        Click(-19.5, 3);
        Click(1, 21);
        Click(20, 5);
        Click(3, 27);
        Free().ShouldBe(6);
        Arrangement.Of(Drawn).Regions.Length.ShouldBe(1);
    }

    [Theory]
    [InlineData("corner")]
    [InlineData("flat")]
    public void Polygons_are_regular_and_their_number_of_sides_can_be_changed(string way)
    {
        Take("polygon", way);
        Click(0, 0);
        Type("sides", "5", 20, 3);
        Type("across", "40", 20, 3);
        Enter(20, 3);
        Free().ShouldBe(1, "only the heading is left");
        double Expected(int n) => way == "corner" ? n * 400 * Math.Sin(2 * Math.PI / n) / 2 : n * 400 * Math.Tan(Math.PI / n);
        Area().ShouldBe(Expected(5), 1e-6);
        foreach (var n in new[] { 8, 3, 12 })
        {
            Set("g1.count", $"{n}");
            Drawn.Entities.OfType<LineEntity>().Count().ShouldBe(n);
            Area().ShouldBe(Expected(n), 1e-6);
            Free().ShouldBe(1);
        }

        Do(InputKind.Click, 100, 100);
        Do(InputKind.Typed, 120, 100, "sides", "2").Refusal!.Code.ShouldBe("count.range");
        Do(InputKind.Typed, 120, 100, "sides", "5.5").Refusal!.Code.ShouldBe("count.range");
        new Core.Parts.Commands.SetSize("s", "g1.count", "1e6").Apply(Part).Refusal!.Code.ShouldBe("count.range");
    }

    [Fact]
    public void Ellipses_are_set_by_their_semi_axes_and_bound_an_exact_area()
    {
        Take("ellipse");
        Click(0, 0);
        Type("first", "30", 20, 0.2);
        Type("angle", "0", 20, 0.2);
        Enter(20, 0.2);
        Type("second", "12", 3, 10);
        Enter(3, 10);
        Free().ShouldBe(0);
        Area().ShouldBe(Math.PI * 30 * 12, 1e-6);
        Set(Drawn.Dimensions[1].Id, "20");
        Area().ShouldBe(Math.PI * 30 * 20, 1e-6);
    }

    [Fact]
    public void An_elliptic_arc_lies_on_its_ellipse()
    {
        Take("ellipse", "arc");
        Click(3, 2);
        Click(33, 4);
        Click(2, 14);
        Click(31, 10);
        Click(-20, 12);
        var arc = Only<EllipticArcEntity>();
        Free().ShouldBe(7);
        var curve = Curves.Of(Drawn, arc)!;
        curve.At(curve.End).DistanceTo(Drawn.At(arc.To)).ShouldBeLessThan(1e-8);
    }

    [Fact]
    public void A_spline_goes_through_its_points_and_ends_with_enter()
    {
        Take("spline");
        foreach (var (x, y) in new[] { (0.8, 0.9), (12.0, 9.0), (25.0, 3.0), (38.0, 12.0) })
        {
            Click(x, y);
        }

        Enter(38, 12);
        var spline = Only<SplineEntity>();
        spline.Through.Length.ShouldBe(4);
        Free().ShouldBe(8);
        Click(60, 60);
        Enter(60, 60).Refusal!.Code.ShouldBe("tool.too-few");
    }

    [Fact]
    public void A_spline_with_end_tangents_leaves_at_the_typed_angle()
    {
        Take("spline", "handles");
        Click(0, 0);
        Click(20, 11);
        Click(41, 2);
        Type("start", "90", 50, 5);
        Type("end", "0", 50, 5);
        Enter(50, 5);
        var curve = Curves.Of(Drawn, Only<SplineEntity>())!;
        curve.Slope(0).Angle.ShouldBe(Math.PI / 2, 1e-9);
        curve.Slope(curve.End).Angle.ShouldBe(0, 1e-9);
    }

    [Fact]
    public void A_bolt_circle_keeps_its_number_and_diameter_editable()
    {
        Take("point", "bolts");
        Click(0, 0);
        Type("count", "5", 20, 0);
        Type("diameter", "50", 20, 0.1);
        Enter(20, 0);
        Free().ShouldBe(1, "the heading; the pointer was level with nothing but its own centre");
        Set("b1.count", "8");
        Set("b1.diameter", "60");
        Drawn.Entities.OfType<PointEntity>().Count(p => Math.Abs(p.At.Length - 30) < 1e-9).ShouldBe(8);
    }

    [Fact]
    public void A_grid_of_points_keeps_its_numbers_and_steps_editable()
    {
        Take("point", "grid");
        Click(0, 0);
        Type("columns", "4", 10, 10);
        Type("rows", "3", 10, 10);
        Type("across", "15", 10, 10);
        Type("up", "20", 10, 10);
        Enter(10, 10);
        Free().ShouldBe(0);
        Drawn.Entities.OfType<PointEntity>().Count().ShouldBe(11, "and the origin, which is the first");
        Set("g1.count", "2");
        Set("g1.rows", "5");
        Free().ShouldBe(0);
        Drawn.Entities.OfType<PointEntity>().Select(p => (Math.Round(p.At.X, 6), Math.Round(p.At.Y, 6))).ShouldContain((15, 80));
        Drawn.Entities.Length.ShouldBe(9);
    }

    [Fact]
    public void Construction_geometry_is_drawn_on_wish()
    {
        Take("circle");
        Click(10, 10);
        Do(InputKind.Click, 20, 10, construction: true);
        Drawn.Entities.OfType<CircleEntity>().Single().Construction.ShouldBeTrue();
        Arrangement.Of(Drawn).Regions.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("rectangle")]
    [InlineData("circle")]
    [InlineData("arc")]
    [InlineData("slot")]
    [InlineData("polygon")]
    [InlineData("ellipse")]
    [InlineData("spline")]
    [InlineData("line")]
    public void Escape_takes_back_what_was_begun_and_then_leaves(string name)
    {
        Take(name);
        Click(11, 12);
        Do(InputKind.Cancel).Leave.ShouldBeFalse();
        Do(InputKind.Cancel).Leave.ShouldBeTrue();
        Drawn.Entities.ShouldBeEmpty();
    }
}
