using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Takes the stretch of a curve between the crossings nearest to a place; cuts a curve in two; leads an end on to
/// the next curve. What is left keeps its id, its place and every rule that still makes sense.</summary>
public static class Trimming
{
    /// <summary>How near to an end, as a share of the curve's size, nothing is left to be cut off.</summary>
    private const double AtEnd = 1e-3;

    /// <summary>How near to a knot, as a share of the curve, is at it.</summary>
    private const double AtKnot = 1e-9;

    /// <summary>Where a curve is crossed.</summary>
    private readonly record struct Cut(double T, Vec2 At, string Other);

    /// <summary>The stretch that would go: its curve and parameters.</summary>
    internal static (SketchCurve Curve, double From, double To)? Stretch(Sketch sketch, string id, Vec2 at)
    {
        if (sketch.Find(id) is not { } entity || SketchCurve.Of(sketch, entity) is not { } curve)
        {
            return null;
        }

        var (low, high) = Around(curve, Cuts(sketch, curve), curve.Nearest(at));
        return (curve, low?.T ?? 0, high is { } h ? (low is { } l && h.T <= l.T ? h.T + curve.End : h.T) : curve.End);
    }

    /// <summary>Without the stretch at a place.</summary>
    public static Outcome<SketchEdit> Trim(Sketch sketch, string id, Vec2 at)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (Sketch.IsBuiltIn(id) || sketch.Find(id) is not { } entity || SketchCurve.Of(sketch, entity) is not { } curve)
        {
            return NoCurve(id);
        }

        var (low, high) = Around(curve, Cuts(sketch, curve), curve.Nearest(at));
        if (Uncut(curve, low, high))
        {
            return new SketchEdit { Remove = [id] };
        }

        var draft = new Draft(sketch);
        string? PointAt(Cut? cut) => cut is { } c ? EndPoint(draft, c, id) : null;
        var (a, b) = (PointAt(low), PointAt(high));
        if (curve.Full)
        {
            // What is left begins where the stretch ends.
            Reshaping.Note(draft, entity, Piece(draft, sketch, entity, curve, id, b!, a!, high!.Value.T, low!.Value.T));
            return draft.Edit;
        }

        var (from, to) = Curves.Ends(entity)!.Value;
        if (a is not null && b is not null)
        {
            var second = draft.NewId(Stem(entity));
            var rest = Piece(draft, sketch, entity, curve, second, b, to, high!.Value.T, curve.End);
            Reshaping.Note(draft, entity, Piece(draft, sketch, entity, curve, id, from, a, 0, low!.Value.T), rest);
            draft.Change(e => e with { Add = e.Add.Add(rest) });
            SameCarrier(draft, entity, second);
        }
        else
        {
            Reshaping.Note(
                draft,
                entity,
                a is not null
                    ? Piece(draft, sketch, entity, curve, id, from, a, 0, low!.Value.T)
                    : Piece(draft, sketch, entity, curve, id, b!, to, high!.Value.T, curve.End)
            );
        }

