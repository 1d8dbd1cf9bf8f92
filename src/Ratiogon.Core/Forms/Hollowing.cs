using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>A wall of one thickness along the faces of a body, with the ways there are to make it.</summary>
internal static class Hollowing
{
    /// <summary>The sine of the angle below which two faces go on smoothly.</summary>
    private const double Smooth = 1e-6;

    /// <summary>A hollow less deep than this over the body's faces is none, in millimetres.</summary>
    private const double Thinnest = 1e-7;

    /// <param name="kernel">Makes it.</param>
    /// <param name="body">The body.</param>
    /// <param name="open">Faces that are taken away; none for a closed space inside.</param>
    /// <param name="thickness">Of the wall, in millimetres; inwards where negative.</param>
    /// <param name="step">Names the faces of the inside and the rims.</param>
    public static Outcome<Shaped> Make(ISolidKernel kernel, FormBody body, ImmutableArray<int> open, double thickness, string step)
    {
        var own = new Named(body.Shape, body.Names.Faces, body.Topology);
        var straight = Walled(kernel.Shell(body.Solid, open, thickness), own, open, step);
        if (straight.Done && Within(kernel, body, open, straight.Value, thickness, step))
        {
            return straight;
        }

        var behind = BehindSharp(kernel, body, open, thickness, step);
        return behind.Done || thickness > 0
            ? behind
            : Walled(kernel.Wall(body.Solid, open, -thickness), own, open, step)
                .Then<Shaped>(made => Within(kernel, body, open, made, thickness, step) ? made : Refused);
    }

    /// <summary>Where the wall is thicker than a rounding that it lies behind, its other side simply has a sharp corner there, as behind
    /// the same body without that rounding.</summary>
    private static Outcome<Shaped> BehindSharp(ISolidKernel kernel, FormBody body, ImmutableArray<int> open, double thickness, string step)
    {
        var rounded = Roundings(body, thickness).Except(open).ToImmutableArray();
        if (rounded.IsEmpty)
        {
            return Refused;
        }

        return kernel
            .Without(body.Solid, rounded)
            .Then<Shaped>(sharp =>
            {
                var bare = Shaped.Of(sharp, step, [body.Shape]);
                var from = sharp
                    .Origins.Select(o => o.Where(f => f.Kind == OriginKind.Face).Select(f => f.Index).DefaultIfEmpty(-1).First())
                    .ToList();
                var names = from.Select(f => f < 0 ? $"{step}/face" : body.Names.Faces[f]).ToImmutableArray();
                ImmutableArray<int> opened = [.. Enumerable.Range(0, from.Count).Where(i => open.Contains(from[i]))];
                var walled = Walled(
                    kernel.Shell(bare.Solid, opened, thickness),
                    new Named(bare, names, kernel.Describe(bare.Solid)),
                    opened,
                    step
                );
                return walled.Then(wall =>
                {
                    var made =
                        thickness < 0
                            ? kernel.Common(body.Solid, wall.Solid).Map(r => Shaped.Of(r, step, [body.Shape, wall]))
                            : kernel.Cut(wall.Solid, body.Solid).Map(r => Shaped.Of(r, step, [wall, body.Shape]));
                    return made.Then(m => Within(kernel, body, open, m, thickness, step) ? m : Refused);
                });
            });
    }

    private sealed record Named(Shaped Shape, ImmutableArray<string> Faces, Topology Topology);

    private static Outcome<Shaped> Refused { get; } = new Refusal("shell.too-thick", "The wall does not fit.");

    private static Outcome<Shaped> Walled(Outcome<SolidResult> wall, Named of, ImmutableArray<int> open, string step) =>
        wall.Map(made =>
            Shaped.Of(
                made,
                step,
                [of.Shape],
                o => o.Kind == OriginKind.Inner ? $"{step}/inner/({of.Faces[o.Index]})" : $"{step}/rim",
                o =>
                    o.Kind == OriginKind.Inner ? of.Shape.Guide(o.Index)
                    // A rim lies where the open face was.
                    : o.Kind == OriginKind.Edge
                        ? of.Topology.Edges[o.Index].Faces.Where(open.Contains).Select(of.Shape.Guide).FirstOrDefault()
                    : AxisGuide.None
            )
        );

