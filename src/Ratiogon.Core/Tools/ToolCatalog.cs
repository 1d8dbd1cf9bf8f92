using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Tools;

/// <summary>Every sketch tool.</summary>
public static class ToolCatalog
{
    /// <summary>A tool's place in the interface.</summary>
    /// <param name="Name">As sent.</param>
    /// <param name="Bench">Draw, Tie or Size.</param>
    /// <param name="Group">A heading within the bench.</param>
    /// <param name="Label">In words.</param>
    /// <param name="Stroke">Second stroke of its shortcut, after the bench's.</param>
    /// <param name="Make">Starts it.</param>
    public sealed record Entry(string Name, string Bench, string Group, string Label, char Stroke, Func<SketchTool> Make)
    {
        /// <summary>Its mark, an SVG path in a box of 16 by 16.</summary>
        public required string Icon { get; init; }
    }

    public static IReadOnlyList<Entry> All { get; } =
    [
        new("select", "Draw", "", "Pick and drag", 'p', () => new SelectTool()) { Icon = "M4 2.5l8 6-3.6.7-1.6 3.6z" },
        new("line", "Draw", "Draw", "Line", 'l', () => new LineTool())
        {
            Icon = "M3 13L13 3M3 13m-1.3 0a1.3 1.3 0 1 0 2.6 0a1.3 1.3 0 1 0-2.6 0M13 3m-1.3 0a1.3 1.3 0 1 0 2.6 0a1.3 1.3 0 1 0-2.6 0",
        },
        new("rectangle", "Draw", "Draw", "Rectangle", 'r', () => new RectangleTool("corners"))
        {
            Icon =
                "M2.5 4.5h11v7h-11zM2.5 11.5m-1.2 0a1.2 1.2 0 1 0 2.4 0a1.2 1.2 0 1 0-2.4 0"
                + "M13.5 4.5m-1.2 0a1.2 1.2 0 1 0 2.4 0a1.2 1.2 0 1 0-2.4 0",
        },
        new("rectangle-centre", "Draw", "Draw", "Rectangle, centred", 'm', () => new RectangleTool("centre"))
        {
            Icon = "M2.5 4.5h11v7h-11zM8 8m-1.2 0a1.2 1.2 0 1 0 2.4 0a1.2 1.2 0 1 0-2.4 0",
        },
        new("circle", "Draw", "Draw", "Circle", 'c', () => new CircleTool())
        {
            Icon = "M8 8m-5.5 0a5.5 5.5 0 1 0 11 0a5.5 5.5 0 1 0-11 0M8 8h.01M8 8l4-4",
        },
        new("arc", "Draw", "Draw", "Arc", 'a', () => new ArcTool()) { Icon = "M3 12A8 8 0 0 1 13 5M3 12h10M13 12V5" },
        new("slot", "Draw", "Draw", "Slot", 's', () => new SlotTool())
        {
            Icon = "M5 4.500h6a3.500 3.500 0 0 1 0 7H5a3.500 3.500 0 0 1 0-7M5 8h6",
        },
        new("polygon", "Draw", "Draw", "Polygon", 'g', () => new PolygonTool()) { Icon = "M8 2l5.200 3v6L8 14l-5.200-3V5z" },
        new("ellipse", "Draw", "Draw", "Ellipse", 'e', () => new EllipseTool())
        {
            Icon = "M8 8m-6 0a6 3.600 0 1 0 12 0a6 3.600 0 1 0-12 0M8 8h6M8 8v-3.600",
        },
        new("spline", "Draw", "Draw", "Spline", 'i', () => new SplineTool())
        {
            Icon = "M2 12C4 3 7 3 8 8s4 5 6-4M2 12h.010M8 8h.010M14 4h.010",
        },
        new("point", "Draw", "Draw", "Point", 'o', () => new PointTool())
        {
            Icon = "M8 8m-1.6 0a1.6 1.6 0 1 0 3.2 0a1.6 1.6 0 1 0-3.2 0M8 1.5v3M8 11.5v3M1.5 8h3M11.5 8h3",
        },
        new("trim", "Draw", "Change", "Trim", 't', () => new TrimTool()) { Icon = "M2 5h4M10 5h4M6 2v6M10 2v6M6.500 11l3 3M9.500 11l-3 3" },
        new("extend", "Draw", "Change", "Extend", 'x', () => new ExtendTool()) { Icon = "M2 8h6M9 8h1.200M11.500 8h1M13.500 3v10M8 6v4" },
        new("split", "Draw", "Change", "Split", 'v', () => new SplitTool())
        {
            Icon = "M2 8h4.500M9.500 8H14M8 3v2M8 11v2M6.500 6.500v3M9.500 6.500v3",
        },
        new("corner", "Draw", "Change", "Fillet or chamfer", 'f', () => new CornerTool())
        {
            Icon = "M3 13V8a5 5 0 0 1 5-5h5M3 3h1.500M3 3v1.500",
        },
        new("offset", "Draw", "Change", "Offset", 'w', () => new OffsetTool()) { Icon = "M3 13V6a3 3 0 0 1 3-3h7M7 13V9a2 2 0 0 1 2-2h4" },
        new("mirror", "Draw", "Copy", "Mirror", 'y', () => new MirrorTool())
        {
            Icon = "M8 1.500v2M8 5v2M8 8.500v2M8 12v2M6 4L2 12h4zM10 4l4 8h-4z",
        },
        new("pattern-row", "Draw", "Copy", "Linear pattern", 'h', () => new GridTool())
        {
            Icon = "M2 6h3v4H2zM6.500 6h3v4h-3zM11 6h3v4h-3z",
        },
        new("pattern-ring", "Draw", "Copy", "Circular pattern", 'k', () => new RingTool())
        {
            Icon =
                "M8 3m-1.500 0a1.500 1.500 0 1 0 3 0a1.500 1.500 0 1 0-3 0"
                + "M12.500 10.500m-1.500 0a1.500 1.500 0 1 0 3 0a1.500 1.500 0 1 0-3 0"
                + "M3.500 10.500m-1.500 0a1.500 1.500 0 1 0 3 0a1.500 1.500 0 1 0-3 0"
                + "M8 8h.010",
        },
        new("move", "Draw", "Copy", "Move, turn, scale", 'u', () => new MoveTool())
        {
            Icon =
                "M8 2v12M2 8h12M6.500 3.500L8 2l1.500 1.500M6.500 12.500L8 14l1.500-1.500M3.500 6.500L2 8l1.500 1.500"
                + "M12.500 6.500L14 8l-1.500 1.500",
        },
        new("dimension", "Size", "", "Dimension", 'd', () => new DimensionTool())
        {
            Icon = "M2.5 3v10M13.5 3v10M2.5 8h11M5 6L2.5 8 5 10M11 6l2.5 2L11 10",
        },
        .. ConstraintCatalog
            .All.Where(k => k.TiedByHand)
            .Select(k => new Entry($"tie-{k.Name}", "Tie", "", Label(k.Name), k.Stroke, () => new TieTool(k.Name)) { Icon = k.Icon }),
        new("merge", "Tie", "", "Merge points", 'w', () => new MergeTool())
        {
            Icon = "M3 4l4 4-4 4M13 4L9 8l4 4M8 8m-1.300 0a1.300 1.300 0 1 0 2.600 0a1.300 1.300 0 1 0-2.600 0",
        },
    ];

    public static Entry? Find(string name) => All.FirstOrDefault(t => t.Name == name);

    internal static string Label(string name) => char.ToUpperInvariant(name[0]) + name[1..].Replace('-', ' ');
}
