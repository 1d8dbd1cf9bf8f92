using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Dimensions;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Keeps the pairs of an offset through edits. Where a curve of the original chain gets other ends, is cut in two or rounded,
/// so does its offset; where the offset itself is changed, it stays at its distance and the original stays as it is.</summary>
internal static class OffsetPairs
{
    /// <summary>Sees to a dimension when one of its curves is drawn anew.</summary>
    /// <param name="draft">The change so far.</param>
    /// <param name="offset">The dimension.</param>
    /// <param name="old">The curve as it was.</param>
    /// <param name="now">The same id with other ends.</param>
    /// <param name="rest">The other piece where it was cut in two.</param>
    public static void Follow(Draft draft, SketchDimension offset, SketchEntity old, SketchEntity now, SketchEntity? rest)
    {
        var latest = draft.Latest(offset);
        var of = latest.Of.ToList();
        for (var i = latest.Of.Length - 2; i >= 0; i -= 2)
        {
            if (of[i] == old.Id && draft.Sketch.Find(of[i + 1]) is { } partner)
            {
                // The ends of the original with those of its offset.
                var ends = new Dictionary<string, string>(StringComparer.Ordinal);
                Pair(ends, old, partner);
                if (!HasRoom(draft, old, now, partner, ends) || (rest is not null && !HasRoom(draft, old, rest, partner, ends)))
                {
                    // There is no room for it: the offset stays, kept at its distance no more.
                    of.RemoveRange(i, 2);
                    continue;
                }

                var moved = Redrawn(draft, old, now, partner, partner.Id, ends);
                var other = rest is null ? null : Redrawn(draft, old, rest, partner, draft.NewId(Mirroring.Stem(rest)), ends);
                if (other is not null)
                {
                    draft.Add(other);
                    of.InsertRange(i + 2, [rest!.Id, other.Id]);
                }

                Reshaping.Note(draft, partner, moved, other, offset.Id);
            }
            else if (of[i + 1] == old.Id && rest is not null)
            {
                of.InsertRange(i + 2, [of[i], rest.Id]);
            }
        }

        if (of.Count == 0)
        {
            draft.Change(e => e with { Remove = e.Remove.Add(offset.Id) });
        }
        else
        {
            draft.Resize(latest with { Of = [.. of] });
        }
    }

    /// <summary>Rounds the offset's corner with the original's: the arc about the same centre, where there is room for one.</summary>
    /// <param name="draft">With the arc and the shortened curves.</param>
    /// <param name="corner">The original's corner.</param>
    /// <param name="a">A curve that ended there.</param>
    /// <param name="b">The other.</param>
    /// <param name="between">What lies between them now: an arc or a line.</param>
    public static void FollowCorner(Draft draft, string corner, SketchEntity a, SketchEntity b, SketchEntity between)
    {
        var sketch = draft.Sketch;
        foreach (var offset in sketch.Dimensions.Where(d => d.Kind == OffsetSize.KindName))
        {
            var latest = draft.Latest(offset);
            if (
                Partner(sketch, latest, a.Id) is not { } first
                || Partner(sketch, latest, b.Id) is not { } second
                || first.Points.Intersect(second.Points).ToList() is not [var joint]
                || Curves.Ends(between) is not var (from, to)
            )
            {
                continue;
            }

            // The ends of what lies between, in the order of the two curves.
            var (p, q) = draft.Latest(a).Points.Contains(from) ? (from, to) : (to, from);
            var (u, v) = (Off(draft, a, first, draft.At(p)), Off(draft, b, second, draft.At(q)));
            var outward =
                (sketch.At(joint) - draft.At(p)).Dot(sketch.At(corner) - draft.At(p))
                + (sketch.At(joint) - draft.At(q)).Dot(sketch.At(corner) - draft.At(q));
            SketchEntity? made = null;
            if (between is ArcEntity arc)
            {
                var centre = draft.At(arc.Centre);
                var radius = u.DistanceTo(centre);

                // On the inner side there must be something left of the radius.
                if ((u - centre).Dot(draft.At(p) - centre) > Tolerances.SmallestSize * arc.Radius && radius > Tolerances.SmallestSize)
                {
                    var (s, t) = (draft.NewPoint(u), draft.NewPoint(v));
                    made = arc with { Id = draft.NewId("a"), From = arc.From == p ? s : t, To = arc.From == p ? t : s, Radius = radius };
                }
            }
            else if (Shifted(draft, a, first, b, second, (LineEntity)between, p, outward) is var (x, y))
            {
                var (s, t) = (draft.NewPoint(x), draft.NewPoint(y));
                made = new LineEntity(draft.NewId("l"), from == p ? s : t, from == p ? t : s) { Construction = between.Construction };
            }

            if (made is null)
            {
                continue;
            }

            var (begin, end) = Curves.Ends(made)!.Value;
            var (atFirst, atSecond) = from == p ? (begin, end) : (end, begin);
            draft.Add(made);
            draft.Redraw(Renaming.WithPoints(first, id => id == joint ? atFirst : id));
            draft.Redraw(Renaming.WithPoints(second, id => id == joint ? atSecond : id));
            if (
                !sketch.Entities.Any(e => e.Id != first.Id && e.Id != second.Id && e.Points.Contains(joint))
                && !sketch.Constraints.Any(c => c.Of.Contains(joint))
                && !sketch.Dimensions.Any(d => d.Of.Contains(joint))
            )
            {
                draft.Change(e => e with { Remove = e.Remove.Add(joint) });
            }

            draft.Resize(latest with { Of = latest.Of.AddRange(between.Id, made.Id) });
        }
    }

