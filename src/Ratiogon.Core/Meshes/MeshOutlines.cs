using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Meshes;

/// <summary>Where regions of triangles meet each other, or end: chains of sides between the same two.</summary>
/// <param name="Chains">The places along each; a closed one ends where it begins.</param>
/// <param name="Beside">The regions beside each: two, or one at an open end.</param>
/// <param name="Ends">The places where chains begin and end.</param>
internal sealed record MeshOutlines(
    ImmutableArray<ImmutableArray<int>> Chains,
    ImmutableArray<ImmutableArray<int>> Beside,
    ImmutableArray<int> Ends
)
{
    /// <summary>How far places may lie off a line or a circle, as a share of its length.</summary>
    private const double Off = 2e-6;

    public static MeshOutlines Of(TriangleMesh mesh, int[] regionOf)
    {
        var across = mesh.Across;
        var sides = new Dictionary<(int, int), List<(int A, int B)>>();
        var seen = new HashSet<(int, int)>();
        for (var side = 0; side < across.Length; side++)
        {
            var own = regionOf[side / 3];
            var other = across[side] < 0 ? -1 : regionOf[across[side]];
            if (own == other)
            {
                continue;
            }

            var (a, b) = mesh.Ends(side);
            if (seen.Add((Math.Min(a, b), Math.Max(a, b))))
            {
                var key = other < 0 ? (own, -1) : (Math.Min(own, other), Math.Max(own, other));
                (sides.TryGetValue(key, out var known) ? known : sides[key] = []).Add((a, b));
            }
        }

        // Where anything but two sides of one pair meet, chains end.
        var meets = new Dictionary<int, (int Count, (int, int) Pair, bool Several)>();
        foreach (var (pair, all) in sides)
        {
            foreach (var place in all.SelectMany(s => new[] { s.A, s.B }))
            {
                var known = meets.GetValueOrDefault(place, (0, pair, false));
                meets[place] = (known.Item1 + 1, pair, known.Item3 || known.Item2 != pair);
            }
        }

        var joints = meets.Where(m => m.Value.Several || m.Value.Count != 2).Select(m => m.Key).ToHashSet();
        var (chains, beside, ends) = (
            ImmutableArray.CreateBuilder<ImmutableArray<int>>(),
            ImmutableArray.CreateBuilder<ImmutableArray<int>>(),
            new List<int>()
        );
        foreach (var (pair, all) in sides.OrderBy(s => s.Key))
        {
            foreach (var chain in Chained(all, joints))
            {
                chains.Add(chain);
                beside.Add(pair.Item2 < 0 ? [pair.Item1] : [pair.Item1, pair.Item2]);
                ends.AddRange([chain[0], chain[^1]]);
            }
        }

        return new MeshOutlines(chains.ToImmutable(), beside.ToImmutable(), [.. ends.Distinct()]);
    }

    /// <summary>An edge: a line or a circle where all its places lie on one, otherwise from place to place.</summary>
    public EdgeShape Edge(TriangleMesh mesh, int index)
    {
        var points = Chains[index].Select(v => mesh.Places[v]).ToList();
        ImmutableArray<int> ends = [Ends.IndexOf(Chains[index][0]), Ends.IndexOf(Chains[index][^1])];
        var length = Enumerable.Range(0, points.Count - 1).Sum(i => points[i].DistanceTo(points[i + 1]));
        var closed = Chains[index][0] == Chains[index][^1];
        if (!closed && IsStraight(points, length * Off))
        {
            return ReferenceBody.Straight(points[0], points[^1]) with { Faces = Beside[index], Ends = ends };
        }

        if (points.Count > 4 && Circle(points, closed, length) is { } round)
        {
            return round with { Faces = Beside[index], Ends = ends };
        }

        // A spline of degree 1 through the places.
        var distinct = points.Where((p, i) => i == 0 || p != points[i - 1]).ToList();
        var n = distinct.Count;
        return new EdgeShape("other", Beside[index], ends, length, distinct[n / 2])
        {
            Numbers =
            [
                1,
                n,
                0,
                0,
                .. Enumerable.Range(0, n).Select(i => (double)i),
                n - 1,
                .. distinct.SelectMany(p => new[] { p.X, p.Y, p.Z }),
            ],
        };
    }

    private static bool IsStraight(List<Vec3> points, double slack)
    {
        var along = (points[^1] - points[0]).Unit;
        return points.TrueForAll(p => (p - points[0]).Cross(along).Length <= slack);
    }

    private static EdgeShape? Circle(List<Vec3> points, bool closed, double length)
    {
        var middle = points.Aggregate(Vec3.Zero, (a, b) => a + b) / points.Count;
        var normal = Enumerable
            .Range(0, points.Count - 1)
            .Aggregate(Vec3.Zero, (a, i) => a + (points[i] - middle).Cross(points[i + 1] - middle))
            .Unit;
        var frame = Frame.Facing(middle, normal);
        var flat = points.Select(frame.ToPlane).ToList();
        if (MeshFitting.Circle(closed ? flat[1..] : flat) is not var (centre, radius) || radius > length * 100)
        {
            return null;
        }

        var o = frame.ToWorld(centre);
        if (points.Exists(p => Math.Abs((p - o).Dot(normal)) > length * Off || Math.Abs(p.DistanceTo(o) - radius) > length * Off))
        {
            return null;
        }

        var u = (points[0] - o).Unit;
        var v = normal.Cross(u);
        var angle = Math.Atan2((points[^1] - o).Dot(v), (points[^1] - o).Dot(u));
        var turn =
            closed ? 2 * Math.PI
            : angle > 0 ? angle
            : angle + (2 * Math.PI);
        var (ru, rv) = (u * radius, v * radius);
        return new EdgeShape("circle", [], [], radius * turn, o + (u * (radius * Math.Cos(turn / 2))) + (v * (radius * Math.Sin(turn / 2))))
        {
            Radius = radius,
            Centre = o,
            Numbers = [o.X, o.Y, o.Z, ru.X, ru.Y, ru.Z, rv.X, rv.Y, rv.Z, 0, turn],
        };
    }

    private static IEnumerable<ImmutableArray<int>> Chained(List<(int A, int B)> sides, HashSet<int> joints)
    {
        var at = new Dictionary<int, List<int>>();
        for (var i = 0; i < sides.Count; i++)
        {
            foreach (var place in new[] { sides[i].A, sides[i].B })
            {
                (at.TryGetValue(place, out var known) ? known : at[place] = []).Add(i);
            }
        }

        var used = new bool[sides.Count];

        // From the joints first; what is left runs round.
        foreach (
            var start in Enumerable.Range(0, sides.Count).OrderBy(i => joints.Contains(sides[i].A) || joints.Contains(sides[i].B) ? 0 : 1)
        )
        {
            if (used[start])
            {
                continue;
            }

            var from = joints.Contains(sides[start].A) || !joints.Contains(sides[start].B) ? sides[start].A : sides[start].B;
            var chain = ImmutableArray.CreateBuilder<int>();
            chain.Add(from);
            for (var next = start; next >= 0; )
            {
                used[next] = true;
                from = sides[next].A == from ? sides[next].B : sides[next].A;
                chain.Add(from);
                var free = joints.Contains(from) || from == chain[0] ? -1 : at[from].FindIndex(i => !used[i]);
                next = free < 0 ? -1 : at[from][free];
            }

            yield return chain.ToImmutable();
        }
    }
}
