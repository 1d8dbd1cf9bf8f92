namespace Ratiogon.Server.Parts;

/// <summary>A tool as listed for the interface.</summary>
/// <param name="Name">As sent.</param>
/// <param name="Bench">Draw, Tie or Size.</param>
/// <param name="Group">A heading within the bench.</param>
/// <param name="Label">In words.</param>
/// <param name="Stroke">Second stroke of its shortcut.</param>
/// <param name="Icon">SVG path in a box of 16 by 16; empty where the interface draws it by its name.</param>
public sealed record ToolView(string Name, string Bench, string Group, string Label, string Stroke, string Icon);
