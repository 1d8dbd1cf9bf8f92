using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketching.Regions;

/// <summary>A place where a profile is not closed.</summary>
/// <param name="At">The loose end.</param>
/// <param name="Entity">The curve that ends there.</param>
/// <param name="Gap">Distance to the nearest other loose end, in millimetres; infinite when it is the only one.</param>
public sealed record OpenEnd(Vec2 At, string Entity, double Gap);

/// <summary>
/// The arrangement of a sketch's curves that are not construction: split at their exact crossings, half-edges sorted
/// about each vertex, faces traced, nested by even-odd.
/// </summary>
public sealed class Arrangement
{
    private readonly List<Vec2> vertices = [];
    private readonly Dictionary<(long, long), List<int>> grid = [];
    private readonly List<(int From, int To, ProfileEdge Edge)> pieces = [];
    private readonly Dictionary<int, ProfileEdge> edges = [];

    private Arrangement()
    {
    }

    /// <summary>All bounded faces, the largest first.</summary>
    public ImmutableArray<Region> Regions { get; private set; } = [];

    /// <summary>Loose ends of curves that bound nothing.</summary>
    public ImmutableArray<OpenEnd> OpenEnds { get; private set; } = [];

    /// <summary>Pairs of curves that lie on top of each other along a stretch, with a place on it.</summary>
    public ImmutableArray<(string A, string B, Vec2 At)> Overlaps { get; private set; } = [];

    /// <summary>Places where two curves cross between their ends.</summary>
    public ImmutableArray<(string A, string B, Vec2 At)> CrossedAt { get; private set; } = [];

