namespace Ratiogon.Core.Geometry;

/// <summary>Centres of circles from what they go through.</summary>
public static class Rounds
{
    /// <summary>The centre of the circle through three points; null where they lie on one line.</summary>
    public static Vec2? Through(Vec2 a, Vec2 b, Vec2 c)
    {
        var (u, v) = (b - a, c - a);
        var cross = 2 * u.Cross(v);
        return Math.Abs(cross) < Tolerances.Angle * u.Length * v.Length ? null : a + (((v.Left * -u.Dot(u)) + (u.Left * v.Dot(v))) / cross);
    }

    /// <summary>The centre of the arc that leaves a point in a direction and reaches another; null where that is straight ahead.</summary>
    public static Vec2? Leaving(Vec2 from, Vec2 direction, Vec2 to)
    {
        var d = to - from;
        var across = direction.Unit.Left;
        var off = d.Dot(across);
        return Math.Abs(off) < Tolerances.Angle * d.Length ? null : from + (across * (d.Dot(d) / (2 * off)));
    }

    /// <summary>The centre of a circle of a radius through two points, to the left of the way from one to the other (or to
    /// the right for a negative radius); null where they are too far apart.</summary>
    public static Vec2? OfRadius(Vec2 a, Vec2 b, double radius)
    {
        var half = (b - a) / 2;
        var squared = (radius * radius) - half.Dot(half);
        return squared < 0 ? null : a + half + (half.Unit.Left * (Math.Sign(radius) * Math.Sqrt(squared)));
    }
}
