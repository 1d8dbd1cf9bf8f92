using System.Collections.Immutable;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Solids;

/// <summary>Solids over the open-source B-rep geometry library. Not for the server process: see the worker pool.</summary>
public sealed partial class NativeKernel : ISolidKernel
{
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

    public Outcome<SolidResult> Fillet(ISolid a, IReadOnlyList<RoundedEdge> edges) =>
        Done(
            Native.Fillet(Of(a), [.. edges.Select(e => e.Edge)], [.. edges.Select(e => e.Radius)], edges.Count, out var result),
            result,
            "fillet"
        );

    public Outcome<SolidResult> Chamfer(ISolid a, IReadOnlyList<BevelledEdge> edges, ChamferHow how, double first, double second) =>
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

    public Outcome<Plugged> Plug(ISolid a, IReadOnlyList<int> faces) =>
        Done(Native.Plug(Of(a), [.. faces], faces.Count, out var adds, out var result), result, "copy")
            .Map(plug => new Plugged(plug, adds != 0));

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

    private static double[] Numbers(Line3 l) => [l.Origin.X, l.Origin.Y, l.Origin.Z, l.Direction.X, l.Direction.Y, l.Direction.Z];

    private static double[] Numbers(Frame plane) =>
        [plane.Origin.X, plane.Origin.Y, plane.Origin.Z, plane.X.X, plane.X.Y, plane.X.Z, plane.Y.X, plane.Y.Y, plane.Y.Z];

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
            return Failed(what);
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

    private static Vec3 Point(ReadOnlySpan<double> n) => new(n[0], n[1], n[2]);

    private static ShapeHandle Of(ISolid solid) => ((NativeSolid)solid).Handle;

    private static Refusal Failed(string what)
    {
        var why = Native.Error().TrimEnd('.', ' ', '\n');
        return Native.ErrorKind() switch
        {
            NativeFailure.NothingLeft => new Refusal("form.nothing-left", "Nothing would be left of the body."),
            NativeFailure.Unsound => new Refusal(
                "form.unsound",
                $"The {what} would not leave a sound body: {why}. Change a size a little."
            ),
            _ => new Refusal($"kernel.{what}", $"The geometry library could not do the {what}: {why}."),
        };
    }

    private static void Demand(int code)
    {
        if (code != 0)
        {
            throw new InvalidOperationException(Native.Error());
        }
    }
}
