using System.Text;
using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Quantities;
using Shouldly;
using Xunit;

namespace Ratiogon.Core.Tests.Gauging;

public sealed class ReadingTableTests
{
    private static readonly Part Part = new AddStep(
        new ReadingStep("d", 0, "bore, left", "distance", ["world/x", "world/y"])
        {
            Along = null,
            Least = "2 mm",
            Most = "wall * 2",
        }
    ).Apply(new SetParameter("wall", "4 mm", "thickness").Apply(new AddStep(new ReadingStep("m", 0, "", "mass", [])).Apply(new Part()).Value).Value).Value;

    private static readonly RebuildResult Built = new(
        [
            new StepResult("m", StepState.Built, "") { Reading = 12.3456, Verdict = Verdict.None },
            new StepResult("d", StepState.Built, "near") { Reading = 7.9, Verdict = Verdict.Near },
        ],
        []
    );

    [Fact]
    public void Rows_show_value_limits_and_verdict()
    {
        var rows = ReadingTable.Of(Part, Built);
        rows.Select(r => (r.Name, r.Value, r.Least, r.Most, r.Verdict, r.Formula))
            .ShouldBe([("mass", "12.346 g", "", "", "none", "mass"), ("bore, left", "7.9 mm", "2 mm", "wall * 2", "near", "")]);
        rows[1].Of.ShouldBe("world/x to world/y");
    }

    [Fact]
    public void Csv_keeps_numbers_apart_from_units_and_quotes_what_it_must()
    {
        var lines = Encoding.UTF8.GetString(ReadingTable.Csv(Part, Built)).Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        lines[1].ShouldBe("10,mass,mass,,12.346,g,,,none,");
        lines[2].ShouldBe("20,\"bore, left\",smallest distance,world/x to world/y,7.9,mm,2 mm,wall * 2,near,near");
        Encoding.UTF8.GetString(ParameterTable.Csv(Part)).Split("\r\n")[1].ShouldBe("wall,4 mm,4,mm,thickness");
    }

    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("@sum", "'@sum")]
    [InlineData("-cmd", "'-cmd")]
    [InlineData("-4.5", "-4.5")]
    [InlineData("say \"so\"", "\"say \"\"so\"\"\"")]
    [InlineData("two\nlines", "\"two\nlines\"")]
    public void No_cell_becomes_a_formula_of_a_table_program(string cell, string written) =>
        Encoding
            .UTF8.GetString(
                Csv.Of(
                    ["h"],
                    [
                        [cell],
                    ]
                )
            )
            .ShouldBe($"h\r\n{written}\r\n");

    [Theory]
    [InlineData(5.0, 4.0, 6.0, Verdict.Pass)]
    [InlineData(4.1, 4.0, 6.0, Verdict.Near)]
    [InlineData(5.9, 4.0, 6.0, Verdict.Near)]
    [InlineData(4.0, 4.0, 6.0, Verdict.Near)]
    [InlineData(3.9, 4.0, 6.0, Verdict.Fail)]
    [InlineData(6.1, 4.0, 6.0, Verdict.Fail)]
    [InlineData(101.0, 100.0, null, Verdict.Near)]
    [InlineData(103.0, 100.0, null, Verdict.Pass)]
    [InlineData(99.0, null, 100.0, Verdict.Near)]
    [InlineData(100.0, null, 100.0, Verdict.Near)]
    [InlineData(100.1, null, 100.0, Verdict.Fail)]
    [InlineData(7.0, null, null, Verdict.None)]
    public void Verdicts_by_limits(double value, double? least, double? most, Verdict expected) =>
        new Limits(least, most).Of(value).ShouldBe(expected);

    [Fact]
    public void Limits_are_set_with_units_taken_away_and_refused_with_reasons()
    {
        var set = new SetLimits("d", "3", "1/4 in").Apply(Part).Value;
        ((ReadingStep)set.Find("d")!).ShouldSatisfyAllConditions(r => r.Least.ShouldBe("3 mm"), r => r.Most.ShouldBe("1/4 in"));
        ((ReadingStep)new SetLimits("d", "", null).Apply(set).Value.Find("d")!).ShouldSatisfyAllConditions(
            r => r.Least.ShouldBeNull(),
            r => r.Most.ShouldBeNull()
        );
        new SetLimits("d", "3 deg", null).Apply(Part).Refusal!.Message.ShouldContain("is an angle");
        new SetLimits("d", "8 mm", "3 mm").Apply(Part).Refusal!.Message.ShouldContain("lies above the most");
        new SetLimits("d", "nothing", null).Apply(Part).Refusal!.Where.ShouldBe("least");
        new SetLimits("wall", "3", null).Apply(Part).Refusal!.Message.ShouldContain("is no reading");
    }

    [Fact]
    public void Readings_name_themselves_so_that_formulas_can_use_them()
    {
        var two = new AddStep(new ReadingStep("", 0, "", "centre-distance", ["world/x", "world/y"]))
            .Apply(new AddStep(new ReadingStep("", 0, "", "centre-distance", ["world/x", "world/y"])).Apply(new Part()).Value)
            .Value;
        two.Steps.Select(s => s.Name).ShouldBe(["centre_distance", "centre_distance_2"]);
        two.Steps.OfType<ReadingStep>().ShouldAllBe(r => r.Named);
        new ReadingStep("r", 0, "two words", "mass", []).Named.ShouldBeFalse();
        new ReadingStep("r", 0, "pi", "mass", []).Named.ShouldBeFalse();
    }

    [Fact]
    public void A_parameter_comes_before_a_reading_of_its_name()
    {
        var part = Part with { Readings = Part.Readings.Add("wall", Quantity.Length(99)).Add("bridge", Quantity.Length(7)) };
        part.Values.Of("wall").Value.Value.ShouldBe(4);
        part.Values.Of("bridge").Value.Value.ShouldBe(7);
        part.Equals(Part).ShouldBeTrue("readings are no part of what a part is");
    }

    [Theory]
    [InlineData("nonsense", new string[0], null, "There is no reading 'nonsense'")]
    [InlineData("distance", new[] { "a" }, null, "needs 2 pick(s), not 1")]
    [InlineData("radius", new[] { "a", "b" }, null, "needs 1 pick(s), not 2")]
    [InlineData("distance-along", new[] { "a", "b" }, null, "needs a direction")]
    [InlineData("distance", new[] { "a", "b@nowhere" }, null, "is no place")]
    public void Steps_are_checked_by_themselves(string what, string[] of, string? along, string reason) =>
        ReadingCatalog.Check(what, [.. of], along).ShouldNotBeNull().Message.ShouldContain(reason);

    [Fact]
    public void References_of_a_reading_are_its_things_its_direction_and_its_frame()
    {
        var step = new ReadingStep("r", 0, "", "distance-along", ["a/x@middle", "b/y & c/z@crossing"]) { Along = "d/e & f/g", In = "h" };
        step.References.ShouldBe(["a/x", "b/y", "c/z", "d/e", "f/g", "h"]);
        (step with { Along = "0, 1, 0", In = null }).References.ShouldBe(["a/x", "b/y", "c/z"]);
    }
}
