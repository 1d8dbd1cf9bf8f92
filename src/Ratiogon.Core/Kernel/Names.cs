using System.Collections.Immutable;
using System.Globalization;

namespace Ratiogon.Core.Kernel;

/// <summary>
/// The names of a body's faces, edges and vertices. A face is named by the step that made it and its role there; an
/// edge by its two faces, a vertex by the faces about it; where several share a name, by a neighbour that tells them
/// apart, and only as a last resort by position.
/// </summary>
/// <param name="Faces">By face number.</param>
/// <param name="Edges">By edge number.</param>
/// <param name="Vertices">By vertex number.</param>
public sealed record Names(ImmutableArray<string> Faces, ImmutableArray<string> Edges, ImmutableArray<string> Vertices)
{
    /// <summary>That a name means several pieces where one thing is needed, with the pieces.</summary>
    public static Refusal InPieces(string reference, IEnumerable<string> pieces)
    {
        List<string> all = [.. pieces];
        return new(
            "name.pieces",
            $"'{reference}' is in {all.Count} pieces now, and one is needed: "
                + $"{string.Join(", ", all.Take(4))}{(all.Count > 4 ? " …" : "")}. Pick one of them.",
            reference
        )
        {
            Involved = all,
        };
    }

    private const int MostListed = 3;

    /// <summary>Completes names from the base names of the faces.</summary>
    /// <param name="bases">For each face, the name its history gives it; pieces of one face share it.</param>
    /// <param name="topology">How the body hangs together.</param>
    public static Names Of(IReadOnlyList<string> bases, Topology topology)
    {
        ArgumentNullException.ThrowIfNull(bases);
        ArgumentNullException.ThrowIfNull(topology);
        var neighbours = bases.Select(_ => new HashSet<string>(StringComparer.Ordinal)).ToArray();
        foreach (var edge in topology.Edges)
        {
            foreach (var a in edge.Faces)
            {
                neighbours[a].UnionWith(edge.Faces.Where(b => b != a).Select(b => bases[b]));
            }
        }

        var faces = Distinguish(bases, neighbours, i => topology.Faces[i].Centre);
        var edgeBases = topology
            .Edges.Select(e => string.Join('^', e.Faces.Select(f => faces[f]).Distinct().Order(StringComparer.Ordinal)))
            .ToList();
        var facesAtVertex = topology.Vertices.Select(_ => new SortedSet<string>(StringComparer.Ordinal)).ToArray();
        foreach (var edge in topology.Edges)
        {
            foreach (var end in edge.Ends)
            {
                facesAtVertex[end].UnionWith(edge.Faces.Select(f => faces[f]));
            }
        }

        var around = topology
            .Edges.Select(
                (e, i) => e.Ends.SelectMany(v => facesAtVertex[v]).Except(e.Faces.Select(f => faces[f])).ToHashSet(StringComparer.Ordinal)
            )
            .ToArray();
        var edges = Distinguish(edgeBases, around, i => topology.Edges[i].Middle);
        var vertices = Distinguish(
            [.. facesAtVertex.Select(f => string.Join('^', f) + "^")],
            [.. facesAtVertex.Select(_ => new HashSet<string>())],
            i => topology.Vertices[i]
        );
        return new Names(faces, edges, vertices);
    }

    /// <summary>The face of a name. A name without its distinguishing part finds the pieces' first; a name with one finds
    /// the whole, when the face is no longer in pieces.</summary>
    public int FindFace(string name) => Find(Faces, name);

    public SubShape? Find(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        if (name.Contains('^', StringComparison.Ordinal))
        {
            name = InOrder(name);
            var vertex = Find(Vertices, name);
            var edge = vertex >= 0 ? -1 : Find(Edges, name);
            return vertex >= 0 ? new SubShape(SubShapeKind.Vertex, vertex)
                : edge >= 0 ? new SubShape(SubShapeKind.Edge, edge)
                : null;
        }

        return FindFace(name) is var face and >= 0 ? new SubShape(SubShapeKind.Face, face) : null;
    }

    /// <summary>All that a name means: more than one where what it named is now in pieces.</summary>
    public ImmutableArray<SubShape> All(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        if (!name.Contains('^', StringComparison.Ordinal))
        {
            return [.. Pieces(Faces, name).Select(i => new SubShape(SubShapeKind.Face, i))];
        }

        name = InOrder(name);
        var vertex = Find(Vertices, name);
        return vertex >= 0
            ? [new SubShape(SubShapeKind.Vertex, vertex)]
            : [.. Pieces(Edges, name).Select(i => new SubShape(SubShapeKind.Edge, i))];
    }

    /// <summary>Faces about an edge or a vertex named in any order, in the order that names have. Where brackets tell pieces apart, what
    /// they belong to hangs on the order, which is then left.</summary>
    private static string InOrder(string name) =>
        name.Contains('[', StringComparison.Ordinal) || name.Contains('(', StringComparison.Ordinal)
            ? name
            : string.Join('^', name.TrimEnd('^').Split('^').Order(StringComparer.Ordinal)) + (name.EndsWith('^') ? "^" : "");

