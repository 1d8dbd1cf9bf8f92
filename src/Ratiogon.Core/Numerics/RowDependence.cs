using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Numerics;

/// <summary>
/// Which rows of a sparse matrix depend on others and on which, and what is left free by all of them. The rows go into
/// one saddle point factorisation [I J'; J 0], whose inverse holds the projection onto the null space of J (Benzi, Golub and
/// Liesen, "Numerical solution of saddle point problems", 2005, section 5.2); rows that find no pivot are judged one by one
/// by what that projection leaves of them.
/// </summary>
internal sealed class RowDependence
{
    /// <summary>Set where a row hangs on the others, that the factor exists; the row is judged afterwards.</summary>
    private const double NoPivot = 1e-6;

    /// <summary>Entries of a row of length one larger than this couple what they belong to.</summary>
    private const double Strong = 1e-3;

    /// <summary>A share in a combination below this of the largest is rounding.</summary>
    private const double Share = 1e-8;

    private const int Refinements = 3;

    /// <summary>A motion shorter than this, of a unit vector projected, is none.</summary>
    private const double Motionless = 1e-6;

    /// <summary>What rounding leaves of a sum, as a share of its largest term.</summary>
    private const double Rounding = 1e-12;

    /// <summary>A row whose part outside the others is larger than this, squared, surely says something of its own.</summary>
    private const double PlainMotion = 1e-6;

    /// <summary>A row whose part outside the others is smaller than this, squared, surely does not.</summary>
    private const double PlainRounding = 1e-13;

    /// <summary>What rounding leaves of a number near one after a factor was applied.</summary>
    private const double Digit = 1e-14;

    private const int ScalingRounds = 6;
    private readonly int columnCount;
    private readonly SaddlePattern pattern;
    private readonly SparseLdl factor;
    private readonly double[] values;
    private readonly double[] b;
    private readonly double[] rest;
    private readonly int[] kept;
    private readonly double[] scale;
    private readonly List<Extra> extras = [];
    private readonly double plainMotion;
    private SparseInverse? inverse;

    /// <summary>An independent row that found no pivot: what the others leave of it, of length one, and what that is made of.</summary>
    private sealed record Extra(double[] Direction, Dictionary<int, double> Made);

    /// <param name="rows">Rows with their values; of any length.</param>
    /// <param name="columnCount">Number of columns.</param>
    /// <param name="together">Groups of columns whose ranks will be asked for; null for none.</param>
    public RowDependence(IReadOnlyList<(int[] Columns, double[] Values)> rows, int columnCount, IReadOnlyList<int[]>? together = null)
    {
        this.columnCount = columnCount;
        rows = [.. rows.Select(r => (r.Columns, WithoutRounding(r.Values)))];
        scale = ColumnScales(rows, columnCount);
        (int[] Columns, double[] Values)[] scaled = [.. rows.Select(r => (r.Columns, Scaled(r.Columns, r.Values)))];
        var matched = Matching.Maximum(
            [.. scaled.Select(r => r.Columns.Where((_, i) => Math.Abs(r.Values[i]) > Strong).ToArray())],
            columnCount
        );
        kept = [.. Enumerable.Range(0, rows.Count).Where(r => matched.ColumnOf[r] >= 0)];
        var columns = Array.ConvertAll(kept, r => scaled[r].Columns);
        pattern = SaddlePattern.Of(
            columns,
            columnCount,
            [.. kept.SelectMany(r => scaled[r].Values.Select(v => Math.Abs(v) > Strong))],
            together ?? []
        );
        values = new double[pattern.RowIndex.Length];
        b = new double[pattern.PlaceOf.Length];
        rest = new double[pattern.PlaceOf.Length];
        for (var c = 0; c < columnCount; c++)
        {
            values[pattern.Diagonal[c]] = 1;
        }

        var at = 0;
        foreach (var v in kept.SelectMany(r => scaled[r].Values))
        {
            values[pattern.EntryOf[at++]] = v;
        }

        factor = new SparseLdl(pattern.ColumnStarts, pattern.RowIndex);
        var tiny = new double[pattern.PlaceOf.Length];
        for (var i = 0; i < kept.Length; i++)
        {
            tiny[pattern.PlaceOf[columnCount + i]] = NoPivot;
        }

        var dropped = new List<int>();
        if (!factor.Factor(values, dropped, tiny))
        {
            throw new InvalidOperationException("a saddle point matrix of finite rows has a factor");
        }

        // The inverse loses digits with the square of the least pivot.
        plainMotion = Math.Max(PlainMotion, Digit / Math.Pow(factor.LeastPivot, 2));
        var withoutPivot = dropped.ToHashSet();
        var inFactor = new bool[rows.Count];
        for (var i = 0; i < kept.Length; i++)
        {
            inFactor[kept[i]] = !withoutPivot.Contains(pattern.PlaceOf[columnCount + i]);
        }

        Rank = inFactor.Count(k => k);
        foreach (var row in Enumerable.Range(0, rows.Count).Where(r => !inFactor[r]))
        {
            if (DependsScaled(scaled[row].Columns, scaled[row].Values, row, Tolerances.Rank) is { } made)
            {
                Dependent[row] = made;
            }
            else
            {
                Rank++;
            }
        }
    }

