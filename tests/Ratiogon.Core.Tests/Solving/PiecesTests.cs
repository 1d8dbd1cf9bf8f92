using Ratiogon.Core.Geometry;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;
using Ratiogon.Core.Sketching.Regions;
using Ratiogon.Core.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class RowDependenceTests
{
    /// <summary>Random sparse rows with some that are sums of others, against dense ranks.</summary>
    [Fact]
    public void Ranks_sets_and_what_is_left_free_agree_with_dense_algebra() => CsCheck.Check.Sample(CsCheck.Gen.Select(CsCheck.Gen.Int[2, 14], CsCheck.Gen.Int), (n, seed) =>
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
            var list = rows.Select(r => { var d = new double[n]; for (var i = 0; i < r.Columns.Length; i++) { d[r.Columns[i]] = r.Values[i]; } return d; }).Concat(extra).ToList();
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
        if (space.Rank != rank)
        {
            return false;
        }


        // A group can move in as many ways as fixing its columns adds to the rank, where that is plain.
        var unit = group.Select(c => { var d = new double[n]; d[c] = 1; return d; }).ToList();
        var free = RankOf(All(unit)) - rank;
        if (free == RankOf(All(unit), 1e-4) - RankOf(All([]), 1e-4) && space.RankOf(group) != free)
        {
            return false;
        }

        // A dependent row follows from the rows it names, and from no fewer of them.
        foreach (var (row, made) in space.Dependent)
        {
            var of = made.Keys.ToList();
            int Of(IEnumerable<int> some) => RankOf(Only([.. some]));
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

            if (rows[row].Columns.Length > 0 && (Of(of.Append(row)) != Of(of) || of.Exists(left => Of(of.Where(k => k != left).Append(row)) == Of(of.Where(k => k != left)))))
            {
                return false;
            }
        }

        return true;
    }, iter: 400);
}

public class WitnessTests
{
    [Theory]
    [InlineData(0, 1)]
    [InlineData(0, 1e-3)]
    [InlineData(0, 1e3)]
    [InlineData(10_000, 1)]
    [InlineData(500_000, 1)]
    public void Every_generated_sketch_has_one_that_meets_its_constraints_and_is_elsewhere(double far, double size)
    {
        for (var seed = 0; seed < 150; seed++)
        {
            var random = new Random(seed);
            var sketch = VerdictTests.Drawn(random, size);
            for (var k = 0; k < 5; k++)
            {
                sketch = VerdictTests.Rule(random, sketch) is { } edit && SketchEditor.Apply(sketch, edit, ParameterValues.None) is { Done: true } done ? done.Value : sketch;
            }

            if (far > 0)
            {
                // Carried far away, without what ties it to the origin.
                sketch = sketch with
                {
                    Entities = [.. sketch.Entities.Select(e => e is PointEntity p ? p with { At = p.At + new Vec2(far, -far / 3) } : e)],
                    Constraints = sketch.Constraints.RemoveAll(c => c.Of.Any(Sketch.IsBuiltIn)),
                    Dimensions = sketch.Dimensions.RemoveAll(d => d.Of.Any(Sketch.IsBuiltIn)),
                };
            }

            var witness = Witness.Of(sketch);
            witness.ShouldNotBeNull($"{seed}: {VerdictTests.Words(sketch)}");
            new Independent(witness with { Dimensions = [] }, new Dictionary<string, double>()).Drawn.ShouldBeLessThan(Math.Max(1e-8 * size, 1e-9 + (1e-14 * far)), $"{seed}");
        }
    }

    [Fact]
    public void Freedoms_agree_with_singular_values_at_places_of_another_hand()
    {
        for (var seed = 0; seed < 200; seed++)
        {
            var random = new Random(300 + seed);
            var sketch = VerdictTests.Drawn(random, seed % 3 == 0 ? 1e-2 : seed % 3 == 1 ? 1 : 1e3);
            for (var k = 0; k < 6; k++)
            {
                sketch = VerdictTests.Rule(random, sketch) is { } edit && SketchEditor.Apply(sketch, edit, ParameterValues.None) is { Done: true } done ? done.Value : sketch;
            }

            var second = new Independent(sketch, Witness.Readings(sketch));
            if (second.Speaks && second.Freedoms(random, 4) is var count and < int.MaxValue)
            {
                Freedoms.Of(sketch).AtTheseSizes.ShouldBe(count, $"{seed}: {VerdictTests.Words(sketch)}");
            }
        }
    }
}

public class NewtonTests
{
    private static EquationSystem System(Sketch sketch) => EquationSystem.From(SketchCompiler.Write(sketch, SketchValues.Of(sketch, ParameterValues.None).Value, reducing: true));

