using System.Collections.Immutable;
using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Tolerances, aims, courses, flexing, variants and what hangs on what, against numbers worked out by hand.</summary>
public sealed class AskingTests : IDisposable
{
    private readonly Rebuilder[] rebuilders = [new(new NativeKernel()), new(new NativeKernel())];

    public void Dispose()
    {
        foreach (var rebuilder in rebuilders)
        {
            rebuilder.Dispose();
        }
    }

    private Builders Builders(int count = 2) =>
        new([.. rebuilders.Take(count).Select(r => (Func<Part, RebuildResult>)(p => r.Rebuild(p, withMesh: false)))]);

    private T Asked<T>(Part part, Question question, CancellationToken cancel = default)
        where T : Answer
    {
        var answer = question.Ask(part, Builders(), null, cancel);
        return (answer.Done ? answer.Value : throw new InvalidOperationException(answer.Refusal!.Message)).ShouldBeOfType<T>();
    }

    private Refusal Refused(Part part, Question question) => question.Ask(part, Builders()).Refusal.ShouldNotBeNull($"{question}");

    /// <summary>A block of parameters w, h and t, and its volume.</summary>
    private static Part Block(params PartCommand[] more) =>
        Parts.Of([
            new SetParameter("w", "80 mm"),
            new SetParameter("h", "50 mm"),
            new SetParameter("t", "10 mm"),
            .. Parts.Block(80, 50, 10),
            new SetSize("s", "r.width", "w"),
            new SetSize("s", "r.height", "h"),
            new SetSize("e", "length", "t"),
            new AddStep(new ReadingStep("r", 0, "Volume", "volume", [])),
            .. more,
        ]);

    [Fact]
    public void Tolerances_of_a_block_are_those_by_hand()
    {
        var part = Block(
            new SetTolerance("s", "r.width", "±0.3"),
            new SetTolerance("e", "length", "+0.1 -0.05"),
            new SetLimits("r", "39600 mm^3", "40500 mm^3")
        );
        var answer = Asked<ToleranceAnswer>(part, new TolerancesQuestion("Volume", 400, 7));
        answer.WorstLeast.ShouldBe(79.7 * 50 * 9.95, 1e-6);
        answer.WorstMost.ShouldBe(80.3 * 50 * 10.1, 1e-6);
        answer.Mean.ShouldBe(40000 + (4000 * 0.025), 1e-6);
        answer.Spread.ShouldBe(Math.Sqrt((150 * 150) + (300 * 300)), 1e-6);
        answer.Linear.ShouldBeTrue();
        answer.Contributions.Select(c => (c.Words, Math.Round(c.Share, 9))).ShouldBe([("length of e", 0.8), ("r.width of s", 0.2)]);
        answer.Contributions[0].Tightened.ShouldBe(Math.Sqrt((150 * 150) + (150 * 150)), 1e-6, "half as wide");
        answer.Contributions[0].Opened.ShouldBe(Math.Sqrt((150 * 150) + (600 * 600)), 1e-6, "twice as wide");
        answer.Contributions[0].Written.ShouldBe("10 mm +0.1 −0.05");

        // What was drawn lies about what the sum of squares says; normal, cut at three deviations.
        var drawn = answer.Sampled.ShouldNotBeNull();
        (drawn.Runs, drawn.Failed, drawn.Counts.Sum()).ShouldBe((400, 0, 400));
        drawn.Mean.ShouldBe(answer.Mean, 4 * answer.Spread / 3 / Math.Sqrt(400));
        drawn.Deviation.ShouldBe(answer.Spread / 3, 0.12 * answer.Spread / 3);
        answer.Cp!.Value.ShouldBe(900 / (6 * drawn.Deviation), 1e-9);
        answer.Cpk!.Value.ShouldBe(Math.Min(40500 - drawn.Mean, drawn.Mean - 39600) / (3 * drawn.Deviation), 1e-9);
        answer.Within!.Value.ShouldBe(drawn.Within / 400.0);

        // The same seed is the same draw, whoever builds.
        var again = new TolerancesQuestion("r", 400, 7).Ask(part, Builders(1)).Value.ShouldBeOfType<ToleranceAnswer>();
        again.Sampled!.Mean.ShouldBe(drawn.Mean, 1e-9 * drawn.Mean);
        again.Sampled.Counts.ShouldBe(drawn.Counts);
        Asked<ToleranceAnswer>(part, new TolerancesQuestion("r", 400, 8)).Sampled!.Mean.ShouldNotBe(drawn.Mean);
    }

