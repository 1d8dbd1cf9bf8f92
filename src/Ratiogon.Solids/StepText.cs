using System.Globalization;
using System.Text;

namespace Ratiogon.Solids;

/// <summary>Letters beyond ASCII in STEP files: <c>\X2\…\X0\</c> (ISO 10303-21, 6.4.3.3). The library writes names as they come,
/// so each such letter goes through it under a mark and is encoded in the finished file.</summary>
internal static class StepText
{
    private const char Mark = '~';

    /// <summary>A name as the library may write it.</summary>
    public static string Marked(string name)
    {
        var text = new StringBuilder();
        foreach (var c in name)
        {
            text.Append(
                c is '\'' or '\\' ? " "
                : c is >= ' ' and < (char)127 and not Mark ? c.ToString()
                : string.Create(CultureInfo.InvariantCulture, $"{Mark}{(int)c:X4}{Mark}")
            );
        }

        return text.ToString();
    }

    private static bool Hexadecimal(ReadOnlySpan<byte> digits)
    {
        foreach (var d in digits)
        {
            if (!char.IsAsciiHexDigitUpper((char)d))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>The finished file with its marks encoded; those that follow each other share one run.</summary>
    public static byte[] Encoded(byte[] file)
    {
        if (Array.IndexOf(file, (byte)Mark) < 0)
        {
            return file;
        }

        using var made = new MemoryStream(file.Length + 256);
        var open = false;
        for (var i = 0; i < file.Length; i++)
        {
            var marked = file[i] == Mark && i + 5 < file.Length && file[i + 5] == Mark && Hexadecimal(file.AsSpan(i + 1, 4));
            if (marked != open)
            {
                made.Write(marked ? "\\X2\\"u8 : "\\X0\\"u8);
                open = marked;
            }

            if (marked)
            {
                made.Write(file.AsSpan(i + 1, 4));
                i += 5;
            }
            else
            {
                made.WriteByte(file[i]);
            }
        }

        return made.ToArray();
    }
}
