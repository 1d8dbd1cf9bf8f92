using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>
/// One drag from press to release. The system is compiled once; each frame pulls what was grabbed to the pointer and
/// projects the rest back onto the constraints with least movement. Only the component that was touched is solved.
/// </summary>
public sealed class DragSession
{
    private const double Pull = 1e6;
    private readonly Sketch sketch;
    private readonly SketchEntity grabbed;
    private readonly Vec2 grabbedAt;
    private readonly SystemWriter writer;
    private readonly EquationSystem system;
    private readonly MinimumNorm? solver;
    private readonly int[] equations;
    private readonly double[] weights;
    private readonly (int Unknown, double Weight)[] pulled;
    private readonly (int Raw, double Start)[] grabbedRaw;
    private readonly int radius = -1;
    private double[] x;

    /// <param name="sketch">A solved sketch.</param>
    /// <param name="values">Its driving values.</param>
    /// <param name="entity">What is grabbed: a point, a line (moved as it is), a circle or arc (by its rim, so that it grows).</param>
    /// <param name="at">Where, on the sketch plane.</param>
    public DragSession(Sketch sketch, IReadOnlyDictionary<string, double> values, string entity, Vec2 at)
    {
        this.sketch = sketch ?? throw new ArgumentNullException(nameof(sketch));
        grabbed = sketch.Find(entity) ?? throw new ArgumentException($"'{entity}' is not in the sketch", nameof(entity));
        grabbedAt = at;
        writer = SketchCompiler.Write(sketch, values, reducing: true);
        if (grabbed is CircleEntity or ArcEntity)
        {
            radius = writer.RadiusOf(grabbed);
        }

        var raws = grabbed switch
        {
            PointEntity => [writer.PointIndex(entity), writer.PointIndex(entity) + 1],
            LineEntity => writer.EndsOf(grabbed),
            CircleEntity or ArcEntity => [radius],

            // Other curves are moved as they are.
            _ => grabbed.Points.SelectMany(p => new[] { writer.PointIndex(p), writer.PointIndex(p) + 1 }).ToArray(),
        };
        grabbedRaw = [.. raws.Select(r => (r, writer.Start[r]))];

        // The centre of a circle dragged by its rim should rather stay than run after the pointer.
        var rawWeights = writer.Weights.ToArray();
        if (radius >= 0)
        {
            var (cx, cy) = writer.PointOf(grabbed);
            rawWeights[cx] = rawWeights[cy] = Pull;
        }

        system = EquationSystem.From(writer, null, rawWeights);
        weights = (double[])system.Weights.Clone();
        var pull = new Dictionary<int, double>();
        foreach (var (raw, _) in grabbedRaw)
        {
            if (system.UnknownOf(raw) is var u and >= 0)
            {
                pull[u] = pull.GetValueOrDefault(u) + Pull;
                weights[u] += Pull;
            }
        }

        pulled = [.. pull.Select(p => (p.Key, p.Value))];
        x = (double[])system.Start.Clone();
        var component = Components.Of(system).Where(c => c.Unknowns.Exists(pull.ContainsKey)).ToList();
        equations = [.. component.SelectMany(c => c.Equations)];
        solver = equations.Length > 0 ? new MinimumNorm(system, equations, [.. component.SelectMany(c => c.Unknowns)], x) : null;
        Refusal = pulled.Length == 0 ? new Refusal("drag.set", $"{Capital(grabbed.Word)} {entity} is set: constraints and dimensions leave it nowhere to go.", entity) : null;
    }

    /// <summary>Why nothing moves, or null.</summary>
    public Refusal? Refusal { get; private set; }

    /// <summary>Moves what was grabbed towards the pointer; where that is impossible everything stays where it was.
    /// True when something moved.</summary>
    public bool MoveTo(Vec2 pointer)
    {
        if (pulled.Length == 0 || !pointer.IsFinite || pointer.Length > Tolerances.LargestSize)
        {
            return false;
        }

        var next = (double[])x.Clone();
        var goal = new Dictionary<int, double>();
        foreach (var (raw, start) in grabbedRaw)
        {
            if (system.UnknownOf(raw) is var u and >= 0)
            {
                // Where one unknown stands for several grabbed ones, their goals are averaged.
                goal[u] = goal.GetValueOrDefault(u) + (Pull * (GoalOf(raw, start, pointer) - OffsetOf(raw)));
            }
        }

        foreach (var (unknown, weight) in pulled)
        {
            next[unknown] = goal[unknown] / weight;
        }

        var steps = 0;
        if (solver is not null && !solver.Solve(next, weights, ref steps))
        {
            return false;
        }

        foreach (var e in equations)
        {
            if (!system.OnSameSide(e, next))
            {
                return false;
            }
        }

        if (Collapsed(next))
        {
            return false;
        }

        x = next;
        return true;
    }

    /// <summary>The sketch at the present positions.</summary>
    public Sketch Current() => SketchCompiler.WithPositions(sketch, writer, system.ToRaw(x));

    private double GoalOf(int raw, double start, Vec2 pointer)
    {
        if (raw == radius)
        {
            var (cx, cy) = writer.PointOf(grabbed);
            return Math.Max(Tolerances.SmallestSize, pointer.DistanceTo(new Vec2(ValueOf(cx), ValueOf(cy))));
        }

        // x and y of a point are neighbours, and the first of each pair is even among what was grabbed.
        var isX = Array.FindIndex(grabbedRaw, g => g.Raw == raw) % 2 == 0;
        return grabbed is PointEntity ? (isX ? pointer.X : pointer.Y) : start + (isX ? pointer.X - grabbedAt.X : pointer.Y - grabbedAt.Y);
    }

    private double ValueOf(int raw) => system.UnknownOf(raw) is var u and >= 0 ? x[u] + OffsetOf(raw) : OffsetOf(raw);

    private double OffsetOf(int raw) => system.OffsetOf(raw);

    private bool Collapsed(double[] next)
    {
        foreach (var entity in sketch.Entities)
        {
            if (entity is LineEntity line)
            {
                var e = writer.EndsOf(line);
                double At(int raw) => system.UnknownOf(raw) is var u and >= 0 ? next[u] + OffsetOf(raw) : OffsetOf(raw);
                if (new Vec2(At(e[2]) - At(e[0]), At(e[3]) - At(e[1])).Length < Tolerances.SmallestSize)
                {
                    return true;
                }
            }
            else if (entity is CircleEntity or ArcEntity && system.UnknownOf(writer.RadiusOf(entity)) is var u and >= 0 && next[u] + OffsetOf(writer.RadiusOf(entity)) < Tolerances.SmallestSize)
            {
                return true;
            }
        }

        return false;
    }

    private static string Capital(string word) => char.ToUpperInvariant(word[0]) + word[1..];
}
