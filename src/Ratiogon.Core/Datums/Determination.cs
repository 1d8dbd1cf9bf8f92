using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Datums;

/// <summary>One datum that meets its conditions.</summary>
/// <param name="Label">Tells it apart from the others by geometry (the side it touches on, the way it crosses), so that it
/// stays the same one when sizes change. A number in it counts those that geometry does not tell apart.</param>
/// <param name="Frame">Of a plane: z its normal. Of an axis: x its direction. Of a point: its place.</param>
public sealed record DatumSolution(string Label, Frame Frame)
{
    /// <summary>Labels of solutions that coincide with this one as things stand, as at an angle of just 90 degrees.</summary>
    public ImmutableArray<string> Also { get; init; } = [];

    public bool Goes(string label) => Label == label || Also.Contains(label);
}

/// <summary>What conditions determine.</summary>
/// <param name="Free">Freedoms left: a plane begins with 3, an axis with 4, a point with 3, a frame with 6.</param>
/// <param name="Left">The freedoms left, in words.</param>
/// <param name="Solutions">Every datum that meets the conditions, when none is free; otherwise one that does, to be shown.</param>
/// <param name="Refusal">Why there is none.</param>
public sealed record Determination(int Free, ImmutableArray<string> Left, ImmutableArray<DatumSolution> Solutions, Refusal? Refusal = null)
{
    /// <summary>Whether a condition says what the others say already.</summary>
    public bool Redundant { get; init; }

    public bool Determined => Free == 0 && !Solutions.IsEmpty;

    public static Determination None(Refusal refusal) => new(0, [], [], refusal);
}
