using System.Text.Json;
using Ratiogon.Exchange;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon catalog --json</c>.</summary>
internal static class CatalogCommand
{
    private const int Indent = 2;

    public static int Run(bool json, TextWriter output)
    {
        var catalog = Catalog.Current;
        if (json)
        {
            output.WriteLine(JsonSerializer.Serialize(catalog, Output.Json));
            return ExitCodes.Done;
        }

        Line("entities", catalog.Entities);
        Line("shapes", catalog.Shapes);
        Table("tools", catalog.Tools);
        Table("constraints", catalog.Constraints);
        Table("dimensions", catalog.Dimensions);
        Table("relations of datums", catalog.Relations);
        Line("steps", catalog.Steps);
        Table("forms", catalog.Forms);
        Table("readings", catalog.Readings);
        Table("formats", catalog.Formats);
        Line("commands", catalog.Commands);
        Line("units", catalog.Units);
        return ExitCodes.Done;

        void Line(string what, IEnumerable<string> names) => output.WriteLine($"{what}: {string.Join(", ", names)}");

        void Table(string what, IReadOnlyList<CatalogEntry> entries)
        {
            output.WriteLine($"{what}:");
            var width = entries.Max(e => e.Name.Length) + Indent;
            foreach (var entry in entries)
            {
                output.WriteLine($"  {entry.Name.PadRight(width)}{entry.Needs}".TrimEnd());
            }
        }
    }
}
