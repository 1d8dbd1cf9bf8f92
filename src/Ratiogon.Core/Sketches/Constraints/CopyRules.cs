using System.Collections.Immutable;
using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>A rule that makes every point of some entities follow others. Made by the tools that copy, not tied by hand.</summary>
internal abstract class CopyRule : ConstraintKind
{
    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) =>
        contacts.Copy(Copies(constraint));

    public override bool TiedByHand => false;

    /// <summary>The entities that follow.</summary>
    public abstract IEnumerable<string> Copies(SketchConstraint constraint);

    /// <summary>The entities of the copy that one belongs to, all that must go together.</summary>
    /// <param name="sketch">Where.</param>
    /// <param name="constraint">The rule.</param>
    /// <param name="id">An entity that follows by it.</param>
    public abstract ImmutableArray<string> CopyOf(Sketch sketch, SketchConstraint constraint, string id);

    /// <summary>The rule without some entities: what else it holds stays held. Null where nothing is left of it.</summary>
    /// <param name="constraint">The rule.</param>
    /// <param name="gone">Ids that it must not speak of any more.</param>
    public abstract SketchConstraint? Without(SketchConstraint constraint, IReadOnlySet<string> gone);

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of) =>
        throw new InvalidOperationException($"{Name} is written from its constraint");

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

    protected static bool Alike(SketchEntity e, SketchEntity copy) =>
        e.GetType() == copy.GetType() && e.Points.Count == copy.Points.Count && e is not SplineEntity { Through.IsDefault: true };

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

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) =>
        constraint.Of[0] != old.Id ? Without(constraint, new HashSet<string> { old.Id }) : constraint;

    internal override void Note(SmoothJoints joints, SketchConstraint constraint)
    {
        for (var i = 1; i + 1 < constraint.Of.Length; i += 2)
        {
            joints.Follow(constraint.Of[i + 1], constraint.Of[i]);
        }
    }

    public override string Needs => "a line, and pairs of an entity and its image";

    public override IEnumerable<string> Copies(SketchConstraint constraint) => constraint.Of.Skip(1).Where((_, i) => i % 2 == 1);

    public override ImmutableArray<string> CopyOf(Sketch sketch, SketchConstraint constraint, string id)
    {
        var images = Copies(constraint).ToHashSet(StringComparer.Ordinal);
        return [.. sketch.Find(id)!.Points.Where(images.Contains).Prepend(id).Distinct()];
    }

    public override SketchConstraint? Without(SketchConstraint constraint, IReadOnlySet<string> gone)
    {
        var of = constraint.Of;
        if (gone.Contains(of[0]))
        {
            return null;
        }

        ImmutableArray<string> left =
        [
            of[0],
            .. Enumerable
                .Range(0, of.Length / 2)
                .Where(i => !gone.Contains(of[(2 * i) + 1]) && !gone.Contains(of[(2 * i) + 2]))
                .SelectMany(i => new[] { of[(2 * i) + 1], of[(2 * i) + 2] }),
        ];
        return left.Length < 3 ? null
            : left.Length == of.Length ? constraint
            : constraint with { Of = left };
    }

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        of.Count >= 3
        && of.Count % 2 == 1
        && of[0] is LineEntity
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
/// the original, rows of <see cref="SketchConstraint.Columns"/>. The first copies that are there along two directions set the
/// steps.</summary>
internal sealed class LinearCopies : CopyRule
{
    public override string Name => "linear-copies";

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) =>
        Without(constraint, new HashSet<string> { old.Id });

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => Instances.Note(joints, constraint, 0);

    public override string Needs => "instances of the same entities";

    public override IEnumerable<string> Copies(SketchConstraint constraint) => constraint.Of.Skip(constraint.Each);

    public override ImmutableArray<string> CopyOf(Sketch sketch, SketchConstraint constraint, string id) =>
        Instances.With(constraint, 0, id);

    public override SketchConstraint? Without(SketchConstraint constraint, IReadOnlySet<string> gone) =>
        Instances.Without(constraint, 0, gone);

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 2;

    internal override Refusal? CheckIn(
        Sketch sketch,
        Func<Contacts> contacts,
        SketchConstraint constraint,
        IReadOnlyList<SketchEntity> of
    ) => Instances.Check(constraint, of, 0, Alike);

    public override void Write(SystemWriter writer, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        var (each, columns) = (constraint.Each, Math.Max(1, constraint.Columns));
        (int I, int J)[] places = [.. Instances.Numbers(constraint, 0).Select(n => (n % columns, n / columns))];

        // Two copies that do not lie on one line with the original set the steps; all others follow from them.
        var (first, second) = (1, Array.FindIndex(places, 1, p => (places[1].I * p.J) - (places[1].J * p.I) != 0));
        var done = new HashSet<string>(StringComparer.Ordinal);
        var lead = Lead(of[0]);
        for (var n = 1; n < places.Length; n++)
        {
            var (s, t) = Steps(places[n], places[first], second < 0 ? null : places[second]);
            for (var k = 0; k < each; k++)
            {
                foreach (var (p, q) in Pairs(of[k], of[(n * each) + k], mirrored: false))
                {
                    if (!(p == lead && (n == first || n == second)) && done.Add(q))
                    {
                        Write(writer, p, q, lead, (Lead(of[first * each]), s), second < 0 ? null : (Lead(of[second * each]), t));
                    }
                }

                SameSize(writer, of[k], of[(n * each) + k]);
            }
        }
    }

    /// <summary>How many times each of two steps leads to a place in the grid.</summary>
    private static (double First, double Second) Steps((int I, int J) to, (int I, int J) first, (int I, int J)? second)
    {
        if (second is not var (i, j))
        {
            return (first.I != 0 ? (double)to.I / first.I : (double)to.J / first.J, 0);
        }

        double determinant = (first.I * j) - (first.J * i);
        return (((to.I * j) - (to.J * i)) / determinant, ((first.I * to.J) - (first.J * to.I)) / determinant);
    }

    /// <summary>The point whose copies set the steps.</summary>
    internal static string Lead(SketchEntity e) => e is PointEntity ? e.Id : e.Points[0];

    private static void Write(SystemWriter writer, string p, string q, string lead, params (string To, double Times)?[] steps)
    {
        for (var axis = 0; axis < 2; axis++)
        {
            var variables = new List<int> { writer.PointIndex(q) + axis, writer.PointIndex(p) + axis };
            var factors = new List<double> { 1, -1 };
            foreach (var step in steps)
            {
                if (step is var (to, times) && times != 0)
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

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) =>
        Without(constraint, new HashSet<string> { old.Id });

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => Instances.Note(joints, constraint, 1);

    public override string Needs => "a point, and instances of the same entities";

    public override IEnumerable<string> Copies(SketchConstraint constraint) => constraint.Of.Skip(1 + constraint.Each);

    public override ImmutableArray<string> CopyOf(Sketch sketch, SketchConstraint constraint, string id) =>
        Instances.With(constraint, 1, id);

    public override SketchConstraint? Without(SketchConstraint constraint, IReadOnlySet<string> gone) =>
        gone.Contains(constraint.Of[0]) ? null : Instances.Without(constraint, 1, gone);

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of.Count >= 3 && of[0] is PointEntity;

    internal override Refusal? CheckIn(
        Sketch sketch,
        Func<Contacts> contacts,
        SketchConstraint constraint,
        IReadOnlyList<SketchEntity> of
    ) => Instances.Check(constraint, of, 1, Alike);

    public override void Write(SystemWriter writer, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        var each = constraint.Each;
        var c = writer.PointIndex(of[0].Id);
        var done = new HashSet<string>(StringComparer.Ordinal);
        int[] numbers = [.. Instances.Numbers(constraint, 1)];
        for (var n = 1; n < numbers.Length; n++)
        {
            var (sin, cos) = Math.SinCos(numbers[n] * constraint.Step * Math.PI / 180);
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
    /// <summary>Every instance goes over into its neighbours as the first does.</summary>
    /// <param name="head">How many entities stand before the first.</param>
    public static void Note(SmoothJoints joints, SketchConstraint constraint, int head)
    {
        var of = constraint.Of;
        for (var i = head + constraint.Each; i < of.Length; i++)
        {
            joints.Follow(of[i], of[head + ((i - head) % constraint.Each)]);
        }
    }

    /// <summary>The numbers of the instances that a rule holds, in order, the original's 0 first.</summary>
    public static IEnumerable<int> Numbers(SketchConstraint constraint, int head)
    {
        var number = 0;
        for (var k = (constraint.Of.Length - head) / Math.Max(1, constraint.Each); k > 0; k--)
        {
            while (constraint.Leaves(number))
            {
                number++;
            }

            yield return number++;
        }
    }

    /// <summary>The instance that an entity belongs to.</summary>
    public static ImmutableArray<string> With(SketchConstraint constraint, int head, string id)
    {
        var (at, each) = (constraint.Of.IndexOf(id) - head, constraint.Each);
        return [.. constraint.Of.Skip(head + (at / each * each)).Take(each)];
    }

    /// <summary>Copies that lose something go their own way; what the original loses is no longer repeated, all else is.</summary>
    public static SketchConstraint? Without(SketchConstraint constraint, int head, IReadOnlySet<string> gone)
    {
        var each = constraint.Each;
        int[] numbers = [.. Numbers(constraint, head)];
        string At(int instance, int k) => constraint.Of[head + (instance * each) + k];
        int[] members = [.. Enumerable.Range(0, each).Where(k => !gone.Contains(At(0, k)))];
        int[] stay = [.. Enumerable.Range(1, numbers.Length - 1).Where(n => !Enumerable.Range(0, each).Any(k => gone.Contains(At(n, k))))];
        if (members.Length == 0 || stay.Length == 0)
        {
            return null;
        }

        return members.Length == each && stay.Length == numbers.Length - 1
            ? constraint
            : constraint with
            {
                Of = [.. constraint.Of.Take(head), .. stay.Prepend(0).SelectMany(n => members.Select(k => At(n, k)))],
                Each = members.Length,
                Out =
                [
                    .. (constraint.Out.IsDefault ? [] : constraint.Out)
                        .Concat(Enumerable.Range(1, numbers.Length - 1).Except(stay).Select(n => numbers[n]))
                        .Order(),
                ],
            };
    }

    public static Refusal? Check(
        SketchConstraint constraint,
        IReadOnlyList<SketchEntity> of,
        int head,
        Func<SketchEntity, SketchEntity, bool> alike
    )
    {
        var each = constraint.Each;
        if (each < 1 || (of.Count - head) % each != 0)
        {
            return new Refusal("constraint.instances", $"{constraint.Id} does not hold whole instances of {each} entities.", constraint.Id);
        }

        var odd = Enumerable.Range(head, of.Count - head).FirstOrDefault(i => !alike(of[head + ((i - head) % each)], of[i]), -1);
        return odd < 0
            ? null
            : new Refusal(
                "constraint.instances",
                $"{of[odd].Id} is no copy of {of[head + ((odd - head) % each)].Id}: they are of different kinds.",
                constraint.Id
            );
    }
}
