using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>
/// One drag from press to release. The system is compiled once; each frame pulls what was grabbed to the pointer, in strides
/// short beside what it belongs to, and projects the rest back onto the constraints with least movement. What is set takes
/// no part. A stride that would turn a corner over, or carry something much farther than the hand, is not taken.
/// </summary>
public sealed class DragSession
{
    private const double Pull = 1e6;
    private const int MostStrides = 32;
    private const int MostHalvings = 3;
    private const double Stride = 0.25;
    private const double Leap = 12;
    private readonly IReadOnlyDictionary<string, double> values;
    private readonly string entity;
    private readonly Vec2 grabbedAt;
    private readonly IReadOnlyDictionary<string, int> freedoms;
    private readonly bool free;
    private readonly double scale;
    private readonly Dictionary<int, double> startOf = [];
    private Sketch sketch;
    private SketchEntity grabbed = null!;
    private SystemWriter writer = null!;
    private EquationSystem system = null!;
    private MinimumNorm? solver;
    private int[] equations = [];
    private int[] moving = [];
    private double[] weights = [];
    private (int Unknown, double Weight)[] pulled = [];
    private int[] grabbedRaw = [];
    private Corner[] corners = [];
    private Nest[] nested = [];
    private int radius = -1;
    private double[] x = [];
    private Vec2 hand;

    /// <param name="sketch">A solved sketch.</param>
    /// <param name="values">Its driving values.</param>
    /// <param name="entity">What is grabbed: a point, a line (moved as it is), a circle or arc (by its rim: it grows, or moves as a
    /// whole where its size is set).</param>
    /// <param name="at">Where, on the sketch plane.</param>
    /// <param name="known">The sketch's freedoms, where they are known already.</param>
    public DragSession(Sketch sketch, IReadOnlyDictionary<string, double> values, string entity, Vec2 at, Freedoms? known = null)
    {
        this.sketch = sketch ?? throw new ArgumentNullException(nameof(sketch));
        (this.values, this.entity, grabbedAt, hand) = (values, entity, at, at);
        // A size without a value holds nothing.
        var held = sketch.Dimensions.RemoveAll(d => d.Driving && !values.ContainsKey(d.Id));
        freedoms = (
            held.Length == sketch.Dimensions.Length ? known ?? Freedoms.Of(sketch) : Freedoms.Of(sketch with { Dimensions = held })
        ).OfEntity;
        free = sketch.Entities.Any(e => e is SplineEntity or EllipticEntity);
        scale = Scales.Of(sketch)[entity];
        Compile(first: true);
        Refusal =
            pulled.Length == 0
                ? new Refusal(
                    "drag.set",
                    $"{Capital(grabbed.Word)} {entity} is set: constraints and dimensions leave it nowhere to go.",
                    entity
                )
                : null;
    }

    /// <summary>Why nothing moves, or null.</summary>
    public Refusal? Refusal { get; private set; }

    /// <summary>Moves what was grabbed towards the pointer, as far as its constraints let it. True when something moved.</summary>
    public bool MoveTo(Vec2 pointer)
    {
        if (pulled.Length == 0 || !pointer.IsFinite || pointer.Length > Tolerances.LargestSize)
        {
            return false;
        }

        var way = pointer - hand;
        var strides = Math.Clamp((int)Math.Ceiling(way.Length / (Stride * scale)), 1, MostStrides);
        var (done, share, halvings, moved) = (0.0, 1.0 / strides, 0, false);
        while (done < 1 - Tolerances.Rounding)
        {
            var next = Math.Min(1, done + share);
            if (Strode(hand + (way * next), way.Length * (next - done)))
            {
                (done, moved) = (next, true);
            }
            else if (++halvings > MostHalvings)
            {
                break;
            }
            else
            {
                share /= 2;
            }
        }

        // The hand stays where the geometry was left, so that going back takes it along again.
        hand += way * done;
        return moved;
    }

    /// <summary>The sketch at the present positions.</summary>
    public Sketch Current() => SketchCompiler.WithPositions(sketch, writer, system.ToRaw(x));

