using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Solving.Equations;

namespace Ratiogon.Core.Solving;

/// <summary>
/// What constraints and dimensions are written to. In reducing mode, rules that only identify or fix unknowns are
/// kept in the union-find and never become equations; in full mode everything is an equation over the raw unknowns,
/// which is what the diagnosis of dependent constraints reads.
/// </summary>
public sealed class SystemWriter
{
    private readonly Sketch sketch;
    private readonly Dictionary<string, int> first = new(StringComparer.Ordinal);
    private readonly bool reducing;
    private Owner owner;

    internal SystemWriter(Sketch sketch, bool reducing)
    {
        this.sketch = sketch;
        this.reducing = reducing;
        var start = new List<double>();
        foreach (var entity in Sketch.BuiltIns.Concat(sketch.Entities))
        {
            first[entity.Id] = start.Count;
            switch (entity)
            {
                case PointEntity p:
                    start.Add(p.At.X);
                    start.Add(p.At.Y);
                    break;
                case CircleEntity c:
                    start.Add(c.Radius);
                    break;
                case ArcEntity a:
                    start.Add(a.Radius);
                    break;
            }
        }

        Start = [.. start];
        Union = new AffineUnion(Start.Length);
        foreach (var point in Sketch.BuiltIns.OfType<PointEntity>())
        {
            Union.Fix(first[point.Id], point.At.X);
            Union.Fix(first[point.Id] + 1, point.At.Y);
        }
    }

    internal double[] Start { get; }

    internal AffineUnion Union { get; }

    internal List<Equation> Equations { get; } = [];

    /// <summary>Rules that the union-find found to say what is said already.</summary>
    internal List<Owner> RedundantReductions { get; } = [];

    /// <summary>Rules that the union-find found to contradict another.</summary>
    internal List<Owner> ClashingReductions { get; } = [];

    internal Sketch Sketch => sketch;

    internal void From(Owner next) => owner = next;

    /// <summary>The index of a point's x; its y follows.</summary>
    internal int PointIndex(string point) => first[point];

    internal int RadiusIndex(string circle) => first[circle];

    /// <summary>The unknowns of a point, or of the centre of a circle or arc.</summary>
    internal (int X, int Y) PointOf(SketchEntity entity)
    {
        var id = entity switch
        {
            PointEntity p => p.Id,
            CircleEntity c => c.Centre,
            ArcEntity a => a.Centre,
            _ => throw new InvalidOperationException($"{entity.Word} has no single point"),
        };
        return (first[id], first[id] + 1);
    }

    internal int RadiusOf(SketchEntity entity) => entity is CircleEntity or ArcEntity
        ? first[entity.Id]
        : throw new InvalidOperationException($"{entity.Word} has no radius");

    /// <summary>The four unknowns of a line's ends: from x, from y, to x, to y.</summary>
    internal int[] EndsOf(SketchEntity entity)
    {
        var line = (LineEntity)entity;
        var (a, b) = (first[line.From], first[line.To]);
        return [a, a + 1, b, b + 1];
    }

    internal Vec2 ValueOf((int X, int Y) point) => new(Start[point.X], Start[point.Y]);

    internal double LengthOf(int[] ends) => Math.Max(Tolerances.SmallestSize, new Vec2(Start[ends[2]] - Start[ends[0]], Start[ends[3]] - Start[ends[1]]).Length);

    /// <summary>Whether two unknowns are known to be one (up to a known offset of zero).</summary>
    internal bool Same(int a, int b)
    {
        if (!reducing)
        {
            return false;
        }

        var (ra, oa) = Union.Find(a);
        var (rb, ob) = Union.Find(b);
        if (ra != rb)
        {
            return Union.FixedValue(ra) is { } va && Union.FixedValue(rb) is { } vb && Math.Abs(va + oa - vb - ob) < Tolerances.Length;
        }

        return Math.Abs(oa - ob) < Tolerances.Length;
    }

    /// <summary>Says b = a + distance.</summary>
    internal void Identify(int a, int b, double distance = 0)
    {
        if (reducing)
        {
            Note(Union.Identify(a, b, distance));
        }
        else
        {
            Add(new Linear([a, b], [-1, 1], distance));
        }
    }

    /// <summary>Says that an unknown has a value.</summary>
    internal void Fix(int a, double value)
    {
        if (reducing)
        {
            Note(Union.Fix(a, value));
        }
        else
        {
            Add(new Linear([a], [1], value));
        }
    }

    internal void Add(Equation equation)
    {
        equation.Owner = owner;
        Equations.Add(equation);
    }

    private void Note(UnionResult result)
    {
        if (result == UnionResult.Redundant)
        {
            RedundantReductions.Add(owner);
        }
        else if (result == UnionResult.Clash)
        {
            ClashingReductions.Add(owner);
        }
    }
}
