using System.Diagnostics;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tests.Parts;

/// <summary>What takes longer than somebody would wait is refused, and nothing is changed by it.</summary>
public class PatienceTests
{
    /// <summary>Rectangles side by side in one sketch, each held by the one before.</summary>
    private static (Part Part, EditSketch Edit) Many(int count)
    {
        var part = new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)).Apply(new Part()).Value;
        var edit = new SketchEdit();
        for (var i = 0; i < count; i++)
        {
            var one = ShapeCatalog.RectangleByCorners($"r{i}", new Vec2(10 * i, 0), new Vec2((10 * i) + 8, 6));
            edit = edit with
            {
                Add = [.. edit.Add, .. one.Add],
                Tie =
                [
                    .. edit.Tie,
                    .. one.Tie,
                    .. i == 0 ? [] : new[] { new SketchConstraint($"e{i}", "equal", [$"r{i - 1}.left", $"r{i}.bottom"]) },
                ],
                Shapes = [.. edit.Shapes, .. one.Shapes],
            };
        }

        return (part, new EditSketch("s", edit));
    }

    [Fact]
    public void An_edit_without_time_is_refused_with_how_long_it_had()
    {
        var (part, edit) = Many(60);
        using (Patience.Limit(TimeSpan.FromMilliseconds(0.001)))
        {
            var refusal = edit.Apply(part).Refusal.ShouldNotBeNull();
            refusal.Code.ShouldBe("command.too-long");
            refusal.Message.ShouldContain("nothing was changed");
        }

        edit.Apply(part).Done.ShouldBeTrue("with time it is done");
    }

    [Fact]
    public void A_shorter_bound_around_a_longer_one_stays_and_ends_with_its_block()
    {
        var (part, edit) = Many(20);
        using (Patience.Limit(TimeSpan.FromMilliseconds(0.001)))
        {
            using (Patience.Limit(TimeSpan.FromMinutes(1)))
            {
                edit.Apply(part).Refusal.ShouldNotBeNull().Code.ShouldBe("command.too-long");
            }
        }

        edit.Apply(part).Done.ShouldBeTrue();
    }

    /// <summary>Looked at often enough: the refusal comes soon after the time is over, however large the sketch.</summary>
    [Theory]
    [InlineData(300)]
    [InlineData(1500)]
    public void It_ends_soon_after_the_time_is_over(int count)
    {
        var (part, edit) = Many(count);
        var clock = Stopwatch.StartNew();
        using (Patience.Limit(TimeSpan.FromMilliseconds(50)))
        {
            var done = edit.Apply(part);
            (done.Done || done.Refusal!.Code == "command.too-long").ShouldBeTrue(done.Refusal?.Message);
        }

        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(10));
    }
}
