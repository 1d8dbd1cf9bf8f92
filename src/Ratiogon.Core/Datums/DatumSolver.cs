namespace Ratiogon.Core.Datums;

/// <summary>Everything that conditions determine.</summary>
public static class DatumSolver
{
    /// <summary>Freedoms of a datum without conditions.</summary>
    public static int Freedoms(DatumKind kind) =>
        kind switch
        {
            DatumKind.Axis => 4,
            DatumKind.Frame => 6,
            _ => 3,
        };

    /// <summary>All solutions, or what is left free, or why there is none.</summary>
    /// <param name="kind">What is looked for.</param>
    /// <param name="conditions">Each of a relation of that kind.</param>
    public static Determination Solve(DatumKind kind, IReadOnlyList<Condition> conditions)
    {
        ArgumentNullException.ThrowIfNull(conditions);
        return conditions.Count == 0
            ? new Determination(Freedoms(kind), ["pick what it stands on"], [])
            : kind switch
            {
                DatumKind.Plane or DatumKind.Axis when Reasons.SamePlace(conditions) is { } same => Determination.None(same),
                DatumKind.Plane => PlaneSolver.Solve(conditions),
                DatumKind.Axis => AxisSolver.Solve(conditions),
                DatumKind.Point => PointSolver.Solve(conditions),
                _ => FrameSolver.Solve(conditions),
            };
    }

    /// <summary>The solution of a label; where that is gone, none: another side is never taken silently.</summary>
    public static Outcome<DatumSolution> Choose(Determination determined, string? label)
    {
        ArgumentNullException.ThrowIfNull(determined);
        if (determined.Refusal is { } refusal)
        {
            return refusal;
        }

        if (determined.Solutions.IsEmpty)
        {
            return new Refusal("datum.free", $"Not determined yet: {string.Join("; ", determined.Left)}.");
        }

        if (label is null)
        {
            return determined.Solutions[0];
        }

        return determined.Solutions.FirstOrDefault(s => s.Goes(label)) is { } kept
            ? kept
            : new Refusal(
                "datum.side-gone",
                $"The solution that was chosen ({label}) is gone; {determined.Solutions.Length} others are there: choose one of them."
            );
    }
}
