namespace Ratiogon.Core.Numerics;

/// <summary>A fill-reducing order for a symmetric sparse matrix: always the node with the fewest neighbours left
/// (Tinney's second scheme, 1967; ties by number, so that the order is reproducible).</summary>
internal static class MinimumDegree
{
    /// <param name="neighbours">For each node, the others it shares an entry with; used up.</param>
    public static int[] Order(HashSet<int>[] neighbours)
    {
        var n = neighbours.Length;
        var order = new int[n];
        var open = new SortedSet<(int Degree, int Node)>();
        for (var i = 0; i < n; i++)
        {
            open.Add((neighbours[i].Count, i));
        }

        for (var k = 0; k < n; k++)
        {
            var (degree, node) = open.Min;
            open.Remove((degree, node));
            order[k] = node;
            var around = neighbours[node];
            foreach (var a in around)
            {
                open.Remove((neighbours[a].Count, a));
                neighbours[a].Remove(node);
                foreach (var b in around)
                {
                    if (b != a)
                    {
                        neighbours[a].Add(b);
                    }
                }

                open.Add((neighbours[a].Count, a));
            }
        }

        return order;
    }
}
