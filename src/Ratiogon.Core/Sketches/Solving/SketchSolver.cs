using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>
/// Solves a sketch for the values of its driving dimensions: reduction, components, Dulmage-Mendelsohn blocks, Newton
/// on each, least movement where something is free; then checks that nothing collapsed or changed sides. Where that does
/// not get there it walks there in strides, and last it starts from other places near what is drawn.
/// </summary>
public static class SketchSolver
{
    /// <summary>An equation whose scaled residual is larger is not met, where a solution was not found.</summary>
    private const double Missed = 1e-7;

    private const int MostRounds = 6;

    /// <summary>A scaled residual below which a sketch as drawn is solved.</summary>
    private const double Settled = 1e-8;

    private const int MostUnknownsElsewhere = 400;

    /// <summary>How much a sketch may bend, as a share, for a solution to be taken without looking for a nearer one.</summary>
    private const double BentBy = 1e-6;

    private const double BentMuch = 0.3;
    private const int MostTied = 4;
    private static readonly double[] Elsewhere = [0.02, 0.1, 0.1, 0.3, 0.3, 0.6];

    /// <param name="sketch">A sketch that passes <see cref="SketchCheck"/>; its positions are the start.</param>
    /// <param name="values">Driving values by dimension id, in millimetres and radians.</param>
    /// <param name="held">Points that should rather stay where they are drawn than run after the others.</param>
    /// <param name="fresh">Rules that are new: what others hold gives way to them less than what is loose.</param>
    public static SolveReport Solve(
        Sketch sketch,
        IReadOnlyDictionary<string, double> values,
        IReadOnlySet<string>? held = null,
        IReadOnlySet<Owner>? fresh = null
    )
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(values);
        var weighing = new Weighing(held, fresh);
        var direct = Kept(sketch, Polished(sketch, Attempt(sketch, values, weighing), values), values);
        var steps = direct.Steps;

        // A tie by hand keeps sizes; an edit that brings sizes of its own changes them anyway.
        var tied = fresh is { Count: > 0 and <= MostTied } && fresh.All(f => f.Kind == OwnerKind.Constraint);
        if ((direct.Solved && (!tied || Bend(sketch, direct.Sketch) <= BentBy)) || (direct.Unmet.Count > 0 && direct.Steps == 0))
        {
            return direct;
        }

        // Places on splines and ellipses are written in the span where they have come to.
        var free = sketch.Entities.Any(e => e is SplineEntity or EllipticEntity);

        // What a new tie bends in one stride may be turned into place in several; what is not met may be reached.
        var (best, bent) = (direct, direct.Solved ? Bend(sketch, direct.Sketch) : double.PositiveInfinity);
        foreach (var rigid in tied ? new[] { true, false } : [false])
        {
            if (
                Walk.Lead(sketch, values, rigid, ref steps) is { } near
                && Kept(
                    sketch,
                    Polished(sketch, free ? Attempt(near, values, weighing) : Attempt(sketch, values, weighing, near), values),
                    values
                )
                    is { Solved: true } walked
                && Bend(sketch, walked.Sketch) is var less
                && less < bent
            )
            {
                (best, bent) = (walked with { Steps = walked.Steps + steps }, less);
                if (bent <= BentBy)
                {
                    break;
                }
            }
        }

        if (best.Solved && bent <= BentMuch)
        {
            return best;
        }

        if (best.Solved)
        {
            return FromElsewhere(sketch, values, weighing) is { } elsewhere && Bend(sketch, elsewhere.Sketch) < bent ? elsewhere : best;
        }

