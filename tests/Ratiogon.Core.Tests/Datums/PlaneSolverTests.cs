using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Datums;

public sealed class PlaneSolverTests
{
    public static TheoryData<int, double> Places()
    {
        var data = new TheoryData<int, double>();
        foreach (var scale in Scene.Scales)
        {
            for (var seed = 1; seed <= 6; seed++)
            {
                data.Add(seed, scale);
            }
        }

        return data;
    }

    private static Condition Say(string relation, Thing thing, params double[] values) =>
        Scene.Say(DatumKind.Plane, relation, thing, values);

    private static Condition Say(string relation, Thing a, Thing b) => Scene.Say(DatumKind.Plane, relation, [a, b]);

    private static List<Plane3> Solve(params Condition[] conditions)
    {
        var answer = DatumSolver.Solve(DatumKind.Plane, conditions);
        answer.Refusal.ShouldBeNull();
        answer.Free.ShouldBe(0, string.Join("; ", answer.Left));
        foreach (var s in answer.Solutions)
        {
            (s.Frame.X.Length - 1).ShouldBe(0, 1e-12);
            s.Frame.X.Dot(s.Frame.Y).ShouldBe(0, 1e-12);
        }

        answer.Solutions.Select(s => s.Label).ShouldBeUnique();
        return [.. answer.Solutions.Select(s => Plane3.Of(s.Frame))];
    }

