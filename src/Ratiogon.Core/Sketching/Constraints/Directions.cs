using Ratiogon.Core.Geometry;
using Ratiogon.Core.Solving;
using Ratiogon.Core.Solving.Equations;

namespace Ratiogon.Core.Sketching;

/// <summary>Level or upright lines and pairs of points; the two kinds differ in the coordinate they make equal.</summary>
internal abstract class AlongAxis : ConstraintKind
{
    public override string Needs => "lines, or two or more points (circles serve by their centres)";

    public override int Turn => 0;

    /// <summary>0 to share x, 1 to share y.</summary>
    protected abstract int Shared { get; }

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        (of.Count >= 1 && of.All(e => e is LineEntity)) || (of.Count >= 2 && of.All(HasPoint));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        if (of[0] is LineEntity)
        {
            foreach (var e in of.Select(writer.EndsOf))
            {
                writer.Identify(e[Shared], e[2 + Shared]);
            }
        }
        else
        {
            var first = writer.PointOf(of[0]).X + Shared;
            foreach (var other in of.Skip(1))
            {
                writer.Identify(first, writer.PointOf(other).X + Shared);
            }
        }
    }
}

/// <summary>Along the sketch's x axis.</summary>
internal sealed class Horizontal : AlongAxis
{
    public override string Name => "horizontal";

    protected override int Shared => 1;
}

/// <summary>Along the sketch's y axis.</summary>
internal sealed class Vertical : AlongAxis
{
    public override string Name => "vertical";

    protected override int Shared => 0;
}

/// <summary>Lines that never meet.</summary>
internal sealed class Parallel : ConstraintKind
{
    public override string Name => "parallel";

    public override string Needs => "two or more lines";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => Several<LineEntity>(of);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var a = writer.EndsOf(of[0]);
        foreach (var b in of.Skip(1).Select(writer.EndsOf))
        {
            AngledLines.Write(writer, a, b, 0);
        }
    }
}

/// <summary>Two lines at a right angle.</summary>
internal sealed class Perpendicular : ConstraintKind
{
    public override string Name => "perpendicular";

    public override string Needs => "two lines";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count == 2 && Several<LineEntity>(of);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of) =>
        AngledLines.Write(writer, writer.EndsOf(of[0]), writer.EndsOf(of[1]), Math.PI / 2);
}

/// <summary>Lines of one length, or circles and arcs of one size.</summary>
internal sealed class Equal : ConstraintKind
{
    public override string Name => "equal";

    public override string Needs => "two or more lines, or two or more circles and arcs; the axes have no length";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => (Several<LineEntity>(of) && !of.Any(e => Sketch.IsBuiltIn(e.Id))) || (of.Count >= 2 && of.All(IsRound));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        if (of[0] is LineEntity)
        {
            var a = writer.EndsOf(of[0]);
            foreach (var b in of.Skip(1).Select(writer.EndsOf))
            {
                writer.Add(new EqualLengths([.. a, .. b]));
            }
        }
        else
        {
            foreach (var other in of.Skip(1))
            {
                writer.Identify(writer.RadiusOf(of[0]), writer.RadiusOf(other));
            }
        }
    }
}

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
        var branch = size == 0 || Math.Abs(size - (Math.PI / 2)) < 1e-12
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

    private static Vec2 Direction(SystemWriter writer, int[] e) => new(writer.Start[e[2]] - writer.Start[e[0]], writer.Start[e[3]] - writer.Start[e[1]]);
}
