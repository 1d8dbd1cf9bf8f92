using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Solids;

/// <summary>What bodies are found to be: their faces and edges, mass, size, triangles, distances.</summary>
public sealed partial class NativeKernel
{
    private const int NumbersPerFace = 13;
    private const int IntsPerEdge = 6;
    private const int MeasuresPerEdge = 8;
    private static readonly string[] Surfaces = ["plane", "cylinder", "cone", "sphere", "torus", "other"];
    private static readonly string[] Curves = ["line", "circle", "ellipse", "other"];

    public Topology Describe(ISolid solid)
    {
        var own = (NativeSolid)solid;
        return own.Described ??= Describe(own.Handle);
    }

    private static Topology Describe(ShapeHandle handle)
    {
        var (faceCount, edgeCount, vertexCount, _) = Counts(handle);
        var faceInts = new int[faceCount];
        var faceNumbers = new double[faceCount * NumbersPerFace];
        var edgeInts = new int[edgeCount * IntsPerEdge];
        var edgeNumbers = new double[edgeCount * MeasuresPerEdge];
        var vertexNumbers = new double[vertexCount * 3];
        Demand(Native.Describe(handle, faceInts, faceNumbers, edgeInts, edgeNumbers, vertexNumbers));
        return new Topology(
            [
                .. Enumerable
                    .Range(0, faceCount)
                    .Select(i =>
                        Face(faceInts[i], faceNumbers.AsSpan(i * NumbersPerFace, NumbersPerFace)) with
                        {
                            Numbers = Geometry(handle, SubShapeKind.Face, i),
                        }
                    ),
            ],
            [
                .. Enumerable
                    .Range(0, edgeCount)
                    .Select(i =>
                        Edge(edgeInts.AsSpan(i * IntsPerEdge, IntsPerEdge), edgeNumbers.AsSpan(i * MeasuresPerEdge, MeasuresPerEdge)) with
                        {
                            Numbers = Geometry(handle, SubShapeKind.Edge, i),
                        }
                    ),
            ],
            [.. Enumerable.Range(0, vertexCount).Select(i => Point(vertexNumbers.AsSpan(3 * i, 3)))]
        );
    }

    public Outcome<ImmutableArray<SectionEdge>> Section(ISolid solid, Frame plane)
    {
        if (Native.Section(Of(solid), Numbers(plane), out var result) != 0)
        {
            return Failed("section");
        }

        using (result)
        {
            var origins = new int[4 * Native.ResultOriginCount(result)];
            Native.ResultOrigins(result, origins);
            using var cut = new NativeSolid(Native.ResultTakeShape(result));
            var edges = Describe(cut.Handle).Edges;
            return Enumerable
                .Range(0, origins.Length / 4)
                .Where(i => origins[(4 * i) + 3] >= 0)
                .Select(i => new SectionEdge(origins[(4 * i) + 3], edges[origins[4 * i]]))
                .ToImmutableArray();
        }
    }

    private static ImmutableArray<double> Geometry(ShapeHandle shape, SubShapeKind kind, int index)
    {
        Demand(Native.GeometryFind(shape, (int)kind, index, out var count));
        var numbers = new double[count];
        Native.GeometryRead(numbers);
        return ImmutableCollectionsMarshal.AsImmutableArray(numbers);
    }

    public MassProperties Mass(ISolid solid)
    {
        Span<double> five = stackalloc double[5];
        Demand(Native.Mass(Of(solid), five));
        return new MassProperties(five[0], five[1], Point(five[2..]));
    }

    public Inertia Inertia(ISolid solid)
    {
        Span<double> six = stackalloc double[6];
        Demand(Native.Inertia(Of(solid), six));
        return new Inertia(six[0], six[1], six[2], six[3], six[4], six[5]);
    }

    public Box Bounds(ISolid solid)
    {
        Span<double> six = stackalloc double[6];
        Demand(Native.Bounds(Of(solid), six));
        return new Box(Point(six[..3]), Point(six[3..]));
    }

    public SolidMesh Mesh(ISolid solid, double deviation, bool coarse = false)
    {
        Demand(Native.MeshMake(Of(solid), deviation, coarse ? 1 : 0, out var mesh));
        using (mesh)
        {
            Span<int> three = stackalloc int[3];
            Native.MeshCounts(mesh, three);
            Span<int> counts = stackalloc int[4];
            Native.Counts(Of(solid), counts);
            const int Corner = 3 * sizeof(float);
            var made = new SolidMesh(
                new byte[three[0] * Corner],
                new byte[three[0] * Corner],
                new byte[three[1] * 3 * sizeof(uint)],
                new int[counts[0]],
                new byte[three[2] * Corner],
                new int[counts[1]]
            );
            Native.MeshRead(mesh, made.Positions, made.Normals, made.Triangles, made.FaceTriangles, made.EdgePoints, made.EdgeCounts);
            return made;
        }
    }

    public Outcome<Nearest> Distance(ISolid a, SubShape ofA, ISolid b, SubShape ofB)
    {
        Span<double> seven = stackalloc double[7];
        return Native.Distance(Of(a), (int)ofA.Kind, ofA.Index, Of(b), (int)ofB.Kind, ofB.Index, seven) == 0
            ? new Nearest(seven[0], Point(seven[1..4]), Point(seven[4..7]))
            : Failed("distance");
    }

    public SharpestBend? Bend(ISolid solid, int face)
    {
        Span<double> four = stackalloc double[4];
        Demand(Native.Bend(Of(solid), face, four));
        return four[0] > 0 ? new SharpestBend(four[0], Point(four[1..4])) : null;
    }

    public double Deviation(ISolid solid)
    {
        Demand(Native.MeshDeviation(Of(solid), out var deviation));
        return deviation;
    }

    public ImmutableArray<MaterialStretch> Probe(ISolid a, Line3 line)
    {
        Demand(Native.Probe(Of(a), Numbers(line), out var count));
        var all = new double[10 * count];
        Native.ProbeRead(all);
        FaceMeeting Meeting(int at) => new(all[at], (int)all[at + 1], Point(all.AsSpan(at + 2, 3)));
        return [.. Enumerable.Range(0, count).Select(i => new MaterialStretch(Meeting(10 * i), Meeting((10 * i) + 5)))];
    }

    private static FaceShape Face(int kind, ReadOnlySpan<double> n)
    {
        Frame? plane = null;
        if (kind == 0)
        {
            // The stable rule of the sketch axes, with the origin where the world's origin meets the plane.
            var normal = Point(n[6..9]);
            plane = Frame.Facing(normal * Point(n[..3]).Dot(normal), normal);
        }

        return new FaceShape(Surfaces[kind], plane, n[9], Point(n[10..13]));
    }

    private static EdgeShape Edge(ReadOnlySpan<int> i, ReadOnlySpan<double> n) =>
        new(
            Curves[i[0]],
            i[1] < 0 ? []
                : i[2] < 0 ? [i[1]]
                : [i[1], i[2]],
            [i[3], i[4]],
            n[0],
            Point(n[1..4])
        )
        {
            Radius = n[4],
            Centre = Point(n[5..8]),
            Seam = i[5] != 0,
        };
}
