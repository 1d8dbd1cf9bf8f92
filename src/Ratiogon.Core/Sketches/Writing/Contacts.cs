using Ratiogon.Core.Sketches.Constraints;

namespace Ratiogon.Core.Sketches.Writing;

/// <summary>
/// What the constraints of a sketch say about points and curves without any numbers: which points are one, and which
/// points lie on which curves. A tangency is written at a point that is known to lie on both curves; written as a
/// distance it would touch its solution twice there, and its derivatives would vanish. Every kind of rule notes its own:
/// <see cref="SketchContacts.Of"/>.
/// </summary>
internal sealed class Contacts
{
    private readonly NamedSets one = new();
    private readonly HashSet<string> pinned = new(StringComparer.Ordinal);
    private readonly HashSet<string> copies = new(StringComparer.Ordinal);
    private readonly HashSet<(string Arc, string End)> implied = [];
    private readonly HashSet<string> inner = new(StringComparer.Ordinal);
    private readonly Dictionary<string, List<string>> capsOf = new(StringComparer.Ordinal);
    private readonly HashSet<string> evenly = new(StringComparer.Ordinal);
    private readonly Dictionary<string, List<string>> on = new(StringComparer.Ordinal);
    private readonly Lazy<SmoothJoints> smooth;

    /// <param name="smooth">Which curves go over into each other, found out when somebody asks.</param>
    public Contacts(Func<SmoothJoints> smooth) => this.smooth = new(smooth);

    /// <summary>Which curves go over into each other because rules say so.</summary>
    public SmoothJoints Smooth => smooth.Value;

    /// <summary>The points of entities (a point itself, of curves the centre) are one.</summary>
    public void Join(IReadOnlyList<SketchEntity> of)
    {
        foreach (var other in of.Skip(1))
        {
            one.Join(PointOf(other), PointOf(of[0]));
        }
    }

    /// <summary>Entities stay where they are.</summary>
    public void Pin(IEnumerable<string> of) => pinned.UnionWith(of);

    /// <summary>Entities follow others with all of their points.</summary>
    public void Copy(IEnumerable<string> of) => copies.UnionWith(of);

    /// <summary>The point of an entity lies on a curve.</summary>
    public void Place(SketchEntity point, string curve) => Note(curve, PointOf(point));

    /// <summary>Ends of arcs that something else puts on their circle.</summary>
    public void Imply(IEnumerable<(string Arc, string End)> ends) => implied.UnionWith(ends);

    /// <summary>A round end closes the inner of two arcs at one of its ends.</summary>
    public void Cap(ArcEntity cap, ArcEntity inner, string corner)
    {
        this.inner.Add(inner.Id);
        (capsOf.TryGetValue(inner.Id, out var caps) ? caps : capsOf[inner.Id] = []).Add(cap.Centre);
        Imply([(cap.Id, corner), (inner.Id, corner)]);
    }

    /// <summary>Everything is noted.</summary>
    public void Close(Sketch sketch)
    {
        foreach (var (id, caps) in capsOf.Where(c => c.Value.Count == 2))
        {
            if (
                sketch.Entities.Any(e =>
                    e is ArcEntity axis
                    && axis.Centre == ((ArcEntity)sketch.Find(id)!).Centre
                    && caps.TrueForAll(axis.Points.Skip(1).Contains)
                )
            )
            {
                evenly.Add(id);
            }
        }

        one.Flatten();
    }

    /// <summary>Whether all points of an entity follow those of another.</summary>
    public bool IsCopy(string entity) => copies.Contains(entity);

    /// <summary>Whether all points of an entity are placed by something else, so that its own rules follow.</summary>
    public bool IsPlaced(string entity) => copies.Contains(entity) || pinned.Contains(entity);

    /// <summary>The ends of an arc that its own rule must still put on its circle: not those of which something else says so.</summary>
    public IEnumerable<string> OwnEnds(ArcEntity arc)
    {
        // A copy follows the original with centre, ends and radius; a fixed arc has but its radius to find.
        if (IsCopy(arc.Id) || pinned.Contains(arc.Id))
        {
            return IsCopy(arc.Id) ? [] : [arc.From];
        }

        // Of the inner arc of a slot with two round ends the second distance follows from the first, where the centres of both lie on
        // one arc.
        if (evenly.Contains(arc.Id) && (implied.Contains((arc.Id, arc.From)) && implied.Contains((arc.Id, arc.To))))
        {
            return [arc.From];
        }

        string[] ends = [arc.From, arc.To];
        return inner.Contains(arc.Id) ? ends : ends.Where(e => !implied.Contains((arc.Id, e)));
    }

    /// <summary>Whether a point is known to lie on a curve.</summary>
    public bool IsOn(string point, SketchEntity curve) => Known(curve).Any(k => Root(k) == Root(point));

    /// <summary>One name for all points that are one.</summary>
    public string Root(string point) => one.Of(point);

    /// <summary>A point of the first curve or of the second that is known to lie on both, ends first; null when none is.</summary>
    public (string OnFirst, string OnSecond)? Shared(SketchEntity first, SketchEntity second)
    {
        foreach (var a in Known(first))
        {
            foreach (var b in Known(second))
            {
                if (Root(a) == Root(b))
                {
                    return (a, b);
                }
            }
        }

        return null;
    }

    private IEnumerable<string> Known(SketchEntity curve) =>
        (
            curve is SplineEntity s ? s.Through
            : Curves.Ends(curve) is var (from, to) ? [from, to]
            : []
        ).Concat(on.GetValueOrDefault(curve.Id) ?? []);

    private void Note(string curve, string point) => (on.TryGetValue(curve, out var list) ? list : on[curve] = []).Add(point);

    private static string PointOf(SketchEntity entity) => entity is PointEntity ? entity.Id : Curves.Centre(entity) ?? entity.Points[0];
}
