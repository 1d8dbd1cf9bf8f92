using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Solving;
using static Ratiogon.Core.Tests.Solving.Sketches;

namespace Ratiogon.Core.Tests.Solving;

public class FinishItTests
{
    private static Outcome<Sketch> Finished(Sketch sketch, out IReadOnlyList<Proposal> proposals)
    {
        proposals = FinishIt.Propose(sketch, LengthUnit.Millimetre);
        return Edit(
            sketch,
            new SketchEdit
            {
                Tie = [.. proposals.Select(p => p.Tie).OfType<SketchConstraint>()],
                Size = [.. proposals.Select(p => p.Size).OfType<SketchDimension>()],
            }
        );
    }

    [Fact]
    public void Four_equal_holes_about_the_axes_take_three_symmetries_one_diameter_and_two_sizes()
    {
        Vec2[] at = [new(30, 15), new(-30, 15), new(-30, -15), new(30, -15)];
        var sketch = Of(at.SelectMany((p, i) => new SketchEntity[] { P($"p{i}", p.X, p.Y), new CircleEntity($"c{i}", $"p{i}", 3) }));
        var done = Finished(sketch, out var proposals).Value;
        Freedoms.Of(done).Count.ShouldBe(0);
        proposals.Count(p => p.Tie?.Kind == "symmetric").ShouldBe(3);
        proposals.Count(p => p.Size?.Kind == "diameter").ShouldBe(1);
        proposals.Count.ShouldBe(6);
        at.Select((p, i) => done.At($"p{i}").DistanceTo(p)).Max().ShouldBeLessThan(1e-9);
    }

    [Fact]
    public void What_is_drawn_a_little_beside_symmetry_becomes_symmetric()
    {
        var sketch = Of([P("a", 30.2, 15), new CircleEntity("c", "a", 3), P("b", -29.9, 15.1), new CircleEntity("d", "b", 3.02)]);
        var done = Finished(sketch, out var proposals).Value;
        proposals[0].Words.ShouldStartWith("symmetric: c, d");
        (done.At("a").X + done.At("b").X).ShouldBe(0, 1e-9);
        done.At("a").X.ShouldBe(30, 1e-9);
        Freedoms.Of(done).Count.ShouldBe(0);
    }

    [Fact]
    public void Proposals_hold_together_set_the_sketch_and_move_little()
    {
        var (refused, far, sets) = (new List<string>(), new List<string>(), 0);
        const int Count = 150;
        for (var seed = 0; seed < Count; seed++)
        {
            var random = new Random(7000 + seed);
            var sketch = VerdictTests.Ruled(random, 1, 3);

            var finished = Finished(sketch, out var proposals);
            if (!finished.Done)
            {
                refused.Add($"{seed}: {finished.Refusal!.Message}");
                continue;
            }

            var extent = sketch.Entities.OfType<PointEntity>().Max(p => p.At.Length);
            sets += Freedoms.Of(finished.Value).Count == 0 ? 1 : 0;
            var moved = sketch.Entities.OfType<PointEntity>().Max(p => finished.Value.At(p.Id).DistanceTo(p.At));
            if (moved > 0.03 * extent)
            {
                far.Add($"{seed}: {moved:0.###} of {extent:0.#} | {string.Join("; ", proposals.Select(p => p.Words))}");
            }
        }

        refused.ShouldBeEmpty();
        far.ShouldBeEmpty();
        sets.ShouldBeGreaterThan(Count * 9 / 10);
    }
}
