using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Sketches.Regions;

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
    private double[] aim = [];

    /// <summary>At which share of the shortest reach the half-edges about a vertex are told apart.</summary>
    private const double AimShare = 0.2;

    /// <summary>How near to each other, as a share of the smaller curve, two crossings may be one touch.</summary>
    private const double Touching = 0.02;

    private Arrangement() { }

    /// <summary>All bounded faces, the largest first.</summary>
    public ImmutableArray<Region> Regions { get; private set; } = [];

    /// <summary>Loose ends of curves that bound nothing.</summary>
    public ImmutableArray<OpenEnd> OpenEnds { get; private set; } = [];

    /// <summary>Pairs of curves that lie on top of each other along a stretch, with a place on it.</summary>
    public ImmutableArray<CurveMeeting> Overlaps { get; private set; } = [];

    /// <summary>Places where two curves cross between their ends.</summary>
    public ImmutableArray<CurveMeeting> CrossedAt { get; private set; } = [];

    // Sketches are immutable: what was worked out for one holds as long as it lives, and is only read once it is here.
    private static readonly ConditionalWeakTable<Sketch, Arrangement> Kept = [];

    public static Arrangement Of(Sketch sketch)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        return Kept.GetValue(sketch, Made);
    }

    private static Arrangement Made(Sketch sketch)
    {
        var curves = sketch.Entities.Where(e => !e.Construction).Select(e => SketchCurve.Of(sketch, e)).OfType<SketchCurve>().ToList();
        var arrangement = new Arrangement();
        arrangement.Split(curves);
        arrangement.Prune();
        arrangement.PartTouching();
        arrangement.Aim();
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
            var gap = OpenEnds.IsEmpty
                ? ""
                : $" The nearest gap is {OpenEnds.Min(o => o.Gap):0.###} mm at {OpenEnds.MinBy(o => o.Gap)!.At} on "
                    + $"{OpenEnds.MinBy(o => o.Gap)!.Entity}.";
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
            List<Region> matches = [.. Regions.Where(r => Matches(r.Key, wanted))];
            if (matches.Count > 1)
            {
                return new Refusal(
                    "region.several",
                    $"{matches.Count} regions are bounded by {key}: {string.Join("; ", matches.Take(8).Select(r => r.Key))}. Pick one "
                        + "of them.",
                    key
                );
            }

            if (matches is not [var match])
            {
                return new Refusal(
                    "region.lost",
                    $"No region is bounded by {key}. The sketch has: {string.Join("; ", Regions.Take(8).Select(r => r.Key))}.",
                    key
                );
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

        // Whatever is traced has chosen material on its left, islands in holes as well.
        return [.. Nest(Trace(halves))];
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
        var numbered = wanted.Any(w => w[0] == '#');
        var parts = key.Split(' ').Where(p => numbered || p[0] != '#').ToHashSet(StringComparer.Ordinal);
        return parts.Count == wanted.Length
            && wanted.All(w => w[0] is '+' or '-' or '#' ? parts.Contains(w) : parts.Contains("+" + w) || parts.Contains("-" + w));
    }

    private void Split(List<SketchCurve> curves)
    {
        var cuts = curves.Select(c => c.Full ? new List<double>() : [0, c.End]).ToList();
        var crossed = ImmutableArray.CreateBuilder<CurveMeeting>();
        foreach (var (i, k) in Near(curves))
        {
            foreach (var (p, t, u) in Met(curves[i], curves[k]))
            {
                cuts[i].Add(t);
                cuts[k].Add(u);
                if (Between(curves[i], p) && Between(curves[k], p))
                {
                    crossed.Add(new CurveMeeting(curves[i].Entity, curves[k].Entity, p));
                }
            }
        }

        CrossedAt = crossed.ToImmutable();

        var known = new Dictionary<(int, int, long, long), string>();
        var overlaps = ImmutableArray.CreateBuilder<CurveMeeting>();
        for (var i = 0; i < curves.Count; i++)
        {
            foreach (var (from, to, edge) in PiecesOf(curves[i], cuts[i]))
            {
                var middle = edge.Inside(0.5);
                var key = (Math.Min(from, to), Math.Max(from, to), (long)Math.Round(middle.X * 1e5), (long)Math.Round(middle.Y * 1e5));
                if (known.TryGetValue(key, out var other))
                {
                    overlaps.Add(new CurveMeeting(other, edge.Entity, middle));
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

    /// <summary>Where two curves cross or touch, with the parameters on both. Where they lie within a hair of each other between two
    /// places, they touch there once.</summary>
    private static List<(Vec2 At, double T, double U)> Met(in SketchCurve a, in SketchCurve b)
    {
        var met = new List<(Vec2 At, double T, double U)>();
        foreach (var p in Crossings.Of(a, b))
        {
            met.Add((p, a.ParameterOf(p)!.Value, b.ParameterOf(p)!.Value));
        }

        for (var (i, k) = (0, 1); k < met.Count; (i, k) = k + 1 < met.Count ? (i, k + 1) : (i + 1, i + 2))
        {
            // On a closed curve the shorter way round is meant.
            var (one, other) = (met[i], met[k]);
            var way = other.T - one.T;
            way -= a.Full ? a.End * Math.Round(way / a.End) : 0;
            var t = one.T + (way / 2);
            t -= a.Full ? a.End * Math.Floor(t / a.End) : 0;
            var middle = a.At(t);
            if (
                one.At.DistanceTo(other.At) < Touching * Math.Min(a.Size, b.Size)
                && middle.DistanceTo(one.At) <= one.At.DistanceTo(other.At) + Tolerances.Length
                && b.ParameterOf(middle) is { } u
                && b.At(u).DistanceTo(middle) < 2 * Tolerances.Length
            )
            {
                met[i] = (middle, t, u);
                met.RemoveAt(k);
                (i, k) = (0, 0);
            }
        }

        return met;
    }

    private static bool Between(in SketchCurve curve, Vec2 p) =>
        curve.Full || (p.DistanceTo(curve.At(0)) > 10 * Tolerances.Length && p.DistanceTo(curve.At(curve.End)) > 10 * Tolerances.Length);

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
        var sorted = cuts.Order()
            .Aggregate(new List<double>(), (kept, t) =>
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
            var (from, to) = (
                Vertex(curve.At(sorted[i])),
                Vertex(curve.At(curve.Free is { Closed: true } f ? f.Wrapped(sorted[i + 1]) : sorted[i + 1]))
            );
            if (from != to || (curve.Full && sorted.Count == 2))
            {
                yield return (
                    from,
                    to,
                    new ProfileEdge(curve.Entity, vertices[from], vertices[to], curve.Centre, curve.Radius, true, true)
                    {
                        Free = curve.Free,
                        Stretch = curve.Free is null ? default : new Interval(sorted[i], sorted[i + 1]),
                    }
                );
            }
        }
    }

    private int Vertex(Vec2 p)
    {
        // In millimetres: ends within one cell or its neighbours are tried for being one.
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

        var loose = pieces
            .SelectMany(p => new[] { (Vertex: p.From, p.Edge.Entity), (Vertex: p.To, p.Edge.Entity) })
            .Where(p => degree[p.Vertex] == 1)
            .ToList();
        OpenEnds =
        [
            .. loose.Select(l => new OpenEnd(
                vertices[l.Vertex],
                l.Entity,
                loose
                    .Where(o => o.Vertex != l.Vertex)
                    .Select(o => vertices[o.Vertex].DistanceTo(vertices[l.Vertex]))
                    .DefaultIfEmpty(double.PositiveInfinity)
                    .Min()
            )),
        ];
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
        } while (removed);
    }

    /// <summary>Gives outlines that only touch in a point a vertex each: the one is then a hole in the other, or beside it, as if
    /// they stood a hair apart.</summary>
    private void PartTouching()
    {
        var block = Blocks.Of(vertices.Count, pieces.ConvertAll(p => (p.From, p.To)));
        var vertexOf = new Dictionary<(int Vertex, int Block), int>();
        var taken = new HashSet<int>();
        int Own(int vertex, int of)
        {
            if (!vertexOf.TryGetValue((vertex, of), out var own))
            {
                own = taken.Add(vertex) ? vertex : vertices.Count;
                if (own == vertices.Count)
                {
                    vertices.Add(vertices[vertex]);
                }

                vertexOf[(vertex, of)] = own;
            }

            return own;
        }

        for (var i = 0; i < pieces.Count; i++)
        {
            pieces[i] = (Own(pieces[i].From, block[i]), Own(pieces[i].To, block[i]), pieces[i].Edge);
        }
    }

    /// <summary>Finds the directions in which the half-edges leave each vertex, all at one distance from it: curves that touch
    /// there have parted by then, and none cross before their ends.</summary>
    private void Aim()
    {
        var reach = new double[vertices.Count];
        Array.Fill(reach, double.PositiveInfinity);
        for (var h = 0; h < pieces.Count * 2; h++)
        {
            reach[StartOf(h)] = Math.Min(reach[StartOf(h)], Reach(EdgeOf(h)));
        }

        aim = new double[pieces.Count * 2];
        for (var h = 0; h < aim.Length; h++)
        {
            var edge = EdgeOf(h);
            aim[h] = (At(edge, AimShare * reach[StartOf(h)]) - edge.From).Angle;
        }
    }

    /// <summary>How far from its beginning an edge certainly gets, going straight away from it.</summary>
    private static double Reach(ProfileEdge edge) =>
        edge.Free is not null ? Enumerable.Range(1, 8).Max(i => edge.Inside(i / 16.0).DistanceTo(edge.From))
        : edge.Round ? Math.Min(edge.Radius, 2 * edge.Radius * Math.Sin(Math.Min(Math.Abs(edge.Turn) / 2, Math.PI / 2)))
        : edge.From.DistanceTo(edge.To);

    /// <summary>Where an edge is at a distance from its beginning.</summary>
    private static Vec2 At(ProfileEdge edge, double distance)
    {
        if (edge.Free is null && !edge.Round)
        {
            return edge.From + ((edge.To - edge.From).Unit * distance);
        }

        if (edge.Free is null)
        {
            var turn = 2 * Math.Asin(Math.Min(1, distance / (2 * edge.Radius))) * (edge.Counterclockwise ? 1 : -1);
            return edge.Centre + Vec2.Polar((edge.From - edge.Centre).Angle + turn, edge.Radius);
        }

        var (low, high) = (0.0, 0.5);
        for (var i = 0; i < 48; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = edge.Inside(middle).DistanceTo(edge.From) < distance ? (middle, high) : (low, middle);
        }

        return edge.Inside((low + high) / 2);
    }

    /// <summary>Loops of half-edges, each taking the sharpest left turn at every vertex.</summary>
    private List<Loop> Trace(List<int> halves)
    {
        var parts = new DisjointSets(vertices.Count);
        foreach (var h in halves)
        {
            parts.Join(StartOf(h), EndOf(h));
        }

        var around = halves.GroupBy(StartOf).ToDictionary(g => g.Key, g => g.OrderBy(DirectionOf).ToList());
        var used = new HashSet<int>();
        var loops = new List<Loop>();
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

            loops.Add(new Loop(loop.ToImmutable(), parts.Of(StartOf(first))));
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

    private double DirectionOf(int half) => aim[half];

    /// <summary>A closed chain of half-edges, with the connected part of the arrangement that it is of.</summary>
    private sealed class Loop(ImmutableArray<ProfileEdge> edges, int part)
    {
        public ImmutableArray<ProfileEdge> Edges => edges;

        public int Part => part;

        public double Area { get; } = Loops.Area(edges);

        /// <summary>A place on it that is no vertex.</summary>
        public Vec2 Place { get; } = edges[0].Inside(0.4142);

        public (Vec2 Low, Vec2 High) Box { get; } = Around(edges.SelectMany(e => e.Drawn().Append(e.To)));

        /// <summary>Whether a place lies inside; the chords of the box stray from the curves by less than a hundredth of it.</summary>
        public bool Holds(Vec2 p)
        {
            var slack = 0.01 * (Box.High - Box.Low).Length;
            return p.X >= Box.Low.X - slack
                && p.X <= Box.High.X + slack
                && p.Y >= Box.Low.Y - slack
                && p.Y <= Box.High.Y + slack
                && Loops.Contain(edges, p);
        }

        private static (Vec2 Low, Vec2 High) Around(IEnumerable<Vec2> points)
        {
            var (low, high) = (new Vec2(double.MaxValue, double.MaxValue), new Vec2(double.MinValue, double.MinValue));
            foreach (var p in points)
            {
                (low, high) = (
                    new Vec2(Math.Min(low.X, p.X), Math.Min(low.Y, p.Y)),
                    new Vec2(Math.Max(high.X, p.X), Math.Max(high.Y, p.Y))
                );
            }

            return (low, high);
        }
    }

    /// <summary>Regions out of loops: every connected part lies in a face of another or outside of all, as a hole, and its own
    /// faces are one deeper than that face.</summary>
    private static ImmutableArray<Region> Nest(List<Loop> loops)
    {
        var outers = loops.Where(l => l.Area > 0).OrderByDescending(l => l.Area).ToList();
        var holesOf = outers.ToDictionary(o => o, _ => ImmutableArray.CreateBuilder<ImmutableArray<ProfileEdge>>());
        var around = new Dictionary<int, Loop?>();
        foreach (var hole in loops.Where(l => l.Area < 0))
        {
            var parent = outers.LastOrDefault(o => o.Part != hole.Part && o.Area > -hole.Area && o.Holds(hole.Place));
            around.TryAdd(hole.Part, parent);
            if (parent is not null)
            {
                holesOf[parent].Add(hole.Edges);
            }
        }

        int DepthOf(Loop loop)
        {
            var depth = 0;
            for (var up = around.GetValueOrDefault(loop.Part); up is not null; up = around.GetValueOrDefault(up.Part))
            {
                depth++;
            }

            return depth;
        }

        return Apart([.. outers.Select(o => new Region(KeyOf(o.Edges), o.Edges, holesOf[o].ToImmutable(), DepthOf(o)))]);
    }

    /// <summary>Regions that the same sides of the same curves bound are numbered from left to right, those above each other
    /// upwards.</summary>
    private static ImmutableArray<Region> Apart(ImmutableArray<Region> regions)
    {
        var numbers = regions
            .GroupBy(r => r.Key)
            .Where(g => g.Count() > 1)
            .SelectMany(g =>
                g.OrderBy(r => Math.Round(r.Outer.Min(e => e.From.X), 6))
                    .ThenBy(r => r.Outer.Min(e => e.From.Y))
                    .Select((r, i) => (Region: r, Number: i + 1))
            )
            .ToDictionary(n => (object)n.Region, n => n.Number, ReferenceEqualityComparer.Instance);
        return numbers.Count == 0
            ? regions
            : [.. regions.Select(r => numbers.TryGetValue(r, out var n) ? r with { Key = $"{r.Key} #{n}" } : r)];
    }

    private static string KeyOf(IEnumerable<ProfileEdge> outer) =>
        string.Join(' ', outer.Select(e => (e.Forward ? "+" : "-") + e.Entity).Distinct().Order(StringComparer.Ordinal));
}

/// <summary>Two curves that meet where they should not.</summary>
/// <param name="A">One of them.</param>
/// <param name="B">The other.</param>
/// <param name="At">Where.</param>
public readonly record struct CurveMeeting(string A, string B, Vec2 At);
