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

    [LibraryImport(Library, EntryPoint = "rg_shape_free")]
    public static partial void ShapeFree(IntPtr shape);

    [LibraryImport(Library, EntryPoint = "rg_result_free")]
    public static partial void ResultFree(IntPtr result);

    [LibraryImport(Library, EntryPoint = "rg_mesh_free")]
    public static partial void MeshFree(IntPtr mesh);

    [LibraryImport(Library, EntryPoint = "rg_result_take_shape")]
    public static partial ShapeHandle ResultTakeShape(ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_result_origin_count")]
    public static partial int ResultOriginCount(ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_result_origins")]
    public static partial void ResultOrigins(ResultHandle result, Span<int> fourEach);

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

    [LibraryImport(Library, EntryPoint = "rg_profile_free")]
    public static partial void ProfileFree(IntPtr profile);

    [LibraryImport(Library, EntryPoint = "rg_prism")]
    public static partial int Prism(ProfileHandle profile, ReadOnlySpan<double> vector, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_revolve")]
    public static partial int Revolve(ProfileHandle profile, ReadOnlySpan<double> axis, double angle, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_pipe")]
    public static partial int Pipe(
        ProfileHandle profile,
        ReadOnlySpan<int> kinds,
        ReadOnlySpan<double> numbers,
        int count,
        out ResultHandle result
    );

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

    [LibraryImport(Library, EntryPoint = "rg_loft")]
    public static partial int Loft(
        ReadOnlySpan<IntPtr> profiles,
        int count,
        ReadOnlySpan<double> apexFirst,
        ReadOnlySpan<double> apexLast,
        int ruled,
        out ResultHandle result
    );

    [LibraryImport(Library, EntryPoint = "rg_loft_square")]
    public static partial int LoftSquare(
        ReadOnlySpan<IntPtr> profiles,
        int count,
        int squareFirst,
        int squareLast,
        out ResultHandle result
    );

    [LibraryImport(Library, EntryPoint = "rg_groove")]
    public static partial int Groove(
        ReadOnlySpan<double> axis,
        ReadOnlySpan<double> section,
        double pitch,
        double turns,
        double start,
        out ResultHandle result
    );

    [LibraryImport(Library, EntryPoint = "rg_facets")]
    public static partial int Facets(ReadOnlySpan<double> numbers, int count, out ShapeHandle shape);

    [LibraryImport(Library, EntryPoint = "rg_dot")]
    public static partial int Dot(ReadOnlySpan<double> at, out ShapeHandle shape);

    [LibraryImport(Library, EntryPoint = "rg_wire")]
    public static partial int Wire(ReadOnlySpan<int> kinds, ReadOnlySpan<double> numbers, int count, out ShapeHandle shape);

    [LibraryImport(Library, EntryPoint = "rg_sheet")]
    public static partial int Sheet(ReadOnlySpan<double> plane, double reach, out ShapeHandle shape);

    [LibraryImport(Library, EntryPoint = "rg_plug")]
    public static partial int Plug(ShapeHandle shape, ReadOnlySpan<int> faces, int count, out int adds, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_drill")]
    public static partial int Drill(
        ShapeHandle body,
        ReadOnlySpan<IntPtr> tools,
        ReadOnlySpan<int> fourEach,
        int count,
        out ResultHandle result
    );

    [LibraryImport(Library, EntryPoint = "rg_beside")]
    public static partial int Beside(IntPtr[] shapes, int count, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_boolean")]
    public static partial int Boolean(int operation, ShapeHandle a, ReadOnlySpan<IntPtr> tools, int count, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_solid_at")]
    public static partial int SolidAt(ShapeHandle shape, int number, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_solids_with")]
    public static partial int SolidsWith(ShapeHandle shape, ReadOnlySpan<int> faces, int count, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_fillet")]
    public static partial int Fillet(
        ShapeHandle shape,
        ReadOnlySpan<int> edges,
        ReadOnlySpan<double> radii,
        int count,
        out ResultHandle result
    );

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

    [LibraryImport(Library, EntryPoint = "rg_shell")]
    public static partial int Shell(ShapeHandle shape, ReadOnlySpan<int> open, int count, double thickness, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_wall")]
    public static partial int Wall(ShapeHandle shape, ReadOnlySpan<int> open, int count, double thickness, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_without_faces")]
    public static partial int WithoutFaces(ShapeHandle shape, ReadOnlySpan<int> faces, int count, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_draft")]
    public static partial int Draft(
        ShapeHandle shape,
        ReadOnlySpan<int> faces,
        int count,
        ReadOnlySpan<double> plane,
        double angle,
        out ResultHandle result
    );

    [LibraryImport(Library, EntryPoint = "rg_transform")]
    public static partial int Transform(ShapeHandle shape, ReadOnlySpan<double> rows, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_half")]
    public static partial int Half(ShapeHandle shape, ReadOnlySpan<double> plane, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_split_by_face")]
    public static partial int SplitByFace(ShapeHandle tool, ShapeHandle body, int face, double reach, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_probe")]
    public static partial int Probe(ShapeHandle shape, ReadOnlySpan<double> line, out int count);

    [LibraryImport(Library, EntryPoint = "rg_probe_read")]
    public static partial void ProbeRead(Span<double> tenEach);

    [LibraryImport(Library, EntryPoint = "rg_counts")]
    public static partial void Counts(ShapeHandle shape, Span<int> four);

    [LibraryImport(Library, EntryPoint = "rg_describe")]
    public static partial int Describe(
        ShapeHandle shape,
        Span<int> faceInts,
        Span<double> faceNumbers,
        Span<int> edgeInts,
        Span<double> edgeNumbers,
        Span<double> vertexNumbers
    );

    [LibraryImport(Library, EntryPoint = "rg_geometry_find")]
    public static partial int GeometryFind(ShapeHandle shape, int kind, int index, out int count);

    [LibraryImport(Library, EntryPoint = "rg_geometry_read")]
    public static partial void GeometryRead(Span<double> numbers);

    [LibraryImport(Library, EntryPoint = "rg_section")]
    public static partial int Section(ShapeHandle shape, ReadOnlySpan<double> plane, out ResultHandle result);

    [LibraryImport(Library, EntryPoint = "rg_mass")]
    public static partial int Mass(ShapeHandle shape, Span<double> five);

    [LibraryImport(Library, EntryPoint = "rg_inertia")]
    public static partial int Inertia(ShapeHandle shape, Span<double> six);

    [LibraryImport(Library, EntryPoint = "rg_bounds")]
    public static partial int Bounds(ShapeHandle shape, Span<double> lowHigh);

    [LibraryImport(Library, EntryPoint = "rg_distance")]
    public static partial int Distance(ShapeHandle a, int kindA, int indexA, ShapeHandle b, int kindB, int indexB, Span<double> seven);

    [LibraryImport(Library, EntryPoint = "rg_mesh_make")]
    public static partial int MeshMake(ShapeHandle shape, double deviation, int coarse, out MeshHandle mesh);

    [LibraryImport(Library, EntryPoint = "rg_mesh_counts")]
    public static partial void MeshCounts(MeshHandle mesh, Span<int> three);

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

    [LibraryImport(Library, EntryPoint = "rg_file_read", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int FileRead(int format, string path, out ShapeHandle shape);

    [LibraryImport(Library, EntryPoint = "rg_bend")]
    public static partial int Bend(ShapeHandle shape, int face, Span<double> four);

    [LibraryImport(Library, EntryPoint = "rg_progress")]
    public static partial double Progress();

    [LibraryImport(Library, EntryPoint = "rg_file_read_name")]
    private static partial IntPtr FileReadName();

    public static string ReadName() => Marshal.PtrToStringUTF8(FileReadName()) ?? "";

    [LibraryImport(Library, EntryPoint = "rg_file_read_bodies")]
    public static partial int ReadBodies();

    [LibraryImport(Library, EntryPoint = "rg_file_read_body")]
    private static partial IntPtr FileReadBody(int number, Span<double> four);

    public static string ReadBody(int number, Span<double> four) => Marshal.PtrToStringUTF8(FileReadBody(number, four)) ?? "";

    [LibraryImport(Library, EntryPoint = "rg_file_read_flaw")]
    private static partial IntPtr FileReadFlaw();

    public static string ReadFlaw() => Marshal.PtrToStringUTF8(FileReadFlaw()) ?? "";

    [LibraryImport(Library, EntryPoint = "rg_file_read_left")]
    public static partial void FileReadLeft(Span<int> three);

    [LibraryImport(Library, EntryPoint = "rg_file_read_colour")]
    public static partial void FileReadColour(Span<double> four);

    [LibraryImport(Library, EntryPoint = "rg_mesh_deviation")]
    public static partial int MeshDeviation(ShapeHandle shape, out double deviation);
}
