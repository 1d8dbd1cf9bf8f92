namespace Ratiogon.Core;

/// <summary>Sets of numbers that only ever join: union-find with path halving (Tarjan and van Leeuwen, 1984).</summary>
/// <param name="count">The numbers are 0 … count - 1, each on its own at first.</param>
internal sealed class DisjointSets(int count)
{
    private readonly int[] parent = [.. Enumerable.Range(0, count)];

    /// <summary>The number that stands for the set of another.</summary>
    public int Of(int v)
    {
        while (parent[v] != v)
        {
            v = parent[v] = parent[parent[v]];
        }

        return v;
    }

    /// <summary>Joins the sets of two numbers; the second's stands for both.</summary>
    public void Join(int a, int b) => parent[Of(a)] = Of(b);
}
