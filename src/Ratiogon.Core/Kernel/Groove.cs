using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Kernel;

/// <summary>A trapezoid that is wound about an axis. Lengths in millimetres.</summary>
/// <param name="Axis">Its middle begins level with the origin.</param>
/// <param name="Mouth">Radius where it opens.</param>
/// <param name="MouthWidth">Along the axis, there.</param>
/// <param name="Root">Radius of its bottom.</param>
/// <param name="RootWidth">Along the axis, there.</param>
/// <param name="Pitch">Along the axis for one turn.</param>
/// <param name="Turns">How often it goes round.</param>
public sealed record Groove(Line3 Axis, double Mouth, double MouthWidth, double Root, double RootWidth, double Pitch, double Turns)
{
    /// <summary>Radians about the axis where it begins: away from where round faces usually close.</summary>
    public double Start { get; init; } = 1;
}
