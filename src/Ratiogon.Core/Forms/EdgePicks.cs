using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Picked edges of one body; what fillets and chamfers share.</summary>
/// <param name="Body">The body.</param>
/// <param name="Edges">Numbers of its edges, each once.</param>
internal sealed record EdgePicks(FormBody Body, ImmutableArray<int> Edges)
{
    /// <summary>Of edges that were picked by a face: that face; of one between two picked faces, the one picked first.</summary>
    public ImmutableDictionary<int, int> Sides { get; init; } = ImmutableDictionary<int, int>.Empty;

    public static Outcome<EdgePicks> On(FormSite site, Refs picks)
    {
        FormBody? body = null;
        var edges = new List<int>();
        var sides = ImmutableDictionary.CreateBuilder<int, int>();
        foreach (var pick in picks)
        {
            var on = site.AllOn(pick);
            if (!on.Done)
            {
                return on.Refusal!;
            }

            var (b, parts) = on.Value;
            if (body is not null && b != body)
            {
                return new Refusal("form.two-bodies", "The edges lie on different bodies: one step changes one body.", pick);
            }

            body = b;
            if (parts.Any(p => p.Kind is not (SubShapeKind.Edge or SubShapeKind.Face)))
            {
                return new Refusal("form.no-edge", $"'{pick}' is no edge and no face.", pick);
            }

            foreach (var part in parts)
            {
                int[] found =
                    part.Kind == SubShapeKind.Edge
                        ? [part.Index]
                        :
                        [
                            .. Enumerable
                                .Range(0, b.Topology.Edges.Length)
                                .Where(i => b.Topology.Edges[i] is { Seam: false } e && e.Faces.Contains(part.Index)),
                        ];
                edges.AddRange(found);
                foreach (var edge in found.Where(e => part.Kind == SubShapeKind.Face && !sides.ContainsKey(e)))
                {
                    sides[edge] = part.Index;
                }
            }
        }

        return body is null
            ? new Refusal("form.incomplete", "Pick an edge.", "edges")
            : new EdgePicks(body, [.. edges.Distinct()]) { Sides = sides.ToImmutable() };
    }

    /// <summary>A name for the face that takes the place of an edge.</summary>
    public static string Word(string edge) => edge.Replace('^', '~');

    /// <summary>Behind "the largest that fits": how many edges, where there are several.</summary>
    public static string All(int edges) => edges > 1 ? $" all {edges}" : "";

    public static Vec3 Place(EdgePicks picked, int edge) => picked.Body.Topology.Edges[edge].Middle;

    /// <summary>The direction of a straight edge, the same way round for as long as it lies between the same faces.</summary>
    private static Vec3? Line(FormBody body, int edge) => Datums.BodyThings.Edge("", body.Topology, edge, body.Names)?.Line?.Direction;

    /// <summary>The body with its edges changed; what takes an edge's place is named by it. Where that does not come out sound of
    /// all edges at once, those that do not meet are taken one group after the other, and then one edge after the other.</summary>
    /// <param name="site">Where.</param>
    /// <param name="step">The step that changes them.</param>
    /// <param name="what">Stands in the names of the new faces.</param>
    /// <param name="picked">The edges.</param>
    /// <param name="change">Changes edges of a body, given by their numbers there and as they were picked.</param>
    public static Outcome<FormResult> Change(
        FormSite site,
        string step,
        string what,
        EdgePicks picked,
        Func<FormBody, IReadOnlyList<(int Edge, int Picked)>, Outcome<SolidResult>> change
    )
    {
        var once = Changed(picked.Body, step, what, change(picked.Body, [.. picked.Edges.Select(e => (e, e))]));
        if (once.Done || picked.Edges.Length == 1)
        {
            return once.Map<FormResult>(shape => new BodiesResult([new ChangedBody(picked.Body.Name, shape)]));
        }

        var groups = picked.Groups();
        foreach (
            var parts in new[]
            {
                groups,
                [.. groups.SelectMany(g => g.OrderByDescending(e => picked.Body.Topology.Edges[e].Length)).Select(e => (List<int>)[e])],
            }.Where(p => p.Count > 1)
        )
        {
            var so = OneByOne(site, step, what, picked, parts, change);
            if (so.Done)
            {
                return new BodiesResult([new ChangedBody(picked.Body.Name, so.Value)])
                {
                    Notes = parts.Count > groups.Count ? ["done edge by edge: where they meet, the corners are not blended as one"] : [],
                };
            }
        }

        return once.Refusal!;
    }

    /// <summary>Which edges cannot be changed, each by itself or with its neighbours: halved until few are left.</summary>
    public static List<int> Standing(IReadOnlyList<int> edges, Func<IReadOnlyList<int>, bool> fits, int most = 3)
    {
        if (edges.Count == 0 || fits(edges))
        {
            return [];
        }

        if (edges.Count == 1)
        {
            return [edges[0]];
        }

        var half = edges.Count / 2;
        var found = Standing([.. edges.Take(half)], fits, most);
        return found.Count >= most ? found : [.. found, .. Standing([.. edges.Skip(half)], fits, most - found.Count)];
    }

    private static Outcome<Shaped> OneByOne(
        FormSite site,
        string step,
        string what,
        EdgePicks picked,
        List<List<int>> parts,
        Func<FormBody, IReadOnlyList<(int Edge, int Picked)>, Outcome<SolidResult>> change
    )
    {
        Outcome<Shaped> so = picked.Body.Shape;
        foreach (var part in parts)
        {
            var body = so.Value == picked.Body.Shape ? picked.Body : new FormBody(site.Kernel, picked.Body.Name, picked.Body.Key, so.Value);
            List<(int Edge, int Picked)> now =
            [
                .. part.SelectMany(e =>
                    body.Names.All(picked.Body.Names.Edges[e]).Where(p => p.Kind == SubShapeKind.Edge).Select(p => (p.Index, e))
                ),
            ];
            so = part.TrueForAll(e => now.Exists(n => n.Picked == e))
                ? Changed(body, step, what, change(body, now))
                : new Refusal("form.lost-edge", "An edge is gone once another is done.");
            if (!so.Done)
            {
                return so;
            }
        }

        return so;
    }

    /// <summary>The edges in groups that hang together by their ends.</summary>
    private List<List<int>> Groups()
    {
        var groups = new List<List<int>>();
        foreach (var edge in Edges)
        {
            var ends = Body.Topology.Edges[edge].Ends;
            var met = groups.Where(g => g.Exists(e => Body.Topology.Edges[e].Ends.Any(ends.Contains))).ToList();
            groups.RemoveAll(met.Contains);
            groups.Add([.. met.SelectMany(g => g), edge]);
        }

        return groups;
    }

    private static Outcome<Shaped> Changed(FormBody body, string step, string what, Outcome<SolidResult> changed) =>
        changed.Map(made =>
            Shaped.Of(
                made,
                step,
                [body.Shape],
                o =>
                    o.Kind switch
                    {
                        OriginKind.Edge => $"{step}/{what}/({Word(body.Names.Edges[o.Index])})",
                        OriginKind.Vertex => $"{step}/{what}/corner/({Word(body.Names.Vertices[o.Index])})",
                        _ => $"{step}/face",
                    },
                o => o.Kind == OriginKind.Edge && Line(body, o.Index) is { } along ? new AxisGuide(along, along) : AxisGuide.None
            )
        );
}
