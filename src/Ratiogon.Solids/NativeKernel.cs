using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.InteropServices;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Solids;

/// <summary>Solids over the open-source B-rep geometry library. Not for the server process: see the worker pool.</summary>
public sealed class NativeKernel : ISolidKernel
{
    private const int NumbersPerFace = 13;
    private const int IntsPerEdge = 6;
    private const int MeasuresPerEdge = 8;
    private const string Unsound = "unsound: ";
    private const string NothingLeft = "nothing is left of the body";
    private static readonly Lock Files = new();
    private static readonly string[] Surfaces = ["plane", "cylinder", "cone", "sphere", "torus", "other"];
    private static readonly string[] Curves = ["line", "circle", "ellipse", "other"];

    public Outcome<SolidResult> Prism(Profile profile, Vec3 along)
    {
        using var made = ProfileNumbers.Make(profile);
        return Done(Native.Prism(made, [along.X, along.Y, along.Z], out var result), result, "prism");
    }

    public Outcome<SolidResult> Revolve(Profile profile, Line3 axis, double angle)
    {
        using var made = ProfileNumbers.Make(profile);
        return Done(Native.Revolve(made, Numbers(axis), angle, out var result), result, "revolve");
    }

    public Outcome<SolidResult> Pipe(Profile profile, CurvePath path)
    {
        using var made = ProfileNumbers.Make(profile);
        var (kinds, numbers) = PathNumbers.Of(path);
        return Done(Native.Pipe(made, kinds, numbers, kinds.Length, out var result), result, "sweep");
    }

    public Outcome<SolidResult> Sweep(Profile profile, int region, int loop, CurvePath path, CurvePath? guide)
    {
        using var made = ProfileNumbers.Make(profile);
        var (kinds, numbers) = PathNumbers.Of(path);
        var (guideKinds, guideNumbers) = guide is null ? ([], []) : PathNumbers.Of(guide);
        return Done(
            Native.Sweep(made, region, loop, kinds, numbers, kinds.Length, guideKinds, guideNumbers, guideKinds.Length, out var result),
            result,
            "sweep"
        );
    }

    public Outcome<SolidResult> Loft(IReadOnlyList<Profile> sections, Vec3? from, Vec3? to, bool straight) => Through(sections, profiles =>
        {
            // No apex is a null pointer: the default span, not an empty array.
            var first = from is { } f ? (ReadOnlySpan<double>)new[] { f.X, f.Y, f.Z } : default;
            var last = to is { } t ? (ReadOnlySpan<double>)new[] { t.X, t.Y, t.Z } : default;
            return (Native.Loft(profiles, profiles.Length, first, last, straight ? 1 : 0, out var result), result);
        });

    public Outcome<SolidResult> LoftSquare(IReadOnlyList<Profile> sections, bool squareFirst, bool squareLast) =>
        Through(sections, profiles =>
            (Native.LoftSquare(profiles, profiles.Length, squareFirst ? 1 : 0, squareLast ? 1 : 0, out var result), result)
        );

    private static Outcome<SolidResult> Through(IReadOnlyList<Profile> sections, Func<IntPtr[], (int Done, ResultHandle Result)> loft)
    {
        var made = sections.Select(ProfileNumbers.Make).ToList();
        try
        {
            var (done, result) = loft([.. made.Select(m => m.DangerousGetHandle())]);
            return Done(done, result, "loft");
        }
        finally
        {
            made.ForEach(m => m.Dispose());
        }
    }

    public Outcome<SolidResult> Groove(Groove groove) =>
        Done(
            Native.Groove(
                Numbers(groove.Axis),
                [groove.Mouth, groove.MouthWidth, groove.Root, groove.RootWidth],
                groove.Pitch,
                groove.Turns,
                groove.Start,
                out var result
            ),
            result,
            "groove"
        );

    public Outcome<SolidResult> Carve(ISolid a, ISolid groove) => Boolean(3, a, [groove]);

