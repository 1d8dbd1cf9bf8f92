using Ratiogon.Core.Building;

namespace Ratiogon.Solids.Tests.Rig;

public sealed class FormRigTests
{
    /// <summary>How many; RATIOGON_FORM_RIG sets another number, and RATIOGON_FORM_RIG_FROM the first seed, for a long run.</summary>
    private static int Count => Number("RATIOGON_FORM_RIG", 220);

    private static int First => Number("RATIOGON_FORM_RIG_FROM", 0);

    private static int Number(string name, int otherwise) =>
        int.TryParse(Environment.GetEnvironmentVariable(name), out var n) ? n : otherwise;

    [Fact]
    public void No_random_form_is_wrong_without_a_word()
    {
        var verdicts = Enumerable
            .Range(First, Count)
            .Where(seed => Environment.GetEnvironmentVariable("RATIOGON_FORM_RIG_KIND") is not { } kind || FormRig.KindOf(seed) == kind)
            .AsParallel()
            .AsOrdered()
            .Select(seed =>
            {
                using var rebuilder = new Rebuilder(new NativeKernel());
                var verdict = FormRig.Run(seed, rebuilder);
                if (Environment.GetEnvironmentVariable("RATIOGON_FORM_RIG_LOG") is { } log)
                {
                    lock (typeof(FormRig))
                    {
                        File.AppendAllText(log, $"{verdict}\n");
                    }
                }

                return verdict;
            })
            .ToList();
        var counts = string.Join(
            "\n",
            verdicts
                .GroupBy(v => v.Kind)
                .Select(g =>
                    $"{g.Key}: {string.Join(", ", g.GroupBy(v => v.Outcome).Select(o => $"{o.Count()} {o.Key.ToString().ToLowerInvariant()}"))}"
                )
        );
        TestContext.Current.TestOutputHelper?.WriteLine(counts);
        verdicts.Where(v => v.Outcome == FormRig.Outcome.Wrong).Select(v => v.ToString()).ShouldBeEmpty();
        verdicts.Count(v => v.Outcome == FormRig.Outcome.Right).ShouldBeGreaterThan(verdicts.Count * 6 / 10, counts);
    }
}
