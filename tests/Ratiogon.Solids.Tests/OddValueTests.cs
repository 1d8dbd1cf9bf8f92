using System.Text.RegularExpressions;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests;

/// <summary>Whatever size of a part is given whatever value: it is refused with the reason, or the part is built, or the steps
/// that cannot follow say why. Nothing throws, and the part as it was comes back.</summary>
public sealed partial class OddValueTests : IDisposable
{
    private static readonly string[] Lengths = ["0 mm", "-5 mm", "0.001 mm", "0.3 mm", "7 mm", "33 mm", "1000 mm", "1e7 mm"];
    private static readonly string[] Angles = ["0 deg", "-30 deg", "0.01 deg", "89.9 deg", "90 deg", "180 deg", "359 deg", "1000 deg"];
    private static readonly string[] Numbers = ["0", "-1", "2.5", "1", "2", "40", "1000000"];
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public static TheoryData<string> Demo => [.. DemoParts.All.Select(p => p.File)];

    public void Dispose() => rebuilder.Dispose();

    [Theory]
    [MemberData(nameof(Demo))]
    public void Every_size_of_the_demo_takes_or_refuses_odd_values_with_words(string file)
    {
        var part = DemoParts.All.Single(p => p.File == file).Build();
        var before = rebuilder.Rebuild(part, withMesh: false);
        var sizes = part.Steps.SelectMany(s => s.Sizes.Select(z => (Step: s, Size: z))).ToList();
        sizes.Count.ShouldBeGreaterThan(10);
        var (refused, failed, built) = (0, 0, 0);
        for (var i = 0; i < sizes.Count; i++)
        {
            var (step, size) = sizes[i];
            var values =
                size.Kind == Dimension.OfAngle ? Angles
                : size.Kind == Dimension.OfLength ? Lengths
                : Numbers;

            // Two of each, another two for the next size: together every value is tried on every kind.
            foreach (var value in new[] { values[i % values.Length], values[(i + 3) % values.Length] })
            {
                var what = $"{step.Id}.{size.Field} = {value}";
                var next = new SetSize(step.Id, size.Field, value).Apply(part);
                if (!next.Done)
                {
                    Readable(next.Refusal!.Message, what);
                    refused++;
                    continue;
                }

                var result = rebuilder.Rebuild(next.Value, withMesh: false);
                var wrong = result.Steps.Where(s => s.State == StepState.Failed).ToList();
                wrong.ForEach(s => Readable(s.Message, $"{what}, {s.Id}"));
                (failed, built) = wrong.Count > 0 ? (failed + 1, built) : (failed, built + 1);
                result.Bodies.ShouldAllBe(b => b.Mass.Volume > 0 && double.IsFinite(b.Mass.Volume), what);
            }
        }

        (refused > 0 && built > 0).ShouldBeTrue($"{refused} refused, {failed} failed, {built} built");
        var after = rebuilder.Rebuild(part, withMesh: false);
        after.Steps.ShouldAllBe(s => s.State != StepState.Failed);
        after.Bodies.Single().Mass.ShouldBe(before.Bodies.Single().Mass);
    }

    /// <summary>A sentence, with no number that only a program would write, no field's inner name, and no minus nothing.</summary>
    private static void Readable(string message, string what)
    {
        message.Length.ShouldBeGreaterThan(20, what);
        message.ShouldEndWith(".", customMessage: what);
        Unreadable().Match(message).Value.ShouldBe("", $"{what}: {message}");
    }

    [GeneratedRegex(@"\d[eE][+-]?\d|NaN|∞|Infinity|\b[a-z]+[A-Z][a-z]+\b|-0[,) ]|Exception|horizontal-|vertical-")]
    private static partial Regex Unreadable();

    [Theory]
    [InlineData(
        LengthUnit.Millimetre,
        "The path has a kink of 90 deg at (12.7, 0, 25.4). Round it there, or keep the profile parallel to itself."
    )]
    [InlineData(LengthUnit.Inch, "The path has a kink of 90 deg at (0.5, 0, 1). Round it there, or keep the profile parallel to itself.")]
    public void Places_in_messages_are_in_the_unit_of_the_part(LengthUnit unit, string message)
    {
        var result = rebuilder.Rebuild(
            Parts.Of(
                new SetUnits(unit),
                new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
                new EditSketch("s", Parts.Circle("c", 12.7, 0, 1)),
                Parts.Line("up", new(12.7, 0, 0), new(12.7, 0, 25.4)),
                Parts.Line("across", new(12.7, 0, 25.4), new(60, 0, 25.4)),
                new AddStep(new SweepStep("w", 0, "", ["up", "across"]) { Sketch = "s" })
            ),
            withMesh: false
        );
        result.Step("w")!.Message.ShouldBe(message);
    }

    [Theory]
    [InlineData("count", "0", "The count must be more than zero, not 0.")]
    [InlineData("count", "-3", "The count must be more than zero, not -3.")]
    [InlineData("spacing", "2e6 mm", "The spacing may be up to 1000000 mm, not 2000000 mm.")]
    [InlineData("spacing", "30 deg", "A length is needed here; '30 deg' is an angle.")]
    public void A_size_is_refused_in_its_own_unit(string field, string value, string message)
    {
        var part = Parts.Of([
            .. Parts.Block(80, 50, 12),
            new AddStep(
                new PatternStep("p", 0, "", ["e"])
                {
                    Along = "world/x",
                    Count = "3",
                    Spacing = "10 mm",
                }
            ),
        ]);
        new SetSize("p", field, value).Apply(part).Refusal!.Message.ShouldBe(message);
    }
}
