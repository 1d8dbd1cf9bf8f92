using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Tests.Geometry;

public class PlaneCurveTests
{
    private static readonly EllipseCurve Ellipse = new(new Vec2(3, -2), new Vec2(8, 6), new Vec2(-3, 4), 0, 2 * Math.PI);
    private static readonly SplineCurve Spline = new(
        [new Vec2(0, 0), new Vec2(10, 6), new Vec2(21, 3), new Vec2(30, 12)],
        [1, 1.2, 0.8],
        null,
        null
    );

    public static TheoryData<string> Names => ["ellipse", "spline", "handles"];

    private static PlaneCurve Of(string name) =>
        name switch
        {
            "ellipse" => Ellipse,
            "spline" => Spline,
            _ => new SplineCurve([new Vec2(0, 0), new Vec2(10, 6), new Vec2(21, 3)], [1, 1], new Vec2(1, 4), new Vec2(20, 9)),
        };

    [Theory]
    [MemberData(nameof(Names))]
    public void Derivatives_agree_with_differences(string name)
    {
        var curve = Of(name);
        const double H = 1e-5;
        for (var i = 1; i < 40; i++)
        {
            var t = curve.End * i / 40.3;
            ((curve.At(t + H) - curve.At(t - H)) / (2 * H)).DistanceTo(curve.Slope(t)).ShouldBeLessThan(1e-6);
            ((curve.Slope(t + H) - curve.Slope(t - H)) / (2 * H)).DistanceTo(curve.Bend(t)).ShouldBeLessThan(1e-5);
        }
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void The_nearest_place_of_a_place_on_the_curve_is_itself(string name)
    {
        var curve = Of(name);
        for (var i = 0; i < 50; i++)
        {
            var p = curve.At(curve.End * i / 51.0);
            curve.At(curve.Nearest(p)).DistanceTo(p).ShouldBeLessThan(1e-12);
        }
    }

    [Fact]
    public void The_nearest_place_of_a_circle_drawn_as_an_ellipse_lies_on_the_ray()
    {
        var round = new EllipseCurve(new Vec2(1, 1), new Vec2(5, 0), new Vec2(0, 5), 0, 2 * Math.PI);
        for (var i = 0; i < 30; i++)
        {
            var heading = 0.21 * i;
            round
                .At(round.Nearest(new Vec2(1, 1) + Vec2.Polar(heading, 9)))
                .DistanceTo(new Vec2(1, 1) + Vec2.Polar(heading, 5))
                .ShouldBeLessThan(1e-9);
        }
    }

    [Fact]
    public void A_spline_goes_through_its_points_with_continuous_curvature_and_straight_ends()
    {
        for (var i = 0; i < Spline.Through.Count; i++)
        {
            Spline.At(Spline.Knots[i]).DistanceTo(Spline.Through[i]).ShouldBeLessThan(1e-12);
        }

        foreach (var knot in Spline.Knots.Skip(1).SkipLast(1))
        {
            Spline.Bend(knot - 1e-9).DistanceTo(Spline.Bend(knot + 1e-9)).ShouldBeLessThan(1e-6);
        }

        Spline.Curvature(0).ShouldBe(0, 1e-12);
        Spline.Curvature(Spline.End).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Handles_are_the_inner_control_points_of_the_ends()
    {
        var curve = (SplineCurve)Of("handles");
        curve.Slope(0).DistanceTo(new Vec2(1, 4) * 3).ShouldBeLessThan(1e-12);
        curve.Slope(curve.End).DistanceTo((new Vec2(21, 3) - new Vec2(20, 9)) * 3).ShouldBeLessThan(1e-12);
    }

    [Fact]
    public void Bezier_pieces_retrace_a_stretch_of_the_curve()
    {
        var poles = Spline.Beziers(0.4, 2.7);
        poles.Count.ShouldBe(10);
        for (var piece = 0; piece < 3; piece++)
        {
            for (var i = 0; i <= 10; i++)
            {
                var (s, r) = (i / 10.0, 1 - (i / 10.0));
                var p =
                    (poles[3 * piece] * (r * r * r))
                    + (poles[(3 * piece) + 1] * (3 * r * r * s))
                    + (poles[(3 * piece) + 2] * (3 * r * s * s))
                    + (poles[(3 * piece) + 3] * (s * s * s));
                Spline.At(Spline.Nearest(p)).DistanceTo(p).ShouldBeLessThan(1e-9);
            }
        }
    }

    [Fact]
    public void Lengths_and_areas_are_those_of_closed_forms()
    {
        new EllipseCurve(Vec2.Zero, new Vec2(7, 0), new Vec2(0, 7), 0.3, 1.9).Length(0, 1.9).ShouldBe(7 * 1.9, 1e-10);
        (Ellipse.Integral(0, 2 * Math.PI, t => Ellipse.At(t).Cross(Ellipse.Slope(t))) / 2).ShouldBe(Math.PI * 10 * 5, 1e-9);
        Spline.Integral(2, 0.5, t => t).ShouldBe(-(4 - 0.25) / 2, 1e-12);
    }

    [Theory]
    [InlineData(0, 0, 10, 0, 5, 5, 5, 0)]
    [InlineData(-3, 4, 5, 0, 0, -5, 0, 0)]
    public void A_circle_goes_through_three_points(
        double ax,
        double ay,
        double bx,
        double by,
        double cx,
        double cy,
        double mx,
        double my
    ) => Rounds.Through(new Vec2(ax, ay), new Vec2(bx, by), new Vec2(cx, cy))!.Value.DistanceTo(new Vec2(mx, my)).ShouldBeLessThan(1e-9);

    [Fact]
    public void Round_ways_that_are_straight_or_too_far_have_no_centre()
    {
        Rounds.Through(new Vec2(0, 0), new Vec2(1, 1), new Vec2(5, 5)).ShouldBeNull();
        Rounds.Leaving(new Vec2(0, 0), new Vec2(1, 0), new Vec2(9, 0)).ShouldBeNull();
        Rounds.Leaving(new Vec2(0, 0), new Vec2(1, 0), new Vec2(4, 4))!.Value.DistanceTo(new Vec2(0, 4)).ShouldBeLessThan(1e-12);
        Rounds.OfRadius(new Vec2(0, 0), new Vec2(10, 0), 4).ShouldBeNull();
        Rounds.OfRadius(new Vec2(0, 0), new Vec2(6, 0), 5)!.Value.DistanceTo(new Vec2(3, 4)).ShouldBeLessThan(1e-12);
        Rounds.OfRadius(new Vec2(0, 0), new Vec2(6, 0), -5)!.Value.DistanceTo(new Vec2(3, -4)).ShouldBeLessThan(1e-12);
    }

    [Fact]
    public void Circles_of_a_size_that_touch_two_circles_are_all_found()
    {
        var (a, b) = (Touched.Circle(new Vec2(0, 0), 5), Touched.Circle(new Vec2(12, 0), 4));
        Touching.Two(a, b, 3).Count.ShouldBe(2, "outside both, on either side; from within one it does not reach the other");
        foreach (var c in Touching.Two(a, b, 3))
        {
            c.Length.ShouldBe(8, 1e-9);
            c.DistanceTo(new Vec2(12, 0)).ShouldBe(7, 1e-9);
        }

        Touching.Two(Touched.Line(new Vec2(0, 0), new Vec2(1, 0)), Touched.Line(new Vec2(0, 9), new Vec2(1, 9)), 3).ShouldBeEmpty();
    }
}
