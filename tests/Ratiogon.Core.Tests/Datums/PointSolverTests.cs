using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Datums;

public sealed class PointSolverTests
{
    public static TheoryData<int, double> Places() => PlaneSolverTests.Places();

    private static Condition Say(string relation, Thing thing, params double[] values) =>
        Scene.Say(DatumKind.Point, relation, thing, values);

    private static Condition Say(string relation, Thing a, Thing b) => Scene.Say(DatumKind.Point, relation, [a, b]);

    private static List<Vec3> Solve(params Condition[] conditions)
    {
        var answer = DatumSolver.Solve(DatumKind.Point, conditions);
        answer.Refusal.ShouldBeNull();
        answer.Free.ShouldBe(0, string.Join("; ", answer.Left));
        answer.Solutions.Select(s => s.Label).ShouldBeUnique();
        return [.. answer.Solutions.Select(s => s.Frame.Origin)];
    }

    private static void ShouldBeAt(Vec3 p, Vec3 expected, double tolerance) => p.DistanceTo(expected).ShouldBeLessThan(tolerance);

    [Theory, MemberData(nameof(Places))]
    public void Three_planes_two_lines_and_a_line_with_a_plane_meet_in_one_point(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        ShouldBeAt(
            Solve(
                Say("on-plane", s.Plane(1, 0, 0, 1, 0, 0)),
                Say("on-plane", s.Plane(0, 2, 0, 0.1, 1, 0)),
                Say("on-plane", s.Plane(0, 0, 3, 0, 0, 1))
            )[0],
            s.P(1, 1.9, 3),
            s.Tolerance * 10
        );
        ShouldBeAt(
            Solve(Say("on-line", s.Line(0, 0, 0, 1, 1, 0)), Say("on-line", s.Line(4, 0, 0, 0, 1, 0)))[0],
            s.P(4, 4, 0),
            s.Tolerance * 10
        );
        ShouldBeAt(
            Solve(Say("on-line", s.Line(0, 0, 0, 1, 1, 1)), Say("on-plane", s.Plane(0, 0, 7, 0, 0, 1)))[0],
            s.P(7, 7, 7),
            s.Tolerance * 10
        );
    }

    [Theory, MemberData(nameof(Places))]
    public void A_line_meets_curved_faces_where_it_should(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var line = s.Line(-9, 0, 0, 1, 0, 0);
        foreach (
            var (face, places) in new (Thing, double[])[]
            {
                (s.Cylinder(0, 0, 0, 0, 0, 1, 2), [-2, 2]),
                (s.Sphere(0, 0, 0, 3), [-3, 3]),
                (s.Torus(0, 0, 0, 0, 0, 1, 4, 1), [-5, -3, 3, 5]),
                (s.Cone(0, 0, -1, 0, 0, 1, Math.PI / 4), [-1, 1]),
            }
        )
        {
            var found = Solve(Say("on-line", line), Say("on-face", face));
            found.Count.ShouldBe(places.Length, face.Words);
            foreach (var x in places)
            {
                found.Min(p => p.DistanceTo(s.P(x, 0, 0))).ShouldBeLessThan(s.Tolerance * 10);
            }
        }

        DatumSolver
            .Solve(DatumKind.Point, [Say("on-line", s.Line(0, 9, 0, 1, 0, 0)), Say("on-face", s.Sphere(0, 0, 0, 3))])
            .Refusal!.Message.ShouldContain("misses");
    }

    [Theory, MemberData(nameof(Places))]
    public void Skew_lines_are_refused_with_their_distance_and_their_halfway_point_exists(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var (a, b) = (s.Line(0, 0, 0, 1, 0, 0), s.Line(0, 0, 3.2, 0, 1, 0));
        var refusal = DatumSolver.Solve(DatumKind.Point, [Say("on-line", a), Say("on-line", b)]).Refusal!;
        refusal.Code.ShouldBe("datum.skew");
        refusal.Message.ShouldContain($"{3.2 * scale:0.####} mm apart");
        ShouldBeAt(Solve(Say("nearest", a, b))[0], s.P(0, 0, 1.6), s.Tolerance * 10);
    }

