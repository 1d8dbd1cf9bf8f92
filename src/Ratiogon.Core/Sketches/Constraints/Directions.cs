using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>Level or upright lines and pairs of points; the two kinds differ in the coordinate they make equal.</summary>
internal abstract class AlongAxis : ConstraintKind
{
    public override bool LeansOnAxes => true;

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

    public override char Stroke => 'h';

    public override string Icon => "M2 8h12M5 5.5v5M11 5.5v5";

    protected override int Shared => 1;
}

/// <summary>Along the sketch's y axis.</summary>
internal sealed class Vertical : AlongAxis
{
    public override string Name => "vertical";

    public override char Stroke => 'v';

    public override string Icon => "M8 2v12M5.5 5h5M5.5 11h5";

    protected override int Shared => 0;
}

/// <summary>Lines that never meet.</summary>
internal sealed class Parallel : ConstraintKind
{
    public override string Name => "parallel";

    public override char Stroke => 'p';

    public override string Icon => "M4 13L8 3M8 13l4-10";

    public override bool Grows => true;

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

    public override char Stroke => 'q';

    public override string Icon => "M3 13h10M8 13V3M8 10h3v3";

    public override string Needs => "two lines";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count == 2 && Several<LineEntity>(of);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of) =>
        AngledLines.Write(writer, writer.EndsOf(of[0]), writer.EndsOf(of[1]), Math.PI / 2);
}

/// <summary>Lines of one length, or circles and arcs of one size.</summary>
internal sealed class Equal : ConstraintKind
{
    public override string Name => "equal";

    public override char Stroke => 'e';

    public override string Icon => "M3 6h10M3 10h10";

    public override bool Grows => true;

    internal override bool IsOfWhole(Sketch sketch, SketchConstraint constraint, string line) => true;

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) =>
        old is not LineEntity ? constraint
        : constraint.Of.Length == 2 ? null
        : constraint with { Of = constraint.Of.Remove(old.Id) };

    public override string Needs => "two or more lines, or two or more circles and arcs; the axes have no length";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        (Several<LineEntity>(of) && !of.Any(e => Sketch.IsBuiltIn(e.Id))) || (of.Count >= 2 && of.All(IsRound));

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
