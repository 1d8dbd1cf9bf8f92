namespace Ratiogon.Core.Geometry;

/// <summary>A right-handed orthonormal frame: where a sketch lies and which way it looks.</summary>
/// <param name="Origin">In millimetres.</param>
/// <param name="X">Unit vector.</param>
/// <param name="Y">Unit vector, square to <paramref name="X"/>.</param>
public readonly record struct Frame(Vec3 Origin, Vec3 X, Vec3 Y)
{
    /// <summary>How much of the normal has to lie level for it to say where x lies.</summary>
    private const double Level = 1e-9;

    /// <summary>The world frame, seen as the XY plane.</summary>
    public static readonly Frame World = new(Vec3.Zero, Vec3.AlongX, Vec3.AlongY);

    /// <summary>The normal of the frame's own plane.</summary>
    public Vec3 Z => X.Cross(Y);

    /// <summary>A frame on the plane through <paramref name="origin"/> with the given normal, by the world's directions: y points
    /// up the world's z as far as the plane allows; on level planes x is the world's x. For what does not turn, or has nothing
    /// of its own that its axes could follow (<see cref="AxisGuide"/>): through level it turns round.</summary>
    public static Frame Facing(Vec3 origin, Vec3 normal)
    {
        var z = normal.Unit;
        var aside = Math.Sqrt((z.X * z.X) + (z.Y * z.Y));
        if (aside < Level)
        {
            var along = (Vec3.AlongX - (z * z.X)).Unit;
            return new Frame(origin, along, z.Cross(along));
        }

        // Level x by the level part of the normal: exact however near to level the plane is.
        var x = new Vec3(-z.Y / aside, z.X / aside, 0);
        return new Frame(origin, x, z.Cross(x));
    }

    /// <summary>A frame with the given z as far as possible along <paramref name="z"/> and x along <paramref name="x"/>, made
    /// exactly orthonormal; z counts for more.</summary>
    public static Frame OfAxes(Vec3 origin, Vec3 z, Vec3 x)
    {
        var normal = z.Unit;
        var along = (x - (normal * normal.Dot(x))).Unit;
        return new Frame(origin, along, normal.Cross(along));
    }

    /// <summary>A place of this frame's own coordinates in the world.</summary>
    public Vec3 ToWorld(Vec3 p) => Origin + (X * p.X) + (Y * p.Y) + (Z * p.Z);

    /// <summary>A place of the world in this frame's own coordinates.</summary>
    public Vec3 ToLocal(Vec3 p) => new((p - Origin).Dot(X), (p - Origin).Dot(Y), (p - Origin).Dot(Z));

    /// <summary>The frame turned about a line through its origin, by radians.</summary>
    public Frame Turned(Vec3 about, double angle) => this with { X = X.Turned(about, angle), Y = Y.Turned(about, angle) };

    /// <summary>Every digit, for keys by content.</summary>
    public string ToExact() => $"{Origin.ToExact()} {X.ToExact()} {Y.ToExact()}";

    public Vec3 ToWorld(Vec2 p) => Origin + (X * p.X) + (Y * p.Y);

    public Vec2 ToPlane(Vec3 p) => new((p - Origin).Dot(X), (p - Origin).Dot(Y));

    /// <summary>The frame moved along its own normal.</summary>
    public Frame Shifted(double distance) => this with { Origin = Origin + (Z * distance) };

    /// <summary>The frame with its normal the other way, x kept.</summary>
    public Frame Flipped() => this with { Y = -Y };
}