    /// <summary>The name of a part now.</summary>
    public string Of(SubShape part) =>
        (
            part.Kind switch
            {
                SubShapeKind.Face => Faces,
                SubShapeKind.Edge => Edges,
                _ => Vertices,
            }
        )[part.Index];

    /// <summary>The existing names nearest to a lost one, for its message.</summary>
    public IReadOnlyList<string> Candidates(string name)
    {
        var root = Base(name);
        var pool = name.Contains('^', StringComparison.Ordinal) ? Edges : Faces;
        return [.. pool.OrderByDescending(n => CommonStart(Base(n), root)).Take(MostListed)];
    }

    private static int Find(ImmutableArray<string> names, string name)
    {
        var exact = names.IndexOf(name);
        if (exact >= 0)
        {
            return exact;
        }

        var root = Base(name);
        var alike = Enumerable.Range(0, names.Length).Where(i => Base(names[i]) == root).ToList();
        return alike.Count == 1 || (alike.Count > 1 && root == name) ? alike[0] : Closest(names, alike, name);
    }

    private static List<int> Pieces(ImmutableArray<string> names, string name)
    {
        if (names.IndexOf(name) is var exact and >= 0)
        {
            return [exact];
        }

        var (root, wanted) = (Base(name), Apart(name));
        var alike = Enumerable.Range(0, names.Length).Where(i => Base(names[i]) == root).ToList();
        List<int> pieces =
            root == name
                ? alike
                : [.. alike.Where(i => wanted.Count > 0 && wanted.TrueForAll(w => Apart(names[i]).Contains(w, StringComparer.Ordinal)))];
        return pieces.Count > 0 ? pieces
            : Find(names, name) is var one and >= 0 ? [one]
            : [];
    }

    /// <summary>Of several pieces, the one that alone shares the most of the neighbours that tell the name's piece apart; -1
    /// where none does or two do alike. Pieces that only their place tells apart are never guessed.</summary>
    private static int Closest(ImmutableArray<string> names, List<int> alike, string name)
    {
        var wanted = Apart(name);
        var shared = alike
            .Select(i => (Index: i, Count: Apart(names[i]).Intersect(wanted, StringComparer.Ordinal).Count()))
            .OrderByDescending(c => c.Count)
            .ToList();
        return shared is [{ Count: > 0 } best, var next, ..] && best.Count > next.Count ? best.Index : -1;
    }

    /// <summary>The neighbours in the last bracket of a name; none where a number follows them.</summary>
    private static List<string> Apart(string name)
    {
        var (items, depth, began) = (new List<string>(), 0, -1);
        for (var i = 0; i < name.Length; i++)
        {
            if (name[i] == '[' && depth++ == 0)
            {
                items.Clear();
                began = i + 1;
            }
            else if (began >= 0 && ((name[i] == ']' && depth == 1) || (name[i] == '&' && depth == 1)))
            {
                items.Add(name[began..i]);
                began = i + 1;
            }

            if (name[i] == ']' && --depth == 0)
            {
                began = -1;
            }
        }

        return items.Any(i => i.Contains('#', StringComparison.Ordinal)) ? [] : items;
    }

    /// <summary>The name without what tells pieces apart.</summary>
    private static string Base(string name)
    {
        var depth = 0;
        var kept = new System.Text.StringBuilder(name.Length);
        foreach (var c in name)
        {
            depth += c == '[' ? 1 : 0;
            if (depth == 0)
            {
                kept.Append(c);
            }

            depth -= c == ']' ? 1 : 0;
        }

        return kept.ToString();
    }

    private static ImmutableArray<string> Distinguish(IReadOnlyList<string> bases, HashSet<string>[] neighbours, Func<int, Vec3> place)
    {
        var names = bases.ToArray();
        foreach (var group in Enumerable.Range(0, bases.Count).GroupBy(i => bases[i]).Where(g => g.Count() > 1))
        {
            var members = group.ToList();
            var shared = members
                .Select(i => neighbours[i])
                .Aggregate(new HashSet<string>(neighbours[members[0]]), (all, next) =>
                {
                    all.IntersectWith(next);
                    return all;
                });
            foreach (
                var alike in members.GroupBy(i =>
                    string.Join('&', neighbours[i].Except(shared).Order(StringComparer.Ordinal).Take(MostListed))
                )
            )
            {
                var ordered = alike
                    .OrderBy(i => Rounded(place(i).X))
                    .ThenBy(i => Rounded(place(i).Y))
                    .ThenBy(i => Rounded(place(i).Z))
                    .ToList();
                for (var k = 0; k < ordered.Count; k++)
                {
                    var which = alike.Key + (ordered.Count > 1 ? "#" + (k + 1).ToString(CultureInfo.InvariantCulture) : "");
                    names[ordered[k]] = $"{bases[ordered[k]]}[{which}]";
                }
            }
        }

        return [.. names];
    }

    private static double Rounded(double v) => Math.Round(v, 5);

    private static int CommonStart(string a, string b)
    {
        var n = 0;
        while (n < a.Length && n < b.Length && a[n] == b[n])
        {
            n++;
        }

        return n;
    }
}
