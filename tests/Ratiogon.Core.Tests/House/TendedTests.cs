namespace Ratiogon.Core.Tests.House;

/// <summary>What works beside the requests cannot end the server: there is one kind of it that may fail, and it begins again. The gateway,
/// a program of its own without a database, has one that calls nothing that fails.</summary>
public sealed class TendedTests
{
    [Fact]
    public void Only_what_begins_again_works_in_the_background()
    {
        var plain =
            from file in Sources.Files("src")
            from line in File.ReadLines(file)
            where line.Contains("BackgroundService", StringComparison.Ordinal)
            select Path.GetFileName(file);
        plain.Distinct().Order(StringComparer.Ordinal).ShouldBe(["Tended.cs", "Unheard.cs"]);
    }
}
