using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Kernel;

/// <summary>An exact body held by a kernel. Freed when disposed.</summary>
public interface ISolid : IDisposable;

/// <summary>Where a face of a result comes from.</summary>
/// <param name="Input">Which input: 0 is the first body, then the others; of a loft the profile.</param>
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

    /// <summary>Made of an edge of the input.</summary>
    Edge,

    /// <summary>Made of a vertex of the input.</summary>
    Vertex,

    /// <summary>Cut by a limit.</summary>
    Limit,

    /// <summary>The inner side of a face of the input.</summary>
    Inner,
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

    /// <summary>What its axes follow.</summary>
    public AxisGuide Guide { get; init; }
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

/// <summary>Moments and products of inertia about the centre of mass, along the world axes, for a density of 1: xx is the
/// integral of y² + z², xy of -x y, in mm⁵.</summary>
public readonly record struct Inertia(double Xx, double Yy, double Zz, double Xy, double Xz, double Yz);

/// <summary>Where a line meets a face.</summary>
/// <param name="At">Along the line from its origin, in millimetres.</param>
/// <param name="Face">The face's number.</param>
/// <param name="Normal">Out of the material.</param>
public readonly record struct FaceMeeting(double At, int Face, Vec3 Normal);

/// <summary>A stretch of material along a line.</summary>
public readonly record struct MaterialStretch(FaceMeeting In, FaceMeeting Out)
{
    public double Length => Out.At - In.At;
}

/// <summary>How an edge is bevelled.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ChamferHow>))]
public enum ChamferHow
{
    /// <summary>The same size on both faces.</summary>
    [JsonStringEnumMemberName("equal")]
    Equal,

    /// <summary>One size on the first face, another on the second.</summary>
    [JsonStringEnumMemberName("two-sizes")]
    TwoSizes,

    /// <summary>A size on the first face and an angle from it.</summary>
    [JsonStringEnumMemberName("angle")]
    Angle,
}

/// <summary>A box along the world axes, in millimetres.</summary>
public readonly record struct Box(Vec3 Low, Vec3 High)
{
    public double Diagonal => Low.DistanceTo(High);

    /// <summary>The smallest box about places, of which there is at least one.</summary>
    public static Box About(IEnumerable<Vec3> places)
    {
        var (low, high) = (
            new Vec3(double.PositiveInfinity, double.PositiveInfinity, double.PositiveInfinity),
            new Vec3(double.NegativeInfinity, double.NegativeInfinity, double.NegativeInfinity)
        );
        foreach (var p in places)
        {
            low = new Vec3(Math.Min(low.X, p.X), Math.Min(low.Y, p.Y), Math.Min(low.Z, p.Z));
            high = new Vec3(Math.Max(high.X, p.X), Math.Max(high.Y, p.Y), Math.Max(high.Z, p.Z));
        }

        return new Box(low, high);
    }

    /// <summary>Whether a stretch of a line with something round about it could lie in the box.</summary>
    public bool Reaches(Line3 line, double from, double to, double about)
    {
        var (a, b) = (line.At(from), line.At(to));
        return Math.Min(a.X, b.X) - about <= High.X
            && Math.Max(a.X, b.X) + about >= Low.X
            && Math.Min(a.Y, b.Y) - about <= High.Y
            && Math.Max(a.Y, b.Y) + about >= Low.Y
            && Math.Min(a.Z, b.Z) - about <= High.Z
            && Math.Max(a.Z, b.Z) + about >= Low.Z;
    }
}

