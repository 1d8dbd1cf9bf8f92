using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Tools.Forms;

namespace Ratiogon.Solids.Tests;

/// <summary>A refused form says at which field, and what can be done; done, it is built.</summary>
public sealed class FormWaysTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    /// <summary>Follows a way of the last step, which is refused, as the screen does.</summary>
    private void Follow(Part part, string field, string words, int ways = 1)
    {
        var step = (FormStep)part.Steps[^1];
        var refused = rebuilder.Rebuild(part, withMesh: false).Steps[^1];
        refused.State.ShouldBe(StepState.Failed);
        refused.Ways.Length.ShouldBe(ways, string.Join(", ", refused.Ways));
        var way = refused.Ways[0];
        way.Field.ShouldBe(field);
        way.Words.ShouldBe(words);
        var model = Model.Of(part, rebuilder.Rebuild(part, withMesh: false));
        var answer = FormDrafting.Answer(
            model,
            new FormDraft(step),
            way.Instead is { } instead
                ? new FormInput
                {
                    Field = way.Field,
                    Pick = way.Value,
                    Value = instead,
                }
                : new FormInput { Field = way.Field, Value = way.Value }
        );
        answer.Refusal.ShouldBeNull();
        var after = rebuilder.Rebuild(part.With((FormStep)answer.Draft.Step), withMesh: false).Steps[^1];
        after.State.ShouldBe(StepState.Built, after.Message);
    }

    [Fact]
    public void Sizes_that_do_not_fit_offer_the_largest_that_does()
    {
        var block = Parts.Block(40, 30, 20);
        Follow(
            Parts.Of([.. block, new AddStep(new FilletStep("f", 0, "", ["e/side/r.left^e/side/r.top"]) { Radius = "50 mm" })]),
            "radius",
            "Take 29.9 mm"
        );
        Follow(
            Parts.Of([.. block, new AddStep(new ShellStep("f", 0, "", ["e/end"]) { Thickness = "16 mm" })]),
            "thickness",
            "Take 14.9 mm"
        );
        Follow(
            Parts.Of([
                .. block,
                new AddStep(new DraftStep("f", 0, "", ["e/side/r.left", "e/side/r.right"], "e/start") { Angle = "50 deg", Flip = true }),
            ]),
            "angle",
            "Take 44.9 deg"
        );
    }

    [Fact]
    public void What_lies_the_other_way_is_turned_round()
    {
        Follow(
            Parts.Of([
                .. Parts.Block(40, 30, 20),
                .. Parts.Sketched("t", "e/end", Parts.Circle("c", 0, 0, 4)),
                new AddStep(new ExtrudeStep("f", 0, "", "t") { Length = "5 mm", Operation = FormOperation.Cut }),
            ]),
            "flip",
            "Turn it round"
        );
        Follow(
            Parts.Of([
                .. Parts.Block(40, 30, 20),
                .. Parts.Sketched("t", "e/end", Parts.Circle("c", 0, 0, 4)),
                new AddStep(new HoleStep("f", 0, "", ["t/c"]) { Flip = true }),
            ]),
            "flip",
            "Turn it round"
        );
    }

    [Fact]
    public void A_pipe_too_thick_for_its_path_offers_the_thickest()
    {
        var part = Parts.Of([
            .. Parts.Sketched("s", World.Xy, Parts.Bend(20, 8)),
            new AddStep(new SweepStep("f", 0, "", ["s/a", "s/bend", "s/b"]) { Profile = SweepProfile.Round, Diameter = "20 mm" }),
        ]);
        Follow(part, "diameter", "Take 15.84 mm");
    }

    [Fact]
    public void A_join_through_all_may_cut_instead()
    {
        var model = Model.Of(new Part(), RebuildResult.Empty);
        var answer = FormDrafting.Answer(
            model,
            new FormDraft(new ExtrudeStep("", 0, "", "s")),
            new FormInput { Field = "extent", Value = nameof(ExtrudeExtent.ThroughAll) }
        );
        answer.Refusal.ShouldBeNull();
        answer.Prompt.ShouldContain("Through all can only cut");
        answer.Ways.ShouldHaveSingleItem().ShouldBe(new FormWay("Cut instead", "operation", nameof(FormOperation.Cut)));
        var cut = FormDrafting.Answer(model, answer.Draft, new FormInput { Field = "operation", Value = nameof(FormOperation.Cut) });
        ((ExtrudeStep)cut.Draft.Step).Operation.ShouldBe(FormOperation.Cut);
        cut.Ways.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("e/end", true)]
    [InlineData(World.Xy, false)]
    public void Material_taken_away_on_a_face_goes_into_the_body_by_itself(string on, bool turns)
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20), .. Parts.Sketched("t", on, Parts.Circle("c", 0, 0, 4))]);
        var model = Model.Of(part, rebuilder.Rebuild(part, withMesh: false));
        ExtrudeStep With(FormStep step, string field, string value) =>
            (ExtrudeStep)FormDrafting.Answer(model, new FormDraft(step), new FormInput { Field = field, Value = value }).Draft.Step;
        var cut = With(new ExtrudeStep("", 0, "", "t"), "operation", nameof(FormOperation.Cut));
        cut.Flip.ShouldBe(turns);
        With(cut, "operation", nameof(FormOperation.Join)).Flip.ShouldBeFalse();
        // What was turned by hand stays so while it goes on taking away.
        With(cut with { Flip = !turns }, "operation", nameof(FormOperation.Cut)).Flip.ShouldBe(!turns);
    }

    [Fact]
    public void A_lost_name_offers_what_is_closest_by_its_words()
    {
        var part = Parts.Of([
            .. Parts.Block(40, 30, 20),
            .. Parts.Sketched("t", "e/side/r.bottom", Parts.Circle("c", 0, 10, 3)),
            new AddStep(new ExtrudeStep("g", 0, "", "t") { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut }),
            .. Parts.Sketched("u", World.Xy, Parts.Circle("c", 0, 0, 2)),
            new AddStep(new ExtrudeStep("f", 0, "", "u") { Extent = ExtrudeExtent.To, To = "g/end" }),
        ]);
        var refused = rebuilder.Rebuild(part, withMesh: false).Steps[^1];
        refused.State.ShouldBe(StepState.Failed);
        refused.Ways.ShouldNotBeEmpty();
        refused.Ways.ShouldAllBe(w => w.Instead == "g/end" && w.Field == "to" && !w.Words.Contains('/'));
    }

    /// <summary>An axis through a point, in the xz plane and leaning by 45 degrees, leans one way or the other: along one the hole meets the
    /// block, along the other it passes by.</summary>
    [Fact]
    public void A_hole_that_misses_along_one_solution_of_its_axis_is_offered_the_other()
    {
        var axis = new AxisStep(
            "a",
            0,
            "Lean",
            [
                new DatumCondition("through", ["p"]),
                new DatumCondition("in", [World.Xz]),
                new DatumCondition("angle-plane", [World.Xy]) { Values = ["45 deg"] },
            ]
        );
        PartCommand[] scene =
        [
            .. Parts.Block(40, 30, 20),
            Parts.Point("p", new Vec3(-60, 0, 60)),
            new AddStep(axis),
            new AddStep(
                new HoleStep("h", 0, "", ["p"])
                {
                    Along = "a",
                    Diameter = "4 mm",
                    Extent = HoleExtent.Through,
                }
            ),
        ];
        var part = Parts.Of(scene);
        var model = Model.Of(part, rebuilder.Rebuild(part, withMesh: false));
        var labels = Ratiogon
            .Core.Datums.DatumSolver.Solve(axis.Makes, model.Resolve(axis.Makes, axis.Conditions).Value)
            .Solutions.Select(s => s.Label)
            .ToList();
        labels.Count.ShouldBe(2);
        var missed = 0;
        foreach (var label in labels)
        {
            var chosen = new ReplaceStep(axis with { Choice = label }).Apply(part).Value;
            var refused = rebuilder.Rebuild(chosen, withMesh: false).Steps[^1];
            if (refused.State == StepState.Built || !refused.Message.Contains("meets no material:", StringComparison.Ordinal))
            {
                refused.Ways.ShouldAllBe(w => w.FirstJson == null);
                continue;
            }

            missed++;
            var way = refused.Ways.Single(w => w.FirstJson is not null);
            way.Words.ShouldBe("Take the other solution of Lean");
            var command = JsonSerializer.Deserialize<PartCommand>(way.FirstJson!, PartJson.Compact)!;
            var after = rebuilder.Rebuild(command.Apply(chosen).Value, withMesh: false).Steps[^1];
            (after.State == StepState.Built || after.Ways.Any(w => w.Field == "flip")).ShouldBeTrue(after.Message);
        }

        missed.ShouldBe(1);
    }
}
