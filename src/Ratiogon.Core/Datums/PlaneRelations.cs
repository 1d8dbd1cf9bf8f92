using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>One linear equation of a plane: <c>A . n + B d = C</c>, with n its unit normal and d its offset in millimetres.</summary>
internal readonly record struct PlaneRow(Vec3 A, double B, double C);

/// <summary>One way in which a relation of a plane can hold.</summary>
/// <param name="Label">Empty where there is only one way.</param>
/// <param name="Rows">All must hold.</param>
internal sealed record PlaneCase(string Label, ImmutableArray<PlaneRow> Rows)
{
    /// <summary>Touching what is not linear: zero where the plane touches, in millimetres.</summary>
    public Func<Plane3, double>? Touch { get; init; }

    /// <summary>Whether it is the mirror image of another case of its condition: the same planes with their normals turned
    /// round, as long as all other conditions turn round too.</summary>
    public bool Mirrored { get; init; }

    /// <summary>The side that the normal is to point to, where the relation fixes its line but not its side.</summary>
    public Vec3? Way { get; init; }

    /// <summary>Touching a free-form face, found by the place it touches at.</summary>
    public SplineSurface? Free { get; init; }
}

/// <summary>How planes stand to things: nearly all conditions are linear in (n, d).</summary>
internal static class PlaneRelations
{
    public static IReadOnlyList<Relation> All { get; } =
    [
        New("through", "through", 0, t => t.Point is not null, (t, _) => Point(t.Point!.Value)),
        New("through-line", "through", 0, t => t.Line is not null, (t, _) => Line(t.Line!.Value)),
        New("through-centre", "through the centre of", 3, t => t.Centre is not null, (t, _) => Point(t.Centre!.Value)),
        New("through-axis", "through the axis of", 2, t => t.Axis is not null, (t, _) => Line(t.Axis!.Value)),
        New("through-middle", "through the middle of", 5, t => t.Middle is not null, (t, _) => Point(t.Middle!.Value)),
        New(
            "offset",
            "parallel, at a distance from",
            1,
            t => t.Plane is not null,
            (t, v) => Flat(t.Plane!.Value.Z, Plane3.Of(t.Plane.Value).Offset - v[0]),
            Field.Distance
        ),
        New("parallel", "parallel to", 1, t => t.Plane is not null, (t, _) => Parallel(t.Plane!.Value.Z)),
        New(
            "angle",
            "at an angle to",
            2,
            t => t.Plane is not null,
            (t, v) => Signed(s => [new(t.Plane!.Value.Z, 0, s * Math.Cos(v[0]))]),
            Field.Angle
        ),
        New("square", "square to", 3, t => t.Plane is not null, (t, _) => Rows(new PlaneRow(t.Plane!.Value.Z, 0, 0))),
        New("along", "along", 4, t => t.Straight is not null, (t, _) => Rows(new PlaneRow(t.Straight!.Value.Direction, 0, 0))),
        New("across", "square to", 2, t => t.Straight is not null, (t, _) => Parallel(t.Straight!.Value.Direction)),
        New(
            "angle-line",
            "at an angle to",
            5,
            t => t.Straight is not null,
            (t, v) => Signed(s => [new(t.Straight!.Value.Direction, 0, s * Math.Sin(v[0]))]),
            Field.Angle
        ),
        New("tangent", "tangent to", 0, t => t.Surface is not null, (t, _) => Tangent(t.Surface!)),
        New("apart", "at a distance from", 6, t => t.Place is not null || t.Straight is not null, (t, v) => Apart(t, v[0]), Field.Distance),
        New(
            "holds",
            "in the plane of",
            1,
            t => t.Round is not null,
            (t, _) => Flat(t.Round!.Axis.Direction, -t.Round.Axis.Direction.Dot(t.Round.Centre))
        ),
        New(
            "normal-at-fraction",
            "normal at a fraction of",
            2,
            t => t.Path is not null,
            (t, v) => Normal(AlongPath.At(t.Path!, v[0], true)),
            Field.Fraction
        ),
        New(
            "normal-at-length",
            "normal at a length along",
            4,
            t => t.Path is not null,
            (t, v) => Normal(AlongPath.At(t.Path!, v[0], false)),
            Field.Length
        ),
        Two(
            "midway",
            "midway between",
            -1,
            (a, b) => a.Plane is not null && b.Plane is not null,
            (a, b) => Midway(Plane3.Of(a.Plane!.Value), Plane3.Of(b.Plane!.Value))
        ),
        Two(
            "halfway",
            "halfway between",
            -1,
            (a, b) => a.Place is not null && b.Place is not null,
            (a, b) => Halfway(a.Place!.Value, b.Place!.Value)
        ),
        new Relation<PlaneCase>(
            "turned",
            DatumKind.Plane,
            "turned about the line through",
            2,
            [new RelationField("turn", Quantities.Dimension.OfAngle, "0 deg")],
            2
        )
        {
            Fits = of => of[0].Place is not null && of[1].Place is not null,
            Write = (of, v) => Turned(of[0].Place!.Value, of[1].Place!.Value, v[0]),
        },
        Two(
            "normal-at",
            "normal at a point of",
            -1,
            (a, b) => a.Path is not null && a.Line is null && b.Point is not null,
            (a, b) => NormalAt(a.Path!, b.Point!.Value)
        ),
        Two(
            "tangent-at",
            "tangent at a point of",
            -1,
            (a, b) => a.Surface is not null && b.Point is not null,
            (a, b) => TangentAt(a.Surface!, b.Point!.Value)
        ),
        .. Motions.Of(
            DatumKind.Plane,
            t => t.Plane is not null,
            (t, by) => by.Turn(t.Plane!.Value.Z) is var normal ? Flat(normal, -normal.Dot(by.Apply(t.Plane.Value.Origin))) : []
        ),
    ];

