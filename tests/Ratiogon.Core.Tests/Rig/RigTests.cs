namespace Ratiogon.Core.Tests.Rig;

/// <summary>Everything that a user can send to a sketch, in any order.</summary>
public class RigTests
{
    private const int Length = 60;

    /// <summary>How many sequences; RATIOGON_RIG sets another number, for a long run.</summary>
    private static int Sequences => int.TryParse(Environment.GetEnvironmentVariable("RATIOGON_RIG"), out var n) ? n : 200;

    [Fact]
    public void No_sequence_of_inputs_breaks_a_sketch()
    {
        var failures = Enumerable
            .Range(0, Sequences)
            .AsParallel()
            .AsOrdered()
            .Select(seed => SketchRig.Run(seed, Length))
            .OfType<SketchRig.Failure>()
            .ToList();
        TestContext.Current.TestOutputHelper?.WriteLine(
            string.Join(
                "\n",
                SketchRig.Refusals.OrderByDescending(r => r.Value.Count).Select(r => $"{r.Value.Count} {r.Key}: {r.Value.Example}")
            )
        );
        failures.Count.ShouldBe(
            0,
            string.Join(
                "\n",
                failures
                    .GroupBy(f => f.Kind)
                    .Select(g => $"{g.Count()} x {g.Key}\n{string.Join("\n", g.OrderBy(f => f.Inputs.Count).Take(4))}")
            )
        );
    }
}