    public static Arrangement Of(Sketch sketch)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var curves = sketch.Entities.Where(e => !e.Construction).Select(e => SketchCurve.Of(sketch, e)).OfType<SketchCurve>().ToList();
        var arrangement = new Arrangement();
        arrangement.Split(curves);
        arrangement.Prune();
        var halves = Enumerable.Range(0, arrangement.pieces.Count * 2).ToList();
        arrangement.Regions = Nest(arrangement.Trace(halves));
        return arrangement;
    }

    /// <summary>The regions of these keys; where none is asked for, all of even depth. Refuses keys that are gone.</summary>
    public Outcome<ImmutableArray<Region>> Choose(IReadOnlyCollection<string> keys)
    {
        ArgumentNullException.ThrowIfNull(keys);
        if (Regions.IsEmpty)
        {
            var gap = OpenEnds.IsEmpty ? "" : $" The nearest gap is {OpenEnds.Min(o => o.Gap):0.###} mm at {OpenEnds.MinBy(o => o.Gap)!.At} on {OpenEnds.MinBy(o => o.Gap)!.Entity}.";
            return new Refusal("region.none", $"The sketch closes no region.{gap}");
        }

        if (keys.Count == 0)
        {
            return Regions.Where(r => r.Depth % 2 == 0).ToImmutableArray();
        }

        var chosen = ImmutableArray.CreateBuilder<Region>();
        foreach (var key in keys)
        {
            var wanted = key.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var match = Regions.FirstOrDefault(r => Matches(r.Key, wanted));
            if (match is null)
            {
                return new Refusal("region.lost", $"No region is bounded by {key}. The sketch has: {string.Join("; ", Regions.Take(8).Select(r => r.Key))}.", key);
            }

            chosen.Add(match);
        }

        return chosen.ToImmutable();
    }

    /// <summary>Regions that touch along edges joined into one, so that a profile has no walls inside.</summary>
    public ImmutableArray<Region> Join(IEnumerable<Region> regions)
    {
        var chosen = regions.SelectMany(r => r.Outer.Concat(r.Holes.SelectMany(h => h))).ToHashSet(ReferenceEqualityComparer.Instance);
        var halves = new List<int>();
        for (var h = 0; h < pieces.Count * 2; h++)
        {
            if (chosen.Contains(EdgeOf(h)) && !chosen.Contains(EdgeOf(h ^ 1)))
            {
                halves.Add(h);
            }
        }

        return [.. Nest(Trace(halves)).Where(r => r.Depth % 2 == 0)];
    }

    private ProfileEdge EdgeOf(int half)
    {
        if (!edges.TryGetValue(half, out var edge))
        {
            edge = pieces[half / 2].Edge;
            edges[half] = edge = half % 2 == 0 ? edge : edge.Reversed;
        }

        return edge;
    }

    private int StartOf(int half) => half % 2 == 0 ? pieces[half / 2].From : pieces[half / 2].To;

    private int EndOf(int half) => StartOf(half ^ 1);

    private static bool Matches(string key, string[] wanted)
    {
        var parts = key.Split(' ');
        return parts.Length == wanted.Length && wanted.All(w => w[0] is '+' or '-' ? parts.Contains(w) : parts.Contains("+" + w) || parts.Contains("-" + w));
    }

    private void Split(List<SketchCurve> curves)
    {
        var cuts = curves.Select(c => c.Full ? new List<double>() : [0, c.End]).ToList();
        var crossed = ImmutableArray.CreateBuilder<(string, string, Vec2)>();
        foreach (var (i, k) in Near(curves))
        {
            foreach (var p in Crossings.Of(curves[i], curves[k]))
            {
                var (t, u) = (curves[i].ParameterOf(p)!.Value, curves[k].ParameterOf(p)!.Value);
                cuts[i].Add(t);
                cuts[k].Add(u);
                if (Between(curves[i], p) && Between(curves[k], p))
                {
                    crossed.Add((curves[i].Entity, curves[k].Entity, p));
                }
            }
        }

        CrossedAt = crossed.ToImmutable();

        var known = new Dictionary<(int, int, long, long), string>();
        var overlaps = ImmutableArray.CreateBuilder<(string, string, Vec2)>();
        for (var i = 0; i < curves.Count; i++)
        {
            foreach (var (from, to, edge) in PiecesOf(curves[i], cuts[i]))
            {
                var middle = edge.Inside(0.5);
                var key = (Math.Min(from, to), Math.Max(from, to), (long)Math.Round(middle.X * 1e5), (long)Math.Round(middle.Y * 1e5));
                if (known.TryGetValue(key, out var other))
                {
                    overlaps.Add((other, edge.Entity, middle));
                }
                else
                {
                    known[key] = edge.Entity;
                    pieces.Add((from, to, edge));
                }
            }
        }

        Overlaps = overlaps.ToImmutable();
    }

    private static bool Between(in SketchCurve curve, Vec2 p) => curve.Full || (p.DistanceTo(curve.At(0)) > 10 * Tolerances.Length && p.DistanceTo(curve.At(curve.End)) > 10 * Tolerances.Length);

    /// <summary>Pairs of curves whose boxes touch, by a sweep along x.</summary>
    private static IEnumerable<(int, int)> Near(List<SketchCurve> curves)
    {
        var boxes = curves.ConvertAll(c => c.Box());
        var order = Enumerable.Range(0, curves.Count).OrderBy(i => boxes[i].Low.X).ToList();
        var open = new List<int>();
        foreach (var i in order)
        {
            open.RemoveAll(k => boxes[k].High.X < boxes[i].Low.X - Tolerances.Length);
            foreach (var k in open)
            {
                if (boxes[k].High.Y >= boxes[i].Low.Y - Tolerances.Length && boxes[k].Low.Y <= boxes[i].High.Y + Tolerances.Length)
                {
                    yield return (Math.Min(i, k), Math.Max(i, k));
                }
            }

            open.Add(i);
        }
    }

    private IEnumerable<(int From, int To, ProfileEdge Edge)> PiecesOf(SketchCurve curve, List<double> cuts)
    {
        var slack = Tolerances.Length * (curve.Free is { } free ? free.End : 1) / Math.Max(curve.Size, Tolerances.Length);
        var sorted = cuts.Order().Aggregate(new List<double>(), (kept, t) =>
        {
            if (kept.Count == 0 || t - kept[^1] > slack)
            {
                kept.Add(t);
            }

            return kept;
        });
        if (curve.Full)
        {
            if (sorted.Count == 0)
            {
                sorted.Add(0);
            }

            sorted.Add(sorted[0] + curve.End);
        }

        for (var i = 0; i + 1 < sorted.Count; i++)
        {
            var (from, to) = (Vertex(curve.At(sorted[i])), Vertex(curve.At(curve.Free is { Closed: true } f ? f.Wrapped(sorted[i + 1]) : sorted[i + 1])));
            if (from != to || (curve.Full && sorted.Count == 2))
            {
                yield return (from, to, new ProfileEdge(curve.Entity, vertices[from], vertices[to], curve.Centre, curve.Radius, true, true) { Free = curve.Free, Stretch = curve.Free is null ? default : (sorted[i], sorted[i + 1]) });
            }
        }
    }

    private int Vertex(Vec2 p)
    {
        const double Cell = 1e-5;
        var (gx, gy) = ((long)Math.Floor(p.X / Cell), (long)Math.Floor(p.Y / Cell));
        for (var dx = -1; dx <= 1; dx++)
        {
            for (var dy = -1; dy <= 1; dy++)
            {
                foreach (var v in grid.GetValueOrDefault((gx + dx, gy + dy)) ?? [])
                {
                    if (vertices[v].DistanceTo(p) < 5 * Tolerances.Length)
                    {
                        return v;
                    }
                }
            }
        }

        vertices.Add(p);
        (grid.TryGetValue((gx, gy), out var cell) ? cell : grid[(gx, gy)] = []).Add(vertices.Count - 1);
        return vertices.Count - 1;
    }

    /// <summary>Takes away pieces that end in the air, until none does.</summary>
    private void Prune()
    {
        var degree = new int[vertices.Count];
        foreach (var (from, to, _) in pieces)
        {
            degree[from]++;
            degree[to]++;
        }

        var loose = pieces.SelectMany(p => new[] { (Vertex: p.From, p.Edge.Entity), (Vertex: p.To, p.Edge.Entity) }).Where(p => degree[p.Vertex] == 1).ToList();
        OpenEnds = [.. loose.Select(l => new OpenEnd(vertices[l.Vertex], l.Entity,
            loose.Where(o => o.Vertex != l.Vertex).Select(o => vertices[o.Vertex].DistanceTo(vertices[l.Vertex])).DefaultIfEmpty(double.PositiveInfinity).Min()))];
        bool removed;
        do
        {
            removed = false;
            for (var i = pieces.Count - 1; i >= 0; i--)
            {
                var (from, to, _) = pieces[i];
                if (degree[from] == 1 || degree[to] == 1)
                {
                    degree[from]--;
                    degree[to]--;
                    pieces.RemoveAt(i);
                    removed = true;
                }
            }
        }
        while (removed);
    }

    /// <summary>Loops of half-edges, each taking the sharpest left turn at every vertex.</summary>
    private List<ImmutableArray<ProfileEdge>> Trace(List<int> halves)
    {
        var around = halves.GroupBy(StartOf).ToDictionary(g => g.Key, g => g.OrderBy(DirectionOf).ToList());
        var used = new HashSet<int>();
        var loops = new List<ImmutableArray<ProfileEdge>>();
        foreach (var first in halves)
        {
            if (used.Contains(first))
            {
                continue;
            }

            var loop = ImmutableArray.CreateBuilder<ProfileEdge>();
            var half = first;
            while (used.Add(half))
            {
                loop.Add(EdgeOf(half));
                half = NextAfter(half, around[EndOf(half)]);
            }

            loops.Add(loop.ToImmutable());
        }

        return loops;
    }

    /// <summary>Of the half-edges that leave the end of this one, the first clockwise from the way back.</summary>
    private int NextAfter(int half, List<int> leaving)
    {
        var back = DirectionOf(half ^ 1);
        var best = leaving[^1];
        foreach (var candidate in leaving)
        {
            if (DirectionOf(candidate).CompareTo(back) < 0)
            {
                best = candidate;
            }
        }

        return best;
    }

    /// <summary>The direction in which a half-edge leaves its vertex: the angle first, then how it bends, so that curves
    /// that touch there stand in the right order.</summary>
    private (double Angle, double Bend) DirectionOf(int half)
    {
        var edge = EdgeOf(half);
        if (edge.Free is { } free)
        {
            var way = edge.Forward ? 1 : -1;
            var t = free.Closed ? free.Wrapped(edge.Stretch.From) : edge.Stretch.From;
            return (Rounded((free.Slope(t) * way).Angle), way * free.Curvature(t));
        }

        if (!edge.Round)
        {
            return (Rounded((edge.To - edge.From).Angle), 0);
        }

        var outward = edge.From - edge.Centre;
        var tangent = edge.Counterclockwise ? outward.Left : -outward.Left;
        return (Rounded(tangent.Angle), (edge.Counterclockwise ? 1 : -1) / edge.Radius);
    }

    private static double Rounded(double angle)
    {
        var r = Math.Round(angle, 8);
        return r <= -3.14159265 ? r + 6.28318530 : r;
    }

    private static ImmutableArray<Region> Nest(List<ImmutableArray<ProfileEdge>> loops)
    {
        var outers = loops.Where(l => Loops.Area(l) > 0).OrderByDescending(l => Loops.Area(l)).ToList();
        var holes = loops.Where(l => Loops.Area(l) < 0).ToList();
        var parentOf = holes.ToDictionary(h => h, h => outers.Where(o => -Loops.Area(h) < Loops.Area(o) - 1e-9 && Loops.Contain(o, PointOf(h)) && !SharesEdges(o, h)).LastOrDefault());
        var regions = outers.Select(o => (Outer: o, Holes: holes.Where(h => parentOf[h] == o).ToImmutableArray())).ToList();

        int DepthOf(ImmutableArray<ProfileEdge> outer)
        {
            return outers.Count(o => o != outer && Loops.Area(o) > Loops.Area(outer) && Loops.Contain(o, PointOf(outer)) && !SharesEdges(o, outer));
        }

        return [.. regions.Select(r => new Region(KeyOf(r.Outer), r.Outer, r.Holes, DepthOf(r.Outer)))];
    }

    private static Vec2 PointOf(ImmutableArray<ProfileEdge> loop) => loop[0].Inside(0.4142);

    private static bool SharesEdges(ImmutableArray<ProfileEdge> a, ImmutableArray<ProfileEdge> b) =>
        a.Any(x => b.Any(y => x.Entity == y.Entity && x.From == y.To && x.To == y.From && x.Forward != y.Forward));

    private static string KeyOf(IEnumerable<ProfileEdge> outer) =>
        string.Join(' ', outer.Select(e => (e.Forward ? "+" : "-") + e.Entity).Distinct().Order(StringComparer.Ordinal));
}
