namespace Ratiogon.Core.Numerics;

/// <summary>
/// A row echelon form that grows by one sparse row at a time: tells whether a row depends on those already in, and
/// if so on which. The kept rows are independent, so the combination is unique and its support is the smallest
/// dependent set. Pivots are chosen by size first (within a factor of ten of the largest) and by how few rows touch
/// the column second, as in Markowitz' rule.
/// </summary>
/// <param name="columnCount">Number of columns.</param>
/// <param name="tracking">Whether to remember which original rows each kept row is made of.</param>
internal sealed class RowSpace(int columnCount, bool tracking)
{
    /// <summary>A factor smaller than this changes no number of a row of length one.</summary>
    private const double NoFactor = 1e-14;

    /// <summary>A row that takes part with less than this does not.</summary>
    private const double TakesPart = 1e-6;

    /// <summary>What rounding leaves of a number of a row of length one.</summary>
    private const double Dust = 1e-13;

    /// <summary>A sum of products smaller than this is rounding.</summary>
    private const double Residue = 1e-12;

    private readonly int[] pivotOfColumn = Filled(columnCount, -1);
    private readonly List<(int Column, int[] Columns, double[] Values)> pivots = [];
    private readonly List<Dictionary<int, double>> combinations = [];
    private readonly double[] work = new double[columnCount];
    private readonly bool[] touched = new bool[columnCount];
    private readonly int[] use = new int[columnCount];

    public int Rank => pivots.Count;

    /// <summary>Adds a row scaled to length one. Null when it is independent (it is then kept), otherwise the rows it
    /// depends on with their factors (empty when not tracking, or for a zero row).</summary>
    /// <param name="label">The number that stands for this row in later answers.</param>
    /// <param name="columns">Distinct columns.</param>
    /// <param name="values">Their values.</param>
    public IReadOnlyDictionary<int, double>? Add(int label, ReadOnlySpan<int> columns, ReadOnlySpan<double> values)
    {
        Patience.Look();
        var norm = 0.0;
        foreach (var v in values)
        {
            norm += v * v;
        }

        norm = Math.Sqrt(norm);
        var support = new List<int>();
        var open = new PriorityQueue<int, int>();
        void Touch(int c)
        {
            if (!touched[c])
            {
                touched[c] = true;
                support.Add(c);
                if (pivotOfColumn[c] >= 0)
                {
                    open.Enqueue(c, pivotOfColumn[c]);
                }
            }
        }

        for (var i = 0; i < columns.Length; i++)
        {
            if (values[i] != 0)
            {
                Touch(columns[i]);
                work[columns[i]] += values[i] / norm;
                use[columns[i]]++;
            }
        }

        var combination = new Dictionary<int, double>();
        while (open.TryDequeue(out var c, out var k))
        {
            var factor = work[c];
            work[c] = 0;
            if (Math.Abs(factor) < NoFactor)
            {
                continue;
            }

            var (_, pc, pv) = pivots[k];
            for (var i = 0; i < pc.Length; i++)
            {
                if (pc[i] != c)
                {
                    Touch(pc[i]);
                    work[pc[i]] -= factor * pv[i];
                }
            }

            if (tracking)
            {
                foreach (var (row, share) in combinations[k])
                {
                    combination[row] = combination.GetValueOrDefault(row) + (factor * share);
                }
            }
        }

        return Keep(label, support, combination, norm);
    }

    private Dictionary<int, double>? Keep(int label, List<int> support, Dictionary<int, double> combination, double norm)
    {
        var largest = 0.0;
        foreach (var c in support)
        {
            largest = Math.Max(largest, Math.Abs(work[c]));
        }

        Dictionary<int, double>? dependsOn = null;
        if (!(largest > Tolerances.Rank) || !(norm > 0))
        {
            dependsOn = combination.Where(p => Math.Abs(p.Value) > TakesPart).ToDictionary();
        }
        else
        {
            var best = -1;
            foreach (var c in support)
            {
                if (Math.Abs(work[c]) >= largest * 0.1 && (best < 0 || use[c] < use[best]))
                {
                    best = c;
                }
            }

            var pivot = work[best];
            var kept = support.Where(c => Math.Abs(work[c]) > Dust).ToArray();
            pivotOfColumn[best] = pivots.Count;
            pivots.Add((best, kept, Array.ConvertAll(kept, c => work[c] / pivot)));
            if (tracking)
            {
                var own = combination.ToDictionary(p => p.Key, p => -p.Value / pivot);
                own[label] = own.GetValueOrDefault(label) + (1 / pivot);
                combinations.Add(own);
            }
        }

        foreach (var c in support)
        {
            work[c] = 0;
            touched[c] = false;
        }

        return dependsOn;
    }

    /// <summary>Lets the rows go that were kept last, down to a rank; earlier ones never change by later ones.</summary>
    public void BackTo(int rank)
    {
        for (var k = pivots.Count - 1; k >= rank; k--)
        {
            pivotOfColumn[pivots[k].Column] = -1;
            pivots.RemoveAt(k);
            if (tracking)
            {
                combinations.RemoveAt(k);
            }
        }
    }

    /// <summary>A basis of the null space, one sparse vector for each free column, in the order of the columns.</summary>
    public List<Dictionary<int, double>> NullSpace()
    {
        var rowsWith = new Dictionary<int, List<int>>();
        for (var k = 0; k < pivots.Count; k++)
        {
            foreach (var c in pivots[k].Columns)
            {
                if (c != pivots[k].Column)
                {
                    (rowsWith.TryGetValue(c, out var list) ? list : rowsWith[c] = []).Add(k);
                }
            }
        }

        var basis = new List<Dictionary<int, double>>();
        for (var free = 0; free < columnCount; free++)
        {
            if (pivotOfColumn[free] >= 0)
            {
                continue;
            }

            // Later pivots never stand in rows after their own, so values are final from the last row to the first.
            var vector = new Dictionary<int, double> { [free] = 1 };
            var open = new PriorityQueue<int, int>();
            var queued = new HashSet<int>();
            Enqueue(free);
            while (open.TryDequeue(out var k, out _))
            {
                var (column, pc, pv) = pivots[k];
                var sum = 0.0;
                for (var i = 0; i < pc.Length; i++)
                {
                    if (pc[i] != column && vector.TryGetValue(pc[i], out var v))
                    {
                        sum -= pv[i] * v;
                    }
                }

                if (Math.Abs(sum) > Residue)
                {
                    vector[column] = sum;
                    Enqueue(column);
                }
            }

            basis.Add(vector);

            void Enqueue(int c)
            {
                foreach (var k in rowsWith.GetValueOrDefault(c) ?? [])
                {
                    if (queued.Add(k))
                    {
                        open.Enqueue(k, -k);
                    }
                }
            }
        }

        return basis;
    }

    private static int[] Filled(int n, int value)
    {
        var filled = new int[n];
        Array.Fill(filled, value);
        return filled;
    }
}
