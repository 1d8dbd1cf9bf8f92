using System.Text.RegularExpressions;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>References in the words of people.</summary>
public sealed class WordingTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private Model Built(Part part) => Model.Of(part, rebuilder.Rebuild(part, withMesh: false));

    /// <summary>A plate with four holes and a rounded edge.</summary>
    private static Part Plate() =>
        Parts.Of([
            .. Parts.Block(80, 50, 8),
            new RenameStep("e", "Plate"),
            .. Parts.Sketched(
                "t",
                "e/end",
                new SketchEdit
                {
                    Add =
                    [
                        .. new[] { (-30, -15), (30, -15), (30, 15), (-30, 15) }.SelectMany(
                            (at, i) =>
                                new SketchEntity[]
                                {
                                    new PointEntity($"p{i + 1}", new(at.Item1, at.Item2)),
                                    new CircleEntity($"c{i + 1}", $"p{i + 1}", 3.7),
                                }
                        ),
                    ],
                }
            ),
            new RenameStep("t", "Holes"),
            new AddStep(new ExtrudeStep("x", 0, "Bolts", "t") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
        ]);

    [Fact]
    public void A_plate_with_holes()
    {
        var wording = Built(Plate()).Wording;
        wording.Of("e/end").ShouldBe("top of Plate");
        wording.Of("e/start").ShouldBe("bottom of Plate");
        wording.Of("e/side/r.right").ShouldBe("right side of Plate");
        wording.Of("e/side/r.bottom").ShouldBe("front of Plate");
        wording.Of("e/end^e/side/r.right").ShouldBe("edge between the top and the right side of Plate, 50 mm");
        wording.Of("e/end^e/side/r.right^e/side/r.top^").ShouldBe("corner of the top, the right side and the back of Plate");
        wording.Of("x/side/c4").ShouldBe("left back hole ⌀ 7.4 of Bolts");
        wording.Of("e/end^x/side/c4").ShouldBe("rim of the left back hole ⌀ 7.4 of Bolts at the top of Plate");
        wording.Of("t/c4").ShouldBe("upper left circle ⌀ 7.4 of Holes");
        wording.Of("e/body").ShouldBe("body Plate");
        (wording.Of("world/xz"), wording.Of("world/x"), wording.Of("world/origin")).ShouldBe(("XZ", "x axis", "origin"));
    }

    [Fact]
    public void What_is_lost_is_said_as_far_as_its_name_tells()
    {
        var wording = Built(Plate()).Wording;
        wording.Of("e/side/l9").ShouldBe("side at l9 of Plate");
        wording.Of("e/end^gone/face").ShouldBe("edge between the end of Plate and the face of gone");
        wording.In("'e/end^e/side/r.right' is gone.").ShouldBe("The edge between the top and the right side of Plate, 50 mm is gone.");
        wording.In("No hole at x/side/c4: it misses.").ShouldBe("No hole at the left back hole ⌀ 7.4 of Bolts: it misses.");
        wording.In("Between 1/2 and 3/4 of n/a stays.").ShouldBe("Between 1/2 and 3/4 of n/a stays.");
    }

    /// <summary>A message of a step that fails names nothing by its path.</summary>
    [Fact]
    public void Messages_of_failing_steps_are_in_words()
    {
        var part = new AddStep(new FilletStep("f", 0, "Edge", ["e/end^e/side/r.right"]) { Radius = "30 mm" }).Apply(Plate()).Value;
        var message = rebuilder.Rebuild(part, withMesh: false).Step("f")!.Message;
        message.ShouldNotBeEmpty();
        Paths().Matches(message).ShouldBeEmpty(message);
    }

    /// <summary>Everything that the demo parts are made of: told apart, and without a path.</summary>
    [Fact]
    public void All_of_the_demo_parts()
    {
        foreach (var (file, build) in DemoParts.All)
        {
            var part = build();
            var built = rebuilder.Rebuild(part, withMesh: false);
            var wording = Model.Of(part, built).Wording;
            foreach (var body in built.Bodies)
            {
                foreach (
                    var (names, what) in new[]
                    {
                        (body.Names.Faces, "faces"),
                        (body.Names.Vertices, "corners"),
                        (body.Names.Edges, "edges"),
                    }
                )
                {
                    var words = names.Select(wording.Of).ToList();
                    words.Where(w => Paths().IsMatch(w)).ShouldBeEmpty(file);
                    var twice = words.GroupBy(w => w).Where(g => g.Count() > 1).Select(g => $"{g.Count()} x {g.Key}").ToList();
                    twice.Count.ShouldBeLessThanOrEqualTo(
                        what == "faces" ? 0 : words.Count / 10,
                        $"{file}, {what}: {string.Join("; ", twice.Take(6))}"
                    );
                }
            }
        }
    }

    private static Regex Paths() => new(@"\w/\w|\^|\[", RegexOptions.CultureInvariant);
}
