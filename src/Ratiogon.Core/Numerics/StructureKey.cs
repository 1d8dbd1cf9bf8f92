namespace Ratiogon.Core.Numerics;

/// <summary>Which equation touches which unknown, with marks and groups where there are any: compared by content.</summary>
internal readonly struct StructureKey : IEquatable<StructureKey>
{
    private readonly int hash;

    public StructureKey(int[][] rows, int columnCount, bool[]? strong = null, IReadOnlyList<int[]>? together = null)
    {
        (Rows, ColumnCount, Strong, Together) = (rows, columnCount, strong, together ?? []);
        var sum = new HashCode();
        sum.Add(columnCount);
        foreach (var row in rows.Concat(Together))
        {
            sum.Add(row.Length);
            foreach (var c in row)
            {
                sum.Add(c);
            }
        }

        foreach (var s in strong ?? [])
        {
            sum.Add(s);
        }

        hash = sum.ToHashCode();
    }

    public int[][] Rows { get; }

    public int ColumnCount { get; }

    public bool[]? Strong { get; }

    public IReadOnlyList<int[]> Together { get; }

    public bool Equals(StructureKey other)
    {
        if (
            hash != other.hash
            || ColumnCount != other.ColumnCount
            || Rows.Length != other.Rows.Length
            || Together.Count != other.Together.Count
            || !Strong.AsSpan().SequenceEqual(other.Strong)
        )
        {
            return false;
        }

        for (var r = 0; r < Rows.Length; r++)
        {
            if (!Rows[r].AsSpan().SequenceEqual(other.Rows[r]))
            {
                return false;
            }
        }

        for (var g = 0; g < Together.Count; g++)
        {
            if (!Together[g].AsSpan().SequenceEqual(other.Together[g]))
            {
                return false;
            }
        }

        return true;
    }

    public override bool Equals(object? obj) => obj is StructureKey other && Equals(other);

    public override int GetHashCode() => hash;
}