    /// <summary>Without a draw the share within the limits is that of a normal distribution (tables of it).</summary>
    [Theory]
    [InlineData(1, 0.682689492137086)]
    [InlineData(2, 0.954499736103642)]
    [InlineData(3, 0.997300203936740)]
    public void The_share_within_is_that_of_the_normal_distribution(double deviations, double within)
    {
        var off = 0.1 * deviations * 50 * 10;
        var part = Block(new SetTolerance("s", "r.width", "±0.3"), new SetLimits("r", $"{40000 - off:R} mm^3", $"{40000 + off:R} mm^3"));
        var answer = Asked<ToleranceAnswer>(part, new TolerancesQuestion("r", 0));
        answer.Sampled.ShouldBeNull();
        answer.Within!.Value.ShouldBe(within, 1e-9);
        (answer.Cp!.Value, answer.Cpk!.Value).ShouldBe((deviations / 3, deviations / 3), new Close(1e-6));
    }

    /// <summary>The larger of two sizes: contributions do not add up, so parts are drawn by themselves.</summary>
    [Fact]
    public void Where_contributions_do_not_add_up_parts_are_drawn()
    {
        var part = Parts.Of([
            new SetParameter("a", "8 mm"),
            new SetParameter("b", "8 mm"),
            .. Parts.Block(10, 10, 8),
            new SetSize("e", "length", "max(a, b)"),
            new AddStep(new ReadingStep("r", 0, "Volume", "volume", [])),
            new SetTolerance("", "a", "±1"),
            new SetTolerance("", "b", "±1"),
        ]);
        var answer = Asked<ToleranceAnswer>(part, new TolerancesQuestion("r"));
        answer.Linear.ShouldBeFalse();
        answer.Sampled!.Runs.ShouldBe(ToleranceStudy.RunsIfBent);

        // The larger of two normal values of deviation s lies s / sqrt(pi) above their mean.
        answer.Sampled.Mean.ShouldBe(800 + (100 / 3.0 / Math.Sqrt(Math.PI)), 8);
        answer.WorstLeast.ShouldBe(700, 1e-6, "both low: built, not added up");
        answer.WorstMost.ShouldBe(900, 1e-6);
    }

    [Fact]
    public void A_reading_of_sketches_alone_is_taken_without_forms()
    {
        var plate = MotorPlate.Build();
        var part = new AddStep(new ReadingStep("flat", 0, "Flat", "distance", ["outline/bore.rim", "outline/frame.top"]))
            .Apply(plate)
            .Value;
        var asked = AskedReading.Of(part, "flat", Builders().Build).Value;
        asked.Part.Steps.Select(s => s.Id).ShouldBe(["outline", "flat"]);
        var answer = Asked<ToleranceAnswer>(part, new TolerancesQuestion("flat", 50));
        answer.Value.ShouldBe(32 - 11, 1e-9);
        answer.WorstMost.ShouldBe(32.15 - 11, 1e-9, "the plate's height is off by the class, the bore at its least");
        answer.WorstLeast.ShouldBe(31.85 - 11.0105, 1e-9);
        AskedReading
            .Of(part, "wall", Builders().Build)
            .Value.Part.Find("drilling")
            .ShouldNotBeNull("what stands before it on the same material");
        AskedReading.Of(part, "wall", Builders().Build).Value.Part.Find("plate_mass").ShouldBeNull();
    }

