using Ratiogon.Core.Numerics;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Constraints, dimensions and entities in plain words.</summary>
public static class SketchWords
{
    public static string List(Sketch sketch, IEnumerable<Owner> owners) => string.Join("; ", owners.Select(o => Describe(sketch, o)));

    /// <summary>For example <c>distance 80 mm of the top side of the rectangle</c>.</summary>
    public static string Describe(Sketch sketch, Owner owner, LengthUnit unit = LengthUnit.Millimetre)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var words = EntityWords.Of(sketch, unit);
        switch (owner.Kind)
        {
            case OwnerKind.Constraint when sketch.Constraints.FirstOrDefault(c => c.Id == owner.Id) is { } c:
                return $"{c.Kind.Replace('-', ' ')}: {string.Join(", ", c.Of.Select(words.The))}";
            case OwnerKind.Dimension when sketch.Dimensions.FirstOrDefault(d => d.Id == owner.Id) is { } d:
                return $"{d.Kind.Replace('-', ' ')} {d.Value ?? Reads(sketch, d)} of {string.Join(", ", d.Of.Select(words.The))}";
            case OwnerKind.Entity when sketch.Find(owner.Id) is { } e:
                return $"the ends of {words.The(e.Id)}";
            default:
                return owner.Id;
        }
    }

    /// <summary>A constraint or a dimension by its id; null where there is none of that id.</summary>
    public static string? OfRule(Sketch sketch, string id, LengthUnit unit = LengthUnit.Millimetre)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return sketch.Constraints.Any(c => c.Id == id) ? Describe(sketch, new Owner(OwnerKind.Constraint, id), unit)
            : sketch.Dimensions.Any(d => d.Id == id) ? Describe(sketch, new Owner(OwnerKind.Dimension, id), unit)
            : null;
    }

    private static string Reads(Sketch sketch, SketchDimension dimension) =>
        DimensionCatalog.Find(dimension.Kind) is { } kind && DimensionCatalog.Measure(sketch, dimension) is { } now
            ? Units.Show(new Quantity(now, kind.Of))
            : "?";
}
