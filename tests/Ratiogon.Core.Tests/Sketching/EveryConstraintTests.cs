using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Applying;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Sketching;

/// <summary>Every constraint once: tied from a loose drawing it holds, takes the freedoms it should, and refuses what it
/// does not fit with the reason.</summary>
public class EveryConstraintTests
{
    private static readonly Sketch Loose = Of([
        P("a", 1, 2),
        P("b", 21, 5),
        P("c", 3, 14),
        P("d", 24, 21),
        P("e", 33, 3),
        P("f", 40, 25),
        P("q", 11, 9),
        L("l", "a", "b"),
        L("m", "c", "d"),
        L("n", "e", "f"),
        P("k1", -20, 4),
        new CircleEntity("k", "k1", 6),
        P("h1", -24, 20),
        new CircleEntity("h", "h1", 9),
        P("r1", 60, 4),
        P("r2", 72, 5),
        P("r3", 58, 15),
        new ArcEntity("r", "r1", "r2", "r3", 12),
        P("x1", 10, -30),
        P("x2", 32, -27),
        P("x3", 8, -18),
        new EllipseEntity("x", "x1", "x2", "x3"),
        P("s1", -40, -30),
        P("s2", -25, -20),
        P("s3", -12, -34),
        new SplineEntity("s", ["s1", "s2", "s3"], Curves.SpansOf([new Vec2(-40, -30), new Vec2(-25, -20), new Vec2(-12, -34)])),
    ]);

    [Theory]
    [InlineData("coincident", 2, "b", "e")]
    [InlineData("coincident", 2, "q", "k")]
    [InlineData("on-curve", 1, "q", "l")]
    [InlineData("on-curve", 1, "q", "k")]
    [InlineData("on-curve", 1, "q", "r")]
    [InlineData("on-curve", 1, "q", "x")]
    [InlineData("on-curve", 1, "q", "s")]
    [InlineData("on-curve", 1, "k", "l")]
    [InlineData("crossing", 2, "q", "l", "n")]
    [InlineData("crossing", 2, "k", "l", "n")]
    [InlineData("crossing", 2, "q", "k", "h")]
    [InlineData("midpoint", 2, "q", "l")]
    [InlineData("midpoint", 2, "k", "l")]
    [InlineData("midpoint", 2, "q", "a", "f")]
    [InlineData("horizontal", 1, "l")]
    [InlineData("horizontal", 2, "l", "m")]
    [InlineData("horizontal", 1, "q", "k")]
    [InlineData("vertical", 1, "n")]
    [InlineData("vertical", 2, "a", "c", "q")]
    [InlineData("parallel", 2, "l", "m", "n")]
    [InlineData("perpendicular", 1, "l", "n")]
    [InlineData("collinear", 2, "l", "m")]
    [InlineData("collinear", 2, "l", "q", "e")]
    [InlineData("tangent", 1, "l", "k")]
    [InlineData("tangent", 1, "l", "r")]
    [InlineData("tangent", 1, "k", "h")]
    [InlineData("tangent", 1, "l", "x")]
    [InlineData("tangent", 1, "k", "x")]
    [InlineData("tangent", 1, "l", "s")]
    [InlineData("tangent", 1, "k", "s")]
    [InlineData("concentric", 2, "k", "r")]
    [InlineData("concentric", 2, "x", "h")]
    [InlineData("equal", 2, "l", "m", "n")]
    [InlineData("equal", 2, "k", "h", "r")]
    [InlineData("symmetric", 2, "a", "c", "y-axis")]
    [InlineData("symmetric", 4, "l", "m", "y-axis")]
    [InlineData("symmetric", 3, "k", "h", "n")]
    [InlineData("same", 3, "k", "h")]
    [InlineData("fixed", 4, "l")]
    [InlineData("fixed", 3, "k")]
    [InlineData("fixed", 5, "r")]
    [InlineData("fixed", 5, "x")]
    public void Each_holds_and_takes_its_freedoms(string kind, int takes, params string[] of)
    {
        var free = Freedoms.Of(Loose).Count;
        var tied = Edit(Loose, new SketchEdit { Tie = [K("t", kind, of)] });
        tied.Refusal?.Message.ShouldBeNull();
        Freedoms.Of(tied.Value).Count.ShouldBe(free - takes);
        Edit(tied.Value, new SketchEdit { Tie = [K("again", kind, of)] }).Refusal!.Code.ShouldBe("sketch.redundant");
        Solve(tied.Value)
            .Sketch.Entities.OfType<PointEntity>()
            .ShouldAllBe(p => p.At.DistanceTo(tied.Value.At(p.Id)) < 1e-6, "what holds does not creep");
    }

