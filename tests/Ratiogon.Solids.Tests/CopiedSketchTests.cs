using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Sketches as live copies of others in space: where the motion takes the original, whatever becomes of that.</summary>
public sealed class CopiedSketchTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    /// <summary>An L with a circle, so that nothing of it is its own mirror image, on a plane that leans.</summary>
    private static PartCommand[] Lopsided =>
        [
            new AddStep(
                new FrameStep(
                    "tilt",
                    0,
                    "",
                    [new DatumCondition("free", []) { Values = ["12 mm", "7 mm", "3 mm", "20 deg", "30 deg", "10 deg"] }]
                )
            ),
            new AddStep(new SketchStep("draw", 0, "Draw", "tilt", Sketch.Empty)),
            new EditSketch(
                "draw",
                new SketchEdit
                {
                    Add =
                    [
                        new PointEntity("a", new(2, 1)),
                        new PointEntity("b", new(14, 1)),
                        new PointEntity("c", new(14, 4)),
                        new PointEntity("d", new(2, 9)),
                        new LineEntity("ab", "a", "b"),
                        new LineEntity("bc", "b", "c"),
                        new LineEntity("cd", "c", "d"),
                        new LineEntity("da", "d", "a"),
                        new PointEntity("m", new(5, 3)),
                        new CircleEntity("hole", "m", 1),
                    ],
                    Size = [new SketchDimension("hole.d", "diameter", ["hole"], "2 mm")],
                }
            ),
        ];

    private Part Pressed(string offer, string by)
    {
        var part = Parts.Of(Lopsided);
        var offers = Core.Tools.Picks.Offers.OnModel(part, rebuilder.Rebuild(part, withMesh: false), ["draw", by], []);
        return Parts.Of([.. Lopsided, offers.Single(o => o.Id == offer).Command!]);
    }

    private RebuildResult Built(Part part)
    {
        var built = rebuilder.Rebuild(part, withMesh: false);
        built.Steps.Where(s => s.State != StepState.Built).Select(s => $"{s.Id}: {s.Message}").ShouldBeEmpty();
        return built;
    }

    [Theory]
    [InlineData("copies-mirrored", World.Yz, 1)]
    [InlineData("copies-round-3", "world/z", 2)]
    [InlineData("copies-moved", "world/x", 1)]
    public void A_copy_lies_where_the_motion_takes_its_original_and_follows_it(string offer, string by, int copies)
    {
        var part = Pressed(offer, by);
        Check(part);

        // Drawn further, made larger, and laid elsewhere.
        Check(
            Parts.Then(
                part,
                new EditSketch("draw", new SketchEdit { Add = [new PointEntity("e", new(20, 20)), new LineEntity("ce", "c", "e")] }),
                new SetSize("draw", "hole.d", "3 mm"),
                new PlaceSketch("draw", "tilt", "33 deg", "4 mm")
            )
        );

        void Check(Part now)
        {
            var model = Model.Of(now, Built(now));
            var made = now.Steps.OfType<SketchStep>().Where(s => s.Like == "draw").ToList();
            made.Count.ShouldBe(copies);
            foreach (var (copy, i) in made.Select((c, i) => (c, i)))
            {
                Vec3 Goes(Vec3 p) =>
                    offer switch
                    {
                        "copies-mirrored" => p with { X = -p.X },
                        "copies-moved" => p with { X = p.X + 20 },
                        _ => p.Turned(Vec3.AlongZ, (i + 1) * 2 * Math.PI / 3),
                    };
                foreach (var entity in ((SketchStep)now.Find("draw")!).Sketch.Entities.Where(e => !Sketch.IsBuiltIn(e.Id)))
                {
                    var (here, there) = (model.Find($"draw/{entity.Id}").Value, model.Find($"{copy.Id}/{entity.Id}").Value);
                    if (here.Place is { } place)
                    {
                        there.Place!.Value.DistanceTo(Goes(place)).ShouldBeLessThan(1e-9, entity.Id);
                    }

                    if (here.Path is { } path)
                    {
                        var ends = new[] { there.Path!.Start, there.Path.End };
                        ends.Min(e => e.DistanceTo(Goes(path.End))).ShouldBeLessThan(1e-9, entity.Id);
                        there.Path.Length.ShouldBe(path.Length, 1e-9);
                    }
                }
            }
        }
    }

    [Fact]
    public void A_form_stands_on_a_copy_and_changes_with_the_original()
    {
        var part = Pressed("copies-mirrored", World.Yz);
        var copy = part.Steps.OfType<SketchStep>().Last();
        part = Parts.Then(
            part,
            new AddStep(new ExtrudeStep("one", 0, "", "draw") { Length = "5 mm" }),
            new AddStep(new ExtrudeStep("other", 0, "", copy.Id) { Length = "5 mm", Operation = FormOperation.Body })
        );
        foreach (var diameter in new[] { 2.0, 2.6 })
        {
            var built = Built(Parts.Then(part, new SetSize("draw", "hole.d", FormattableString.Invariant($"{diameter} mm"))));
            var volume = 5 * ((12 * (3 + 8) / 2.0) - (Math.PI * diameter * diameter / 4));
            built.Bodies.Select(b => b.Mass.Volume).ShouldAllBe(v => Math.Abs(v - volume) < 1e-6);
            built.Bodies.Length.ShouldBe(2);
            built.Bodies[1].Mass.Centre.X.ShouldBeLessThan(0);
        }
    }

    [Fact]
    public void Nothing_is_drawn_in_a_copy_until_it_is_made_a_sketch_of_its_own()
    {
        var part = Pressed("copies-mirrored", World.Yz);
        var copy = part.Steps.OfType<SketchStep>().Last();
        var line = new EditSketch(copy.Id, new SketchEdit { Add = [new PointEntity("z", new(1, 1))] });
        var refused = line.Apply(part).Refusal!;
        refused.Code.ShouldBe("sketch.copy");
        refused.Message.ShouldContain("live copy of Draw");
        new OwnSketch("draw").Apply(part).Refusal!.Code.ShouldBe("sketch.copy");

        var own = Parts.Then(part, new OwnSketch(copy.Id), line, new SetSize("draw", "hole.d", "3 mm"));
        var model = Model.Of(own, Built(own));
        model.Find($"{copy.Id}/hole").Value.Path!.Length.ShouldBe(2 * Math.PI, 1e-9, "it no longer follows");
        model.Find("draw/hole").Value.Path!.Length.ShouldBe(3 * Math.PI, 1e-9);

        // The original gone, the copy waits for it and says so.
        var gone = new RemoveStep("draw", Anyway: true).Apply(part).Value;
        rebuilder.Rebuild(gone, withMesh: false).Step(copy.Id)!.State.ShouldNotBe(StepState.Built);
    }

    [Fact]
    public void A_copy_of_a_copy_follows_as_well()
    {
        var part = Pressed("copies-moved", "world/x");
        var first = part.Steps.OfType<SketchStep>().Last();
        part = Parts.Then(
            part,
            new AddStep(new SketchStep("again", 0, "", World.Xy, Sketch.Empty) { Like = first.Id }),
            new SetSize("draw", "hole.d", "3 mm")
        );
        Model.Of(part, Built(part)).Find("again/hole").Value.Path!.Length.ShouldBe(3 * Math.PI, 1e-9);
        ((SketchStep)new OwnSketch("again").Apply(part).Value.Find("again")!).Sketch.Dimensions.ShouldHaveSingleItem();
    }
}