    [Theory, MemberData(nameof(Places))]
    public void Along_a_path_points_stop_at_the_ends_and_go_round_where_it_closes(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var spline = s.Spline((0, 0, 0), (3, 1, 0), (5, 4, 2), (6, 8, 3));
        ShouldBeAt(Solve(Say("at-fraction", spline, 0))[0], s.P(0, 0, 0), s.Tolerance);
        ShouldBeAt(Solve(Say("at-fraction", spline, 1))[0], s.P(6, 8, 3), s.Tolerance);
        var (half, length) = (Solve(Say("at-fraction", spline, 0.5))[0], spline.Path!.Length);
        ShouldBeAt(Solve(Say("at-length", spline, length / 2))[0], half, s.Tolerance);
        DatumSolver.Solve(DatumKind.Point, [Say("at-fraction", spline, 1.1)]).Refusal!.Message.ShouldContain("stops at its ends");
        DatumSolver.Solve(DatumKind.Point, [Say("at-length", spline, length * 1.1)]).Refusal!.Message.ShouldContain("off its end");
        var ring = s.Circle(0, 0, 0, 0, 0, 1, 2);
        ShouldBeAt(Solve(Say("at-fraction", ring, 1.25))[0], Solve(Say("at-fraction", ring, 0.25))[0], s.Tolerance * 10);
        DatumSolver
            .Solve(DatumKind.Point, [Say("at-length", ring, ring.Path!.Length * 1.1)])
            .Refusal!.Message.ShouldContain("all the way round");
        DatumSolver
            .Solve(DatumKind.Point, [Say("at-length", ring, -0.1 * ring.Path!.Length)])
            .Refusal!.Message.ShouldContain("before its beginning");
    }

    [Theory, MemberData(nameof(Places))]
    public void A_curve_meets_planes_faces_lines_and_curves(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var ring = s.Circle(0, 0, 0, 0, 0, 1, 5);
        var both = Solve(Say("on-curve", ring), Say("on-plane", s.Plane(3, 0, 0, 1, 0, 0)));
        both.Count.ShouldBe(2);
        both.Min(p => p.DistanceTo(s.P(3, 4, 0))).ShouldBeLessThan(s.Tolerance * 10);
        both.Min(p => p.DistanceTo(s.P(3, -4, 0))).ShouldBeLessThan(s.Tolerance * 10);
        Solve(Say("on-curve", ring), Say("on-face", s.Sphere(5, 0, 0, 5))).Count.ShouldBe(2);
        ShouldBeAt(Solve(Say("on-curve", ring), Say("on-line", s.Line(0, 5, 9, 0, 0, 1)))[0], s.P(0, 5, 0), s.Tolerance * 10);
        Solve(Say("on-curve", ring), Say("on-curve", s.Circle(0, 0, 0, 0, 1, 0, 5))).Count.ShouldBe(2);
    }

    [Theory, MemberData(nameof(Places))]
    public void Three_spheres_meet_in_two_points(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        var found = Solve(Say("on-face", s.Sphere(0, 0, 0, 5)), Say("on-face", s.Sphere(4, 0, 0, 5)), Say("on-face", s.Sphere(0, 4, 0, 5)));
        found.Count.ShouldBe(2);
        found.Min(p => p.DistanceTo(s.P(2, 2, Math.Sqrt(17)))).ShouldBeLessThan(s.Tolerance * 10);
        Solve(
            Say("apart", s.Point(0, 0, 0), 5 * scale),
            Say("apart", s.Point(6, 0, 0), 5 * scale),
            Say("on-plane", s.Plane(0, 0, 0, 0, 0, 1))
        )
            .Count.ShouldBe(2);
    }

