using Ratiogon.Core.Demo;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;

namespace Ratiogon.Core.Tests.Parts;

/// <summary>Ranges, tolerances and variants: what is said of a part's sizes stays true, or is refused.</summary>
public class SaidOfPartsTests
{
    private static Part Done(Part part, params PartCommand[] commands) =>
        commands.Aggregate(part, (p, c) =>
            c.Apply(p) is var done && done.Done ? done.Value : throw new InvalidOperationException($"{c}: {done.Refusal}")
        );

    private static Refusal Refused(Part part, PartCommand command) => command.Apply(part).Refusal.ShouldNotBeNull($"{command}");

    private static readonly Part Plain = Done(
        new Part(),
        new SetParameter("w", "80 mm"),
        new SetParameter("h", "w / 2"),
        new SetParameter("n", "4"),
        new SetParameter("a", "30 deg")
    );

    [Fact]
    public void A_value_outside_its_range_is_refused_whichever_way_it_comes_about()
    {
        var part = Done(Plain, new LimitParameter("w", "50", "100 mm", "5"), new LimitParameter("h", null, "45 mm"));
        part.Parameters[0].Least.ShouldBe("50 mm");
        part.Parameters[0].StrideValue.ShouldBe(5);
        Refused(part, new SetParameter("w", "101 mm"))
            .Message.ShouldBe("'w' would be 101 mm: its range goes from 50 mm to 100 mm. Choose a value in it, or change the range.");
        Refused(part, new SetParameter("w", "95 mm")).Where.ShouldBe("h", "by what is worked out from it");
        Refused(part, new SetParameters([new SetParameter("w", "49 mm")])).Code.ShouldBe("parameter.range");
        Done(part, new SetParameter("w", "90 mm")).Values.Of("h").Value.Value.ShouldBe(45);
        Refused(part, new LimitParameter("w", "90 mm", "60 mm")).Code.ShouldBe("parameter.range");
        Refused(part, new LimitParameter("w", "n", null)).Message.ShouldContain("a number, not a formula");
        Refused(part, new LimitParameter("w", "3 deg", null)).Where.ShouldBe("least");
        Refused(part, new LimitParameter("w", null, "70 mm")).Message.ShouldContain("would be 80 mm");
        Refused(part, new LimitParameter("w", null, null, "0 mm")).Code.ShouldBe("parameter.stride");
        Refused(part, new LimitParameter("gone", null, null)).Code.ShouldBe("parameter.unknown");

        // A range stays with the parameter when its value, note or name changes, and can be taken away.
        part = Done(part, new SetParameter("w", "70 mm", "width"), new RenameParameter("w", "wide"));
        (part.Parameters[0].Name, part.Parameters[0].Most).ShouldBe(("wide", "100 mm"));
        Done(part, new LimitParameter("wide", null, null), new LimitParameter("h", null, null), new SetParameter("wide", "999 mm"));
        Done(Plain, new LimitParameter("a", "10", "45")).Parameters[3].Least.ShouldBe("10 deg");
    }

    [Fact]
    public void Parameters_are_placed_grouped_and_set_from_a_table_all_or_none()
    {
        var part = Done(Plain, new PlaceParameter("n", 0, " Holes "));
        part.Parameters.Select(p => p.Name).ShouldBe(["n", "w", "h", "a"]);
        part.Parameters[0].Group.ShouldBe("Holes");
        Done(part, new PlaceParameter("n", 99)).Parameters[^1].ShouldBe(Plain.Parameters[2]);

        // Rows may use what stands in later ones.
        part = Done(Plain, new SetParameters([new SetParameter("w", "2 * d"), new SetParameter("d", "7 mm", "new")]));
        part.Values.Of("h").Value.Value.ShouldBe(7);
        Refused(Plain, new SetParameters([new SetParameter("w", "9 mm"), new SetParameter("h", "2 *")])).Message.ShouldStartWith("h: ");
        Refused(Plain, new SetParameters([new SetParameter("w", "h"), new SetParameter("h", "w")]))
            .Message.ShouldContain("depends on itself");
        Refused(Plain, new SetParameters([])).Code.ShouldBe("parameter.table");
        Refused(Plain, new SetParameters([new SetParameter("3x", "1")])).Where.ShouldBe("3x");
    }

