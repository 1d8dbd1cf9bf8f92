using Ratiogon.Core.Numerics.Equations;

namespace Ratiogon.Core.Sketches.Writing;

/// <summary>Writes an angle between two lines on the branch on which they lie now.</summary>
internal static class AngledLines
{
    /// <param name="writer">Where to.</param>
    /// <param name="a">Ends of the first line.</param>
    /// <param name="b">Ends of the second.</param>
    /// <param name="size">In radians, at least 0: the size of the angle between the lines as unbounded things.</param>
    public static void Write(SystemWriter writer, int[] a, int[] b, double size)
    {
        var now = Between(writer, a, b);
        var sign = now < 0 ? -1 : 1;

        // The same angle is met with either line turned round; the branch nearest to what is drawn is kept.
        double[] branches = [sign * size, (sign * size) - (sign * Math.PI), -sign * size, (-sign * size) + (sign * Math.PI)];
        var branch =
            size == 0 || Math.Abs(size - (Math.PI / 2)) < Tolerances.WholeTurn
                ? branches.MinBy(t => Math.Abs(Math.IEEERemainder(now - t, 2 * Math.PI)))
                : sign * size;
        WriteSigned(writer, a, b, branch);
    }

    public static void WriteSigned(SystemWriter writer, int[] a, int[] b, double angle) =>
        writer.Add(new LinesAtAngle([.. a, .. b], angle, Math.Min(writer.LengthOf(a), writer.LengthOf(b))));

    /// <summary>The signed angle from the first line's direction to the second's, in radians.</summary>
    public static double Between(SystemWriter writer, int[] a, int[] b)
    {
        var (x, s) = (Direction(writer, a), Direction(writer, b));
        return Math.Atan2(x.Cross(s), x.Dot(s));
    }

    private static Vec2 Direction(SystemWriter writer, int[] e) =>
        new(writer.Start[e[2]] - writer.Start[e[0]], writer.Start[e[3]] - writer.Start[e[1]]);
}
