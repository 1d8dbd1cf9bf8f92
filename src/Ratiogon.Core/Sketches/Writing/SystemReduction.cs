using Ratiogon.Core.Numerics;

namespace Ratiogon.Core.Sketches.Writing;

/// <summary>What is left to solve of a written sketch: one unknown for each class of raw ones, and the equations over them.</summary>
internal static class SystemReduction
{
    /// <param name="writer">A finished writer.</param>
    /// <param name="goal">Raw positions to start from; by default the drawn ones.</param>
    /// <param name="rawWeights">Weights of the raw unknowns; by default 1 each.</param>
    public static EquationSystem Of(SystemWriter writer, double[]? goal = null, double[]? rawWeights = null)
    {
        var elsewhere = goal is not null;
        goal ??= writer.Start;
        rawWeights ??= [.. writer.Weights];
        var raw = writer.Start.Length;
        var unknownOf = new int[raw];
        var offsetOf = new double[raw];
        var numberOf = new int[raw];
        Array.Fill(numberOf, -1);
        var start = new List<double>();
        var weights = new List<double>();
        for (var v = 0; v < raw; v++)
        {
            var (root, offset) = writer.Union.Find(v);
            if (writer.Union.FixedValue(root) is { } value)
            {
                (unknownOf[v], offsetOf[v]) = (-1, value + offset);
                continue;
            }

            ref var n = ref numberOf[root];
            if (n < 0)
            {
                n = start.Count;
                start.Add(0);
                weights.Add(0);
            }

            var weight = rawWeights[v];
            (unknownOf[v], offsetOf[v]) = (n, offset);
            start[n] += weight * (goal[v] - offset);
            weights[n] += weight;
        }

        for (var n = 0; n < start.Count; n++)
        {
            start[n] /= weights[n];
        }

        var equations = writer.Equations.ToArray();
        var (size, reach) = Extent(writer, goal);
        var jumped = false;
        for (var v = 0; v < raw && !elsewhere && !jumped; v++)
        {
            jumped =
                writer.Partner[v] >= 0
                && Math.Abs((unknownOf[v] < 0 ? offsetOf[v] : start[unknownOf[v]] + offsetOf[v]) - goal[v]) > Tolerances.Length;
        }

        var slotted = EquationSystem.Slotted(equations, unknownOf, writer.Start, writer.Slots);
        writer.Slots = new SystemSlots(equations, unknownOf, slotted.Columns, slotted.Slots);
        return new EquationSystem(
            equations,
            slotted,
            () => Soft(writer, unknownOf, rawWeights, jumped),
            unknownOf,
            offsetOf,
            [.. writer.Partner],
            [.. start],
            [.. weights],
            size,
            Math.Max(Tolerances.Residual, Tolerances.Grain * reach)
        )
        {
            Jumped = jumped,
        };
    }

    /// <summary>The soft equations, compiled when something is to be moved.</summary>
    private static SoftEquations Soft(SystemWriter writer, int[] unknownOf, double[] rawWeights, bool jumped)
    {
        var holding = SoftRules.Holding(writer);
        var all = jumped ? [.. holding, .. SoftRules.Carrying(writer)] : holding;
        var equations = all.Select(s => s.Equation).ToArray();
        var (columns, slots) = EquationSystem.Slotted(equations, unknownOf, writer.Start);
        return new SoftEquations(
            equations,
            columns,
            slots,
            [.. all.Select(s => s.Stiffness * s.Equation.RawVariables.Average(v => rawWeights[v]))],
            holding.Count
        );
    }

    /// <summary>The extent of the coordinates, and how far the farthest lies from zero; the sketch's own axes do not count.</summary>
    private static (double Size, double Reach) Extent(SystemWriter writer, double[] goal)
    {
        Span<double> low = [double.PositiveInfinity, double.PositiveInfinity];
        Span<double> high = [double.NegativeInfinity, double.NegativeInfinity];
        var reach = 0.0;
        for (var v = 2 * Sketches.Sketch.BuiltIns.Count(e => e is Sketches.PointEntity); v < goal.Length; v++)
        {
            if (writer.Partner[v] is var other and >= 0)
            {
                var axis = other > v ? 0 : 1;
                (low[axis], high[axis]) = (Math.Min(low[axis], goal[v]), Math.Max(high[axis], goal[v]));
                reach = Math.Max(reach, Math.Abs(goal[v]));
            }
        }

        var size = Math.Max(high[0] - low[0], high[1] - low[1]);
        return (size > 0 ? size : Math.Max(reach, 1), reach);
    }
}
