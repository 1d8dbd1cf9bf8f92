namespace Ratiogon.Server.Parts;

/// <summary>A tool as listed for the interface.</summary>
public sealed record ToolView(string Name, string Bench, string Group, string Label, string Stroke);
