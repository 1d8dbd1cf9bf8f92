using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Meshes;

/// <summary>Triangles of a file as something to measure and to build on: faces, edges and points with names, as a body has them, but
/// no material. Lengths in millimetres.</summary>
public sealed class ReferenceBody : INamedBody
{
    /// <summary>Stretches nearer than this, in millimetres, are one.</summary>
    private const double Gap = 1e-5;

    private readonly ImmutableArray<MeshRegion> regions;
    private readonly ImmutableArray<ImmutableArray<int>> chains;
    private readonly int[] regionOf;
    private readonly Lock gate = new();
    private SolidMesh? drawn;

    /// <param name="name">Id of its step.</param>
    /// <param name="key">Content key: the same key means the same triangles.</param>
    /// <param name="mesh">At least one triangle.</param>
    public ReferenceBody(string name, string key, TriangleMesh mesh)
    {
        (Name, Key, Mesh) = (name, key, mesh);
        regions = MeshRegions.Of(mesh);
        regionOf = new int[mesh.Count];
        for (var r = 0; r < regions.Length; r++)
        {
            foreach (var t in regions[r].Triangles)
            {
                regionOf[t] = r;
            }
        }

        Box = mesh.Box;
        var area = 0.0;
        var moment = Vec3.Zero;
        for (var t = 0; t < mesh.Count; t++)
        {
            var part = mesh.Span(t).Length / 2;
            (area, moment) = (area + part, moment + (mesh.Middle(t) * part));
        }

        (Area, Centre) = (area, area > 0 ? moment / area : (Box.Low + Box.High) / 2);
        var outlines = MeshOutlines.Of(mesh, regionOf);
        chains = outlines.Chains;
        Topology = new Topology(
            [.. regions.Select(Face)],
            [.. outlines.Chains.Select((c, i) => outlines.Edge(mesh, i))],
            [.. outlines.Ends.Select(v => mesh.Places[v])]
        );
        Names = Open(Names.Of([.. Enumerable.Range(1, regions.Length).Select(i => $"{name}/face/{i}")], Topology));
    }

    public string Name { get; }

    public string Key { get; }

    public TriangleMesh Mesh { get; }

    public Topology Topology { get; }

    public Names Names { get; }

    public Box Box { get; }

    /// <summary>Centre of area.</summary>
    public Vec3 Centre { get; }

    /// <summary>Of all triangles, in mm².</summary>
    public double Area { get; }

    /// <summary>What a name means: the whole, a face or an edge; null for anything else.</summary>
    public SubShape? Find(string reference) => Kernel.World.IsBody(reference, Name) ? default(SubShape) : Names.Find(reference);

    /// <summary>The triangles of a face, or of the whole.</summary>
    public IReadOnlyList<int> Triangles(SubShape part) =>
        part.Kind == SubShapeKind.Face ? regions[part.Index].Triangles : [.. Enumerable.Range(0, Mesh.Count)];

    /// <summary>For drawing: corners by face, round ones with the normals of what they were cut from.</summary>
    public SolidMesh Drawn()
    {
        lock (gate)
        {
            return drawn ??= Draw();
        }
    }

    /// <summary>Where the triangles meet a plane: the faces, and straight stretches as long as they go.</summary>
    public IEnumerable<FaceCurve> Section(Frame plane)
    {
        var cut = new Plane3(plane.Z, -plane.Z.Dot(plane.Origin));
        var stretches = new Dictionary<int, List<VecPair>>();
        for (var t = 0; t < Mesh.Count; t++)
        {
            var at = Crossing(cut, t);
            if (at is { } stretch && stretch.A.DistanceTo(stretch.B) > Tolerances.Length)
            {
                (stretches.TryGetValue(regionOf[t], out var known) ? known : stretches[regionOf[t]] = []).Add(stretch);
            }
        }

        foreach (var (region, all) in stretches.OrderBy(s => s.Key))
        {
            foreach (var (a, b) in Joined(all))
            {
                yield return new FaceCurve(Names.Faces[region], Straight(a, b));
            }
        }
    }

    /// <summary>Edges where the triangles end have but one face: they are told apart by a number.</summary>
    private Names Open(Names names)
    {
        var open = 0;
        return names with
        {
            Edges =
            [
                .. names.Edges.Select((edge, i) => Topology.Edges[i].Faces is [var face] ? $"{names.Faces[face]}^open/{++open}" : edge),
            ],
        };
    }

    internal static EdgeShape Straight(Vec3 a, Vec3 b) =>
        new("line", [], [], a.DistanceTo(b), (a + b) / 2) { Numbers = [a.X, a.Y, a.Z, b.X, b.Y, b.Z] };

    private VecPair? Crossing(Plane3 cut, int t)
    {
        var ends = new List<Vec3>(2);
        for (var k = 0; k < 3; k++)
        {
            var (p, q) = (Mesh.Corner(t, k), Mesh.Corner(t, (k + 1) % 3));
            var (a, b) = (cut.Side(p), cut.Side(q));

            // A corner in the plane counts as above it: what lies wholly in the plane is met by its neighbours.
            if (a >= 0 != b >= 0)
            {
                ends.Add(p + ((q - p) * (a / (a - b))));
            }
        }

        return ends.Count == 2 ? new VecPair(ends[0], ends[1]) : null;
    }