    [Fact]
    public void An_ellipse_touches_a_spline_below_it()
    {
        var sketch = Of([
            P("c", 1, 20),
            P("f", 16, 21),
            P("g", 0, 28),
            new EllipseEntity("x", "c", "f", "g"),
            P("s1", -30, -2),
            P("s2", 1, 9),
            P("s3", 28, -4),
            new SplineEntity("s", ["s1", "s2", "s3"], [1, 1]),
        ]);
        var tied = Edit(sketch, new SketchEdit { Tie = [K("t", "tangent", "x", "s")] });
        tied.Refusal?.Message.ShouldBeNull();
        Freedoms.Of(tied.Value).Count.ShouldBe(Freedoms.Of(sketch).Count - 1);
        var (ellipse, spline) = (Curves.Of(tied.Value, tied.Value.Find("x")!)!, Curves.Of(tied.Value, tied.Value.Find("s")!)!);
        Enumerable
            .Range(0, 2000)
            .Min(i => ellipse.At(ellipse.End * i / 2000) is var p ? spline.At(spline.Nearest(p)).DistanceTo(p) : 0)
            .ShouldBeLessThan(1e-4);
    }

    [Theory]
    [InlineData("coincident", "l", "m")]
    [InlineData("on-curve", "l", "m")]
    [InlineData("midpoint", "q", "k")]
    [InlineData("horizontal", "k")]
    [InlineData("parallel", "l", "k")]
    [InlineData("perpendicular", "l")]
    [InlineData("collinear", "l", "k")]
    [InlineData("tangent", "l", "m")]
    [InlineData("smooth", "l", "m")]
    [InlineData("smooth", "s", "l")]
    [InlineData("concentric", "a", "b")]
    [InlineData("equal", "l", "k")]
    [InlineData("symmetric", "a", "c")]
    [InlineData("same", "k", "l")]
    [InlineData("fixed", "origin")]
    [InlineData("crossing", "q", "l")]
    [InlineData("nonsense", "l")]
    [InlineData("horizontal", "nowhere")]
    [InlineData("equal", "l", "l")]
    public void What_does_not_fit_is_refused_with_the_reason(string kind, params string[] of)
    {
        var refused = Edit(Loose, new SketchEdit { Tie = [K("t", kind, of)] });
        refused.Refusal!.Message.Length.ShouldBeGreaterThan(15);
        refused.Refusal.Where.ShouldNotBeNull();
    }

    [Fact]
    public void A_spline_goes_over_smoothly_into_a_line_and_an_arc()
    {
        var sketch = Of([
            P("a", 0, 0),
            P("b", 10, 1),
            P("c", 22, 8),
            P("d", 30, 2),
            L("l", "a", "b"),
            new SplineEntity("s", ["b", "c", "d"], [1, 1]),
            P("m", 34, -8),
            P("e", 44, -9),
            new ArcEntity("r", "m", "e", "d", 10.5),
        ]);
        var tied = Edit(sketch, new SketchEdit { Tie = [K("1", "smooth", "s", "l")] });
        tied.Refusal?.Message.ShouldBeNull();
        var curve = Curves.Of(tied.Value, tied.Value.Find("s")!)!;
        curve.Curvature(0).ShouldBe(0, 1e-9, "a line has no curvature");
        curve.Slope(0).Unit.Cross((tied.Value.At("b") - tied.Value.At("a")).Unit).ShouldBe(0, 1e-9);
        var round = Edit(
            sketch with
            {
                Entities = sketch
                    .Entities.Replace(sketch.Find("s")!, (SplineEntity)sketch.Find("s")! with { ToHandle = "h" })
                    .Add(P("h", 27, 5)),
            },
            new SketchEdit { Tie = [K("2", "smooth", "s", "r")] }
        );
        round.Refusal?.Message.ShouldBeNull();
        var arc = (ArcEntity)round.Value.Find("r")!;
        var end = Curves.Of(round.Value, round.Value.Find("s")!)!;
        Math.Abs(end.Curvature(end.End)).ShouldBe(1 / arc.Radius, 1e-8);
    }

