using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Tests.Datums;

/// <summary>Things placed by a random rigid motion and scale, so that nothing is tested only where it is easy.</summary>
internal sealed class Scene
{
    public static readonly double[] Scales = [1e-3, 1, 37, 1e5];

    public Scene(int seed, double scale)
    {
        var random = new Random(seed);
        Vec3 Any() => new((random.NextDouble() * 2) - 1, (random.NextDouble() * 2) - 1, (random.NextDouble() * 2) - 1);
        Random = random;
        Scale = scale;
        Place = Frame.OfAxes(Any() * (3 * scale), Any(), Any());
    }

    public Random Random { get; }

    public double Scale { get; }

    public Frame Place { get; }

    public double Tolerance => 1e-9 * Scale * 10;

    public Vec3 P(double x, double y, double z) => Place.ToWorld(new Vec3(x, y, z) * Scale);

    public Vec3 D(double x, double y, double z) => ((Place.X * x) + (Place.Y * y) + (Place.Z * z)).Unit;

    public Thing Point(double x, double y, double z) => Thing.OfPoint("p", "point", P(x, y, z));

    public Thing Line(double x, double y, double z, double dx, double dy, double dz) =>
        Thing.OfLine("l", "line", new Line3(P(x, y, z), D(dx, dy, dz)));

    public Thing Plane(double x, double y, double z, double nx, double ny, double nz) =>
        Thing.OfPlane("f", "plane", Frame.Facing(P(x, y, z), D(nx, ny, nz)));

    public Thing Cylinder(double x, double y, double z, double dx, double dy, double dz, double r) =>
        Face(new CylinderSurface(new Line3(P(x, y, z), D(dx, dy, dz)), r * Scale), P(x, y, z));

    public Thing Sphere(double x, double y, double z, double r) => Face(new SphereSurface(P(x, y, z), r * Scale), P(x, y, z));

    public Thing Cone(double x, double y, double z, double dx, double dy, double dz, double half) =>
        Face(new ConeSurface(P(x, y, z), D(dx, dy, dz), half), P(x, y, z));

    public Thing Torus(double x, double y, double z, double dx, double dy, double dz, double ring, double tube) =>
        Face(new TorusSurface(new Line3(P(x, y, z), D(dx, dy, dz)), ring * Scale, tube * Scale), P(x, y, z));

    public Thing Circle(double x, double y, double z, double nx, double ny, double nz, double r)
    {
        var (a, b) = D(nx, ny, nz).Across();
        return Thing.OfCurve(
            "c",
            "circle",
            CurvePath.Of(new RoundCurve(P(x, y, z), a * (r * Scale), b * (r * Scale), 0, 2 * Math.PI)).Value
        );
    }

    public Thing Spline(params (double X, double Y, double Z)[] through) =>
        Thing.OfCurve("s", "spline", CurvePath.Of(BSplineCurve.Through([.. through.Select(t => P(t.X, t.Y, t.Z))])).Value);

    public static Condition Say(DatumKind kind, string relation, Thing thing, params double[] values) =>
        Say(kind, relation, [thing], values);

    public static Condition Say(DatumKind kind, string relation, Thing[] things, params double[] values)
    {
        var found = RelationCatalog.Find(kind, relation) ?? throw new ArgumentException(relation);
        return new Condition(found, [.. things], values.ToImmutableArray());
    }

    private static Thing Face(Surface surface, Vec3 at) => Thing.OfSurface("s", surface.Word, surface, at);
}
