using System.Text.RegularExpressions;

namespace Ratiogon.Core.Tests.House;

/// <summary>Small numbers that something is compared with have a name and a reason: in <see cref="Tolerances"/>, or as a constant beside
/// the one algorithm that needs them.</summary>
public sealed partial class ToleranceTests
{
    public static TheoryData<string> Projects =>
        [.. Directory.GetDirectories(Path.Combine(Sources.Root(), "src")).Select(d => Path.GetFileName(d)!).Order(StringComparer.Ordinal)];

    [Theory]
    [MemberData(nameof(Projects))]
    public void No_tolerance_is_a_bare_number(string project) =>
        Lines(project)
            .Where(l => Small().IsMatch(l.Text) && !Named().IsMatch(l.Text))
            .Select(l => $"{l.File} {l.Number}: {l.Text.Trim()}")
            .ShouldBeEmpty();

    [Theory]
    [MemberData(nameof(Projects))]
    public void Each_says_why(string project) =>
        Lines(project)
            .Where(l => Constant().IsMatch(l.Text) && !l.Before.TrimStart().StartsWith("//", StringComparison.Ordinal))
            .Select(l => $"{l.File} {l.Number}: {l.Text.Trim()}")
            .ShouldBeEmpty();

    [Fact]
    public void The_look_finds_one()
    {
        Small().IsMatch("if (a < 1e-9)").ShouldBeTrue();
        Named().IsMatch("    private const double Near = 1e-9;").ShouldBeTrue();
        Named().IsMatch("        SmallestSize = 1e-4;").ShouldBeTrue();
        Named().IsMatch("if (a.Length < 1e-9)").ShouldBeFalse();
        Lines("Ratiogon.Core").Count().ShouldBeGreaterThan(30_000);
    }

    private static IEnumerable<Line> Lines(string project) =>
        from file in Sources.Files("src", project)
        let lines = File.ReadAllLines(file)
        from i in Enumerable.Range(0, lines.Length)
        where !lines[i].TrimStart().StartsWith("//", StringComparison.Ordinal)
        select new Line(Path.GetFileName(file), i + 1, lines[i], i > 0 ? lines[i - 1] : "");

    [GeneratedRegex(@"(?<![\w.""])\d+(\.\d+)?e-\d+\b")]
    private static partial Regex Small();

    /// <summary>A constant, one of several in a declaration, a table of numbers that has a name, or a unit's size.</summary>
    [GeneratedRegex(@"\bconst double \w+ = |^\s+\w+ = [\d.e-]+[,;]$|static readonly double\[\] \w+ = \[|\(""um"", ")]
    private static partial Regex Named();

    [GeneratedRegex(@"\bconst double \w+ = \d+(\.\d+)?e-\d+")]
    private static partial Regex Constant();

    private sealed record Line(string File, int Number, string Text, string Before);
}