    /// <summary>Stretches of one line that follow each other, as one.</summary>
    private static IEnumerable<VecPair> Joined(List<VecPair> all)
    {
        // How far, in millimetres, a corner may lie off the line through its neighbours and still be left out.
        const double Straight = 1e-7;
        var groups = all.GroupBy(s =>
        {
            var d = (s.B - s.A).Unit;
            d = d.X < -Straight || (Math.Abs(d.X) <= Straight && (d.Y < -Straight || (Math.Abs(d.Y) <= Straight && d.Z < 0))) ? -d : d;
            var foot = s.A - (d * s.A.Dot(d));
            return (
                Math.Round(d.X, 6),
                Math.Round(d.Y, 6),
                Math.Round(d.Z, 6),
                Math.Round(foot.X, 5),
                Math.Round(foot.Y, 5),
                Math.Round(foot.Z, 5)
            );
        });
        foreach (var group in groups)
        {
            var first = group.First();
            var d = (first.B - first.A).Unit;
            var spans = group
                .Select(s => (From: Math.Min(s.A.Dot(d), s.B.Dot(d)), To: Math.Max(s.A.Dot(d), s.B.Dot(d))))
                .OrderBy(s => s.From)
                .ToList();
            var foot = first.A - (d * first.A.Dot(d));
            var (from, to) = spans[0];
            foreach (var next in spans.Skip(1))
            {
                if (next.From > to + Gap)
                {
                    yield return new VecPair(foot + (d * from), foot + (d * to));
                    (from, to) = next;
                }

                to = Math.Max(to, next.To);
            }

            yield return new VecPair(foot + (d * from), foot + (d * to));
        }
    }

    private FaceShape Face(MeshRegion region)
    {
        var (area, moment, span) = (0.0, Vec3.Zero, Vec3.Zero);
        foreach (var t in region.Triangles)
        {
            var s = Mesh.Span(t);
            (area, moment, span) = (area + (s.Length / 2), moment + (Mesh.Middle(t) * (s.Length / 2)), span + s);
        }

        var centre = area > 0 ? moment / area : Mesh.Corner(region.Triangles[0], 0);
        var (at, out1) = (Mesh.Middle(region.Triangles[0]), Mesh.Span(region.Triangles[0]).Unit);
        switch (region.Surface)
        {
            case FlatSurface:
                var normal = span.Unit;

                // Through the middle of its corners, so that what files round off evens out.
                return new FaceShape("plane", Frame.Facing(centre, normal), area, centre)
                {
                    Guide = AxisGuide.Of(Frame.Facing(centre, normal)),
                };
            case CylinderSurface tube:
                var o = tube.Axis.Foot(centre);
                return new FaceShape("cylinder", null, area, centre)
                {
                    Numbers =
                    [
                        at.X,
                        at.Y,
                        at.Z,
                        out1.X,
                        out1.Y,
                        out1.Z,
                        o.X,
                        o.Y,
                        o.Z,
                        tube.Axis.Direction.X,
                        tube.Axis.Direction.Y,
                        tube.Axis.Direction.Z,
                        tube.Radius,
                    ],
                };
            case SphereSurface ball:
                return new FaceShape("sphere", null, area, centre)
                {
                    Numbers = [at.X, at.Y, at.Z, out1.X, out1.Y, out1.Z, ball.Centre.X, ball.Centre.Y, ball.Centre.Z, ball.Radius],
                };
            default:
                return new FaceShape("other", null, area, centre);
        }
    }

    private SolidMesh Draw()
    {
        // A place is a corner once for each region about it; its number there, and the region that this was for.
        var (own, ownIn) = (new int[Mesh.Places.Length], new int[Mesh.Places.Length]);
        var (places, sums, triangles, filled) = (
            new List<int>(Mesh.Places.Length),
            new List<Vec3>(Mesh.Places.Length),
            new int[Mesh.Corners.Length],
            0
        );
        for (var r = 0; r < regions.Length; r++)
        {
            foreach (var t in regions[r].Triangles)
            {
                var span = Mesh.Span(t);
                for (var k = 0; k < 3; k++)
                {
                    var place = Mesh.Corners[(3 * t) + k];
                    if (ownIn[place] != r + 1)
                    {
                        (own[place], ownIn[place]) = (places.Count, r + 1);
                        places.Add(place);
                        sums.Add(Vec3.Zero);
                    }

                    sums[own[place]] += span;
                    triangles[filled++] = own[place];
                }
            }
        }

        return new SolidMesh(
            Numbers(places.Select(i => Mesh.Places[i]), places.Count),
            Numbers(sums.Select(s => s.Unit), sums.Count),
            Bytes<int>(triangles),
            [.. regions.Select(r => r.Triangles.Length)],
            Numbers(chains.SelectMany(c => c.Select(v => Mesh.Places[v])), chains.Sum(c => c.Length)),
            [.. chains.Select(c => c.Length)]
        );
    }

    /// <summary>Three float32 for each place or direction.</summary>
    private static byte[] Numbers(IEnumerable<Vec3> vectors, int count)
    {
        var (numbers, filled) = (new float[3 * count], 0);
        foreach (var v in vectors)
        {
            (numbers[filled], numbers[filled + 1], numbers[filled + 2]) = ((float)v.X, (float)v.Y, (float)v.Z);
            filled += 3;
        }

        return Bytes<float>(numbers);
    }

    private static byte[] Bytes<T>(Span<T> values)
        where T : unmanaged => MemoryMarshal.AsBytes(values).ToArray();
}
