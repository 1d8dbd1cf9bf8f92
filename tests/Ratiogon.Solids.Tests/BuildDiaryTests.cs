using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Solids.Tests;

/// <summary>Builds that end the process are gone around by the next one.</summary>
public sealed class BuildDiaryTests : IDisposable
{
    private readonly string path = Path.Combine(Path.GetTempPath(), $"diary-{Guid.NewGuid():N}");

    public void Dispose() => File.Delete(path);

    private static readonly Part Fine = Parts.Of(Parts.Block(10, 10, 8)),
        Bad = Parts.Of(Parts.Block(10, 10, 9));

    /// <summary>Stands for a process: a build of the bad one ends it, with whatever else is under way.</summary>
    private static RebuildResult Build(Part part) => part == Bad ? throw new InvalidOperationException("dies") : RebuildResult.Empty;

    [Fact]
    public void What_was_under_way_at_two_deaths_is_not_built_again()
    {
        using (var first = new BuildDiary(path))
        {
            first.Careful.ShouldBeFalse();
            var build = first.Watched(Build);
            build(Fine).ShouldBe(RebuildResult.Empty);
            Should.Throw<InvalidOperationException>(() => build(Bad));
        }

        using (var second = new BuildDiary(path))
        {
            (second.Careful, second.Known).ShouldBe((true, 0), "one death may have had another cause");
            var build = second.Watched(Build);
            build(Fine).ShouldBe(RebuildResult.Empty);
            Should.Throw<InvalidOperationException>(() => build(Bad));
        }

        using var third = new BuildDiary(path);
        third.Known.ShouldBe(1);
        var around = third.Watched(Build);
        around(Fine).ShouldBe(RebuildResult.Empty);
        var told = around(Bad).Steps.Single();
        (told.Id, told.State, told.Message).ShouldBe(("e", StepState.Failed, "The geometry kernel gave up on these values."));
    }

    /// <summary>What two had begun side by side when one of them died: both are suspects, and the innocent one is cleared.</summary>
    [Fact]
    public void What_was_only_beside_it_is_built()
    {
        using (var first = new BuildDiary(path))
        {
            Should.Throw<InvalidOperationException>(() => first.Watched(_ => first.Watched(Build)(Bad))(Fine));
        }

        using (var second = new BuildDiary(path))
        {
            second.Watched(Build)(Fine).ShouldBe(RebuildResult.Empty);
            Should.Throw<InvalidOperationException>(() => second.Watched(Build)(Bad));
        }

        using var third = new BuildDiary(path);
        third.Known.ShouldBe(1);
        third.Watched(Build)(Fine).ShouldBe(RebuildResult.Empty);
    }
}
