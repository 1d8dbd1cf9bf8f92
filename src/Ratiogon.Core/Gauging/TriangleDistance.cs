using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Gauging;

/// <summary>Smallest distances from triangles as they are, not from what they may have been cut from. Only those triangles are
/// measured that can be nearest: whose boxes are no further away than the nearest that is known. Lengths in millimetres.</summary>
internal static class TriangleDistance
{
    /// <summary>The most triangles that are measured exactly at a time.</summary>
    private const int Most = 3000;

    /// <summary>To a plane without end.</summary>
    public static Nearest Between(TriangleMesh mesh, IReadOnlyList<int> own, Plane3 plane)
    {
        var near = mesh.Corner(own[0], 0);
        foreach (var t in own)
        {
            for (var k = 0; k < 3; k++)
            {
                var (p, q) = (mesh.Corner(t, k), mesh.Corner(t, (k + 1) % 3));
                var (a, b) = (plane.Side(p), plane.Side(q));
                if (a * b < 0)
                {
                    var through = p + ((q - p) * (a / (a - b)));
                    return new Nearest(0, through, through);
                }

                near = Math.Abs(a) < Math.Abs(plane.Side(near)) ? p : near;
            }
        }

        return new Nearest(Math.Abs(plane.Side(near)), near, plane.Foot(near));
    }

    /// <summary>To a body, or a part of one.</summary>
    public static Outcome<Nearest> Between(ISolidKernel kernel, TriangleMesh mesh, IReadOnlyList<int> own, ISolid other, SubShape part)
    {
        var box = kernel.Bounds(other);
        using var nearest = kernel.Facets(mesh, [own.MinBy(t => Gap(BoxOf(mesh, t), box))]);
        return kernel
            .Distance(nearest, default, other, part)
            .Then(first =>
            {
                var mine = Near(mesh, own, box, first.Distance);
                if (mine.Count > Most)
                {
                    return TooMany(mine.Count);
                }

                using var here = kernel.Facets(mesh, mine);
                return kernel.Distance(here, default, other, part);
            });
    }

    /// <summary>To other triangles.</summary>
    public static Outcome<Nearest> Between(
        ISolidKernel kernel,
        TriangleMesh mesh,
        IReadOnlyList<int> own,
        TriangleMesh other,
        IReadOnlyList<int> others
    )
    {
        var (box, otherBox) = (Box.About(Corners(mesh, own)), Box.About(Corners(other, others)));
        var p = mesh.Corner(own.MinBy(t => Gap(BoxOf(mesh, t), otherBox)), 0);
        var q = Corners(other, others).MinBy(p.DistanceTo);
        var certain = Corners(mesh, own).Min(q.DistanceTo);
        var (mine, theirs) = (Near(mesh, own, otherBox, certain), Near(other, others, box, certain));
        if (mine.Count > Most || theirs.Count > Most)
        {
            return TooMany(Math.Max(mine.Count, theirs.Count));
        }

        using var here = kernel.Facets(mesh, mine);
        using var there = kernel.Facets(other, theirs);
        return kernel.Distance(here, default, there, default);
    }

    private static Refusal TooMany(int count) =>
        new(
            "reading.too-many-triangles",
            $"{count:N0} triangles come into question, and at most {Most:N0} are measured at a time: pick a face, an edge or "
                + "a point instead of the whole."
        );

    private static IEnumerable<Vec3> Corners(TriangleMesh mesh, IReadOnlyList<int> of) =>
        of.SelectMany(t => new[] { mesh.Corner(t, 0), mesh.Corner(t, 1), mesh.Corner(t, 2) });

    private static List<int> Near(TriangleMesh mesh, IReadOnlyList<int> of, Box box, double distance) =>
        [.. of.Where(t => Gap(BoxOf(mesh, t), box) <= distance + Tolerances.Length)];

    private static double Gap(Box a, Box b)
    {
        static double Along(double lowA, double highA, double lowB, double highB) => Math.Max(0, Math.Max(lowB - highA, lowA - highB));
        return new Vec3(
            Along(a.Low.X, a.High.X, b.Low.X, b.High.X),
            Along(a.Low.Y, a.High.Y, b.Low.Y, b.High.Y),
            Along(a.Low.Z, a.High.Z, b.Low.Z, b.High.Z)
        ).Length;
    }

    private static Box BoxOf(TriangleMesh mesh, int t)
    {
        // Asked for every triangle: no list is made for it.
        var (a, b, c) = (mesh.Corner(t, 0), mesh.Corner(t, 1), mesh.Corner(t, 2));
        return new Box(
            new Vec3(Math.Min(a.X, Math.Min(b.X, c.X)), Math.Min(a.Y, Math.Min(b.Y, c.Y)), Math.Min(a.Z, Math.Min(b.Z, c.Z))),
            new Vec3(Math.Max(a.X, Math.Max(b.X, c.X)), Math.Max(a.Y, Math.Max(b.Y, c.Y)), Math.Max(a.Z, Math.Max(b.Z, c.Z)))
        );
    }
}
