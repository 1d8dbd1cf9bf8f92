namespace Ratiogon.Core.Geometry;

/// <summary>What the axes of a plane, and the zero of angles about an axis, follow: directions of what it was made from. They are
/// carried along with it, so that its axes turn as it turns and no angle ever changes the rule.</summary>
/// <param name="X">What x follows where <paramref name="Y"/> gives nothing, and where angles about an axis begin; zero for nothing.</param>
/// <param name="Y">What y follows as far as the plane allows; zero for nothing.</param>
public readonly record struct AxisGuide(Vec3 X, Vec3 Y)
{
    /// <summary>Along is what is told by construction: a direction either lies square to the other or along it.</summary>
    private const double Along = 1e-6;

    public static readonly AxisGuide None;

    /// <summary>Of a frame's own plane: x follows its x.</summary>
    public static AxisGuide Of(Frame frame) => new(frame.X, Vec3.Zero);

    /// <summary>The first that gives anything.</summary>
    public static AxisGuide First(IEnumerable<AxisGuide> guides) => guides.FirstOrDefault(g => g.Given);

    public bool Given => X != Vec3.Zero || Y != Vec3.Zero;

    /// <summary>A frame with this normal; by the world's directions where nothing is followed.</summary>
    public Frame On(Vec3 origin, Vec3 normal)
    {
        var z = normal.Unit;
        if (Square(Y, z) is { } y)
        {
            return new Frame(origin, y.Cross(z), y);
        }

        return Square(X, z) is { } x ? new Frame(origin, x, z.Cross(x)) : Frame.Facing(origin, normal);
    }

    /// <summary>The direction square to an axis that angles about it are counted from.</summary>
    public Vec3 Zero(Line3 axis) => Square(X, axis.Direction) ?? Square(Y, axis.Direction) ?? Frame.Facing(axis.Origin, axis.Direction).X;

    public AxisGuide Moved(Rigid by) => new(by.Turn(X), by.Turn(Y));

    private static Vec3? Square(Vec3 v, Vec3 z)
    {
        if (v == Vec3.Zero || v.Unit.Cross(z).Length <= Along)
        {
            return null;
        }

        // Twice: what rounding leaves of the first time is gone after the second.
        var once = (v - (z * v.Dot(z))).Unit;
        return (once - (z * once.Dot(z))).Unit;
    }
}
