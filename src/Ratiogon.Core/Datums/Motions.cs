using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Datums;

/// <summary>One way to put a datum elsewhere as another like it: it goes on following both.</summary>
/// <param name="Name">Of the relation, as stored.</param>
/// <param name="Words">Before what is copied.</param>
/// <param name="And">Before what it is moved by.</param>
/// <param name="Fields">Values that it needs.</param>
/// <param name="By">Whether something can move it.</param>
/// <param name="Make">The motion, by that thing and the values.</param>
internal sealed record Motion(
    string Name,
    string Words,
    string And,
    ImmutableArray<RelationField> Fields,
    Func<Thing, bool> By,
    Func<Thing, IReadOnlyList<double>, Rigid> Make
);

/// <summary>Datums as live copies of others: mirrored, moved and turned.</summary>
internal static class Motions
{
    /// <summary>Far behind what a datum stands on more simply.</summary>
    private const int Cost = 6;

    private static readonly ImmutableArray<Motion> All =
    [
        new("mirrored", "the mirror image of", "in", [], t => t.Plane is not null, (t, _) => Rigid.Mirror(t.Plane!.Value)),
        new(
            "moved",
            "moved from",
            "along",
            [Field.Distance],
            t => t.Straight is not null,
            (t, v) => Rigid.By(t.Straight!.Value.Direction * v[0])
        ),
        new(
            "spun",
            "turned from",
            "about",
            [new RelationField("turn", Dimension.OfAngle, "90 deg")],
            t => t.Straight is not null,
            (t, v) => Rigid.About(t.Straight!.Value, v[0])
        ),
    ];

    /// <summary>The relations of a kind.</summary>
    /// <param name="makes">The kind.</param>
    /// <param name="fits">Whether a thing can be copied as one.</param>
    /// <param name="write">What says that a datum is the moved thing.</param>
    public static IEnumerable<Relation<TCase>> Of<TCase>(
        DatumKind makes,
        Func<Thing, bool> fits,
        Func<Thing, Rigid, ImmutableArray<TCase>> write
    ) =>
        All.Select(m => new Relation<TCase>(m.Name, makes, m.Words, 2, m.Fields, Cost)
        {
            And = m.And,
            Fits = of => fits(of[0]) && m.By(of[1]) && of[0].Reference != of[1].Reference,
            // That a circle misses a face is told; the image of its centre would be far-fetched.
            Natural = of =>
                makes switch
                {
                    DatumKind.Point => of[0].Point is not null,
                    DatumKind.Frame => of[0].Frame is not null,
                    _ => true,
                },
            Write = (of, v) => write(of[0], m.Make(of[1], v)),
        });

    /// <summary>The motion that a condition names; null where it names none.</summary>
    public static Rigid? Made(Condition condition) =>
        All.FirstOrDefault(m => m.Name == condition.Relation.Name) is { } motion ? motion.Make(condition.Of[1], condition.Values) : null;
}
