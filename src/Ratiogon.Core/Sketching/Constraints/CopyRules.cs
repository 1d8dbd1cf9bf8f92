using Ratiogon.Core.Geometry;
using Ratiogon.Core.Solving;
using Ratiogon.Core.Solving.Equations;

namespace Ratiogon.Core.Sketching;

/// <summary>A rule that makes every point of some entities follow others. Made by the tools that copy, not tied by hand.</summary>
internal abstract class CopyRule : ConstraintKind
{
    public override bool TiedByHand => false;

    /// <summary>The entities that follow.</summary>
    public abstract IEnumerable<string> Copies(SketchConstraint constraint);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of) => throw new InvalidOperationException($"{Name} is written from its constraint");

    /// <summary>Pairs of points that correspond in an entity and its copy; mirrored arcs run the other way.</summary>
    internal static IEnumerable<(string Of, string Copy)> Pairs(SketchEntity e, SketchEntity copy, bool mirrored)
    {
        if (e is PointEntity)
        {
            return [(e.Id, copy.Id)];
        }

        var pairs = e.Points.Zip(copy.Points).ToList();
        if (mirrored && e is ArcEntity or EllipticArcEntity && mirrored)
        {
            var n = pairs.Count;
            (pairs[n - 2], pairs[n - 1]) = ((e.Points[n - 2], copy.Points[n - 1]), (e.Points[n - 1], copy.Points[n - 2]));
        }

        return pairs;
    }

    protected static bool Alike(SketchEntity e, SketchEntity copy) => e.GetType() == copy.GetType() && e.Points.Count == copy.Points.Count && e is not SplineEntity { Through.IsDefault: true };

    protected static void SameSize(SystemWriter writer, SketchEntity e, SketchEntity copy)
    {
        if (e is CircleEntity or ArcEntity)
        {
            writer.Identify(writer.RadiusOf(e), writer.RadiusOf(copy));
        }
    }
}

/// <summary>Entities that are the mirror images of others: the axis, then pairs of an entity and its image.</summary>
internal sealed class MirrorImage : CopyRule
{
    public override string Name => "mirror-image";

    public override string Needs => "a line, and pairs of an entity and its image";

    public override IEnumerable<string> Copies(SketchConstraint constraint) => constraint.Of.Skip(1).Where((_, i) => i % 2 == 1);

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 3 && of.Count % 2 == 1 && of[0] is LineEntity
        && Enumerable.Range(0, of.Count / 2).All(i => Alike(of[(2 * i) + 1], of[(2 * i) + 2]));

    public override void Write(SystemWriter writer, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        var done = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 1; i < of.Count; i += 2)
        {
            foreach (var (p, q) in Pairs(of[i], of[i + 1], mirrored: true))
            {
                if (done.Add(q))
                {
                    Symmetric.Write(writer, (LineEntity)of[0], p, q);
                }
            }

            SameSize(writer, of[i], of[i + 1]);
        }
    }
}

/// <summary>Copies in a row or a grid: <see cref="SketchConstraint.Each"/> entities for each instance, the first being
/// the original, rows of <see cref="SketchConstraint.Columns"/>. The first copy along each direction sets the step.</summary>
internal sealed class LinearCopies : CopyRule
{
    public override string Name => "linear-copies";

    public override string Needs => "instances of the same entities";

    public override IEnumerable<string> Copies(SketchConstraint constraint) => constraint.Of.Skip(constraint.Each);

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 2;

