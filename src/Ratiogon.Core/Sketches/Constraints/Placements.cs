using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>Two or more points in one place.</summary>
internal sealed class Coincident : ConstraintKind
{
    public override string Name => "coincident";

    public override char Stroke => 'c';

    public override string Icon => "M8 8m-2.2 0a2.2 2.2 0 1 0 4.4 0a2.2 2.2 0 1 0-4.4 0M8 2v3M8 11v3M2 8h3M11 8h3";

    public override bool Grows => true;

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => contacts.Join(of);

    public override int Turn => 0;

    public override string Needs => "two or more points (a circle or arc serves by its centre beside a point)";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 2 && of.All(HasPoint) && of.Any(e => e is PointEntity);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var (x, y) = writer.PointOf(of[0]);
        foreach (var other in of.Skip(1).Select(writer.PointOf))
        {
            writer.Identify(x, other.X);
            writer.Identify(y, other.Y);
        }
    }
}

/// <summary>A point in the middle of a line, or between two other points.</summary>
internal sealed class Midpoint : ConstraintKind
{
    public override string Name => "midpoint";

    public override char Stroke => 'm';

    public override string Icon => "M2 11h12M2 9v4M14 9v4M8 11L5.5 5h5z";

    internal override bool IsOfWhole(Sketch sketch, SketchConstraint constraint, string line) => true;

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) => null;

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        if (of.Count == 2 && of.FirstOrDefault(e => e is LineEntity) is { } line)
        {
            contacts.Place(of.First(e => e != line), line.Id);
        }
    }

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => joints.Place(constraint.Of);

    public override string Needs => "a point (or a circle by its centre) and a line, or three points of which the first is the middle";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        (of.Count == 2 && of.Count(e => e is LineEntity && !Sketch.IsBuiltIn(e.Id)) == 1 && of.Count(HasPoint) == 1)
        || (of.Count == 3 && of.All(HasPoint));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var p = writer.PointOf(of.First(HasPoint));
        int[] e;
        if (of.FirstOrDefault(x => x is LineEntity) is { } line)
        {
            e = writer.EndsOf(line);
        }
        else
        {
            var (a, b) = (writer.PointOf(of[1]), writer.PointOf(of[2]));
            e = [a.X, a.Y, b.X, b.Y];
        }

        Half(writer, p.X, e[0], e[2]);
        Half(writer, p.Y, e[1], e[3]);
    }

    private static void Half(SystemWriter writer, int middle, int a, int b)
    {
        if (writer.Same(a, b))
        {
            writer.Identify(a, middle);
        }
        else
        {
            writer.Add(new Linear([middle, a, b], [1, -0.5, -0.5], 0));
        }
    }
}

/// <summary>Circles, arcs and ellipses about one centre; a point beside them becomes their centre.</summary>
internal sealed class Concentric : ConstraintKind
{
    public override string Name => "concentric";

    public override char Stroke => 'n';

    public override string Icon => "M8 8m-5.5 0a5.5 5.5 0 1 0 11 0a5.5 5.5 0 1 0-11 0M8 8m-2.3 0a2.3 2.3 0 1 0 4.6 0a2.3 2.3 0 1 0-4.6 0";

    public override bool Grows => true;

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => contacts.Join(of);

    public override int Turn => 0;

    public override string Needs => "two or more circles, arcs or ellipses, or one of them and a point";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 2 && of.All(HasPoint) && of.Any(e => e is not PointEntity);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var (x, y) = writer.PointOf(of[0]);
        foreach (var other in of.Skip(1).Select(writer.PointOf))
        {
            writer.Identify(x, other.X);
            writer.Identify(y, other.Y);
        }
    }
}

/// <summary>Circles and arcs of one size about one centre.</summary>
internal sealed class Same : ConstraintKind
{
    public override string Name => "same";

    public override char Stroke => 'z';

    public override string Icon => "M8 8m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0M5.500 8h5M5.500 6h5M5.500 10h5";

    public override bool Grows => true;

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => contacts.Join(of);

    public override int Turn => 0;

    public override string Needs => "two or more circles and arcs, which get one centre and one size";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 2 && of.All(IsRound);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var (x, y) = writer.PointOf(of[0]);
        foreach (var other in of.Skip(1))
        {
            writer.Identify(x, writer.PointOf(other).X);
            writer.Identify(y, writer.PointOf(other).Y);
            writer.Identify(writer.RadiusOf(of[0]), writer.RadiusOf(other));
        }
    }
}

/// <summary>Entities kept exactly where and as they are.</summary>
internal sealed class Fixed : ConstraintKind
{
    public override string Name => "fixed";

    public override char Stroke => 'f';

    public override string Icon => "M8 2v6M5 8h6M3 13l2-3M7 13l2-3M11 13l2-3M4 10h9";

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) =>
        contacts.Pin(constraint.Of);

    public override int Turn => 0;

    public override string Needs => "one or more entities";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 1;

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var unknowns = new SortedSet<int>();
        foreach (var entity in of)
        {
            foreach (var point in entity is PointEntity ? [entity.Id] : entity.Points)
            {
                var at = writer.PointIndex(point);
                unknowns.Add(at);
                unknowns.Add(at + 1);
            }

            // An arc's radius follows from its fixed centre and ends; its own rules say no more than that then.
            if (entity is CircleEntity)
            {
                unknowns.Add(writer.RadiusOf(entity));
            }
        }

        foreach (var unknown in unknowns)
        {
            writer.Fix(unknown, writer.Start[unknown]);
        }
    }
}
