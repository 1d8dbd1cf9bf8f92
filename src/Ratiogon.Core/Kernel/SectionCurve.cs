using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Kernel;

/// <summary>A curve where a face of the body meets a plane.</summary>
/// <param name="Face">Name of the face.</param>
/// <param name="Curve">As it lies in space.</param>
public sealed record SectionCurve(string Face, SpaceCurve Curve);
