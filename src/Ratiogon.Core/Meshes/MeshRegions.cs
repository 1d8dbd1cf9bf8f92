using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Ratiogon.Core.Geometry;

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
    /// <summary>The most regions that are told apart; the smallest of more are one.</summary>
    public const int Most = 4000;

    /// <summary>Facets whose normals are further apart than this meet in an edge.</summary>
    private const double Crease = 35 * Math.PI / 180;

    /// <summary>A facet this much larger than those that it goes over into is flat by itself.</summary>
    private const double Larger = 4;

    /// <summary>How far round facets have to go before they count as a cylinder or a sphere.</summary>
    private const double Round = 14 * Math.PI / 180;

    private const int FewestOfCylinder = 3, FewestOfSphere = 12, Many = 8, Searched = 16, TooManyToRepeat = 100;

    /// <summary>From how many facets something round is grown, the largest first: of scans no more is looked for.</summary>
    private const int MostTries = 8_000;

    /// <summary>How far a corner may lie off its surface, as a share of the size of the whole, and of the numbers: files keep six or
    /// seven digits.</summary>
    private const double Off = 3e-6, Digits = 5e-7;

    private readonly TriangleMesh mesh;
    private readonly double slack;
    private readonly int[] across;
    private readonly int[] facetOf;
    private readonly List<Facet> facets = [];

    private MeshRegions(TriangleMesh mesh)
    {
        this.mesh = mesh;
        var box = mesh.Box;
        slack = (Off * box.Diagonal) + (Digits * Math.Max(box.Low.Length, box.High.Length));
        across = mesh.Across;
        facetOf = new int[mesh.Count];
        Array.Fill(facetOf, -1);
    }

    /// <summary>Triangles of one plane.</summary>
    private sealed class Facet(Vec3 normal)
    {
        public List<int> Triangles { get; } = new(2);

        public Vec3 Normal { get; } = normal;

        public double Area { get; set; }

        public bool Taken { get; set; }

        /// <summary>Whether something round was grown over it that is none.</summary>
        public bool Tried { get; set; }

        /// <summary>Those it goes over into smoothly; of many some may come twice.</summary>
        public List<int> Beside { get; } = new(4);

        public void GoesOverInto(int other)
        {
            if (Beside.Count > Searched || !Beside.Contains(other))
            {
                Beside.Add(other);
            }
        }
    }

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
        var found = new List<MeshRegion>();
        var tries = 0;
        var order = Enumerable.Range(0, facets.Count).ToArray();
        Array.Sort(facets.Select(f => -f.Area).ToArray(), order);
        foreach (var start in order)
        {
            if (facets[start].Taken || facets[start].Tried || facets[start].Beside.Count == 0 || tries++ >= MostTries)
            {
                continue;
            }

            // A piece of a sphere may pass for one of a cylinder, for a while: whichever goes further.
            var (tube, ball) = (GrownTube(start), GrownBall(start));
            if ((ball?.Facets.Count > (tube?.Facets.Count ?? 0) ? ball : tube) is var (of, surface))
            {
                of.ForEach(i => facets[i].Taken = true);
                found.Add(new MeshRegion([.. of.SelectMany(i => facets[i].Triangles)], surface));
            }
        }

        foreach (var flat in facets.Where(f => !f.Taken && StandsOut(f)).ToList())
        {
            found.Add(Flat(flat));
        }

        found.AddRange(Others());
        found = [.. found.OrderByDescending(r => r.Triangles.Sum(t => mesh.Span(t).Length)).ThenBy(r => r.Triangles.Min())];
        if (found.Count > Most)
        {
            found = [.. found.Take(Most - 1), new MeshRegion([.. found.Skip(Most - 1).SelectMany(r => r.Triangles)], null)];
        }

        return [.. found];
    }

    /// <summary>From the largest triangle on, everything round about that lies in its plane.</summary>
    private void MakeFacets()
    {
        var (spans, order, sizes) = (new Vec3[mesh.Count], new int[mesh.Count], new double[mesh.Count]);
        for (var t = 0; t < mesh.Count; t++)
        {
            (spans[t], order[t]) = (mesh.Span(t), t);
            sizes[t] = -spans[t].Dot(spans[t]);
        }

        Array.Sort(sizes, order);
        var waiting = new Stack<int>();
        foreach (var seed in order)
        {
            if (facetOf[seed] >= 0)
            {
                continue;
            }

            var (normal, on) = (spans[seed].Unit, mesh.Corner(seed, 0));
            var facet = new Facet(normal);
            facetOf[seed] = facets.Count;
            waiting.Push(seed);
            while (waiting.TryPop(out var t))
            {
                facet.Triangles.Add(t);
                facet.Area += spans[t].Length / 2;
                for (var k = 0; k < 3; k++)
                {
                    var next = across[(3 * t) + k];
                    if (next >= 0 && facetOf[next] < 0 && InPlane(next, spans[next], normal, on))
                    {
                        facetOf[next] = facets.Count;
                        waiting.Push(next);
                    }
                }
            }

            facets.Add(facet);
        }
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
        for (var side = 0; side < across.Length; side++)
        {
            if (across[side] < 0)
            {
                continue;
            }

            var (a, b) = (facetOf[side / 3], facetOf[across[side]]);
            if (a != b && facets[a].Normal.Dot(facets[b].Normal) > flat)
            {
                facets[a].GoesOverInto(b);
                facets[b].GoesOverInto(a);
            }
        }
    }

    /// <summary>Whether a facet is much larger than most of those that it goes over into, as far as they belong nowhere yet.</summary>
    private bool StandsOut(Facet facet)
    {
        var (smaller, all) = (0, 0);
        foreach (var i in facet.Beside)
        {
            all += facets[i].Taken ? 0 : 1;
            smaller += !facets[i].Taken && facets[i].Area * Larger <= facet.Area ? 1 : 0;
        }

        return 2 * smaller > all || all == 0;
    }

    private MeshRegion Flat(Facet facet)
    {
        facet.Taken = true;
        return new MeshRegion([.. facet.Triangles], new FlatSurface(Plane3.Through(mesh.Corner(facet.Triangles[0], 0), facet.Normal)));
    }

    private CylinderSurface? Tube(IReadOnlyList<int> of) => MeshFitting.Cylinder([.. of.Select(i => facets[i].Normal)], Points(of));

    private SphereSurface? Ball(IReadOnlyList<int> of) => MeshFitting.Sphere(Points(of));

    private Vec3[] Points(IReadOnlyList<int> of) => [.. of.SelectMany(i => facets[i].Triangles).SelectMany(t => Enumerable.Range(0, 3).Select(k => mesh.Corners[(3 * t) + k])).Distinct().Select(i => mesh.Places[i])];

    /// <summary>A cylinder through a facet and one beside it, and as far as facets lie on it.</summary>
    private (List<int> Facets, Surface Surface)? GrownTube(int start) => Grown(start, Free(start).Take(6).Select(beside => (int[])[start, beside]), Tube, FewestOfCylinder);

    /// <summary>A sphere through a facet and those beside it, likewise.</summary>
    private (List<int> Facets, Surface Surface)? GrownBall(int start) => Grown(start, Free(start).Any() ? [[start, .. Free(start).Take(4)]] : [], Ball, FewestOfSphere);

    private IEnumerable<int> Free(int facet) => facets[facet].Beside.Where(i => !facets[i].Taken);

    /// <summary>The first surface through facets to begin with that enough facets lie on; null where there is none.</summary>
    private (List<int> Facets, Surface Surface)? Grown(int start, IEnumerable<int[]> seeds, Func<IReadOnlyList<int>, Surface?> fit, int fewest)
    {
        foreach (var seed in seeds)
        {
            if (fit(seed) is not { } first || Along(start, first) is not { } some || some.Count < fewest)
            {
                continue;
            }

            if (fit(some) is { } better && Along(start, better) is { } all && all.Count >= fewest && all.Max(i => facets[i].Normal.AngleTo(facets[start].Normal)) > Round && Even(all, better))
            {
                return (all, better);
            }

            // Many that are nothing round are not grown over again from each of them.
            foreach (var i in some.Count >= TooManyToRepeat ? some : [])
            {
                facets[i].Tried = true;
            }
        }

        return null;
    }

    /// <summary>The facets reached from one that lie on a surface; null where the first does not, or where it is too large to have
    /// been cut into these.</summary>
    private List<int>? Along(int start, Surface surface)
    {
        var radius = surface is CylinderSurface c ? c.Radius : surface is SphereSurface s ? s.Radius : 0;
        if (!(radius < 1e3 * (slack / Off)) || !Lies(facets[start], surface))
        {
            return null;
        }

        var (found, seen) = (new List<int> { start }, new HashSet<int> { start });
        for (var at = 0; at < found.Count; at++)
        {
            foreach (var next in facets[found[at]].Beside)
            {
                if (seen.Add(next) && !facets[next].Taken && Lies(facets[next], surface))
                {
                    found.Add(next);
                }
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

        var widths = of.Select(i => Width(facets[i], tube)).Order().ToList();
        var strips = of.Count(i => facets[i].Triangles.Count > 1);
        return widths[^1] <= widths[widths.Count / 2] * (of.Count < Many ? 1.5 : 3) && (2 * strips >= of.Count || of.Count >= Many);
    }

    /// <summary>How far a facet goes round an axis, in radians.</summary>
    private double Width(Facet facet, CylinderSurface tube)
    {
        var (middle, across) = (facet.Normal, tube.Axis.Direction.Cross(facet.Normal));
        var away = tube.Axis.Foot(mesh.Corner(facet.Triangles[0], 0));
        middle = (mesh.Corner(facet.Triangles[0], 0) - away).Dot(middle) < 0 ? -middle : middle;
        var angles = facet.Triangles.SelectMany(t => Enumerable.Range(0, 3).Select(k => mesh.Corner(t, k) - tube.Axis.Foot(mesh.Corner(t, k)))).Select(d => Math.Atan2(d.Dot(across), d.Dot(middle))).ToList();
        return angles.Max() - angles.Min();
    }

    /// <summary>Whether all corners lie on a surface, and it faces the way of the facet or against it throughout.</summary>
    private bool Lies(Facet facet, Surface surface)
    {
        var along = Math.Cos(Crease);
        foreach (var t in facet.Triangles)
        {
            for (var k = 0; k < 3; k++)
            {
                var p = mesh.Corner(t, k);
                if (Math.Abs(surface.Side(p)) > slack || Math.Abs(surface.Normal(p).Dot(facet.Normal)) < along)
                {
                    return false;
                }
            }
        }

        // A facet of a cylinder runs along it.
        return surface is not CylinderSurface tube || Math.Abs(tube.Axis.Direction.Dot(facet.Normal)) < 1e-3;
    }

    /// <summary>What no surface was found for: each smooth stretch a region, a facet by itself flat.</summary>
    private IEnumerable<MeshRegion> Others()
    {
        var waiting = new Stack<int>();
        for (var i = 0; i < facets.Count; i++)
        {
            if (facets[i].Taken)
            {
                continue;
            }

            var members = new List<int>();
            facets[i].Taken = true;
            waiting.Push(i);
            while (waiting.TryPop(out var at))
            {
                members.Add(at);
                foreach (var next in facets[at].Beside.Where(n => !facets[n].Taken))
                {
                    facets[next].Taken = true;
                    waiting.Push(next);
                }
            }

            yield return members.Count == 1 ? Flat(facets[i]) : new MeshRegion([.. members.SelectMany(m => facets[m].Triangles)], null);
        }
    }
}
