namespace Ratiogon.Core.Kernel;

/// <summary>A turned tool as it lies in a body between two planar faces square to it.</summary>
/// <param name="Tool">Only what lies in the material; its first and last cap lie on the faces.</param>
/// <param name="Entry">The body's face that it goes in by.</param>
/// <param name="Exit">The face that it leaves by; -1 where it ends inside.</param>
/// <param name="Top">The tool's cap on the entry.</param>
/// <param name="Bottom">Its cap on the exit; -1 where it ends inside.</param>
public sealed record DrilledTool(Shaped Tool, int Entry, int Exit, int Top, int Bottom);
