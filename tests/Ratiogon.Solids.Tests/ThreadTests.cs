using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests;

/// <summary>Threads cut from end to end. Every section across the axis is the same, turned: what is taken is the area of the
/// groove times the way of its centroid times the turns, whatever the length.</summary>
public sealed class ThreadTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    /// <summary>Of one turn of a groove between two radii, which opens at the first.</summary>
    private static double Turn(double open, double bottom, double openWidth, double bottomWidth)
    {
        var deep = Math.Abs(open - bottom);
        var centroid = open + ((bottom - open) / 3 * (openWidth + (2 * bottomWidth)) / (openWidth + bottomWidth));
        return (openWidth + bottomWidth) / 2 * deep * 2 * Math.PI * centroid;
    }

    private RebuildResult Built(params PartCommand[] commands) => rebuilder.Rebuild(Parts.Of(commands), withMesh: false);

    [Theory]
    [InlineData("M10", 10, 1.5, 3)]
    [InlineData("M10", 10, 1.5, 8)]
    [InlineData("M10", 10, 1.5, 22)]
    [InlineData("M10", 10, 1.5, 30.7)]
    [InlineData("M3", 3, 0.5, 9.3)]
    [InlineData("M6", 6, 1, 17)]
    [InlineData("M20", 20, 2.5, 47)]
    [InlineData("M8x1", 8, 1, 12.4)]
    public void On_a_shaft_of_any_length(string thread, double d, double pitch, double length)
    {
        var h = pitch * Math.Sqrt(3) / 2;
        var built = Built(
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("c", 0, 0, d / 2)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = FormattableString.Invariant($"{length} mm") }),
            new AddStep(new ThreadStep("t", 0, "", "e/side/c") { Thread = thread, Modelled = true })
        );
        built.Step("t")!.Message.ShouldBe("");
        var taken = Turn(d / 2, (d / 2) - (h * 5 / 8), pitch * 7 / 8, pitch / 4) * length / pitch;
        var left = (Math.PI * d * d / 4 * length) - taken;
        built.Bodies.Single().Mass.Volume.ShouldBe(left, left * 1e-6);
        Pieces(built.Bodies.Single().Names.Faces, length / pitch);
    }

    [Theory]
    [InlineData("M6", 6, 5, 1, 9)]
    [InlineData("M8", 8, 6.8, 1.25, 20)]
    [InlineData("M12", 12, 10.2, 1.75, 31)]
    public void In_a_hole_of_any_depth(string thread, double d, double drill, double pitch, double depth)
    {
        var built = Built(
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("o", 0, 0, 15).With(Parts.Circle("i", 0, 0, drill / 2))),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = $"{depth} mm" }),
            new AddStep(new ThreadStep("t", 0, "", "e/side/i") { Thread = thread, Modelled = true })
        );
        built.Step("t")!.Message.ShouldBe("");
        var taken = Turn(drill / 2, d / 2, (pitch / 8) + ((d - drill) * Math.Tan(Math.PI / 6)), pitch / 8) * depth / pitch;
        var left = (Math.PI * (225 - (drill * drill / 4)) * depth) - taken;
        built.Bodies.Single().Mass.Volume.ShouldBe(left, left * 1e-6);
        Pieces(built.Bodies.Single().Names.Faces, depth / pitch);
    }

    /// <summary>Flanks and root have a face for each turn, each named once.</summary>
    private static void Pieces(IEnumerable<string> faces, double turns)
    {
        var names = faces.ToList();
        names.Distinct().Count().ShouldBe(names.Count);
        foreach (var part in new[] { "t/flank/1", "t/flank/2", "t/root" })
        {
            names.Count(f => f.StartsWith(part, StringComparison.Ordinal)).ShouldBeInRange((int)turns, (int)turns + 4);
        }
    }

    [Fact]
    public void Longer_than_it_can_be_says_so()
    {
        PartCommand[] shaft =
        [
            new AddStep(new SketchStep("s", 0, "", World.Xy, Sketch.Empty)),
            new EditSketch("s", Parts.Circle("c", 0, 0, 5)),
            new AddStep(new ExtrudeStep("e", 0, "", "s") { Length = "300 mm" }),
        ];
        Built([.. shaft, new AddStep(new ThreadStep("t", 0, "", "e/side/c") { Thread = "M10", Modelled = true })])
            .Step("t")!
            .Message.ShouldContain("up to 120 turns; this one would have 201");
    }
}
