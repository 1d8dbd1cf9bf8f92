using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tests.Quantities;

/// <summary>Tolerances as written, fits against published tables (ISO 286-2), general classes (ISO 2768-1).</summary>
public class ToleranceTests
{
    private static Zone Read(string text, double size = 20) => Tolerance.Parse(text, Quantity.Length(size), LengthUnit.Millimetre).Value;

    /// <summary>Rows of the tables of ISO 286-2, in micrometres.</summary>
    [Theory]
    [InlineData("H7", 22, 0, 21)]
    [InlineData("H7", 3, 0, 10)]
    [InlineData("H8", 100, 0, 54)]
    [InlineData("H11", 30, 0, 130)]
    [InlineData("H6", 500, 0, 40)]
    [InlineData("h6", 30, -13, 0)]
    [InlineData("h9", 60, -74, 0)]
    [InlineData("g6", 25, -20, -7)]
    [InlineData("f7", 50, -50, -25)]
    [InlineData("e8", 10, -47, -25)]
    [InlineData("d9", 80, -174, -100)]
    [InlineData("c11", 45, -290, -130)]
    [InlineData("js6", 25, -6.5, 6.5)]
    [InlineData("JS7", 25, -10.5, 10.5)]
    [InlineData("k6", 25, 2, 15)]
    [InlineData("k5", 8, 1, 7)]
    [InlineData("k9", 25, 0, 52)]
    [InlineData("m6", 40, 9, 25)]
    [InlineData("n6", 40, 17, 33)]
    [InlineData("p6", 40, 26, 42)]
    [InlineData("r6", 40, 34, 50)]
    [InlineData("r6", 75, 43, 62)]
    [InlineData("s6", 90, 71, 93)]
    [InlineData("u6", 20, 41, 54)]
    [InlineData("G7", 25, 7, 28)]
    [InlineData("F8", 25, 20, 53)]
    [InlineData("E9", 25, 40, 92)]
    [InlineData("D10", 25, 65, 149)]
    [InlineData("K7", 25, -15, 6)]
    [InlineData("K6", 25, -11, 2)]
    [InlineData("K7", 2, -10, 0)]
    [InlineData("M7", 25, -21, 0)]
    [InlineData("M8", 25, -29, 4)]
    [InlineData("M6", 300, -41, -9)]
    [InlineData("N7", 25, -28, -7)]
    [InlineData("N9", 25, -52, 0)]
    [InlineData("N9", 3, -29, -4)]
    [InlineData("P7", 25, -35, -14)]
    [InlineData("P7", 100, -59, -24)]
    [InlineData("P9", 25, -74, -22)]
    [InlineData("R7", 25, -41, -20)]
    [InlineData("S7", 25, -48, -27)]
    [InlineData("U7", 40, -76, -51)]
    [InlineData("H7", 1000, 0, 90)]
    [InlineData("H7", 3150, 0, 210)]
    [InlineData("p7", 600, 78, 148)]
    [InlineData("N7", 600, -114, -44)]
    public void Fits_are_those_of_the_standard(string fit, double size, double lower, double upper)
    {
        var zone = Read(fit, size);
        (zone.Lower * 1000).ShouldBe(lower, 1e-9);
        (zone.Upper * 1000).ShouldBe(upper, 1e-9);
    }

    /// <summary>Grades follow the standard's formula (ISO 286-1, annex A: i = 0.45 D^(1/3) + 0.001 D up to 500 mm, I = 0.004 D + 2.1
    /// above), but for its rounding, which is at most a tenth and half a micrometre.</summary>
    [Fact]
    public void Grades_follow_the_formula()
    {
        double[] ends = [3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500, 630, 800, 1000, 1250, 1600, 2000, 2500, 3150];
        double[] factors = [7, 10, 16, 25, 40, 64, 100, 160, 250, 400, 640, 1000, 1600, 2500];
        for (var r = 1; r < ends.Length; r++)
        {
            // Above 500 mm and in between the unit is taken at the geometric mean of the range.
            var mean = Math.Sqrt(ends[r - 1] * ends[r]);
            var unit = ends[r] <= 500 ? (0.45 * Math.Cbrt(mean)) + (0.001 * mean) : (0.004 * mean) + 2.1;
            for (var grade = 5; grade <= 18; grade++)
            {
                var wanted = factors[grade - 5] * unit;
                (Iso286.Width(grade, ends[r]) * 1000).ShouldBe(wanted, (0.1 * wanted) + 0.5, $"grade {grade} at {ends[r]} mm");
                Iso286.Width(grade, ends[r]).ShouldBeGreaterThan(Iso286.Width(grade - 1, ends[r]));
                Iso286.Width(grade, ends[r]).ShouldBeGreaterThanOrEqualTo(Iso286.Width(grade, ends[r - 1]));
            }
        }
    }

    /// <summary>A hole and a shaft of the same letter, one grade apart, give the same fit in both systems of fits.</summary>
    [Fact]
    public void Hole_based_and_shaft_based_fits_are_alike()
    {
        foreach (var size in new double[] { 4, 9, 16, 25, 45, 70, 110, 170, 240, 280, 390, 490 })
        {
            foreach (var letter in new[] { "g", "k", "m", "n", "p", "r", "s", "u" })
            {
                var (hole, shaft) = (Iso286.Of("H", 7, size).Value, Iso286.Of(letter, 6, size).Value);
                var (otherHole, otherShaft) = (Iso286.Of(letter.ToUpperInvariant(), 7, size).Value, Iso286.Of("h", 6, size).Value);
                (otherHole.Upper - otherShaft.Lower).ShouldBe(hole.Upper - shaft.Lower, 1.001e-3, $"{letter} {size}");
                (otherHole.Lower - otherShaft.Upper).ShouldBe(hole.Lower - shaft.Upper, 1.001e-3, $"{letter} {size}");
            }
        }
    }