    private static Relation<PlaneCase> New(
        string name,
        string words,
        int cost,
        Func<Thing, bool> fits,
        Func<Thing, double[], Outcome<ImmutableArray<PlaneCase>>> write,
        params ImmutableArray<RelationField> fields
    ) => new(name, DatumKind.Plane, words, 1, fields, cost) { Fits = of => fits(of[0]), Write = (of, values) => write(of[0], values) };

    private static Relation<PlaneCase> Two(
        string name,
        string words,
        int cost,
        Func<Thing, Thing, bool> fits,
        Func<Thing, Thing, Outcome<ImmutableArray<PlaneCase>>> write
    ) => new(name, DatumKind.Plane, words, 2, [], cost) { Fits = of => fits(of[0], of[1]), Write = (of, _) => write(of[0], of[1]) };

    private static ImmutableArray<PlaneCase> Rows(params ImmutableArray<PlaneRow> rows) => [new("", rows)];

    private static ImmutableArray<PlaneCase> Point(Vec3 p) => Rows(new PlaneRow(p, 1, 0));

    private static ImmutableArray<PlaneCase> Line(Line3 line) => Rows(new PlaneRow(line.Direction, 0, 0), new PlaneRow(line.Origin, 1, 0));

    private static ImmutableArray<PlaneCase> Parallel(Vec3 normal)
    {
        var (a, b) = normal.Across();
        return [new PlaneCase("", [new(a, 0, 0), new(b, 0, 0)]) { Way = normal }];
    }

    /// <summary>The plane itself: normal and offset given, side and all.</summary>
    private static ImmutableArray<PlaneCase> Flat(Vec3 normal, double offset)
    {
        var (a, b) = normal.Across();
        return Rows(new PlaneRow(a, 0, 0), new PlaneRow(b, 0, 0), new PlaneRow(normal, 0, 1), new PlaneRow(Vec3.Zero, 1, offset));
    }

    private static ImmutableArray<PlaneCase> Signed(Func<int, ImmutableArray<PlaneRow>> rows) =>
        [new("+", rows(1)), new("-", rows(-1)) { Mirrored = true }];

    private static ImmutableArray<PlaneCase> Apart(Thing thing, double distance) =>
        thing.Straight is { } line && thing.Point is null
            ? Signed(s => [new(line.Direction, 0, 0), new(line.Origin, 1, s * distance)])
            : Signed(s => [new(thing.Place!.Value, 1, s * distance)]);

