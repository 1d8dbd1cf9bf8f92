using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.InteropServices;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching.Regions;

namespace Ratiogon.Solids;

/// <summary>Solids over the open-source B-rep geometry library. Not for the server process: see the worker pool.</summary>
public sealed class NativeKernel : ISolidKernel
{
    private const int NumbersPerEdge = 9;
    private const int NumbersPerFace = 13;
    private const int IntsPerEdge = 6;
    private const int MeasuresPerEdge = 8;
    private static readonly string[] Surfaces = ["plane", "cylinder", "cone", "sphere", "torus", "other"];
    private static readonly string[] Curves = ["line", "circle", "ellipse", "other"];

    public Outcome<SolidResult> Extrude(ImmutableArray<Region> regions, Frame plane, double from, double to, bool startAtTo)
    {
        var loops = regions.SelectMany(r => new[] { r.Outer }.Concat(r.Holes)).ToList();
        var (edges, extra) = (new List<double>(), new List<double>());
        foreach (var e in loops.SelectMany(l => l))
        {
            if (e.Free is { } free)
            {
                AddFree(edges, extra, e, free);
                continue;
            }

            edges.AddRange([e.Full ? 2 : e.Round ? 1 : 0, e.From.X, e.From.Y, e.To.X, e.To.Y, e.Centre.X, e.Centre.Y, e.Radius, e.Counterclockwise ? 1 : 0]);
        }

        System.Diagnostics.Debug.Assert(edges.Count % NumbersPerEdge == 0);
        int[] loopEdges = [.. loops.Select(l => l.Length)];
        int[] regionLoops = [.. regions.Select(r => 1 + r.Holes.Length)];
        if (Native.Extrude(Numbers(plane), edges.ToArray(), extra.ToArray(), loopEdges, regionLoops, regions.Length, from, to, out var result) != 0)
        {
            return Failed("extrude");
        }

        using (result)
        {
            return Result(result, startAtTo);
        }
    }

    /// <summary>Ellipses go over as they are, splines as the poles of their cubic pieces.</summary>
    private static void AddFree(List<double> edges, List<double> extra, ProfileEdge e, PlaneCurve curve)
    {
        if (curve is EllipseCurve ellipse)
        {
            edges.AddRange([4, e.From.X, e.From.Y, e.To.X, e.To.Y, ellipse.Centre.X, ellipse.Centre.Y, 0, e.Forward ? 1 : 0]);
            extra.AddRange([ellipse.U.X, ellipse.U.Y, ellipse.V.X, ellipse.V.Y]);
            return;
        }

        var (from, to) = (Math.Min(e.Stretch.From, e.Stretch.To), Math.Max(e.Stretch.From, e.Stretch.To));
        var poles = ((SplineCurve)curve).Beziers(from, to);
        poles = e.Stretch.From <= e.Stretch.To ? poles : [.. poles.Reverse()];
        edges.AddRange([3, e.From.X, e.From.Y, e.To.X, e.To.Y, poles.Count, 0, 0, 0]);
        extra.AddRange(poles.SelectMany(p => new[] { p.X, p.Y }));
    }

    public Outcome<SolidResult> Join(ISolid a, ISolid b) => Boolean(0, a, b);

    public Outcome<SolidResult> Cut(ISolid a, ISolid b) => Boolean(1, a, b);

