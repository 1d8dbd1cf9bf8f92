using Ratiogon.Core.Sketches.Dimensions;

namespace Ratiogon.Core.Sketches.Rules;

/// <summary>Every kind of dimension.</summary>
public static class DimensionCatalog
{
    public static IReadOnlyList<DimensionKind> All { get; } =
    [
        new Distance(),
        new AxisDistance("horizontal-distance", 0),
        new AxisDistance("vertical-distance", 1),
        new RimDistance("near-distance", -1),
        new RimDistance("far-distance", 1),
        new AcrossAxis(),
        new AngleSize("angle", false),
        new AngleSize("other-angle", true),
        new RadiusSize("radius", 1),
        new RadiusSize("diameter", 2),
        new SweepSize(),
        new ArcLength(),
        new SemiAxis("first-semi-axis", 1),
        new SemiAxis("second-semi-axis", 2),
        new OffsetSize(),
        .. Kinds.Brought<DimensionKind>(),
    ];

    private static readonly Dictionary<string, DimensionKind> ByName = All.ToDictionary(k => k.Name, StringComparer.Ordinal);

    public static DimensionKind? Find(string name) => ByName.GetValueOrDefault(name ?? "");

    /// <summary>What a dimension reads now, in millimetres or radians; null where it hangs in the air.</summary>
    public static double? Measure(Sketch sketch, SketchDimension dimension) =>
        Find(dimension.Kind) is { } kind && sketch.FindAll(dimension.Of) is { } of && kind.Check(sketch, of) is null
            ? kind.Measure(sketch, of)
            : null;
}
