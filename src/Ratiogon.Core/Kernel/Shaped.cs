using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Kernel;

/// <summary>A solid with, for each of its faces, the name that its history gives it.</summary>
/// <param name="Solid">Its geometry.</param>
/// <param name="Bases">By face number; pieces of one face share it.</param>
public sealed record Shaped(ISolid Solid, ImmutableArray<string> Bases)
{
    /// <summary>By face number: what the axes of the face follow.</summary>
    public ImmutableArray<AxisGuide> Guides { get; init; } = [];

    /// <summary>What the axes of a face follow; nothing where its history does not tell.</summary>
    public AxisGuide Guide(int face) => face < Guides.Length ? Guides[face] : AxisGuide.None;

    /// <summary>A result's faces named by where they come from.</summary>
    /// <param name="result">What the kernel made.</param>
    /// <param name="step">The step that asked for it: names what has no other name.</param>
    /// <param name="name">The name for an origin.</param>
    /// <param name="guide">What the axes of a face of that origin follow.</param>
    public static Shaped Of(SolidResult result, string step, Func<FaceOrigin, string> name, Func<FaceOrigin, AxisGuide>? guide = null)
    {
        ArgumentNullException.ThrowIfNull(result);
        return new Shaped(result.Solid, [.. result.Origins.Select(o => o.IsEmpty ? $"{step}/face" : name(o.MinBy(x => x.Kind)))])
        {
            Guides = guide is null ? [] : [.. result.Origins.Select(o => o.IsEmpty ? AxisGuide.None : guide(o.MinBy(x => x.Kind)))],
        };
    }

    /// <summary>The same where only faces of the inputs and new ones are left.</summary>
    public static Shaped Of(
        SolidResult result,
        string step,
        IReadOnlyList<Shaped> inputs,
        Func<FaceOrigin, string>? made = null,
        Func<FaceOrigin, AxisGuide>? guide = null
    ) =>
        Of(
            result,
            step,
            o => o.Kind == OriginKind.Face ? inputs[o.Input].Bases[o.Index] : made?.Invoke(o) ?? $"{step}/face",
            o => o.Kind == OriginKind.Face ? inputs[o.Input].Guide(o.Index) : guide?.Invoke(o) ?? AxisGuide.None
        );
}
