using System.Text;

namespace Ratiogon.Core.Quantities;

/// <summary>Tables as comma-separated values (RFC 4180), UTF-8.</summary>
public static class Csv
{
    public static byte[] Of(IEnumerable<string> heads, IEnumerable<IEnumerable<string>> rows)
    {
        ArgumentNullException.ThrowIfNull(heads);
        ArgumentNullException.ThrowIfNull(rows);
        var text = new StringBuilder().AppendJoin(',', heads).Append("\r\n");
        foreach (var row in rows)
        {
            text.AppendJoin(',', row.Select(Quoted)).Append("\r\n");
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>Quoted where it must be; a cell that a table program would take for a formula is kept a text.</summary>
    private static string Quoted(string cell)
    {
        var safe =
            cell.Length > 0
            && (cell[0] is '=' or '+' or '@' || (cell[0] == '-' && cell.Length > 1 && !char.IsAsciiDigit(cell[1]) && cell[1] != '.'))
                ? "'" + cell
                : cell;
        return safe.AsSpan().IndexOfAny(',', '"', '\n') >= 0 ? $"\"{safe.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : safe;
    }
}
