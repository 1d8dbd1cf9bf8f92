using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Meshes;

/// <summary>Triangles that belong together.</summary>
/// <param name="Triangles">Their numbers.</param>
/// <param name="Surface">The plane, cylinder or sphere that all their corners lie on; null for any other shape.</param>
public sealed record MeshRegion(ImmutableArray<int> Triangles, Surface? Surface);

/// <summary>
/// Finds the faces that triangles were made of. Triangles of one plane are a facet. A facet that goes over smoothly into others of
/// about its own size is a piece of something round: cylinders and spheres are grown from such facets, as long as all corners lie
/// on them. What is left is a face of its own shape.
/// </summary>
public sealed class MeshRegions
{
    /// <summary>How square to a tube's axis the normals of its facets are.</summary>
    private const double SquareTo = 1e-3;

    /// <summary>The most regions that are told apart; the smallest of more are one.</summary>
    public const int Most = 4000;

    /// <summary>Facets whose normals are further apart than this meet in an edge.</summary>
    private const double Crease = 35 * Math.PI / 180;

    /// <summary>A facet this much larger than those that it goes over into is flat by itself.</summary>
    private const double Larger = 4;

    /// <summary>How far round facets have to go before they count as a cylinder or a sphere.</summary>
    private const double Round = 14 * Math.PI / 180;

    private const int FewestOfCylinder = 3,
        FewestOfSphere = 12,
        Many = 8,
        Searched = 16,
        TooManyToRepeat = 100;

    /// <summary>From how many facets something round is grown, the largest first: of scans no more is looked for.</summary>
    private const int MostTries = 8_000;

    /// <summary>How far a corner may lie off its surface, as a share of the size of the whole, and of the numbers: files keep six or
    /// seven digits.</summary>
    private const double Off = 3e-6,
        Digits = 5e-7;

    private readonly TriangleMesh mesh;
    private readonly double slack;
    private readonly int[] across;
    private readonly int[] facetOf;

    // Facets, triangles of one plane, by number: their triangles follow each other in one list, and those that each goes over into
    // smoothly in another, from the place in Starts on to that of the next.
    private readonly int[] members;
    private readonly List<int> memberStarts = [];
    private readonly List<Vec3> normals = [];
    private readonly List<double> areas = [];
    private int[] beside = [];
    private int[] besideStarts = [];

    // Whether a facet belongs to a region; whether something round was grown over it that is none; when it was reached last.
    private bool[] taken = [];
    private bool[] tried = [];
    private int[] reached = [];
    private int searches;

    private MeshRegions(TriangleMesh mesh)
    {
        this.mesh = mesh;
        var box = mesh.Box;
        slack = (Off * box.Diagonal) + (Digits * Math.Max(box.Low.Length, box.High.Length));
        across = mesh.Across;
        facetOf = new int[mesh.Count];
        members = new int[mesh.Count];
        Array.Fill(facetOf, -1);
    }

    private int Facets => areas.Count;

    private ArraySegment<int> Members(int facet) => Segment(members, memberStarts[facet], memberStarts[facet + 1]);

    private ArraySegment<int> Beside(int facet) => Segment(beside, besideStarts[facet], besideStarts[facet + 1]);

    private static ArraySegment<int> Segment(int[] of, int from, int to) => new(of, from, to - from);

    /// <summary>The regions of triangles, the largest first.</summary>
    public static ImmutableArray<MeshRegion> Of(TriangleMesh mesh)
    {
        ArgumentNullException.ThrowIfNull(mesh);
        return mesh.Count == 0 ? [] : new MeshRegions(mesh).Found();
    }

    private ImmutableArray<MeshRegion> Found()
    {
        MakeFacets();
        Neighbours();
        (taken, tried, reached) = (new bool[Facets], new bool[Facets], new int[Facets]);
        var found = new List<MeshRegion>();
        var tries = 0;
        foreach (var start in LargestFirst(areas))
        {
            if (taken[start] || tried[start] || Beside(start).Count == 0)
            {
                continue;
            }

            if (tries++ >= MostTries)
            {
                break;
            }

            // A piece of a sphere may pass for one of a cylinder, for a while: whichever goes further.
            var (tube, ball) = (GrownTube(start), GrownBall(start));
            if ((ball?.Facets.Count > (tube?.Facets.Count ?? 0) ? ball : tube) is var (of, surface))
            {
                of.ForEach(i => taken[i] = true);
                found.Add(new MeshRegion([.. of.SelectMany(i => Members(i))], surface));
            }
        }

        var standing = Enumerable.Range(0, Facets).Where(f => !taken[f] && StandsOut(f)).ToList();
        standing.ForEach(f => taken[f] = true);
        found.AddRange(standing.Select(Flat));
        found.AddRange(Others());
        found = [.. found.OrderByDescending(r => r.Triangles.Sum(t => mesh.Span(t).Length)).ThenBy(r => r.Triangles.Min())];
        if (found.Count > Most)
        {
            found = [.. found.Take(Most - 1), new MeshRegion([.. found.Skip(Most - 1).SelectMany(r => r.Triangles)], null)];
        }

        return [.. found];
    }