    /// <summary>Bore to slot of the motor plate: 23 mm less the bore's radius and half the slot.</summary>
    [Fact]
    public void Tolerances_of_the_motor_plate()
    {
        var answer = Asked<ToleranceAnswer>(MotorPlate.Build(), new TolerancesQuestion("wall", 30));
        answer.WorstLeast.ShouldBe(22.98 - 11.0105 - 2.78, 1e-9);
        answer.WorstMost.ShouldBe(23.02 - 11 - 2.75, 1e-9);
        answer.Contributions.Select(c => c.Words).ShouldBe(["upper.height of Slots", "upper.r of Slots", "bore.d of Outline"]);
        answer.Spread.ShouldBe(3 * Math.Sqrt(Square(0.04 / 6) + Square(0.03 / 6) + Square(0.0105 / 6)), 1e-9);
        answer.Sampled!.Least.ShouldBeGreaterThanOrEqualTo(answer.WorstLeast);
        answer.Sampled.Most.ShouldBeLessThanOrEqualTo(answer.WorstMost);
    }

    [Fact]
    public void What_has_no_tolerances_or_no_reading_is_refused()
    {
        Refused(Block(), new TolerancesQuestion("r")).Code.ShouldBe("tolerance.none");
        Refused(Block(), new TolerancesQuestion("gone")).Message.ShouldBe("There is no reading 'gone'. There are: Volume.");
        Refused(Block(), new TolerancesQuestion("r", 1_000_000)).Code.ShouldBe("tolerance.runs");
        Refused(Parts.Of(Parts.Block(1, 1, 1)), new TolerancesQuestion("r")).Message.ShouldContain("keep a measurement as a reading first");
        var failing = Block(
            new AddStep(new ReadingStep("lost", 0, "Lost", "distance", ["e/end", "e/nothing"])),
            new SetGeneralTolerance(GeneralTolerance.Fine)
        );
        Refused(failing, new TolerancesQuestion("lost")).Code.ShouldBe("ask.failing");
    }

    /// <summary>The plate's mass at 90 g: its area times the thickness, and the collar.</summary>
    [Fact]
    public void The_motor_plate_is_brought_to_90_grams_by_its_thickness()
    {
        var answer = Asked<AimAnswer>(MotorPlate.Build(), new AimQuestion("Mass", AimGoal.Value, ["thick"]) { Value = "90 g" });
        var area = MotorPlate.VolumeByHand(t: 1) - MotorPlate.VolumeByHand(t: 0);
        var wanted = ((90 / 2.7 * 1000) - MotorPlate.VolumeByHand(t: 0)) / area;
        answer.Met.ShouldBeTrue(answer.Said);
        answer.Reached.ShouldBe(90, 1e-7);
        answer.Knobs.Single().To.ShouldBe(wanted, 1e-7);
        answer.Tries.Length.ShouldBeLessThan(25);
        var turned = new SetParameter("thick", answer.Knobs[0].Text).Apply(MotorPlate.Build()).Value;
        rebuilders[0].Rebuild(turned, withMesh: false).Step("plate_mass")!.Reading!.Value.ShouldBe(answer.Reached, 1e-9);
    }

    [Fact]
    public void A_goal_beyond_a_range_is_told_with_what_stops_it()
    {
        var answer = Asked<AimAnswer>(MotorPlate.Build(), new AimQuestion("Mass", AimGoal.Value, ["thick"]) { Value = "200 g" });
        answer.Met.ShouldBeFalse();
        answer.Knobs.Single().To.ShouldBe(10, "the end of its range");
        answer.Reached.ShouldBe(MotorPlate.VolumeByHand(t: 10) / 1000 * 2.7, 1e-6);
        answer.Said.ShouldBe(
            "Out of reach: the nearest is 142.812 g, over thick from 4 mm to 10 mm. thick stands at its end.".Replace(
                "142.812 g",
                answer.Measure.Show(answer.Reached),
                StringComparison.Ordinal
            )
        );
    }

