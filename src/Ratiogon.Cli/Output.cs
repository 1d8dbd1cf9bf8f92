using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Parts;

namespace Ratiogon.Cli;

/// <summary>How the program writes JSON.</summary>
internal static class Output
{
    public static JsonSerializerOptions Json { get; } = Make();

    /// <summary>Writes a file and says how large it is.</summary>
    public static int Write(FileInfo target, byte[] bytes, TextWriter output, TextWriter error)
    {
        try
        {
            File.WriteAllBytes(target.FullName, bytes);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return PartInput.Refuse(new Refusal("file.unwritable", $"{target.Name} cannot be written: {e.Message}"), error);
        }

        output.WriteLine($"{target.Name}: {bytes.Length} bytes");
        return ExitCodes.Done;
    }

    private static JsonSerializerOptions Make()
    {
        var options = new JsonSerializerOptions { WriteIndented = true };
        PartJson.Configure(options);
        options.DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.Never;
        options.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals;
        return options;
    }
}