/// <summary>Triangles and polylines of a body, as little-endian arrays ready to send.</summary>
/// <param name="Positions">float32 x, y, z for each corner.</param>
/// <param name="Normals">float32 x, y, z for each corner.</param>
/// <param name="Triangles">uint32, three corners each.</param>
/// <param name="FaceTriangles">For each face, how many triangles it has; they follow each other in order.</param>
/// <param name="EdgePoints">float32 x, y, z of the polylines, one after the other.</param>
/// <param name="EdgeCounts">For each edge, how many points it has.</param>
public sealed record SolidMesh(byte[] Positions, byte[] Normals, byte[] Triangles, int[] FaceTriangles, byte[] EdgePoints, int[] EdgeCounts)
{
    /// <summary>Whether another holds the same to the last bit.</summary>
    public bool IsSame(SolidMesh? other) =>
        ReferenceEquals(this, other)
        || (
            other is not null
            && Positions.AsSpan().SequenceEqual(other.Positions)
            && Normals.AsSpan().SequenceEqual(other.Normals)
            && Triangles.AsSpan().SequenceEqual(other.Triangles)
            && FaceTriangles.AsSpan().SequenceEqual(other.FaceTriangles)
            && EdgePoints.AsSpan().SequenceEqual(other.EdgePoints)
            && EdgeCounts.AsSpan().SequenceEqual(other.EdgeCounts)
        );
}

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

/// <summary>Formats of exact bodies.</summary>
public enum BodyFormat
{
    /// <summary>ISO 10303-21 by AP214.</summary>
    Step214,

    /// <summary>By AP242.</summary>
    Step242,
    Iges,
}

/// <summary>A body to be written.</summary>
/// <param name="Name">As shown.</param>
/// <param name="Solid">Its geometry.</param>
/// <param name="Colour">As #rrggbb.</param>
public sealed record NamedSolid(string Name, ISolid Solid, string Colour);

/// <summary>What was read from a file.</summary>
/// <param name="Solid">All solids of it as one shape.</param>
/// <param name="Name">The first name in it, or empty.</param>
/// <param name="Colour">The first colour in it as #rrggbb, or null.</param>
public sealed record ReadBodies(ISolid Solid, string Name, string? Colour)
{
    /// <summary>Of each of its solids, in order: its name, or empty, and its colour as #rrggbb, or null.</summary>
    public ImmutableArray<ReadBody> Bodies { get; init; } = [];

    /// <summary>The names of its solids where there are several; those of the same name, such as copies of one, are numbered.</summary>
    public Refs NamesOfSeveral
    {
        get
        {
            var (all, seen) = (Bodies.CountBy(b => b.Name).ToDictionary(), new Dictionary<string, int>());
            return Bodies.Length < 2
                ? []
                : Refs.Of(
                    Bodies.Select(b =>
                        b.Name.Length == 0 || all[b.Name] == 1 ? b.Name : $"{b.Name} {seen[b.Name] = seen.GetValueOrDefault(b.Name) + 1}"
                    )
                );
        }
    }

    /// <summary>Their colours, empty for those without.</summary>
    public Refs ColoursOfSeveral => Bodies.Length < 2 ? [] : Refs.Of(Bodies.Select(b => b.Colour ?? ""));

    /// <summary>What of the file was left out, and what is wrong with what was read, in words.</summary>
    public ImmutableArray<string> Said { get; init; } = [];
}

/// <summary>
/// Exact solids. Core says what to build; whoever implements this builds it. Failures of the geometry come back as
/// refusals with codes <c>kernel.*</c>.
/// </summary>
public interface ISolidKernel
{
    /// <summary>A profile pushed along a vector: sides, start cap on the profile's plane, end cap.</summary>
    Outcome<SolidResult> Prism(Profile profile, Vec3 along);

    /// <summary>A profile turned about an axis; 2π goes all round and leaves no caps.</summary>
    Outcome<SolidResult> Revolve(Profile profile, Line3 axis, double angle);

    /// <summary>A profile along a path, kept square to it.</summary>
    Outcome<SolidResult> Pipe(Profile profile, CurvePath path);

    /// <summary>One loop of a profile (0 the outer one) along a path, kept parallel to itself, or turned to face a guide.</summary>
    Outcome<SolidResult> Sweep(Profile profile, int region, int loop, CurvePath path, CurvePath? guide);

    /// <summary>The outlines of the first regions, smoothly or straight from one to the next, from and to a point where one
    /// is given.</summary>
    Outcome<SolidResult> Loft(IReadOnlyList<Profile> sections, Vec3? from, Vec3? to, bool straight);

    /// <summary>Two or more outlines, the sides square to the plane of the first, of the last, or of both.</summary>
    Outcome<SolidResult> LoftSquare(IReadOnlyList<Profile> sections, bool squareFirst, bool squareLast);

