using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Ratiogon.Solids;

/// <summary>A shape of the native library.</summary>
internal sealed class ShapeHandle() : SafeHandleZeroOrMinusOneIsInvalid(true)
{
    protected override bool ReleaseHandle()
    {
        Native.ShapeFree(handle);
        return true;
    }
}

/// <summary>A result with its history.</summary>
internal sealed class ResultHandle() : SafeHandleZeroOrMinusOneIsInvalid(true)
{
    protected override bool ReleaseHandle()
    {
        Native.ResultFree(handle);
        return true;
    }
}

/// <summary>A planar profile.</summary>
internal sealed class ProfileHandle() : SafeHandleZeroOrMinusOneIsInvalid(true)
{
    protected override bool ReleaseHandle()
    {
        Native.ProfileFree(handle);
        return true;
    }
}

/// <summary>Triangles waiting to be read.</summary>
internal sealed class MeshHandle() : SafeHandleZeroOrMinusOneIsInvalid(true)
{
    protected override bool ReleaseHandle()
    {
        Native.MeshFree(handle);
        return true;
    }
}

/// <summary>Why a call failed: <c>rg_failure</c>.</summary>
internal enum NativeFailure
{
    Other = 0,

    /// <summary>What came out would be no sound body.</summary>
    Unsound = 1,

    /// <summary>Nothing would be left of the body.</summary>
    NothingLeft = 2,
}

/// <summary>The C ABI; see <c>native/ratiogon_solids.h</c> for what each function expects.</summary>
internal static partial class Native
{
    private const string Library = "ratiogon_solids";

    [LibraryImport(Library, EntryPoint = "rg_error")]
    private static partial IntPtr ErrorText();

    /// <summary>Why the last call of this thread failed, in the library's words.</summary>
    public static string Error() => Marshal.PtrToStringUTF8(ErrorText()) ?? "";

    /// <summary>The kind of that failure.</summary>
    [LibraryImport(Library, EntryPoint = "rg_error_kind")]
    public static partial NativeFailure ErrorKind();

    /// <summary>Lets go of a shape; asked for by its handle.</summary>
    [LibraryImport(Library, EntryPoint = "rg_shape_free")]
    public static partial void ShapeFree(IntPtr shape);

    /// <summary>Lets go of a result, and of its shape where that was not taken.</summary>
    [LibraryImport(Library, EntryPoint = "rg_result_free")]
    public static partial void ResultFree(IntPtr result);

    /// <summary>Lets go of triangles.</summary>
    [LibraryImport(Library, EntryPoint = "rg_mesh_free")]
    public static partial void MeshFree(IntPtr mesh);

    /// <summary>The shape of a result, which is then the caller's.</summary>
    [LibraryImport(Library, EntryPoint = "rg_result_take_shape")]
    public static partial ShapeHandle ResultTakeShape(ResultHandle result);

    /// <summary>How many origins of faces a result has.</summary>
    [LibraryImport(Library, EntryPoint = "rg_result_origin_count")]
    public static partial int ResultOriginCount(ResultHandle result);

    /// <summary>Where its faces come from, four numbers each: face of the result, input, <see cref="Ratiogon.Core.Kernel.OriginKind"/>,
    /// number there.</summary>
    [LibraryImport(Library, EntryPoint = "rg_result_origins")]
    public static partial void ResultOrigins(ResultHandle result, Span<int> fourEach);

    /// <summary>A planar profile. The plane as origin, x, y; edges by nine numbers each: kind (0 line, 1 arc, 2 circle, 3 spline, 4
    /// ellipse), two ends, centre, radius, 1 for counterclockwise; poles and semi-axes in <paramref name="extra"/>. 0 when
    /// done.</summary>
    [LibraryImport(Library, EntryPoint = "rg_profile_make")]
    public static partial int ProfileMake(
        ReadOnlySpan<double> plane,
        ReadOnlySpan<double> edges,
        ReadOnlySpan<double> extra,
        ReadOnlySpan<int> loopEdges,
        ReadOnlySpan<int> regionLoops,
        int regionCount,
        double offset,
        out ProfileHandle profile
    );