    /// <summary>Numbers from 0 on by their sizes.</summary>
    private static int[] LargestFirst(IReadOnlyList<double> sizes)
    {
        var (keys, order) = (new double[sizes.Count], new int[sizes.Count]);
        for (var i = 0; i < order.Length; i++)
        {
            (keys[i], order[i]) = (-sizes[i], i);
        }

        Array.Sort(keys, order);
        return order;
    }

    /// <summary>From the largest triangle on, everything round about that lies in its plane.</summary>
    private void MakeFacets()
    {
        var (spans, sizes) = (new Vec3[mesh.Count], new double[mesh.Count]);
        for (var t = 0; t < mesh.Count; t++)
        {
            spans[t] = mesh.Span(t);
            sizes[t] = spans[t].Dot(spans[t]);
        }

        // The list of members is the list of what is still to be looked round as well.
        var filled = 0;
        foreach (var seed in LargestFirst(sizes))
        {
            if (facetOf[seed] >= 0)
            {
                continue;
            }

            var (normal, on, area, at) = (spans[seed].Unit, mesh.Corner(seed, 0), 0.0, filled);
            memberStarts.Add(filled);
            facetOf[seed] = areas.Count;
            members[filled++] = seed;
            for (; at < filled; at++)
            {
                var t = members[at];
                area += spans[t].Length / 2;
                for (var k = 0; k < 3; k++)
                {
                    var next = across[(3 * t) + k];
                    if (next >= 0 && facetOf[next] < 0 && InPlane(next, spans[next], normal, on))
                    {
                        facetOf[next] = areas.Count;
                        members[filled++] = next;
                    }
                }
            }

            normals.Add(normal);
            areas.Add(area);
        }

        memberStarts.Add(filled);
    }

    /// <summary>Whether a triangle lies in a plane: its corners by the slack, and its normal as well as its own size lets that be
    /// told.</summary>
    private bool InPlane(int triangle, Vec3 span, Vec3 normal, Vec3 on)
    {
        var longest = 0.0;
        for (var k = 0; k < 3; k++)
        {
            if (Math.Abs((mesh.Corner(triangle, k) - on).Dot(normal)) > slack)
            {
                return false;
            }

            longest = Math.Max(longest, mesh.Corner(triangle, k).DistanceTo(mesh.Corner(triangle, (k + 1) % 3)));
        }

        var height = longest > 0 ? span.Length / longest : 0;
        return span.Dot(normal) > 0 && (height <= 8 * slack || span.Unit.Cross(normal).Length < 4 * slack / height);
    }

    private void Neighbours()
    {
        var flat = Math.Cos(Crease);
        var all = new List<int>(across.Length);
        besideStarts = new int[Facets + 1];
        for (var facet = 0; facet < Facets; facet++)
        {
            besideStarts[facet] = all.Count;
            foreach (var t in Members(facet))
            {
                for (var k = 0; k < 3; k++)
                {
                    var other = across[(3 * t) + k] is var next && next >= 0 ? facetOf[next] : facet;
                    if (other != facet && normals[facet].Dot(normals[other]) > flat)
                    {
                        all.Add(other);
                    }
                }
            }

            // Each once, the one of the largest triangle first: facets are numbered so.
            var own = CollectionsMarshal.AsSpan(all)[besideStarts[facet]..];
            own.Sort();
            var kept = besideStarts[facet];
            foreach (var other in own)
            {
                if (kept == besideStarts[facet] || all[kept - 1] != other)
                {
                    all[kept++] = other;
                }
            }

            CollectionsMarshal.SetCount(all, kept);
        }

        besideStarts[Facets] = all.Count;
        beside = [.. all];
    }

    /// <summary>Whether a facet is much larger than most of those that it goes over into, as far as they belong nowhere yet.</summary>
    private bool StandsOut(int facet)
    {
        var (smaller, all) = (0, 0);
        foreach (var i in Beside(facet))
        {
            all += taken[i] ? 0 : 1;
            smaller += !taken[i] && areas[i] * Larger <= areas[facet] ? 1 : 0;
        }

        return 2 * smaller > all || all == 0;
    }

    private MeshRegion Flat(int facet) =>
        new([.. Members(facet)], new FlatSurface(Plane3.Through(mesh.Corner(Members(facet)[0], 0), normals[facet])));

    private CylinderSurface? Tube(IReadOnlyList<int> of) => MeshFitting.Cylinder([.. of.Select(i => normals[i])], Points(of));

    private SphereSurface? Ball(IReadOnlyList<int> of) => MeshFitting.Sphere(Points(of));

    private Vec3[] Points(IReadOnlyList<int> of) =>
        [
            .. of.SelectMany(i => Members(i))
                .SelectMany(t => Enumerable.Range(0, 3).Select(k => mesh.Corners[(3 * t) + k]))
                .Distinct()
                .Select(i => mesh.Places[i]),
        ];

    /// <summary>A cylinder through a facet and one beside it, and as far as facets lie on it.</summary>
    private (List<int> Facets, Surface Surface)? GrownTube(int start) =>
        Grown(start, Free(start).Take(6).Select(beside => (int[])[start, beside]), Tube, FewestOfCylinder);