    private bool Strode(Vec2 pointer, double length)
    {
        var next = (double[])x.Clone();
        var goal = new Dictionary<int, double>();
        foreach (var raw in grabbedRaw)
        {
            if (system.UnknownOf(raw) is var u and >= 0)
            {
                // Where one unknown stands for several grabbed ones, their goals are averaged.
                goal[u] = goal.GetValueOrDefault(u) + (Pull * (GoalOf(raw, pointer) - system.OffsetOf(raw)));
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

        var farthest = 0.0;
        foreach (var u in moving)
        {
            farthest = system.IsCoordinate(u) ? Math.Max(farthest, Math.Abs(next[u] - x[u])) : farthest;
        }

        if (
            farthest > Leap * Math.Max(length, Stride * scale)
            || Collapsed(next)
            || Array.Exists(corners, c => c.TurnsOver(system, x, next))
            || Array.Exists(nested, n => n.TurnsOver(system, x, next))
        )
        {
            return false;
        }

        var before = x;
        x = next;
        if (free && !Settled())
        {
            x = before;
            return false;
        }

        return true;
    }

    /// <summary>Places on splines and ellipses are looked for anew, in the span where they have come to; where the curve there is
    /// another than the one it was led along, all is met once more.</summary>
    private bool Settled()
    {
        var (was, place) = (sketch, x);
        var (lastWriter, lastSystem) = (writer, system);
        sketch = Current();
        Compile(first: false);
        var steps = 0;
        if (!(system.LargestResidual(x) <= system.Tolerance) && solver?.Solve(x, weights, ref steps) == false)
        {
            (sketch, writer, system) = (was, lastWriter, lastSystem);
            Compile(first: false);
            x = place.Length == x.Length ? place : x;
            return false;
        }

        return true;
    }

    private void Compile(bool first)
    {
        grabbed = sketch.Find(entity) ?? throw new InvalidOperationException($"'{entity}' is not in the sketch");
        writer = SketchCompiler.Write(sketch, values, reducing: true);
        var centre = grabbed is CircleEntity or ArcEntity ? writer.PointOf(grabbed) : (-1, -1);
        radius = grabbed is CircleEntity or ArcEntity && Grows() ? writer.RadiusOf(grabbed) : -1;
        grabbedRaw = grabbed switch
        {
            PointEntity => [writer.PointIndex(entity), writer.PointIndex(entity) + 1],
            LineEntity => writer.EndsOf(grabbed),
            CircleEntity or ArcEntity when radius >= 0 => [radius],
            CircleEntity => [centre.Item1, centre.Item2],

            // Other curves, and arcs whose size is set, are moved as they are.
            _ => [.. grabbed.Points.SelectMany(p => new[] { writer.PointIndex(p), writer.PointIndex(p) + 1 })],
        };
        if (first)
        {
            foreach (var raw in grabbedRaw)
            {
                startOf[raw] = writer.Start[raw];
            }
        }

        // The centre of a circle dragged by its rim should rather stay than run after the pointer; nothing is stiff under the hand.
        var rawWeights = writer.Weights.Select(w => Math.Min(w, 1)).ToArray();
        if (radius >= 0)
        {
            rawWeights[centre.Item1] = rawWeights[centre.Item2] = Pull;
        }

        system = SystemReduction.Of(writer, null, rawWeights);
        weights = (double[])system.Weights.Clone();
        var set = SetUnknowns();
        var pull = new Dictionary<int, double>();
        foreach (var raw in grabbedRaw)
        {
            if (system.UnknownOf(raw) is var u and >= 0 && !set[u])
            {
                pull[u] = pull.GetValueOrDefault(u) + Pull;
                weights[u] += Pull;
            }
        }

        pulled = [.. pull.Select(p => (p.Key, p.Value))];
        x = (double[])system.Start.Clone();
        var touched = Components.Of(system).Where(c => c.Unknowns.Exists(pull.ContainsKey)).ToList();
        equations = [.. touched.SelectMany(c => c.Equations)];
        moving = [.. touched.SelectMany(c => c.Unknowns).Where(u => !set[u])];
        equations = Array.FindAll(equations, e => Array.Exists(system.Columns[e], c => !set[c]));
        solver = equations.Length > 0 ? new MinimumNorm(system, equations, moving, x) : null;
        nested =
        [
            .. Turns.Nested(sketch).Select(n => new Nest(writer.RadiusOf(sketch.Find(n.Outer)!), writer.RadiusOf(sketch.Find(n.Inner)!))),
        ];
        corners =
        [
            .. SketchIndex
                .CornersOf(sketch.Entities)
                .Select(c => new Corner(writer.PointIndex(c.A), writer.PointIndex(c.Corner), writer.PointIndex(c.B))),
        ];
    }

    /// <summary>Unknowns of points and radii that cannot move.</summary>
    private bool[] SetUnknowns()
    {
        var set = new bool[system.UnknownCount];
        foreach (var e in sketch.Entities)
        {
            if (freedoms.GetValueOrDefault(e.Id, 1) == 0)
            {
                foreach (var raw in writer.OwnOf(e))
                {
                    if (system.UnknownOf(raw) is var u and >= 0)
                    {
                        set[u] = true;
                    }
                }
            }
        }

        return set;
    }

    /// <summary>Whether a circle or arc can change its size: it has more freedoms than its points alone.</summary>
    private bool Grows()
    {
        var raw = writer.RadiusOf(grabbed);
        var (root, _) = writer.Union.Find(raw);
        return writer.Union.FixedValue(root) is null
            && freedoms.GetValueOrDefault(entity, 1) > 0
            && !(
                grabbed is CircleEntity
                && freedoms.GetValueOrDefault(Curves.Centre(grabbed)!) == freedoms.GetValueOrDefault(entity)
                && freedoms.GetValueOrDefault(entity) == 2
            );
    }

    private double GoalOf(int raw, Vec2 pointer)
    {
        if (raw == radius)
        {
            var (cx, cy) = writer.PointOf(grabbed);
            return Math.Max(Tolerances.SmallestSize, pointer.DistanceTo(new Vec2(system.ValueAt(x, cx), system.ValueAt(x, cy))));
        }

        var isX = writer.Partner[raw] > raw;
        return grabbed is PointEntity
            ? (isX ? pointer.X : pointer.Y)
            : startOf[raw] + (isX ? pointer.X - grabbedAt.X : pointer.Y - grabbedAt.Y);
    }

    private bool Collapsed(double[] next)
    {
        foreach (var e in sketch.Entities)
        {
            if (e is LineEntity line)
            {
                var ends = writer.EndsOf(line);
                double At(int raw) => system.ValueAt(next, raw);
                if (new Vec2(At(ends[2]) - At(ends[0]), At(ends[3]) - At(ends[1])).Length < Tolerances.SmallestSize)
                {
                    return true;
                }
            }
            else if (e is CircleEntity or ArcEntity && system.ValueAt(next, writer.RadiusOf(e)) < Tolerances.SmallestSize)
            {
                return true;
            }
        }

        return false;
    }

    private static string Capital(string word) => char.ToUpperInvariant(word[0]) + word[1..];

    /// <summary>Where two lines meet, by the raw unknowns of three points.</summary>
    private readonly record struct Nest(int Outer, int Inner)
    {
        /// <summary>Whether what lay within the other lies about it.</summary>
        public bool TurnsOver(EquationSystem system, double[] before, double[] after) =>
            Math.Sign(Between(system, before)) != Math.Sign(Between(system, after));

        private double Between(EquationSystem system, double[] x) => system.ValueAt(x, Outer) - system.ValueAt(x, Inner);
    }

    private readonly record struct Corner(int A, int At, int B)
    {
        /// <summary>Whether it turns the other way without having been flat between.</summary>
        public bool TurnsOver(EquationSystem system, double[] before, double[] after) =>
            Turns.TurnedOver(Turn(system, before), Turn(system, after));

        private double Turn(EquationSystem system, double[] x)
        {
            Vec2 P(int raw) => new(system.ValueAt(x, raw), system.ValueAt(x, raw + 1));
            return Turns.Turn(P(A), P(At), P(B));
        }
    }
}