    [Theory]
    [InlineData("±0.1", -0.1, 0.1)]
    [InlineData("+-0.1", -0.1, 0.1)]
    [InlineData("+/-0.1", -0.1, 0.1)]
    [InlineData("0.1", -0.1, 0.1)]
    [InlineData("± 0.1 mm", -0.1, 0.1)]
    [InlineData("±1/64 in", -25.4 / 64, 25.4 / 64)]
    [InlineData("+0.2 -0.1", -0.1, 0.2)]
    [InlineData("+0.2/-0.1", -0.1, 0.2)]
    [InlineData("-0.1 +0.2", -0.1, 0.2)]
    [InlineData("+0.2/0", 0, 0.2)]
    [InlineData("0 -0.3", -0.3, 0)]
    [InlineData("0 \u22120.3", -0.3, 0)]
    [InlineData("-0.1 -0.3", -0.3, -0.1)]
    [InlineData("+0.2-0.1", -0.1, 0.2)]
    [InlineData("+0.2 mm -100 um", -0.1, 0.2)]
    public void Tolerances_are_read_as_people_write_them(string text, double lower, double upper)
    {
        var zone = Read(text);
        zone.Lower.ShouldBe(lower, 1e-12);
        zone.Upper.ShouldBe(upper, 1e-12);
    }

    [Theory]
    [InlineData("")]
    [InlineData("about 2")]
    [InlineData("±0")]
    [InlineData("±-1")]
    [InlineData("+0.1 +0.1")]
    [InlineData("±w")]
    [InlineData("H")]
    [InlineData("H0")]
    [InlineData("H19")]
    [InlineData("Hh7")]
    [InlineData("q6")]
    [InlineData("K9")]
    [InlineData("±30 m")]
    [InlineData("±1 deg")]
    public void What_is_no_tolerance_is_refused_in_words(string text)
    {
        var refusal = Tolerance.Parse(text, Quantity.Length(20), LengthUnit.Millimetre).Refusal.ShouldNotBeNull();
        refusal.Message.ShouldEndWith(".");
    }

    [Fact]
    public void Fits_end_where_the_tables_do_and_only_lengths_and_angles_are_off()
    {
        Iso286.Of("H", 7, 0.9).Refusal!.Message.ShouldContain("1 to 3150 mm");
        Iso286.Of("H", 7, 3151).Done.ShouldBeFalse();
        Iso286.Of("a", 9, 600).Refusal!.Message.ShouldContain("not used for a size of 600 mm");
        Iso286.Of("t", 6, 10).Done.ShouldBeFalse();
        Tolerance.Parse("±0.1", Quantity.Number(3), LengthUnit.Millimetre).Refusal!.Message.ShouldContain("a plain number");
        Tolerance.Parse("H7", Quantity.Angle(1), LengthUnit.Millimetre).Done.ShouldBeFalse();
        Tolerance.Parse("±0.5", Quantity.Angle(1), LengthUnit.Millimetre).Value.Upper.ShouldBe(0.5 * Math.PI / 180, 1e-15);
        Tolerance.Parse("±0.01", Quantity.Length(20), LengthUnit.Inch).Value.Upper.ShouldBe(0.254, 1e-12);
    }

    [Theory]
    [InlineData("±0.1", "±0.1")]
    [InlineData("+0.2 -0.1", "+0.2 \u22120.1")]
    [InlineData("H7", "H7 (+0.021 0)")]
    [InlineData("g6", "g6 (\u22120.007 \u22120.02)")]
    public void They_are_written_as_on_a_drawing(string text, string written) =>
        Tolerance.Written(text, Read(text), Dimension.OfLength, LengthUnit.Millimetre).ShouldBe(written);

    /// <summary>Rows of tables 1 to 3 of ISO 2768-1.</summary>
    [Theory]
    [InlineData(GeneralTolerance.Fine, 3, 0.05)]
    [InlineData(GeneralTolerance.Medium, 22, 0.2)]
    [InlineData(GeneralTolerance.Medium, 30, 0.2)]
    [InlineData(GeneralTolerance.Medium, 30.1, 0.3)]
    [InlineData(GeneralTolerance.Coarse, 500, 2)]
    [InlineData(GeneralTolerance.VeryCoarse, 4000, 8)]
    public void General_classes_are_those_of_the_standard(GeneralTolerance general, double size, double off) =>
        Iso2768.Of(general, Quantity.Length(size), broken: false).ShouldBe(off);

    [Fact]
    public void General_classes_say_nothing_beyond_their_tables_and_know_broken_edges_and_angles()
    {
        Iso2768.Of(GeneralTolerance.Medium, Quantity.Length(0.4), false).ShouldBeNull();
        Iso2768.Of(GeneralTolerance.Fine, Quantity.Length(3000), false).ShouldBeNull();
        Iso2768.Of(GeneralTolerance.VeryCoarse, Quantity.Length(2), false).ShouldBeNull();
        Iso2768.Of(GeneralTolerance.Medium, Quantity.Length(5000), false).ShouldBeNull();
        Iso2768.Of(GeneralTolerance.Medium, Quantity.Length(2), broken: true).ShouldBe(0.2);
        Iso2768.Of(GeneralTolerance.Coarse, Quantity.Length(20), broken: true).ShouldBe(2);
        Iso2768.Of(GeneralTolerance.Coarse, Quantity.Angle(1), false)!.Value.ShouldBe(1.5 * Math.PI / 180, 1e-15);
    }
}