    [Fact]
    public void Several_are_turned_as_little_as_needed_and_keep_to_their_ranges()
    {
        var part = Block(
            new LimitParameter("w", "70 mm", "90 mm"),
            new LimitParameter("h", "40 mm", "60 mm"),
            new LimitParameter("t", "9 mm", "11 mm")
        );
        var answer = Asked<AimAnswer>(part, new AimQuestion("r", AimGoal.Value, ["w", "h", "t"]) { Value = "44000 mm^3" });
        answer.Met.ShouldBeTrue(answer.Said);
        answer.Knobs.Aggregate(1.0, (v, k) => v * k.To).ShouldBe(44000, 1e-3);
        answer.Knobs.ShouldAllBe(k => k.To >= k.Knob.Least && k.To <= k.Knob.Most);
        answer.Knobs.ShouldAllBe(k => k.To > k.Knob.Value.Value, "all take their share");

        var far = Asked<AimAnswer>(part, new AimQuestion("r", AimGoal.Value, ["w", "h"]) { Value = "90000 mm^3" });
        far.Met.ShouldBeFalse();
        far.Knobs.Select(k => k.To).ShouldBe([90, 60]);
        var most = Asked<AimAnswer>(part, new AimQuestion("r", AimGoal.Most, ["w", "h", "t"]));
        most.Knobs.Select(k => Math.Round(k.To, 6)).ShouldBe([90, 60, 11]);
        var least = Asked<AimAnswer>(part, new AimQuestion("r", AimGoal.Least, ["w", "h"]));
        least.Knobs.Select(k => Math.Round(k.To, 6)).ShouldBe([70, 40]);
    }

    /// <summary>Of a fixed girth the square holds most: w (100 - w) t, at 50.</summary>
    [Fact]
    public void A_most_between_the_ends_is_found()
    {
        var part = Block(new SetParameter("h", "100 mm - w"), new LimitParameter("w", "20 mm", "90 mm"));
        var answer = Asked<AimAnswer>(part, new AimQuestion("r", AimGoal.Most, ["w"]));
        answer.Knobs[0].To.ShouldBe(50, 1e-3);
        answer.Reached.ShouldBe(25000, 1e-3);
        answer.Met.ShouldBeTrue(answer.Said);
    }

    [Fact]
    public void Strides_and_counts_are_kept_and_limits_are_goals()
    {
        var stepped = Block(new LimitParameter("w", "70 mm", "90 mm", "2.5 mm"));
        var answer = Asked<AimAnswer>(stepped, new AimQuestion("r", AimGoal.Value, ["w"]) { Value = "41000 mm^3" });
        (answer.Met, answer.Knobs[0].To, Math.Round(answer.Reached, 6)).ShouldBe((false, 82.5, 41250));
        answer.Said.ShouldContain("Between the values that its stride allows");
        var count = Block(new SetParameter("n", "3"), new SetParameter("w", "n * 20 mm"));
        Asked<AimAnswer>(count, new AimQuestion("r", AimGoal.Value, ["n"]) { Value = "50000 mm^3" }).Knobs[0].To.ShouldBe(5);

        var limited = Block(new SetLimits("r", "42000 mm^3", "45000 mm^3"));
        var within = Asked<AimAnswer>(limited, new AimQuestion("r", AimGoal.Limits, ["t"]));
        within.Met.ShouldBeTrue(within.Said);
        within.Reached.ShouldBeInRange(42000, 42000.01);
        Asked<AimAnswer>(Block(new SetLimits("r", "1 mm^3", null)), new AimQuestion("r", AimGoal.Limits, ["t"]))
            .Tries.Length.ShouldBe(1, "within already");
    }

    [Fact]
    public void What_cannot_be_aimed_is_refused_at_its_place()
    {
        Refusal Bad(AimGoal goal, string? value, params string[] by) =>
            Refused(
                Block(new SetParameter("idle", "3 mm"), new SetParameter("twice", "2 * w")),
                new AimQuestion("r", goal, [.. by]) { Value = value }
            );
        Bad(AimGoal.Value, "1 mm^3").Code.ShouldBe("aim.by");
        Bad(AimGoal.Value, "1 mm^3", "gone").Message.ShouldContain("Parameters: w, h, t, idle.");
        Bad(AimGoal.Value, "1 mm^3", "twice").Code.ShouldBe("ask.formula");
        Bad(AimGoal.Value, "1 mm^3", "w", "w").Message.ShouldBe("w is named twice.");
        Bad(AimGoal.Value, "12 mm", "w").Where.ShouldBe("value");
        Bad(AimGoal.Value, "what", "w").Where.ShouldBe("value");
        Bad(AimGoal.Value, "1 mm^3", "idle").Code.ShouldBe("aim.still");
        Bad(AimGoal.Limits, null, "w").Code.ShouldBe("aim.limits");
    }

