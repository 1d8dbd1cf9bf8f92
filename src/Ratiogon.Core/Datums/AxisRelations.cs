using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>One linear equation of a line in Plücker coordinates: <c>U . u + M . m = C</c>, with u its unit direction and
/// m = f x u its moment about the world's origin, f any point of it in millimetres.</summary>
internal readonly record struct AxisRow(Vec3 U, Vec3 M, double C);

/// <summary>One way in which a relation of an axis can hold.</summary>
/// <param name="Label">Empty where there is only one way.</param>
/// <param name="Rows">All must hold.</param>
/// <param name="Way">Which way along the axis counts as forward, where the relation says.</param>
internal sealed record AxisCase(string Label, ImmutableArray<AxisRow> Rows, Vec3? Way = null);

/// <summary>How axes stand to things.</summary>
internal static class AxisRelations
{
    public static IReadOnlyList<Relation> All { get; } =
    [
        New("along", "along", -2, t => t.Line is not null, (t, _) => Whole(t.Line!.Value)),
        New("axis-of", "the axis of", -2, t => t.Axis is not null, (t, _) => Whole(t.Axis!.Value)),
        New("through", "through", 0, t => t.Point is not null, (t, _) => Case(Through(t.Point!.Value))),
        New("through-centre", "through the centre of", 2, t => t.Centre is not null, (t, _) => Case(Through(t.Centre!.Value))),
        New("through-middle", "through the middle of", 5, t => t.Middle is not null, (t, _) => Case(Through(t.Middle!.Value))),
        New(
            "parallel",
            "parallel to",
            1,
            t => t.Straight is not null,
            (t, _) => Case(Directed(t.Straight!.Value.Direction), t.Straight.Value.Direction)
        ),
        New("square", "square to", 1, t => t.Plane is not null, (t, _) => Case(Directed(t.Plane!.Value.Z), t.Plane.Value.Z)),
        New("in", "in the plane of", 2, t => t.Plane is not null, (t, _) => Case(InPlane(Plane3.Of(t.Plane!.Value)))),
        New("level", "parallel to", 4, t => t.Plane is not null, (t, _) => Case([Direction(t.Plane!.Value.Z, 0)])),
        New("across", "square to", 3, t => t.Straight is not null, (t, _) => Case([Direction(t.Straight!.Value.Direction, 0)])),
        New("meets", "crossing", 3, t => t.Straight is not null, (t, _) => Case([Meets(t.Straight!.Value)])),
        New("angle-plane", "at an angle to", 5, t => t.Plane is not null, (t, v) => Signed(t.Plane!.Value.Z, Math.Sin(v[0])), Field.Angle),
        New(
            "angle-line",
            "at an angle to",
            5,
            t => t.Straight is not null,
            (t, v) => Signed(t.Straight!.Value.Direction, Math.Cos(v[0])),
            Field.Angle
        ),
        New(
            "tangent-at-fraction",
            "tangent at a fraction of",
            3,
            t => t.Path is not null && t.Line is null,
            (t, v) => Tangent(AlongPath.At(t.Path!, v[0], true)),
            Field.Fraction
        ),
        New(
            "tangent-at-length",
            "tangent at a length along",
            4,
            t => t.Path is not null && t.Line is null,
            (t, v) => Tangent(AlongPath.At(t.Path!, v[0], false)),
            Field.Length
        ),
        Two(
            "meeting",
            "where two planes meet:",
            -2,
            (a, b) => a.Plane is not null && b.Plane is not null,
            (a, b) => Meeting(Plane3.Of(a.Plane!.Value), Plane3.Of(b.Plane!.Value))
        ),
        Two(
            "shortest",
            "the shortest way between",
            0,
            (a, b) => a.Straight is not null && b.Straight is not null,
            (a, b) => Shortest(a.Straight!.Value, b.Straight!.Value)
        ),
        Two(
            "midway",
            "midway between",
            1,
            (a, b) => a.Straight is not null && b.Straight is not null,
            (a, b) => Midway(a.Straight!.Value, b.Straight!.Value)
        ),
        Two(
            "normal-at",
            "square at a point to",
            -1,
            (a, b) => a.Outward is not null && b.Point is not null,
            (a, b) => NormalAt(a, b.Point!.Value)
        ),
        Two(
            "tangent-at",
            "tangent at a point to",
            -1,
            (a, b) => a.Path is not null && a.Line is null && b.Point is not null,
            (a, b) => TangentAt(a.Path!, b.Point!.Value)
        ),
        .. Motions.Of(
            DatumKind.Axis,
            t => t.Straight is not null,
            (t, by) => Whole(new Line3(by.Apply(t.Straight!.Value.Origin), by.Turn(t.Straight.Value.Direction)))
        ),
    ];

    private static Relation<AxisCase> New(
        string name,
        string words,
        int cost,
        Func<Thing, bool> fits,
        Func<Thing, double[], Outcome<ImmutableArray<AxisCase>>> write,
        params ImmutableArray<RelationField> fields
    ) => new(name, DatumKind.Axis, words, 1, fields, cost) { Fits = of => fits(of[0]), Write = (of, values) => write(of[0], values) };

