using Ratiogon.Core.Numerics;

namespace Ratiogon.Core.Tests.Solving;

public class RowDependenceTests
{
    [Fact]
    public void Entries_that_are_only_rounding_take_no_part()
    {
        // Three points on one line and a fourth: the last row follows from the two before it; what stands in the x columns is rounding.
        (int[] Columns, double[] Values)[] rows =
        [
            ([0, 1, 4, 5, 6, 7], [-5.495e-16, 1, 8.543e-16, -1.555, -3.048e-16, 0.555]),
            ([2, 3, 4, 5, 6, 7], [-5.495e-16, 1, 8.557e-16, -1.55, -3.062e-16, 0.55]),
            ([0, 1, 2, 3, 4, 5, 6, 7], [-5.634e-16, 1, 5.607e-16, -1, 2.657e-18, -0.005, 1e-18, 0.005]),
        ];
        var space = new RowDependence(rows, 8);
        space.Rank.ShouldBe(2);
        space.Dependent.Keys.ShouldBe([2]);
    }

    [Fact]
    public void A_group_that_moves_one_way_beside_much_larger_motions_is_told_as_one()
    {
        // Columns in very different sizes: the last digits of the inverse look like a second way.
        (int[] Columns, double[] Values)[] rows =
        [
            ([3, 11], [-19.4, -0.171]),
            ([0, 3, 5], [-0.066, 0.146, -5.6]),
            ([4, 6, 11], [-1.2, -0.166, 12.5]),
            ([2, 7, 10], [0.038, -0.01, -0.18]),
            ([5, 10, 11], [0.172, 1.87, 1.76]),
            ([1, 3, 4], [0.094, -0.119, 18.7]),
            ([1, 9, 11], [0.131, -9, 8.4]),
            ([4, 5, 11], [0.104, 0.9, 0.032]),
            ([1, 4], [1.17, 0.039]),
        ];
        int[] group = [0, 1, 5, 9, 10, 11];
        new RowDependence(rows, 12, [group]).RankOf(group).ShouldBe(1);
    }

    /// <summary>The inverse is off by 2e-4 here: one row finds a pivot of hardly more than nothing.</summary>
    [Fact]
    public void A_group_never_moves_in_more_ways_than_there_are()
    {
        (int[] Columns, double[] Values)[] rows =
        [
            ([1, 2, 9], [0.191, -1.75, 0.078]),
            ([5, 7, 9], [-1.51, 11.8, -0.06]),
            ([3, 5, 7], [0.07, 8.4, -7.9]),
            ([2, 4], [-0.199, 0.5]),
            ([0, 3], [-0.075, 13.9]),
            ([0, 1, 2, 3, 9], [-0.0525, 0.1337, -1.225, 9.73, 0.0546]),
            ([1, 5, 8], [1.46, 0.048, 0.009]),
            ([1, 2, 5, 7, 9], [0.1337, -1.225, -1.057, 8.26, 0.0126]),
            ([4, 6], [-0.64, -1.9]),
            ([0, 3, 5, 7], [-0.0525, 9.779, 5.88, -5.53]),
            ([0, 2, 4], [10.5, -0.066, 1.88]),
        ];
        int[] group = [0, 1, 4, 8];
        var space = new RowDependence(rows, 10, [group]);
        space.Rank.ShouldBe(8);
        space.RankOf(group).ShouldBe(2);
    }

