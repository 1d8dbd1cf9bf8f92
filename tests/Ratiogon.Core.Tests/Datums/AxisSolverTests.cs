using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Datums;

public sealed class AxisSolverTests
{
    public static TheoryData<int, double> Places() => PlaneSolverTests.Places();

    private static Condition Say(string relation, Thing thing, params double[] values) =>
        Scene.Say(DatumKind.Axis, relation, thing, values);

    private static Condition Say(string relation, Thing a, Thing b) => Scene.Say(DatumKind.Axis, relation, [a, b]);

    private static List<Line3> Solve(params Condition[] conditions)
    {
        var answer = DatumSolver.Solve(DatumKind.Axis, conditions);
        answer.Refusal.ShouldBeNull();
        answer.Free.ShouldBe(0, string.Join("; ", answer.Left));
        return [.. answer.Solutions.Select(s => new Line3(s.Frame.Origin, s.Frame.X))];
    }

    [Theory, MemberData(nameof(Places))]
    public void Where_two_planes_meet_though_the_faces_do_not(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var axis = Solve(Say("meeting", s.Plane(0, 0, 2, 0, 0, 1), s.Plane(40, 0, 0, 1, 0.2, 0))).ShouldHaveSingleItem();
        Math.Abs(axis.Direction.Dot(s.D(0.2, -1, 0))).ShouldBe(1, 1e-9);
        axis.DistanceTo(s.P(40, 0, 2)).ShouldBe(0, s.Tolerance * 10);
        DatumSolver
            .Solve(DatumKind.Axis, [Say("meeting", s.Plane(0, 0, 0, 0, 0, 1), s.Plane(0, 0, 12, 0, 0, -1))])
            .Refusal!.Message.ShouldContain("parallel to within");
    }

    [Theory, MemberData(nameof(Places))]
    public void Through_two_points_runs_from_the_first_to_the_second(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var axis = Solve(Say("through", s.Point(1, 0, 0)), Say("through", s.Point(1, 5, 5))).ShouldHaveSingleItem();
        axis.Direction.Dot(s.D(0, 1, 1)).ShouldBe(1, 1e-9);
        axis.DistanceTo(s.P(1, 0, 0)).ShouldBe(0, s.Tolerance);
    }

    [Theory, MemberData(nameof(Places))]
    public void Through_a_point_parallel_square_or_level(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        Solve(Say("through", s.Point(3, 4, 5)), Say("parallel", s.Line(0, 0, 0, 1, 2, 2)))[0].Direction.Dot(s.D(1, 2, 2)).ShouldBe(1, 1e-9);
        Solve(Say("through", s.Point(3, 4, 5)), Say("square", s.Plane(0, 0, 0, 1, -1, 0)))[0]
            .Direction.Dot(s.D(1, -1, 0))
            .ShouldBe(1, 1e-9);
        var level = Solve(
                Say("through", s.Point(3, 4, 5)),
                Say("level", s.Plane(0, 0, 0, 0, 0, 1)),
                Say("across", s.Line(9, 9, 9, 1, 0, 0))
            )
            .ShouldHaveSingleItem();
        Math.Abs(level.Direction.Dot(s.D(0, 1, 0))).ShouldBe(1, 1e-9);
        level.DistanceTo(s.P(3, 4, 5)).ShouldBe(0, s.Tolerance * 10);
    }

    [Theory, MemberData(nameof(Places))]
    public void Four_lines_askew_have_two_transversals(int seed, double scale)
    {
        var s = new Scene(seed, scale);

        // Three lines of one regulus of x y = z, and a line that cuts that saddle in two places.
        Thing[] lines = [s.Line(0, 0, 0, 0, 1, 0), s.Line(1, 0, 0, 0, 1, 1), s.Line(2, 0, 0, 0, 1, 2), s.Line(0, 0, 0.5, 1, 1, 0)];
        var found = Solve([.. lines.Select(l => Say("meets", l))]);
        found.Count.ShouldBe(2);
        foreach (var (axis, line) in from a in found from l in lines select (a, l.Line!.Value))
        {
            var (here, there) = axis.Nearest(line);
            here.DistanceTo(there).ShouldBe(0, s.Tolerance * 30);
        }

        // On the saddle's other regulus y is constant: the fourth line meets it at x = y, x x = 0.5.
        found.Select(a => a.DistanceTo(s.P(0, Math.Sqrt(0.5), 0))).Min().ShouldBe(0, s.Tolerance * 100);
        found.Select(a => a.DistanceTo(s.P(0, -Math.Sqrt(0.5), 0))).Min().ShouldBe(0, s.Tolerance * 100);
    }

    [Theory, MemberData(nameof(Places))]
    public void Through_a_point_crossing_two_lines_is_their_one_transversal(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var axis = Solve(Say("through", s.Point(0, 0, 4)), Say("meets", s.Line(0, 0, 0, 1, 0, 0)), Say("meets", s.Line(0, 3, 1, 0, 1, 0.5)))
            .ShouldHaveSingleItem();
        axis.DistanceTo(s.P(0, 0, 4)).ShouldBe(0, s.Tolerance * 10);
        axis.Nearest(s.Line(0, 3, 1, 0, 1, 0.5).Line!.Value)
            .ShouldSatisfyAllConditions(n => n.Here.DistanceTo(n.There).ShouldBe(0, s.Tolerance * 10));
    }

