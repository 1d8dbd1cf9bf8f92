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

    /// <summary>Second stroke of its shortcut, on the Tie bench.</summary>
    public virtual char Stroke => Name[0];

    /// <summary>Its mark, an SVG path in a box of 16 by 16: what it says, drawn.</summary>
    public virtual string Icon => "M4 4h8v8H4z";

    /// <summary>Whether more than two may be tied, further ones to the first.</summary>
    public virtual bool Grows => false;

    /// <summary>Whether it says something about the sketch's axes, so that what is turned leaves it behind.</summary>
    public virtual bool LeansOnAxes => false;

    /// <summary>Whether it may be met in name only, by things that come to lie on each other.</summary>
    public virtual bool MayCollapse => false;

    /// <summary>Whether curves that it ties meet at one place: of a curve that is cut, it goes with the piece that has that
    /// place.</summary>
    public virtual bool HasJoint => false;

    /// <summary>Whether it speaks of a line from end to end, so that it goes on with both ends when the line becomes shorter.</summary>
    internal virtual bool IsOfWhole(Sketch sketch, SketchConstraint constraint, string line) => false;

    /// <summary>What becomes of it when one of its curves has other ends; null where it makes no sense any more.</summary>
    /// <param name="sketch">As it was.</param>
    /// <param name="constraint">One that names the curve.</param>
    /// <param name="old">The curve as it was.</param>
    /// <param name="now">The same with its new ends.</param>
    internal virtual SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) =>
        constraint;

    /// <summary>When it is written: 0 for what only identifies or fixes unknowns, 1 for what puts points on curves, 2 for the
    /// rest.</summary>
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
    internal virtual Refusal? CheckIn(
        Sketch sketch,
        Func<Contacts> contacts,
        SketchConstraint constraint,
        IReadOnlyList<SketchEntity> of
    ) => null;

    /// <summary>Whether it is among the ties that picks are offered; the others are made by tools that copy.</summary>
    public virtual bool TiedByHand => true;

    /// <summary>Notes which points it makes one, puts on curves, or holds: known without any numbers.</summary>
    internal virtual void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of) { }

    /// <summary>Notes which curves it makes go over into each other.</summary>
    internal virtual void Note(SmoothJoints joints, SketchConstraint constraint) { }

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

    private static string Words(IReadOnlyList<SketchEntity> of) =>
        of.Count == 0 ? "nothing" : string.Join(", ", of.Select(e => $"{e.Word} {e.Id}"));
}
