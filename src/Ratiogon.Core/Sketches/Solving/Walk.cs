using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>
/// Leads a sketch to its rules in strides where one stride does not get there: every residual is brought down from what it
/// is as drawn, all in step (Allgower and Georg, "Introduction to Numerical Continuation Methods", 2003, chapter 2). Sizes
/// change, directions turn and points that are to meet come together on the way. A stride that turns a corner over or is
/// not met is halved; after one that is, the next is longer.
/// </summary>
internal static class Walk
{
    private const int MostStrides = 60;
    private const double FirstStride = 0.25;
    private const double ShortestStride = 1.0 / 1024;
    private const double Longer = 1.6;
    private const int MostSteps = 12;

    /// <summary>How near, as a share of the size, each step of a walk has to come to where it goes; the last one is solved fully.</summary>
    private const double Near = 1e-6;

    /// <summary>The sketch near its rules, every corner turned as drawn; null when no way was found within the bound.</summary>
    /// <param name="sketch">As drawn.</param>
    /// <param name="values">Driving values, in mm and rad.</param>
    /// <param name="rigid">Whether lengths and radii stay exactly as they are all the way.</param>
    /// <param name="steps">Counted up.</param>
    public static Sketch? Lead(Sketch sketch, IReadOnlyDictionary<string, double> values, bool rigid, ref int steps)
    {
        var course = new Course(sketch, values, rigid);
        var (here, stride, now) = (0.0, FirstStride, sketch);
        for (var n = 0; n < MostStrides && here < 1 && course.Open; n++)
        {
            var there = Math.Min(1, here + stride);
            if (
                course.Next((there - here) / (1 - here), ref steps) is { } then
                && SketchCheck.Collapsed(then) is null
                && !Turns.Changed(now, then)
            )
            {
                (here, now, stride) = (there, then, stride * Longer);
                course.Take(then);
            }
            else if ((stride /= 2) < ShortestStride)
            {
                return null;
            }
        }

        return here >= 1 ? now : null;
    }

    /// <summary>The rules as equations, and how far each is still from holding.</summary>
    private sealed class Course
    {
        private readonly IReadOnlyDictionary<string, double> values;
        private readonly bool free;
        private readonly bool rigid;
        private Sketch sketch;
        private SystemWriter writer = null!;
        private EquationSystem system = null!;
        private MinimumNorm least = null!;
        private int[] equations = null!;
        private int kept;
        private double[] x = null!;
        private double[] next = null!;

        public Course(Sketch sketch, IReadOnlyDictionary<string, double> values, bool rigid)
        {
            (this.sketch, this.values, this.rigid) = (sketch, values, rigid);
            free = sketch.Entities.Any(e => e is SplineEntity or EllipticEntity);
            Write();
        }

        /// <summary>Whether there is anything to bring down, and it can be measured.</summary>
        public bool Open => equations.Length > 0 && Array.TrueForAll(equations, e => double.IsFinite(system.Residual(e, x)));

        /// <summary>The sketch with every residual brought down by a share of what it is now; null where that was not met.</summary>
        public Sketch? Next(double share, ref int steps)
        {
            least.Goals = [.. equations.Select(e => system.Residual(e, x) * (1 - share)), .. new double[kept]];
            next = (double[])x.Clone();
            return least.Solve(next, system.Weights, ref steps, MostSteps, Math.Max(system.Tolerance, Near * system.Size))
                ? SketchCompiler.WithPositions(sketch, writer, system.ToRaw(next))
                : null;
        }

        /// <summary>Goes on from there. Places on splines and ellipses are looked for anew, in the span where they are now.</summary>
        public void Take(Sketch then)
        {
            x = next;
            if (free)
            {
                sketch = then;
                Write();
            }
        }

        private void Write()
        {
            writer = SketchCompiler.Write(sketch, values, reducing: false);
            system = SystemReduction.Of(writer);
            x = (double[])system.Start.Clone();
            var components = Components.Of(system).Where(c => !system.Meets(c.Equations, x)).ToList();
            equations = [.. components.SelectMany(c => c.Equations)];
            var moving = components.SelectMany(c => c.Unknowns).ToHashSet();
            var soft = Enumerable
                .Range(0, system.FirstCarrying)
                .Where(s => system.SoftColumns[s].Length > 0 && system.SoftColumns[s].All(moving.Contains))
                .ToArray();
            kept = rigid ? soft.Length : 0;
            least = rigid
                ? new MinimumNorm(system, [.. equations, .. soft.Select(s => ~s)], [.. moving.Order().Where(system.IsCoordinate)], x)
                : new MinimumNorm(system, equations, [.. moving.Order()], x, soft);
        }
    }
}
