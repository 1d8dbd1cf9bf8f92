using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tests.Quantities;

public class FormulaTests
{
    private static Outcome<Quantity> Value(string text, params Parameter[] parameters) =>
        Formula.Parse(text).Then(f => f.Evaluate(ParameterValues.Evaluate(parameters).Of));

    [Theory]
    [InlineData("80 mm", 80)]
    [InlineData("80mm", 80)]
    [InlineData("1/2 in", 12.7)]
    [InlineData("1 3/8 in", 34.925)]
    [InlineData("plate_w/2 + 3 mm", 43)]
    [InlineData("-(2 + 3) * 4 mm", -20)]
    [InlineData("(2*40) mm", 80)]
    [InlineData("6 mm^2/2 mm", 3)]
    [InlineData("sqrt(16 mm^2)", 4)]
    [InlineData("sqrt((3 + 6) mm^2)", 3)]
    [InlineData("1/2 in + 0.5 mm^2/1 mm", 13.2)]
    [InlineData("(2 mm)^2/1 mm", 4)]
    [InlineData("2^3 mm * 1", double.NaN)]
    [InlineData("hypot(3 mm, 4 mm)", 5)]
    [InlineData("max(1 cm, 8 mm)", 10)]
    [InlineData("sqrt(16 mm * 4 mm)", 8)]
    [InlineData("10 mm * sin(30 deg)", 5)]
    [InlineData("1.5e1 mm", 15)]
    [InlineData("10 mm / 2 / 5", 1)]
    public void Lengths_come_out_in_millimetres(string text, double expected)
    {
        var value = Value(text, new Parameter("plate_w", "80 mm"));
        if (double.IsNaN(expected))
        {
            // A unit binds to its number, so this is 2 raised to a length.
            value.Refusal!.Code.ShouldBe("formula.power");
            return;
        }

        value.Value.Value.ShouldBe(expected, 1e-12);
        value.Value.Dimension.ShouldBe(Dimension.OfLength);
    }

    [Theory]
    [InlineData("100 mm^2", 100)]
    [InlineData("-3 mm^2", -3)]
    [InlineData("2 cm^2", 200)]
    [InlineData("(10 mm)^2", 100)]
    [InlineData("-(3 mm)^2", -9)]
    public void A_unit_is_raised_before_its_number(string text, double squareMillimetres)
    {
        var value = Value(text).Value;
        value.Value.ShouldBe(squareMillimetres, 1e-9);
        value.Dimension.ShouldBe(Dimension.OfLength + Dimension.OfLength);
    }

    [Fact]
    public void Angles_come_out_in_radians() => Value("acos(0.5) + 30 deg").Value.Value.ShouldBe(Math.PI / 2, 1e-12);

    [Theory]
    [InlineData("", "formula.empty")]
    [InlineData("3 +", "formula.syntax")]
    [InlineData("3 mm )", "formula.syntax")]
    [InlineData("(3 mm", "formula.syntax")]
    [InlineData("3 mm 4", "formula.syntax")]
    [InlineData("3 mm + 2", "formula.mixed-units")]
    [InlineData("3 mm + 2 deg", "formula.mixed-units")]
    [InlineData("1 mm / 0", "formula.divide-by-zero")]
    [InlineData("1 mm / (2 - 2)", "formula.divide-by-zero")]
    [InlineData("nowhere * 2", "formula.unknown-name")]
    [InlineData("fold(3)", "formula.unknown-function")]
    [InlineData("sin(3 mm)", "formula.argument")]
    [InlineData("sqrt(-4)", "formula.domain")]
    [InlineData("asin(2)", "formula.domain")]
    [InlineData("min()", "formula.syntax")]
    [InlineData("hypot(1)", "formula.arguments")]
    [InlineData("1e999", "formula.number")]
    [InlineData("1e300 * 1e300", "formula.not-finite")]
    [InlineData("2 mm ^ 0.5", "formula.power")]
    [InlineData("NaN", "formula.unknown-name")]
    public void What_cannot_be_worked_out_says_why(string text, string code) => Value(text).Refusal!.Code.ShouldBe(code);

    [Fact]
    public void A_deeply_nested_formula_is_refused_and_does_not_overflow() =>
        Formula.Parse(new string('(', 240) + "1" + new string(')', 240)).Refusal!.Code.ShouldBe("formula.too-deep");

    [Fact]
    public void A_syntax_error_names_its_place() => Formula.Parse("3 mm + * 2").Refusal!.Message.ShouldContain("character 8");

    [Fact]
    public void A_bare_number_takes_the_unit_of_its_field()
    {
        Formula.ForField("80", Dimension.OfLength, LengthUnit.Millimetre, ParameterValues.None.Of).Value.Text.ShouldBe("80 mm");
        Formula.ForField("2*40", Dimension.OfLength, LengthUnit.Inch, ParameterValues.None.Of).Value.Text.ShouldBe("(2*40) in");
        Formula.ForField("30", Dimension.OfAngle, LengthUnit.Millimetre, ParameterValues.None.Of).Value.Text.ShouldBe("30 deg");
        Formula
            .ForField("30 deg", Dimension.OfLength, LengthUnit.Millimetre, ParameterValues.None.Of)
            .Refusal!.Code.ShouldBe("formula.kind");
    }

    [Fact]
    public void Cycles_are_reported_with_the_way_round()
    {
        var values = ParameterValues.Evaluate([new("a", "b + 1 mm"), new("b", "c"), new("c", "a")]);
        values.Of("a").Refusal!.Message.ShouldContain("a -> b -> c -> a");
        values.FirstRefusal!.Code.ShouldBe("parameter.cycle");
    }

    [Fact]
    public void Parameters_are_worked_out_in_the_order_they_need() =>
        ParameterValues.Evaluate([new("b", "2 * a"), new("a", "3 mm")]).Of("b").Value.Value.ShouldBe(6);

    [Theory]
    [InlineData("mm")]
    [InlineData("sin")]
    [InlineData("pi")]
    [InlineData("2x")]
    [InlineData("a b")]
    [InlineData("<b>")]
    public void A_name_that_means_something_else_is_refused(string name) => Parameter.CheckName(name).ShouldNotBeNull();

    [Theory]
    [InlineData(12.5, LengthUnit.Millimetre, "12.5 mm")]
    [InlineData(25.4, LengthUnit.Inch, "1 in")]
    [InlineData(-0.00001, LengthUnit.Millimetre, "0 mm")]
    public void Lengths_are_shown_in_the_chosen_unit(double mm, LengthUnit unit, string shown) =>
        Units.Show(Quantity.Length(mm), unit).ShouldBe(shown);

    [Fact]
    public void A_formula_is_read_once_and_wrong_ones_stay_wrong()
    {
        Formula.Parse(" kept_w / 2 ").Value.ShouldBeSameAs(Formula.Parse("kept_w / 2").Value);
        for (var i = 0; i < 2; i++)
        {
            Formula.Parse("kept_w / ").Refusal!.Code.ShouldStartWith("formula.");
        }

        // More than are kept: none is taken for another.
        for (var i = 0; i < 10_000; i++)
        {
            Value($"{i} mm + 1 mm").Value.Value.ShouldBe(i + 1);
        }

        Value("7 mm + 1 mm").Value.Value.ShouldBe(8);
    }
}