    public Outcome<SolidResult> Drill(ISolid a, IReadOnlyList<DrilledTool> tools)
    {
        ShapeHandle[] handles = [.. tools.Select(t => Of(t.Tool.Solid))];
        var done = Native.Drill(
            Of(a),
            Array.ConvertAll(handles, h => h.DangerousGetHandle()),
            [.. tools.SelectMany(t => new[] { t.Entry, t.Exit, t.Top, t.Bottom })],
            handles.Length,
            out var result
        );
        GC.KeepAlive(handles);
        return Done(done, result, "drill");
    }

    public SolidResult Beside(ISolid a, params IReadOnlyList<ISolid> others)
    {
        ShapeHandle[] handles = [Of(a), .. others.Select(Of)];
        var done = Native.Beside(Array.ConvertAll(handles, h => h.DangerousGetHandle()), handles.Length, out var result);
        GC.KeepAlive(handles);
        return Done(done, result, "combination").Value;
    }

    public Outcome<SolidResult> Join(ISolid a, params IReadOnlyList<ISolid> others) => Boolean(0, a, others);

    public Outcome<SolidResult> Cut(ISolid a, params IReadOnlyList<ISolid> others) => Boolean(1, a, others);

    public Outcome<SolidResult> Common(ISolid a, ISolid b) => Boolean(2, a, [b]);

    public int Solids(ISolid a) => Counts(Of(a)).Solids;

    public int Faces(ISolid a) => Counts(Of(a)).Faces;

    private static (int Faces, int Edges, int Vertices, int Solids) Counts(ShapeHandle shape)
    {
        Span<int> counts = stackalloc int[4];
        Native.Counts(shape, counts);
        return (counts[0], counts[1], counts[2], counts[3]);
    }

    public Outcome<SolidResult> Solid(ISolid a, int number) => Done(Native.SolidAt(Of(a), number, out var result), result, "division");

    public Outcome<SolidResult> PiecesWith(ISolid a, IReadOnlyList<int> faces) =>
        Done(Native.SolidsWith(Of(a), [.. faces], faces.Count, out var result), result, "division");

    public Outcome<SolidResult> Fillet(ISolid a, IReadOnlyList<(int Edge, double Radius)> edges) =>
        Done(
            Native.Fillet(Of(a), [.. edges.Select(e => e.Edge)], [.. edges.Select(e => e.Radius)], edges.Count, out var result),
            result,
            "fillet"
        );

    public Outcome<SolidResult> Chamfer(ISolid a, IReadOnlyList<(int Edge, int Face)> edges, ChamferHow how, double first, double second) =>
        Done(
            Native.Chamfer(
                Of(a),
                [.. edges.Select(e => e.Edge)],
                [.. edges.Select(e => e.Face)],
                [first, second],
                (int)how,
                edges.Count,
                out var result
            ),
            result,
            "chamfer"
        );

    public Outcome<SolidResult> Shell(ISolid a, IReadOnlyList<int> open, double thickness) =>
        Done(Native.Shell(Of(a), [.. open], open.Count, thickness, out var result), result, "shell");

    public Outcome<SolidResult> Wall(ISolid a, IReadOnlyList<int> open, double thickness) =>
        Done(Native.Wall(Of(a), [.. open], open.Count, thickness, out var result), result, "shell");

    public Outcome<SolidResult> Without(ISolid a, IReadOnlyList<int> faces) =>
        Done(Native.WithoutFaces(Of(a), [.. faces], faces.Count, out var result), result, "removal of faces");

    public Outcome<SolidResult> Draft(ISolid a, IReadOnlyList<int> faces, Frame plane, double angle) =>
        Done(Native.Draft(Of(a), [.. faces], faces.Count, Numbers(plane), angle, out var result), result, "draft");

    public Outcome<(SolidResult Plug, bool Adds)> Plug(ISolid a, IReadOnlyList<int> faces) =>
        Done(Native.Plug(Of(a), [.. faces], faces.Count, out var adds, out var result), result, "copy").Map(plug => (plug, adds != 0));

