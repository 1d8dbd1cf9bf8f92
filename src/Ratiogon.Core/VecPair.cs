namespace Ratiogon.Core;

/// <summary>Two places or directions that belong together.</summary>
/// <param name="A">The first.</param>
/// <param name="B">The second.</param>
public readonly record struct VecPair(Vec3 A, Vec3 B);