    /// <summary>Less than the body where it goes inwards, by more than a film that is as thin as places are told apart; never
    /// nothing.</summary>
    private static bool Within(ISolidKernel kernel, FormBody body, ImmutableArray<int> open, Shaped made, double thickness, string step) =>
        kernel.Mass(made.Solid).Volume is var volume
        && volume > 0
        && (thickness > 0 || body.Mass.Volume - volume > Thinnest * body.Mass.Area)
        && kernel.Describe(made.Solid) is var shape
        && RightWayRound(body, made, shape, thickness, step)
        && (thickness > 0 || FarEnough(kernel, body, open, made, shape, -thickness, step));

    /// <summary>The other side of a wall looks the other way than the face that it lies behind. Where two walls that stand opposite each
    /// other have passed through each other, what they enclose is inside out, and looks the same way: neither the library nor the volume
    /// tells.</summary>
    private static bool RightWayRound(FormBody body, Shaped made, Topology shape, double thickness, string step)
    {
        var outer = body.Names.Faces.Select((name, i) => ($"{step}/inner/({name})", i)).ToDictionary(StringComparer.Ordinal);
        return !Enumerable
            .Range(0, shape.Faces.Length)
            .Any(i =>
                outer.TryGetValue(made.Bases[i], out var behind)
                && On(shape.Faces[i]) is var at
                && ShapeNumbers.Normal(shape.Faces[i], at) is { } here
                && ShapeNumbers.Normal(body.Topology.Faces[behind], at) is { } there
                && here.Dot(there) * thickness <= 0
            );
    }

    /// <summary>Faces that lie behind no face of the body, as beside an open face that a rounding runs into, begin in the opening or keep
    /// the thickness of the wall.</summary>
    private static bool FarEnough(
        ISolidKernel kernel,
        FormBody body,
        ImmutableArray<int> open,
        Shaped made,
        Topology shape,
        double thickness,
        string step
    )
    {
        var corners = shape
            .Edges.Where(e => e.Faces.Any(f => made.Bases[f].StartsWith($"{step}/face", StringComparison.Ordinal)))
            .SelectMany(e => e.Ends)
            .Distinct()
            .Select(v => shape.Vertices[v])
            .ToList();
        double Away(Vec3 p, IEnumerable<int> faces) =>
            kernel.Dot(p) is var dot
                ? faces
                    .Select(f => kernel.Distance(dot, default, body.Solid, new SubShape(SubShapeKind.Face, f)))
                    .Where(d => d.Done)
                    .Select(d => d.Value.Distance)
                    .DefaultIfEmpty(double.PositiveInfinity)
                    .Min()
                : 0;
        var walls = Enumerable.Range(0, body.Topology.Faces.Length).Except(open).ToList();
        return corners.All(p =>
            Away(p, open) < thickness * Tolerances.DrawnDeviation || Away(p, walls) > thickness * (1 - Tolerances.DrawnDeviation)
        );
    }

    /// <summary>A place on a face.</summary>
    private static Vec3 On(FaceShape face) =>
        face.Plane is { } plane ? plane.Origin
        : face.Numbers.Length >= 3 ? new Vec3(face.Numbers[0], face.Numbers[1], face.Numbers[2])
        : face.Centre;

    /// <summary>The roundings that a wall of this thickness leaves sharp behind: those that stand out and bend no wider, for walls
    /// inwards; those that lie in, for walls outwards. Only what goes over smoothly into faces on two sides is a rounding.</summary>
    private static IEnumerable<int> Roundings(FormBody body, double thickness)
    {
        for (var i = 0; i < body.Topology.Faces.Length; i++)
        {
            var face = body.Topology.Faces[i];
            if (face.Plane is not null || ShapeNumbers.SurfaceOf(face) is not { } surface)
            {
                continue;
            }

            var radius = surface switch
            {
                CylinderSurface c => c.Radius,
                SphereSurface s => s.Radius,
                TorusSurface t => t.Tube,
                _ => double.PositiveInfinity,
            };
            var outwards = ShapeNumbers.Outward(face, surface, face.Centre).Dot(surface.Normal(face.Centre)) > 0;
            var touching = body.Topology.Edges.Count(e =>
                e is { Seam: false, Faces.Length: 2 }
                && e.Faces.Contains(i)
                && ShapeNumbers.Normal(body.Topology.Faces[e.Faces[0]], e.Middle) is { } a
                && ShapeNumbers.Normal(body.Topology.Faces[e.Faces[1]], e.Middle) is { } b
                && a.Cross(b).Length < Smooth
                && a.Dot(b) > 0
            );
            if (radius <= Math.Abs(thickness) * (1 + Tolerances.Apart) && outwards == thickness < 0 && touching >= 2)
            {
                yield return i;
            }
        }
    }
}