    /// <summary>Lets go of a profile.</summary>
    [LibraryImport(Library, EntryPoint = "rg_profile_free")]
    public static partial void ProfileFree(IntPtr profile);

    /// <summary>A profile pushed along a vector (three numbers, in millimetres).</summary>
    [LibraryImport(Library, EntryPoint = "rg_prism")]
    public static partial int Prism(ProfileHandle profile, ReadOnlySpan<double> vector, out ResultHandle result);

    /// <summary>A profile turned about an axis (point, direction) by an angle in radians.</summary>
    [LibraryImport(Library, EntryPoint = "rg_revolve")]
    public static partial int Revolve(ProfileHandle profile, ReadOnlySpan<double> axis, double angle, out ResultHandle result);

    /// <summary>A profile along a path, kept square to it. The kinds of its curves (0 line, 1 circle or ellipse, 2 spline) and their
    /// numbers one after the other.</summary>
    [LibraryImport(Library, EntryPoint = "rg_pipe")]
    public static partial int Pipe(
        ProfileHandle profile,
        ReadOnlySpan<int> kinds,
        ReadOnlySpan<double> numbers,
        int count,
        out ResultHandle result
    );

    /// <summary>One loop of a profile along a path, kept parallel to itself, or turned to face a guide.</summary>
    [LibraryImport(Library, EntryPoint = "rg_sweep")]
    public static partial int Sweep(
        ProfileHandle profile,
        int region,
        int loop,
        ReadOnlySpan<int> kinds,
        ReadOnlySpan<double> numbers,
        int count,
        ReadOnlySpan<int> guideKinds,
        ReadOnlySpan<double> guideNumbers,
        int guideCount,
        out ResultHandle result
    );

    /// <summary>Through the outlines of profiles, from an apex and to one where they are given (three numbers, or none).</summary>
    [LibraryImport(Library, EntryPoint = "rg_loft")]
    public static partial int Loft(
        ReadOnlySpan<IntPtr> profiles,
        int count,
        ReadOnlySpan<double> apexFirst,
        ReadOnlySpan<double> apexLast,
        int ruled,
        out ResultHandle result
    );

    /// <summary>The same, leaving the first plane squarely, the last one, or both.</summary>
    [LibraryImport(Library, EntryPoint = "rg_loft_square")]
    public static partial int LoftSquare(
        ReadOnlySpan<IntPtr> profiles,
        int count,
        int squareFirst,
        int squareLast,
        out ResultHandle result
    );

    /// <summary>A groove wound about an axis: radius and width of its mouth, of its root; pitch in millimetres, turns, and the angle
    /// where it begins.</summary>
    [LibraryImport(Library, EntryPoint = "rg_groove")]
    public static partial int Groove(
        ReadOnlySpan<double> axis,
        ReadOnlySpan<double> section,
        double pitch,
        double turns,
        double start,
        out ResultHandle result
    );

    /// <summary>Triangles by nine numbers each, as flat faces beside each other.</summary>
    [LibraryImport(Library, EntryPoint = "rg_facets")]
    public static partial int Facets(ReadOnlySpan<double> numbers, int count, out ShapeHandle shape);

    /// <summary>A point to measure from (three numbers).</summary>
    [LibraryImport(Library, EntryPoint = "rg_dot")]
    public static partial int Dot(ReadOnlySpan<double> at, out ShapeHandle shape);

    /// <summary>A path to measure from, as for a pipe.</summary>
    [LibraryImport(Library, EntryPoint = "rg_wire")]
    public static partial int Wire(ReadOnlySpan<int> kinds, ReadOnlySpan<double> numbers, int count, out ShapeHandle shape);