    [Theory, MemberData(nameof(Places))]
    public void Three_points_give_one_plane_through_them(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (a, b, c) = (s.Point(0, 0, 0), s.Point(2, 0.3, -1), s.Point(0.4, 3, 1));
        var plane = Solve(Say("through", a), Say("through", b), Say("through", c)).ShouldHaveSingleItem();
        foreach (var p in new[] { a, b, c })
        {
            plane.Side(p.Point!.Value).ShouldBe(0, s.Tolerance);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Through_a_line_at_an_angle_to_a_plane_gives_both_sides(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (edge, floor) = (s.Line(1, 2, 0, 1, 0, 0), s.Plane(0, 0, 0, 0, 0, 1));
        var planes = Solve(Say("through-line", edge), Say("angle", floor, 0.6));
        planes.Count.ShouldBe(2);
        foreach (var plane in planes)
        {
            Math.Abs(plane.Normal.Dot(floor.Plane!.Value.Z)).ShouldBe(Math.Cos(0.6), 1e-9);
            plane.Normal.Dot(edge.Line!.Value.Direction).ShouldBe(0, 1e-9);
            plane.Side(edge.Line.Value.At(5 * scale)).ShouldBe(0, s.Tolerance);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Tangent_to_a_cylinder_at_45_degrees_to_a_plane_gives_four(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (shaft, side) = (s.Cylinder(1, 0, 2, 0, 0, 1, 3), s.Plane(0, 0, 0, 1, 0, 0));
        var planes = Solve(Say("tangent", shaft), Say("angle", side, Math.PI / 4));
        planes.Count.ShouldBe(4);
        foreach (var plane in planes)
        {
            Math.Abs(plane.Side(s.P(1, 0, 2))).ShouldBe(3 * scale, s.Tolerance);
            plane.Normal.Dot(s.D(0, 0, 1)).ShouldBe(0, 1e-9);
            Math.Abs(plane.Normal.Dot(s.D(1, 0, 0))).ShouldBe(Math.Sqrt(0.5), 1e-9);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Tangent_to_three_spheres_apart_gives_eight(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        (Thing T, double R)[] balls = [(s.Sphere(0, 0, 0, 1), 1), (s.Sphere(9, 1, 0, 2), 2), (s.Sphere(2, 10, 3, 1.5), 1.5)];
        var planes = Solve([.. balls.Select(b => Say("tangent", b.T))]);
        planes.Count.ShouldBe(8);
        foreach (var (plane, ball) in from p in planes from b in balls select (p, b))
        {
            Math.Abs(plane.Side(ball.T.Centre!.Value)).ShouldBe(ball.R * scale, s.Tolerance);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Tangent_to_two_parallel_cylinders_gives_two_outer_and_two_inner(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (a, b) = (s.Cylinder(0, 0, 0, 0, 0, 1, 1), s.Cylinder(8, 1, 3, 0, 0, 1, 2));

        // The second axis says nothing new of the direction, so nothing is left free.
        var planes = Solve(Say("tangent", a), Say("tangent", b));
        planes.Count.ShouldBe(4);
        foreach (var plane in planes)
        {
            Math.Abs(plane.Side(a.Axis!.Value.Origin)).ShouldBe(scale, s.Tolerance);
            Math.Abs(plane.Side(b.Axis!.Value.Origin)).ShouldBe(2 * scale, s.Tolerance);
        }

        planes.Count(p => p.Side(a.Axis!.Value.Origin) * p.Side(b.Axis!.Value.Origin) > 0).ShouldBe(2);
    }

    [Theory, MemberData(nameof(Places))]
    public void Two_cylinders_askew_share_no_tangent_plane_unless_they_stand_just_so(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        DatumSolver
            .Solve(DatumKind.Plane, [Say("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 1)), Say("tangent", s.Cylinder(9, 0, 0, 0, 1, 0, 1))])
            .Solutions.ShouldBeEmpty();

        // Axes 2 r apart along their common perpendicular: one plane between them touches both.
        var planes = Solve(Say("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 1)), Say("tangent", s.Cylinder(2, 0, 0, 0, 1, 0, 1)));
        planes.ShouldHaveSingleItem().Side(s.P(1, 5, 7)).ShouldBe(0, s.Tolerance);
    }

    [Theory, MemberData(nameof(Places))]
    public void Tangent_to_a_sphere_through_a_line_gives_two(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (ball, line) = (s.Sphere(0, 0, 0, 2), s.Line(5, 0, 0, 0, 1, 0.4));
        var planes = Solve(Say("tangent", ball), Say("through-line", line));
        planes.Count.ShouldBe(2);
        planes.ShouldAllBe(p =>
            Math.Abs(Math.Abs(p.Side(ball.Centre!.Value)) - (2 * scale)) < s.Tolerance
            && Math.Abs(p.Side(line.Line!.Value.At(3 * scale))) < s.Tolerance
        );
    }

    [Theory, MemberData(nameof(Places))]
    public void Tangent_to_a_cone_square_to_a_plane_along_its_axis_gives_two(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var cone = s.Cone(0, 0, 0, 0, 0, 1, 0.5);
        var planes = Solve(Say("tangent", cone), Say("square", s.Plane(0, 0, 0, 1, 0, 0)));
        planes.Count.ShouldBe(2);
        foreach (var plane in planes)
        {
            plane.Side(s.P(0, 0, 0)).ShouldBe(0, s.Tolerance);

            // It touches along one side line: the steepest line of the cone in the plane.
            Math.Abs(plane.Side(s.P(0, Math.Tan(0.5), 1))).ShouldBe(0, 10 * scale);
            new[] { s.P(0, Math.Tan(0.5), 1), s.P(0, -Math.Tan(0.5), 1) }.Min(p => Math.Abs(plane.Side(p))).ShouldBe(0, s.Tolerance);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Tangent_to_a_torus_through_two_points_touches_it(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var torus = s.Torus(0, 0, 0, 0, 0, 1, 5, 1);
        var planes = Solve(Say("tangent", torus), Say("through", s.Point(20, 0, 0)), Say("through", s.Point(19, 3, 0.5)));
        planes.Count.ShouldBeGreaterThanOrEqualTo(2);
        foreach (var plane in planes)
        {
            // Seen edge-on the torus is two discs: the plane keeps the tube's radius from one of the circle's two extreme points.
            var (h, sine) = (plane.Side(s.P(0, 0, 0)), plane.Normal.Cross(s.D(0, 0, 1)).Length);
            new[] { h + (5 * scale * sine), h - (5 * scale * sine) }.Min(d => Math.Abs(Math.Abs(d) - scale)).ShouldBe(0, s.Tolerance);
            plane.Side(s.P(20, 0, 0)).ShouldBe(0, s.Tolerance);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Parallel_and_tangent_gives_one_on_either_side(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var planes = Solve(Say("parallel", s.Plane(0, 0, 7, 0, 0, 1)), Say("tangent", s.Torus(0, 0, 1, 0, 0, 1, 5, 2)));
        planes.Count.ShouldBe(2);
        planes.Select(p => Math.Abs(p.Side(s.P(0, 0, 1)))).ShouldAllBe(d => Math.Abs(d - (2 * scale)) < s.Tolerance);
    }

    [Theory, MemberData(nameof(Places))]
    public void Midway_gives_the_middle_of_parallel_planes_and_both_bisectors_of_others(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var middle = Solve(Say("midway", s.Plane(0, 0, 1, 0, 0, 1), s.Plane(4, 4, 6, 0, 0, -1))).ShouldHaveSingleItem();
        middle.Side(s.P(0, 0, 3.5)).ShouldBe(0, s.Tolerance);
        var both = Solve(Say("midway", s.Plane(0, 0, 0, 0, 0, 1), s.Plane(0, 0, 0, 1, 0, 0)));
        both.Count.ShouldBe(2);
        both[0].Normal.Dot(both[1].Normal).ShouldBe(0, 1e-9);
        both.ShouldAllBe(p => Math.Abs(Math.Abs(p.Normal.Dot(s.D(0, 0, 1))) - Math.Sqrt(0.5)) < 1e-9);
    }

    [Theory, MemberData(nameof(Places))]
    public void Normal_to_a_curve_stands_on_the_point_it_was_given(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var spline = s.Spline((0, 0, 0), (3, 1, 0), (5, 4, 2), (6, 8, 3));
        var end = Solve(Say("normal-at-fraction", spline, 1)).ShouldHaveSingleItem();
        end.Side(s.P(6, 8, 3)).ShouldBe(0, s.Tolerance);
        var (at, tangent) = spline.Path!.AtLength(spline.Path.Length);
        end.Normal.Dot(tangent).ShouldBe(1, 1e-9);
        var there = Solve(Say("normal-at", spline, Thing.OfPoint("q", "point", at))).ShouldHaveSingleItem();
        there.Side(at).ShouldBe(0, s.Tolerance);
        DatumSolver.Solve(DatumKind.Plane, [Say("normal-at", spline, s.Point(9, 9, 9))]).Refusal!.Code.ShouldBe("datum.off-curve");
    }

    [Theory, MemberData(nameof(Places))]
    public void Parallel_at_a_distance_keeps_its_side(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var from = s.Plane(1, 2, 3, 0.3, 1, 2);
        foreach (var d in new[] { 4.0, -4.0, 0 })
        {
            var plane = Solve(Say("offset", from, d * scale)).ShouldHaveSingleItem();
            plane.Side(from.Plane!.Value.Origin).ShouldBe(-d * scale, s.Tolerance);
            plane.Normal.Dot(from.Plane.Value.Z).ShouldBe(1, 1e-9);
        }
    }

    [Fact]
    public void Freedoms_left_are_counted_and_named()
    {
        var s = new Scene(1, 1);
        var one = DatumSolver.Solve(DatumKind.Plane, [Say("through", s.Point(0, 0, 0))]);
        one.Free.ShouldBe(2);
        var two = DatumSolver.Solve(DatumKind.Plane, [Say("through", s.Point(0, 0, 0)), Say("through", s.Point(1, 0, 0))]);
        two.Free.ShouldBe(1);
        two.Left.ShouldHaveSingleItem().ShouldContain("turn about one line");
        var level = DatumSolver.Solve(DatumKind.Plane, [Say("parallel", s.Plane(0, 0, 0, 0, 0, 1))]);
        level.Free.ShouldBe(1);
        level.Left.ShouldHaveSingleItem().ShouldContain("slide");
        DatumSolver.Solve(DatumKind.Plane, [Say("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 1))]).Free.ShouldBe(1);
        DatumSolver.Solve(DatumKind.Plane, [Say("tangent", s.Torus(0, 0, 0, 0, 0, 1, 4, 1))]).Free.ShouldBe(2);
        DatumSolver.Solve(DatumKind.Plane, [Say("angle", s.Plane(0, 0, 0, 0, 0, 1), 0.5)]).Free.ShouldBe(2);
        DatumSolver.Solve(DatumKind.Plane, []).Free.ShouldBe(3);
    }

    [Fact]
    public void What_contradicts_by_an_angle_is_told_in_degrees_and_what_lies_inside_with_the_gap()
    {
        var s = new Scene(3, 10);
        string Why(DatumKind kind, params Condition[] c) => DatumSolver.Solve(kind, c).Refusal!.Message;
        Condition Of(string relation, Thing thing, params double[] values) => Scene.Say(DatumKind.Plane, relation, thing, values);
        var (floor, wall) = (s.Plane(0, 0, 0, 0, 0, 1), s.Plane(0, 0, 0, 0, Math.Sin(Math.PI / 3), Math.Cos(Math.PI / 3)));
        Why(DatumKind.Plane, Of("parallel", floor), Of("parallel", wall), Of("through", s.Point(1, 2, 3))).ShouldContain("60 deg");
        Why(DatumKind.Plane, Of("parallel", floor), Of("angle", s.Plane(0, 0, 0, 0, 1, 0), Math.PI / 6)).ShouldContain("60 deg");
        Why(DatumKind.Plane, Of("parallel", floor), Of("through-line", s.Line(0, 0, 0, 1, 0, Math.Tan(0.1))))
            .ShouldContain($"{0.1 * 180 / Math.PI:0.####} deg");
        Why(DatumKind.Plane, Of("tangent", s.Sphere(0, 0, 0, 5)), Of("tangent", s.Sphere(1, 0, 0, 1)), Of("through", s.Point(9, 9, 9)))
            .ShouldContain("30 mm from touching");
        Why(DatumKind.Plane, Of("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 5)), Of("tangent", s.Cylinder(1, 0, 3, 0, 0, 1, 1)))
            .ShouldContain("30 mm from touching");
        Why(DatumKind.Plane, Of("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 5)), Of("tangent", s.Sphere(2, 0, 3, 1)))
            .ShouldContain("20 mm from touching");
        Why(
                DatumKind.Plane,
                Of("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 5)),
                Of("tangent", s.Cylinder(9, 0, 0, 0, Math.Sin(0.5), Math.Cos(0.5), 1))
            )
            .ShouldContain($"{0.5 * 180 / Math.PI:0.####} deg");
    }

    [Fact]
    public void Points_a_rounding_apart_make_no_axis_and_no_plane()
    {
        foreach (var apart in new[] { 1e-8, 9e-8 })
        {
            Thing At(double x) => Thing.OfPoint("p", "point", new Vec3(x, 2, 3));
            DatumSolver
                .Solve(DatumKind.Axis, [Scene.Say(DatumKind.Axis, "through", At(1)), Scene.Say(DatumKind.Axis, "through", At(1 + apart))])
                .Refusal!.Code.ShouldBe("datum.same-point");
            DatumSolver
                .Solve(
                    DatumKind.Plane,
                    [Say("through", At(1)), Say("through", At(1 + apart)), Say("through", Thing.OfPoint("q", "point", Vec3.Zero))]
                )
                .Refusal!.Code.ShouldBe("datum.same-point");
        }

        // A thousandth is a distance, however far from the origin.
        DatumSolver
            .Solve(
                DatumKind.Axis,
                [
                    Scene.Say(DatumKind.Axis, "through", Thing.OfPoint("p", "point", new Vec3(5000, 0, 0))),
                    Scene.Say(DatumKind.Axis, "through", Thing.OfPoint("q", "point", new Vec3(5000.001, 0, 0))),
                ]
            )
            .Refusal.ShouldBeNull();
    }

    [Fact]
    public void Refusals_carry_their_numbers()
    {
        var s = new Scene(3, 1);
        string Why(params Condition[] c) => DatumSolver.Solve(DatumKind.Plane, c).Refusal!.Message;
        Why(Say("through-line", s.Line(0, 0, 0, 1, 0, 0)), Say("through-line", s.Line(0, 2, 3.2, 0, 1, 0))).ShouldContain("3.2 mm apart");
        Why(Say("tangent", s.Cylinder(0, 0, 0, 0, 0, 1, 5)), Say("through", s.Point(2, 0, 0))).ShouldContain("3 mm inside");
        Why(Say("tangent-at", s.Sphere(0, 0, 0, 5), s.Point(7, 0, 0))).ShouldContain("2 mm off");
        Why(Say("halfway", s.Point(1, 1, 1), s.Point(1, 1, 1))).ShouldContain("same place");
        DatumSolver
            .Solve(DatumKind.Plane, [Say("through", s.Point(0, 0, 0)), Say("through", s.Point(1, 0, 0)), Say("through", s.Point(5, 0, 0))])
            .Free.ShouldBe(1);
    }

    [Fact]
    public void The_label_keeps_to_its_side_while_sizes_sweep()
    {
        // A plane tangent to two spheres and through a point, while a radius and the point move: every label's normal moves
        // continuously, and never jumps to another solution.
        Dictionary<string, Vec3> before = [];
        for (var i = 0; i <= 400; i++)
        {
            var s = new Scene(5, 1);
            var t = i / 400.0;
            var answer = DatumSolver.Solve(
                DatumKind.Plane,
                [
                    Say("tangent", s.Sphere(0, 0, 0, 1 + t)),
                    Say("tangent", s.Sphere(9, 0, 0, 2 - t)),
                    Say("through", s.Point(4, 8 - (2 * t), 1)),
                ]
            );
            answer.Solutions.Length.ShouldBe(4);
            foreach (var solution in answer.Solutions)
            {
                if (before.TryGetValue(solution.Label, out var normal))
                {
                    normal.AngleTo(solution.Frame.Z).ShouldBeLessThan(0.02, $"{solution.Label} at {t}");
                }

                before[solution.Label] = solution.Frame.Z;
            }
        }
    }

    [Fact]
    public void An_angle_swept_through_90_degrees_goes_on_turning_the_same_way()
    {
        var s = new Scene(8, 1);
        Vec3? before = null;
        for (var degrees = 60; degrees <= 120; degrees++)
        {
            var answer = DatumSolver.Solve(
                DatumKind.Plane,
                [Say("through-line", s.Line(0, 0, 0, 1, 0, 0)), Say("angle", s.Plane(0, 0, 0, 0, 0, 1), degrees * Math.PI / 180)]
            );
            var normal = DatumSolver.Choose(answer, "+ a").Value.Frame.Z;
            before?.AngleTo(normal).ShouldBe(Math.PI / 180, 1e-6);
            before = normal;
        }
    }

    [Fact]
    public void Nearly_parallel_things_still_solve_and_keep_their_conditions()
    {
        var s = new Scene(4, 1);
        foreach (var tilt in new[] { 1e-2, 1e-3, 1e-4 })
        {
            var planes = Solve(Say("through-line", s.Line(0, 0, 0, 1, 0, 0)), Say("through", s.Point(5, tilt, 0)));
            planes.ShouldHaveSingleItem().Side(s.P(5, tilt, 0)).ShouldBe(0, 1e-9);
        }
    }
}