    /// <summary>Bodies side by side as they are, overlapping where they do: no body, but it looks like their union from outside.</summary>
    SolidResult Beside(ISolid a, params IReadOnlyList<ISolid> others);

    /// <summary>Union; faces of one surface that come to lie side by side become one face.</summary>
    Outcome<SolidResult> Join(ISolid a, params IReadOnlyList<ISolid> others);

    /// <summary>The first without the others.</summary>
    Outcome<SolidResult> Cut(ISolid a, params IReadOnlyList<ISolid> others);

    /// <summary>A trapezoid wound about an axis along a helix: the groove of a thread. Its sides are numbered first flank, root,
    /// second flank, mouth.</summary>
    Outcome<SolidResult> Groove(Groove groove);

    /// <summary>The first without a groove; faces are not put together afterwards.</summary>
    Outcome<SolidResult> Carve(ISolid a, ISolid groove);

    /// <summary>Turned tools taken from a body without a boolean; refused with code <c>kernel.drill</c> where one of them comes
    /// near an edge, another tool or another face.</summary>
    Outcome<SolidResult> Drill(ISolid a, IReadOnlyList<DrilledTool> tools);

    /// <summary>What two have in common. Of more, one after the other: what the first shares with others that overlap is no question
    /// for one call.</summary>
    Outcome<SolidResult> Common(ISolid a, ISolid b);

    /// <summary>How many solids a shape holds.</summary>
    int Solids(ISolid a);

    /// <summary>Triangles as flat faces beside each other, to measure from.</summary>
    /// <param name="mesh">All.</param>
    /// <param name="triangles">The numbers of those that are wanted.</param>
    ISolid Facets(Kernel.TriangleMesh mesh, IReadOnlyList<int> triangles);

    /// <summary>How many faces a shape has.</summary>
    int Faces(ISolid a);

    /// <summary>One of the solids of a shape, by its number from 0.</summary>
    Outcome<SolidResult> Solid(ISolid a, int number);

    /// <summary>Of a body in several pieces, those that have one of these faces.</summary>
    Outcome<SolidResult> PiecesWith(ISolid a, IReadOnlyList<int> faces);

    /// <summary>Edges rounded with a radius each.</summary>
    Outcome<SolidResult> Fillet(ISolid a, IReadOnlyList<RoundedEdge> edges);

    /// <summary>Edges bevelled, with the face that the first size lies on.</summary>
    /// <param name="a">The body.</param>
    /// <param name="edges">Edges with their first faces.</param>
    /// <param name="how">What the two values mean.</param>
    /// <param name="first">In millimetres.</param>
    /// <param name="second">In millimetres or radians.</param>
    Outcome<SolidResult> Chamfer(ISolid a, IReadOnlyList<BevelledEdge> edges, ChamferHow how, double first, double second);

    /// <summary>A wall along all faces, inwards where negative, open where these faces are.</summary>
    Outcome<SolidResult> Shell(ISolid a, IReadOnlyList<int> open, double thickness);

    /// <summary>A wall inwards along all faces but these, made face by face, however the space inside falls out.</summary>
    /// <param name="a">The body.</param>
    /// <param name="open">Faces without a wall.</param>
    /// <param name="thickness">In millimetres, positive.</param>
    Outcome<SolidResult> Wall(ISolid a, IReadOnlyList<int> open, double thickness);

    /// <summary>The body without some of its faces, those beside them brought together: without its roundings.</summary>
    Outcome<SolidResult> Without(ISolid a, IReadOnlyList<int> faces);

    /// <summary>Faces tilted by an angle (radians) about where they meet a plane.</summary>
    Outcome<SolidResult> Draft(ISolid a, IReadOnlyList<int> faces, Frame plane, double angle);

    /// <summary>Connected faces closed to a solid by the surfaces that they end on (its <see cref="OriginKind.Limit"/> faces),
    /// and whether they are those of a boss rather than a pocket.</summary>
    Outcome<Plugged> Plug(ISolid a, IReadOnlyList<int> faces);

    /// <summary>Moved or mirrored.</summary>
    Outcome<SolidResult> Move(ISolid a, Rigid by);

