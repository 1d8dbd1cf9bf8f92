namespace Ratiogon.Core.Tests.House;

/// <summary>Lines are read whole: none of the source is longer than the formatter lays out, texts and comments included.</summary>
public sealed class LongLineTests
{
    private const int Longest = 140;

    [Fact]
    public void No_line_of_the_source_is_too_long()
    {
        var long_ =
            from file in Sources.Files("src")
            from line in File.ReadLines(file).Select((text, i) => (Text: text, Number: i + 1))
            where line.Text.Length > Longest
            select $"{Path.GetFileName(file)} {line.Number}: {line.Text.Length}";
        long_.ShouldBeEmpty();
    }
}