    /// <summary>The ends of a chamfer's offset: where its line, shifted, meets the offsets beside it; null where it would vanish.</summary>
    private static (Vec2, Vec2)? Shifted(
        Draft draft,
        SketchEntity a,
        SketchEntity first,
        SketchEntity b,
        SketchEntity second,
        LineEntity line,
        string atA,
        double outward
    )
    {
        var (p, q) = (draft.At(atA), draft.At(line.From == atA ? line.To : line.From));
        var distance = Math.Abs(OffsetSize.Signed(draft.Sketch, a, first));
        var left = (q - p).Unit.Left;

        // The side on which the offset of the neighbour lies.
        var side = left.Dot(Off(draft, a, first, p) - p) is var s && Math.Abs(s) > Tolerances.Length ? Math.Sign(s) : Math.Sign(outward);
        var (origin, along) = (p + (left * (side * distance)), (q - p).Unit);
        Vec2? Meet(SketchEntity own)
        {
            var ends = (LineEntity)own;
            var (from, d) = (draft.Sketch.At(ends.From), draft.Sketch.At(ends.To) - draft.Sketch.At(ends.From));
            var cross = along.Cross(d);
            return Math.Abs(cross) < Tolerances.Angle * d.Length ? null : origin + (along * ((from - origin).Cross(d) / cross));
        }

        return
            first is LineEntity
            && second is LineEntity
            && Meet(first) is { } x
            && Meet(second) is { } y
            && (y - x).Dot(along) > Tolerances.SmallestSize
            ? (x, y)
            : null;
    }

    private static SketchEntity? Partner(Sketch sketch, SketchDimension offset, string original)
    {
        var at = Enumerable.Range(0, offset.Of.Length / 2).FirstOrDefault(i => offset.Of[2 * i] == original, -1);
        return at < 0 ? null : sketch.Find(offset.Of[(2 * at) + 1]);
    }

    private static void Pair(Dictionary<string, string> ends, SketchEntity curve, SketchEntity partner)
    {
        if (Curves.Ends(curve) is var (from, to) && Curves.Ends(partner) is var (a, b))
        {
            (ends[from], ends[to]) = (a, b);
        }
    }

    /// <summary>Whether the offset of a curve that was drawn anew has a length and runs the same way.</summary>
    private static bool HasRoom(Draft draft, SketchEntity old, SketchEntity now, SketchEntity partner, Dictionary<string, string> ends)
    {
        if (Curves.Ends(now) is not var (from, to))
        {
            return true;
        }

        Vec2 Place(string end) => ends.TryGetValue(end, out var known) ? draft.At(known) : Off(draft, old, partner, draft.At(end));
        var way = Place(to) - Place(from);
        return way.Length >= Tolerances.SmallestSize && (old is not LineEntity || way.Dot(draft.At(to) - draft.At(from)) > 0);
    }

    /// <summary>The offset of a curve that was drawn anew, with new ends where the curve has some.</summary>
    private static SketchEntity Redrawn(
        Draft draft,
        SketchEntity old,
        SketchEntity now,
        SketchEntity partner,
        string id,
        Dictionary<string, string> ends
    )
    {
        if (Curves.Ends(now) is not var (from, to))
        {
            return partner with { Id = id };
        }

        string End(string end) =>
            ends.TryGetValue(end, out var known) ? known : ends[end] = draft.NewPoint(Off(draft, old, partner, draft.At(end)));
        var (s, t) = (End(from), End(to));
        return partner switch
        {
            LineEntity l => l with { Id = id, From = s, To = t },
            ArcEntity a => a with { Id = id, From = s, To = t },
            CircleEntity c => new ArcEntity(id, c.Centre, s, t, c.Radius) { Construction = c.Construction },
            _ => throw new InvalidOperationException($"{partner.Word} is no offset"),
        };
    }

    /// <summary>A place of a curve, shifted square to it by the distance of its offset.</summary>
    private static Vec2 Off(Draft draft, SketchEntity curve, SketchEntity partner, Vec2 at)
    {
        var signed = OffsetSize.Signed(draft.Sketch, curve, partner);
        return curve is LineEntity line ? at + ((draft.Sketch.At(line.To) - draft.Sketch.At(line.From)).Unit.Left * signed)
            : draft.Sketch.At(Curves.Centre(curve)!) is var c ? c + ((at - c).Unit * (RimDistance.RadiusOf(curve) + signed))
            : at;
    }
}