    /// <summary>The part of a body below a plane.</summary>
    Outcome<SolidResult> Below(ISolid a, Frame plane);

    /// <summary>A body divided by the whole surface that a face of another lies on; the faces along it are limits.</summary>
    /// <param name="a">The body.</param>
    /// <param name="other">The body of the face.</param>
    /// <param name="face">The face's number.</param>
    /// <param name="reach">How far an endless surface is taken to go, in millimetres.</param>
    Outcome<SolidResult> Divide(ISolid a, ISolid other, int face, double reach);

    /// <summary>The stretches of material along a line, both ways from its origin, in order.</summary>
    ImmutableArray<MaterialStretch> Probe(ISolid a, Line3 line);

    /// <summary>A point to measure from.</summary>
    ISolid Dot(Vec3 at);

    /// <summary>A curve to measure from.</summary>
    ISolid Wire(CurvePath path);

    /// <summary>A flat square about a plane's origin, to measure from, as far to every side in millimetres.</summary>
    ISolid Sheet(Frame plane, double reach);

    Topology Describe(ISolid solid);

    /// <summary>The curves where the faces of a body meet a plane.</summary>
    Outcome<ImmutableArray<SectionEdge>> Section(ISolid solid, Frame plane);

    MassProperties Mass(ISolid solid);

    /// <summary>Exact for planes, cylinders, cones, spheres and tori.</summary>
    Inertia Inertia(ISolid solid);

    Box Bounds(ISolid solid);

    /// <param name="solid">The body.</param>
    /// <param name="deviation">Largest distance between surface and triangles, in millimetres.</param>
    /// <param name="coarse">For a picture of a moment: twice the turn between neighbours, and nobody looks whether the deviation is
    /// kept everywhere. What is finer already stays as it is; what is made is not kept with the body.</param>
    SolidMesh Mesh(ISolid solid, double deviation, bool coarse = false);

    Outcome<Nearest> Distance(ISolid a, SubShape ofA, ISolid b, SubShape ofB);

    /// <summary>The smallest radius by which a face bends anywhere within its outline, and where; null for what is flat.
    /// In millimetres.</summary>
    SharpestBend? Bend(ISolid solid, int face);

    /// <summary>The largest distance between the faces of a body and the triangles that it was meshed with last, in millimetres.</summary>
    double Deviation(ISolid solid);

    /// <summary>Writes bodies with their names and colours, their true size in a file of the unit.</summary>
    Outcome<byte[]> Write(
        BodyFormat format,
        IReadOnlyList<NamedSolid> bodies,
        Quantities.LengthUnit unit = Quantities.LengthUnit.Millimetre
    );

    /// <summary>Reads the solids of a file, in millimetres whatever its unit; refuses what is broken, empty or holds none.</summary>
    Outcome<ReadBodies> Read(BodyFormat format, ReadOnlyMemory<byte> file);
}

/// <summary>An edge to be rounded.</summary>
/// <param name="Edge">Its number.</param>
/// <param name="Radius">In millimetres.</param>
public readonly record struct RoundedEdge(int Edge, double Radius);

/// <summary>An edge to be bevelled.</summary>
/// <param name="Edge">Its number.</param>
/// <param name="Face">The face that the first size lies on.</param>
public readonly record struct BevelledEdge(int Edge, int Face);

/// <summary>Faces closed to a solid of their own.</summary>
/// <param name="Plug">The solid.</param>
/// <param name="Adds">Whether they are those of a boss rather than a pocket.</param>
public readonly record struct Plugged(SolidResult Plug, bool Adds);

/// <summary>Where a face bends most.</summary>
/// <param name="Radius">In millimetres.</param>
/// <param name="At">The place.</param>
public readonly record struct SharpestBend(double Radius, Vec3 At);

/// <summary>A body of a file, as it is called there.</summary>
/// <param name="Name">Empty where it has none.</param>
/// <param name="Colour">As #rrggbb, or null.</param>
public readonly record struct ReadBody(string Name, string? Colour);

/// <summary>A curve where a plane cuts a body.</summary>
/// <param name="Face">The name of the face that is cut.</param>
/// <param name="Curve">The curve.</param>
public readonly record struct FaceCurve(string Face, EdgeShape Curve);
