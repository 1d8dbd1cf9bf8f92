namespace Ratiogon.Core;

/// <summary>Sets of names that only ever join, each on its own until it is joined: union-find with path halving, as in
/// <see cref="DisjointSets"/>.</summary>
internal sealed class NamedSets
{
    private readonly Dictionary<string, string> parent = new(StringComparer.Ordinal);

    /// <summary>The names that were joined with any.</summary>
    public IEnumerable<string> Known => parent.Keys;

    /// <summary>The name that stands for the set of another.</summary>
    public string Of(string name)
    {
        while (parent.TryGetValue(name, out var up) && up != name)
        {
            var top = parent[up];
            if (top != up)
            {
                parent[name] = top;
            }

            name = top;
        }

        return name;
    }

    /// <summary>Hangs every name on the one that stands for its set: where nothing is joined any more, asking then changes nothing, so that
    /// several threads may ask.</summary>
    public void Flatten()
    {
        foreach (var name in parent.Keys.ToList())
        {
            parent[name] = Of(name);
        }
    }

    /// <summary>Joins the sets of two names; the second's stands for both.</summary>
    public void Join(string a, string b)
    {
        parent.TryAdd(a, a);
        parent.TryAdd(b, b);
        parent[Of(a)] = Of(b);
    }

    /// <summary>Joins the sets of all of these.</summary>
    public void Join(IReadOnlyList<string> names)
    {
        for (var i = 1; i < names.Count; i++)
        {
            Join(names[i], names[0]);
        }
    }

    public bool Same(string a, string b) => Of(a) == Of(b);
}