    /// <summary>How many rows are independent.</summary>
    public int Rank { get; }

    /// <summary>Rows that follow from the others, each with the independent rows that it is made of and their factors.</summary>
    public SortedDictionary<int, IReadOnlyDictionary<int, double>> Dependent { get; } = [];

    /// <summary>What a further row is made of; null when it is independent of all, and then it is kept under a number of its own.</summary>
    /// <param name="columns">Its columns.</param>
    /// <param name="of">Their values.</param>
    /// <param name="label">A number for it, beyond those of the rows.</param>
    /// <param name="least">How much of it, of length one, must lie outside the span of all for it to be independent.</param>
    public IReadOnlyDictionary<int, double>? Depends(int[] columns, double[] of, int label, double least = Tolerances.Rank) =>
        DependsScaled(columns, Scaled(columns, WithoutRounding(of)), label, least);

    /// <summary>Keeps a further row, if it is independent. True when it was; the parameters are those of <see cref="Depends"/>.</summary>
    public bool Add(int[] columns, double[] of, int label, double least = Tolerances.Rank) => Depends(columns, of, label, least) is null;

    /// <summary>How many of the kept further rows there are; <see cref="BackTo"/> lets later ones go.</summary>
    public int Added => extras.Count;

    /// <summary>Lets the rows go that were added last, down to a number.</summary>
    public void BackTo(int added) => extras.RemoveRange(added, extras.Count - added);

    /// <summary>How many ways a group of columns can move: the rank of its rows in any basis of the null space.</summary>
    /// <param name="group">One of the groups that were asked for, or one column; each column once.</param>
    public int RankOf(int[] group)
    {
        inverse ??= factor.Inverse();
        if (group.Length == 1 && Projection(group[0], group[0]) is var own && (own > plainMotion || own <= PlainRounding))
        {
            return own > plainMotion ? 1 : 0;
        }

        var (rank, left) = RankOfPositive(Block(group), group.Length);
        // Pivots between plain motion and plain rounding: once more from columns that are solved for and refined.
        return left <= PlainRounding ? rank : RankOfColumns(Array.ConvertAll(group, Column));
    }

    private double[] Block(int[] group)
    {
        var n = group.Length;
        var block = new double[n * n];
        for (var i = 0; i < n; i++)
        {
            for (var k = 0; k <= i; k++)
            {
                block[(i * n) + k] = block[(k * n) + i] = Projection(group[i], group[k]);
            }
        }

        return block;
    }

    /// <summary>The way of least length in the null space that moves a column most: its column of the projection.</summary>
    public double[] Motion(int column)
    {
        var way = Column(column);
        for (var c = 0; c < way.Length; c++)
        {
            way[c] *= scale[c];
        }

        return way;
    }

