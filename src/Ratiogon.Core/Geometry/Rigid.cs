namespace Ratiogon.Core.Geometry;

/// <summary>A motion that keeps lengths: a turn or a mirroring, then a shift. Given by where the axes go.</summary>
/// <param name="X">Where the direction x goes.</param>
/// <param name="Y">Where y goes.</param>
/// <param name="Z">Where z goes.</param>
/// <param name="Shift">Where the origin goes, in millimetres.</param>
public readonly record struct Rigid(Vec3 X, Vec3 Y, Vec3 Z, Vec3 Shift)
{
    public static readonly Rigid None = new(Vec3.AlongX, Vec3.AlongY, Vec3.AlongZ, Vec3.Zero);

    public static Rigid By(Vec3 shift) => None with { Shift = shift };

    /// <summary>A turn about a line, in radians, right-handed.</summary>
    public static Rigid About(Line3 axis, double angle) => Fixing(axis.Origin, v => v.Turned(axis.Direction, angle));

    /// <summary>A mirroring in a plane.</summary>
    public static Rigid Mirror(Frame plane) => Fixing(plane.Origin, v => v - (plane.Z * (2 * v.Dot(plane.Z))));

    /// <summary>The motion that takes one frame on a path to another.</summary>
    public static Rigid Between(MovingFrame from, MovingFrame to)
    {
        var (a, b) = (from.Tangent.Cross(from.Normal), to.Tangent.Cross(to.Normal));
        Vec3 Turned(Vec3 v) => (to.Tangent * v.Dot(from.Tangent)) + (to.Normal * v.Dot(from.Normal)) + (b * v.Dot(a));
        var made = new Rigid(Turned(Vec3.AlongX), Turned(Vec3.AlongY), Turned(Vec3.AlongZ), Vec3.Zero);
        return made with { Shift = to.At - made.Turn(from.At) };
    }

    public Vec3 Turn(Vec3 v) => (X * v.X) + (Y * v.Y) + (Z * v.Z);

    public Vec3 Apply(Vec3 p) => Turn(p) + Shift;

    private static Rigid Fixing(Vec3 centre, Func<Vec3, Vec3> turn)
    {
        var made = new Rigid(turn(Vec3.AlongX), turn(Vec3.AlongY), turn(Vec3.AlongZ), Vec3.Zero);
        return made with { Shift = centre - made.Turn(centre) };
    }
}
