using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Kernel;

/// <summary>Reads the geometry of faces and edges from the flat numbers that a kernel gives and workers send.</summary>
public static class ShapeNumbers
{
    /// <summary>The normal of a face at a place on it, out of the material; null where it is no known surface.</summary>
    public static Vec3? Normal(FaceShape face, Vec3 at) =>
        face.Plane is { } plane ? plane.Z
        : SurfaceOf(face) is { } surface ? Outward(face, surface, at)
        : null;

    /// <summary>The surface that a face lies on.</summary>
    /// <param name="face">The face; its numbers begin with a point on it and the normal out of the material there.</param>
    public static Surface? SurfaceOf(FaceShape face)
    {
        ArgumentNullException.ThrowIfNull(face);
        var r = new Reader(face.Numbers.AsSpan());
        if (face.Plane is { } plane)
        {
            return new FlatSurface(Plane3.Of(plane));
        }

        if (face.Numbers.Length < 7)
        {
            return null;
        }

        r.Skip(6);
        return face.Surface switch
        {
            "cylinder" => new CylinderSurface(new Line3(r.Vector(), r.Vector()), r.Number()),
            "cone" => new ConeSurface(r.Vector(), r.Vector(), r.Number()),
            "sphere" => new SphereSurface(r.Vector(), r.Number()),
            "torus" => new TorusSurface(new Line3(r.Vector(), r.Vector()), r.Number(), r.Number()),
            _ => Spline(ref r),
        };
    }

    /// <summary>The normal of a face at the foot of a point, out of the material.</summary>
    public static Vec3 Outward(FaceShape face, Surface surface, Vec3 p)
    {
        ArgumentNullException.ThrowIfNull(face);
        ArgumentNullException.ThrowIfNull(surface);
        var normal = surface.Normal(p);
        if (face.Numbers.Length < 6 || face.Plane is not null)
        {
            return normal;
        }

        var r = new Reader(face.Numbers.AsSpan());
        var at = r.Vector();
        return surface.Normal(at).Dot(r.Vector()) < 0 ? -normal : normal;
    }

    /// <summary>The curve of an edge; null for one that is only a point.</summary>
    public static SpaceCurve? CurveOf(EdgeShape edge)
    {
        ArgumentNullException.ThrowIfNull(edge);
        if (edge.Numbers.Length == 0)
        {
            return null;
        }

        var r = new Reader(edge.Numbers.AsSpan());
        switch (edge.Curve)
        {
            case "line":
                return new SegmentCurve(r.Vector(), r.Vector());
            case "circle" or "ellipse":
                return new RoundCurve(r.Vector(), r.Vector(), r.Vector(), r.Number(), r.Number());
            default:
                var (degree, poles, rational) = (r.Count(), r.Count(), r.Count() == 1);
                return new BSplineCurve(degree, r.Numbers(poles + degree + 1), r.Vectors(poles), rational ? r.Numbers(poles) : []);
        }
    }

    private static SplineSurface Spline(ref Reader r)
    {
        var (du, dv, nu, nv, rational) = (r.Count(), r.Count(), r.Count(), r.Count(), r.Count() == 1);
        return new SplineSurface(
            du,
            dv,
            r.Numbers(nu + du + 1),
            r.Numbers(nv + dv + 1),
            r.Vectors(nu * nv),
            rational ? r.Numbers(nu * nv) : []
        );
    }

    private ref struct Reader(ReadOnlySpan<double> numbers)
    {
        private ReadOnlySpan<double> left = numbers;

        public void Skip(int n) => left = left[n..];

        public double Number()
        {
            var value = left[0];
            left = left[1..];
            return value;
        }

        public int Count() => (int)Number();

        public Vec3 Vector() => new(Number(), Number(), Number());

        public ImmutableArray<double> Numbers(int n)
        {
            var taken = left[..n].ToImmutableArray();
            left = left[n..];
            return taken;
        }

        public ImmutableArray<Vec3> Vectors(int n)
        {
            var made = ImmutableArray.CreateBuilder<Vec3>(n);
            for (var i = 0; i < n; i++)
            {
                made.Add(Vector());
            }

            return made.MoveToImmutable();
        }
    }
}
