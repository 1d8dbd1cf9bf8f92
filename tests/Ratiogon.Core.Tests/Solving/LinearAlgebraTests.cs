using Ratiogon.Core.Numerics;

namespace Ratiogon.Core.Tests.Solving;

public class AffineUnionTests
{
    private static AffineUnion Unknowns(int count)
    {
        var union = new AffineUnion();
        for (var i = 0; i < count; i++)
        {
            union.Add();
        }

        return union;
    }

    [Fact]
    public void Offsets_add_up_along_a_chain()
    {
        var union = Unknowns(4);
        union.Identify(0, 1, 10).ShouldBe(UnionResult.Joined);
        union.Identify(1, 2, 5).ShouldBe(UnionResult.Joined);
        union.Identify(3, 2, 1).ShouldBe(UnionResult.Joined);
        union.Fix(0, 100).ShouldBe(UnionResult.Joined);
        double Value(int v) => union.Find(v) is var (root, offset) ? union.FixedValue(root)!.Value + offset : 0;
        new[] { Value(0), Value(1), Value(2), Value(3) }.ShouldBe([100, 110, 115, 114]);
    }

    [Fact]
    public void What_is_said_twice_is_redundant_and_what_differs_clashes()
    {
        var union = Unknowns(3);
        union.Identify(0, 1, 10);
        union.Identify(1, 2, 5);
        union.Identify(0, 2, 15).ShouldBe(UnionResult.Redundant);
        union.Identify(0, 2, 14).ShouldBe(UnionResult.Clash);
        union.Fix(1, 3);
        union.Fix(2, 8).ShouldBe(UnionResult.Redundant);
        union.Fix(2, 9).ShouldBe(UnionResult.Clash);
    }

    [Fact]
    public void Two_fixed_classes_agree_or_clash()
    {
        var union = Unknowns(2);
        union.Fix(0, 1);
        union.Fix(1, 4);
        union.Identify(0, 1, 3).ShouldBe(UnionResult.Redundant);
        union.Identify(0, 1, 2).ShouldBe(UnionResult.Clash);
    }
}

public class SparseLdlTests
{
    [Fact]
    public void Random_positive_matrices_are_solved_and_factored_again() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[1, 12], CsCheck.Gen.Int),
            (n, seed) =>
            {
                var random = new Random(seed);
                var pattern = Enumerable
                    .Range(0, n)
                    .Select(c => Enumerable.Range(0, c).Where(_ => random.Next(3) == 0).Append(c).ToArray())
                    .ToArray();
                int[] starts =
                [
                    0,
                    .. pattern
                        .Select(p => p.Length)
                        .Aggregate(new List<int>(), (sums, k) => [.. sums, (sums.Count > 0 ? sums[^1] : 0) + k]),
                ];
                var ldl = new SparseLdl(starts, [.. pattern.SelectMany(p => p)]);
                for (var round = 0; round < 2; round++)
                {
                    var dense = new double[n, n];
                    var values = new List<double>();
                    for (var c = 0; c < n; c++)
                    {
                        foreach (var r in pattern[c])
                        {
                            var v = r == c ? 2.0 * n : random.NextDouble() - 0.5;
                            values.Add(v);
                            dense[r, c] = dense[c, r] = v;
                        }
                    }

                    var x = Enumerable.Range(0, n).Select(_ => random.NextDouble()).ToArray();
                    var b = Enumerable.Range(0, n).Select(i => Enumerable.Range(0, n).Sum(k => dense[i, k] * x[k])).ToArray();
                    if (!ldl.Factor(values.ToArray()))
                    {
                        return false;
                    }

                    ldl.Solve(b);
                    if (b.Zip(x).Any(p => Math.Abs(p.First - p.Second) > 1e-10))
                    {
                        return false;
                    }
                }

                return true;
            },
            iter: 200
        );

    [Fact]
    public void A_pivot_of_zero_is_refused() => new SparseLdl([0, 1, 3], [0, 0, 1]).Factor([1, 2, 4]).ShouldBeFalse();
}

public class MinimumDegreeTests
{
    [Fact]
    public void Leaves_go_before_the_hub()
    {
        HashSet<int>[] star =
        [
            [1, 2, 3, 4],
            [0],
            [0],
            [0],
            [0],
        ];
        var order = MinimumDegree.Order(star);
        order.Order().ShouldBe([0, 1, 2, 3, 4]);
        Array.IndexOf(order, 0).ShouldBeGreaterThanOrEqualTo(3);
    }
}

public class RankRevealingQrTests
{
    [Theory]
    [InlineData(new double[] { 1, 0, 0, 1 }, 2, 2, 2)]
    [InlineData(new double[] { 1, 2, 2, 4 }, 2, 2, 1)]
    [InlineData(new double[] { 0, 0, 0, 0 }, 2, 2, 0)]
    [InlineData(new double[] { 1, 2, 3, 4, 5, 6, 7, 8, 9 }, 3, 3, 2)]
    [InlineData(new double[] { 1, 1, 1, 1, 1, 1 + 1e-12 }, 2, 3, 1)]
    [InlineData(new double[] { 1, 0, 0, 0, 1, 0 }, 2, 3, 2)]
    public void Ranks_are_counted(double[] matrix, int rows, int columns, int rank) =>
        RankRevealingQr.Rank(matrix, rows, columns, 1e-8).ShouldBe(rank);

