using Ratiogon.Core.Numerics;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>How a solve ended.</summary>
public enum SolveEnd
{
    /// <summary>Every residual is at most <see cref="Tolerances.Residual"/> and everything kept its side.</summary>
    Solved,

    /// <summary>Some constraints cannot all hold.</summary>
    Unmet,

    /// <summary>A line or circle would have vanished.</summary>
    Collapsed,

    /// <summary>The only solutions found lie on the other side of something.</summary>
    SideLost,
}

/// <summary>What a solve did.</summary>
/// <param name="End">How it ended.</param>
/// <param name="Sketch">The sketch with new positions; the old ones unless it was solved.</param>
/// <param name="LargestResidual">In scaled units.</param>
/// <param name="Steps">Newton steps taken in all blocks.</param>
/// <param name="Blocks">Blocks that were solved on their own.</param>
/// <param name="Unmet">Constraints and dimensions that do not hold.</param>
/// <param name="Message">One line for people.</param>
public sealed record SolveReport(
    SolveEnd End,
    Sketch Sketch,
    double LargestResidual,
    int Steps,
    int Blocks,
    IReadOnlyList<Owner> Unmet,
    string Message
)
{
    public bool Solved => End == SolveEnd.Solved;

    /// <summary>Whether all that is wrong with what was found is that a corner turns the other way.</summary>
    internal bool Turned { get; init; }

    /// <summary>Positions that meet all rules, be it on another side; null where none were found.</summary>
    internal Sketch? Found { get; init; }
}