    /// <summary>Random sparse rows with some that are sums of others, against dense ranks; where those hang on a last digit, there is
    /// nothing to hold against.</summary>
    [Fact]
    public void Ranks_sets_and_what_is_left_free_agree_with_dense_algebra() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[2, 14], CsCheck.Gen.Int),
            (n, seed) =>
            {
                var random = new Random(seed);
                var rows = new List<(int[] Columns, double[] Values)>();
                for (var r = random.Next(1, n + 3); r > 0; r--)
                {
                    var dense = new double[n];
                    if (rows.Count > 2 && random.Next(4) == 0)
                    {
                        foreach (var of in rows.OrderBy(_ => random.Next()).Take(2))
                        {
                            for (var i = 0; i < of.Columns.Length; i++)
                            {
                                dense[of.Columns[i]] += of.Values[i] * 0.7;
                            }
                        }
                    }
                    else
                    {
                        for (var k = 0; k < 3; k++)
                        {
                            dense[random.Next(n)] = Math.Round((random.NextDouble() * 4) - 2, 2) * Math.Pow(10, random.Next(-1, 2));
                        }
                    }

                    var columns = Enumerable.Range(0, n).Where(c => dense[c] != 0).ToArray();
                    rows.Add((columns, Array.ConvertAll(columns, c => dense[c])));
                }

                int[] group = [.. Enumerable.Range(0, n).Where(_ => random.Next(3) == 0)];
                var space = new RowDependence(rows, n, [group]);
                double[,] All(IEnumerable<double[]> extra)
                {
                    var list = rows.Select(r =>
                        {
                            var d = new double[n];
                            for (var i = 0; i < r.Columns.Length; i++)
                            {
                                d[r.Columns[i]] = r.Values[i];
                            }
                            return d;
                        })
                        .Concat(extra)
                        .ToList();
                    var a = new double[list.Count, n];
                    for (var r = 0; r < list.Count; r++)
                    {
                        for (var c = 0; c < n; c++)
                        {
                            a[r, c] = list[r][c];
                        }
                    }

                    return a;
                }

                static int RankOf(double[,] a, double tolerance = 1e-9)
                {
                    // Each row of length one, so that small rows count.
                    for (var r = 0; r < a.GetLength(0); r++)
                    {
                        var length = Math.Sqrt(Enumerable.Range(0, a.GetLength(1)).Sum(c => a[r, c] * a[r, c]));
                        for (var c = 0; c < a.GetLength(1) && length > 0; c++)
                        {
                            a[r, c] /= length;
                        }
                    }

                    return RankRevealingQr.Rank(a.Cast<double>().ToArray(), a.GetLength(0), a.GetLength(1), tolerance);
                }

                var rank = RankOf(All([]));
                if (RankOf(All([]), 1e-4) != RankOf(All([]), 1e-12))
                {
                    return true;
                }

                if (space.Rank != rank)
                {
                    return false;
                }

                // A group can move in as many ways as fixing its columns adds to the rank, where that is plain.
                var unit = group
                    .Select(c =>
                    {
                        var d = new double[n];
                        d[c] = 1;
                        return d;
                    })
                    .ToList();
                var free = RankOf(All(unit)) - rank;
                if (free == RankOf(All(unit), 1e-3) - RankOf(All([]), 1e-3) && space.RankOf(group) != free)
                {
                    return false;
                }

                // A dependent row follows from the rows it names, and from no fewer of them.
                foreach (var (row, made) in space.Dependent)
                {
                    var of = made.Keys.ToList();
                    var largest = made.Values.Select(Math.Abs).DefaultIfEmpty(0).Max();
                    int Of(IEnumerable<int> some, double tolerance = 1e-9) => RankOf(Only([.. some]), tolerance);
                    double[,] Only(int[] some)
                    {
                        var all = All([]);
                        var a = new double[Math.Max(1, some.Length), n];
                        for (var i = 0; i < some.Length; i++)
                        {
                            for (var c = 0; c < n; c++)
                            {
                                a[i, c] = all[some[i], c];
                            }
                        }

                        return a;
                    }

                    var more = Of(of.Append(row)) != Of(of) && Of(of.Append(row), 1e-5) != Of(of, 1e-5);
                    var fewer = of.Exists(left =>
                        Math.Abs(made[left]) > 1e-5 * largest && Of(of.Where(k => k != left).Append(row)) == Of(of.Where(k => k != left))
                    );
                    if (rows[row].Columns.Length > 0 && largest < 1e3 && (more || fewer))
                    {
                        return false;
                    }
                }

                return true;
            },
            iter: 400
        );
}
