using System.Collections.Concurrent;

namespace Ratiogon.Core.Solving;

/// <summary>
/// What of a component depends only on which equation touches which unknown: its decomposition and the patterns of its
/// normal equations. A sketch whose sizes change keeps its structure, so the last ones are kept.
/// </summary>
internal sealed class ComponentStructure
{
    private const int MostKept = 512;
    private static readonly ConcurrentDictionary<Key, ComponentStructure> Kept = new();
    private readonly int[][] rows;
    private readonly int columnCount;
    private readonly Lazy<DulmageMendelsohn> parts;
    private readonly Lazy<NormalPattern> under;
    private readonly Lazy<NormalPattern> whole;
    private readonly ConcurrentDictionary<int, NormalPattern> blocks = new();

    private ComponentStructure(int[][] rows, int columnCount)
    {
        (this.rows, this.columnCount) = (rows, columnCount);
        parts = new(() => DulmageMendelsohn.Of(rows, columnCount));
        under = new(() => NormalPattern.Of(Array.ConvertAll(Parts.Under, r => rows[r]), columnCount, Parts.UnderUnknowns));
        whole = new(() => NormalPattern.Of(rows, columnCount, [.. Enumerable.Range(0, columnCount)]));
    }

    /// <summary>The decomposition, by places in the component's lists.</summary>
    public DulmageMendelsohn Parts => parts.Value;

    /// <summary>The pattern of the under-determined part.</summary>
    public NormalPattern Under => under.Value;

    /// <summary>The pattern of the component as a whole.</summary>
    public NormalPattern Whole => whole.Value;

    /// <summary>The pattern of a well-determined block, by its number.</summary>
    public NormalPattern Block(int number) =>
        blocks.GetOrAdd(number, n => NormalPattern.Of(Array.ConvertAll(Parts.Blocks[n].Equations, r => rows[r]), columnCount, Parts.Blocks[n].Unknowns));

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