    /// <summary>A column of the projection, over scaled columns.</summary>
    private double[] Column(int column)
    {
        Array.Clear(b);
        b[pattern.PlaceOf[column]] = 1;
        var way = Projected();
        foreach (var extra in extras)
        {
            Subtract(way, extra.Direction, extra.Direction[column]);
        }

        return way;
    }

    private double Projection(int u, int v)
    {
        var p = inverse!.At(pattern.PlaceOf[u], pattern.PlaceOf[v]);
        foreach (var extra in extras)
        {
            p -= extra.Direction[u] * extra.Direction[v];
        }

        return p;
    }

    /// <summary>Pivoted Cholesky of a small positive semi-definite matrix, which is overwritten: how many pivots are plainly not
    /// rounding, and the largest that is left then.</summary>
    private (int Rank, double Left) RankOfPositive(double[] a, int n)
    {
        for (var k = 0; k < n; k++)
        {
            var p = k;
            for (var i = k; i < n; i++)
            {
                p = a[(i * n) + i] > a[(p * n) + p] ? i : p;
            }

            var pivot = a[(p * n) + p];
            if (!(pivot > plainMotion))
            {
                return (k, pivot);
            }

            for (var i = 0; i < n; i++)
            {
                (a[(i * n) + k], a[(i * n) + p]) = (a[(i * n) + p], a[(i * n) + k]);
            }

            for (var i = 0; i < n; i++)
            {
                (a[(k * n) + i], a[(p * n) + i]) = (a[(p * n) + i], a[(k * n) + i]);
            }

            for (var i = k + 1; i < n; i++)
            {
                var f = a[(i * n) + k] / pivot;
                for (var c = k + 1; c < n; c++)
                {
                    a[(i * n) + c] -= f * a[(k * n) + c];
                }
            }
        }

        return (n, 0);
    }

    /// <summary>How many of some columns, which are overwritten, are independent: the longest is taken out of the others until what is
    /// left is nothing.</summary>
    private static int RankOfColumns(double[][] columns)
    {
        for (var k = 0; k < columns.Length; k++)
        {
            var p = Enumerable.Range(k, columns.Length - k).MaxBy(i => SquaredLength(columns[i]));
            (columns[k], columns[p]) = (columns[p], columns[k]);
            var length = Math.Sqrt(SquaredLength(columns[k]));
            if (!(length > Motionless))
            {
                return k;
            }

            var direction = Array.ConvertAll(columns[k], v => v / length);
            foreach (var other in columns[(k + 1)..])
            {
                var share = 0.0;
                for (var i = 0; i < other.Length; i++)
                {
                    share += direction[i] * other[i];
                }

                Subtract(other, direction, share);
            }
        }

        return columns.Length;
    }

    private static double SquaredLength(double[] of)
    {
        var sum = 0.0;
        foreach (var v in of)
        {
            sum += v * v;
        }

        return sum;
    }

    private Dictionary<int, double>? DependsScaled(int[] columns, double[] of, int label, double least)
    {
        Array.Clear(b);
        for (var i = 0; i < columns.Length; i++)
        {
            b[pattern.PlaceOf[columns[i]]] += of[i];
        }

        var left = Projected();
        var made = new Dictionary<int, double>();
        for (var i = 0; i < kept.Length; i++)
        {
            if (b[pattern.PlaceOf[columnCount + i]] is var share && share != 0)
            {
                made[kept[i]] = share;
            }
        }

        foreach (var extra in extras)
        {
            var share = 0.0;
            for (var i = 0; i < columns.Length; i++)
            {
                share += extra.Direction[columns[i]] * of[i];
            }

            if (Math.Abs(share) > Digit)
            {
                Subtract(left, extra.Direction, share);
                foreach (var (row, factor) in extra.Made)
                {
                    made[row] = made.GetValueOrDefault(row) + (share * factor);
                }
            }
        }

        var length = Math.Sqrt(SquaredLength(left));
        if (!(length > least))
        {
            // What is small beside the largest factor is rounding.
            var rounding = Share * made.Values.Select(Math.Abs).DefaultIfEmpty(0).Max();
            return made.Where(m => Math.Abs(m.Value) > rounding).ToDictionary();
        }

        var own = made.ToDictionary(m => m.Key, m => -m.Value / length);
        own[label] = 1 / length;
        extras.Add(new Extra(Array.ConvertAll(left, v => v / length), own));
        return null;
    }