    [Fact]
    public void A_course_is_taken_finer_where_it_bends_or_breaks()
    {
        var straight = Asked<CourseAnswer>(Block(new LimitParameter("w", "60 mm", "100 mm")), new CourseQuestion("r", "w"));
        straight.Points.Length.ShouldBe(9, "nothing bends");
        straight.Points.ShouldAllBe(p => Math.Abs(p.Reading!.Value - (p.At[0] * 500)) < 1e-6);
        var bent = Asked<CourseAnswer>(Block(new SetParameter("t", "max(10 mm, w / 7)")), new CourseQuestion("r", "w", "40 mm", "100 mm"));
        bent.Points.Length.ShouldBeGreaterThan(9);
        bent.Points.Count(p => Math.Abs(p.At[0] - 70) < 4).ShouldBeGreaterThan(3, "about the bend");

        // A floor thicker than the block cannot be built.
        var broken = Block(
            new AddStep(new ShellStep("hollow", 0, "", ["e/end"]) { Thickness = "2 mm" }),
            new AddStep(new ReadingStep("left", 0, "Left", "volume", []))
        );
        var course = Asked<CourseAnswer>(broken, new CourseQuestion("left", "hollow/thickness", "1 mm", "12 mm"));
        course.Points.ShouldAllBe(p => p.At[0] >= 10 == (p.Reading == null));
        course.Points.Count(p => Math.Abs(p.At[0] - 10) < 0.6).ShouldBeGreaterThan(3, "about the border");
        course.Points.First(p => p.Reading is null).Why!.ShouldContain("does not fit");
        Refused(Block(), new CourseQuestion("r", "w", "9 mm", "3 mm")).Where.ShouldBe("to");
        Refused(Block(new LimitParameter("w", "60 mm", "100 mm")), new CourseQuestion("r", "w", "9 mm", "80 mm"))
            .Code.ShouldBe("course.range");
        Refused(Block(), new CourseQuestion("r", "w", "many", "3 mm")).Where.ShouldBe("from");
    }

    /// <summary>The ports come nearer than the least wall where the closed form says so.</summary>
    [Fact]
    public void The_inlet_block_is_flexed_until_its_ports_meet()
    {
        var answer = Asked<FlexAnswer>(InletBlock.Build(), new FlexQuestion(["apart", "lean"], 30));
        var (apart, lean) = (answer.Knobs[0], answer.Knobs[1]);
        InletBlock.BetweenByHand(apart.HoldsFrom).ShouldBeInRange(1, 1.05);
        apart.HoldsTo.ShouldBe(40);
        lean.HoldsTo.ShouldBe(35 * Math.PI / 180, 1e-9);
        lean.HoldsFrom.ShouldBeInRange(1e-9, 1e-3, "parallel axes meet nowhere");
        lean.Border!.ShouldContain("Where the ports would meet");
        apart.Border!.ShouldContain("Wall between the ports");
        foreach (var tried in answer.Tries.Where(t => t.State == FlexState.Limits && t.Step == "between"))
        {
            InletBlock.BetweenByHand(tried.At[0], tried.At[1]).ShouldBeLessThan(1);
        }

        answer.Tries.Count(t => t.State != FlexState.Good).ShouldBeGreaterThan(3);
        answer.Tries.Where(t => t.State == FlexState.Good).ShouldAllBe(t => InletBlock.BetweenByHand(t.At[0], t.At[1]) >= 1);
    }

