namespace Ratiogon.Core.Solving;

/// <summary>
/// Where the entries of J W⁻¹ J' stand, with the equations in an order of little fill, and which products of entries of J
/// make up each of them. Rows of J stand one after the other, in that order.
/// </summary>
/// <param name="Order">Equations in the order of elimination, by their places in the list they came in.</param>
/// <param name="ColumnStarts">Starts of the columns of the upper triangle.</param>
/// <param name="RowIndex">Row of each entry.</param>
/// <param name="Diagonal">Where each diagonal entry stands.</param>
/// <param name="Products">Entry, and the two entries of J whose product goes there.</param>
internal sealed record NormalPattern(int[] Order, int[] ColumnStarts, int[] RowIndex, int[] Diagonal, (int Entry, int A, int B)[] Products)
{
    /// <param name="rows">For each equation, the columns it touches.</param>
    /// <param name="columnCount">Number of columns.</param>
    /// <param name="moving">The columns that may move.</param>
    public static NormalPattern Of(int[][] rows, int columnCount, int[] moving)
    {
        var moves = new bool[columnCount];
        foreach (var c in moving)
        {
            moves[c] = true;
        }

        var order = MinimumDegree.Order(Neighbours(rows, ByColumn(rows, moves, columnCount)));
        var ordered = Array.ConvertAll(order, i => rows[i]);
        var byColumn = ByColumn(ordered, moves, columnCount);
        var m = ordered.Length;
        var columns = new List<int>[m];
        for (var k = 0; k < m; k++)
        {
            columns[k] = [k];
        }

        var seen = new HashSet<long>();
        foreach (var list in byColumn)
        {
            foreach (var (a, _) in list)
            {
                foreach (var (b, _) in list)
                {
                    if (a < b && seen.Add(((long)b * m) + a))
                    {
                        columns[b].Add(a);
                    }
                }
            }
        }

        var starts = new int[m + 1];
        var diagonal = new int[m];
        var entryOf = new Dictionary<long, int>(seen.Count + m);
        var rowIndex = new List<int>(seen.Count + m);
        for (var k = 0; k < m; k++)
        {
            columns[k].Sort();
            foreach (var i in columns[k])
            {
                entryOf[((long)k * m) + i] = rowIndex.Count;
                rowIndex.Add(i);
            }

            diagonal[k] = entryOf[((long)k * m) + k];
            starts[k + 1] = rowIndex.Count;
        }

        var products = new List<(int, int, int)>();
        foreach (var list in byColumn)
        {
            foreach (var (a, pa) in list)
            {
                foreach (var (b, pb) in list)
                {
                    if (a <= b)
                    {
                        products.Add((entryOf[((long)b * m) + a], pa, pb));
                    }
                }
            }
        }

        return new NormalPattern(order, starts, [.. rowIndex], diagonal, [.. products]);
    }

    /// <summary>For each column that moves, the rows that touch it and where in J they do.</summary>
    private static List<(int Row, int At)>[] ByColumn(int[][] rows, bool[] moves, int columnCount)
    {
        var byColumn = new List<(int, int)>[columnCount];
        for (var c = 0; c < columnCount; c++)
        {
            byColumn[c] = [];
        }

        var at = 0;
        for (var i = 0; i < rows.Length; i++)
        {
            foreach (var c in rows[i])
            {
                if (moves[c])
                {
                    byColumn[c].Add((i, at));
                }

                at++;
            }
        }

        return byColumn;
    }

    private static HashSet<int>[] Neighbours(int[][] rows, List<(int Row, int At)>[] byColumn)
    {
        var neighbours = new HashSet<int>[rows.Length];
        for (var i = 0; i < neighbours.Length; i++)
        {
            neighbours[i] = [];
        }

        foreach (var list in byColumn)
        {
            foreach (var (a, _) in list)
            {
                foreach (var (b, _) in list)
                {
                    if (a != b)
                    {
                        neighbours[a].Add(b);
                    }
                }
            }
        }

        return neighbours;
    }
}
