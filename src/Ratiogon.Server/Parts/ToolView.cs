using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Forms;

namespace Ratiogon.Server.Parts;

/// <summary>A tool as listed for the interface.</summary>
/// <param name="Name">As sent.</param>
/// <param name="Bench">Draw, Tie, Size or Form.</param>
/// <param name="Group">A heading within the bench.</param>
/// <param name="Label">In words.</param>
/// <param name="Stroke">Second stroke of its shortcut.</param>
/// <param name="Icon">SVG path in a box of 16 by 16.</param>
public sealed record ToolView(string Name, string Bench, string Group, string Label, string Stroke, string Icon)
{
    /// <summary>The tools of a sketch, then the forms, each in the order in which they stand on their bench.</summary>
    public static ToolView[] All { get; } =
    [
        .. ToolCatalog.All.Select(t => new ToolView(t.Name, t.Bench, t.Group, t.Label, t.Stroke.ToString(), t.Icon)),
        .. FormCatalog.All.Select(f => new ToolView(f.Kind, "Form", f.Tool.Group, f.Label, f.Tool.Stroke.ToString(), f.Tool.Icon)),
    ];
}
