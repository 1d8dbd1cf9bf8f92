namespace Ratiogon.Core.Numerics;

/// <summary>
/// Maximum matching of equations with unknowns (Hopcroft and Karp, 1973): shortest augmenting paths in phases.
/// Works on local numbers 0 … rows-1 and 0 … columns-1.
/// </summary>
internal sealed class Matching
{
    private const int Unreached = int.MaxValue;
    private readonly IReadOnlyList<int[]> rows;
    private readonly int[] layer;

    private Matching(IReadOnlyList<int[]> rows, int columnCount)
    {
        this.rows = rows;
        RowOf = new int[columnCount];
        ColumnOf = new int[rows.Count];
        layer = new int[rows.Count];
        Array.Fill(RowOf, -1);
        Array.Fill(ColumnOf, -1);
    }

    /// <summary>The equation matched to an unknown, or -1.</summary>
    public int[] RowOf { get; }

    /// <summary>The unknown matched to an equation, or -1.</summary>
    public int[] ColumnOf { get; }

    public int Size { get; private set; }

    public static Matching Maximum(IReadOnlyList<int[]> rows, int columnCount)
    {
        var matching = new Matching(rows, columnCount);
        while (matching.Layers())
        {
            for (var r = 0; r < rows.Count; r++)
            {
                if (matching.ColumnOf[r] < 0 && matching.Augment(r))
                {
                    matching.Size++;
                }
            }
        }

        return matching;
    }

    private bool Layers()
    {
        var queue = new Queue<int>();
        for (var r = 0; r < rows.Count; r++)
        {
            layer[r] = ColumnOf[r] < 0 ? 0 : Unreached;
            if (layer[r] == 0)
            {
                queue.Enqueue(r);
            }
        }

        var found = false;
        while (queue.TryDequeue(out var r))
        {
            foreach (var c in rows[r])
            {
                var next = RowOf[c];
                if (next < 0)
                {
                    found = true;
                }
                else if (layer[next] == Unreached)
                {
                    layer[next] = layer[r] + 1;
                    queue.Enqueue(next);
                }
            }
        }

        return found;
    }

    private bool Augment(int start)
    {
        // Depth first with an explicit stack: chains of thousands of equations are ordinary.
        var path = new Stack<(int Row, int Edge)>();
        path.Push((start, 0));
        while (path.Count > 0)
        {
            var (r, edge) = path.Pop();
            if (edge >= rows[r].Length)
            {
                layer[r] = Unreached;
                continue;
            }

            path.Push((r, edge + 1));
            var next = RowOf[rows[r][edge]];
            if (next < 0)
            {
                foreach (var (row, taken) in path)
                {
                    var column = rows[row][taken - 1];
                    RowOf[column] = row;
                    ColumnOf[row] = column;
                }

                return true;
            }

            if (layer[next] == layer[r] + 1)
            {
                path.Push((next, 0));
            }
        }

        return false;
    }
}
