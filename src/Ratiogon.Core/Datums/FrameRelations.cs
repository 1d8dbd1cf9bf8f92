using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Datums;

/// <summary>What a relation of a frame fixes: its origin, or directions of it.</summary>
internal sealed record FrameCase(Vec3? Origin = null, Vec3? X = null, Vec3? Y = null, Vec3? Z = null)
{
    /// <summary>A point the x axis runs through, or that lies on the positive side of it.</summary>
    public Vec3? Towards { get; init; }

    public Vec3? Side { get; init; }

    /// <summary>Whether its directions give way to any that something else gives: a free frame aimed at an edge or a face.</summary>
    public bool Yields { get; init; }

    /// <summary>What the directions follow that nothing gives.</summary>
    public AxisGuide Guide { get; init; }

    /// <summary>Turns about its own x, y and z after all else, in radians.</summary>
    public Vec3 Turn { get; init; }
}

/// <summary>How frames stand to things.</summary>
internal static class FrameRelations
{
    private static readonly ImmutableArray<RelationField> Six =
    [
        Field.Coordinate("x"),
        Field.Coordinate("y"),
        Field.Coordinate("z"),
        new("about x", Dimension.OfAngle, "0 deg"),
        new("about y", Dimension.OfAngle, "0 deg"),
        new("about z", Dimension.OfAngle, "0 deg"),
    ];

    public static IReadOnlyList<Relation> All { get; } =
    [
        New("origin", "with its origin at", 0, t => t.Point is not null, (t, _) => new FrameCase(t.Point)),
        New("origin-centre", "with its origin at the centre of", 1, t => t.Centre is not null, (t, _) => new FrameCase(t.Centre)),
        New("towards", "with x towards", 1, t => t.Point is not null, (t, _) => new FrameCase { Towards = t.Point }),
        New("side", "with y to the side of", 2, t => t.Point is not null, (t, _) => new FrameCase { Side = t.Point }),
        New(
            "x",
            "with x along",
            1,
            t => t.Straight is not null,
            (t, _) => new FrameCase(X: t.Straight!.Value.Direction) { Guide = t.Guide }
        ),
        New(
            "y",
            "with y along",
            3,
            t => t.Straight is not null,
            (t, _) => new FrameCase(Y: t.Straight!.Value.Direction) { Guide = t.Guide }
        ),
        New(
            "z",
            "with z along",
            2,
            t => t.Straight is not null,
            (t, _) => new FrameCase(Z: t.Straight!.Value.Direction) { Guide = t.Guide }
        ),
        New("z-square", "with z square to", 1, t => t.Plane is not null, (t, _) => new FrameCase(Z: t.Plane!.Value.Z) { Guide = t.Guide }),
        New("x-square", "with x square to", 4, t => t.Plane is not null, (t, _) => new FrameCase(X: t.Plane!.Value.Z) { Guide = t.Guide }),
        New("on", "on", 2, t => t.Plane is not null, (t, _) => Like(t.Plane!.Value with { Origin = t.Middle ?? t.Plane.Value.Origin })),
        New(
            "on-round",
            "on the axis of",
            2,
            t => t.Surface is not null && t.Axis is not null,
            (t, _) => Like(t.Guide.On(t.Axis!.Value.Foot(t.Middle ?? t.Anchor), t.Axis.Value.Direction))
        ),
        New("edge", "at the middle of", 2, t => t.Path is not null, (t, _) => AtEdge(t.Path!, t.Guide)),
        New(
            "object",
            "at the middle of",
            0,
            t => t.Box is not null,
            (t, _) => new FrameCase((t.Box!.Value.Low + t.Box.Value.High) * 0.5, Vec3.AlongX, null, Vec3.AlongZ)
        ),
        New("like", "shifted and turned in", -1, t => t.Frame is not null, (t, v) => Shifted(t.Frame!.Value, v), Six),
        new Relation<FrameCase>("free", DatumKind.Frame, "placed freely in the world", 0, Six, 0)
        {
            Fits = _ => true,
            Write = (_, v) => ImmutableArray.Create(Shifted(Frame.World, v)),
        },
        new Relation<FrameCase>("normal-at", DatumKind.Frame, "on, at a point of,", 2, [], 0)
        {
            Fits = of => of[0].Outward is not null && of[1].Point is not null,
            Write = (of, _) =>
                of[0].Outward!(of[1].Point!.Value) is var normal && normal == Vec3.Zero
                    ? new Refusal("datum.no-normal", $"{of[0].Words} has no one normal at the point.")
                    : ImmutableArray.Create(Like(of[0].Guide.On(of[1].Point!.Value, normal))),
        },
        // Mirrored, x and y are the images of its own, and z turns round: frames are right-handed.
        .. Motions.Of(
            DatumKind.Frame,
            // A plane has axes as well, those of a sketch on it.
            t => (t.Frame ?? t.Plane) is not null,
            (t, by) =>
                (t.Frame ?? t.Plane)!.Value is var frame
                    ? ImmutableArray.Create(new FrameCase(by.Apply(frame.Origin), by.Turn(frame.X), by.Turn(frame.Y), null))
                    : []
        ),
    ];

    private static Relation<FrameCase> New(
        string name,
        string words,
        int cost,
        Func<Thing, bool> fits,
        Func<Thing, double[], FrameCase> write,
        params ImmutableArray<RelationField> fields
    ) =>
        new(name, DatumKind.Frame, words, 1, fields, cost)
        {
            Fits = of => fits(of[0]),
            Write = (of, values) => ImmutableArray.Create(write(of[0], values)),
        };

    private static FrameCase Like(Frame f) => new(f.Origin, f.X, null, f.Z);

    private static FrameCase Shifted(Frame f, double[] v) =>
        new(f.ToWorld(new Vec3(v[0], v[1], v[2])), f.X, null, f.Z) { Turn = new Vec3(v[3], v[4], v[5]), Yields = true };

    private static FrameCase AtEdge(CurvePath path, AxisGuide guide)
    {
        var (at, tangent) = path.AtLength(path.Length / 2);
        return Like(Frame.OfAxes(at, guide.Zero(new Line3(at, tangent)), tangent));
    }
}
