using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Core.Building;

/// <summary>Something that meets a place of a sketch only as seen from the view.</summary>
/// <param name="Words">What is wrong, with the gap.</param>
/// <param name="Here">The place on the sketch plane.</param>
/// <param name="There">The place on the thing.</param>
/// <param name="Crossing">Takes the point where it does meet the plane; null where it does not.</param>
/// <param name="Copy">Takes a copy of it as seen square onto the plane; null where it cannot.</param>
/// <param name="WhyNoCrossing">Why there is no crossing.</param>
public sealed record SeenOnly(string Words, Vec3 Here, Vec3 There, PartCommand? Crossing, PartCommand? Copy, string? WhyNoCrossing);
