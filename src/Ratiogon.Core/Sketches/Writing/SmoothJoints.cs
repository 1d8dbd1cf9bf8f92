namespace Ratiogon.Core.Sketches.Writing;

/// <summary>Which curves go over into each other without a corner because rules say so, not only as they are drawn: tangent, collinear,
/// level or upright both, the round end of a slot, or copies and offsets of such curves. Every kind of rule notes its own:
/// <see cref="SketchContacts.Joints"/>.</summary>
internal sealed class SmoothJoints
{
    private readonly Sketch sketch;
    private readonly HashSet<(string, string)> tangent = [];

    /// <summary>Lines in one direction; and curves that are pieces of one line or circle.</summary>
    private readonly NamedSets directions = new();
    private readonly NamedSets carriers = new();
    private readonly Dictionary<string, List<string>> originals = new(StringComparer.Ordinal);

    /// <summary>Lines that points are known to lie on, besides those that they end.</summary>
    private readonly List<(string Point, string Line)> on = [];

    public SmoothJoints(Sketch sketch) => this.sketch = sketch;

    /// <summary>Curves touch the first of them without a corner.</summary>
    public void Touch(IReadOnlyList<string> of)
    {
        foreach (var other in of.Skip(1))
        {
            tangent.Add((of[0], other));
            tangent.Add((other, of[0]));
        }
    }

    /// <summary>Curves are pieces of one line or circle.</summary>
    public void Carry(IReadOnlyList<string> curves)
    {
        carriers.Join(curves);
        directions.Join(curves);
    }

    /// <summary>A line runs in a direction that has a name.</summary>
    public void Direct(string line, string direction) => directions.Join(line, direction);

    /// <summary>A curve goes over into its neighbours as another does.</summary>
    public void Follow(string copy, string of) => (originals.TryGetValue(copy, out var list) ? list : originals[copy] = []).Add(of);

    /// <summary>Points lie on lines, both among these.</summary>
    public void Place(IReadOnlyList<string> of)
    {
        foreach (var line in of.Where(id => sketch.Find(id) is LineEntity))
        {
            on.AddRange(of.Where(id => sketch.Find(id) is PointEntity).Select(point => (point, line)));
        }
    }

    /// <summary>Everything is noted.</summary>
    public void Close()
    {
        AlignByPoints();
        directions.Flatten();
        carriers.Flatten();
    }

    /// <summary>Whether two curves that meet go over into each other smoothly.</summary>
    public bool Hold(string a, string b) => Hold(a, b, 0);

    private bool Hold(string a, string b, int depth) =>
        directions.Same(a, b)
        || tangent.Contains((a, b))
        || Pieces(a).Any(p => Pieces(b).Any(q => tangent.Contains((p, q))))
        || (
            depth < sketch.Entities.Length
            && originals.TryGetValue(a, out var of)
            && originals.TryGetValue(b, out var with)
            && of.Exists(p => with.Exists(q => Hold(p, q, depth + 1)))
        );

    /// <summary>A line lies on another where both of its ends do; arcs of one circle where their centre is one.</summary>
    private void AlignByPoints()
    {
        var through = new Dictionary<string, HashSet<string>>(StringComparer.Ordinal);
        void On(string point, string line) =>
            (through.TryGetValue(point, out var lines) ? lines : through[point] = new(StringComparer.Ordinal)).Add(line);
        foreach (var line in sketch.Entities.OfType<LineEntity>())
        {
            On(line.From, line.Id);
            On(line.To, line.Id);
        }

        foreach (var (point, line) in on)
        {
            On(point, line);
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
}