        // A new tie may turn a corner over where nothing else meets it; a changed size may not.
        return FromElsewhere(sketch, values, weighing)
            ?? (
                direct is { Turned: true, Found: { } turned } && fresh?.Any(f => f.Kind == OwnerKind.Constraint) == true
                    ? direct with
                    {
                        End = SolveEnd.Solved,
                        Sketch = turned,
                        Message = "solved",
                    }
                    : direct
            );
    }

    /// <summary>Whether all rules of a sketch are met as it is drawn.</summary>
    internal static bool Meets(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        var writer = SketchCompiler.Write(sketch, values, reducing: true);
        var system = SystemReduction.Of(writer);
        return writer.ClashingReductions.Count == 0
            && !system.Jumped
            && system.LargestResidual(system.Start) <= Math.Max(Settled, system.Tolerance);
    }

    /// <summary>The most that any line or radius has changed its size, as a share of it.</summary>
    private static double Bend(Sketch before, Sketch after) =>
        before
            .Entities.Select(e =>
                e switch
                {
                    LineEntity l => Share(before.At(l.From).DistanceTo(before.At(l.To)), after.At(l.From).DistanceTo(after.At(l.To))),
                    CircleEntity c => Share(c.Radius, ((CircleEntity)after.Find(c.Id)!).Radius),
                    ArcEntity a => Share(a.Radius, ((ArcEntity)after.Find(a.Id)!).Radius),
                    _ => 0,
                }
            )
            .DefaultIfEmpty(0)
            .Max();

    private static double Share(double was, double now) => Math.Abs(now - was) / was;

    /// <summary>Positions that meet all rules, near or far, on whatever side: from the drawn place, from others near it and from
    /// anywhere. Null when no start leads to one, which is what decides that rules cannot hold together.</summary>
    /// <param name="sketch">The sketch.</param>
    /// <param name="values">Its driving values.</param>
    /// <param name="starts">How many starts beside the drawn place.</param>
    internal static Sketch? AnySolution(Sketch sketch, IReadOnlyDictionary<string, double> values, int starts)
    {
        var weighing = new Weighing(null, null);
        if (Attempt(sketch, values, weighing).Found is { } near)
        {
            return near;
        }

        var scales = Scales.Of(sketch);
        for (var seed = 0; seed < starts; seed++)
        {
            var start = seed % 2 == 0 ? scales.Stirred(sketch, seed, 0.05 * Math.Pow(1.6, seed / 2 % 10)) : scales.Thrown(sketch, seed);
            if (Attempt(start, values, weighing).Found is { } found)
            {
                return found;
            }
        }

        return null;
    }

    /// <summary>A solution from another start near what is drawn, everything on its side; of those found, the one that changes sizes
    /// least.</summary>
    private static SolveReport? FromElsewhere(Sketch sketch, IReadOnlyDictionary<string, double> values, Weighing weighing)
    {
        if (2 * sketch.Entities.Count(e => e is PointEntity) > MostUnknownsElsewhere)
        {
            return null;
        }

        var scales = Scales.Of(sketch);
        SolveReport? best = null;
        for (var i = 0; i < Elsewhere.Length; i++)
        {
            if (
                Kept(sketch, Polished(sketch, Attempt(sketch, values, weighing, scales.Stirred(sketch, i, Elsewhere[i])), values), values)
                    is { Solved: true } found
                && (best is null || Bend(sketch, found.Sketch) < Bend(sketch, best.Sketch))
            )
            {
                best = found;
            }
        }

        return best;
    }

    /// <summary>A solution that turns corners over, or lays one thing on another, is none.</summary>
    private static SolveReport Kept(Sketch drawn, SolveReport report, IReadOnlyDictionary<string, double> values)
    {
        if (!report.Solved)
        {
            return report;
        }

        if (Turns.Changed(drawn, report.Sketch))
        {
            return report with { End = SolveEnd.SideLost, Sketch = drawn, Message = "The change would turn a corner over.", Turned = true };
        }

        if (FoldsAnOffset(report.Sketch, values))
        {
            return report with { End = SolveEnd.SideLost, Sketch = drawn, Message = "The change would fold an offset back on itself." };
        }

        return Overlaps.New(drawn, report.Sketch) is { } laid
            ? report with
            {
                End = SolveEnd.SideLost,
                Sketch = drawn,
                Message = $"The change would lay {laid}.",
            }
            : report;
    }

    /// <summary>An offset is written for the side on which it is drawn, and joints that follow from the rest are left out of it. Where
    /// a curve
    /// of the chain turned round on the way, neither is true any more: what is found must be met as it would be written there.</summary>
    private static bool FoldsAnOffset(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        if (!sketch.Dimensions.Any(d => d.Kind == OffsetSize.KindName))
        {
            return false;
        }

        var system = SystemReduction.Of(SketchCompiler.Write(sketch, values, reducing: false));
        var exact = Math.Max(10 * Settled, system.Tolerance);
        return !(system.LargestResidual(system.Start) <= exact)
            || sketch
                .Entities.OfType<ArcEntity>()
                .Any(a =>
                    new[] { a.From, a.To }.Any(end => !(Math.Abs(sketch.At(end).DistanceTo(sketch.At(a.Centre)) - a.Radius) <= exact))
                );
    }

    /// <summary>How much what resists.</summary>
    private sealed record Weighing(IReadOnlySet<string>? Held, IReadOnlySet<Owner>? Fresh)
    {
        public double[]? Of(SystemWriter writer) =>
            Held is null && Fresh is null ? null : Boundness.Weights(writer, Fresh ?? new HashSet<Owner>(), Held);
    }

    /// <summary>Residuals are scaled by the sizes at the start, and places on splines and ellipses are looked for in the
    /// span where they were: where something has grown or shrunk a lot, or a place may have left its span, all is met once
    /// more at the scale and in the span that it has now. A place that leaves the end of its curve is not met.</summary>
    private static SolveReport Polished(Sketch before, SolveReport report, IReadOnlyDictionary<string, double> values)
    {
        if (
            !report.Solved
            || !Enumerable
                .Range(0, before.Entities.Length)
                .Any(i => before.Entities[i] is SplineEntity or EllipticEntity || Resized(before, report.Sketch, i))
        )
        {
            return report;
        }

        for (var round = 0; round < MostRounds; round++)
        {
            var system = SystemReduction.Of(SketchCompiler.Write(report.Sketch, values, reducing: true));
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

        return report with
        {
            End = SolveEnd.SideLost,
            Sketch = before,
            Message = "The change would lead a place past the end of its curve.",
        };
    }

    private static bool Resized(Sketch before, Sketch after, int place)
    {
        var (was, now) = (before.Entities[place], after.Entities[place]) switch
        {
            (LineEntity, LineEntity) when before.Index.Ends[place] is var (from, to) => (
                before.At(from).DistanceTo(before.At(to)),
                after.At(from).DistanceTo(after.At(to))
            ),
            (CircleEntity c, CircleEntity d) => (c.Radius, d.Radius),
            (ArcEntity a, ArcEntity b) => (a.Radius, b.Radius),
            _ => (1, 1),
        };
        return now < was / 8 || now > was * 8;
    }

    /// <param name="sketch">As drawn: what the rules are written for.</param>
    /// <param name="values">Driving values.</param>
    /// <param name="weighing">How much what resists.</param>
    /// <param name="from">Other positions to start from.</param>
    private static SolveReport Attempt(
        Sketch sketch,
        IReadOnlyDictionary<string, double> values,
        Weighing? weighing = null,
        Sketch? from = null
    )
    {
        var writer = SketchCompiler.WriteKept(sketch, values);
        if (writer.ClashingReductions.Count > 0)
        {
            return new SolveReport(
                SolveEnd.Unmet,
                sketch,
                double.PositiveInfinity,
                0,
                0,
                writer.ClashingReductions,
                Unmet(sketch, writer.ClashingReductions)
            );
        }

        var system = SystemReduction.Of(writer, from is null ? null : SketchCompiler.Positions(writer, from), weighing?.Of(writer));
        return Judge(sketch, writer, system, SystemSolver.Solve(system));
    }

    private static SolveReport Judge(Sketch sketch, SystemWriter writer, EquationSystem system, SystemSolution found)
    {
        var (x, steps, blocks) = found;
        var largest = system.LargestResidual(x);
        if (!(largest <= system.Tolerance))
        {
            var unmet = Enumerable
                .Range(0, system.Equations.Length)
                .Where(e => !(Math.Abs(system.Residual(e, x)) <= Missed))
                .Select(e => system.Equations[e].Owner)
                .Distinct()
                .ToList();
            if (unmet.Count == 0)
            {
                unmet =
                [
                    .. Enumerable
                        .Range(0, system.Equations.Length)
                        .Where(e => !(Math.Abs(system.Residual(e, x)) <= system.Tolerance))
                        .Select(e => system.Equations[e].Owner)
                        .Distinct(),
                ];
            }

            return new SolveReport(SolveEnd.Unmet, sketch, largest, steps, blocks, unmet, Unmet(sketch, unmet));
        }

        var solution = SketchCompiler.WithPositions(sketch, writer, system.ToRaw(x));
        if (SketchCheck.Collapsed(solution) is { } collapsed)
        {
            return new SolveReport(
                SolveEnd.Collapsed,
                sketch,
                largest,
                steps,
                blocks,
                [],
                $"The change would make geometry vanish: {collapsed.Message}"
            );
        }

        var crossed = system.Crossed(x);
        return crossed.Count > 0
            ? new SolveReport(
                SolveEnd.SideLost,
                sketch,
                largest,
                steps,
                blocks,
                crossed,
                $"The change would turn geometry over at {SketchWords.List(sketch, crossed)}."
            )
            {
                Found = solution,
            }
            : new SolveReport(SolveEnd.Solved, solution, largest, steps, blocks, [], "solved") { Found = solution };
    }

    private static string Unmet(Sketch sketch, IReadOnlyList<Owner> unmet) =>
        $"No way was found from here to meet: {SketchWords.List(sketch, unmet)}.";
}
