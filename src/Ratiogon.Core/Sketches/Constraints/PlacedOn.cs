using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>A point on one curve or on several; lines count as unbounded, arcs as their whole circle. A circle or arc
/// serves as a point by its centre where the picks leave no other reading.</summary>
internal abstract class PlacedOn(int curves) : ConstraintKind
{
    /// <summary>What lay on the curve may be one of its ends now: then that is no rule any more, and of two curves the other is
    /// left.</summary>
    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now)
    {
        if (constraint.Of.FirstOrDefault(now.Points.Contains) is not { } end)
        {
            return constraint;
        }

        var others = constraint.Of.RemoveAll(o => o == end || o == old.Id);
        return curves == 2 && others.Length == 1 ? constraint with { Kind = OnCurve.KindName, Of = [end, others[0]] } : null;
    }

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        if (Split(of) is var (point, curves))
        {
            foreach (var curve in curves)
            {
                contacts.Place(point, curve.Id);
            }
        }
    }

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => joints.Place(constraint.Of);

    public override int Turn => 1;

    /// <summary>The point and the curves among the picks; null when there is no such reading.</summary>
    public static (SketchEntity Point, IReadOnlyList<SketchEntity> Curves)? Split(IReadOnlyList<SketchEntity> of)
    {
        var point = of.FirstOrDefault(e => e is PointEntity)
            ?? (of.Count(HasPoint) == 1 || of.All(e => Sketches.Curves.Centre(e) is not null) ? of.FirstOrDefault(HasPoint) : null);
        return point is null ? null : (point, [.. of.Where(e => e != point)]);
    }

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        of.Count == curves + 1 && Split(of) is var (point, on) && on.All(c => IsCurve(c) && !c.Points.Contains(PointId(point)));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var (point, on) = Split(of)!.Value;
        foreach (var curve in on)
        {
            WriteOn(writer, PointId(point), curve);
        }
    }

    internal static void WriteOn(SystemWriter writer, string point, SketchEntity curve)
    {
        var p = writer.PointIndex(point);
        if (curve is LineEntity)
        {
            var e = writer.EndsOf(curve);
            if (writer.Same(e[1], e[3]))
            {
                writer.Identify(e[1], p + 1);
            }
            else if (writer.Same(e[0], e[2]))
            {
                writer.Identify(e[0], p);
            }
            else
            {
                writer.Add(new LineDistance(p, p + 1, e[0], e[1], e[2], e[3], 0));
            }
        }
        else if (IsRound(curve))
        {
            var (cx, cy) = writer.PointOf(curve);
            var r = writer.RadiusOf(curve);
            writer.Add(new OnCircle(p, p + 1, cx, cy, r));
        }
        else
        {
            writer.PutOn(curve, point);
        }
    }

    private static string PointId(SketchEntity entity) => entity is PointEntity ? entity.Id : Sketches.Curves.Centre(entity)!;
}

/// <summary>A point on a curve.</summary>
internal sealed class OnCurve() : PlacedOn(1)
{
    public const string KindName = "on-curve";

    public override string Name => KindName;

    public override char Stroke => 'o';

    public override string Icon => "M2 12C5 5 10 4 14 5M8.2 6.2m-1.8 0a1.8 1.8 0 1 0 3.6 0a1.8 1.8 0 1 0-3.6 0";

    public override string Needs => "a point (or a circle or arc by its centre) and a curve";
}

/// <summary>A point where two curves cross, beyond their ends as well.</summary>
internal sealed class Crossing() : PlacedOn(2)
{
    public override string Name => "crossing";

    public override char Stroke => 'x';

    public override string Icon => "M3 3l10 10M13 3L3 13M8 8m-2 0a2 2 0 1 0 4 0a2 2 0 1 0-4 0";

    public override string Needs => "a point (or a circle or arc by its centre) and two curves";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        base.Fits(of)
        && !(
            of.All(e => e is PointEntity or LineEntity)
            && of.OfType<LineEntity>().SelectMany(l => l.Points).GroupBy(p => p).Any(g => g.Count() > 1)
        );
}
