using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Demo;

/// <summary>Demo parts are made by the commands that a user's clicks send.</summary>
public static class DemoParts
{
    /// <summary>Every demo part with the name of its file, in the order they are shown, the first on top.</summary>
    public static IReadOnlyList<(string File, Func<Part> Build)> All { get; } =
    [
        ("motor-plate", MotorPlate.Build),
        ("hose-cradle", HoseCradle.Build),
        ("rotor-hub", RotorHub.Build),
        ("inlet-block", InletBlock.Build),
        ("hose-guide", HoseGuide.Build),
        ("spout", Spout.Build),
    ];
}
