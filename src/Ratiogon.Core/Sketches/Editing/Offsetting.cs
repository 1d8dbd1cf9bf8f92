using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>A chain of lines and arcs, or a circle, drawn again at a distance to one side and kept there by one dimension.</summary>
public static class Offsetting
{
    /// <summary>One curve of a chain, in the direction in which the chain is walked.</summary>
    private sealed record Link(SketchEntity Curve, bool Forward, string From, string To);

    /// <summary>The curves that hang together with one, end to end; itself where nothing else does.</summary>
    public static ImmutableArray<string> Chain(Sketch sketch, string id)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return sketch.Find(id) is { } curve && Curves.Ends(curve) is null ? [id] : [.. Links(sketch, id).Links.Select(l => l.Curve.Id)];
    }

    /// <param name="sketch">Where.</param>
    /// <param name="id">A curve of the chain.</param>
    /// <param name="distance">In millimetres, positive.</param>
    /// <param name="toward">A place on the side where the offset goes.</param>
    /// <param name="text">The formula of the distance.</param>
    public static Outcome<SketchEdit> Of(Sketch sketch, string id, double distance, Vec2 toward, string text)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        if (Sketch.IsBuiltIn(id) || sketch.Find(id) is not { } picked || picked is PointEntity)
        {
            return new Refusal("offset.no-curve", $"'{Ids.Shorten(id)}' is no curve that was drawn.", id);
        }

        var draft = new Draft(sketch);
        if (picked is CircleEntity circle)
        {
            var outside = toward.DistanceTo(sketch.At(circle.Centre)) > circle.Radius;
            if (!outside && distance >= circle.Radius - Tolerances.SmallestSize)
            {
                return Swallowed(id, distance, circle.Radius);
            }

            var made = draft.NewId("c");
            draft.Add(circle with { Id = made, Radius = circle.Radius + (outside ? distance : -distance) });
            draft.Size("offset", text, id, made);
            return draft.Edit;
        }

        if (Curves.Ends(picked) is null)
        {
            return new Refusal("offset.kind", $"{picked.Word} {id} cannot be offset: chains of lines and arcs, and circles, can.", id);
        }

        var (links, closed) = Links(sketch, id);
        if (links.Find(l => l.Curve is not (LineEntity or ArcEntity)) is { } odd)
        {
            return new Refusal(
                "offset.kind",
                $"The chain holds {odd.Curve.Word} {odd.Curve.Id}; chains of lines and arcs can be offset.",
                odd.Curve.Id
            );
        }

        var left = SideOf(sketch, links.Find(l => l.Curve.Id == id)!, toward);
        foreach (var link in links)
        {
            if (link.Curve is ArcEntity arc && RadiusOf(arc, link, left, distance) < Tolerances.SmallestSize)
            {
                return Swallowed(arc.Id, distance, arc.Radius);
            }
        }

        return Draw(draft, links, closed, distance, left, text);
    }

    private static Outcome<SketchEdit> Draw(Draft draft, List<Link> links, bool closed, double distance, bool left, string text)
    {
        var sketch = draft.Sketch;
        var count = links.Count;
        var places = new Vec2[count + 1];
        for (var i = 0; i <= count; i++)
        {
            var (before, after) = (
                i > 0 ? links[i - 1]
                : closed ? links[^1]
                : null,
                i < count ? links[i]
                : closed ? links[0]
                : null
            );
            var joint = sketch.At(after?.From ?? before!.To);
            places[i] = Joint(sketch, before, after, joint, distance, left);
        }

        for (var i = 0; i < count; i++)
        {
            if (!Keeps(sketch, links[i], places[i], places[i + 1], distance, left))
            {
                return new Refusal(
                    "offset.swallowed",
                    $"At {distance:0.###} mm {links[i].Curve.Word} {links[i].Curve.Id} would be swallowed: there is no room for it. "
                        + "Take a smaller distance.",
                    links[i].Curve.Id
                );
            }
        }

        var points = new string[count + 1];
        for (var i = 0; i <= count; i++)
        {
            points[i] = closed && i == count ? points[0] : draft.NewPoint(places[i]);
        }

        var pairs = new List<string>();
        for (var i = 0; i < count; i++)
        {
            var link = links[i];
            var (from, to) = link.Forward ? (points[i], points[i + 1]) : (points[i + 1], points[i]);
            var id = draft.NewId(link.Curve is LineEntity ? "l" : "a");
            draft.Add(
                link.Curve switch
                {
                    LineEntity l => l with { Id = id, From = from, To = to },
                    ArcEntity a => a with { Id = id, From = from, To = to, Radius = RadiusOf(a, link, left, distance) },
                    _ => throw new InvalidOperationException("only lines and arcs are offset"),
                }
            );
            pairs.AddRange([link.Curve.Id, id]);
        }

        draft.Size("offset", text, [.. pairs]);
        return draft.Edit;
    }

    private static Refusal Swallowed(string id, double distance, double radius) =>
        new(
            "offset.swallowed",
            $"{id} has a radius of {radius:0.###} mm: an offset of {distance:0.###} mm to its inside leaves nothing of it.",
            id
        );

    private static double RadiusOf(ArcEntity arc, Link link, bool left, double distance) =>
        arc.Radius + (link.Forward == left ? -distance : distance);

    private static bool SideOf(Sketch sketch, Link link, Vec2 toward)
    {
        var left = link.Curve switch
        {
            LineEntity l => (sketch.At(l.To) - sketch.At(l.From)).Cross(toward - sketch.At(l.From)) > 0,
            ArcEntity a => toward.DistanceTo(sketch.At(a.Centre)) < a.Radius,
            _ => true,
        };
        return link.Forward == left;
    }

    /// <summary>Where the offsets of two neighbours meet, or where one ends.</summary>
    private static Vec2 Joint(Sketch sketch, Link? before, Link? after, Vec2 joint, double distance, bool left)
    {
        var (u, v) = (
            before is null ? (Vec2?)null : Direction(sketch, before, atEnd: true),
            after is null ? (Vec2?)null : Direction(sketch, after, atEnd: false)
        );
        var side = left ? distance : -distance;
        if (u is null || v is null || Math.Abs(u.Value.Cross(v.Value)) < Tolerances.DrawnAngle)
        {
            return joint + ((v ?? u)!.Value.Left * side);
        }

        var bisector = (u.Value + v.Value).Unit.Left;
        var guess = joint + (bisector * (side / Math.Max(0.05, bisector.Dot(u.Value.Left))));
        return Touching
            .Two(Carrier(sketch, before!), Carrier(sketch, after!), distance)
            .Where(p => Side(sketch, before!, p) == left && Side(sketch, after!, p) == left)
            .Cast<Vec2?>()
            .MinBy(p => p!.Value.DistanceTo(guess))
            ?? guess;
    }

    private static Touched Carrier(Sketch sketch, Link link) =>
        link.Curve is LineEntity l
            ? Touched.Line(sketch.At(l.From), sketch.At(l.To))
            : Touched.Circle(sketch.At(((ArcEntity)link.Curve).Centre), ((ArcEntity)link.Curve).Radius);

    private static bool Side(Sketch sketch, Link link, Vec2 p) => SideOf(sketch, link, p);

    private static Vec2 Direction(Sketch sketch, Link link, bool atEnd)
    {
        if (link.Curve is LineEntity)
        {
            return (sketch.At(link.To) - sketch.At(link.From)).Unit;
        }

        var radial = sketch.At(atEnd ? link.To : link.From) - sketch.At(((ArcEntity)link.Curve).Centre);
        return (link.Forward ? radial.Left : -radial.Left).Unit;
    }

    /// <summary>Whether an offset still runs the way its original does.</summary>
    private static bool Keeps(Sketch sketch, Link link, Vec2 from, Vec2 to, double distance, bool left)
    {
        if (from.DistanceTo(to) < Tolerances.SmallestSize)
        {
            return false;
        }

        if (link.Curve is LineEntity)
        {
            return (to - from).Dot(sketch.At(link.To) - sketch.At(link.From)) > 0;
        }

        var arc = (ArcEntity)link.Curve;
        var c = sketch.At(arc.Centre);
        var (a, b) = link.Forward ? (from, to) : (to, from);
        var sweep = (b - c).Angle - (a - c).Angle;
        sweep -= Math.Floor(sweep / (2 * Math.PI)) * 2 * Math.PI;
        return Math.Abs(sweep - Arcs.Sweep(sketch, arc)) < Math.PI && RadiusOf(arc, link, left, distance) > Tolerances.SmallestSize;
    }

    /// <summary>The chain through a curve, in order. It stops where three curves meet.</summary>
    private static (List<Link> Links, bool Closed) Links(Sketch sketch, string id)
    {
        var contacts = SketchContacts.Of(sketch);
        var at = new Dictionary<string, List<SketchEntity>>(StringComparer.Ordinal);
        foreach (var entity in sketch.Entities.Where(e => e.Construction == sketch.Find(id)!.Construction))
        {
            if (Curves.Ends(entity) is var (from, to))
            {
                foreach (var end in new[] { from, to })
                {
                    (at.TryGetValue(contacts.Root(end), out var list) ? list : at[contacts.Root(end)] = []).Add(entity);
                }
            }
        }

        var first = sketch.Find(id)!;
        var (begin, finish) = Curves.Ends(first) ?? throw new InvalidOperationException("a chain begins with a curve that has ends");
        var links = new List<Link> { new(first, true, begin, finish) };
        var closed = Walk(links, forward: true);
        if (!closed)
        {
            Walk(links, forward: false);
        }

        return (links, closed);

        bool Walk(List<Link> chain, bool forward)
        {
            while (true)
            {
                var tip = contacts.Root(forward ? chain[^1].To : chain[0].From);
                var last = forward ? chain[^1].Curve : chain[0].Curve;
                if (at[tip] is not { Count: 2 } here)
                {
                    return false;
                }

                var next = here[0] == last ? here[1] : here[0];
                if (chain.Exists(l => l.Curve == next))
                {
                    return chain.Count > 1 && next == (forward ? chain[0].Curve : chain[^1].Curve);
                }

                var (a, b) = Curves.Ends(next)!.Value;
                var starts = contacts.Root(a) == tip;
                if (forward)
                {
                    chain.Add(starts ? new Link(next, true, a, b) : new Link(next, false, b, a));
                }
                else
                {
                    chain.Insert(0, starts ? new Link(next, false, b, a) : new Link(next, true, a, b));
                }
            }
        }
    }
}
