using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>How much each point and radius should resist when a new rule moves things: what many rules hold, or what hangs
/// on the origin, stays; what is loose comes to it; of two alike the larger stays.</summary>
internal static class Boundness
{
    private const double Grounded = 100;
    private const double Most = 1e6;

    /// <summary>Weights of the raw unknowns, times those that the writer gives them.</summary>
    /// <param name="writer">The sketch with the new rules, written.</param>
    /// <param name="fresh">The rules that are new; things that only these join are weighed apart.</param>
    /// <param name="held">Points that should stay more than anything.</param>
    public static double[] Weights(SystemWriter writer, IReadOnlySet<Owner> fresh, IReadOnlySet<string>? held)
    {
        var sketch = writer.Sketch;
        var sets = new NamedSets();
        var rules = new List<string>();
        var grounded = new List<string>();
        foreach (var entity in sketch.Entities)
        {
            foreach (var point in entity.Points)
            {
                if (Sketch.IsBuiltIn(point))
                {
                    grounded.Add(entity.Id);
                }
                else
                {
                    sets.Join(entity.Id, point);
                }
            }
        }

        foreach (
            var (id, of) in sketch
                .Constraints.Where(c => !fresh.Contains(new Owner(OwnerKind.Constraint, c.Id)))
                .Select(c => (c.Kind, c.Of))
                .Concat(
                    sketch
                        .Dimensions.Where(d => d.Driving && !fresh.Contains(new Owner(OwnerKind.Dimension, d.Id)))
                        .Select(d => (d.Kind, d.Of))
                )
        )
        {
            var own = of.Where(o => !Sketch.IsBuiltIn(o)).ToList();
            sets.Join(own);
            if (own.Count > 0)
            {
                rules.Add(own[0]);
                if (own.Count < of.Length || id == "fixed")
                {
                    grounded.Add(own[0]);
                }
            }
        }

        var weights = writer.Weights.ToArray();
        var weightOf = Groups(sketch, sets.Of, rules, grounded);
        foreach (var entity in sketch.Entities)
        {
            var weight = held?.Contains(entity.Id) == true ? Most : weightOf[sets.Of(entity.Id)];
            foreach (var raw in writer.OwnOf(entity))
            {
                weights[raw] *= weight;
            }
        }

        return weights;
    }

    private static Dictionary<string, double> Groups(Sketch sketch, Func<string, string> find, List<string> rules, List<string> grounded)
    {
        var count = rules.GroupBy(find).ToDictionary(g => g.Key, g => g.Count());
        var hung = grounded.Select(find).ToHashSet();
        var boxes = new Dictionary<string, Box>(StringComparer.Ordinal);
        void Hold(string group, Vec2 p, double r) =>
            boxes[group] = boxes.TryGetValue(group, out var b)
                ? new(Math.Min(b.Left, p.X - r), Math.Min(b.Bottom, p.Y - r), Math.Max(b.Right, p.X + r), Math.Max(b.Top, p.Y + r))
                : new(p.X - r, p.Y - r, p.X + r, p.Y + r);
        foreach (var entity in sketch.Entities)
        {
            if (entity is PointEntity point)
            {
                Hold(find(point.Id), point.At, 0);
            }
            else if (entity is CircleEntity circle)
            {
                Hold(find(circle.Id), sketch.At(circle.Centre), circle.Radius);
            }
        }

        var largest = Math.Max(boxes.Values.Select(b => b.Size).DefaultIfEmpty(1).Max(), Tolerances.SmallestSize);
        return sketch
            .Entities.Select(e => find(e.Id))
            .Distinct()
            .ToDictionary(
                g => g,
                g =>
                {
                    var bound = 1.0 + count.GetValueOrDefault(g);
                    var size = boxes.TryGetValue(g, out var box) ? box.Size / largest : 0;
                    return Math.Min(Most, bound * bound * (hung.Contains(g) ? Grounded : 1) * (0.5 + (2 * size)));
                }
            );
    }

    private readonly record struct Box(double Left, double Bottom, double Right, double Top)
    {
        public double Size => Math.Max(Right - Left, Top - Bottom);
    }
}
