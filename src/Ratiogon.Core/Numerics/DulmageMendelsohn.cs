namespace Ratiogon.Core.Numerics;

/// <summary>
/// The coarse and fine decomposition of Dulmage and Mendelsohn (Pothen and Fan, "Computing the block triangular form
/// of a sparse matrix", 1990): an over-determined part, well-determined blocks in the order in which they can be
/// solved, and an under-determined part that may use what the others found.
/// </summary>
/// <param name="Over">Equations with too few unknowns.</param>
/// <param name="OverUnknowns">Unknowns of the over-determined part.</param>
/// <param name="Blocks">Square blocks; each needs only the over-determined part and earlier blocks.</param>
/// <param name="Under">Equations of the under-determined part.</param>
/// <param name="UnderUnknowns">Its unknowns.</param>
/// <param name="StructuralRank">Size of the maximum matching.</param>
internal sealed record DulmageMendelsohn(
    int[] Over,
    int[] OverUnknowns,
    IReadOnlyList<(int[] Equations, int[] Unknowns)> Blocks,
    int[] Under,
    int[] UnderUnknowns,
    int StructuralRank
)
{
    /// <param name="rows">For each equation, the columns it touches.</param>
    /// <param name="columnCount">Number of columns; the answer speaks of rows and columns by their numbers.</param>
    public static DulmageMendelsohn Of(int[][] rows, int columnCount)
    {
        var matching = Matching.Maximum(rows, columnCount);
        var overRow = ReachFromRows(rows, matching);
        var underRow = ReachFromColumns(rows, matching, columnCount, out var underColumn);

        var square = Enumerable.Range(0, rows.Length).Where(r => !overRow[r] && !underRow[r]).ToArray();
        var blocks = StronglyConnected.Of(rows.Length, square, r =>
            rows[r].Select(c => matching.RowOf[c]).Where(s => s >= 0 && s != r && !overRow[s] && !underRow[s])
        );
        return new DulmageMendelsohn(
            [.. Enumerable.Range(0, rows.Length).Where(r => overRow[r])],
            [.. Enumerable.Range(0, columnCount).Where(c => matching.RowOf[c] >= 0 && overRow[matching.RowOf[c]])],
            [.. blocks.Select(b => (b.ToArray(), b.Select(r => matching.ColumnOf[r]).ToArray()))],
            [.. Enumerable.Range(0, rows.Length).Where(r => underRow[r])],
            [.. Enumerable.Range(0, columnCount).Where(c => underColumn[c])],
            matching.Size
        );
    }

    /// <summary>Rows on an alternating path from an unmatched row.</summary>
    private static bool[] ReachFromRows(int[][] rows, Matching matching)
    {
        var reached = new bool[rows.Length];
        var open = new Stack<int>();
        for (var r = 0; r < rows.Length; r++)
        {
            if (matching.ColumnOf[r] < 0)
            {
                reached[r] = true;
                open.Push(r);
            }
        }

        while (open.TryPop(out var r))
        {
            foreach (var c in rows[r])
            {
                var next = matching.RowOf[c];
                if (next >= 0 && !reached[next])
                {
                    reached[next] = true;
                    open.Push(next);
                }
            }
        }

        return reached;
    }

    /// <summary>Rows and columns on an alternating path from an unmatched column.</summary>
    private static bool[] ReachFromColumns(int[][] rows, Matching matching, int columnCount, out bool[] columns)
    {
        var rowsOf = new List<int>[columnCount];
        for (var c = 0; c < columnCount; c++)
        {
            rowsOf[c] = [];
        }

        for (var r = 0; r < rows.Length; r++)
        {
            foreach (var c in rows[r])
            {
                rowsOf[c].Add(r);
            }
        }

        columns = new bool[columnCount];
        var reached = new bool[rows.Length];
        var open = new Stack<int>();
        for (var c = 0; c < columnCount; c++)
        {
            if (matching.RowOf[c] < 0)
            {
                columns[c] = true;
                open.Push(c);
            }
        }

        while (open.TryPop(out var c))
        {
            foreach (var r in rowsOf[c])
            {
                if (!reached[r])
                {
                    reached[r] = true;
                    var next = matching.ColumnOf[r];
                    if (next >= 0 && !columns[next])
                    {
                        columns[next] = true;
                        open.Push(next);
                    }
                }
            }
        }

        return reached;
    }
}