    [Fact]
    public void Flexing_maps_pairs_finds_borders_and_says_when_all_is_good()
    {
        var hollow = Block(
            new LimitParameter("w", "40 mm", "120 mm"),
            new LimitParameter("t", "4 mm", "20 mm"),
            new AddStep(new ShellStep("hollow", 0, "", ["e/end"]) { Thickness = "6 mm" })
        );
        var answer = Asked<FlexAnswer>(hollow, new FlexQuestion([], 40) { Pair = ["w", "t"] });
        answer.Knobs.Select(k => k.Knob.Name).ShouldBe(["w", "t"], "those with a range");
        answer.Tries.Length.ShouldBe(40);
        (answer.MapSide, answer.Map.Length, answer.MapOf.ToArray()).ShouldBe((9, 81, [0, 1]), new Same());
        answer.Map.Count(t => t.State == FlexState.Failed).ShouldBe(9 * 2, "4 and 6 mm are too thin for a floor of 6");
        answer.Knobs[1].HoldsFrom.ShouldBe(6, 0.02);
        answer.Knobs[1].Border!.ShouldContain("hollow");
        (answer.Knobs[0].HoldsFrom, answer.Knobs[0].HoldsTo).ShouldBe((40, 120));
        Asked<FlexAnswer>(Block(), new FlexQuestion(["w", "h"], 25)).Said.ShouldBe("It holds in all 25 tries.");
        Refused(Block(), new FlexQuestion(["gone"])).Code.ShouldBe("ask.no-knob");
        Refused(Block(), new FlexQuestion([], 0)).Code.ShouldBe("flex.tries");
        Refused(Parts.Of(Parts.Block(1, 1, 1)), new FlexQuestion([])).Code.ShouldBe("flex.none");
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Asked<FlexAnswer>(Block(), new FlexQuestion(["w"], 10), stop.Token).Said.ShouldStartWith("It was stopped");
    }

    [Fact]
    public void The_hose_cradle_in_five_variants_weighs_what_it_does_by_hand()
    {
        var cradle = HoseCradle.Build();
        var answer = Asked<VariantsAnswer>(cradle, new VariantsQuestion());
        answer.Columns.Select(c => c.Name).ShouldBe(["Mass"]);
        answer
            .Rows.Select(r => (r.Name, r.Fits))
            .ShouldBe([("", true), ("Hose 4", false), ("Hose 6", false), ("Hose 8", true), ("Hose 10", false), ("Hose 12", false)]);
        (double Hose, double Guide)[] hoses = [(8, 22), (4, 16), (6, 19), (8, 22), (10, 24), (12, 26)];
        foreach (var ((hose, guide), row) in hoses.Zip(answer.Rows))
        {
            row.Readings[0]!.Value.ShouldBe(HoseCradle.VolumeByHand(r: guide, hose: hose) / 1000 * 1.14, 1e-4, row.Name);
            row.Why.ShouldBeNull();
        }

        var failing = new SetVariants([new Variant("Thick", [new VariantValue("corner", "60 mm")])]).Apply(cradle).Value;
        var bad = Asked<VariantsAnswer>(failing, new VariantsQuestion()).Rows[1];
        (bad.Readings[0] is null || bad.Why is not null).ShouldBeTrue();
        bad.Why!.Length.ShouldBeGreaterThan(10);
    }

    [Fact]
    public void What_hangs_on_what_can_be_walked_both_ways()
    {
        var plate = MotorPlate.Build();
        var bore = Asked<WhyAnswer>(plate, new WhyQuestion("", "bore"));
        bore.Above.ShouldBeEmpty();
        bore.Below.Where(n => n.Away == 1).Select(n => n.Words).ShouldBe(["collar", "Outline", "Collar ring"], ignoreOrder: true);
        bore.Below.Select(n => n.Words).ShouldContain("Bore to slot");
        bore.Below.ShouldAllBe(n => n.Away == 1 ? n.From == -1 : bore.Below[n.From].Away == n.Away - 1);
        var height = Asked<WhyAnswer>(plate, new WhyQuestion("slots", "upper.height"));
        height.Words.ShouldBe("upper.height of Slots");
        height.Above.Select(n => n.Words).ShouldBe(["plate_h"]);
        height.Below.Select(n => n.Words).ShouldContain("Slotting");
        var drilling = Asked<WhyAnswer>(plate, new WhyQuestion("plate"));
        drilling.Above.Select(n => n.Words).ShouldBe(["thick", "Outline", "plate_w", "plate_h", "bore"], ignoreOrder: true);
        Asked<WhyAnswer>(plate, new WhyQuestion("slotting")).After.ShouldBe(["4x M5"], "on the same material");
        Refused(plate, new WhyQuestion("", "gone")).Code.ShouldBe("parameter.unknown");
        Refused(plate, new WhyQuestion("gone")).Code.ShouldBe("step.unknown");
        Refused(plate, new WhyQuestion("plate", "gone")).Code.ShouldBe("step.no-size");
    }

