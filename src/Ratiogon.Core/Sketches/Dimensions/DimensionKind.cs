using System.Collections.Immutable;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>One kind of dimension: what it may measure, what it reads now, and its equation when it drives.</summary>
public abstract class DimensionKind
{
    /// <summary>As written in files and commands.</summary>
    public abstract string Name { get; }

    /// <summary>A length or an angle.</summary>
    public abstract Dimension Of { get; }

    /// <summary>What it needs, in words.</summary>
    public abstract string Needs { get; }

    /// <summary>Whether it can measure these wherever they stand, once it could.</summary>
    public virtual bool FitsAnywhere(Sketch sketch, ImmutableArray<string> of) => false;

    /// <summary>Whether it is among the sizes that picks are offered.</summary>
    public virtual bool OfPicks => true;

    /// <summary>What stands before its value on a drawing, with a space.</summary>
    public virtual string Sign => "";

    public virtual DimensionLook Look => DimensionLook.Straight;

    /// <summary>Of a straight one: what its line stands on.</summary>
    /// <param name="sketch">The sketch.</param>
    /// <param name="of">Entities that fit.</param>
    public virtual MeasuredSpan Span(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of is [LineEntity own] ? Between(sketch.At(own.From), sketch.At(own.To)) : Between(PlaceOf(sketch, of[0]), PlaceOf(sketch, of[1]));

    /// <summary>The span between two places, which way it is measured included.</summary>
    protected virtual MeasuredSpan Between(Vec2 a, Vec2 b) => MeasuredSpan.Between(a, b);

    /// <summary>A place of an entity to draw from: a point, the start of a line, the centre of something round.</summary>
    protected static Vec2 PlaceOf(Sketch sketch, SketchEntity entity) =>
        entity is LineEntity line ? sketch.At(line.From) : PointAt(sketch, entity);

    /// <summary>Why it cannot measure these, or null.</summary>
    public Refusal? Check(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        if (!MayRepeat && of.Select(e => e.Id).Distinct().Count() != of.Count)
        {
            return new Refusal("dimension.same-twice", $"A {Name} dimension names the same entity twice.");
        }

        return of.Count > 0 && of.All(e => Sketch.IsBuiltIn(e.Id))
            ? new Refusal("dimension.built-in", "The origin and the axes have no size; pick something drawn as well.")
            : Fits(sketch, of);
    }

    /// <summary>What it reads on the drawn positions, in millimetres or radians, never negative.</summary>
    public abstract double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of);

    /// <summary>Writes it as a driving dimension on the side on which things stand now.</summary>
    public abstract void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value);

    /// <summary>Notes what it says of points and curves without numbers.</summary>
    internal virtual void Note(Contacts contacts, Sketch sketch, IReadOnlyList<SketchEntity> of) { }

    /// <summary>Notes which curves it makes go over into each other.</summary>
    internal virtual void Note(SmoothJoints joints, SketchDimension dimension) { }

    /// <summary>Writes what it keeps besides its value, where it keeps anything: called instead of <see cref="Write"/> where
    /// no value drives it.</summary>
    public virtual void WriteFree(SystemWriter writer, IReadOnlyList<SketchEntity> of) { }

    /// <summary>Why a value cannot drive it, or null.</summary>
    public virtual Refusal? CheckValue(double value) =>
        Of == Dimension.OfAngle
            ? value > 0 && value < Math.PI
                ? null
                : new Refusal(
                    "dimension.value",
                    $"An angle between lines lies between 0 and 180 deg, not at {value * 180 / Math.PI:0.###} deg."
                )
            : value >= Tolerances.SmallestSize && value <= Tolerances.LargestSize
                ? null
                : new Refusal(
                    "dimension.value",
                    value <= 0
                        ? $"{Words} must be more than zero, not {value:0.###} "
                            + $"mm.{(Apart ? " To put things in one place, tie them instead." : "")}"
                        : $"{Words} lies between {Tolerances.SmallestSize} and {Tolerances.LargestSize:0} mm, not at {value:0.#####} mm."
                );

    /// <summary>Whether it may name one entity more than once.</summary>
    protected virtual bool MayRepeat => false;

    /// <summary>Whether it keeps two things apart, rather than being the size of one.</summary>
    protected virtual bool Apart => true;

    private string Words => $"{("aeio".Contains(Name[0]) ? "An" : "A")} {Name.Replace('-', ' ')}";

    protected abstract Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of);

    protected Refusal DoesNotFit(IReadOnlyList<SketchEntity> of) =>
        new("dimension.does-not-fit", $"{Words} dimension needs {Needs}; picked: {string.Join(", ", of.Select(e => $"{e.Word} {e.Id}"))}.");

    /// <summary>Where a point is, or the centre of something round.</summary>
    protected static Vec2 PointAt(Sketch sketch, SketchEntity entity) =>
        entity is PointEntity p
            ? p.At
            : sketch.At(Curves.Centre(entity) ?? throw new InvalidOperationException($"{entity.Word} has no single point"));
}
