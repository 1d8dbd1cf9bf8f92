namespace Ratiogon.Core.Tools;

/// <summary>Which way round the pointer went about a centre, and how far.</summary>
internal sealed class Turning
{
    public bool Clockwise { get; private set; }

    public void Clear() => Clockwise = false;

    /// <summary>Small steps of the pointer past the start decide which way it goes round.</summary>
    public void Follow(Vec2 centre, Vec2 from, Vec2 pointer)
    {
        var turn = Math.IEEERemainder((pointer - centre).Angle - (from - centre).Angle, 2 * Math.PI);
        Clockwise = Math.Abs(turn) < 0.5 ? turn < 0 : Clockwise;
    }

    /// <summary>How far round a place is from the start, the way it goes; never negative.</summary>
    public double To(Vec2 centre, Vec2 from, Vec2 to) => Sweep(centre, from, to, Clockwise);

    /// <summary>The place as far round as typed.</summary>
    public Vec2 At(Vec2 centre, Vec2 from, double sweep) =>
        centre + Vec2.Polar((from - centre).Angle + (Clockwise ? -sweep : sweep), from.DistanceTo(centre));

    /// <summary>How far round from one place to another, in radians in [0, 2 pi).</summary>
    public static double Sweep(Vec2 centre, Vec2 from, Vec2 to, bool clockwise)
    {
        var turn = (to - centre).Angle - (from - centre).Angle;
        turn = clockwise ? -turn : turn;
        return turn - (Math.Floor(turn / (2 * Math.PI)) * 2 * Math.PI);
    }
}
