using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching.Regions;

namespace Ratiogon.Core.Forms;

/// <summary>An exact body held by a kernel. Freed when disposed.</summary>
public interface ISolid : IDisposable;

/// <summary>Where a face of a result comes from.</summary>
/// <param name="Input">Which input: 0 is the first body, 1 the second; for an extrude always 0.</param>
/// <param name="Kind">What of the input it was.</param>
/// <param name="Index">Its number there: a face, or an edge of the profile counted through all loops.</param>
public readonly record struct FaceOrigin(int Input, OriginKind Kind, int Index);

public enum OriginKind
{
    /// <summary>A face of the input, kept or cut back.</summary>
    Face,

    /// <summary>Swept from an edge of the profile.</summary>
    Side,

    /// <summary>The profile where the extrude starts.</summary>
    StartCap,

    /// <summary>The profile where it ends.</summary>
    EndCap,
}

/// <summary>A result with, for every face of it, where that came from.</summary>
public sealed record SolidResult(ISolid Solid, ImmutableArray<ImmutableArray<FaceOrigin>> Origins);

/// <summary>What a face lies on.</summary>
/// <param name="Surface">plane, cylinder, cone, sphere, torus or other.</param>
/// <param name="Plane">Of a planar face, with its normal out of the material.</param>
/// <param name="Area">In mm².</param>
/// <param name="Centre">Centre of area, in millimetres.</param>
public sealed record FaceShape(string Surface, Frame? Plane, double Area, Vec3 Centre)
{
    /// <summary>What it lies on, as <see cref="ShapeNumbers"/> reads it.</summary>
    public ImmutableArray<double> Numbers { get; init; } = [];
}

/// <summary>What an edge is.</summary>
/// <param name="Curve">line, circle, ellipse or other.</param>
/// <param name="Faces">The faces it lies between.</param>
/// <param name="Ends">Its vertices; twice the same for a closed one.</param>
/// <param name="Length">In millimetres.</param>
/// <param name="Middle">The point at half its parameter range.</param>
public sealed record EdgeShape(string Curve, ImmutableArray<int> Faces, ImmutableArray<int> Ends, double Length, Vec3 Middle)
{
    /// <summary>Whether a closed face only meets itself there; not a real edge.</summary>
    public bool Seam { get; init; }

    /// <summary>Of a circle, in millimetres; otherwise 0.</summary>
    public double Radius { get; init; }

    /// <summary>Of a circle.</summary>
    public Vec3 Centre { get; init; }

    /// <summary>Its curve, as <see cref="ShapeNumbers"/> reads it.</summary>
    public ImmutableArray<double> Numbers { get; init; } = [];
}

/// <summary>The faces, edges and vertices of a body with how they hang together.</summary>
public sealed record Topology(ImmutableArray<FaceShape> Faces, ImmutableArray<EdgeShape> Edges, ImmutableArray<Vec3> Vertices);

/// <summary>Volume in mm³, area in mm², centre of mass in millimetres.</summary>
public readonly record struct MassProperties(double Volume, double Area, Vec3 Centre);

/// <summary>A box along the world axes, in millimetres.</summary>
public readonly record struct Box(Vec3 Low, Vec3 High)
{
    public double Diagonal => Low.DistanceTo(High);
}

/// <summary>Triangles and polylines of a body, as little-endian arrays ready to send.</summary>
/// <param name="Positions">float32 x, y, z for each corner.</param>
/// <param name="Normals">float32 x, y, z for each corner.</param>
/// <param name="Triangles">uint32, three corners each.</param>
/// <param name="FaceTriangles">For each face, how many triangles it has; they follow each other in order.</param>
/// <param name="EdgePoints">float32 x, y, z of the polylines, one after the other.</param>
/// <param name="EdgeCounts">For each edge, how many points it has.</param>
public sealed record SolidMesh(byte[] Positions, byte[] Normals, byte[] Triangles, int[] FaceTriangles, byte[] EdgePoints, int[] EdgeCounts);

/// <summary>A part of a body to measure from.</summary>
public readonly record struct SubShape(SubShapeKind Kind, int Index);

public enum SubShapeKind
{
    Whole,
    Face,
    Edge,
    Vertex,
}

/// <summary>A smallest distance with the two points that it lies between, in millimetres.</summary>
public readonly record struct Nearest(double Distance, Vec3 A, Vec3 B);

/// <summary>A curve where a face of a body meets a plane.</summary>
/// <param name="Face">The face's number.</param>
/// <param name="Curve">As it lies in space.</param>
public sealed record SectionEdge(int Face, EdgeShape Curve);

/// <summary>
/// Exact solids. Core says what to build; whoever implements this builds it. Failures of the geometry come back as
/// refusals with codes <c>kernel.*</c>.
/// </summary>
public interface ISolidKernel
{
    /// <summary>Prism of regions on a plane, from one offset to another along the plane's normal (millimetres, from &lt; to).
    /// With <paramref name="startAtTo"/> the start cap is the one at <paramref name="to"/>.</summary>
    Outcome<SolidResult> Extrude(ImmutableArray<Region> regions, Frame plane, double from, double to, bool startAtTo);

    /// <summary>Union; faces of one surface that come to lie side by side become one face.</summary>
    Outcome<SolidResult> Join(ISolid a, ISolid b);

    /// <summary>The first without the second.</summary>
    Outcome<SolidResult> Cut(ISolid a, ISolid b);

    Topology Describe(ISolid solid);

    /// <summary>The curves where the faces of a body meet a plane.</summary>
    Outcome<ImmutableArray<SectionEdge>> Section(ISolid solid, Frame plane);

    MassProperties Mass(ISolid solid);

    Box Bounds(ISolid solid);

    /// <param name="solid">The body.</param>
    /// <param name="deviation">Largest distance between surface and triangles, in millimetres.</param>
    SolidMesh Mesh(ISolid solid, double deviation);

    Outcome<Nearest> Distance(ISolid a, SubShape ofA, ISolid b, SubShape ofB);

    /// <summary>Writes bodies with their names as STEP (ISO 10303-21, AP214), in millimetres.</summary>
    Outcome<byte[]> WriteStep(IReadOnlyList<(string Name, ISolid Solid)> bodies);

    /// <summary>Reads a STEP file; refuses what is broken, empty or holds no solid.</summary>
    Outcome<ISolid> ReadStep(ReadOnlyMemory<byte> file);
}