    [Theory, MemberData(nameof(Places))]
    public void Shortest_way_between_skew_lines_is_square_to_both(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (a, b) = (s.Line(0, 0, 0, 1, 0, 0), s.Line(4, 5, 3, 0, 1, 0));
        var axis = Solve(Say("shortest", a, b)).ShouldHaveSingleItem();
        axis.Direction.Dot(s.D(0, 0, 1)).ShouldBe(1, 1e-9);
        axis.DistanceTo(s.P(4, 0, 0)).ShouldBe(0, s.Tolerance);
        var by = Solve(Say("meets", a), Say("meets", b), Say("across", a), Say("across", b)).ShouldHaveSingleItem();
        by.DistanceTo(s.P(4, 0, 0)).ShouldBe(0, s.Tolerance * 10);
        DatumSolver
            .Solve(DatumKind.Axis, [Say("shortest", a, s.Line(0, 7, 0, 1, 0, 0))])
            .Refusal!.Message.ShouldContain("parallel to within");
    }

    [Theory, MemberData(nameof(Places))]
    public void At_angles_to_two_planes_through_a_point_gives_every_way(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var found = Solve(
            Say("through", s.Point(1, 2, 3)),
            Say("angle-plane", s.Plane(0, 0, 0, 0, 0, 1), 0.5),
            Say("angle-plane", s.Plane(0, 0, 0, 1, 0, 0), 0.4)
        );
        found.Count.ShouldBe(4);
        foreach (var axis in found)
        {
            Math.Abs(axis.Direction.Dot(s.D(0, 0, 1))).ShouldBe(Math.Sin(0.5), 1e-9);
            Math.Abs(axis.Direction.Dot(s.D(1, 0, 0))).ShouldBe(Math.Sin(0.4), 1e-9);
            axis.DistanceTo(s.P(1, 2, 3)).ShouldBe(0, s.Tolerance * 10);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Whole_axes_come_from_what_has_one(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        foreach (
            var thing in new[]
            {
                s.Cylinder(1, 1, 1, 0, 0, 1, 2),
                s.Cone(1, 1, 1, 0, 0, 1, 0.3),
                s.Torus(1, 1, 1, 0, 0, 1, 3, 1),
                s.Circle(1, 1, 1, 0, 0, 1, 4),
            }
        )
        {
            var axis = Solve(Say("axis-of", thing)).ShouldHaveSingleItem();
            Math.Abs(axis.Direction.Dot(s.D(0, 0, 1))).ShouldBe(1, 1e-9);
            axis.DistanceTo(s.P(1, 1, 9)).ShouldBe(0, s.Tolerance * 10);
        }
    }

    [Theory, MemberData(nameof(Places))]
    public void Square_to_a_face_at_a_point_and_tangent_to_a_curve(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var axis = Solve(Say("normal-at", s.Sphere(0, 0, 0, 2), s.Point(0, 3, 4))).ShouldHaveSingleItem();
        axis.Direction.Dot(s.D(0, 3, 4)).ShouldBe(1, 1e-9);
        var tangent = Solve(Say("tangent-at-fraction", s.Circle(0, 0, 0, 0, 0, 1, 2), 0.3)).ShouldHaveSingleItem();
        tangent.DistanceTo(s.P(0, 0, 0)).ShouldBe(2 * scale, s.Tolerance);
        tangent.Direction.Dot(s.D(0, 0, 1)).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void Freedoms_left_are_counted()
    {
        var s = new Scene(2, 1);
        int Free(params Condition[] c) => DatumSolver.Solve(DatumKind.Axis, c).Free;
        Free(Say("through", s.Point(0, 0, 0))).ShouldBe(2);
        Free(Say("parallel", s.Line(0, 0, 0, 1, 0, 0))).ShouldBe(2);
        Free(Say("meets", s.Line(0, 0, 0, 1, 0, 0))).ShouldBe(3);
        Free(Say("in", s.Plane(0, 0, 0, 1, 0, 0))).ShouldBe(2);
        Free(Say("in", s.Plane(0, 0, 0, 1, 0, 0)), Say("through", s.Point(0, 1, 1))).ShouldBe(1);
        Free(Say("through", s.Point(0, 1, 1)), Say("across", s.Line(0, 0, 0, 0, 1, 0))).ShouldBe(1);
        Free(Say("meets", s.Line(0, 0, 0, 1, 0, 0)), Say("meets", s.Line(0, 3, 3, 0, 0, 1)), Say("meets", s.Line(5, 3, 3, 0, 1, 1)))
            .ShouldBe(1);
    }

    [Fact]
    public void A_transversal_keeps_its_side_while_a_line_sweeps()
    {
        Dictionary<string, Vec3> before = [];
        for (var i = 0; i <= 200; i++)
        {
            var s = new Scene(6, 1);
            var answer = DatumSolver.Solve(
                DatumKind.Axis,
                [
                    Say("meets", s.Line(0, 0, 0, 0, 1, 0)),
                    Say("meets", s.Line(1, 0, 0, 0, 1, 1)),
                    Say("meets", s.Line(2, 0, 0, 0, 1, 2)),
                    Say("meets", s.Line(0, 0, 0.5 + (0.01 * i), 1, 1, 0)),
                ]
            );
            answer.Solutions.Length.ShouldBe(2);
            foreach (var solution in answer.Solutions)
            {
                if (before.TryGetValue(solution.Label, out var direction))
                {
                    Math.Min(direction.AngleTo(solution.Frame.X), direction.AngleTo(-solution.Frame.X)).ShouldBeLessThan(0.05);
                }

                before[solution.Label] = solution.Frame.X;
            }
        }
    }
}