    public override Refusal? CheckIn(Sketch sketch, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => Instances.Check(constraint, of, 0, Alike);

    public override void Write(SystemWriter writer, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        var (each, columns) = (constraint.Each, Math.Max(1, constraint.Columns));
        var done = new HashSet<string>(StringComparer.Ordinal);
        var lead = Lead(of[0]);
        for (var n = 1; n < of.Count / each; n++)
        {
            var (i, j) = (n % columns, n / columns);
            for (var k = 0; k < each; k++)
            {
                foreach (var (p, q) in Pairs(of[k], of[(n * each) + k], mirrored: false))
                {
                    // The lead points of the first copies are free: they are the steps.
                    var steps = p == lead && ((i == 1 && j == 0) || (i == 0 && j == 1));
                    if (!steps && done.Add(q))
                    {
                        Write(writer, p, q, lead, i > 0 ? Lead(of[each]) : null, i, j > 0 ? Lead(of[columns * each]) : null, j);
                    }
                }

                SameSize(writer, of[k], of[(n * each) + k]);
            }
        }
    }

    /// <summary>The point whose copies set the steps.</summary>
    internal static string Lead(SketchEntity e) => e is PointEntity ? e.Id : e.Points[0];

    private static void Write(SystemWriter writer, string p, string q, string lead, string? across, int i, string? up, int j)
    {
        for (var axis = 0; axis < 2; axis++)
        {
            var variables = new List<int> { writer.PointIndex(q) + axis, writer.PointIndex(p) + axis };
            var factors = new List<double> { 1, -1 };
            foreach (var (to, times) in new[] { (across, i), (up, j) })
            {
                if (to is not null)
                {
                    variables.AddRange([writer.PointIndex(to) + axis, writer.PointIndex(lead) + axis]);
                    factors.AddRange([-times, times]);
                }
            }

            writer.Add(new Linear([.. variables], [.. factors], 0));
        }
    }
}

/// <summary>Copies about a point: the point, then <see cref="SketchConstraint.Each"/> entities for each instance, each
/// instance turned by <see cref="SketchConstraint.Step"/> degrees further.</summary>
internal sealed class TurnedCopies : CopyRule
{
    public override string Name => "turned-copies";

    public override string Needs => "a point, and instances of the same entities";

    public override IEnumerable<string> Copies(SketchConstraint constraint) => constraint.Of.Skip(1 + constraint.Each);

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 3 && of[0] is PointEntity;

    public override Refusal? CheckIn(Sketch sketch, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => Instances.Check(constraint, of, 1, Alike);

    public override void Write(SystemWriter writer, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        var each = constraint.Each;
        var c = writer.PointIndex(of[0].Id);
        var done = new HashSet<string>(StringComparer.Ordinal);
        for (var n = 1; n < (of.Count - 1) / each; n++)
        {
            var (sin, cos) = Math.SinCos(n * constraint.Step * Math.PI / 180);
            for (var k = 0; k < each; k++)
            {
                var (e, copy) = (of[1 + k], of[1 + (n * each) + k]);
                foreach (var (p, q) in Pairs(e, copy, mirrored: false))
                {
                    if (p != q && done.Add(q))
                    {
                        var (a, b) = (writer.PointIndex(p), writer.PointIndex(q));
                        writer.Add(new Linear([b, a, a + 1, c, c + 1], [1, -cos, sin, cos - 1, -sin], 0));
                        writer.Add(new Linear([b + 1, a, a + 1, c, c + 1], [1, -sin, -cos, sin, cos - 1], 0));
                    }
                }

                SameSize(writer, e, copy);
            }
        }
    }
}

/// <summary>Instances laid one after the other in a list of entities.</summary>
internal static class Instances
{
    public static Refusal? Check(SketchConstraint constraint, IReadOnlyList<SketchEntity> of, int head, Func<SketchEntity, SketchEntity, bool> alike)
    {
        var each = constraint.Each;
        if (each < 1 || (of.Count - head) % each != 0)
        {
            return new Refusal("constraint.instances", $"{constraint.Id} does not hold whole instances of {each} entities.", constraint.Id);
        }

        var odd = Enumerable.Range(head, of.Count - head).FirstOrDefault(i => !alike(of[head + ((i - head) % each)], of[i]), -1);
        return odd < 0 ? null : new Refusal("constraint.instances", $"{of[odd].Id} is no copy of {of[head + ((odd - head) % each)].Id}: they are of different kinds.", constraint.Id);
    }
}