    private static Relation<AxisCase> Two(
        string name,
        string words,
        int cost,
        Func<Thing, Thing, bool> fits,
        Func<Thing, Thing, Outcome<ImmutableArray<AxisCase>>> write
    ) => new(name, DatumKind.Axis, words, 2, [], cost) { Fits = of => fits(of[0], of[1]), Write = (of, _) => write(of[0], of[1]) };

    private static ImmutableArray<AxisCase> Case(IEnumerable<AxisRow> rows, Vec3? way = null) => [new("", [.. rows], way)];

    private static AxisRow Direction(Vec3 d, double c) => new(d, Vec3.Zero, c);

    private static IEnumerable<AxisRow> Directed(Vec3 d)
    {
        var (a, b) = d.Across();
        return [Direction(a, 0), Direction(b, 0)];
    }

    /// <summary>p x u = m.</summary>
    private static IEnumerable<AxisRow> Through(Vec3 p) =>
        [
            new(new Vec3(0, -p.Z, p.Y), -Vec3.AlongX, 0),
            new(new Vec3(p.Z, 0, -p.X), -Vec3.AlongY, 0),
            new(new Vec3(-p.Y, p.X, 0), -Vec3.AlongZ, 0),
        ];

    /// <summary>n x m = d u, and n . u = 0.</summary>
    private static IEnumerable<AxisRow> InPlane(Plane3 p)
    {
        var (n, d) = (p.Normal, p.Offset);
        return
        [
            Direction(n, 0),
            new(Vec3.AlongX * -d, new Vec3(0, -n.Z, n.Y), 0),
            new(Vec3.AlongY * -d, new Vec3(n.Z, 0, -n.X), 0),
            new(Vec3.AlongZ * -d, new Vec3(-n.Y, n.X, 0), 0),
        ];
    }

    /// <summary>Two lines meet when their reciprocal product is zero.</summary>
    private static AxisRow Meets(Line3 line) => new(line.Origin.Cross(line.Direction), line.Direction, 0);

    private static ImmutableArray<AxisCase> Whole(Line3 line) =>
        Case(Directed(line.Direction).Concat(Through(line.Origin)), line.Direction);

    private static ImmutableArray<AxisCase> Signed(Vec3 direction, double value) =>
        [new("+", [Direction(direction, value)]), new("-", [Direction(direction, -value)])];

    private static Outcome<ImmutableArray<AxisCase>> Tangent(Outcome<PathPlace> place) => place.Map(p => Whole(new Line3(p.At, p.Tangent)));

    private static Outcome<ImmutableArray<AxisCase>> Meeting(Plane3 a, Plane3 b)
    {
        var along = a.Normal.Cross(b.Normal);
        return along.Length < Tolerances.DatumAngle ? Reasons.Parallel(a, b) : Case(InPlane(a).Concat(InPlane(b)), along.Unit);
    }

    private static Outcome<ImmutableArray<AxisCase>> Shortest(Line3 a, Line3 b)
    {
        var (here, there) = a.Nearest(b);
        return a.Direction.Cross(b.Direction).Length < Tolerances.DatumAngle
            ? new Refusal(
                "datum.parallel",
                "The lines are parallel to within "
                    + $"{Reasons.Degrees(Math.Asin(Math.Min(1, a.Direction.Cross(b.Direction).Length)))}, "
                    + $"{here.DistanceTo(there):0.###} mm apart: no one way between them is shortest."
            )
            : Whole(
                new Line3(
                    (here + there) / 2,
                    here.DistanceTo(there) > Tolerances.Apart ? (there - here).Unit : a.Direction.Cross(b.Direction).Unit
                )
            );
    }

    private static Outcome<ImmutableArray<AxisCase>> Midway(Line3 a, Line3 b)
    {
        var (here, there) = a.Nearest(b);
        if (a.Direction.Cross(b.Direction).Length < Tolerances.Angle)
        {
            return Whole(new Line3((here + there) / 2, a.Direction));
        }

        AxisCase Bisector(string label, Vec3 way) => Whole(new Line3((here + there) / 2, way.Unit))[0] with { Label = label };
        return ImmutableArray.Create(Bisector("between", a.Direction + b.Direction), Bisector("across", a.Direction - b.Direction));
    }

    private static Outcome<ImmutableArray<AxisCase>> NormalAt(Thing face, Vec3 point)
    {
        var normal = face.Outward!(point);
        return normal == Vec3.Zero
            ? new Refusal("datum.no-normal", $"{face.Words} has no one normal at the point.")
            : Whole(new Line3(point, normal));
    }

    private static Outcome<ImmutableArray<AxisCase>> TangentAt(CurvePath path, Vec3 point)
    {
        var (at, tangent) = path.AtLength(path.Nearest(point));
        return at.DistanceTo(point) > Tolerances.Length * 10
            ? new Refusal(
                "datum.off-curve",
                $"The point lies {at.DistanceTo(point):0.####} mm off the curve; a tangent needs a point on it."
            )
            : Whole(new Line3(at, tangent));
    }
}