    [Fact]
    public void The_rank_of_a_product_is_its_inner_size() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[1, 9], CsCheck.Gen.Int[1, 9], CsCheck.Gen.Int[1, 9], CsCheck.Gen.Int),
            (m, k, n, seed) =>
            {
                var random = new Random(seed);
                var (a, b) = (
                    Enumerable.Range(0, m * k).Select(_ => random.NextDouble() - 0.5).ToArray(),
                    Enumerable.Range(0, k * n).Select(_ => random.NextDouble() - 0.5).ToArray()
                );
                var product = new double[m * n];
                for (var i = 0; i < m * n; i++)
                {
                    product[i] = Enumerable.Range(0, k).Sum(j => a[(i / n * k) + j] * b[(j * n) + (i % n)]);
                }

                return RankRevealingQr.Rank(product, m, n, 1e-10) == Math.Min(k, Math.Min(m, n));
            },
            iter: 100
        );
}

public class RowSpaceTests
{
    [Fact]
    public void A_dependent_row_names_the_rows_it_is_made_of()
    {
        var space = new RowSpace(4, tracking: true);
        space.Add(0, [0, 1], [1, 1]).ShouldBeNull();
        space.Add(1, [1, 2], [1, 1]).ShouldBeNull();
        space.Add(2, [3], [1]).ShouldBeNull();
        var on = space.Add(3, [0, 2], [1, -1])!;
        on.Keys.Order().ShouldBe([0, 1]);
        space.Rank.ShouldBe(3);
    }

    [Fact]
    public void Null_vectors_are_orthogonal_to_every_row_and_there_are_enough() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[1, 8], CsCheck.Gen.Int[1, 10], CsCheck.Gen.Int),
            (m, n, seed) =>
            {
                var random = new Random(seed);
                var space = new RowSpace(n, tracking: false);
                var rows = new List<double[]>();
                for (var i = 0; i < m; i++)
                {
                    var row = Enumerable.Range(0, n).Select(_ => random.Next(2) == 0 ? 0 : random.NextDouble() - 0.5).ToArray();
                    rows.Add(row);
                    space.Add(i, [.. Enumerable.Range(0, n)], row);
                }

                var basis = space.NullSpace();
                return basis.Count == n - space.Rank
                    && basis.TrueForAll(v =>
                        rows.TrueForAll(r => Math.Abs(v.Sum(p => r[p.Key] * p.Value)) < 1e-6 * (1 + v.Values.Max(Math.Abs)))
                    );
            },
            iter: 200
        );
}

public class EquationTests
{
    private static readonly Random Random = new(11);

    public static TheoryData<Equation> All() =>
        [
            new Core.Numerics.Equations.Linear([0, 1, 2], [1, -0.5, -0.5], 3),
            new Core.Numerics.Equations.PointDistance(0, 1, 2, 3, 7),
            new Core.Numerics.Equations.OnCircle(0, 1, 2, 3, 4),
            new Core.Numerics.Equations.CirclesTouch(0, 1, 4, 2, 3, 5, 1, 0),
            new Core.Numerics.Equations.CirclesTouch(0, 1, 4, 2, 3, 5, -1, -1),
            new Core.Numerics.Equations.SquareTo([0, 1, 2, 3], [4, 5, 6, 7]),
            new Core.Numerics.Equations.EvenlyBeside([0, 1, 2, 3], [4, 5, 6, 7]),
            new Core.Numerics.Equations.RimToRim(0, 2, [4, 5], 1, 30),
            new Core.Numerics.Equations.EqualLengths([0, 1, 2, 3, 4, 5, 6, 7]),
            new Core.Numerics.Equations.LineDistance(0, 1, 2, 3, 4, 5, 2),
            new Core.Numerics.Equations.LinesAtAngle([0, 1, 2, 3, 4, 5, 6, 7], 0.7, 40),
        ];

    /// <summary>Every analytic derivative against central differences, at random places.</summary>
    [Theory]
    [MemberData(nameof(All), DisableDiscoveryEnumeration = true)]
    public void Derivatives_agree_with_differences(Equation equation)
    {
        var n = equation.Variables.Count;
        for (var trial = 0; trial < 20; trial++)
        {
            var v = Enumerable.Range(0, n).Select(_ => (Random.NextDouble() * 20) - 10).ToArray();
            var d = new double[Equation.MostVariables];
            var scratch = new double[Equation.MostVariables];
            equation.Evaluate(v, d);
            for (var i = 0; i < n; i++)
            {
                const double H = 1e-6;
                var (up, down) = ((double[])v.Clone(), (double[])v.Clone());
                up[i] += H;
                down[i] -= H;
                d[i]
                    .ShouldBe(
                        (equation.Evaluate(up, scratch) - equation.Evaluate(down, scratch)) / (2 * H),
                        1e-5,
                        $"{equation.GetType().Name} by unknown {i}"
                    );
            }
        }
    }

    [Fact]
    public void An_angle_knows_its_branch()
    {
        var right = new Core.Numerics.Equations.LinesAtAngle([0, 1, 2, 3, 4, 5, 6, 7], Math.PI / 2, 1);
        right.OnSameSide([0, 0, 1, 0, 0, 0, 0, 1]).ShouldBeTrue();
        right.OnSameSide([0, 0, 1, 0, 0, 0, 0, -1]).ShouldBeFalse();
    }
}