    public Outcome<SolidResult> Move(ISolid a, Rigid by) =>
        Done(
            Native.Transform(
                Of(a),
                [by.X.X, by.Y.X, by.Z.X, by.Shift.X, by.X.Y, by.Y.Y, by.Z.Y, by.Shift.Y, by.X.Z, by.Y.Z, by.Z.Z, by.Shift.Z],
                out var result
            ),
            result,
            "move"
        );

    public Outcome<SolidResult> Below(ISolid a, Frame plane) =>
        Done(Native.Half(Of(a), Numbers(plane), out var result), result, "division");

    public Outcome<SolidResult> Divide(ISolid a, ISolid other, int face, double reach) =>
        Done(Native.SplitByFace(Of(a), Of(other), face, reach, out var result), result, "division");

    public ImmutableArray<MaterialStretch> Probe(ISolid a, Line3 line)
    {
        Demand(Native.Probe(Of(a), Numbers(line), out var count));
        var all = new double[10 * count];
        Native.ProbeRead(all);
        FaceMeeting Meeting(int at) => new(all[at], (int)all[at + 1], Point(all.AsSpan(at + 2, 3)));
        return [.. Enumerable.Range(0, count).Select(i => new MaterialStretch(Meeting(10 * i), Meeting((10 * i) + 5)))];
    }

    public ISolid Dot(Vec3 at)
    {
        Demand(Native.Dot([at.X, at.Y, at.Z], out var shape));
        return new NativeSolid(shape);
    }

    public ISolid Facets(TriangleMesh mesh, IReadOnlyList<int> triangles)
    {
        var numbers = new double[9 * triangles.Count];
        for (var i = 0; i < triangles.Count; i++)
        {
            for (var k = 0; k < 3; k++)
            {
                var p = mesh.Corner(triangles[i], k);
                (numbers[(9 * i) + (3 * k)], numbers[(9 * i) + (3 * k) + 1], numbers[(9 * i) + (3 * k) + 2]) = (p.X, p.Y, p.Z);
            }
        }

        Demand(Native.Facets(numbers, triangles.Count, out var shape));
        return new NativeSolid(shape);
    }

    public ISolid Wire(CurvePath path)
    {
        var (kinds, numbers) = PathNumbers.Of(path);
        Demand(Native.Wire(kinds, numbers, kinds.Length, out var shape));
        return new NativeSolid(shape);
    }

    public ISolid Sheet(Frame plane, double reach)
    {
        Demand(Native.Sheet(Numbers(plane), reach, out var shape));
        return new NativeSolid(shape);
    }

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

    private static double[] Numbers(Line3 l) => [l.Origin.X, l.Origin.Y, l.Origin.Z, l.Direction.X, l.Direction.Y, l.Direction.Z];

    private static double[] Numbers(Frame plane) =>
        [plane.Origin.X, plane.Origin.Y, plane.Origin.Z, plane.X.X, plane.X.Y, plane.X.Z, plane.Y.X, plane.Y.Y, plane.Y.Z];

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

    public (double Radius, Vec3 At)? Bend(ISolid solid, int face)
    {
        Span<double> four = stackalloc double[4];
        Demand(Native.Bend(Of(solid), face, four));
        return four[0] > 0 ? (four[0], Point(four[1..4])) : null;
    }

    public double Deviation(ISolid solid)
    {
        Demand(Native.MeshDeviation(Of(solid), out var deviation));
        return deviation;
    }

    /// <summary>How far a file that is being read or written, or a mesh, has come: 0 to 1; null where none is under way. May
    /// be asked for by another thread.</summary>
    public static double? Share => Native.Progress() is >= 0 and var share ? share : null;