    /// <summary>A flat square to measure from: its plane, and half of its side in millimetres.</summary>
    [LibraryImport(Library, EntryPoint = "rg_sheet")]
    public static partial int Sheet(ReadOnlySpan<double> plane, double reach, out ShapeHandle shape);

    /// <summary>Connected faces closed to a solid by the surfaces that they end on; adds is 1 when they are those of a boss.</summary>
    [LibraryImport(Library, EntryPoint = "rg_plug")]
    public static partial int Plug(ShapeHandle shape, ReadOnlySpan<int> faces, int count, out int adds, out ResultHandle result);

    /// <summary>Turned tools put into a body of one shell. Four numbers each: the faces that it goes in and leaves by (or -1), its own
    /// caps on either (or -1).</summary>
    [LibraryImport(Library, EntryPoint = "rg_drill")]
    public static partial int Drill(
        ShapeHandle body,
        ReadOnlySpan<IntPtr> tools,
        ReadOnlySpan<int> fourEach,
        int count,
        out ResultHandle result
    );

    /// <summary>Shapes side by side as they are: the picture of their union from outside, no body.</summary>
    [LibraryImport(Library, EntryPoint = "rg_beside")]
    public static partial int Beside(IntPtr[] shapes, int count, out ResultHandle result);

    /// <summary>0 union, 1 the first without the others, 2 what it has in common with them, 3 as 1 without putting faces of one surface
    /// together.</summary>
    [LibraryImport(Library, EntryPoint = "rg_boolean")]
    public static partial int Boolean(int operation, ShapeHandle a, ReadOnlySpan<IntPtr> tools, int count, out ResultHandle result);

    /// <summary>One of the solids of a shape, by its number.</summary>
    [LibraryImport(Library, EntryPoint = "rg_solid_at")]
    public static partial int SolidAt(ShapeHandle shape, int number, out ResultHandle result);

    /// <summary>Those of its solids that have one of these faces.</summary>
    [LibraryImport(Library, EntryPoint = "rg_solids_with")]
    public static partial int SolidsWith(ShapeHandle shape, ReadOnlySpan<int> faces, int count, out ResultHandle result);

    /// <summary>Edges rounded, each with a radius in millimetres.</summary>
    [LibraryImport(Library, EntryPoint = "rg_fillet")]
    public static partial int Fillet(
        ShapeHandle shape,
        ReadOnlySpan<int> edges,
        ReadOnlySpan<double> radii,
        int count,
        out ResultHandle result
    );

    /// <summary>Edges bevelled from a face each: 0 by one size, 1 by two, 2 by a size and an angle.</summary>
    [LibraryImport(Library, EntryPoint = "rg_chamfer")]
    public static partial int Chamfer(
        ShapeHandle shape,
        ReadOnlySpan<int> edges,
        ReadOnlySpan<int> faces,
        ReadOnlySpan<double> sizes,
        int how,
        int count,
        out ResultHandle result
    );

    /// <summary>A body made hollow with a wall (negative: inwards), open at faces.</summary>
    [LibraryImport(Library, EntryPoint = "rg_shell")]
    public static partial int Shell(ShapeHandle shape, ReadOnlySpan<int> open, int count, double thickness, out ResultHandle result);

    /// <summary>The same inwards, made face by face: faces of the inside may vanish, the space inside fall into pieces.</summary>
    [LibraryImport(Library, EntryPoint = "rg_wall")]
    public static partial int Wall(ShapeHandle shape, ReadOnlySpan<int> open, int count, double thickness, out ResultHandle result);

    /// <summary>A body without these faces, those beside them brought together.</summary>
    [LibraryImport(Library, EntryPoint = "rg_without_faces")]
    public static partial int WithoutFaces(ShapeHandle shape, ReadOnlySpan<int> faces, int count, out ResultHandle result);

