using Ratiogon.Core.Sketching;

namespace Ratiogon.Core.Solving;

/// <summary>
/// What the constraints of a sketch say about points and curves without any numbers: which points are one, and which
/// points lie on which curves. A tangency is written at a point that is known to lie on both curves; written as a
/// distance it would touch its solution twice there, and its derivatives would vanish.
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

    public Contacts(Sketch sketch)
    {
        smooth = new(() => new SmoothJoints(sketch));
        NoteOffsets(sketch);
        foreach (var constraint in sketch.Constraints)
        {
            if (constraint.Kind is "coincident" or "concentric" or "same" && sketch.FindAll(constraint.Of) is { } of)
            {
                foreach (var other in of.Skip(1))
                {
                    one.Join(PointOf(other), PointOf(of[0]));
                }
            }
        }

        foreach (var constraint in sketch.Constraints)
        {
            if (constraint.Kind == "fixed")
            {
                pinned.UnionWith(constraint.Of);
            }

            if (ConstraintCatalog.Find(constraint.Kind) is CopyRule rule)
            {
                copies.UnionWith(rule.Copies(constraint));
            }

            if (constraint.Kind == EndCap.KindName && sketch.FindAll(constraint.Of) is [ArcEntity cap, ArcEntity outer, ArcEntity inner] && EndCap.Corners(cap, outer, inner) is var (_, corner))
            {
                this.inner.Add(inner.Id);
                (capsOf.TryGetValue(inner.Id, out var caps) ? caps : capsOf[inner.Id] = []).Add(cap.Centre);
                implied.Add((cap.Id, corner));
                implied.Add((inner.Id, corner));
            }

            if (constraint.Kind == "midpoint" && sketch.FindAll(constraint.Of) is { Count: 2 } half && half.FirstOrDefault(e => e is LineEntity) is { } line)
            {
                Note(line.Id, PointOf(half.First(e => e != line)));
            }

            if (constraint.Kind is "on-curve" or "crossing" && sketch.FindAll(constraint.Of) is { } of && PlacedOn.Split(of) is var (point, curves))
            {
                foreach (var curve in curves)
                {
                    Note(curve.Id, PointOf(point));
                }
            }
        }

        NoteSlots(sketch);
        one.Flatten();
    }

    /// <summary>Which curves go over into each other because rules say so.</summary>
    public SmoothJoints Smooth => smooth.Value;

    private void NoteSlots(Sketch sketch)
    {
        foreach (var (id, caps) in capsOf.Where(c => c.Value.Count == 2))
        {
            if (sketch.Entities.Any(e => e is ArcEntity axis && axis.Centre == ((ArcEntity)sketch.Find(id)!).Centre && caps.TrueForAll(axis.Points.Skip(1).Contains)))
            {
                evenly.Add(id);
            }
        }
    }

    private void NoteOffsets(Sketch sketch)
    {
        foreach (var dimension in sketch.Dimensions.Where(d => d.Kind == OffsetSize.KindName))
        {
            implied.UnionWith(OffsetSize.ImpliedEnds(sketch, Smooth, sketch.FindAll(dimension.Of)!));
        }
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

        // Of the inner arc of a slot with two round ends the second distance follows from the first, where the centres of both lie on one arc.
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
        (curve is SplineEntity s ? s.Through : Curves.Ends(curve) is var (from, to) ? [from, to] : []).Concat(on.GetValueOrDefault(curve.Id) ?? []);

    private void Note(string curve, string point) => (on.TryGetValue(curve, out var list) ? list : on[curve] = []).Add(point);

    private static string PointOf(SketchEntity entity) => entity is PointEntity ? entity.Id : Curves.Centre(entity) ?? entity.Points[0];
}