    public Outcome<byte[]> Write(BodyFormat format, IReadOnlyList<NamedSolid> bodies, LengthUnit unit = LengthUnit.Millimetre)
    {
        if (bodies.Count == 0)
        {
            return new Refusal("export.empty", "The part has no body to write yet.");
        }

        return InFile(path =>
        {
            // The handles are kept alive by the bodies, which the caller holds.
            var handles = bodies.Select(b => Of(b.Solid)).ToArray();
            string[] names = [.. bodies.Select(b => format == BodyFormat.Iges ? Plain(b.Name) : StepText.Marked(b.Name))];
            double[] colours = [.. bodies.SelectMany(b => Colours(b.Colour))];
            var done =
                Native.FileWrite(
                    (int)format,
                    unit == LengthUnit.Inch ? 1 : 0,
                    Array.ConvertAll(handles, h => h.DangerousGetHandle()),
                    names,
                    colours,
                    handles.Length,
                    path
                ) == 0;
            GC.KeepAlive(handles);
            return done
                ? (Outcome<byte[]>)(format == BodyFormat.Iges ? File.ReadAllBytes(path) : StepText.Encoded(File.ReadAllBytes(path)))
                : Failed(Word(format));
        });
    }

    public Outcome<ReadBodies> Read(BodyFormat format, ReadOnlyMemory<byte> file) =>
        InFile<Outcome<ReadBodies>>(path =>
        {
            if (format == BodyFormat.Iges && IgesFile.Check(file.Span) is { } broken)
            {
                return broken;
            }

            if (format != BodyFormat.Iges && StepFile.Check(file.ToArray()) is { } wrong)
            {
                return wrong;
            }

            File.WriteAllBytes(path, file.Span);
            if (Native.FileRead((int)format, path, out var shape) != 0)
            {
                return new Refusal(
                    $"import.{Word(format).ToLowerInvariant()}",
                    $"The {Word(format)} file cannot be used: {Native.Error()}."
                );
            }

            Span<double> colour = stackalloc double[4];
            Native.FileReadColour(colour);
            return new ReadBodies(new NativeSolid(shape), Native.ReadName(), Hexadecimal(colour)) { Said = Said(), Bodies = Bodies() };
        });

    /// <summary>What was said of the bodies of the file that was read last.</summary>
    private static ImmutableArray<(string Name, string? Colour)> Bodies()
    {
        var bodies = ImmutableArray.CreateBuilder<(string, string?)>();
        Span<double> colour = stackalloc double[4];
        for (var i = 0; i < Native.ReadBodies(); i++)
        {
            bodies.Add((Native.ReadBody(i, colour), Hexadecimal(colour)));
        }

        return bodies.ToImmutable();
    }

    private static string? Hexadecimal(ReadOnlySpan<double> colour) =>
        colour[0] == 0 ? null : $"#{Byte(colour[1]):x2}{Byte(colour[2]):x2}{Byte(colour[3]):x2}";

    /// <summary>What was left out of the file that was read last.</summary>
    private static ImmutableArray<string> Said()
    {
        Span<int> left = stackalloc int[3];
        Native.FileReadLeft(left);
        var (said, flaw) = (ImmutableArray.CreateBuilder<string>(), Native.ReadFlaw());
        void Count(int n, string one, string many)
        {
            if (n > 0)
            {
                said.Add($"{n} {(n == 1 ? one : many)}");
            }
        }

        Count(left[0], "open shell or loose face is left out", "open shells and loose faces are left out");
        Count(left[1], "curve outside of bodies is left out", "curves outside of bodies are left out");
        Count(left[2], "thing in the file could not be read", "things in the file could not be read");
        if (flaw.Length > 0)
        {
            said.Add($"what was read is not sound: {flaw.Replace(Unsound, "", StringComparison.Ordinal)}");
        }

        return said.ToImmutable();
    }

    private static int Byte(double share) => (int)Math.Round(Math.Clamp(share, 0, 1) * 255);

