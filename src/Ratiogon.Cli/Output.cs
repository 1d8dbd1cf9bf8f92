using System.Text.Json;
using Ratiogon.Core.Parts;

namespace Ratiogon.Cli;

/// <summary>How the program writes JSON.</summary>
internal static class Output
{
    public static JsonSerializerOptions Json { get; } = Make();

    private static JsonSerializerOptions Make()
    {
        var options = new JsonSerializerOptions { WriteIndented = true };
        PartJson.Configure(options);
        options.DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.Never;
        options.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals;
        return options;
    }
}
