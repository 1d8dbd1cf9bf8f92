using Ratiogon.Core;
using Ratiogon.Core.Parts;
using Ratiogon.Exchange;

namespace Ratiogon.Cli;

/// <summary>How the program ends.</summary>
internal static class ExitCodes
{
    public const int Done = 0;

    /// <summary>The part has failing steps.</summary>
    public const int FailingSteps = 1;

    /// <summary>The input cannot be used; one line on standard error says what and where.</summary>
    public const int BadInput = 2;

    /// <summary>The program met a defect of its own.</summary>
    public const int Defect = 3;
}

/// <summary>Reads part files and says in one line what is wrong with them.</summary>
internal static class PartInput
{
    public static Outcome<Part> Read(FileInfo file)
    {
        try
        {
            return !file.Exists ? new Refusal("file.missing", $"There is no file {file.Name}.")
                : file.Length > PartFile.LargestBytes
                    ? new Refusal(
                        "file.too-large",
                        $"The file has {file.Length >> 20} MB; up to {PartFile.LargestBytes >> 20} MB are read."
                    )
                : PartFile.Read(File.ReadAllBytes(file.FullName));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new Refusal("file.unreadable", $"{file.Name} cannot be read: {e.Message}");
        }
    }

    public static int Refuse(Refusal refusal, TextWriter error)
    {
        var line = refusal.Where is null ? refusal.Message : $"{refusal.Where}: {refusal.Message}";
        error.WriteLine($"ratiogon: {line.ReplaceLineEndings(" ")}");
        return ExitCodes.BadInput;
    }
}