    [Theory]
    [InlineData("near-distance", "10 mm", "k", "h")]
    [InlineData("far-distance", "50 mm", "k", "h")]
    [InlineData("near-distance", "12 mm", "k", "l")]
    [InlineData("far-distance", "40 mm", "k", "n")]
    [InlineData("near-distance", "8 mm", "k", "q")]
    [InlineData("across-axis", "44 mm", "y-axis", "k")]
    [InlineData("across-axis", "30 mm", "x-axis", "q")]
    [InlineData("angle", "35 deg", "l", "n")]
    [InlineData("other-angle", "150 deg", "l", "n")]
    [InlineData("radius", "7 mm", "r")]
    [InlineData("diameter", "25 mm", "h")]
    [InlineData("sweep", "200 deg", "r")]
    [InlineData("arc-length", "40 mm", "r")]
    [InlineData("first-semi-axis", "30 mm", "x")]
    [InlineData("second-semi-axis", "5 mm", "x")]
    [InlineData("distance", "13 mm", "q", "m")]
    [InlineData("distance", "30 mm", "k", "h")]
    [InlineData("horizontal-distance", "30 mm", "a", "e")]
    [InlineData("vertical-distance", "3 mm", "n")]
    public void Each_dimension_drives_to_its_value_and_takes_one_freedom(string kind, string value, params string[] of)
    {
        var free = Freedoms.Of(Loose).Count;
        var sized = Edit(Loose, new SketchEdit { Size = [D("t", kind, value, of)] });
        sized.Refusal?.Message.ShouldBeNull();
        Freedoms.Of(sized.Value).Count.ShouldBe(free - 1);
        var expected = double.Parse(value.Split(' ')[0]) * (value.EndsWith("deg", StringComparison.Ordinal) ? Math.PI / 180 : 1);
        DimensionCatalog.Measure(sized.Value, sized.Value.Dimensions[0])!.Value.ShouldBe(expected, 1e-8);
    }

    [Theory]
    [InlineData("distance", "0", "l")]
    [InlineData("distance", "-4 mm", "l")]
    [InlineData("distance", "1e9 mm", "l")]
    [InlineData("radius", "0 mm", "k")]
    [InlineData("angle", "180 deg", "l", "n")]
    [InlineData("sweep", "360 deg", "r")]
    [InlineData("distance", "5 mm", "s")]
    [InlineData("distance", "5 mm", "l", "n")]
    [InlineData("radius", "5 mm", "l")]
    [InlineData("diameter", "5 deg", "k")]
    [InlineData("distance", "nothing", "l")]
    [InlineData("across-axis", "5 mm", "l", "q")]
    [InlineData("near-distance", "5 mm", "l", "n")]
    public void Sizes_that_make_no_sense_are_refused_and_nothing_changes(string kind, string value, params string[] of)
    {
        var refused = Edit(Loose, new SketchEdit { Size = [D("t", kind, value, of)] });
        refused.Done.ShouldBeFalse();
        refused.Refusal!.Message.Length.ShouldBeGreaterThan(15);
    }

    [Fact]
    public void A_sketch_of_20_000_entities_is_taken_and_one_more_is_refused()
    {
        var full = new SketchEdit { Add = [.. Enumerable.Range(0, SketchEditor.MostEntities).Select(i => P($"p{i}", i % 200, i / 200))] };
        var made = Edit(Sketch.Empty, full);
        made.Done.ShouldBeTrue();
        Edit(made.Value, new SketchEdit { Add = [P("more", 1, 1)] }).Refusal!.Code.ShouldBe("sketch.too-large");
        Edit(made.Value, new SketchEdit { Tie = [K("t", "horizontal", "p3", "p777")] }).Done.ShouldBeTrue();
    }

    [Fact]
    public void Splines_through_one_place_twice_are_refused()
    {
        var refused = Edit(Loose, new SketchEdit { Add = [P("z", 1, 2), new SplineEntity("bad", ["a", "z", "b"], [1, 1])] });
        refused.Refusal!.Message.ShouldContain("twice in a row");
    }
}
