using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Taking things out of a sketch together with whatever cannot be without them.</summary>
public static class Removal
{
    /// <summary>The sketch without these; a shape's id stands for all its members. Points that only served what was
    /// removed go too.</summary>
    public static Sketch Without(Sketch sketch, ImmutableArray<string> ids)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (ids.IsDefaultOrEmpty)
        {
            return sketch;
        }

        var gone = Gone(sketch, ids);
        return sketch with
        {
            Entities = sketch.Entities.RemoveAll(e => gone.Contains(e.Id)),
            Constraints =
            [
                .. sketch
                    .Constraints.Where(c => !gone.Contains(c.Id))
                    .Select(c => ConstraintCatalog.Find(c.Kind) is CopyRule rule && c.Of.Any(gone.Contains) ? rule.Without(c, gone)! : c),
            ],
            Dimensions =
            [
                .. sketch
                    .Dimensions.Where(d => !gone.Contains(d.Id))
                    .Select(d => d.Kind == OffsetSize.KindName ? OffsetSize.Without(d, gone)! : d),
            ],
            Shapes = sketch.Shapes.RemoveAll(s => gone.Contains(s.Id)),
        };
    }

    /// <summary>Every id that goes when these go.</summary>
    public static IReadOnlySet<string> Gone(Sketch sketch, ImmutableArray<string> ids)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var gone = ids.ToHashSet(StringComparer.Ordinal);
        foreach (var shape in sketch.Shapes.Where(s => gone.Contains(s.Id)))
        {
            gone.UnionWith(sketch.Entities.Select(e => e.Id).Where(id => id.StartsWith(shape.Id + ".", StringComparison.Ordinal)));
        }

        gone.UnionWith(sketch.Entities.Where(e => e.Points.Any(gone.Contains)).Select(e => e.Id));
        var served = sketch.Entities.Where(e => gone.Contains(e.Id)).SelectMany(e => e.Points).ToHashSet(StringComparer.Ordinal);
        served.ExceptWith(sketch.Entities.Where(e => !gone.Contains(e.Id)).SelectMany(e => e.Points));
        gone.UnionWith(served.Where(id => !Sketch.IsBuiltIn(id)));
        gone.UnionWith(
            sketch
                .Constraints.Where(c =>
                    c.Of.Any(gone.Contains) && !(ConstraintCatalog.Find(c.Kind) is CopyRule rule && rule.Without(c, gone) is not null)
                )
                .Select(c => c.Id)
        );
        gone.UnionWith(
            sketch
                .Dimensions.Where(d =>
                    d.Of.Any(gone.Contains) && !(d.Kind == OffsetSize.KindName && OffsetSize.Without(d, gone) is not null)
                )
                .Select(d => d.Id)
        );

        // A shape that lost a curve is just curves; a pattern is one as long as its rule holds.
        gone.UnionWith(
            sketch
                .Shapes.Where(s =>
                    s.Kind is "ring" or "grid"
                        ? gone.Contains($"{s.Id}.copies")
                        : sketch.Entities.Any(e => gone.Contains(e.Id) && e.Id.StartsWith(s.Id + ".", StringComparison.Ordinal))
                )
                .Select(s => s.Id)
        );
        return gone;
    }
}