    /// <summary>Faces tilted by an angle in radians about where they meet a plane.</summary>
    [LibraryImport(Library, EntryPoint = "rg_draft")]
    public static partial int Draft(
        ShapeHandle shape,
        ReadOnlySpan<int> faces,
        int count,
        ReadOnlySpan<double> plane,
        double angle,
        out ResultHandle result
    );

    /// <summary>A shape moved by three rows of four numbers.</summary>
    [LibraryImport(Library, EntryPoint = "rg_transform")]
    public static partial int Transform(ShapeHandle shape, ReadOnlySpan<double> rows, out ResultHandle result);

    /// <summary>The part of a body below a plane (origin, x, y).</summary>
    [LibraryImport(Library, EntryPoint = "rg_half")]
    public static partial int Half(ShapeHandle shape, ReadOnlySpan<double> plane, out ResultHandle result);

    /// <summary>A body divided by the whole surface of another's face.</summary>
    [LibraryImport(Library, EntryPoint = "rg_split_by_face")]
    public static partial int SplitByFace(ShapeHandle tool, ShapeHandle body, int face, double reach, out ResultHandle result);

    /// <summary>Finds the stretches of material along a line (point, direction); they are read next on the same thread.</summary>
    [LibraryImport(Library, EntryPoint = "rg_probe")]
    public static partial int Probe(ShapeHandle shape, ReadOnlySpan<double> line, out int count);

    /// <summary>Ten numbers each: where it begins, face, normal out of the material; where it ends, face, normal.</summary>
    [LibraryImport(Library, EntryPoint = "rg_probe_read")]
    public static partial void ProbeRead(Span<double> tenEach);

    /// <summary>Faces, edges, vertices, solids.</summary>
    [LibraryImport(Library, EntryPoint = "rg_counts")]
    public static partial void Counts(ShapeHandle shape, Span<int> four);

    /// <summary>Faces by one number (0 plane, 1 cylinder, 2 cone, 3 sphere, 4 torus, 5 other) and 13 (plane origin, x, outward normal,
    /// area, centre); edges by six (0 line, 1 circle, 2 ellipse, 3 other; two faces; two vertices; 1 for a seam) and 8 (length, middle,
    /// radius, centre); vertices by three.</summary>
    [LibraryImport(Library, EntryPoint = "rg_describe")]
    public static partial int Describe(
        ShapeHandle shape,
        Span<int> faceInts,
        Span<double> faceNumbers,
        Span<int> edgeInts,
        Span<double> edgeNumbers,
        Span<double> vertexNumbers
    );

    /// <summary>Finds what a face (kind 1) or an edge (kind 2) lies on, and counts its numbers, which are read next on the same
    /// thread.</summary>
    [LibraryImport(Library, EntryPoint = "rg_geometry_find")]
    public static partial int GeometryFind(ShapeHandle shape, int kind, int index, out int count);

    /// <summary>The numbers that were found; their order by the kind of surface or curve stands in the header.</summary>
    [LibraryImport(Library, EntryPoint = "rg_geometry_read")]
    public static partial void GeometryRead(Span<double> numbers);

    /// <summary>The edges where a plane (origin, x, y) meets the faces of a shape; of an origin the fourth number is the face.</summary>
    [LibraryImport(Library, EntryPoint = "rg_section")]
    public static partial int Section(ShapeHandle shape, ReadOnlySpan<double> plane, out ResultHandle result);

    /// <summary>Volume (mm³), area (mm²), centre of mass.</summary>
    [LibraryImport(Library, EntryPoint = "rg_mass")]
    public static partial int Mass(ShapeHandle shape, Span<double> five);

    /// <summary>Moments about the centre of mass for a density of 1: xx, yy, zz, xy, xz, yz.</summary>
    [LibraryImport(Library, EntryPoint = "rg_inertia")]
    public static partial int Inertia(ShapeHandle shape, Span<double> six);

    /// <summary>The low and the high corner of the box along the axes.</summary>
    [LibraryImport(Library, EntryPoint = "rg_bounds")]
    public static partial int Bounds(ShapeHandle shape, Span<double> lowHigh);

