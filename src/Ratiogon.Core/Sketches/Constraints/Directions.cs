using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>Level or upright lines and pairs of points; the two kinds differ in the coordinate they make equal.</summary>
internal abstract class AlongAxis : ConstraintKind
{
    internal override void Note(SmoothJoints joints, SketchConstraint constraint)
    {
        if (constraint.Of.Length == 1)
        {
            joints.Direct(constraint.Of[0], Name);
        }
    }

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