    /// <summary>Questions turn a size without an edit: the part must come out as if somebody had typed it.</summary>
    [Fact]
    public void Turned_by_a_question_a_part_is_as_if_it_were_edited()
    {
        var compared = 0;
        foreach (var (file, build) in DemoParts.All)
        {
            var part = build();
            foreach (var knob in Knob.All(part))
            {
                var value = knob.Stride is { } stride ? knob.Value.Value + stride : knob.Value.Value * 1.03;
                PartCommand command =
                    knob.Step.Length == 0
                        ? new SetParameter(knob.Name, knob.Text(value))
                        : new SetSize(knob.Step, knob.Name, knob.Text(value));
                if (command.Apply(part) is not { Done: true, Value: var edited })
                {
                    continue;
                }

                var (asked, typed) = (Builders(1).Build(knob.At(part, value)), rebuilders[1].Rebuild(edited, withMesh: false));
                asked.Steps.Select(s => s.State).ShouldBe(typed.Steps.Select(s => s.State), $"{file}, {knob.Words}");
                foreach (var (a, b) in asked.Steps.Zip(typed.Steps).Where(p => p.First.Reading is not null))
                {
                    a.Reading!.Value.ShouldBe(
                        b.Reading!.Value,
                        1e-7 * Math.Max(1, Math.Abs(b.Reading.Value)),
                        $"{file}, {knob.Words}, {a.Id}"
                    );
                    compared++;
                }
            }
        }

        compared.ShouldBeGreaterThan(80);
    }

    /// <summary>Answers go over the wire as JSON: nothing in them may be infinite.</summary>
    [Fact]
    public void Every_answer_can_be_written_and_read()
    {
        var plate = MotorPlate.Build();
        foreach (
            var question in new Question[]
            {
                new TolerancesQuestion("wall", 3),
                new AimQuestion("Mass", AimGoal.Value, ["thick"]) { Value = "90 g" },
                new CourseQuestion("Mass", "bore"),
                new FlexQuestion(["thick"], 5) { Pair = ["thick", "bore"] },
                new VariantsQuestion(),
                new WhyQuestion("", "bore"),
            }
        )
        {
            var text = System.Text.Json.JsonSerializer.Serialize(question.Ask(plate, Builders()).Value, PartJson.Compact);
            text.ShouldStartWith("{\"answer\":");
            System
                .Text.Json.JsonSerializer.Deserialize<Question>(
                    System.Text.Json.JsonSerializer.Serialize(question, PartJson.Compact),
                    PartJson.Compact
                )!
                .GetType()
                .ShouldBe(question.GetType());
        }
    }

    private static double Square(double x) => x * x;

    private sealed class Close(double slack) : IEqualityComparer<(double, double)>
    {
        public bool Equals((double, double) x, (double, double) y) =>
            Math.Abs(x.Item1 - y.Item1) <= slack && Math.Abs(x.Item2 - y.Item2) <= slack;

        public int GetHashCode((double, double) of) => 0;
    }

    private sealed class Same : IEqualityComparer<(int, int, int[])>
    {
        public bool Equals((int, int, int[]) x, (int, int, int[]) y) =>
            x.Item1 == y.Item1 && x.Item2 == y.Item2 && x.Item3.SequenceEqual(y.Item3);

        public int GetHashCode((int, int, int[]) of) => 0;
    }
}
