using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Demo;

/// <summary>Demo parts are made by the commands that a user's clicks send.</summary>
public static class DemoParts
{
    /// <summary>Every demo part with the name of its file, in the order they are shown, the first on top.</summary>
    public static IReadOnlyList<DemoPart> All { get; } =
    [
        new DemoPart("motor-plate", MotorPlate.Build),
        new DemoPart("hose-cradle", HoseCradle.Build),
        new DemoPart("rotor-hub", RotorHub.Build),
        new DemoPart("inlet-block", InletBlock.Build),
        new DemoPart("hose-guide", HoseGuide.Build),
        new DemoPart("spout", Spout.Build),
    ];
}

/// <summary>A part of the demonstration.</summary>
/// <param name="File">The name of its file.</param>
/// <param name="Build">Makes it.</param>
public readonly record struct DemoPart(string File, Func<Part> Build);
