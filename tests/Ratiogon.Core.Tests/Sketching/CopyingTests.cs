using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

public class CopyingTests
{
    private static readonly Sketch Drawn = Of(
        [
            P("a", 0, 0),
            P("b", 10, 0),
            L("l", "a", "b"),
            P("m", 20, 5),
            P("f", 25, 5),
            P("t", 20, 10),
            new ArcEntity("r", "m", "f", "t", 5),
            P("c", 40, 0),
            P("u", 48, 0),
            P("v", 40, 4),
            P("g", 48, 0.0001),
            P("h", 40, 3.9999),
            new EllipticArcEntity("x", "c", "u", "v", "u", "v"),
        ],
        [K("k", "horizontal", "l")],
        [D("d", "distance", "10 mm", "l")]
    );

    [Fact]
    public void The_closure_of_picks_holds_their_points_once_and_first()
    {
        Copying.Closure(Drawn, ["l", "r", "a", "origin"]).Select(e => e.Id).ToArray().ShouldBe(["a", "b", "m", "f", "t", "l", "r"]);
        Copying.Closure(Drawn, ["x-axis"]).ShouldBeEmpty();
    }

    [Fact]
    public void Mirrored_arcs_keep_their_sweep_by_running_from_their_other_end()
    {
        var copy = new Sketch
        {
            Entities = Copying.Of(Copying.Closure(Drawn, ["r", "x"]), id => id + "2", p => new Vec2(-p.X, p.Y), 1, mirrored: true),
        };
        SketchCheck.Check(copy).ShouldBeNull();
        Arcs.Sweep(copy, (ArcEntity)copy.Find("r2")!).ShouldBe(Math.PI / 2, 1e-12);
        Curves.Of(copy, copy.Find("x2")!)!.End.ShouldBe(Math.PI / 2, 1e-9);
    }

    [Fact]
    public void Similarities_shift_turn_and_scale()
    {
        new Similarity(Vec2.Zero, new Vec2(3, 4), 0, 1).Apply(new Vec2(1, 1)).ShouldBe(new Vec2(4, 5));
        new Similarity(new Vec2(1, 0), Vec2.Zero, Math.PI / 2, 1).Apply(new Vec2(3, 0)).DistanceTo(new Vec2(1, 2)).ShouldBeLessThan(1e-12);
        new Similarity(new Vec2(1, 1), Vec2.Zero, 0, 3).Apply(new Vec2(2, 3)).DistanceTo(new Vec2(4, 7)).ShouldBeLessThan(1e-12);
    }

    [Theory]
    [InlineData("80 mm", 2, "160 mm")]
    [InlineData("plate_w / 2", 1.5, "(plate_w / 2) * 1.5")]
    [InlineData("1 3/8 in", 2, "(1 3/8 in) * 2")]
    public void Formulas_are_scaled_and_plain_values_stay_plain(string formula, double by, string expected) =>
        Moving.Scaled(formula, by).ShouldBe(expected);

    [Fact]
    public void A_turned_piece_lets_level_lines_go_and_keeps_lengths()
    {
        var piece = Clipping.Cut(Drawn, ["l"]).Value;
        var turned = Edit(Sketch.Empty, Clipping.Paste(Sketch.Empty, piece, new Similarity(Vec2.Zero, Vec2.Zero, 0.7, 1)).Value).Value;
        turned.Constraints.ShouldBeEmpty();
        turned.Dimensions.Single().Value.ShouldBe("10 mm");
        var large = Edit(Sketch.Empty, Clipping.Paste(Sketch.Empty, piece, new Similarity(Vec2.Zero, Vec2.Zero, 0, 2.5)).Value).Value;
        large.Dimensions.Single().Value.ShouldBe("25 mm");
        large.Constraints.Single().Kind.ShouldBe("horizontal");
    }

    [Fact]
    public void Renaming_reaches_every_mention()
    {
        var renamed = Renaming.Of(Drawn, new Dictionary<string, string> { ["a"] = "start", ["l"] = "base" });
        ((LineEntity)renamed.Find("base")!).From.ShouldBe("start");
        renamed.Constraints.Single().Of.ToArray().ShouldBe(["base"]);
        renamed.Dimensions.Single().Of.ToArray().ShouldBe(["base"]);
        SketchCheck.Check(renamed).ShouldBeNull();
    }

    [Theory]
    [InlineData("6", 3, 200, null)]
    [InlineData("2", 3, 200, "count.range")]
    [InlineData("1e6", 3, 200, "count.range")]
    [InlineData("5.5", 3, 200, "count.whole")]
    [InlineData("5 mm", 3, 200, "count.kind")]
    [InlineData("", 3, 200, "formula.empty")]
    [InlineData("n", 3, 200, "formula.unknown-name")]
    public void Numbers_are_whole_and_within_bounds(string text, int fewest, int most, string? code) =>
        Counts.Read(text, fewest, most, ParameterValues.None).Refusal?.Code.ShouldBe(code);

    [Fact]
    public void A_trimmed_polygon_is_just_curves_and_keeps_no_number()
    {
        var sketch = Edit(Sketch.Empty, Polygons.Regular("g", Vec2.Zero, new Vec2(20, 0), 6, false, "6")).Value;
        var cut = Edit(sketch, Trimming.Trim(sketch, "g.s2", new Vec2(0, 17)).Value);
        cut.Refusal?.Message.ShouldBeNull();
        cut.Value.Find("g.s2").ShouldBeNull();
        cut.Value.Shapes.ShouldBeEmpty();
        Arrangement.Of(cut.Value).Regions.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("origin")]
    [InlineData("nothing")]
    [InlineData("a")]
    public void What_is_no_curve_is_neither_trimmed_nor_split_nor_offset(string id)
    {
        Trimming.Trim(Drawn, id, Vec2.Zero).Refusal!.Code.ShouldBe("trim.no-curve");
        Trimming.Split(Drawn, id, Vec2.Zero).Refusal!.Code.ShouldBe("trim.no-curve");
        Offsetting.Of(Drawn, id, 2, Vec2.Zero, "2 mm").Refusal!.Code.ShouldBe("offset.no-curve");
        Trimming.Extend(Drawn, id, Vec2.Zero).Refusal!.Code.ShouldBe("extend.kind");
        Mirroring.Of(Drawn, ["l"], id).Refusal!.Code.ShouldBe("mirror.axis");
    }

    [Fact]
    public void Regions_of_ellipses_splines_and_lines_have_the_areas_of_closed_forms()
    {
        // A line cuts an ellipse in two halves; a spline through points of a line is that line.
        var sketch = Of([
            P("c", 0, 0),
            P("u", 20, 0),
            P("v", 0, 9),
            new EllipseEntity("x", "c", "u", "v"),
            P("a", -30, 0),
            P("b", -1, 0),
            P("e", 30, 0),
            new SplineEntity("s", ["a", "b", "e"], [1, 1]),
        ]);
        var regions = Arrangement.Of(sketch).Regions;
        regions.Length.ShouldBe(2);
        regions.ShouldAllBe(r => Math.Abs(r.Area - (Math.PI * 20 * 9 / 2)) < 1e-8);
        regions.ShouldContain(r => r.Contains(new Vec2(3, 4)) && !r.Contains(new Vec2(3, -4)));
    }
}
