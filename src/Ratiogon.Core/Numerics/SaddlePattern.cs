using System.Collections.Concurrent;

namespace Ratiogon.Core.Numerics;

/// <summary>
/// Where the entries of the saddle point matrix [W J'; J -C] stand, in an order of little fill. Every equation is
/// eliminated right after an unknown that it is matched with, so that no pivot is zero by structure (Schenk and Gärtner,
/// "On fast factorization pivoting methods for sparse symmetric indefinite systems", 2006).
/// </summary>
internal sealed class SaddlePattern
{
    private const int MostKept = 512;
    private static readonly ConcurrentDictionary<StructureKey, SaddlePattern> Kept = new();

    private SaddlePattern(int[] columnStarts, int[] rowIndex, int[] placeOf, int[] diagonal, int[] entryOf) =>
        (ColumnStarts, RowIndex, PlaceOf, Diagonal, EntryOf) = (columnStarts, rowIndex, placeOf, diagonal, entryOf);

    /// <summary>Starts of the columns of the upper triangle.</summary>
    public int[] ColumnStarts { get; }

    /// <summary>Row of each entry.</summary>
    public int[] RowIndex { get; }

    /// <summary>The place in the order of each unknown, then of each equation.</summary>
    public int[] PlaceOf { get; }

    /// <summary>The entry that is the diagonal of each unknown, then of each equation.</summary>
    public int[] Diagonal { get; }

    /// <summary>The entry for each coefficient of J, row after row.</summary>
    public int[] EntryOf { get; }

    /// <param name="rows">For each equation, the unknowns it touches.</param>
    /// <param name="columnCount">Number of unknowns.</param>
    /// <param name="strong">For each coefficient, row after row, whether it is large enough to be matched on; null for all.</param>
    /// <param name="together">Groups of unknowns whose entries of the inverse are wanted; null for none.</param>
    public static SaddlePattern Of(int[][] rows, int columnCount, bool[]? strong = null, IReadOnlyList<int[]>? together = null)
    {
        var key = new StructureKey(rows, columnCount, strong, together ?? []);
        if (Kept.TryGetValue(key, out var known))
        {
            return known;
        }

        if (Kept.Count >= MostKept)
        {
            Kept.Clear();
        }

        return Kept.GetOrAdd(key, k => Made(k.Rows, k.ColumnCount, k.Strong, k.Together));
    }

    private static SaddlePattern Made(int[][] rows, int columnCount, bool[]? strong, IReadOnlyList<int[]>? together)
    {
        var rowOf = Matched(rows, columnCount, strong).RowOf;
        var total = columnCount + rows.Length;

        // An unknown and its equation are one node; equations that are matched with nothing stand alone, at the end of the numbers.
        var nodeOf = new int[total];
        for (var c = 0; c < columnCount; c++)
        {
            nodeOf[c] = c;
            if (rowOf[c] >= 0)
            {
                nodeOf[columnCount + rowOf[c]] = -1 - c;
            }
        }

        var alone = new List<int>();
        for (var r = columnCount; r < total; r++)
        {
            if (nodeOf[r] < 0)
            {
                nodeOf[r] = -1 - nodeOf[r];
            }
            else
            {
                nodeOf[r] = columnCount + alone.Count;
                alone.Add(r);
            }
        }

        var nodes = columnCount + alone.Count;

        var order = MinimumDegree.Order(Neighbours(rows, nodeOf, columnCount, nodes, together));
        var placeOf = new int[total];
        var place = 0;
        foreach (var node in order)
        {
            if (node < columnCount)
            {
                placeOf[node] = place++;
                if (rowOf[node] >= 0)
                {
                    placeOf[columnCount + rowOf[node]] = place++;
                }
            }
            else
            {
                placeOf[alone[node - columnCount]] = place++;
            }
        }

        return Placed(rows, columnCount, placeOf, together);
    }

    private static Matching Matched(int[][] rows, int columnCount, bool[]? strong)
    {
        if (strong is null)
        {
            return Matching.Maximum(rows, columnCount);
        }

        var kept = new int[rows.Length][];
        for (var (r, at) = (0, 0); r < rows.Length; at += rows[r].Length, r++)
        {
            var from = at;
            kept[r] = rows[r].Where((_, i) => strong[from + i]).ToArray();
        }

        return Matching.Maximum(kept, columnCount);
    }

    private static HashSet<int>[] Neighbours(int[][] rows, int[] nodeOf, int columnCount, int nodes, IReadOnlyList<int[]>? together)
    {
        var neighbours = new HashSet<int>[nodes];
        for (var i = 0; i < nodes; i++)
        {
            neighbours[i] = [];
        }

        for (var r = 0; r < rows.Length; r++)
        {
            foreach (var c in rows[r])
            {
                Join(nodeOf[columnCount + r], nodeOf[c]);
            }
        }

        foreach (var group in together ?? [])
        {
            for (var i = 0; i < group.Length; i++)
            {
                for (var k = i + 1; k < group.Length; k++)
                {
                    Join(nodeOf[group[i]], nodeOf[group[k]]);
                }
            }
        }

        return neighbours;

        void Join(int a, int b)
        {
            if (a != b)
            {
                neighbours[a].Add(b);
                neighbours[b].Add(a);
            }
        }
    }

    private static SaddlePattern Placed(int[][] rows, int columnCount, int[] placeOf, IReadOnlyList<int[]>? together)
    {
        var total = placeOf.Length;
        var entries = new List<(int Column, int Row, int Of)>();
        for (var i = 0; i < total; i++)
        {
            entries.Add((placeOf[i], placeOf[i], -1 - i));
        }

        var at = 0;
        for (var r = 0; r < rows.Length; r++)
        {
            foreach (var c in rows[r])
            {
                var (a, b) = (placeOf[columnCount + r], placeOf[c]);
                entries.Add((Math.Max(a, b), Math.Min(a, b), at++));
            }
        }

        var coefficients = at;
        foreach (var group in together ?? [])
        {
            for (var i = 0; i < group.Length; i++)
            {
                for (var k = i + 1; k < group.Length; k++)
                {
                    var (a, b) = (placeOf[group[i]], placeOf[group[k]]);
                    entries.Add((Math.Max(a, b), Math.Min(a, b), at++));
                }
            }
        }

        entries.Sort(
            (x, y) =>
                x.Column != y.Column ? x.Column - y.Column
                : x.Row != y.Row ? x.Row - y.Row
                : x.Of - y.Of
        );
        var starts = new int[total + 1];
        var rowIndex = new int[entries.Count];
        var diagonal = new int[total];
        var entryOf = new int[coefficients];
        for (var p = 0; p < entries.Count; p++)
        {
            var (column, row, of) = entries[p];
            starts[column + 1] = p + 1;
            rowIndex[p] = row;
            if (of < 0)
            {
                diagonal[-1 - of] = p;
            }
            else if (of < coefficients)
            {
                entryOf[of] = p;
            }
        }

        return new SaddlePattern(starts, rowIndex, placeOf, diagonal, entryOf);
    }
}
