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
        /// <summary>Its mark, an SVG path in a box of 16 by 16; empty where the interface draws it by its name.</summary>
        public string Icon { get; init; } = "";
    }

    public static IReadOnlyList<Entry> All { get; } =
    [
        new("select", "Draw", "", "Pick and drag", 'p', () => new SelectTool()),
        new("line", "Draw", "Draw", "Line", 'l', () => new LineTool()),
        new("rectangle", "Draw", "Draw", "Rectangle", 'r', () => new RectangleTool("corners")),
        new("rectangle-centre", "Draw", "Draw", "Rectangle, centred", 'm', () => new RectangleTool("centre")),
        new("circle", "Draw", "Draw", "Circle", 'c', () => new CircleTool()),
        new("arc", "Draw", "Draw", "Arc", 'a', () => new ArcTool()),
        new("slot", "Draw", "Draw", "Slot", 's', () => new SlotTool()),
        new("polygon", "Draw", "Draw", "Polygon", 'g', () => new PolygonTool()),
        new("ellipse", "Draw", "Draw", "Ellipse", 'e', () => new EllipseTool()),
        new("spline", "Draw", "Draw", "Spline", 'i', () => new SplineTool()),
        new("point", "Draw", "Draw", "Point", 'o', () => new PointTool()),
        new("trim", "Draw", "Change", "Trim", 't', () => new TrimTool()),
        new("extend", "Draw", "Change", "Extend", 'x', () => new ExtendTool()),
        new("split", "Draw", "Change", "Split", 'v', () => new SplitTool()),
        new("corner", "Draw", "Change", "Fillet or chamfer", 'f', () => new CornerTool()),
        new("offset", "Draw", "Change", "Offset", 'w', () => new OffsetTool()),
        new("mirror", "Draw", "Copy", "Mirror", 'y', () => new MirrorTool()),
        new("pattern-row", "Draw", "Copy", "Linear pattern", 'h', () => new GridTool()),
        new("pattern-ring", "Draw", "Copy", "Circular pattern", 'k', () => new RingTool()),
        new("move", "Draw", "Copy", "Move, turn, scale", 'u', () => new MoveTool()),
        new("dimension", "Size", "", "Dimension", 'd', () => new DimensionTool()),
        .. ConstraintCatalog
            .All.Where(k => k.TiedByHand)
            .Select(k => new Entry($"tie-{k.Name}", "Tie", "", Label(k.Name), k.Stroke, () => new TieTool(k.Name)) { Icon = k.Icon }),
        new("merge", "Tie", "", "Merge points", 'w', () => new MergeTool()),
    ];

    public static Entry? Find(string name) => All.FirstOrDefault(t => t.Name == name);

    internal static string Label(string name) => char.ToUpperInvariant(name[0]) + name[1..].Replace('-', ' ');
}
