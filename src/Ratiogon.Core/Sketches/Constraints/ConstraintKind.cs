using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>One kind of constraint: what it may tie and how it is written as equations. A new kind is one subclass
/// and one line in the catalogue.</summary>
public abstract class ConstraintKind
{
    /// <summary>As written in files and commands.</summary>
    public abstract string Name { get; }

    /// <summary>What it needs, in words, for the prompt and for refusals.</summary>
    public abstract string Needs { get; }

    /// <summary>When it is written: 0 for what only identifies or fixes unknowns, 1 for what puts points on curves, 2 for the rest.</summary>
    public virtual int Turn => 2;

    /// <summary>Why it cannot tie these, or null.</summary>
    public Refusal? Check(IReadOnlyList<SketchEntity> of)
    {
        if (of.Select(e => e.Id).Distinct().Count() != of.Count)
        {
            return new Refusal("constraint.same-twice", $"{Name} names the same entity twice.");
        }

        if (of.Count > 0 && of.All(e => Sketch.IsBuiltIn(e.Id)))
        {
            return new Refusal("constraint.built-in", "The origin and the axes stay where they are; pick something drawn as well.");
        }

        return Fits(of) ? null : new Refusal("constraint.does-not-fit", $"{Name} needs {Needs}; picked: {Words(of)}.");
    }

    /// <summary>Why it cannot tie these as they are drawn, or null; only asked about entities that fit.</summary>
    /// <param name="contacts">What the rules of the sketch say of points and curves.</param>
    internal virtual Refusal? CheckIn(Sketch sketch, Func<Contacts> contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => null;

    /// <summary>Whether it is among the ties that picks are offered; the others are made by tools that copy.</summary>
    public virtual bool TiedByHand => true;

    /// <summary>Notes which points it makes one, puts on curves, or holds: known without any numbers.</summary>
    internal virtual void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
    }

    /// <summary>Notes which curves it makes go over into each other.</summary>
    internal virtual void Note(SmoothJoints joints, SketchConstraint constraint)
    {
    }

    /// <summary>Writes the constraint with what it holds besides entities.</summary>
    public virtual void Write(SystemWriter writer, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) => Write(writer, of);

    /// <summary>Writes the constraint; only called with entities that fit.</summary>
    public abstract void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of);

    protected abstract bool Fits(IReadOnlyList<SketchEntity> of);

    /// <summary>Whether a point can be had from the entity: a point, or a circle or arc by its centre.</summary>
    protected static bool HasPoint(SketchEntity e) => e is PointEntity || Curves.Centre(e) is not null;

    protected static bool IsCurve(SketchEntity e) => e is not PointEntity;

    protected static bool IsRound(SketchEntity e) => e is CircleEntity or ArcEntity;

    /// <summary>Two or more of one type.</summary>
    protected static bool Several<T>(IReadOnlyList<SketchEntity> of) => of.Count >= 2 && of.All(e => e is T);

    private static string Words(IReadOnlyList<SketchEntity> of) => of.Count == 0 ? "nothing" : string.Join(", ", of.Select(e => $"{e.Word} {e.Id}"));
}
