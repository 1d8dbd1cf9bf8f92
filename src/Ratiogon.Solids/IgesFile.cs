using System.Globalization;
using System.Text;
using Ratiogon.Core;

namespace Ratiogon.Solids;

/// <summary>Looks an IGES file over before the library reads it, which trusts what the file says of itself: records of 80 columns,
/// the sections in order and numbered, the counts of the terminate record, and pointers within the sections (IGES 5.3, 2.2).</summary>
internal static class IgesFile
{
    private const int Letter = 72,
        Columns = 80;
    private const string Sections = "SGDPT";

    /// <summary>Why it cannot be read, or null.</summary>
    public static Refusal? Check(ReadOnlySpan<byte> file)
    {
        var lines = Encoding.Latin1.GetString(file).Split('\n').Select(l => l.TrimEnd('\r')).ToList();
        while (lines.Count > 0 && lines[^1].Trim('\0', ' ', '\x1a').Length == 0)
        {
            lines.RemoveAt(lines.Count - 1);
        }

        var counts = new int[Sections.Length];
        var section = 0;
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            if (line.Length < Columns && i == lines.Count - 1 && line.Length > Letter)
            {
                line = line.PadRight(Columns);
            }

            if (line.Length < Columns || line[Columns..].Trim().Length > 0)
            {
                return Broken(i, "has no 80 columns");
            }

            var at = Sections.IndexOf(line[Letter], StringComparison.Ordinal);
            if (at < 0 || at < section)
            {
                return Broken(i, at < 0 ? $"belongs to no section ('{line[Letter]}')" : "stands in the wrong section");
            }

            section = at;
            counts[at]++;
            if (
                !int.TryParse(line.AsSpan(Letter + 1, 7), NumberStyles.AllowLeadingWhite, CultureInfo.InvariantCulture, out var number)
                || number != counts[at]
            )
            {
                return Broken(i, $"is not number {counts[at]} of its section");
            }
        }

        if (counts[4] != 1)
        {
            return new Refusal("import.iges", "The IGES file cannot be used: its end is missing.");
        }

        var end = lines[^1];
        for (var k = 0; k < 4; k++)
        {
            if (
                end.Length < 8 * (k + 1)
                || end[8 * k] != Sections[k]
                || !int.TryParse(end.AsSpan((8 * k) + 1, 7), NumberStyles.AllowLeadingWhite, CultureInfo.InvariantCulture, out var said)
                || said != counts[k]
            )
            {
                return new Refusal(
                    "import.iges",
                    $"The IGES file cannot be used: its end does not count {counts[k]} records of section {Sections[k]}, as there are."
                );
            }
        }

        return counts[2] % 2 != 0
            ? new Refusal("import.iges", "The IGES file cannot be used: its directory has half an entry.")
            : Pointers(lines, counts);
    }

    /// <summary>Every entry of the directory points to its parameters, and these back to it.</summary>
    private static Refusal? Pointers(List<string> lines, int[] counts)
    {
        var (directory, parameters) = (counts[0] + counts[1], counts[0] + counts[1] + counts[2]);
        for (var d = 0; d < counts[2]; d += 2)
        {
            var (first, second) = (lines[directory + d], lines[directory + d + 1]);
            if (
                !Field(first, 1, out var at)
                || !Field(second, 3, out var length)
                || !Field(first, 0, out var kind)
                || !Field(second, 0, out var again)
                || kind != again
            )
            {
                return Broken(directory + d, "is no entry of the directory");
            }

            if (kind == 0)
            {
                continue;
            }

            if (at < 1 || length < 1 || at + length - 1 > counts[3])
            {
                return Broken(directory + d, "points to parameters that are not there");
            }

            for (var p = at; p < at + length; p++)
            {
                if (
                    !int.TryParse(
                        lines[parameters + p - 1].AsSpan(64, 8),
                        NumberStyles.AllowLeadingWhite,
                        CultureInfo.InvariantCulture,
                        out var back
                    )
                    || back != d + 1
                )
                {
                    return Broken(parameters + p - 1, "does not point back to its entry");
                }
            }

            var text = lines[parameters + at - 1].AsSpan(0, 64).TrimStart();
            var digits = 0;
            while (digits < text.Length && char.IsAsciiDigit(text[digits]))
            {
                digits++;
            }

            if (!int.TryParse(text[..digits], NumberStyles.None, CultureInfo.InvariantCulture, out var type) || type != kind)
            {
                return Broken(parameters + at - 1, "is not of the kind that its entry says");
            }
        }

        return null;
    }

    private static bool Field(string line, int field, out int value) =>
        int.TryParse(
            line.AsSpan(8 * field, 8),
            NumberStyles.AllowLeadingWhite | NumberStyles.AllowTrailingWhite | NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture,
            out value
        );

    private static Refusal Broken(int line, string why) => new("import.iges", $"The IGES file cannot be used: line {line + 1} {why}.");
}