    private static Sketch Bent(double reach) => Of(
        [P("a", 0, 0), P("b", 8, 5), P("c", 16, 1)], [K("f", "fixed", "a"), K("g", "fixed", "c")],
        [D("d1", "distance", "10 mm", "a", "b"), D("d2", "distance", $"{reach} mm", "b", "c")]);

    [Theory]
    [InlineData(10, true)]
    [InlineData(26, true)]
    [InlineData(40, false)]
    public void A_square_block_is_solved_where_it_can_be(double reach, bool can)
    {
        var system = System(Bent(reach));
        var x = (double[])system.Start.Clone();
        var steps = 0;
        var solved = DenseNewton.Solve(system, [.. Enumerable.Range(0, system.Equations.Length)], [.. Enumerable.Range(0, system.UnknownCount)], x, ref steps);
        solved.ShouldBe(can);
        (system.LargestResidual(x) <= 1e-10).ShouldBe(can);
        steps.ShouldBeLessThan(80);
    }

    [Fact]
    public void Least_movement_moves_no_more_than_it_must_and_stops_where_nothing_can_be_bettered()
    {
        var system = System(Of([P("a", 0, 0), P("b", 10, 0.1)], [], [D("d", "distance", "14 mm", "a", "b")]));
        var x = (double[])system.Start.Clone();
        var steps = 0;
        new MinimumNorm(system, [0], [0, 1, 2, 3], x).Solve(x, system.Weights, ref steps).ShouldBeTrue();
        x.Zip(system.Start).Sum(p => Math.Pow(p.First - p.Second, 2)).ShouldBe(8, 0.05, "each end by two");

        var far = System(Bent(40));
        var y = (double[])far.Start.Clone();
        var tries = 0;
        new MinimumNorm(far, [.. Enumerable.Range(0, far.Equations.Length)], [.. Enumerable.Range(0, far.UnknownCount)], y).Solve(y, far.Weights, ref tries).ShouldBeFalse();
        tries.ShouldBeLessThan(120);

        // Where it stopped the sum of squares has no slope.
        var row = new double[Equation.MostVariables];
        var slope = new double[far.UnknownCount];
        for (var e = 0; e < far.Equations.Length; e++)
        {
            var r = far.Evaluate(e, y, row);
            for (var i = 0; i < far.Columns[e].Length; i++)
            {
                slope[far.Columns[e][i]] += row[i] * r;
            }
        }

        slope.Max(Math.Abs).ShouldBeLessThan(1e-2 * far.LargestResidual(y));
    }

    [Fact]
    public void A_walk_turns_a_line_half_round_with_its_length()
    {
        var sketch = Of([P("a", 0, 0), P("b", 10, 0), P("c", 30, 1), P("d", 20, 1.4), L("m", "a", "b"), L("n", "c", "d")], [K("f", "fixed", "m")], [D("w", "angle", "20 deg", "m", "n")]);
        var steps = 0;
        var near = Walk.Lead(sketch, SketchValues.Of(sketch, ParameterValues.None).Value, rigid: true, ref steps);
        near.ShouldNotBeNull();
        near.At("c").DistanceTo(near.At("d")).ShouldBe(sketch.At("c").DistanceTo(sketch.At("d")), 1e-4);
        Math.Abs((near.At("d") - near.At("c")).Angle * 180 / Math.PI).ShouldBe(20, 1e-3);
    }
}

public class RootsTests
{
    [Theory]
    [InlineData(0)]
    [InlineData(0.3)]
    [InlineData(1e-9)]
    [InlineData(-0.7)]
    public void A_root_takes_a_handful_of_evaluations(double root)
    {
        var count = 0;
        double F(double t)
        {
            count++;
            return Math.Sinh(t - root);
        }

        var found = Roots.Brent(F, -1, 1.5, F(-1), F(1.5));
        found.ShouldBe(root, 1e-15 + (1e-15 * Math.Abs(root)));
        count.ShouldBeLessThan(16);
    }
}

public class BlocksTests
{
    [Fact]
    public void Outlines_that_only_touch_are_blocks_of_their_own()
    {
        // Two triangles that share a vertex, a tail, and a loop.
        var block = Blocks.Of(7, [(0, 1), (1, 2), (2, 0), (2, 3), (3, 4), (4, 2), (4, 5), (6, 6)]);
        block[..3].Distinct().Count().ShouldBe(1);
        block[3..6].Distinct().Count().ShouldBe(1);
        block.Distinct().Count().ShouldBe(4);
    }
}
