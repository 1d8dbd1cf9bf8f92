using System.Collections.Concurrent;

namespace Ratiogon.Core.Solving;

/// <summary>
/// What of a component depends only on which equation touches which unknown: its decomposition. A sketch whose sizes change keeps its structure, so the last ones are kept.
/// </summary>
internal sealed class ComponentStructure
{
    private const int MostKept = 512;
    private static readonly ConcurrentDictionary<Key, ComponentStructure> Kept = new();
    private readonly Lazy<DulmageMendelsohn> parts;

    private ComponentStructure(int[][] rows, int columnCount) => parts = new(() => DulmageMendelsohn.Of(rows, columnCount));

    /// <summary>The decomposition, by places in the component's lists.</summary>
    public DulmageMendelsohn Parts => parts.Value;

    public static ComponentStructure Of(EquationSystem system, List<int> equations, List<int> unknowns)
    {
        var local = new int[system.UnknownCount];
        for (var i = 0; i < unknowns.Count; i++)
        {
            local[unknowns[i]] = i;
        }

        var rows = new int[equations.Count][];
        for (var i = 0; i < rows.Length; i++)
        {
            rows[i] = Array.ConvertAll(system.Columns[equations[i]], c => local[c]);
        }

        var key = new Key(rows, unknowns.Count);
        if (Kept.TryGetValue(key, out var known))
        {
            return known;
        }

        if (Kept.Count >= MostKept)
        {
            Kept.Clear();
        }

        return Kept.GetOrAdd(key, k => new ComponentStructure(k.Rows, k.ColumnCount));
    }

    /// <summary>Rows compared by content.</summary>
    private readonly struct Key : IEquatable<Key>
    {
        private readonly int hash;

        public Key(int[][] rows, int columnCount)
        {
            (Rows, ColumnCount) = (rows, columnCount);
            var sum = new HashCode();
            sum.Add(columnCount);
            foreach (var row in rows)
            {
                sum.Add(row.Length);
                foreach (var c in row)
                {
                    sum.Add(c);
                }
            }

            hash = sum.ToHashCode();
        }

        public int[][] Rows { get; }

        public int ColumnCount { get; }

        public bool Equals(Key other)
        {
            if (hash != other.hash || ColumnCount != other.ColumnCount || Rows.Length != other.Rows.Length)
            {
                return false;
            }

            for (var i = 0; i < Rows.Length; i++)
            {
                if (!Rows[i].AsSpan().SequenceEqual(other.Rows[i]))
                {
                    return false;
                }
            }

            return true;
        }

        public override bool Equals(object? obj) => obj is Key other && Equals(other);

        public override int GetHashCode() => hash;
    }
}
