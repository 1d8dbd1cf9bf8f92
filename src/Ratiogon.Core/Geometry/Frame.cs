namespace Ratiogon.Core.Geometry;

/// <summary>A right-handed orthonormal frame: where a sketch lies and which way it looks.</summary>
/// <param name="Origin">In millimetres.</param>
/// <param name="X">Unit vector.</param>
/// <param name="Y">Unit vector, square to <paramref name="X"/>.</param>
public readonly record struct Frame(Vec3 Origin, Vec3 X, Vec3 Y)
{
    /// <summary>The world frame, seen as the XY plane.</summary>
    public static readonly Frame World = new(Vec3.Zero, Vec3.AlongX, Vec3.AlongY);

    /// <summary>The normal of the frame's own plane.</summary>
    public Vec3 Z => X.Cross(Y);

    /// <summary>A frame on the plane through <paramref name="origin"/> with the given normal. Its axes follow a stable
    /// rule: y points up the world's z as far as the plane allows; on level planes x is the world's x.</summary>
    public static Frame Facing(Vec3 origin, Vec3 normal)
    {
        var z = normal.Unit;
        if (Math.Abs(z.Z) > 0.999)
        {
            var along = (Vec3.AlongX - (z * z.X)).Unit;
            return new Frame(origin, along, z.Cross(along));
        }

        var y = (Vec3.AlongZ - (z * z.Z)).Unit;
        return new Frame(origin, y.Cross(z), y);
    }

    public Vec3 ToWorld(Vec2 p) => Origin + (X * p.X) + (Y * p.Y);

    public Vec2 ToPlane(Vec3 p) => new((p - Origin).Dot(X), (p - Origin).Dot(Y));

    /// <summary>The frame moved along its own normal.</summary>
    public Frame Shifted(double distance) => this with { Origin = Origin + (Z * distance) };

    /// <summary>The frame with its normal the other way, x kept.</summary>
    public Frame Flipped() => this with { Y = -Y };
}
