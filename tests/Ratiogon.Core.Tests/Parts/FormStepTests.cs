using System.Text.Json;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Tools.Forms;

namespace Ratiogon.Core.Tests.Parts;

/// <summary>What all forms share: files, references, sizes, and the bench.</summary>
public class FormStepTests
{
    public static TheoryData<string> Kinds => [.. FormCatalog.All.Select(k => k.Kind)];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void An_empty_form_is_written_and_read_back_as_the_same(string kind)
    {
        Step step = FormCatalog.Find(kind)!.Make();
        var read = JsonSerializer.Deserialize<Step>(JsonSerializer.Serialize(step, PartJson.Compact), PartJson.Compact);
        read.ShouldBe(step);
        read!.Kind.ShouldBe(kind);
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Every_field_is_set_and_read_back_and_changes_the_step(string kind)
    {
        var step = FormCatalog.Find(kind)!.Make();
        step.Fields.Select(f => f.Name).ShouldBeUnique();
        foreach (var field in step.Fields)
        {
            var changed = field switch
            {
                PickField p => p.Set(step, ["other"]),
                ValueField v => v.Set(step, "7 mm"),
                ChoiceField c => c.Set(step, c.Options[^1].Value)!,
                FlagField f => f.Set(step, true),
                _ => throw new InvalidOperationException(),
            };
            changed.ShouldNotBe(step, field.Name);
            JsonSerializer.Deserialize<Step>(JsonSerializer.Serialize<Step>(changed, PartJson.Compact), PartJson.Compact).ShouldBe(changed);
            object read = field switch
            {
                PickField p => p.Get(changed)[0],
                ValueField v => v.Get(changed)!,
                ChoiceField c => c.Get(changed),
                FlagField f => f.Get(changed),
                _ => "",
            };
            read.ShouldBe(
                field switch
                {
                    PickField => "other",
                    ValueField => "7 mm",
                    ChoiceField c => c.Options[^1].Value,
                    _ => (object)true,
                }
            );
        }
    }

    [Fact]
    public void References_follow_the_fields_that_apply()
    {
        var step = new ExtrudeStep("e", 0, "e", "s") { To = "t", Along = "a" };
        step.References.ShouldBe(["s", "a"]);
        (step with { Extent = ExtrudeExtent.To }).References.ShouldBe(["s", "t", "a"]);
        step.Sizes.Select(z => z.Field).ShouldBe(["length"]);
        (step with { Extent = ExtrudeExtent.ThroughAll }).Sizes.ShouldBeEmpty();
    }

    [Fact]
    public void What_is_missing_is_said_and_nothing_is_sent()
    {
        var answer = FormDrafting.Begin(new Model(new Part()), FormCatalog.Find("revolve")!, []);
        answer.Command.ShouldBeNull();
        answer.Prompt.ShouldBe("Pick the sketch to turn");
        new HoleStep("h", 0, "h", []).Check()!.Message.ShouldContain("Pick points or circles");
    }

    [Fact]
    public void Picks_made_before_the_form_find_their_fields()
    {
        var part = new Part();
        foreach (var (id, x) in new[] { ("p", "0 mm"), ("q", "9 mm") })
        {
            part = new AddStep(new PointStep(id, 0, id, [new DatumCondition("coordinates", []) { Values = [x, "0 mm", "5 mm"] }]))
                .Apply(part)
                .Value;
        }

        part = new AddStep(new CurveStep("line", 0, "line", CurveShape.Line, ["p", "q"])).Apply(part).Value;
        var model = new Model(part);
        foreach (var step in part.Steps)
        {
            _ = step is DatumStep datum ? model.Build(datum).Done : model.Build((CurveStep)step).Done;
        }

        var hole = (HoleStep)FormDrafting.Begin(model, FormCatalog.Find("hole")!, ["p", "line"]).Draft.Step;
        hole.Centres.ShouldBe(["p"]);
        hole.Along.ShouldBe("line");
        FormDrafting.Begin(model, FormCatalog.Find("hole")!, ["p", "world"]).Refusal.ShouldBeNull();
        FormDrafting.Begin(model, FormCatalog.Find("fillet")!, ["p"]).Refusal!.Message.ShouldContain("edges takes a face or an edge");
    }

    [Fact]
    public void Threads_follow_the_tables()
    {
        Threads.Find("M6")!.ShouldBe(new MetricThread("M6", 6, 1, 5));
        Threads.Find("M10x1.25")!.Drill.ShouldBe(8.75);
        Threads.Clearance(Threads.Find("M8x1")!, ClearanceFit.Fine).ShouldBe(8.4);
        Threads.Find("M6")!.Minor.ShouldBe(4.917, 0.001);
        Threads.All.Select(t => t.Name).ShouldBeUnique();
        Threads.Find("M7").ShouldBeNull();
        foreach (var thread in Threads.All)
        {
            thread.Drill.ShouldBeInRange(thread.Minor - 0.01, thread.Diameter - (0.7 * thread.Pitch), thread.Name);
        }
    }

    [Fact]
    public void A_lost_reference_is_mended_wherever_it_stands_in_the_step()
    {
        var part = new Part
        {
            Steps =
            [
                new ExtrudeStep("base", 10, "base", "s"),
                new SweepStep("w", 20, "w", ["base/a + base/b", "base/c"]) { Profile = SweepProfile.Round },
            ],
        };
        var mended = new MendReference("w", "base/b", "base/d").Apply(part);
        mended.Done.ShouldBeTrue(mended.Refusal?.Message);
        ((SweepStep)mended.Value.Find("w")!).Path.ShouldBe(["base/a + base/d", "base/c"]);
        new MendReference("w", "base/x", "base/d").Apply(part).Refusal!.Code.ShouldBe("step.reference");
    }

    [Fact]
    public void Copies_of_steps_land_right_behind_and_groups_change_nothing_else()
    {
        var part = new Part { Steps = [new ExtrudeStep("a", 10, "a", "world"), new ExtrudeStep("b", 11, "b", "world")] };
        var copied = new DuplicateStep("a").Apply(part).Value;
        copied.Steps.Select(s => s.Name).ShouldBe(["a", "a copy", "b"]);
        copied.Steps.Select(s => s.Number).ShouldBeInOrder();
        var grouped = new GroupSteps(["a", "b"], "both").Apply(part).Value;
        grouped.Steps.ShouldAllBe(s => s.Group == "both");
        new GroupSteps(["a"], null).Apply(grouped).Value.Find("a")!.Group.ShouldBeNull();
        new GroupSteps(["gone"], "x").Apply(part).Refusal!.Code.ShouldBe("step.unknown");
    }

    [Fact]
    public void Materials_are_kept_changed_and_dropped()
    {
        var part = new KeepMaterial(new Material("beech", 0.7) { Colour = "#c9a26b" }).Apply(new Part()).Value;
        part.Materials.Single().Name.ShouldBe("beech");
        new KeepMaterial(new Material("beech", 0.72)).Apply(part).Value.Materials.Single().Density.ShouldBe(0.72);
        new DropMaterial("beech").Apply(part).Value.Materials.ShouldBeEmpty();
        new DropMaterial("ash").Apply(part).Refusal!.Code.ShouldBe("material.unknown");
        new KeepMaterial(new Material("x", -1)).Apply(part).Refusal!.Code.ShouldBe("material.density");
        new KeepMaterial(new Material("x", 1) { Colour = "red" }).Apply(part).Refusal!.Code.ShouldBe("material.colour");
        Materials.All.Select(m => m.Name).ShouldBeUnique();
        Materials.All.ShouldAllBe(m => m.Check() == null);
    }
}