    private static double[] Colours(string hex) =>
        [
            .. Enumerable
                .Range(0, 3)
                .Select(i => int.Parse(hex.AsSpan(1 + (2 * i), 2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) / 255.0),
        ];

    private static string Word(BodyFormat format) => format == BodyFormat.Iges ? "IGES" : "STEP";

    /// <summary>Runs with the path of a file of its own, which goes away afterwards. One at a time in a process: the library's readers
    /// and writers share tables and settings. Forms and measures of bodies that share no geometry may run side by side.</summary>
    private static T InFile<T>(Func<string, T> work)
    {
        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.tmp");
        try
        {
            lock (Files)
            {
                return work(path);
            }
        }
        finally
        {
            File.Delete(path);
        }
    }

    private static Outcome<SolidResult> Boolean(int operation, ISolid a, IReadOnlyList<ISolid> others)
    {
        var together = AtOnce(operation, a, others);
        return together.Done || others.Count < 2 || together.Refusal!.Code == "form.nothing-left"
            ? together
            : OneByOne(operation, a, others);
    }

    /// <summary>What does not come out sound of all at once may do so one after the other. Of three the library takes a piece for
    /// another now and then.</summary>
    private static Outcome<SolidResult> OneByOne(int operation, ISolid a, IReadOnlyList<ISolid> others)
    {
        var so = AtOnce(operation, a, [others[0]]);
        for (var i = 1; so.Done && i < others.Count; i++)
        {
            var (before, at) = (so.Value, i);
            so = AtOnce(operation, before.Solid, [others[i]])
                .Map(next =>
                    next with
                    {
                        Origins =
                        [
                            .. next.Origins.Select(face =>
                                (ImmutableArray<FaceOrigin>)
                                    [
                                        .. face.SelectMany(o =>
                                            o.Input > 0 ? [o with { Input = at + 1 }]
                                            : o.Kind == OriginKind.Face ? before.Origins[o.Index].AsEnumerable()
                                            : [o]
                                        ),
                                    ]
                            ),
                        ],
                    }
                );
            before.Solid.Dispose();
        }

        return so;
    }

    private static Outcome<SolidResult> AtOnce(int operation, ISolid a, IReadOnlyList<ISolid> others)
    {
        ShapeHandle[] handles = [.. others.Select(Of)];
        var done = Native.Boolean(operation, Of(a), Array.ConvertAll(handles, h => h.DangerousGetHandle()), handles.Length, out var result);
        GC.KeepAlive(handles);
        return Done(
            done,
            result,
            operation switch
            {
                0 => "join",
                1 => "cut",
                _ => "intersection",
            }
        );
    }

    private static Outcome<SolidResult> Done(int code, ResultHandle result, string what)
    {
        if (code != 0)
        {
            return Native.Error() == NothingLeft ? new Refusal("form.nothing-left", "Nothing would be left of the body.") : Failed(what);
        }

        using (result)
        {
            return Result(result);
        }
    }

    private static SolidResult Result(ResultHandle result)
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
            origins[flat[i]].Add(new FaceOrigin(flat[i + 1], (OriginKind)flat[i + 2], flat[i + 3]));
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

    private static Vec3 Point(ReadOnlySpan<double> n) => new(n[0], n[1], n[2]);

    private static string Plain(string name) =>
        string.Concat(
                name.Select(c =>
                    c is '\'' or '\\' ? ' '
                    : c < 128 ? c
                    : '_'
                )
            )
            .ToString(CultureInfo.InvariantCulture);

    private static ShapeHandle Of(ISolid solid) => ((NativeSolid)solid).Handle;

    private static Refusal Failed(string what)
    {
        var why = Native.Error().TrimEnd('.', ' ', '\n');
        return why.StartsWith(Unsound, StringComparison.Ordinal)
            ? new Refusal("form.unsound", $"The {what} would not leave a sound body: {why[Unsound.Length..]}. Change a size a little.")
            : new Refusal($"kernel.{what}", $"The geometry library could not do the {what}: {why}.");
    }

    private static void Demand(int code)
    {
        if (code != 0)
        {
            throw new InvalidOperationException(Native.Error());
        }
    }
}
