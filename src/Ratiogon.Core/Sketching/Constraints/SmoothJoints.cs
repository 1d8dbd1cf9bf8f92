namespace Ratiogon.Core.Sketching;

/// <summary>Which curves go over into each other without a corner because rules say so, not only as they are drawn: tangent, collinear,
/// level or upright both, the round end of a slot, or copies and offsets of such curves.</summary>
internal sealed class SmoothJoints
{
    private readonly Sketch sketch;
    private readonly HashSet<(string, string)> tangent = [];

    /// <summary>Lines in one direction; and curves that are pieces of one line or circle.</summary>
    private readonly NamedSets directions = new();
    private readonly NamedSets carriers = new();
    private readonly Dictionary<string, List<string>> originals = new(StringComparer.Ordinal);

    public SmoothJoints(Sketch sketch)
    {
        this.sketch = sketch;
        foreach (var constraint in sketch.Constraints)
        {
            var of = constraint.Of;
            switch (constraint.Kind)
            {
                case "tangent" or "smooth" or EndCap.KindName:
                    foreach (var other in of.Skip(1))
                    {
                        tangent.Add((of[0], other));
                        tangent.Add((other, of[0]));
                    }

                    break;
                case "collinear":
                    Carry(of);
                    break;
                case "horizontal" or "vertical" when of.Length == 1:
                    directions.Join(of[0], constraint.Kind);
                    break;
                case "mirror-image":
                    for (var i = 1; i + 1 < of.Length; i += 2)
                    {
                        Follows(of[i + 1], of[i]);
                    }

                    break;
                case "linear-copies" or "turned-copies":
                    var head = constraint.Kind == "turned-copies" ? 1 : 0;
                    for (var i = head + constraint.Each; i < of.Length; i++)
                    {
                        Follows(of[i], of[head + ((i - head) % constraint.Each)]);
                    }

                    break;
            }
        }

        AlignByPoints();
        foreach (var pair in sketch.Dimensions.Where(d => d.Kind == OffsetSize.KindName).SelectMany(d => d.Of.Chunk(2)))
        {
            Follows(pair[1], pair[0]);
        }

        directions.Flatten();
        carriers.Flatten();
    }

    /// <summary>Whether two curves that meet go over into each other smoothly.</summary>
    public bool Hold(string a, string b) => Hold(a, b, 0);

    private bool Hold(string a, string b, int depth) =>
        directions.Same(a, b) || tangent.Contains((a, b)) || Pieces(a).Any(p => Pieces(b).Any(q => tangent.Contains((p, q))))
        || (depth < sketch.Entities.Length && originals.TryGetValue(a, out var of) && originals.TryGetValue(b, out var with)
            && of.Exists(p => with.Exists(q => Hold(p, q, depth + 1))));

    /// <summary>A line lies on another where both of its ends do; arcs of one circle where their centre is one.</summary>
    private void AlignByPoints()
    {
        var through = new Dictionary<string, HashSet<string>>(StringComparer.Ordinal);
        void On(string point, string line) => (through.TryGetValue(point, out var lines) ? lines : through[point] = new(StringComparer.Ordinal)).Add(line);
        foreach (var line in sketch.Entities.OfType<LineEntity>())
        {
            On(line.From, line.Id);
            On(line.To, line.Id);
        }

        foreach (var of in sketch.Constraints.Where(c => c.Kind is "on-curve" or "crossing" or "midpoint").Select(c => c.Of))
        {
            foreach (var line in of.Where(id => sketch.Find(id) is LineEntity))
            {
                of.Where(id => sketch.Find(id) is PointEntity).ToList().ForEach(point => On(point, line));
            }
        }

        foreach (var line in sketch.Entities.OfType<LineEntity>())
        {
            foreach (var other in through[line.From].Intersect(through[line.To]).Where(l => l != line.Id))
            {
                Carry([line.Id, other]);
            }
        }

        foreach (var group in sketch.Entities.OfType<ArcEntity>().GroupBy(a => a.Centre).Where(g => g.Count() > 1))
        {
            foreach (var a in group)
            {
                foreach (var b in group.Where(b => b != a && a.Points.Skip(1).Intersect(b.Points.Skip(1)).Any()))
                {
                    Carry([a.Id, b.Id]);
                }
            }
        }
    }

    /// <summary>The curves that lie on the same line or circle as one, itself among them.</summary>
    private List<string> Pieces(string curve) => [.. carriers.Known.ToList().Where(c => carriers.Same(c, curve)).Append(curve).Distinct()];

    private void Follows(string copy, string of) => (originals.TryGetValue(copy, out var list) ? list : originals[copy] = []).Add(of);

    private void Carry(IReadOnlyList<string> curves)
    {
        carriers.Join(curves);
        directions.Join(curves);
    }
}