    [Theory, MemberData(nameof(Places))]
    public void Centres_middles_feet_and_coordinates(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        ShouldBeAt(Solve(Say("at-centre", s.Circle(1, 2, 3, 1, 1, 0, 4)))[0], s.P(1, 2, 3), s.Tolerance);
        ShouldBeAt(Solve(Say("halfway", s.Point(1, 2, 3), s.Circle(3, 2, 5, 0, 0, 1, 2)))[0], s.P(2, 2, 4), s.Tolerance);
        ShouldBeAt(Solve(Say("foot", s.Plane(0, 0, 1, 0, 0, 1), s.Point(4, 5, 6)))[0], s.P(4, 5, 1), s.Tolerance);
        ShouldBeAt(Solve(Say("foot", s.Line(0, 0, 0, 1, 0, 0), s.Point(4, 5, 6)))[0], s.P(4, 0, 0), s.Tolerance);
        ShouldBeAt(Solve(Say("foot", s.Sphere(0, 0, 0, 2), s.Point(0, 0, 6)))[0], s.P(0, 0, 2), s.Tolerance);
        var frame = new Thing("fr", "frame", s.Place.Origin) { Frame = s.Place };
        ShouldBeAt(Solve(Say("coordinates-in", frame, 1 * scale, 2 * scale, 3 * scale))[0], s.P(1, 2, 3), s.Tolerance);
    }

    [Theory, MemberData(nameof(Places))]
    public void Points_on_faces_by_the_faces_own_coordinates_lie_on_them(int seed, double scale)
    {
        var s = new Scene(seed, scale);
        foreach (
            var (relation, face, values) in new (string, Thing, double[])[]
            {
                ("on-round-at", s.Cylinder(1, 2, 3, 0, 1, 1, 2), [0.7, 3 * scale]),
                ("on-round-at", s.Cone(1, 2, 3, 0, 1, 1, 0.4), [0.7, 3 * scale]),
                ("on-sphere-at", s.Sphere(1, 2, 3, 2), [0.7, 0.3]),
                ("on-torus-at", s.Torus(1, 2, 3, 1, 0, 0, 5, 1), [0.7, 2]),
            }
        )
        {
            face.Surface!.Side(Solve(Say(relation, face, values))[0]).ShouldBe(0, s.Tolerance, face.Words);
        }
    }

    [Fact]
    public void Freedoms_left_are_counted()
    {
        var s = new Scene(2, 1);
        int Free(params Condition[] c) => DatumSolver.Solve(DatumKind.Point, c).Free;
        Free(Say("on-plane", s.Plane(0, 0, 0, 0, 0, 1))).ShouldBe(2);
        Free(Say("on-line", s.Line(0, 0, 0, 0, 0, 1))).ShouldBe(1);
        Free(Say("on-face", s.Sphere(0, 0, 0, 1))).ShouldBe(2);
        Free(Say("on-face", s.Sphere(0, 0, 0, 1)), Say("on-plane", s.Plane(0, 0, 0, 0, 0, 1))).ShouldBe(1);
        Free(Say("on-curve", s.Circle(0, 0, 0, 0, 0, 1, 1))).ShouldBe(1);
        Free(Say("on-curve", s.Circle(0, 0, 0, 0, 0, 1, 1)), Say("on-plane", s.Plane(5, 5, 0, 0, 0, 1)))
            .ShouldBe(1, "the circle lies in the plane");
    }

    [Fact]
    public void A_line_that_is_parallel_to_a_plane_or_inside_it_is_told_apart()
    {
        var s = new Scene(2, 1);
        string Code(Thing line) =>
            DatumSolver.Solve(DatumKind.Point, [Say("on-line", line), Say("on-plane", s.Plane(0, 0, 0, 0, 0, 1))]) is var d
                ? d.Refusal?.Code ?? $"free {d.Free}"
                : "";
        Code(s.Line(0, 0, 4, 1, 0, 0)).ShouldBe("datum.line-parallel");
        Code(s.Line(0, 0, 0, 1, 0, 0)).ShouldBe("free 1");
    }

    [Fact]
    public void The_side_where_a_line_enters_stays_the_side_where_it_enters()
    {
        Vec3? before = null;
        for (var i = 0; i <= 100; i++)
        {
            var s = new Scene(7, 1);
            var answer = DatumSolver.Solve(
                DatumKind.Point,
                [Say("on-line", s.Line(-9, 0.02 * i, 0, 1, 0.001 * i, 0)), Say("on-face", s.Cylinder(0, 0, 0, 0, 0, 1, 3))]
            );
            var at = DatumSolver.Choose(answer, "out").Value.Frame.Origin;
            before?.DistanceTo(at).ShouldBeLessThan(0.2);
            before = at;
        }
    }
}