    /// <summary>Solves for the right-hand side in b, with rounds of refinement; the part over the columns is answered, all stays in
    /// b.</summary>
    private double[] Projected()
    {
        var right = (double[])b.Clone();
        factor.Solve(b);
        for (var round = 0; round < Refinements; round++)
        {
            Multiply(b, rest);
            for (var i = 0; i < rest.Length; i++)
            {
                rest[i] = right[i] - rest[i];
            }

            factor.Solve(rest);
            for (var i = 0; i < b.Length; i++)
            {
                b[i] += rest[i];
            }
        }

        var way = new double[columnCount];
        for (var c = 0; c < columnCount; c++)
        {
            way[c] = b[pattern.PlaceOf[c]];
        }

        return way;
    }

    private void Multiply(double[] x, double[] y)
    {
        Array.Clear(y);
        for (var column = 0; column < x.Length; column++)
        {
            for (var p = pattern.ColumnStarts[column]; p < pattern.ColumnStarts[column + 1]; p++)
            {
                var row = pattern.RowIndex[p];
                y[row] += values[p] * x[column];
                if (row != column)
                {
                    y[column] += values[p] * x[row];
                }
            }
        }
    }

    private static void Subtract(double[] from, double[] direction, double share)
    {
        for (var i = 0; i < from.Length; i++)
        {
            from[i] -= share * direction[i];
        }
    }

    /// <summary>Column scales that bring the largest entries of rows and columns near one another, so that small things stand out
    /// beside large ones (Ruiz, "A scaling algorithm to equilibrate both rows and columns norms in matrices", 2001).</summary>
    private static double[] ColumnScales(IReadOnlyList<(int[] Columns, double[] Values)> rows, int columnCount)
    {
        var scale = new double[columnCount];
        Array.Fill(scale, 1);
        var largest = new double[columnCount];
        for (var round = 0; round < ScalingRounds; round++)
        {
            Array.Clear(largest);
            foreach (var (columns, values) in rows)
            {
                var top = 0.0;
                for (var i = 0; i < columns.Length; i++)
                {
                    top = Math.Max(top, Math.Abs(values[i]) * scale[columns[i]]);
                }

                for (var i = 0; i < columns.Length && top > 0; i++)
                {
                    largest[columns[i]] = Math.Max(largest[columns[i]], Math.Abs(values[i]) * scale[columns[i]] / top);
                }
            }

            for (var c = 0; c < columnCount; c++)
            {
                scale[c] /= largest[c] > 0 ? Math.Sqrt(largest[c]) : 1;
            }
        }

        return scale;
    }

    /// <summary>A row without the entries that are nothing but rounding: scaled, a column of such entries would count like any
    /// other.</summary>
    private static double[] WithoutRounding(double[] row)
    {
        var least = 0.0;
        foreach (var v in row)
        {
            least = Math.Max(least, Rounding * Math.Abs(v));
        }

        return Array.Exists(row, v => v != 0 && Math.Abs(v) <= least) ? Array.ConvertAll(row, v => Math.Abs(v) <= least ? 0 : v) : row;
    }

    /// <summary>A row with its columns scaled, of length one.</summary>
    private double[] Scaled(int[] columns, double[] of)
    {
        var scaled = new double[of.Length];
        for (var i = 0; i < of.Length; i++)
        {
            scaled[i] = of[i] * scale[columns[i]];
        }

        var length = Math.Sqrt(SquaredLength(scaled));
        for (var i = 0; i < scaled.Length && length > 0; i++)
        {
            scaled[i] /= length;
        }

        return scaled;
    }
}