    public Topology Describe(ISolid solid)
    {
        var handle = Of(solid);
        Span<int> counts = stackalloc int[4];
        Native.Counts(handle, counts);
        var (faceCount, edgeCount, vertexCount) = (counts[0], counts[1], counts[2]);
        var faceInts = new int[faceCount];
        var faceNumbers = new double[faceCount * NumbersPerFace];
        var edgeInts = new int[edgeCount * IntsPerEdge];
        var edgeNumbers = new double[edgeCount * MeasuresPerEdge];
        var vertexNumbers = new double[vertexCount * 3];
        Demand(Native.Describe(handle, faceInts, faceNumbers, edgeInts, edgeNumbers, vertexNumbers));
        return new Topology(
            [.. Enumerable.Range(0, faceCount).Select(i => Face(faceInts[i], faceNumbers.AsSpan(i * NumbersPerFace, NumbersPerFace)) with { Numbers = Geometry(handle, SubShapeKind.Face, i) })],
            [.. Enumerable.Range(0, edgeCount).Select(i => Edge(edgeInts.AsSpan(i * IntsPerEdge, IntsPerEdge), edgeNumbers.AsSpan(i * MeasuresPerEdge, MeasuresPerEdge)) with { Numbers = Geometry(handle, SubShapeKind.Edge, i) })],
            [.. Enumerable.Range(0, vertexCount).Select(i => Point(vertexNumbers.AsSpan(3 * i, 3)))]);
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
            var edges = Describe(cut).Edges;
            return Enumerable.Range(0, origins.Length / 4).Where(i => origins[(4 * i) + 3] >= 0).Select(i => new SectionEdge(origins[(4 * i) + 3], edges[origins[4 * i]])).ToImmutableArray();
        }
    }

    private static double[] Numbers(Frame plane) => [plane.Origin.X, plane.Origin.Y, plane.Origin.Z, plane.X.X, plane.X.Y, plane.X.Z, plane.Y.X, plane.Y.Y, plane.Y.Z];

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
        return new MassProperties(five[0], five[1], new Vec3(five[2], five[3], five[4]));
    }

    public Box Bounds(ISolid solid)
    {
        Span<double> six = stackalloc double[6];
        Demand(Native.Bounds(Of(solid), six));
        return new Box(Point(six[..3]), Point(six[3..]));
    }

    public SolidMesh Mesh(ISolid solid, double deviation)
    {
        Demand(Native.MeshMake(Of(solid), deviation, out var mesh));
        using (mesh)
        {
            Span<int> three = stackalloc int[3];
            Native.MeshCounts(mesh, three);
            Span<int> counts = stackalloc int[4];
            Native.Counts(Of(solid), counts);
            const int Corner = 3 * sizeof(float);
            var made = new SolidMesh(new byte[three[0] * Corner], new byte[three[0] * Corner], new byte[three[1] * 3 * sizeof(uint)], new int[counts[0]], new byte[three[2] * Corner], new int[counts[1]]);
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

    public Outcome<byte[]> WriteStep(IReadOnlyList<(string Name, ISolid Solid)> bodies)
    {
        if (bodies.Count == 0)
        {
            return new Refusal("export.empty", "The part has no body to write yet.");
        }

        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.step");
        var handles = bodies.Select(b => Of(b.Solid)).ToArray();
        try
        {
            // The handles are kept alive by the bodies, which the caller holds.
            var pointers = Array.ConvertAll(handles, h => h.DangerousGetHandle());
            var done = Native.StepWrite(pointers, pointers.Length, Plain(bodies[0].Name), path) == 0;
            GC.KeepAlive(handles);
            return done ? File.ReadAllBytes(path) : Failed("STEP");
        }
        finally
        {
            File.Delete(path);
        }
    }

    public Outcome<ISolid> ReadStep(ReadOnlyMemory<byte> file)
    {
        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.step");
        try
        {
            File.WriteAllBytes(path, file.Span);
            return Native.StepRead(path, out var shape) == 0
                ? new NativeSolid(shape)
                : new Refusal("import.step", $"The STEP file cannot be used: {Native.Error()}.");
        }
        finally
        {
            File.Delete(path);
        }
    }

    private static Outcome<SolidResult> Boolean(int operation, ISolid a, ISolid b)
    {
        if (Native.Boolean(operation, Of(a), Of(b), out var result) != 0)
        {
            return Native.Error() == "nothing is left of the body" ? new Refusal("form.nothing-left", "The cut would leave nothing of the body.") : Failed(operation == 0 ? "join" : "cut");
        }

        using (result)
        {
            return Result(result, false);
        }
    }

    private static SolidResult Result(ResultHandle result, bool startAtTo)
    {
        var flat = new int[4 * Native.ResultOriginCount(result)];
        Native.ResultOrigins(result, flat);
        var solid = new NativeSolid(Native.ResultTakeShape(result));
        Span<int> counts = stackalloc int[4];
        Native.Counts(solid.Handle, counts);
        var origins = new List<FaceOrigin>[counts[0]];
        for (var i = 0; i < origins.Length; i++)
        {
            origins[i] = [];
        }

        for (var i = 0; i < flat.Length; i += 4)
        {
            var kind = (OriginKind)flat[i + 2];
            kind = !startAtTo ? kind : kind switch { OriginKind.StartCap => OriginKind.EndCap, OriginKind.EndCap => OriginKind.StartCap, _ => kind };
            origins[flat[i]].Add(new FaceOrigin(flat[i + 1], kind, flat[i + 3]));
        }

        return new SolidResult(solid, [.. origins.Select(o => o.ToImmutableArray())]);
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
        new(Curves[i[0]], i[1] < 0 ? [] : i[2] < 0 ? [i[1]] : [i[1], i[2]], [i[3], i[4]], n[0], Point(n[1..4])) { Radius = n[4], Centre = Point(n[5..8]), Seam = i[5] != 0 };

    private static Vec3 Point(ReadOnlySpan<double> n) => new(n[0], n[1], n[2]);

    private static string Plain(string name) => string.Concat(name.Select(c => c is '\'' or '\\' ? ' ' : c < 128 ? c : '_')).ToString(CultureInfo.InvariantCulture);

    private static ShapeHandle Of(ISolid solid) => ((NativeSolid)solid).Handle;

    private static Refusal Failed(string what) => new($"kernel.{what}", $"The geometry library could not do the {what}: {Native.Error()}");

    private static void Demand(int code)
    {
        if (code != 0)
        {
            throw new InvalidOperationException(Native.Error());
        }
    }
}