    /// <summary>A sphere through a facet and those beside it, likewise.</summary>
    private (List<int> Facets, Surface Surface)? GrownBall(int start) =>
        Grown(
            start,
            Free(start).Any()
                ?
                [
                    [start, .. Free(start).Take(4)],
                ]
                : [],
            Ball,
            FewestOfSphere
        );

    private IEnumerable<int> Free(int facet) => Beside(facet).Where(i => !taken[i]);

    /// <summary>The first surface through facets to begin with that enough facets lie on; null where there is none.</summary>
    private (List<int> Facets, Surface Surface)? Grown(
        int start,
        IEnumerable<int[]> seeds,
        Func<IReadOnlyList<int>, Surface?> fit,
        int fewest
    )
    {
        foreach (var seed in seeds)
        {
            if (fit(seed) is not { } first || Along(start, first) is not { } some || some.Count < fewest)
            {
                continue;
            }

            if (
                fit(some) is { } better
                && Along(start, better) is { } all
                && all.Count >= fewest
                && all.Max(i => normals[i].AngleTo(normals[start])) > Round
                && Even(all, better)
            )
            {
                return (all, better);
            }

            // Many that are nothing round are not grown over again from each of them.
            foreach (var i in some.Count >= TooManyToRepeat ? some : [])
            {
                tried[i] = true;
            }
        }

        return null;
    }

    /// <summary>The facets reached from one that lie on a surface; null where the first does not, or where it is too large to have
    /// been cut into these.</summary>
    private List<int>? Along(int start, Surface surface)
    {
        var radius =
            surface is CylinderSurface c ? c.Radius
            : surface is SphereSurface s ? s.Radius
            : 0;
        if (!(radius < 1e3 * (slack / Off)) || !Lies(start, surface))
        {
            return null;
        }

        var found = new List<int> { start };
        reached[start] = ++searches;
        for (var at = 0; at < found.Count; at++)
        {
            foreach (var next in Beside(found[at]))
            {
                if (reached[next] != searches && !taken[next] && Lies(next, surface))
                {
                    found.Add(next);
                }

                reached[next] = searches;
            }
        }

        return found;
    }

    /// <summary>Whether facets look as if something round was cut into them: none much wider than the others, as a plate between two
    /// bevels would be, and of triangles by themselves, as any smooth shape has, more than could lie on it by chance.</summary>
    private bool Even(List<int> of, Surface surface)
    {
        if (surface is not CylinderSurface tube)
        {
            return true;
        }

        var widths = of.Select(i => Width(i, tube)).Order().ToList();
        var strips = of.Count(i => Members(i).Count > 1);
        return widths[^1] <= widths[widths.Count / 2] * (of.Count < Many ? 1.5 : 3) && (2 * strips >= of.Count || of.Count >= Many);
    }

    /// <summary>How far a facet goes round an axis, in radians.</summary>
    private double Width(int facet, CylinderSurface tube)
    {
        var (middle, across) = (normals[facet], tube.Axis.Direction.Cross(normals[facet]));
        var away = tube.Axis.Foot(mesh.Corner(Members(facet)[0], 0));
        middle = (mesh.Corner(Members(facet)[0], 0) - away).Dot(middle) < 0 ? -middle : middle;
        var angles = Members(facet)
            .SelectMany(t => Enumerable.Range(0, 3).Select(k => mesh.Corner(t, k) - tube.Axis.Foot(mesh.Corner(t, k))))
            .Select(d => Math.Atan2(d.Dot(across), d.Dot(middle)))
            .ToList();
        return angles.Max() - angles.Min();
    }

    /// <summary>Whether all corners lie on a surface, and it faces the way of the facet or against it throughout.</summary>
    private bool Lies(int facet, Surface surface)
    {
        var along = Math.Cos(Crease);
        foreach (var t in Members(facet))
        {
            for (var k = 0; k < 3; k++)
            {
                var p = mesh.Corner(t, k);
                if (Math.Abs(surface.Side(p)) > slack || Math.Abs(surface.Normal(p).Dot(normals[facet])) < along)
                {
                    return false;
                }
            }
        }

        // A facet of a cylinder runs along it.
        return surface is not CylinderSurface tube || Math.Abs(tube.Axis.Direction.Dot(normals[facet])) < SquareTo;
    }

    /// <summary>What no surface was found for: each smooth stretch a region, a facet by itself flat.</summary>
    private IEnumerable<MeshRegion> Others()
    {
        for (var i = 0; i < Facets; i++)
        {
            if (taken[i])
            {
                continue;
            }

            var stretch = new List<int> { i };
            taken[i] = true;
            for (var at = 0; at < stretch.Count; at++)
            {
                foreach (var next in Beside(stretch[at]))
                {
                    if (!taken[next])
                    {
                        taken[next] = true;
                        stretch.Add(next);
                    }
                }
            }

            yield return stretch.Count == 1 ? Flat(i) : new MeshRegion([.. stretch.SelectMany(m => Members(m))], null);
        }
    }
}
