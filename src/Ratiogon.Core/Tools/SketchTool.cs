using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>A tool as a state machine without a screen. It stays active until it is left. A new tool is one subclass
/// and one line in <see cref="ToolCatalog"/>.</summary>
public abstract class SketchTool
{
    /// <summary>Answers one input. The context is the part as it is now.</summary>
    public abstract ToolAnswer Handle(ToolContext context, ToolInput input);

    protected static PreviewCurve Line(Vec2 a, Vec2 b) => new("line", [a.X, a.Y, b.X, b.Y]);

    protected static PreviewCurve Circle(Vec2 c, double r) => new("circle", [c.X, c.Y, r]);

    protected static PreviewCurve Point(Vec2 p) => new("point", [p.X, p.Y]);

    /// <summary>Two typed numbers place a point.</summary>
    protected static Outcome<Vec2>? Coordinates(ToolContext context, string text)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(text);

        // A comma inside brackets separates the arguments of a function.
        var depth = 0;
        for (var i = 0; i < text.Length; i++)
        {
            depth += text[i] == '(' ? 1 : text[i] == ')' ? -1 : 0;
            if (text[i] == ',' && depth == 0)
            {
                var second = text[(i + 1)..];
                return context.Read(text[..i], Quantities.Dimension.OfLength).Then(x => context.Read(second, Quantities.Dimension.OfLength).Map(y => new Vec2(x.Value, y.Value)));
            }
        }

        return null;
    }

    /// <summary>The typed point, as the change that places it there by numbers.</summary>
    protected static PartCommand Edit(ToolContext context, SketchEdit edit, string what) => new EditSketch(context.Step.Id, edit, what);
}

/// <summary>Every sketch tool.</summary>
public static class ToolCatalog
{
    /// <summary>A tool's place in the interface.</summary>
    /// <param name="Name">As sent.</param>
    /// <param name="Bench">Draw, Tie or Size.</param>
    /// <param name="Label">In words.</param>
    /// <param name="Stroke">Second stroke of its shortcut, after the bench's.</param>
    /// <param name="Make">Starts it.</param>
    public sealed record Entry(string Name, string Bench, string Label, char Stroke, Func<SketchTool> Make);

    public static IReadOnlyList<Entry> All { get; } =
    [
        new("select", "Draw", "Pick and drag", 'p', () => new SelectTool()),
        new("line", "Draw", "Line", 'l', () => new LineTool()),
        new("rectangle", "Draw", "Rectangle by corners", 'r', () => new RectangleTool(fromCentre: false)),
        new("rectangle-centre", "Draw", "Rectangle from centre", 'm', () => new RectangleTool(fromCentre: true)),
        new("circle", "Draw", "Circle", 'c', () => new CircleTool()),
        new("arc", "Draw", "Arc", 'a', () => new ArcTool()),
        new("point", "Draw", "Point", 'o', () => new PointTool()),
        new("dimension", "Size", "Dimension", 'd', () => new DimensionTool()),
        .. Sketching.ConstraintCatalog.All.Select(k => new Entry($"tie-{k.Name}", "Tie", Label(k.Name), Stroke(k.Name), () => new TieTool(k.Name))),
    ];

    public static Entry? Find(string name) => All.FirstOrDefault(t => t.Name == name);

    private static string Label(string name) => char.ToUpperInvariant(name[0]) + name[1..].Replace('-', ' ');

    private static char Stroke(string name) => name switch
    {
        "coincident" => 'c',
        "on-curve" => 'o',
        "midpoint" => 'm',
        "horizontal" => 'h',
        "vertical" => 'v',
        "parallel" => 'p',
        "perpendicular" => 'q',
        "equal" => 'e',
        "concentric" => 'n',
        _ => 'f',
    };
}
