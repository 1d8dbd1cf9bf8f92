using Ratiogon.Core.Solving;

namespace Ratiogon.Core.Sketching;

/// <summary>One kind of constraint: what it may tie and how it is written as equations. A new kind is one subclass
/// and one line in <see cref="ConstraintCatalog"/>.</summary>
public abstract class ConstraintKind
{
    /// <summary>As written in files and commands.</summary>
    public abstract string Name { get; }

    /// <summary>What it needs, in words, for the prompt and for refusals.</summary>
    public abstract string Needs { get; }

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

    /// <summary>Writes the constraint; only called with entities that fit.</summary>
    public abstract void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of);

    protected abstract bool Fits(IReadOnlyList<SketchEntity> of);

    /// <summary>Whether a point can be had from the entity: a point, or a circle or arc by its centre.</summary>
    protected static bool HasPoint(SketchEntity e) => e is PointEntity or CircleEntity or ArcEntity;

    protected static bool IsRound(SketchEntity e) => e is CircleEntity or ArcEntity;

    /// <summary>Two or more of one type.</summary>
    protected static bool Several<T>(IReadOnlyList<SketchEntity> of) => of.Count >= 2 && of.All(e => e is T);

    private static string Words(IReadOnlyList<SketchEntity> of) => of.Count == 0 ? "nothing" : string.Join(", ", of.Select(e => $"{e.Word} {e.Id}"));
}

/// <summary>Every kind of constraint.</summary>
public static class ConstraintCatalog
{
    public static IReadOnlyList<ConstraintKind> All { get; } =
    [
        new Coincident(), new OnCurve(), new Midpoint(), new Horizontal(), new Vertical(), new Parallel(), new Perpendicular(),
        new Equal(), new Concentric(), new Fixed(),
    ];

    private static readonly Dictionary<string, ConstraintKind> ByName = All.ToDictionary(k => k.Name, StringComparer.Ordinal);

    public static ConstraintKind? Find(string name) => ByName.GetValueOrDefault(name ?? "");
}
