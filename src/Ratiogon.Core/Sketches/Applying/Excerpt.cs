using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Sketches.Applying;

/// <summary>The part of a sketch that a change has to do with, to be solved by itself: everything else stays to the bit.</summary>
internal sealed class Excerpt
{
    /// <summary>The rule that holds what may not move, in the excerpt alone.</summary>
    private const string Hold = "~held";
    private readonly Sketch whole;
    private readonly IReadOnlySet<string> free;

    private Excerpt(Sketch whole, Sketch part, IReadOnlySet<string> free) => (this.whole, Part, this.free) = (whole, part, free);

    /// <summary>A sketch of its own, with the same ids.</summary>
    public Sketch Part { get; }

    /// <summary>What is left of the whole without what is free here, and the rules that speak of none of it.</summary>
    public Sketch Rest =>
        Only(whole, whole.Entities.Select(e => e.Id).Where(id => !free.Contains(id)).ToHashSet(StringComparer.Ordinal), (_, of) =>
            !of.Any(free.Contains)
        );

    /// <summary>Everything that hangs together with some entities by points and rules; what only the sketch's origin or axes join does
    /// not.</summary>
    /// <param name="whole">The sketch.</param>
    /// <param name="seeds">Ids of entities; others are passed over.</param>
    public static Excerpt Around(Sketch whole, IEnumerable<string> seeds)
    {
        var sets = new NamedSets();
        foreach (var entity in whole.Entities)
        {
            sets.Join([.. entity.Points.Where(Own), entity.Id]);
        }

        foreach (var of in whole.Constraints.Select(c => c.Of).Concat(whole.Dimensions.Select(d => d.Of)))
        {
            sets.Join([.. of.Where(Own)]);
        }

        var wanted = seeds.Where(id => whole.Find(id) is not null && Own(id)).Select(sets.Of).ToHashSet(StringComparer.Ordinal);
        var inside = whole.Entities.Select(e => e.Id).Where(id => wanted.Contains(sets.Of(id))).ToHashSet(StringComparer.Ordinal);
        return new Excerpt(
            whole,
            inside.Count == whole.Entities.Length ? whole : Only(whole, inside, (_, of) => of.Any(inside.Contains)),
            inside
        );

        static bool Own(string id) => !Sketch.IsBuiltIn(id);
    }

    /// <summary>Some entities with their rules; whatever else these rules speak of is held where it is.</summary>
    /// <param name="whole">The sketch.</param>
    /// <param name="free">Ids of the entities that may move.</param>
    /// <param name="rules">Ids of rules that count even where they speak of none of these.</param>
    public static Excerpt Holding(Sketch whole, IReadOnlySet<string> free, IReadOnlySet<string> rules)
    {
        bool Counts(string id, ImmutableArray<string> of) => rules.Contains(id) || of.Any(free.Contains);
        var named = whole
            .Constraints.Where(c => Counts(c.Id, c.Of))
            .SelectMany(c => c.Of)
            .Concat(whole.Dimensions.Where(d => Counts(d.Id, d.Of)).SelectMany(d => d.Of))
            .Concat(free)
            .Where(id => !Sketch.IsBuiltIn(id))
            .ToHashSet(StringComparer.Ordinal);
        var inside = named
            .SelectMany(id => whole.Find(id)!.Points.Append(id))
            .Where(id => !Sketch.IsBuiltIn(id))
            .ToHashSet(StringComparer.Ordinal);

        // What is said among those that are held holds, and tells the other rules what goes over into what.
        var part = Only(whole, inside, (id, of) => Counts(id, of) || of.All(o => inside.Contains(o) || Sketch.IsBuiltIn(o)));
        ImmutableArray<string> held = [.. part.Entities.Select(e => e.Id).Where(id => !free.Contains(id))];
        return new Excerpt(
            whole,
            held.IsEmpty ? part : part with { Constraints = part.Constraints.Insert(0, new SketchConstraint(Hold, "fixed", held)) },
            free
        );
    }

    /// <summary>The whole sketch with what was free where a solution of the part has it.</summary>
    public Sketch Back(Sketch solved) =>
        ReferenceEquals(Part, whole) ? solved : whole.Moved([.. whole.Entities.Select(e => free.Contains(e.Id) ? solved.Find(e.Id)! : e)]);

    private static Sketch Only(Sketch whole, HashSet<string> inside, Func<string, ImmutableArray<string>, bool> counts) =>
        whole with
        {
            Entities = whole.Entities.RemoveAll(e => !inside.Contains(e.Id)),
            Constraints = whole.Constraints.RemoveAll(c => !counts(c.Id, c.Of)),
            Dimensions = whole.Dimensions.RemoveAll(d => !counts(d.Id, d.Of)),
            Shapes = [],
        };
}