    /// <summary>The first way has the normal pointing away from the face's inside.</summary>
    private static Outcome<ImmutableArray<PlaneCase>> Tangent(Surface surface) =>
        surface switch
        {
            CylinderSurface c => Signed(s => [new(c.Axis.Direction, 0, 0), new(c.Axis.Origin, 1, -s * c.Radius)]),
            SphereSurface c => Signed(s => [new(c.Centre, 1, -s * c.Radius)]),
            ConeSurface c => Signed(s => [new(c.Apex, 1, 0), new(c.Direction, 0, -s * Math.Sin(c.HalfAngle))]),
            TorusSurface c => ImmutableArray.Create(Torus(c, 1, -1), Torus(c, 1, 1), Torus(c, -1, -1), Torus(c, -1, 1)),
            SplineSurface c => ImmutableArray.Create(new PlaneCase("", []) { Free = c }),
            _ => new Refusal("datum.tangent-flat", $"A {surface.Word} has one tangent plane, itself."),
        };

    /// <summary>A plane touches a torus when the circle its tube runs on comes as near as the tube's radius: at its farther
    /// (1) or nearer (-1) end.</summary>
    private static PlaneCase Torus(TorusSurface t, int outer, int side) =>
        new($"{(outer > 0 ? "outer" : "inner")}{(side > 0 ? "+" : "-")}", [])
        {
            Mirrored = side > 0,
            Touch = p => p.Side(t.Axis.Origin) - (side * t.Tube) - (side * outer * t.Ring * p.Normal.Cross(t.Axis.Direction).Length),
        };

    private static Outcome<ImmutableArray<PlaneCase>> Normal(Outcome<PathPlace> place) =>
        place.Map(p => Flat(p.Tangent, -p.Tangent.Dot(p.At)));

    private static Outcome<ImmutableArray<PlaneCase>> NormalAt(CurvePath path, Vec3 point)
    {
        var (at, tangent) = path.AtLength(path.Nearest(point));
        return at.DistanceTo(point) > Tolerances.Length * 10
            ? new Refusal(
                "datum.off-curve",
                $"The point lies {at.DistanceTo(point):0.####} mm off the curve; a normal plane needs a point on it."
            )
            : Flat(tangent, -tangent.Dot(at));
    }

    private static Outcome<ImmutableArray<PlaneCase>> TangentAt(Surface surface, Vec3 point)
    {
        var (side, normal) = (surface.Side(point), surface.Normal(point));
        return Math.Abs(side) > Tolerances.Length * 10
                ? new Refusal(
                    "datum.off-face",
                    $"The point lies {Math.Abs(side):0.####} mm off the {surface.Word}; a plane tangent there needs a point on it."
                )
            : normal == Vec3.Zero ? new Refusal("datum.no-normal", $"The {surface.Word} has no one normal at the point.")
            : Flat(normal, -normal.Dot(surface.Foot(point)));
    }

    private static Outcome<ImmutableArray<PlaneCase>> Midway(Plane3 a, Plane3 b)
    {
        PlaneCase Bisector(string label, int sign)
        {
            var (n, d) = (a.Normal + (b.Normal * sign), a.Offset + (b.Offset * sign));
            return new PlaneCase(label, Flat(n.Unit, d / n.Length)[0].Rows);
        }

        // Parallel planes have one between them; the other bisector is at infinity.
        return a.Normal.Cross(b.Normal).Length < Tolerances.Angle
            ? [Bisector("", Math.Sign(a.Normal.Dot(b.Normal)))]
            : ImmutableArray.Create(Bisector("between", -1), Bisector("across", 1));
    }

    /// <summary>The normal that a turn about a direction is counted from: the world's z made square to it, or its y where
    /// the direction runs along z.</summary>
    internal static Vec3 Upright(Vec3 direction)
    {
        var up = direction.Cross(Vec3.AlongZ).Length < Tolerances.Angle ? Vec3.AlongY : Vec3.AlongZ;
        return (up - (direction * direction.Dot(up))).Unit;
    }

    private static Outcome<ImmutableArray<PlaneCase>> Turned(Vec3 a, Vec3 b, double turn)
    {
        if (a.DistanceTo(b) < Tolerances.Length)
        {
            return new Refusal("datum.same-point", "The two points are the same place: no line to turn about.");
        }

        var along = (b - a).Unit;
        var normal = Upright(along).Turned(along, turn);
        return Flat(normal, -normal.Dot(a));
    }

    private static Outcome<ImmutableArray<PlaneCase>> Halfway(Vec3 a, Vec3 b) =>
        a.DistanceTo(b) < Tolerances.Length
            ? new Refusal(
                "datum.same-point",
                $"The two points are the same place to within {Math.Max(a.DistanceTo(b), Tolerances.Apart):0.#########} mm."
            )
            : Flat((b - a).Unit, -(b - a).Unit.Dot((a + b) / 2));
}
