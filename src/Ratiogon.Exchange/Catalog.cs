using Ratiogon.Core.Gauging;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Exchange;

/// <summary>Everything that the core knows by name.</summary>
public sealed record Catalog(
    IReadOnlyList<string> Entities, IReadOnlyList<string> Shapes, IReadOnlyList<CatalogEntry> Constraints, IReadOnlyList<CatalogEntry> Dimensions,
    IReadOnlyList<CatalogEntry> DatumConditions, IReadOnlyList<CatalogEntry> Forms, IReadOnlyList<string> Readings, IReadOnlyList<CatalogEntry> Formats,
    IReadOnlyList<string> Units)
{
    public static Catalog Current { get; } = new(
        ["point", "line", "circle", "arc", "ellipse", "elliptic-arc", "spline"],
        ShapeCatalog.All,
        [.. ConstraintCatalog.All.Select(k => new CatalogEntry(k.Name, k.Needs))],
        [.. DimensionCatalog.All.Select(k => new CatalogEntry(k.Name, k.Needs))],
        [new("parallel-at-distance", "a plane or planar face, and a length")],
        [new("extrude", "join or cut; a length, symmetric, or through all; of chosen regions of a sketch")],
        [.. ReadingCatalog.All.Select(k => k.Name)],
        [.. Exporter.Formats.Select(f => new CatalogEntry(f.Ending, f.Words))],
        [.. Core.Quantities.Units.Names]);
}

/// <summary>A name with what it needs or does.</summary>
public sealed record CatalogEntry(string Name, string Needs);
