namespace Ratiogon.Core.Numerics;

/// <summary>
/// Union-find over unknowns that differ by known amounts: each class has a root, and every member is root + offset.
/// A class may also be fixed, which gives all its members a value. With path compression (Tarjan, 1975).
/// </summary>
internal sealed class AffineUnion
{
    private readonly List<int> parent;
    private readonly List<double> offset;
    private readonly List<double?> fixedAt;

    public AffineUnion() => (parent, offset, fixedAt) = ([], [], []);

    private AffineUnion(AffineUnion other) => (parent, offset, fixedAt) = ([.. other.parent], [.. other.offset], [.. other.fixedAt]);

    /// <summary>Another one that stands as this one does now; every unknown hangs on its root.</summary>
    public AffineUnion Flat()
    {
        for (var v = 0; v < parent.Count; v++)
        {
            Find(v);
        }

        return new(this);
    }

    /// <summary>Another one that stands as this one does now, with more unknowns on their own up to a number of them.</summary>
    public AffineUnion Copy(int count)
    {
        var copy = new AffineUnion(this);
        while (copy.parent.Count < count)
        {
            copy.Add();
        }

        return copy;
    }

    /// <summary>Adds an unknown on its own; answers its number.</summary>
    public int Add()
    {
        parent.Add(parent.Count);
        offset.Add(0);
        fixedAt.Add(null);
        return parent.Count - 1;
    }

    /// <summary>The root of an unknown's class, and how far above the root it lies.</summary>
    public (int Root, double Offset) Find(int v)
    {
        var (root, above) = (v, 0.0);
        while (parent[root] != root)
        {
            above += offset[root];
            root = parent[root];
        }

        // Every unknown on the way then hangs on the root itself.
        for (var (at, left) = (v, above); parent[at] != root && at != root; )
        {
            var (next, step) = (parent[at], offset[at]);
            (parent[at], offset[at]) = (root, left);
            (at, left) = (next, left - step);
        }

        return (root, above);
    }

    /// <summary>The fixed value of a root, or null.</summary>
    public double? FixedValue(int root) => fixedAt[root];

    /// <summary>Ties b = a + distance.</summary>
    public UnionResult Identify(int a, int b, double distance)
    {
        var (ra, oa) = Find(a);
        var (rb, ob) = Find(b);
        var gap = oa + distance - ob;
        if (ra == rb)
        {
            return Math.Abs(gap) <= Tolerances.Length ? UnionResult.Redundant : UnionResult.Clash;
        }

        // Members of rb's class become root(ra) + gap + their offset.
        if (fixedAt[ra] is { } va && fixedAt[rb] is { } vb)
        {
            return Math.Abs(va + gap - vb) <= Tolerances.Length ? UnionResult.Redundant : UnionResult.Clash;
        }

        fixedAt[ra] ??= fixedAt[rb] - gap;
        parent[rb] = ra;
        offset[rb] = gap;
        return UnionResult.Joined;
    }

    public UnionResult Fix(int a, double value)
    {
        var (root, above) = Find(a);
        if (fixedAt[root] is { } known)
        {
            return Math.Abs(known + above - value) <= Tolerances.Length ? UnionResult.Redundant : UnionResult.Clash;
        }

        fixedAt[root] = value - above;
        return UnionResult.Joined;
    }
}

internal enum UnionResult
{
    Joined,
    Redundant,
    Clash,
}
