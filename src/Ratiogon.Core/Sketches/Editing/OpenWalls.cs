using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Regions;
using Ratiogon.Core.Sketches.Rules;

namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Open chains of lines and arcs thickened to regions: both sides offset, the ends closed straight across.</summary>
public static class OpenWalls
{
    /// <summary>How far beside a wall, as a share of its length, it is looked what lies there.</summary>
    private const double Aside = 1e-3;

    /// <summary>What the edges on the right of a chain carry behind the name of their curve.</summary>
    public const string Back = ".back";

    /// <param name="sketch">Solved.</param>
    /// <param name="left">How thick to the left of the first curve as it was drawn, in millimetres, 0 or more.</param>
    /// <param name="right">To the right.</param>
    public static Outcome<ImmutableArray<Region>> Of(Sketch sketch, double left, double right)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var curves = sketch.Entities.Where(e => !e.Construction && e is not PointEntity && !Sketch.IsBuiltIn(e.Id)).ToList();
        if (curves.Find(c => c is not (LineEntity or ArcEntity)) is { } odd)
        {
            return new Refusal("wall.kind", $"{odd.Word} {odd.Id} is free-form: open walls run along lines and arcs.", odd.Id);
        }

        var regions = ImmutableArray.CreateBuilder<Region>();
        var done = new HashSet<string>(StringComparer.Ordinal);
        foreach (var curve in curves.Where(c => !done.Contains(c.Id)))
        {
            var chain = Offsetting.Chain(sketch, curve.Id);
            done.UnionWith(chain);
            var wall = Along(sketch, chain, left, right);
            if (!wall.Done)
            {
                return wall.Refusal!;
            }

            regions.Add(wall.Value);
        }

        return regions.ToImmutable();
    }

    private static Outcome<Region> Along(Sketch sketch, ImmutableArray<string> chain, double left, double right) =>
        Side(sketch, chain, left, true)
            .Then(l =>
                Side(sketch, chain, right, false)
                    .Then<Region>(r =>
                    {
                        var named = new Dictionary<string, string>(StringComparer.Ordinal);
                        var entities = ImmutableArray.CreateBuilder<SketchEntity>();
                        foreach (var (side, id) in new[] { (l, "l"), (r, "r") })
                        {
                            foreach (var (original, made) in side)
                            {
                                named[$"{id}{original}"] = id == "l" ? original : original + Back;
                                entities.AddRange(Placed(made.Sketch, made.Curve, $"{id}{original}"));
                            }
                        }

                        foreach (var ((original, atStart), n) in LooseEnds(sketch, chain).Select((e, n) => (e, n)))
                        {
                            var (a, b) = (EndOf(l[original], atStart), EndOf(r[original], atStart));
                            named[$"e{n}"] = $"tip{n + 1}";
                            entities.AddRange(
                                new PointEntity($"e{n}a", a),
                                new PointEntity($"e{n}b", b),
                                new LineEntity($"e{n}", $"e{n}a", $"e{n}b")
                            );
                        }

                        var found = Arrangement.Of(new Sketch { Entities = entities.ToImmutable() }).Regions;
                        return found.Length == 1 && found[0].Holes.IsEmpty
                            ? found[0] with
                            {
                                Outer = [.. found[0].Outer.Select(e => e with { Entity = named[e.Entity] })],
                            }
                            : new Refusal("wall.crosses", $"The wall along {chain[0]} crosses itself. Make it thinner.", chain[0]);
                    })
            );

    /// <summary>Where each curve of a chain comes to lie on one side; the curve itself for no distance.</summary>
    private static Outcome<Dictionary<string, (Sketch Sketch, SketchEntity Curve)>> Side(
        Sketch sketch,
        ImmutableArray<string> chain,
        double distance,
        bool left
    )
    {
        if (distance <= 0)
        {
            return chain.ToDictionary(c => c, c => (sketch, sketch.Find(c)!), StringComparer.Ordinal);
        }

        return Offsetting
            .Of(sketch, chain[0], distance, Beside(sketch, chain[0], left), "0")
            .Map(edit =>
            {
                var scratch = sketch with { Entities = [.. sketch.Entities, .. edit.Add] };
                var pairs = edit.Size[^1].Of;
                return Enumerable
                    .Range(0, pairs.Length / 2)
                    .ToDictionary(i => pairs[2 * i], i => (scratch, scratch.Find(pairs[(2 * i) + 1])!), StringComparer.Ordinal);
            });
    }

    /// <summary>A place just beside the middle of a line or an arc.</summary>
    private static Vec2 Beside(Sketch sketch, string id, bool left)
    {
        if (sketch.Find(id) is LineEntity line)
        {
            var (a, b) = (sketch.At(line.From), sketch.At(line.To));
            return ((a + b) / 2) + ((b - a).Left * (left ? Aside : -Aside));
        }

        var arc = (ArcEntity)sketch.Find(id)!;
        var centre = sketch.At(arc.Centre);
        return centre
            + Vec2.Polar((sketch.At(arc.From) - centre).Angle + (Arcs.Sweep(sketch, arc) / 2), arc.Radius * (left ? 0.999 : 1.001));
    }

    /// <summary>The curves and ends at which a chain begins and stops.</summary>
    private static IEnumerable<(string Curve, bool AtStart)> LooseEnds(Sketch sketch, ImmutableArray<string> chain)
    {
        var contacts = SketchContacts.Of(sketch);
        var ends = chain
            .SelectMany(c =>
                new[] { true, false }.Select(start =>
                    (
                        Curve: c,
                        AtStart: start,
                        Root: contacts.Root(start ? Curves.Ends(sketch.Find(c)!)!.Value.From : Curves.Ends(sketch.Find(c)!)!.Value.To)
                    )
                )
            )
            .ToList();
        return ends.Where(e => ends.Count(o => o.Root == e.Root) == 1).Select(e => (e.Curve, e.AtStart));
    }

    private static Vec2 EndOf((Sketch Sketch, SketchEntity Curve) made, bool atStart)
    {
        var (from, to) = Curves.Ends(made.Curve)!.Value;
        return made.Sketch.At(atStart ? from : to);
    }

    /// <summary>A curve with points of its own.</summary>
    private static IEnumerable<SketchEntity> Placed(Sketch sketch, SketchEntity curve, string id)
    {
        yield return new PointEntity(id + "a", EndOf((sketch, curve), true));
        yield return new PointEntity(id + "b", EndOf((sketch, curve), false));
        if (curve is ArcEntity arc)
        {
            yield return new PointEntity(id + "m", sketch.At(arc.Centre));
            yield return arc with
            {
                Id = id,
                Centre = id + "m",
                From = id + "a",
                To = id + "b",
            };
        }
        else
        {
            yield return new LineEntity(id, id + "a", id + "b");
        }
    }
}
