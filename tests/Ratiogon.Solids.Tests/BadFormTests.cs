using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>What cannot be built says why and where; the body before it stays.</summary>
public sealed class BadFormTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    /// <summary>The last step's message; the block before it must still stand whole.</summary>
    private string Fails(params PartCommand[] more)
    {
        var result = rebuilder.Rebuild(Parts.Of([.. Parts.Block(80, 50, 12), .. more]), withMesh: false);
        result.Steps[^1].State.ShouldBe(StepState.Failed);
        result.Bodies.Single().Mass.Volume.ShouldBe(80 * 50 * 12, 1e-6);
        return result.Steps[^1].Message;
    }

    private static SketchEdit Lines(params Vec2[] corners) =>
        new()
        {
            Add =
            [
                .. corners.Select((c, i) => (SketchEntity)new PointEntity($"p{i}", c)),
                .. Enumerable.Range(0, corners.Length - 1).Select(i => (SketchEntity)new LineEntity($"l{i}", $"p{i}", $"p{i + 1}")),
            ],
        };

    [Fact]
    public void An_open_profile_says_where_it_is_open()
    {
        var message = Fails([
            .. Parts.Sketched("o", "e/end", Lines(new(0, 0), new(10, 0), new(10, 10), new(0.5, 0.4))),
            new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "5 mm" }),
        ]);
        message.ShouldBe("The sketch closes no region. The nearest gap is 0.64 mm at (0, 0) on l0.");
    }

    [Fact]
    public void A_profile_without_anything_says_so() =>
        Fails([
            .. Parts.Sketched("o", "e/end", new SketchEdit { Add = [new PointEntity("p", Vec2.Zero)] }),
            new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "5 mm" }),
        ])
            .Length.ShouldBeGreaterThan(10);

    [Fact]
    public void A_profile_that_crosses_itself_becomes_the_regions_that_it_bounds()
    {
        // A bow tie: two triangles of 5 x 5 that meet in a point are two prisms.
        var bow = Lines(new(0, 0), new(10, 10), new(10, 0), new(0, 10)) is var open
            ? open with
            {
                Add = open.Add.Add(new LineEntity("close", "p3", "p0")),
            }
            : null!;
        var result = rebuilder.Rebuild(
            Parts.Of([.. Parts.Sketched("o", World.Xy, bow), new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "4 mm" })]),
            withMesh: false
        );
        result.Steps[^1].Message.ShouldBe("");
        result.Bodies.Sum(b => b.Mass.Volume).ShouldBe(2 * 25 * 4, 1e-6);
    }

    [Fact]
    public void A_length_of_nothing_is_refused_before_it_is_built()
    {
        var part = Parts.Of(Parts.Block(80, 50, 12));
        new SetSize("e", "length", "0 mm").Apply(part).Refusal!.Message.ShouldContain("more than zero");
        new AddStep(new FilletStep("f", 0, "", ["e/end"]) { Radius = "0 mm" }).Apply(part).Refusal!.Code.ShouldBe("size.too-small");
    }

    [Fact]
    public void A_cut_that_would_leave_nothing_and_one_that_meets_nothing()
    {
        Fails([
                .. Parts.Sketched("o", "e/start", Parts.Rectangle(200, 200, Vec2.Zero)),
                new AddStep(new ExtrudeStep("f", 0, "", "o") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
            ])
            .ShouldContain("nothing of the body");
        Fails([
                .. Parts.Sketched("o", World.Xy, Parts.Circle("c", 100, 0, 5)),
                new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "5 mm", Operation = FormOperation.Cut }),
            ])
            .ShouldContain("meets no material: the nearest is 55 mm away");
        Fails([
                .. Parts.Sketched("o", World.Xy, Parts.Circle("c", 100, 0, 5)),
                new AddStep(new ExtrudeStep("f", 0, "", "o") { Length = "5 mm", Operation = FormOperation.Intersect }),
            ])
            .ShouldContain("does not meet the body");
    }

    [Fact]
    public void A_fillet_too_large_says_how_large_it_may_be()
    {
        var message = Fails(new AddStep(new FilletStep("f", 0, "", ["e/end^e/side/r.left"]) { Radius = "20 mm" }));
        message.ShouldContain("20 mm does not fit at (-40, 0, 12)");
        message.ShouldContain("About 11.9");
    }

    [Fact]
    public void A_path_with_a_kink_a_loft_that_does_not_match_and_an_axis_across_its_profile()
    {
        PartCommand[] path = Parts.Sketched("k", "e/end", Lines(new(0, 0), new(20, 0), new(30, 20)));
        Fails([.. path, new AddStep(new SweepStep("f", 0, "", ["k/l0", "k/l1"]) { Profile = SweepProfile.Round, Diameter = "3 mm" })])
            .ShouldContain("a kink of 63.435 deg at (20, 0, 12)");
        PartCommand[] two =
        [
            .. Parts.Sketched("a", "e/end", Parts.Circle("c", 0, 0, 9).With(Parts.Circle("i", 0, 0, 4))),
            new AddStep(new PlaneStep("up", 0, "", [new DatumCondition("offset", ["e/end"]) { Values = ["20 mm"] }])),
            .. Parts.Sketched("b", "up", Parts.Circle("c", 0, 0, 9)),
        ];
        Fails([.. two, new AddStep(new LoftStep("f", 0, "", ["a", "b"]))]).ShouldContain("profile 1 has one hole, profile 2 has no holes");
        Fails([.. Parts.Sketched("a", World.Xz, Parts.Circle("c", 2, 0, 5)), new AddStep(new RevolveStep("f", 0, "", "a", "world/z"))])
            .ShouldContain("crosses the profile: it reaches 3 mm over it");
    }

    [Fact]
    public void What_does_not_belong_is_said_by_its_kind()
    {
        Fails(new AddStep(new FilletStep("f", 0, "", ["e/end^e/side/gone"]))).ShouldContain("is gone from the body. The closest now");
        Fails(new AddStep(new MirrorStep("f", 0, "", ["e"], "e/end^e/side/r.left"))).ShouldContain("is not flat");
        Fails([
                new AddStep(new FilletStep("g", 0, "", ["e/end^e/side/r.left"]) { Radius = "1 mm" }),
                new SuppressStep("g", true),
                new AddStep(new PatternStep("f", 0, "", ["e"]) { Along = "e/end", Count = "2.5" }),
            ])
            .ShouldContain("whole number");
        Fails(new AddStep(new ShellStep("f", 0, "", ["e/end^e/side/r.left"]))).ShouldContain("is no face");
    }
}
