using System.Text.Json;
using Ratiogon.Exchange;

namespace Ratiogon.Cli;

/// <summary><c>ratiogon catalog --json</c>.</summary>
internal static class CatalogCommand
{
    public static int Run(bool json, TextWriter output)
    {
        var catalog = Catalog.Current;
        if (json)
        {
            output.WriteLine(JsonSerializer.Serialize(catalog, Output.Json));
            return ExitCodes.Done;
        }

        output.WriteLine($"entities:    {string.Join(", ", catalog.Entities)}");
        output.WriteLine($"shapes:      {string.Join(", ", catalog.Shapes)}");
        output.WriteLine($"constraints: {string.Join(", ", catalog.Constraints.Select(c => c.Name))}");
        output.WriteLine($"dimensions:  {string.Join(", ", catalog.Dimensions.Select(c => c.Name))}");
        output.WriteLine($"forms:       {string.Join(", ", catalog.Forms.Select(c => c.Name))}");
        output.WriteLine($"readings:    {string.Join(", ", catalog.Readings)}");
        output.WriteLine($"formats:     {string.Join(", ", catalog.Formats.Select(c => c.Name))}");
        return ExitCodes.Done;
    }
}