    [Fact]
    public void A_tolerance_is_of_a_size_that_is_made_and_goes_with_it()
    {
        var plate = MotorPlate.Build();
        plate.Tolerances.Select(t => t.Text).ShouldBe(["H7", "±0.02", "+0.03 0"]);
        Refused(plate, new SetTolerance("outline", "frame.width", "wide")).Code.ShouldBe("tolerance.text");
        Refused(plate, new SetTolerance("outline", "gone", "±1")).Code.ShouldBe("step.no-size");
        Refused(plate, new SetTolerance("gone", "length", "±1")).Code.ShouldBe("step.unknown");
        Refused(plate, new SetTolerance("", "gone", "±1")).Code.ShouldBe("parameter.unknown");
        Refused(plate, new SetTolerance("wall", "least", "±1"))
            .Message.ShouldBe("The least of Bore to slot is not made: only what a sketch or a form makes can be off.");
        Refused(Plain, new SetTolerance("", "n", "±1")).Message.ShouldContain("a plain number");
        Done(plate, new SetTolerance("outline", "bore.d", " ")).Tolerances.Length.ShouldBe(2);
        Done(plate, new SetTolerance("outline", "bore.d", "±0.1")).Tolerances[^1].Text.ShouldBe("±0.1");
        Done(plate, new RemoveStep("slots", Anyway: true)).Tolerances.Select(t => t.Name).ShouldBe(["bore.d"]);

        // A parameter's goes with its name.
        var named = Done(Plain, new SetTolerance("", "w", "±0.5"), new RenameParameter("w", "wide"));
        named.Tolerances.ShouldBe([new SizeTolerance("", "wide", "±0.5")]);
        Done(named, new SetParameter("h", "1 mm"), new RemoveParameter("wide")).Tolerances.ShouldBeEmpty();

        // Every size that a sketch or form makes has one by the class; what lays out, and limits, have none.
        var sizes = Toleranced.Of(plate).Value;
        sizes.Single(s => s is { Step: "plate", Name: "length" }).Zone.ShouldBe(new Core.Quantities.Zone(-0.1, 0.1));
        sizes.Single(s => s is { Step: "outline", Name: "bore.d" }).General.ShouldBeFalse();
        sizes.ShouldNotContain(s => s.Name == "least" || s.Name == "most");
        Toleranced.Of(Done(plate, new SetGeneralTolerance(null))).Value.Count.ShouldBe(3);
    }

    [Fact]
    public void Variants_are_chosen_and_known_again_and_bad_ones_refused()
    {
        var part = Done(
            Plain,
            new SetVariants([
                new Variant("Small", [new VariantValue("w", "40")]),
                new Variant("Large", [new VariantValue("w", "n * 30 mm"), new VariantValue("n", "5")])
                {
                    Material = new Material("steel", 7.85),
                },
            ])
        );
        part.Variants[0].Values[0].Value.ShouldBe("40 mm", "a bare number is in the part's unit");
        part.Variants.ShouldAllBe(v => !v.Fits(part));
        var large = Done(part, new ChooseVariant("Large"));
        large.Values.Of("w").Value.Value.ShouldBe(150);
        large.Values.Of("h").Value.Value.ShouldBe(75);
        large.Material.Name.ShouldBe("steel");
        large.Variants.Select(v => v.Fits(large)).ShouldBe([false, true]);
        Done(large, new SetParameter("n", "6")).Variants.ShouldAllBe(v => !v.Fits(Done(large, new SetParameter("n", "6"))));

        Refusal Bad(params Variant[] rows) => Refused(part, new SetVariants([.. rows]));
        Bad(new Variant("A", []), new Variant("a", [])).Message.ShouldBe("There are two variants called 'a': each has a name of its own.");
        Bad(new Variant(" ", [])).Where.ShouldBe("name");
        Bad(new Variant("A", [new VariantValue("gone", "1")])).Message.ShouldBe("A: there is no parameter 'gone'.");
        Bad(new Variant("A", [new VariantValue("w", "w + 1 mm")])).Message.ShouldContain("depends on itself");
        Bad(new Variant("A", [new VariantValue("w", "3 deg")])).Message.ShouldBe("A, w: it is a length, not an angle.");
        Bad(new Variant("A", [new VariantValue("w", "1 mm"), new VariantValue("w", "2 mm")])).Code.ShouldBe("variant.twice");
        Bad(new Variant("A", []) { Suppressed = ["gone"] }).Code.ShouldBe("step.unknown");
        Bad(new Variant("A", []) { Material = new Material("x", -1) }).Code.ShouldBe("material.density");
        Refused(part, new ChooseVariant("gone")).Code.ShouldBe("variant.unknown");

        // Names follow, and what is taken away leaves no trace.
        var renamed = Done(part, new RenameParameter("n", "count"));
        renamed.Variants[1].Values.ShouldBe([new VariantValue("w", "count * 30 mm"), new VariantValue("count", "5")]);
        Refused(part, new RemoveParameter("n")).Message.ShouldBe("'n' is read by variant Large.");
        Done(part, new RemoveParameter("a")).Variants.ShouldBe(part.Variants);
    }

    [Fact]
    public void A_variant_leaves_steps_out()
    {
        var plate = Done(
            MotorPlate.Build(),
            new SetVariants([new Variant("Flat", []) { Suppressed = ["collar"] }, new Variant("Full", []) { Suppressed = [] }])
        );
        var flat = Done(plate, new ChooseVariant("Flat"));
        flat.Steps.Where(s => s.Suppressed).Select(s => s.Id).ShouldBe(["collar"]);
        flat.Variants.Select(v => v.Fits(flat)).ShouldBe([true, false]);
        Done(flat, new ChooseVariant("Full")).Steps.ShouldBe(plate.Steps);
        Done(flat, new RemoveStep("collar", Anyway: true)).Variants[0].Suppressed!.Value.ShouldBeEmpty();
    }
}
