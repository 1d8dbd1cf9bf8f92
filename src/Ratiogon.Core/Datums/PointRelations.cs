using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Datums;

/// <summary>One linear equation of a point: <c>N . p = C</c>, N of unit length, C in millimetres.</summary>
internal readonly record struct PointRow(Vec3 N, double C);

/// <summary>One way in which a relation of a point can hold: equations, and what else it lies on.</summary>
internal sealed record PointCase(string Label, ImmutableArray<PointRow> Rows)
{
    public CurvePath? Path { get; init; }

    public Surface? Surface { get; init; }
}

/// <summary>How points stand to things: each is a locus, and a point is where loci meet.</summary>
internal static class PointRelations
{
    private static readonly RelationField X = Field.Coordinate("x"),
        Y = Field.Coordinate("y"),
        Z = Field.Coordinate("z");
    private static readonly RelationField Around = new("around", Dimension.OfAngle, "0 deg"),
        Up = Field.Coordinate("height");

    public static IReadOnlyList<Relation> All { get; } =
    [
        New("at", "at", -1, t => t.Point is not null, (t, _) => At(t.Point!.Value)),
        New("at-centre", "at the centre of", -2, t => t.Centre is not null, (t, _) => At(t.Centre!.Value)),
        New("at-middle", "at the middle of", 3, t => t.Middle is not null, (t, _) => At(t.Middle!.Value)),
        New(
            "at-fraction",
            "at a fraction of",
            1,
            t => t.Path is not null,
            (t, v) => AlongPath.At(t.Path!, v[0], true).Map(p => At(p.At)),
            Field.Fraction
        ),
        New(
            "at-length",
            "at a length along",
            2,
            t => t.Path is not null,
            (t, v) => AlongPath.At(t.Path!, v[0], false).Map(p => At(p.At)),
            Field.Length
        ),
        New("on-line", "on", 0, t => t.Line is not null, (t, _) => On(t.Line!.Value)),
        New("on-axis", "on the axis of", 2, t => t.Axis is not null, (t, _) => On(t.Axis!.Value)),
        New(
            "on-plane",
            "on",
            0,
            t => t.Plane is not null,
            (t, _) => Rows(new PointRow(t.Plane!.Value.Z, t.Plane.Value.Z.Dot(t.Plane.Value.Origin)))
        ),
        New(
            "on-curve",
            "on",
            0,
            t => t.Path is not null && t.Line is null,
            (t, _) => ImmutableArray.Create(new PointCase("", []) { Path = t.Path })
        ),
        New("on-face", "on", 1, t => t.Surface is not null, (t, _) => ImmutableArray.Create(new PointCase("", []) { Surface = t.Surface })),
        New(
            "apart",
            "at a distance from",
            4,
            t => t.Plane is not null || t.Place is not null || t.Straight is not null,
            (t, v) => Apart(t, v[0]),
            Field.Distance
        ),
        New(
            "on-flat-at",
            "on, by coordinates,",
            3,
            t => t.Plane is not null,
            (t, v) => At(t.Plane!.Value.ToWorld(new Vec2(v[0], v[1]))),
            X,
            Y
        ),
        New(
            "on-round-at",
            "on, by angle and height,",
            3,
            t => t.Surface is CylinderSurface or ConeSurface,
            (t, v) => At(OnRound(t.Surface!, t.Guide, v[0], v[1])),
            Around,
            Up
        ),
        New(
            "on-sphere-at",
            "on, by its angles,",
            3,
            t => t.Surface is SphereSurface,
            (t, v) => At(OnSphere((SphereSurface)t.Surface!, v[0], v[1])),
            Around,
            new RelationField("latitude", Dimension.OfAngle, "0 deg")
        ),
        New(
            "on-torus-at",
            "on, by its angles,",
            3,
            t => t.Surface is TorusSurface,
            (t, v) => At(OnTorus((TorusSurface)t.Surface!, t.Guide, v[0], v[1])),
            Around,
            new RelationField("tube", Dimension.OfAngle, "0 deg")
        ),
        New(
            "on-free-at",
            "on, by its own fractions,",
            3,
            t => t.Surface is SplineSurface,
            (t, v) => OnFree((SplineSurface)t.Surface!, v[0], v[1]),
            new RelationField("u", Dimension.None, "0.5"),
            new RelationField("v", Dimension.None, "0.5")
        ),
        New(
            "coordinates-in",
            "by coordinates in",
            2,
            t => t.Frame is not null,
            (t, v) => At(t.Frame!.Value.ToWorld(new Vec3(v[0], v[1], v[2]))),
            X,
            Y,
            Z
        ),
        new Relation<PointCase>("coordinates", DatumKind.Point, "by coordinates in the world", 0, [X, Y, Z], 0)
        {
            Fits = _ => true,
            Write = (_, v) => At(new Vec3(v[0], v[1], v[2])),
        },
        Two(
            "halfway",
            "halfway between",
            -1,
            (a, b) => a.Place is not null && b.Place is not null,
            (a, b) => At((a.Place!.Value + b.Place!.Value) / 2)
        ),
        Two(
            "nearest",
            "halfway between the nearest of",
            1,
            (a, b) => a.Straight is not null && b.Straight is not null,
            (a, b) => Nearest(a.Straight!.Value, b.Straight!.Value)
        ),
        Two(
            "foot",
            "nearest to a point on",
            1,
            (a, b) =>
                a.Place is null && b.Point is not null && (a.Plane ?? (object?)a.Straight ?? a.Path ?? (object?)a.Surface) is not null,
            (a, b) => At(FootOn(a, b.Point!.Value))
        ),
        .. Motions.Of(DatumKind.Point, t => t.Place is not null, (t, by) => At(by.Apply(t.Place!.Value))),
    ];