    /// <summary>The smallest distance between two shapes or parts of them (0 whole, 1 face, 2 edge, 3 vertex): distance, place on the
    /// first, on the second.</summary>
    [LibraryImport(Library, EntryPoint = "rg_distance")]
    public static partial int Distance(ShapeHandle a, int kindA, int indexA, ShapeHandle b, int kindB, int indexB, Span<double> seven);

    /// <summary>Triangles that keep to the faces within a deviation in millimetres; coarse ones are not kept with the shape.</summary>
    [LibraryImport(Library, EntryPoint = "rg_mesh_make")]
    public static partial int MeshMake(ShapeHandle shape, double deviation, int coarse, out MeshHandle mesh);

    /// <summary>Corners, triangles, points of edges.</summary>
    [LibraryImport(Library, EntryPoint = "rg_mesh_counts")]
    public static partial void MeshCounts(MeshHandle mesh, Span<int> three);

    /// <summary>Places and normals (three floats for each corner), triangles (three corners each), triangles of each face, points and how
    /// many of each edge.</summary>
    [LibraryImport(Library, EntryPoint = "rg_mesh_read")]
    public static partial void MeshRead(
        MeshHandle mesh,
        Span<byte> positions,
        Span<byte> normals,
        Span<byte> triangles,
        Span<int> faceTriangles,
        Span<byte> edgePoints,
        Span<int> edgeCounts
    );

    /// <summary>Bodies written to a file: 0 STEP AP214, 1 STEP AP242, 2 IGES; a name and three numbers of a colour (sRGB) for
    /// each.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_write", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int FileWrite(
        int format,
        int inches,
        ReadOnlySpan<IntPtr> shapes,
        string[] names,
        ReadOnlySpan<double> colours,
        int count,
        string path
    );

    /// <summary>The solids of a file, in millimetres whatever its unit.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int FileRead(int format, string path, out ShapeHandle shape);

    /// <summary>The smallest radius by which a face bends within its outline (0 for what is flat), and where.</summary>
    [LibraryImport(Library, EntryPoint = "rg_bend")]
    public static partial int Bend(ShapeHandle shape, int face, Span<double> four);

    /// <summary>How far a long read, write or mesh has come: 0 to 1; below 0 where none is under way. Any thread may ask.</summary>
    [LibraryImport(Library, EntryPoint = "rg_progress")]
    public static partial double Progress();

    /// <summary>The first name in the file that was read last.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read_name")]
    private static partial IntPtr FileReadName();

    public static string ReadName() => Marshal.PtrToStringUTF8(FileReadName()) ?? "";

    /// <summary>How many bodies it had.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read_bodies")]
    public static partial int ReadBodies();

    /// <summary>The name of one of them, and its colour: 1 and three numbers, or 0.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read_body")]
    private static partial IntPtr FileReadBody(int number, Span<double> four);

    public static string ReadBody(int number, Span<double> four) => Marshal.PtrToStringUTF8(FileReadBody(number, four)) ?? "";

    /// <summary>What is wrong with its bodies, or nothing.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read_flaw")]
    private static partial IntPtr FileReadFlaw();

    public static string ReadFlaw() => Marshal.PtrToStringUTF8(FileReadFlaw()) ?? "";

    /// <summary>What of it was left out: open shells and faces, curves outside of bodies, things that could not be read.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read_left")]
    public static partial void FileReadLeft(Span<int> three);

    /// <summary>The first colour in it: 1 and three numbers, or 0.</summary>
    [LibraryImport(Library, EntryPoint = "rg_file_read_colour")]
    public static partial void FileReadColour(Span<double> four);

    /// <summary>The largest distance between a face and the triangles that it was drawn with last, in millimetres.</summary>
    [LibraryImport(Library, EntryPoint = "rg_mesh_deviation")]
    public static partial int MeshDeviation(ShapeHandle shape, out double deviation);
}
