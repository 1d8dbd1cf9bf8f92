using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;
using Ratiogon.Core.Sketches.Writing;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class NewtonTests
{
    private static EquationSystem System(Sketch sketch) => SystemReduction.Of(SketchCompiler.Write(sketch, Values(sketch), reducing: true));

    private static Sketch Bent(double reach) =>
        Of(
            [P("a", 0, 0), P("b", 8, 5), P("c", 16, 1)],
            [K("f", "fixed", "a"), K("g", "fixed", "c")],
            [D("d1", "distance", "10 mm", "a", "b"), D("d2", "distance", $"{reach} mm", "b", "c")]
        );

    [Theory]
    [InlineData(10, true)]
    [InlineData(26, true)]
    [InlineData(40, false)]
    public void A_square_block_is_solved_where_it_can_be(double reach, bool can)
    {
        var system = System(Bent(reach));
        var x = (double[])system.Start.Clone();
        var steps = 0;
        var solved = DenseNewton.Solve(
            system,
            [.. Enumerable.Range(0, system.Equations.Length)],
            [.. Enumerable.Range(0, system.UnknownCount)],
            x,
            ref steps
        );
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
        new MinimumNorm(far, [.. Enumerable.Range(0, far.Equations.Length)], [.. Enumerable.Range(0, far.UnknownCount)], y)
            .Solve(y, far.Weights, ref tries)
            .ShouldBeFalse();
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
        var sketch = Of(
            [P("a", 0, 0), P("b", 10, 0), P("c", 30, 1), P("d", 20, 1.4), L("m", "a", "b"), L("n", "c", "d")],
            [K("f", "fixed", "m")],
            [D("w", "angle", "20 deg", "m", "n")]
        );
        var steps = 0;
        var near = Walk.Lead(sketch, Values(sketch), rigid: true, ref steps);
        near.ShouldNotBeNull();
        near.At("c").DistanceTo(near.At("d")).ShouldBe(sketch.At("c").DistanceTo(sketch.At("d")), 1e-4);
        Math.Abs((near.At("d") - near.At("c")).Angle * 180 / Math.PI).ShouldBe(20, 1e-3);
    }
}