    private static Relation<PointCase> New(
        string name,
        string words,
        int cost,
        Func<Thing, bool> fits,
        Func<Thing, double[], Outcome<ImmutableArray<PointCase>>> write,
        params ImmutableArray<RelationField> fields
    ) => new(name, DatumKind.Point, words, 1, fields, cost) { Fits = of => fits(of[0]), Write = (of, values) => write(of[0], values) };

    private static Relation<PointCase> Two(
        string name,
        string words,
        int cost,
        Func<Thing, Thing, bool> fits,
        Func<Thing, Thing, Outcome<ImmutableArray<PointCase>>> write
    ) => new(name, DatumKind.Point, words, 2, [], cost) { Fits = of => fits(of[0], of[1]), Write = (of, _) => write(of[0], of[1]) };

    private static ImmutableArray<PointCase> Rows(params ImmutableArray<PointRow> rows) => [new("", rows)];

    private static ImmutableArray<PointCase> At(Vec3 p) => Rows(new(Vec3.AlongX, p.X), new(Vec3.AlongY, p.Y), new(Vec3.AlongZ, p.Z));

    private static ImmutableArray<PointCase> On(Line3 line)
    {
        var (a, b) = line.Direction.Across();
        return Rows(new(a, a.Dot(line.Origin)), new(b, b.Dot(line.Origin)));
    }

    private static Outcome<ImmutableArray<PointCase>> Apart(Thing t, double distance)
    {
        if (t.Plane is { } plane)
        {
            // On the side the normal points to for positive distances, as for a parallel plane.
            return Rows(new PointRow(plane.Z, plane.Z.Dot(plane.Origin) + distance));
        }

        return distance < Tolerances.SmallestSize
            ? new Refusal("datum.distance", $"A distance all round must be more than zero, not {distance:0.####} mm.")
            : ImmutableArray.Create(
                new PointCase("", [])
                {
                    Surface =
                        t.Place is { } p && t.Line is null
                            ? new SphereSurface(p, distance)
                            : new CylinderSurface(t.Straight!.Value, distance),
                }
            );
    }

    private static Outcome<ImmutableArray<PointCase>> Nearest(Line3 a, Line3 b)
    {
        var (here, there) = a.Nearest(b);
        var turn = a.Direction.Cross(b.Direction).Length;
        return turn < Tolerances.DatumAngle
            ? new Refusal(
                "datum.parallel",
                $"The lines are parallel to within {Reasons.Degrees(Math.Asin(Math.Min(1, turn)))}: no one place is nearest."
            )
            : At((here + there) / 2);
    }

    private static Vec3 FootOn(Thing on, Vec3 p) =>
        on.Plane is { } plane ? Plane3.Of(plane).Foot(p)
        : on.Straight is { } line && on.Surface is null ? line.Foot(p)
        : on.Path is { } path ? path.AtLength(path.Nearest(p)).At
        : on.Surface!.Foot(p);

    private static Vec3 OnRound(Surface surface, AxisGuide guide, double around, double height)
    {
        var (axis, radius) =
            surface is CylinderSurface c ? (c.Axis, c.Radius)
            : ((ConeSurface)surface).Axis is var a ? (a, height * Math.Tan(((ConeSurface)surface).HalfAngle))
            : default;
        var zero = guide.Zero(axis);
        return axis.At(height) + (zero.Turned(axis.Direction, around) * radius);
    }

    private static Vec3 OnSphere(SphereSurface s, double around, double latitude) =>
        s.Centre + (new Vec3(Math.Cos(latitude) * Math.Cos(around), Math.Cos(latitude) * Math.Sin(around), Math.Sin(latitude)) * s.Radius);

    private static Vec3 OnTorus(TorusSurface t, AxisGuide guide, double around, double tube)
    {
        var outward = guide.Zero(t.Axis).Turned(t.Axis.Direction, around);
        return t.Axis.Origin + (outward * (t.Ring + (t.Tube * Math.Cos(tube)))) + (t.Axis.Direction * (t.Tube * Math.Sin(tube)));
    }

    private static Outcome<ImmutableArray<PointCase>> OnFree(SplineSurface s, double u, double v) =>
        u is < 0 or > 1 || v is < 0 or > 1
            ? new Refusal("datum.off-face", "Fractions across a free-form face lie between 0 and 1: it is not continued beyond its rims.")
            : At(s.At(s.RangeU.From + (u * (s.RangeU.To - s.RangeU.From)), s.RangeV.From + (v * (s.RangeV.To - s.RangeV.From))).P);
}
