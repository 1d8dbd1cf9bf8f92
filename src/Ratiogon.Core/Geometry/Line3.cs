namespace Ratiogon.Core.Geometry;

/// <summary>An unbounded line in space, in millimetres.</summary>
/// <param name="Origin">A point of it.</param>
/// <param name="Direction">Unit vector.</param>
public readonly record struct Line3(Vec3 Origin, Vec3 Direction)
{
    /// <summary>The line from one point to another; they must differ.</summary>
    public static Line3 Through(Vec3 a, Vec3 b) => new(a, (b - a).Unit);

    public Vec3 At(double t) => Origin + (Direction * t);

    /// <summary>Where along the line the foot of a point lies, in millimetres from the origin.</summary>
    public double Along(Vec3 p) => (p - Origin).Dot(Direction);

    public Vec3 Foot(Vec3 p) => At(Along(p));

    public double DistanceTo(Vec3 p) => (p - Origin).Cross(Direction).Length;

    /// <summary>The feet of the shortest way to another line. For parallel lines the foot of this origin.</summary>
    public NearestPlaces Nearest(Line3 other)
    {
        var across = Direction.Cross(other.Direction);
        var squared = across.Dot(across);
        if (squared < Tolerances.Angle * Tolerances.Angle)
        {
            return new NearestPlaces(Origin, other.Foot(Origin));
        }

        var between = other.Origin - Origin;
        var here = At(between.Cross(other.Direction).Dot(across) / squared);
        return new NearestPlaces(here, other.At(between.Cross(Direction).Dot(across) / squared));
    }
}

/// <summary>An unbounded plane: <c>Normal . p + Offset = 0</c>.</summary>
/// <param name="Normal">Unit vector.</param>
/// <param name="Offset">In millimetres.</param>
public readonly record struct Plane3(Vec3 Normal, double Offset)
{
    public static Plane3 Through(Vec3 point, Vec3 normal) => new(normal, -normal.Dot(point));

    public static Plane3 Of(Frame frame) => Through(frame.Origin, frame.Z);

    /// <summary>Signed distance of a point, positive on the side the normal points to.</summary>
    public double Side(Vec3 p) => Normal.Dot(p) + Offset;

    public Vec3 Foot(Vec3 p) => p - (Normal * Side(p));
}

/// <summary>Where two lines come nearest to each other.</summary>
/// <param name="Here">On this line.</param>
/// <param name="There">On the other.</param>
public readonly record struct NearestPlaces(Vec3 Here, Vec3 There);
