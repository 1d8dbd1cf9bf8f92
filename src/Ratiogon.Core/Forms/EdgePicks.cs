using System.Collections.Immutable;
using Ratiogon.Core.Geometry;

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
                int[] found = part.Kind == SubShapeKind.Edge ? [part.Index] : [.. Enumerable.Range(0, b.Topology.Edges.Length).Where(i => b.Topology.Edges[i] is { Seam: false } e && e.Faces.Contains(part.Index))];
                edges.AddRange(found);
                foreach (var edge in found.Where(e => part.Kind == SubShapeKind.Face && !sides.ContainsKey(e)))
                {
                    sides[edge] = part.Index;
                }
            }
        }

        return body is null ? new Refusal("form.incomplete", "Pick an edge.", "edges") : new EdgePicks(body, [.. edges.Distinct()]) { Sides = sides.ToImmutable() };
    }

    /// <summary>A name for the face that takes the place of an edge.</summary>
    public static string Word(string edge) => edge.Replace('^', '~');

    public static Vec3 Place(EdgePicks picked, int edge) => picked.Body.Topology.Edges[edge].Middle;

    /// <summary>The direction of a straight edge, the same way round for as long as it lies between the same faces.</summary>
    private static Vec3? Line(FormBody body, int edge) => Parts.BodyThings.Edge("", body.Topology, edge, body.Names, "")?.Line?.Direction;

    /// <summary>The body with its edges changed; what takes an edge's place is named by it.</summary>
    public static Outcome<FormResult> Change(FormSite site, string step, string what, EdgePicks picked, Func<ImmutableArray<int>, Outcome<SolidResult>> change) => change(picked.Edges).Then<FormResult>(made =>
    {
        if (!(site.Kernel.Mass(made.Solid).Volume > 0))
        {
            return new Refusal("form.inside-out", "The faces would turn inside out.", "edges");
        }

        var names = picked.Body.Names;
        var shape = Shaped.Of(made, step, [picked.Body.Shape], o => o.Kind switch
        {
            OriginKind.Edge => $"{step}/{what}/({Word(names.Edges[o.Index])})",
            OriginKind.Vertex => $"{step}/{what}/corner/({Word(names.Vertices[o.Index])})",
            _ => $"{step}/face",
        }, o => o.Kind == OriginKind.Edge && Line(picked.Body, o.Index) is { } along ? new AxisGuide(along, along) : AxisGuide.None);
        return new BodiesResult([(picked.Body.Name, shape)]);
    });
}
