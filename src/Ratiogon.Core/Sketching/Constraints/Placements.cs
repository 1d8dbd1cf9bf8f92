using Ratiogon.Core.Solving;
using Ratiogon.Core.Solving.Equations;

namespace Ratiogon.Core.Sketching;

/// <summary>Two or more points in one place.</summary>
internal sealed class Coincident : ConstraintKind
{
    public override string Name => "coincident";

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

/// <summary>A point on an unbounded line, or on the circle of a circle or arc.</summary>
internal sealed class OnCurve : ConstraintKind
{
    public override string Name => "on-curve";

    public override string Needs => "a point and a line, circle or arc";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        of.Count == 2 && Point(of) is { } point && Curve(of) is { } curve && !curve.Points.Contains(point.Id);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var p = writer.PointOf(Point(of)!);
        var curve = Curve(of)!;
        if (curve is LineEntity)
        {
            var e = writer.EndsOf(curve);
            if (writer.Same(e[1], e[3]))
            {
                writer.Identify(e[1], p.Y);
            }
            else if (writer.Same(e[0], e[2]))
            {
                writer.Identify(e[0], p.X);
            }
            else
            {
                writer.Add(new LineDistance(p.X, p.Y, e[0], e[1], e[2], e[3], 0));
            }
        }
        else
        {
            var c = writer.PointOf(curve);
            var r = writer.RadiusOf(curve);
            writer.Add(new OnCircle(p.X, p.Y, c.X, c.Y, r, Math.Max(writer.Start[r], Tolerances.SmallestSize)));
        }
    }

    private static PointEntity? Point(IReadOnlyList<SketchEntity> of) => of.OfType<PointEntity>().FirstOrDefault();

    private static SketchEntity? Curve(IReadOnlyList<SketchEntity> of) => of.FirstOrDefault(e => e is not PointEntity);
}

/// <summary>A point in the middle of a line, or between two other points.</summary>
internal sealed class Midpoint : ConstraintKind
{
    public override string Name => "midpoint";

    public override string Needs => "a point (or a circle by its centre) and a line, or three points of which the first is the middle";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        (of.Count == 2 && of.Count(e => e is LineEntity) == 1 && of.Count(HasPoint) == 1) || (of.Count == 3 && of.All(HasPoint));

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

/// <summary>Circles and arcs about one centre.</summary>
internal sealed class Concentric : ConstraintKind
{
    public override string Name => "concentric";

    public override string Needs => "two or more circles or arcs";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 2 && of.All(IsRound);

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

/// <summary>Entities kept exactly where and as they are.</summary>
internal sealed class Fixed : ConstraintKind
{
    public override string Name => "fixed";

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

            // An arc's radius follows from its fixed centre and ends.
            if (entity is CircleEntity)
            {
                unknowns.Add(writer.RadiusOf(entity));
            }
        }

        // An arc's second end keeps one freedom on its circle; fixing both coordinates of it would say one thing twice.
        foreach (var arc in of.OfType<ArcEntity>())
        {
            var at = writer.PointIndex(arc.To);
            var radial = writer.ValueOf((at, at + 1)) - writer.ValueOf(writer.PointOf(arc));
            unknowns.Remove(Math.Abs(radial.X) > Math.Abs(radial.Y) ? at : at + 1);
        }

        foreach (var unknown in unknowns)
        {
            writer.Fix(unknown, writer.Start[unknown]);
        }
    }
}
