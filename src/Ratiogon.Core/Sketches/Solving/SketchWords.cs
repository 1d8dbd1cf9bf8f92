using Ratiogon.Core.Numerics;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Constraints, dimensions and entities in plain words.</summary>
public static class SketchWords
{
    public static string List(Sketch sketch, IEnumerable<Owner> owners) => string.Join("; ", owners.Select(o => Describe(sketch, o)));

    /// <summary>For example <c>distance 80 mm of outline.top (d1)</c>.</summary>
    public static string Describe(Sketch sketch, Owner owner)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        switch (owner.Kind)
        {
            case OwnerKind.Constraint when sketch.Constraints.FirstOrDefault(c => c.Id == owner.Id) is { } c:
                return $"{c.Kind} {string.Join(", ", c.Of)} ({c.Id})";
            case OwnerKind.Dimension when sketch.Dimensions.FirstOrDefault(d => d.Id == owner.Id) is { } d:
                return $"{d.Kind} {d.Value ?? Reads(sketch, d)} of {string.Join(", ", d.Of)} ({d.Id})";
            case OwnerKind.Entity when sketch.Find(owner.Id) is { } e:
                return $"the ends of {e.Word} {e.Id}";
            default:
                return owner.Id;
        }
    }

    private static string Reads(Sketch sketch, SketchDimension dimension) =>
        DimensionCatalog.Find(dimension.Kind) is { } kind && DimensionCatalog.Measure(sketch, dimension) is { } now
            ? Units.Show(new Quantity(now, kind.Of))
            : "?";
}
