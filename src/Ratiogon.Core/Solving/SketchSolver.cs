using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>
/// Solves a sketch for the values of its driving dimensions: reduction, components, Dulmage-Mendelsohn blocks, Newton
/// on each, least movement where something is free; then checks that nothing collapsed or changed sides, and walks
/// to the values in steps where a single stride does not keep the side.
/// </summary>
public static class SketchSolver
{
    private const int MostHalvings = 7;
    private const double Held = 1e6;
    private const int MostRounds = 6;
    private const double Settled = 1e-8;

    /// <param name="sketch">A sketch that passes <see cref="SketchCheck"/>; its positions are the start.</param>
    /// <param name="values">Driving values by dimension id, in millimetres and radians.</param>
    /// <param name="held">Points that should rather stay where they are drawn than run after the others.</param>
    public static SolveReport Solve(Sketch sketch, IReadOnlyDictionary<string, double> values, IReadOnlySet<string>? held = null)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(values);
        var direct = Polished(sketch, Attempt(sketch, values, held), values);
        if (direct.Solved && !Turns.Changed(sketch, direct.Sketch))
        {
            return direct;
        }

        if (direct.Unmet.Count > 0 && direct.Steps == 0)
        {
            return direct;
        }

        var walked = Walk(sketch, values);
        return walked is null ? direct : Polished(sketch, walked, values);
    }

    /// <summary>Residuals are scaled by the sizes at the start, and places on splines and ellipses are looked for in the
    /// span where they were: where something has grown or shrunk a lot, or a place may have left its span, all is met once
    /// more at the scale and in the span that it has now. A place that leaves the end of its curve is not met.</summary>
    private static SolveReport Polished(Sketch before, SolveReport report, IReadOnlyDictionary<string, double> values)
    {
        if (!report.Solved || !report.Sketch.Entities.Any(e => e is SplineEntity or EllipticEntity || Resized(before, report.Sketch, e)))
        {
            return report;
        }

        for (var round = 0; round < MostRounds; round++)
        {
            var system = EquationSystem.From(SketchCompiler.Write(report.Sketch, values, reducing: true));
            if (system.LargestResidual(system.Start) <= Settled)
            {
                return report;
            }

            var again = Attempt(report.Sketch, values);
            if (!again.Solved)
            {
                return again with { Sketch = before };
            }

            report = again with { Steps = again.Steps + report.Steps };
        }

        return report with { End = SolveEnd.SideLost, Sketch = before, Message = "The change would lead a place past the end of its curve." };
    }

    private static bool Resized(Sketch before, Sketch after, SketchEntity entity)
    {
        var (was, now) = entity switch
        {
            LineEntity l => (before.At(l.From).DistanceTo(before.At(l.To)), after.At(l.From).DistanceTo(after.At(l.To))),
            CircleEntity c => (((CircleEntity)before.Find(c.Id)!).Radius, c.Radius),
            ArcEntity a => (((ArcEntity)before.Find(a.Id)!).Radius, a.Radius),
            _ => (1, 1),
        };
        return now < was / 8 || now > was * 8;
    }

    private static SolveReport? Walk(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        var from = new Dictionary<string, double>();
        foreach (var dimension in sketch.Dimensions.Where(d => d.Driving && values.ContainsKey(d.Id)))
        {
            from[dimension.Id] = DimensionCatalog.Measure(sketch, dimension) ?? values[dimension.Id];
        }

        if (from.All(v => Math.Abs(v.Value - values[v.Key]) < Tolerances.Length))
        {
            return null;
        }

        var (here, stride, halvings, now, steps) = (0.0, 0.25, 0, sketch, 0);
        SolveReport? last = null;
        while (here < 1)
        {
            var there = Math.Min(1, here + stride);
            var report = Attempt(now, from.ToDictionary(v => v.Key, v => v.Value + ((values[v.Key] - v.Value) * there)));
            steps += report.Steps;
            if (report.Solved && (!Turns.Changed(now, report.Sketch) || halvings == MostHalvings))
            {
                (now, here, last) = (report.Sketch, there, report);
            }
            else if (++halvings > MostHalvings)
            {
                return null;
            }
            else
            {
                stride /= 2;
            }
        }

        return last is null ? null : last with { Steps = steps };
    }

    private static SolveReport Attempt(Sketch sketch, IReadOnlyDictionary<string, double> values, IReadOnlySet<string>? held = null)
    {
        var writer = SketchCompiler.Write(sketch, values, reducing: true);
        if (writer.ClashingReductions.Count > 0)
        {
            return new SolveReport(SolveEnd.Unmet, sketch, double.PositiveInfinity, 0, 0, writer.ClashingReductions, Unmet(sketch, writer.ClashingReductions));
        }

        var system = EquationSystem.From(writer, null, held is null ? null : Weights(writer, held));
        var (x, steps, blocks) = SolveEquations(system);
        return Judge(sketch, writer, system, x, steps, blocks);
    }

    /// <summary>Components one by one, from the system's start.</summary>
    internal static (double[] X, int Steps, int Blocks) SolveEquations(EquationSystem system)
    {
        var x = (double[])system.Start.Clone();
        var (steps, blocks) = (0, 0);
        foreach (var (equations, unknowns) in Components.Of(system))
        {
            SolveComponent(system, equations, unknowns, x, ref steps, ref blocks);
        }

        return (x, steps, blocks);
    }

    private static double[] Weights(SystemWriter writer, IReadOnlySet<string> held)
    {
        var weights = new double[writer.Start.Length];
        Array.Fill(weights, 1);
        foreach (var point in held)
        {
            weights[writer.PointIndex(point)] = weights[writer.PointIndex(point) + 1] = Held;
        }

        return weights;
    }

    private static void SolveComponent(EquationSystem system, List<int> equations, List<int> unknowns, double[] x, ref int steps, ref int blocks)
    {
        if (equations.TrueForAll(e => Math.Abs(system.Residual(e, x)) <= Tolerances.Residual))
        {
            return;
        }

        var before = unknowns.ConvertAll(u => x[u]);
        var structure = ComponentStructure.Of(system, equations, unknowns);
        var parts = structure.Parts;
        blocks += parts.Blocks.Count;
        var solved = parts.Over.Length == 0;
        for (var b = 0; b < parts.Blocks.Count && solved; b++)
        {
            // A change of one size re-solves only the blocks behind it.
            var (blockEquations, blockUnknowns) = parts.Blocks[b];
            solved = Met(system, equations, blockEquations, x)
                || SolveBlock(system, structure, b, Array.ConvertAll(blockEquations, e => equations[e]), Array.ConvertAll(blockUnknowns, u => unknowns[u]), x, ref steps);
        }

        if (solved && parts.Under.Length > 0)
        {
            blocks++;
            solved = new MinimumNorm(system, Array.ConvertAll(parts.Under, e => equations[e]), Array.ConvertAll(parts.UnderUnknowns, u => unknowns[u]), structure.Under).Solve(x, system.Weights, ref steps);
        }

        if (!solved)
        {
            // Equations that depend on each other upset the blocks; take the component as a whole, from where it stood.
            for (var i = 0; i < before.Count; i++)
            {
                x[unknowns[i]] = before[i];
            }

            new MinimumNorm(system, [.. equations], [.. unknowns], structure.Whole).Solve(x, system.Weights, ref steps);
        }
    }

    private static bool Met(EquationSystem system, List<int> equations, int[] block, double[] x)
    {
        foreach (var e in block)
        {
            if (!(Math.Abs(system.Residual(equations[e], x)) <= Tolerances.Residual))
            {
                return false;
            }
        }

        return true;
    }

    private static bool SolveBlock(EquationSystem system, ComponentStructure structure, int number, int[] equations, int[] unknowns, double[] x, ref int steps) =>
        equations.Length <= DenseNewton.LargestBlock
            ? DenseNewton.Solve(system, equations, unknowns, x, ref steps)
            : new MinimumNorm(system, equations, unknowns, structure.Block(number)).Solve(x, system.Weights, ref steps);

    private static SolveReport Judge(Sketch sketch, SystemWriter writer, EquationSystem system, double[] x, int steps, int blocks)
    {
        var largest = system.LargestResidual(x);
        if (!(largest <= Tolerances.Residual))
        {
            var unmet = Enumerable.Range(0, system.Equations.Length).Where(e => !(Math.Abs(system.Residual(e, x)) <= 1e-7))
                .Select(e => system.Equations[e].Owner).Distinct().ToList();
            if (unmet.Count == 0)
            {
                unmet = [.. Enumerable.Range(0, system.Equations.Length).Where(e => !(Math.Abs(system.Residual(e, x)) <= Tolerances.Residual)).Select(e => system.Equations[e].Owner).Distinct()];
            }

            return new SolveReport(SolveEnd.Unmet, sketch, largest, steps, blocks, unmet, Unmet(sketch, unmet));
        }

        var solution = SketchCompiler.WithPositions(sketch, writer, system.ToRaw(x));
        if (SketchCheck.Collapsed(solution) is { } collapsed)
        {
            return new SolveReport(SolveEnd.Collapsed, sketch, largest, steps, blocks, [], $"The change would make geometry vanish: {collapsed.Message}");
        }

        var crossed = Enumerable.Range(0, system.Equations.Length).Where(e => !system.OnSameSide(e, x)).Select(e => system.Equations[e].Owner).Distinct().ToList();
        return crossed.Count > 0
            ? new SolveReport(SolveEnd.SideLost, sketch, largest, steps, blocks, crossed, $"The change would turn geometry over at {SketchWords.List(sketch, crossed)}.")
            : new SolveReport(SolveEnd.Solved, solution, largest, steps, blocks, [], "solved");
    }

    private static string Unmet(Sketch sketch, IReadOnlyList<Owner> unmet) => $"These cannot all hold: {SketchWords.List(sketch, unmet)}.";
}
