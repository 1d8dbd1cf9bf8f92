using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Tests.Solving;

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
            var sketch = VerdictTests.Ruled(random, size, 5);

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
            new Independent(witness with { Dimensions = [] }, new Dictionary<string, double>()).Drawn.ShouldBeLessThan(
                Math.Max(1e-8 * size, 1e-9 + (1e-14 * far)),
                $"{seed}"
            );
        }
    }

    [Fact]
    public void Freedoms_agree_with_singular_values_at_places_of_another_hand()
    {
        for (var seed = 0; seed < 200; seed++)
        {
            var random = new Random(300 + seed);
            var sketch = VerdictTests.Ruled(
                random,
                seed % 3 == 0 ? 1e-2
                    : seed % 3 == 1 ? 1
                    : 1e3,
                6
            );

            var second = new Independent(sketch, Witness.Readings(sketch));
            if (second.Speaks && second.Freedoms(random, 4) is var count and < int.MaxValue)
            {
                Freedoms.Of(sketch).AtTheseSizes.ShouldBe(count, $"{seed}: {VerdictTests.Words(sketch)}");
            }
        }
    }
}
