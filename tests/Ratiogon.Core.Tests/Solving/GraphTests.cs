using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class MatchingTests
{
    [Fact]
    public void A_matching_that_needs_augmenting_is_found()
    {
        // Greedy takes column 0 for row 0 and must give it up for row 1.
        var matching = Matching.Maximum(
            [
                [0, 1],
                [0],
            ],
            2
        );
        matching.Size.ShouldBe(2);
        matching.ColumnOf.ShouldBe([1, 0]);
    }

    [Fact]
    public void Rows_without_columns_stay_unmatched()
    {
        var matching = Matching.Maximum(
            [
                [],
                [2],
                [2],
            ],
            3
        );
        matching.Size.ShouldBe(1);
        matching.ColumnOf[0].ShouldBe(-1);
    }

    [Fact]
    public void Size_agrees_with_trying_every_assignment() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[1, 6], CsCheck.Gen.Int[1, 6], CsCheck.Gen.Int[0, 63].Array[6]),
            t =>
            {
                var (rowCount, columns, bits) = t;
                var rows = bits.Take(rowCount).Select(b => Enumerable.Range(0, columns).Where(c => (b >> c & 1) == 1).ToArray()).ToArray();
                int Best(int row, int taken) =>
                    row == rows.Length
                        ? 0
                        : Math.Max(
                            Best(row + 1, taken),
                            rows[row]
                                .Where(c => (taken >> c & 1) == 0)
                                .Select(c => 1 + Best(row + 1, taken | (1 << c)))
                                .DefaultIfEmpty(0)
                                .Max()
                        );
                var matching = Matching.Maximum(rows, columns);
                for (var r = 0; r < rows.Length; r++)
                {
                    if (matching.ColumnOf[r] >= 0 && matching.RowOf[matching.ColumnOf[r]] != r)
                    {
                        return false;
                    }
                }

                return matching.Size == Best(0, 0);
            },
            iter: 300
        );

    [Fact]
    public void A_chain_of_thousands_does_not_overflow_the_stack()
    {
        const int N = 20_000;
        var rows = Enumerable.Range(0, N).Select(i => i == 0 ? new[] { 0 } : [i - 1, i]).Reverse().ToArray();
        Matching.Maximum(rows, N).Size.ShouldBe(N);
    }
}

public class StronglyConnectedTests
{
    private static List<List<int>> Of(Dictionary<int, int[]> graph) => StronglyConnected.Of(graph.Count, graph.Keys, n => graph[n]);

    [Fact]
    public void A_cycle_is_one_component_and_what_it_needs_comes_first()
    {
        var found = Of(
            new()
            {
                [0] = [1],
                [1] = [2],
                [2] = [0, 3],
                [3] = [],
            }
        );
        found.Count.ShouldBe(2);
        found[0].ShouldBe([3]);
        found[1].Order().ShouldBe([0, 1, 2]);
    }

    [Fact]
    public void Separate_nodes_are_components_of_their_own() =>
        Of(
                new()
                {
                    [0] = [],
                    [1] = [],
                    [2] = [1],
                }
            )
            .Select(c => c.Single())
            .ShouldBe([0, 1, 2]);

    [Fact]
    public void Two_cycles_joined_one_way_stay_two()
    {
        var found = Of(
            new()
            {
                [0] = [1],
                [1] = [0, 2],
                [2] = [3],
                [3] = [2],
            }
        );
        found.Select(c => string.Join(',', c.Order())).ShouldBe(["2,3", "0,1"]);
    }
}

public class DulmageMendelsohnTests
{
    private static DulmageMendelsohn Of(Core.Sketches.Sketch sketch)
    {
        var writer = SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: true);
        var system = SystemReduction.Of(writer);
        var (equations, unknowns) = Components.Of(system).Single();
        return ComponentStructure.Of(system, equations, unknowns).Parts;
    }

    [Fact]
    public void A_set_triangle_is_well_determined_in_small_blocks()
    {
        var parts = Of(Of3(K("f", "fixed", "a"), K("h", "horizontal", "ab")));
        parts.Over.ShouldBeEmpty();
        parts.Under.ShouldBeEmpty();
        parts.Blocks.Sum(b => b.Equations.Length).ShouldBe(2);
        parts.StructuralRank.ShouldBe(2);
    }

    [Fact]
    public void A_floating_triangle_is_under_determined()
    {
        var parts = Of(Of3());
        parts.Under.Length.ShouldBe(3);
        parts.UnderUnknowns.Length.ShouldBe(6);
        parts.Blocks.ShouldBeEmpty();
    }

    [Fact]
    public void Too_many_equations_make_an_over_determined_part()
    {
        var sketch = Of3(K("f", "fixed", "a", "b"));
        var parts = Of(sketch with { Dimensions = sketch.Dimensions.Add(D("d4", "distance", "3 mm", "c", "y-axis")) });
        parts.Over.Length.ShouldBe(2, "two distances for the one coordinate that is left of c");
        parts.OverUnknowns.Length.ShouldBe(1);
    }

    private static Core.Sketches.Sketch Of3(params Core.Sketches.SketchConstraint[] ties) =>
        Triangle(D("d1", "distance", "10 mm", "ab"), D("d2", "distance", "11 mm", "bc"), D("d3", "distance", "12 mm", "ca")) with
        {
            Constraints = [.. ties],
        };
}

public class ComponentsTests
{
    [Fact]
    public void Things_without_a_common_equation_are_apart()
    {
        var sketch = Sketches.Of(
            [P("a", 0, 0), P("b", 9, 2), P("c", 20, 0), P("d", 29, 3), P("free", 1, 1)],
            [],
            [D("d1", "distance", "9 mm", "a", "b"), D("d2", "distance", "8 mm", "c", "d")]
        );
        var system = SystemReduction.Of(SketchCompiler.Write(sketch, Witness.Readings(sketch), reducing: true));
        Components.Of(system).Select(c => (c.Equations.Count, c.Unknowns.Count)).ShouldBe([(1, 4), (1, 4)]);
    }
}
