namespace Ratiogon.Core.Building;

/// <summary>Keeps the values used last; frees those that fall out where they can be freed.</summary>
internal sealed class RecentlyUsed<T>(int most)
{
    private readonly Dictionary<string, LinkedListNode<(string Key, T Value)>> nodes = new(StringComparer.Ordinal);
    private readonly LinkedList<(string Key, T Value)> order = new();

    public T? Get(string key) => TryGet(key, out var value) ? value : default;

    public bool TryGet(string key, out T value)
    {
        if (nodes.TryGetValue(key, out var node))
        {
            order.Remove(node);
            order.AddFirst(node);
            value = node.Value.Value;
            return true;
        }

        value = default!;
        return false;
    }

    public void Put(string key, T value)
    {
        if (!nodes.ContainsKey(key))
        {
            nodes[key] = order.AddFirst((key, value));
        }
    }

    /// <summary>Lets the longest unused go, down to the limit or to as many as are needed, whichever is more.</summary>
    public void Trim(int needed = 0)
    {
        while (nodes.Count > Math.Max(most, needed) && order.Last is { } node)
        {
            order.Remove(node);
            nodes.Remove(node.Value.Key);
            (node.Value.Value as IDisposable)?.Dispose();
        }
    }

    public void Clear()
    {
        foreach (var (_, value) in order)
        {
            (value as IDisposable)?.Dispose();
        }

        order.Clear();
        nodes.Clear();
    }
}
