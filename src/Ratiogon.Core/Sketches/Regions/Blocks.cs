namespace Ratiogon.Core.Sketches.Regions;

/// <summary>
/// The biconnected components of a graph: edges that lie on a common cycle, or alone (Hopcroft and Tarjan, "Efficient
/// algorithms for graph manipulation", 1973). Outlines that only touch in a point are different blocks.
/// </summary>
internal static class Blocks
{
    /// <param name="vertexCount">Vertices are numbered from 0.</param>
    /// <param name="edges">Ends of each edge; an edge may begin where it ends, and two may join the same vertices.</param>
    /// <returns>For each edge the number of its block.</returns>
    public static int[] Of(int vertexCount, IReadOnlyList<(int From, int To)> edges)
    {
        var at = new List<int>[vertexCount];
        for (var v = 0; v < vertexCount; v++)
        {
            at[v] = [];
        }

        var block = new int[edges.Count];
        Array.Fill(block, -1);
        var blocks = 0;
        for (var e = 0; e < edges.Count; e++)
        {
            if (edges[e].From == edges[e].To)
            {
                block[e] = blocks++;
                continue;
            }

            at[edges[e].From].Add(e);
            at[edges[e].To].Add(e);
        }

        var (seen, low) = (new int[vertexCount], new int[vertexCount]);
        var (clock, open, path) = (0, new Stack<int>(), new Stack<(int Vertex, int By, int Next)>());
        for (var root = 0; root < vertexCount; root++)
        {
            if (seen[root] > 0)
            {
                continue;
            }

            seen[root] = low[root] = ++clock;
            path.Push((root, -1, 0));
            while (path.TryPop(out var step))
            {
                var (v, by, next) = step;
                if (next < at[v].Count)
                {
                    path.Push((v, by, next + 1));
                    var e = at[v][next];
                    var to = edges[e].From == v ? edges[e].To : edges[e].From;
                    if (e == by)
                    {
                        continue;
                    }

                    if (seen[to] == 0)
                    {
                        open.Push(e);
                        seen[to] = low[to] = ++clock;
                        path.Push((to, e, 0));
                    }
                    else if (seen[to] < seen[v])
                    {
                        open.Push(e);
                        low[v] = Math.Min(low[v], seen[to]);
                    }
                }
                else if (by >= 0)
                {
                    var parent = edges[by].From == v ? edges[by].To : edges[by].From;
                    low[parent] = Math.Min(low[parent], low[v]);
                    if (low[v] >= seen[parent])
                    {
                        for (var e = -1; e != by; )
                        {
                            e = open.Pop();
                            block[e] = blocks;
                        }

                        blocks++;
                    }
                }
            }
        }

        return block;
    }
}