        return draft.Edit;
    }

    /// <summary>Without the stretch at a place, but with the whole curve kept as construction: what goes on is drawn on it, and no rule
    /// about
    /// the curve is let go.</summary>
    public static Outcome<SketchEdit> TrimKeeping(Sketch sketch, string id, Vec2 at)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (Sketch.IsBuiltIn(id) || sketch.Find(id) is not { } entity || SketchCurve.Of(sketch, entity) is not { } curve)
        {
            return NoCurve(id);
        }

        var (low, high) = Around(curve, Cuts(sketch, curve), curve.Nearest(at));
        ImmutableArray<string> turned = entity.Construction ? [] : [id];
        if (Uncut(curve, low, high))
        {
            return turned.IsEmpty
                ? new Refusal("trim.construction", $"{entity.Word} {id} is construction already, and nothing crosses it.", id)
                : new SketchEdit { ToggleConstruction = turned };
        }

        if (entity is SplineEntity or EllipticArcEntity)
        {
            return new Refusal("trim.keep", $"{entity.AWord} cannot be kept whole below a piece of it: take the stretch away instead.", id);
        }

        var draft = new Draft(sketch);
        string? PointAt(Cut? cut) => cut is { } c ? EndPoint(draft, c, id) : null;
        var (a, b) = (PointAt(low), PointAt(high));
        void Draw(string from, string to, double t, double u)
        {
            var piece = draft.NewId(Stem(entity));
            draft.Add(Piece(draft, sketch, entity, curve, piece, from, to, t, u) with { Construction = entity.Construction });

            // An arc from an old end about the same centre is of the same circle already.
            if (entity is CircleEntity)
            {
                draft.Infer("equal", piece, id);
            }
        }

        if (curve.Full)
        {
            Draw(b!, a!, high!.Value.T, low!.Value.T);
        }
        else
        {
            var (from, to) = Curves.Ends(entity)!.Value;
            if (a is not null)
            {
                Draw(from, a, 0, low!.Value.T);
            }

            if (b is not null)
            {
                Draw(b, to, high!.Value.T, curve.End);
            }
        }

        foreach (var point in new[] { a, b }.OfType<string>().Where(_ => entity is LineEntity))
        {
            draft.Infer("on-curve", point, id);
        }

        draft.Change(e => e with { ToggleConstruction = e.ToggleConstruction.AddRange(turned) });
        return draft.Edit;
    }

    /// <summary>Two curves instead of one, sharing a new point.</summary>
    public static Outcome<SketchEdit> Split(Sketch sketch, string id, Vec2 at)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (Sketch.IsBuiltIn(id) || sketch.Find(id) is not { } entity || SketchCurve.Of(sketch, entity) is not { } curve)
        {
            return NoCurve(id);
        }

        var draft = new Draft(sketch);
        var t = curve.Nearest(at);
        if (
            !curve.Full && (Math.Min(curve.At(t).DistanceTo(curve.At(0)), curve.At(t).DistanceTo(curve.At(curve.End))) < AtEnd * curve.Size)
        )
        {
            return new Refusal("split.at-end", $"{entity.Word} {id} ends here: split it between its ends.", id);
        }

        var middle = PointThere(sketch, curve.At(t), id) ?? draft.NewPoint(curve.At(t));
        var second = draft.NewId(Stem(entity));
        if (curve.Full)
        {
            var half = t + (curve.End / 2) > curve.End ? t - (curve.End / 2) : t + (curve.End / 2);
            var other = draft.NewPoint(curve.At(half));
            var rest = Piece(draft, sketch, entity, curve, second, other, middle, half, t);
            draft.Add(rest);
            Reshaping.Note(draft, entity, Piece(draft, sketch, entity, curve, id, middle, other, t, half), rest);
        }
        else
        {
            var (from, to) = Curves.Ends(entity)!.Value;
            var rest = Piece(draft, sketch, entity, curve, second, middle, to, t, curve.End);
            Reshaping.Note(draft, entity, Piece(draft, sketch, entity, curve, id, from, middle, 0, t), rest);
            draft.Change(e => e with { Add = e.Add.Add(rest) });
            if (entity is LineEntity)
            {
                draft.Infer("collinear", second, id);
            }
        }

        return draft.Edit;
    }

    /// <summary>The stretch that an extension would add, and the curve it reaches; null where there is none ahead.</summary>
    internal static (Vec2 From, Vec2 To, string Target, bool AtStart)? Ahead(Sketch sketch, string id, Vec2 at)
    {
        if (sketch.Find(id) is not { } entity || entity is not (LineEntity or ArcEntity) || SketchCurve.Of(sketch, entity) is not { } curve)
        {
            return null;
        }

        var start = curve.At(0).DistanceTo(at) < curve.At(curve.End).DistanceTo(at);
        var end = curve.At(start ? 0 : curve.End);
        var beyond = curve.Round
            ? curve with
            {
                StartAngle = start ? curve.StartAngle + curve.Sweep : curve.StartAngle + curve.Sweep,
                Sweep = (2 * Math.PI) - curve.Sweep,
            }
            : curve with
            {
                From = end,
                To = end + ((end - curve.At(start ? curve.End : 0)).Unit * Tolerances.LargestSize),
            };
        (Vec2 At, string Other, double Far)? best = null;
        foreach (var other in sketch.Entities.Where(e => e.Id != id).Select(e => SketchCurve.Of(sketch, e)).OfType<SketchCurve>())
        {
            foreach (var p in Crossings.Of(beyond, other))
            {
                var far = curve.Round && beyond.ParameterOf(p) is { } t ? (start ? beyond.End - t : t) * curve.Radius : p.DistanceTo(end);
                if (
                    far > 10 * Tolerances.Length
                    && (!curve.Round || far < (beyond.End * curve.Radius) - (10 * Tolerances.Length))
                    && (best is null || far < best.Value.Far)
                )
                {
                    best = (p, other.Entity, far);
                }
            }
        }

        return best is { } b ? (end, b.At, b.Other, start) : null;
    }

    /// <summary>An end led on to the next curve ahead of it.</summary>
    public static Outcome<SketchEdit> Extend(Sketch sketch, string id, Vec2 at)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (sketch.Find(id) is not (LineEntity or ArcEntity) || Sketch.IsBuiltIn(id))
        {
            return new Refusal(
                "extend.kind",
                $"Only lines and arcs can be led on; {Ids.Shorten(id)} is {(sketch.Find(id) is { } e ? e.AWord : "not in the sketch")}.",
                id
            );
        }

        if (Ahead(sketch, id, at) is not var (_, to, target, start))
        {
            return new Refusal("extend.nothing-ahead", $"There is no curve ahead of this end of {id}.", id);
        }

        var draft = new Draft(sketch);
        var entity = sketch.Find(id)!;
        var (from, end) = Curves.Ends(entity)!.Value;
        var tip = EndPoint(draft, new Cut(0, to, target), id);
        Reshaping.Note(draft, entity, WithEnds(entity, start ? tip : from, start ? end : tip));
        return draft.Edit;
    }

    /// <summary>A stretch of a curve as an entity between two points.</summary>
    private static SketchEntity Piece(
        Draft draft,
        Sketch sketch,
        SketchEntity entity,
        SketchCurve curve,
        string id,
        string from,
        string to,
        double t,
        double u
    )
    {
        switch (entity)
        {
            case LineEntity or ArcEntity or EllipticArcEntity:
                return WithEnds(entity, from, to) with { Id = id };
            case CircleEntity c:
                return new ArcEntity(id, c.Centre, from, to, c.Radius) { Construction = c.Construction };
            case EllipseEntity e:
                // An arc of an ellipse goes counterclockwise, as the ellipse does.
                return new EllipticArcEntity(id, e.Centre, e.First, e.Second, from, to) { Construction = e.Construction };
            default:
                return SplinePiece(draft, (SplineEntity)entity, (SplineCurve)curve.Free!, id, from, to, t, u);
        }
    }

    /// <summary>A stretch of a spline is the spline through the points within it with the slopes at its ends as handles.</summary>
    private static SplineEntity SplinePiece(
        Draft draft,
        SplineEntity spline,
        SplineCurve curve,
        string id,
        string from,
        string to,
        double t,
        double u
    )
    {
        var (through, knots) = (new List<string> { from }, new List<double> { t });
        for (var i = 0; i < spline.Through.Length; i++)
        {
            if (curve.Knots[i] > t + (AtKnot * curve.End) && curve.Knots[i] < u - (AtKnot * curve.End))
            {
                through.Add(spline.Through[i]);
                knots.Add(curve.Knots[i]);
            }
        }

        through.Add(to);
        knots.Add(u);
        var spans = knots.Zip(knots.Skip(1), (a, b) => b - a).ToImmutableArray();
        return spline with
        {
            Id = id,
            Through = [.. through],
            Spans = spans,
            FromHandle =
                t == 0
                    ? Kept(spline.FromHandle, curve.At(t) + (curve.Slope(t) * (spans[0] / 3)))
                    : draft.NewPoint(curve.At(t) + (curve.Slope(t) * (spans[0] / 3)), true),
            ToHandle =
                u == curve.End
                    ? Kept(spline.ToHandle, curve.At(u) - (curve.Slope(u) * (spans[^1] / 3)))
                    : draft.NewPoint(curve.At(u) - (curve.Slope(u) * (spans[^1] / 3)), true),
        };

        // An end without a handle stays one where its span is whole; a shortened span needs the slope said.
        string? Kept(string? handle, Vec2 at)
        {
            var whole = spline.Spans.Contains(t == 0 ? spans[0] : spans[^1]);
            return whole ? handle : draft.NewPoint(at, true);
        }
    }

    private static SketchEntity WithEnds(SketchEntity entity, string from, string to) =>
        entity switch
        {
            LineEntity l => l with { From = from, To = to },
            ArcEntity a => a with { From = from, To = to },
            EllipticArcEntity e => e with { From = from, To = to },
            _ => entity,
        };

    private static void SameCarrier(Draft draft, SketchEntity entity, string second)
    {
        if (entity is LineEntity)
        {
            draft.Infer("collinear", second, entity.Id);
        }
        else if (entity is ArcEntity)
        {
            draft.Infer("equal", second, entity.Id);
        }
    }

    /// <summary>The end that a curve gets at a crossing: the end of the other curve where it ends there, or a new point on it.</summary>
    private static string EndPoint(Draft draft, Cut cut, string own)
    {
        var sketch = draft.Sketch;
        if (sketch.Find(cut.Other) is { } other && Curves.Ends(other) is var (from, to))
        {
            foreach (var end in new[] { from, to })
            {
                if (sketch.At(end).DistanceTo(cut.At) < 4 * Tolerances.Length)
                {
                    return end;
                }
            }
        }

        if (PointThere(sketch, cut.At, own) is { } there)
        {
            return there;
        }

        var point = draft.NewPoint(cut.At);
        draft.Infer("on-curve", point, cut.Other);
        return point;
    }

    /// <summary>A point that is tied to lie on a curve and is drawn at a place.</summary>
    private static string? PointThere(Sketch sketch, Vec2 at, string curve) =>
        sketch
            .Constraints.Where(c => c.Kind is "on-curve" or "crossing" && c.Of.Contains(curve))
            .SelectMany(c => c.Of)
            .FirstOrDefault(o => sketch.Find(o) is PointEntity p && p.At.DistanceTo(at) < 4 * Tolerances.Length);

    private static List<Cut> Cuts(Sketch sketch, SketchCurve curve)
    {
        var cuts = new List<Cut>();
        foreach (var other in sketch.Entities.Where(e => e.Id != curve.Entity).Select(e => SketchCurve.Of(sketch, e)).OfType<SketchCurve>())
        {
            foreach (var p in Crossings.Of(curve, other))
            {
                var atEnd =
                    !curve.Full
                    && (p.DistanceTo(curve.At(0)) < 10 * Tolerances.Length || p.DistanceTo(curve.At(curve.End)) < 10 * Tolerances.Length);
                if (!atEnd && curve.ParameterOf(p) is { } t && !cuts.Exists(c => c.At.DistanceTo(p) < 10 * Tolerances.Length))
                {
                    cuts.Add(new Cut(t, p, other.Entity));
                }
            }
        }

        return cuts;
    }

    private static (Cut? Low, Cut? High) Around(SketchCurve curve, List<Cut> cuts, double t)
    {
        Cut? low = null;
        Cut? high = null;
        foreach (var cut in cuts.OrderBy(c => c.T))
        {
            low = cut.T <= t ? cut : low;
            high = cut.T > t && high is null ? cut : high;
        }

        if (curve.Full && cuts.Count > 0)
        {
            low ??= cuts.MaxBy(c => c.T);
            high ??= cuts.MinBy(c => c.T);
        }

        return (low, high);
    }

    /// <summary>Whether nothing bounds a stretch: the whole curve is meant.</summary>
    private static bool Uncut(SketchCurve curve, Cut? low, Cut? high) =>
        (low is null && high is null) || (curve.Full && (low is null || high is null || low.Value.T == high.Value.T));

    private static string Stem(SketchEntity entity) =>
        entity switch
        {
            LineEntity => "l",
            ArcEntity or CircleEntity => "a",
            EllipticEntity => "e",
            _ => "s",
        };

    private static Refusal NoCurve(string id) =>
        new("trim.no-curve", $"'{Ids.Shorten(id)}' is no curve that was drawn: pick a line, arc, circle, ellipse or spline.", id);
}
